// The window's pages: made when they are first seen, entered, left.
#include "app/shell/main_window.h"

#include "app/rooms/book_page.h"
#include "app/rooms/donors_page.h"
#include "app/rooms/hand_page.h"
#include "app/rooms/hazards_page.h"
#include "app/rooms/ledger_page.h"
#include "app/rooms/library_page.h"
#include "app/rooms/limits_page.h"
#include "app/rooms/meter_page.h"
#include "app/rooms/populations_page.h"
#include "app/rooms/practice_page.h"
#include "app/rooms/stock_page.h"
#include "app/rooms/strips_page.h"
#include "app/rooms/testers_page.h"
#include "app/rooms/trays_page.h"
#include "app/rooms/units_page.h"
#include "app/rooms/worth_page.h"
#include "app/shell/meter_hand.h"
#include "app/shell/scan_field.h"
#include "app/stations/build/build_station.h"
#include "app/stations/match/match_station.h"
#include "app/stations/open/open_station.h"
#include "app/stations/prove/prove_station.h"
#include "app/stations/receive/receive_station.h"
#include "app/stations/rest/rest_station.h"
#include "app/stations/sort/sort_station.h"
#include "app/stations/test/bench_view.h"
#include "app/stations/test/test_station.h"
#include "app/stations/triage/triage_station.h"

#include <QMenu>
#include <QStackedWidget>
#include <QUndoStack>

namespace ingot::app {

void MainWindow::drop_pages() {
    current_page_ = nullptr;
    if (QWidget* focus = stack_->focusWidget()) // a field that is left says so while its page is still whole
        focus->clearFocus();
    const auto drop = [this](auto& pages) {
        for (auto*& page : pages) {
            if (page != nullptr)
                stack_->removeWidget(page);
            delete page;
            page = nullptr;
        }
    };
    drop(views_);
    drop(rooms_);
}

StationView* MainWindow::make_view(Station station) {
    switch (station) {
    case Station::receive:
        return new ReceiveStation(*workshop_, stack_);
    case Station::triage:
        return new TriageStation(*workshop_, stack_);
    case Station::open:
        return new OpenStation(*workshop_, stack_);
    case Station::test: {
        auto* test = new TestStation(*workshop_, stack_);
        connect(test->bench(), &BenchView::changed, this, &MainWindow::show_bench);
        connect(test->bench(), &BenchView::come_back, this, &MainWindow::call_back);
        return test;
    }
    case Station::rest:
        return new RestStation(*workshop_, stack_);
    case Station::sort:
        return new SortStation(*workshop_, stack_);
    case Station::match:
        return new MatchStation(*workshop_, stack_);
    case Station::build:
        return new BuildStation(*workshop_, stack_);
    case Station::prove:
        return new ProveStation(*workshop_, stack_);
    }
    return nullptr;
}

Page* MainWindow::make_room(Room room) {
    switch (room) {
    case Room::ledger:
        return new LedgerPage(*workshop_, stack_);
    case Room::library:
        return new LibraryPage(*workshop_, stack_);
    case Room::practice:
        return new PracticePage(*workshop_, stack_);
    case Room::hazards:
        return new HazardsPage(*workshop_, stack_);
    case Room::trays:
        return new TraysPage(*workshop_, stack_);
    case Room::strips:
        return new StripsPage(*workshop_, stack_);
    case Room::units:
        return new UnitsPage(*workshop_, stack_);
    case Room::donors:
        return new DonorsPage(*workshop_, stack_);
    case Room::worth:
        return new WorthPage(*workshop_, stack_);
    case Room::book:
        return new BookPage(*workshop_, stack_);
    case Room::hand:
        return new HandPage(*workshop_, stack_);
    case Room::limits:
        return new LimitsPage(*workshop_, stack_);
    case Room::populations:
        return new PopulationsPage(*workshop_, stack_);
    case Room::stock:
        return new StockPage(*workshop_, stack_);
    case Room::meter:
        return new MeterPage(*workshop_, meter_->meter(), stack_);
    case Room::testers:
        (void)view(Station::test); // its bench talks to them
        return new TestersPage(*workshop_, bench()->bays(), stack_);
    }
    return nullptr;
}

StationView* MainWindow::view(Station station) {
    StationView*& made = views_[static_cast<std::size_t>(station)];
    if (made == nullptr && workshop_) {
        made = make_view(station);
        listen_to(made);
    }
    return made;
}

Page* MainWindow::view(Room room) {
    Page*& made = rooms_[static_cast<std::size_t>(room)];
    if (made == nullptr && workshop_) {
        made = make_room(room);
        listen_to(made);
    }
    return made;
}

void MainWindow::listen_to(Page* page) {
    stack_->addWidget(page);
    connect(page, &Page::evidence_changed, this, [this, page] {
        if (page == current_page_)
            refresh_evidence();
    });
    connect(page, &Page::hint_changed, this, [this, page] {
        if (page == current_page_)
            scan_->set_hint(page->scan_hint());
    });
    connect(page, &Page::told, this, &MainWindow::tell);
    connect(page, &Page::alarmed, this, &MainWindow::alarm);
    connect(page, &Page::acknowledged, this, &MainWindow::acknowledged);
    connect(page, &Page::go_to, this, [this](Station station) { go_to(station); });
    connect(page, &Page::unit_wanted, this, &MainWindow::show_unit);
    connect(page, &Page::pack_wanted, this, &MainWindow::show_pack);
    connect(page, &Page::units_wanted, this, [this](Id build) {
        go_to(Station::match);
        qobject_cast<MatchStation*>(view(Station::match))->match_for(build);
    });
    connect(page, &Page::room_wanted, this, [this](Room room, Id pack) { go_to(room, pack); });
    connect(page, &Page::left, this, [this] { go_to(current_); });
    connect(page, &Page::undo_pushed, undo_, &QUndoStack::push);
}

void MainWindow::go_to(Station station) {
    if (!workshop_)
        return;
    current_ = station;
    route_->set_current(station);
    enter(view(station));
}

void MainWindow::go_to(Room room, Id pack) {
    if (!workshop_) {
        tell(tr("No workshop is open. Make or open one first."), true);
        return;
    }
    route_->set_current(room);
    Page* page = view(room);
    if (auto* about_one = qobject_cast<PackRoom*>(page); about_one != nullptr && pack != 0)
        about_one->set_pack(pack);
    enter(page);
}

// The page's commands take the place of the last page's: a key never acts at a station that is not on screen.
void MainWindow::enter(Page* page) {
    const bool moved = current_page_ != page || stack_->currentWidget() != page;
    if (moved) {
        if (current_page_ != nullptr)
            for (QAction* command : current_page_->commands())
                removeAction(command);
        work_menu_->clear();
        work_menu_->addActions(page->commands());
        work_menu_->addSeparator();
        work_menu_->addActions(meter_->commands());
        addActions(page->commands());
    }
    current_page_ = page;
    stack_->setCurrentWidget(page);
    stack_->updateGeometry();
    show_bench();
    if (moved) {
        page->refresh();
        refresh_evidence();
        scan_->set_hint(page->scan_hint());
    }
    QWidget* hands_on = page->hands_on();
    (hands_on == nullptr ? static_cast<QWidget*>(scan_) : hands_on)->setFocus();
}

} // namespace ingot::app
