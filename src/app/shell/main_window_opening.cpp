// Workshops are opened, made, filled from a folder and left.
#include "app/parts/bench_clock.h"
#include "app/parts/panel.h"
#include "app/shell/bench_call.h"
#include "app/shell/event_log.h"
#include "app/shell/file_commands.h"
#include "app/shell/main_window.h"
#include "app/shell/message_bar.h"
#include "app/shell/meter_hand.h"
#include "app/shell/overdue_watch.h"
#include "app/shell/route.h"
#include "app/shell/shelf_watch.h"
#include "app/shell/start_page.h"
#include "app/stations/test/bench_view.h"
#include "app/stations/test/test_station.h"
#include "workshop/job.h"
#include "workshop/wording.h"

#include <QDir>
#include <QFileInfo>
#include <QMenu>
#include <QMessageBox>
#include <QStackedWidget>
#include <QUndoStack>

#include <chrono>

namespace ingot::app {

bool MainWindow::is_open(const QString& path) const {
    return workshop_ && QFileInfo(path).canonicalFilePath() ==
                            QFileInfo(QString::fromStdString(workshop_->path())).canonicalFilePath();
}

// What was being opened is not what is wanted any more: it would take the place of what was opened or made since.
void MainWindow::leave_opening() {
    opening_->drop();
    start_->set_busy({});
}

bool MainWindow::open_file(const QString& path) {
    leave_opening();
    if (is_open(path)) {
        tell(tr("This workshop is open already."), false);
        return true;
    }
    return may_leave_runs() && take_opened(path, Workshop::open(path.toStdString()));
}

void MainWindow::open_beside(const QString& path, const std::function<void(bool)>& then, const Make& make) {
    const auto over = [this, then](bool opened) {
        start_->set_busy({});
        if (then)
            then(opened);
    };
    if (is_open(path) || !may_leave_runs()) {
        over(open_file(path));
        return;
    }
    start_->set_busy(tr("Opening %1 …").arg(QFileInfo(path).completeBaseName()));
    using Opened = std::shared_ptr<Result<std::unique_ptr<Workshop>>>;
    opening_->begin<Opened>(
        [this, make, path = path.toStdString()](const Job::Token&) {
            const auto made = make ? make(path) : Result<bool>(true);
            auto opened = std::make_shared<Result<std::unique_ptr<Workshop>>>(
                made ? Workshop::open(path) : Result<std::unique_ptr<Workshop>>(made.problem()));
            if (*opened)
                opened->value()->hand_to(*this);
            return opened;
        },
        // A run may have begun in the old workshop meanwhile.
        [this, path, over](const Opened& opened) { over(may_leave_runs() && take_opened(path, std::move(*opened))); });
}

bool MainWindow::take_opened(const QString& path, Result<std::unique_ptr<Workshop>> opened) {
    if (!opened) {
        tell(wording::problem(opened.problem()), true);
        return false;
    }
    event_log::note(QStringLiteral("opened ") + path);
    adopt(std::move(opened).value());
    file_->remember(path);
    return true;
}

QStringList MainWindow::last_opened() const {
    return file_->recent().mid(0, 1);
}

bool MainWindow::make_file(const QString& path, const QString& name) {
    leave_opening();
    if (!may_leave_runs())
        return false;
    auto made = Workshop::create(path.toStdString(), name.toStdString());
    if (!made) {
        tell(wording::problem(made.problem()), true);
        return false;
    }
    adopt(std::move(made).value());
    file_->remember(path);
    return true;
}

void MainWindow::leave_pages() {
    drop_pages();
    undo_->clear();
    work_menu_->clear();
    overdue_.reset();
    shelf_.reset();
    meter_.reset();
    clock_->set_shelf({});
    messages_->clear();
    call_->read(); // what was cried of the old workshop sounds no longer
}

void MainWindow::put_away() {
    leave_pages();
    workshop_.reset();
    setWindowTitle(tr("Ingot"));
    name_->clear();
    route_->setEnabled(false);
    hazards_->hide();
    show_bench();
    stack_->setCurrentWidget(start_);
    start_->set_recent(file_->recent());
}

void MainWindow::bring_in(const QString& folder) {
    if (!workshop_)
        return;
    if (!workshop_->writable()) {
        tell(tr("This workshop can only be read here: nothing was brought in."), true);
        return;
    }
    if (opening_->busy()) {
        tell(tr("Another workshop is being opened. Bring the folder in when it is there."), true);
        return;
    }
    if (!may_leave_runs())
        return;
    const QString path = QString::fromStdString(workshop_->path());
    const QString name = QDir(folder).dirName();
    put_away();
    start_->set_busy(tr("Bringing in %1 …").arg(name), true);
    struct Again {
        Result<std::unique_ptr<Workshop>> workshop;
        Result<bool> done;
    };
    using Opened = std::shared_ptr<Again>;
    opening_->begin<Opened>(
        [this, name, path = path.toStdString(), folder = folder.toStdString()](const Job::Token& token) {
            auto again = std::make_shared<Again>(Again{Workshop::open(path), true});
            if (!again->workshop)
                return again;
            constexpr std::chrono::milliseconds between{100};
            auto told = std::chrono::steady_clock::now();
            again->done = again->workshop.value()->import_folder(folder, [&](const ImportProgress& now) {
                if (std::chrono::steady_clock::now() - told >= between) {
                    told = std::chrono::steady_clock::now();
                    token.tell([this, name, now] {
                        start_->set_busy(tr("Bringing in %1: %2, %3 of %4 …")
                                             .arg(name, QString::fromStdString(now.file))
                                             .arg(now.row)
                                             .arg(now.rows),
                                         true);
                    });
                }
                return token.wanted();
            });
            again->workshop.value()->hand_to(*this);
            return again;
        },
        [this, path, folder](const Opened& again) {
            start_->set_busy({});
            if (!take_opened(path, std::move(again->workshop)))
                return;
            if (!again->done)
                tell(wording::problem(again->done.problem()), true);
            else
                tell(tr("%1 was brought in.").arg(folder), false);
        });
}

void MainWindow::adopt(std::unique_ptr<Workshop> workshop) {
    leave_pages();
    workshop_ = std::move(workshop);
    meter_ = std::make_unique<MeterHand>(
        *workshop_, [this] { return current_page_; }, meter_live_);
    connect(meter_.get(), &MeterHand::told, this, &MainWindow::tell);
    connect(meter_.get(), &MeterHand::meter_wanted, this, [this] { go_to(Room::meter); });
    overdue_ = std::make_unique<OverdueWatch>(*workshop_, nullptr);
    connect(overdue_.get(), &OverdueWatch::alarmed, this, &MainWindow::alarm);
    shelf_ = std::make_unique<ShelfWatch>(*workshop_, nullptr);
    connect(shelf_.get(), &ShelfWatch::due, this, [this](const std::vector<ClockEvent>& readings) {
        clock_->set_shelf(readings);
        show_bench();
    });
    overdue_->look();
    connect(workshop_.get(), &Workshop::changed, this, &MainWindow::refresh_soon);
    (void)view(Station::test); // runs that were left going are looked for at once
    route_->setEnabled(true);
    setWindowTitle(QStringLiteral("%1 – %2").arg(QString::fromStdString(workshop_->name()), tr("Ingot")));
    if (workshop_->access() == Access::reading_other_window)
        tell(tr("This workshop is open in another window. Here it can be read, not changed."), false);
    else if (workshop_->access() == Access::reading_only_file)
        tell(tr("This workshop's file is read-only. It can be read, not changed; copy it to a place where you may "
                "write."),
             false);
    // The first station where something waits.
    const auto waiting = workshop_->waiting();
    Station first = Station::receive;
    for (int i = 0; i < station_count; ++i)
        if (waiting[static_cast<std::size_t>(i)] > 0) {
            first = static_cast<Station>(i);
            break;
        }
    go_to(first);
    refresh();
}

bool MainWindow::may_leave_runs() {
    const BenchView* b = bench();
    const int running = b == nullptr ? 0 : b->running();
    if (running == 0)
        return true;
    const QString meanwhile =
        tr("The tester goes on by itself and keeps what it measures; Ingot takes it up when this workshop is opened "
           "again. Until then nobody here sees what runs hot.");
    return QMessageBox::warning(this, tr("Runs go on"),
                                tr("%n bays are running. Leave all the same?", nullptr, running) +
                                    QStringLiteral("\n\n") + meanwhile,
                                QMessageBox::Yes | QMessageBox::No, QMessageBox::No) == QMessageBox::Yes;
}

} // namespace ingot::app
