// Every command, at every page, in every state of the workshop; keys and scans go where they are meant to.
#include "window.h"

#include "app/parts/record_table.h"
#include "app/rooms/ledger_page.h"
#include "app/shell/route.h"
#include "app/stations/test/test_station.h"
#include "app/stations/triage/triage_station.h"
#include "core/measure/capacity.h"
#include "exchange/log_csv.h"

#include <QClipboard>
#include <QDialog>
#include <QFileDialog>
#include <QHeaderView>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QSettings>
#include <QSpinBox>

#include <filesystem>

using namespace ingot;
using namespace ingot::tests;
using app::Room;

namespace {

// Answers whatever opens with "no".
class Refusing {
public:
    Refusing() {
        QObject::connect(&timer_, &QTimer::timeout, &timer_, [] {
            if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget()))
                dialog->reject();
            if (QWidget* popup = QApplication::activePopupWidget())
                popup->close();
        });
        timer_.start(5);
    }

private:
    QTimer timer_;
};

QList<QAction*> actions_of(const QMenu* menu) {
    QList<QAction*> out;
    for (QAction* action : menu->actions()) {
        if (action->menu() != nullptr)
            out << actions_of(action->menu());
        else if (!action->isSeparator())
            out << action;
    }
    return out;
}

QStringList words_of(const QMenuBar* bar) {
    QStringList words;
    for (const QAction* action : bar->actions())
        for (const QAction* command : actions_of(action->menu()))
            words << command->text();
    return words;
}

QAction* command_named(const QMenuBar* bar, const QString& words) {
    for (const QAction* menu : bar->actions())
        for (QAction* command : actions_of(menu->menu()))
            if (command->text() == words)
                return command;
    return nullptr;
}

// Which commands are triggered on a page: its own, or those of the window (files, views, ways to other pages) too.
enum class Which { own, all };

// Triggers commands of the menus as they are now, by their words; the simulated tester is a matter of its own.
int trigger_all(app::MainWindow& window, Which which) {
    int triggered = 0;
    QStringList own;
    if (const app::Page* page = window.current_view())
        for (const QAction* command : page->commands())
            own << command->text();
    for (const QString& words : words_of(window.menuBar())) {
        if (which == Which::own && !own.contains(words))
            continue;
        if (words.contains(QStringLiteral("Quit")) || words.contains(QStringLiteral("simulated")))
            continue;
        QAction* command = command_named(window.menuBar(), words); // an earlier one may have brought another page
        if (command == nullptr)
            continue;
        INFO(words.toStdString());
        command->trigger();
        ++triggered;
        QApplication::processEvents();
    }
    return triggered;
}

// The window's commands are the same on every page: they are triggered on the first, or, if that is asked, on each.
int trigger_everywhere(app::MainWindow& window, Which which = Which::own) {
    int triggered = 0;
    for (int i = 0; i < station_count; ++i) {
        window.go_to(static_cast<Station>(i));
        triggered += trigger_all(window, i == 0 ? Which::all : which);
    }
    for (int i = 0; i < app::room_count; ++i) {
        window.go_to(static_cast<Room>(i));
        triggered += trigger_all(window, which);
    }
    return triggered;
}

} // namespace

TEST_CASE("K26: every command in every state does its work or says why not") {
    QSettings().clear();
    const Refusing refusing;
    SECTION("no workshop") {
        app::MainWindow window;
        window.show();
        CHECK(trigger_everywhere(window, Which::all) > 50);
        CHECK(window.workshop() == nullptr);
        window.take_line(QStringLiteral("worth it"));
        CHECK_FALSE(window.told().isEmpty());
    }
    SECTION("an empty one, its stations not seen before") {
        const Temporary folder;
        REQUIRE(Workshop::create(folder.file("empty.ingot"), "Empty").ok());
        Window w(folder.file("empty.ingot"));
        CHECK(trigger_everywhere(w.window) > 150);
        CHECK(w.shop().packs().empty());
        CHECK(w.shop().units().empty());
        CHECK(trigger_everywhere(w.window) > 150); // all were seen
    }
    SECTION("the demo, and a unit chosen") {
        Window w;
        const auto measured = w.shop().ledger().counts().measurements;
        CHECK(trigger_everywhere(w.window, Which::all) > 800);
        w.window.take_line(QString::fromStdString(w.shop().units()[20].code()));
        CHECK(trigger_everywhere(w.window) > 150);
        CHECK(w.shop().ledger().counts().measurements == measured);
    }
    SECTION("one that may only be read") {
        const Temporary folder;
        const std::string path = folder.file("reading.ingot");
        std::filesystem::copy_file(demo_file(), path);
        const auto other = Workshop::open(path); // another window writes
        REQUIRE(other.ok());
        app::MainWindow window;
        window.show();
        REQUIRE(window.open_file(QString::fromStdString(path)));
        REQUIRE_FALSE(window.workshop()->writable());
        const auto before = other.value()->ledger().counts();
        CHECK(trigger_everywhere(window) > 150);
        const auto after = Workshop::open(path);
        REQUIRE(after.ok());
        CHECK(after.value()->ledger().counts().packs == before.packs);
        CHECK(after.value()->ledger().counts().units == before.units);
        CHECK(after.value()->ledger().counts().measurements == before.measurements);
        CHECK(after.value()->builds().size() == other.value()->builds().size());
    }
}

TEST_CASE("K25: a station's keys and commands do nothing from another station") {
    Window w;
    const auto states = [&] {
        std::vector<AssemblyState> all;
        for (const Assembly& pack : w.shop().packs())
            all.push_back(pack.state);
        return all;
    };
    for (int i = 0; i < station_count; ++i)
        (void)w.window.view(static_cast<Station>(i)); // all are made
    const auto before = states();
    const auto builds = w.shop().builds().size();
    w.go(Station::sort);
    w.key(Qt::Key_T, Qt::ControlModifier); // sends a pack on, at Receive and Triage
    w.key(Qt::Key_Return, Qt::ControlModifier);
    CHECK(states() == before);
    CHECK(w.shop().builds().size() == builds);
    CHECK(w.window.route()->current() == Station::sort);
    // By its words the station comes, and nothing is done until Enter is pressed there.
    w.scan(QStringLiteral("send back to receive"));
    CHECK(w.window.route()->current() == Station::triage);
    CHECK(states() == before);
    CHECK(w.window.scan_field()->text() == QStringLiteral("Send back to Receive"));
    w.key(Qt::Key_Return);
    CHECK(states() != before);
}

TEST_CASE("K24: a scan never lands in a form, typing does") {
    Window w;
    w.go(Station::receive);
    auto* label = w.find<QLineEdit>("pack_label");
    REQUIRE(label != nullptr);
    label->setFocus();
    label->selectAll();
    w.window.scan_sense()->set_fastest_key_ms(app::ScanSense::usual_key_ms);
    const QString before = label->text();
    const auto packs = w.shop().packs().size();
    const UnitState& unit = w.shop().units()[12];
    w.scan(QString::fromStdString(unit.code())); // at a scanner's speed
    CHECK(label->text() == before);
    CHECK(w.shop().packs().size() == packs);
    CHECK(w.view<app::TestStation>(Station::test)->unit() == unit.record.id);
    // A person types slower; what was kept back for a moment arrives.
    w.window.go_to(Station::receive);
    label->setFocus();
    label->clear();
    for (const char c : std::string("LAN-77")) {
        QTest::keyClick(label, c);
        QTest::qWait(2 * app::ScanSense::usual_key_ms);
    }
    CHECK(label->text() == QStringLiteral("LAN-77"));
    // Spin boxes keep their figures, too.
    w.window.go_to(Station::match);
    auto* series = w.window.current_view()->findChild<QSpinBox*>();
    REQUIRE(series != nullptr);
    const int groups = series->value();
    series->setFocus();
    w.scan(QString::fromStdString(unit.code()));
    CHECK(series->value() == groups);
}

TEST_CASE("K27: opening the file that is open keeps it writable") {
    Window w;
    const Workshop* shop = &w.shop();
    CHECK(w.window.open_file(QString::fromStdString(w.path())));
    CHECK(&w.shop() == shop);
    CHECK(w.shop().writable());
    CHECK(w.window.told().contains(QStringLiteral("open already")));
}

TEST_CASE("K31: a pack's label opens it where it is worked on, from any page; a pack that is gone, its history") {
    Window w;
    std::set<Station> seen;
    for (const Assembly& pack : std::vector<Assembly>(w.shop().packs())) {
        w.window.go_to(Station::sort);
        w.window.take_line(QString::fromStdString(pack.label));
        w.settle();
        if (pack.state == AssemblyState::received)
            CHECK(w.window.current_view() == w.window.view(Station::receive));
        else if (pack.state == AssemblyState::in_triage)
            CHECK(w.window.current_view() == w.window.view(Station::triage));
        else if (pack.state == AssemblyState::to_open)
            CHECK(w.window.current_view() == w.window.view(Station::open));
        else
            CHECK(w.window.current_view() == w.window.view(Room::ledger));
        seen.insert(w.window.route()->current());
    }
    CHECK(seen.size() >= 3);
}

TEST_CASE("K38: in the Ledger a run is given to the unit that it was made on, and taken back") {
    Window w;
    const auto first =
        std::filesystem::directory_iterator(Workshop::shipped_folder("demo") + "/logs-to-import")->path();
    const Id wrong = w.shop().find_unit(first.stem().string()).value();
    auto log = exchange::read_log(Temporary::read(first.string()), "log").value();
    REQUIRE(w.shop().test().import_log(wrong, log, measure_capacity(log.samples), "log.csv", "bench tester"));
    const Id run = w.shop().test().runs(wrong).front().id;
    Id right = 0;
    for (const UnitState& unit : w.shop().units())
        if (unit.record.id != wrong && unit.record.model == w.shop().unit(wrong)->record.model &&
            w.shop().test().runs(unit.record.id).empty())
            right = unit.record.id;
    REQUIRE(right != 0);
    w.window.go_to(Room::ledger);
    auto* ledger = qobject_cast<app::LedgerPage*>(w.window.current_view());
    REQUIRE(ledger != nullptr);
    ledger->show_list(app::LedgerPage::List::runs);
    REQUIRE(w.wait_for([&] {
        ledger->table()->select(run);
        return ledger->table()->selected() == run;
    }));
    Window::answer_line(QString::fromStdString(w.shop().unit(right)->code()));
    w.command(QStringLiteral("Give the run to another unit"));
    w.window.activateWindow();
    w.settle();
    CHECK(w.shop().test().runs(wrong).empty());
    REQUIRE(w.shop().test().runs(right).size() == 1);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().test().runs(right).empty());
    CHECK(w.shop().test().runs(wrong).size() == 1);
}

TEST_CASE("The Ledger by keys: a list, a search, a history, and back") {
    Window w;
    w.key(Qt::Key_0, Qt::ControlModifier);
    auto* ledger = qobject_cast<app::LedgerPage*>(w.window.current_view());
    REQUIRE(ledger != nullptr);
    CHECK(ledger->table()->model()->rowCount() == static_cast<int>(w.shop().packs().size()));
    ledger->show_list(app::LedgerPage::List::units);
    const UnitState& unit = w.shop().units()[30];
    w.scan(QStringLiteral("halvard drive"));
    const int found = ledger->table()->model()->rowCount();
    CHECK(found > 0);
    CHECK(found < static_cast<int>(w.shop().units().size()));
    ledger->table()->setFocus();
    w.key(Qt::Key_Down);
    const Id chosen = ledger->table()->selected();
    REQUIRE(chosen != 0);
    CHECK(w.window.current_view()->evidence().unit == chosen);
    w.key(Qt::Key_C, Qt::ControlModifier);
    CHECK(QApplication::clipboard()->text().contains(QString::fromStdString(w.shop().unit(chosen)->code())));
    w.key(Qt::Key_Return);
    CHECK(ledger->in_history());
    w.key(Qt::Key_Left, Qt::AltModifier);
    CHECK_FALSE(ledger->in_history());
    CHECK(ledger->table()->selected() == chosen);
    // A label opens its history at once; from there the unit goes to Test.
    w.scan(QString::fromStdString(unit.code()));
    CHECK(ledger->in_history());
    w.key(Qt::Key_J, Qt::ControlModifier);
    CHECK(w.window.route()->current() == Station::test);
    CHECK(w.view<app::TestStation>(Station::test)->unit() == unit.record.id);
    // What is shown goes out as CSV.
    w.key(Qt::Key_0, Qt::ControlModifier);
    ledger->step_back();
    const std::string path = w.file("list.csv");
    ledger->write_csv(QString::fromStdString(path));
    const std::string text = Temporary::read(path);
    CHECK(std::count(text.begin(), text.end(), '\n') == found + 1);
    w.window.go_to(Room::ledger);
    w.scan(QStringLiteral("no such thing as this"));
    const auto says = [&](const QString& words) {
        for (const auto* label : ledger->findChildren<QLabel*>())
            if (label->isVisible() && label->text() == words)
                return true;
        return false;
    };
    CHECK(w.wait_for([&] { return says(QStringLiteral("nothing found")); }));
}

TEST_CASE("Columns that were moved, hidden and sorted are so again") {
    QSettings().clear();
    {
        Window w;
        w.window.go_to(Room::ledger);
        auto* ledger = qobject_cast<app::LedgerPage*>(w.window.current_view());
        ledger->table()->sortByColumn(PacksModel::state, Qt::DescendingOrder);
        ledger->table()->setColumnHidden(PacksModel::lot, true);
        ledger->table()->horizontalHeader()->moveSection(0, 2);
    }
    Window w;
    w.window.go_to(Room::ledger);
    auto* ledger = qobject_cast<app::LedgerPage*>(w.window.current_view());
    CHECK(ledger->table()->isColumnHidden(PacksModel::lot));
    CHECK(ledger->table()->horizontalHeader()->visualIndex(PacksModel::label) == 2);
    CHECK(ledger->table()->horizontalHeader()->sortIndicatorSection() == PacksModel::state);
    QSettings().clear();
}

TEST_CASE("A backup is a workshop of its own; over an existing file it is refused") {
    Window w;
    const std::string copy = w.file("copy.ingot");
    REQUIRE(Workshop::copy(w.shop().path(), copy).ok());
    CHECK_FALSE(Workshop::copy(w.shop().path(), copy).ok());
    const auto opened = Workshop::open(copy);
    REQUIRE(opened.ok());
    CHECK(opened.value()->ledger().counts().measurements == w.shop().ledger().counts().measurements);
    CHECK(opened.value()->writable());
}

TEST_CASE("A workshop is backed up beside the work, and over an existing file it is refused") {
    Window w;
    auto* back_up = w.find<QAction>("back_up");
    const std::string copy = w.file("copy.ingot");
    Window::answer_file(copy);
    back_up->trigger();
    CHECK(back_up->text().contains(QStringLiteral("Stop"))); // nobody waited for it
    REQUIRE(w.wait_for([&] { return w.window.told().contains(QStringLiteral("Backed up to")); }));
    CHECK_FALSE(back_up->text().contains(QStringLiteral("Stop")));
    CHECK(Workshop::open(copy).value()->ledger().counts().measurements == w.shop().ledger().counts().measurements);

    const std::string stopped = w.file("stopped.ingot");
    Window::answer_file(stopped);
    back_up->trigger();
    back_up->trigger();
    REQUIRE(w.wait_for([&] { return !back_up->text().contains(QStringLiteral("Stop")); }));
    // Stopped, or whole by then; never half of it.
    if (std::filesystem::exists(stopped))
        CHECK(Workshop::open(stopped).ok());
    else
        CHECK(w.window.told().contains(QStringLiteral("There is no copy")));
    CHECK_FALSE(std::filesystem::exists(stopped + ".part"));
}

TEST_CASE("A folder comes in beside the window, and stopped it leaves everything as it was") {
    const Temporary folder;
    const std::string empty = folder.file("empty.ingot");
    REQUIRE(Workshop::create(empty, "Fellside Hut & Trail Trust"));
    Window w(empty);
    const QString demo = QString::fromStdString(Workshop::shipped_folder("demo"));
    auto* busy = w.find<QLabel>("busy");
    const auto begun = [&] {
        w.window.take_file(demo); // as if it were dropped on the window
        CHECK(w.window.workshop() == nullptr);
        CHECK(busy->isVisible());
    };
    begun();
    w.press(QStringLiteral("Stop"));
    REQUIRE(w.wait_for([&] { return w.window.workshop() != nullptr; }));
    CHECK(w.window.told().contains(QStringLiteral("you stopped it")));
    CHECK(w.shop().units().empty());
    CHECK(w.shop().packs().empty());
    CHECK_FALSE(busy->isVisible());

    begun();
    REQUIRE(w.wait_for([&] { return w.window.workshop() != nullptr; }));
    CHECK(w.window.told().contains(QStringLiteral("was brought in")));
    CHECK(w.shop().units().size() > 100);
    CHECK(w.window.route()->isEnabled());
    w.go(Station::receive);
    CHECK(w.window.current_view() == w.window.view(Station::receive));

    const std::size_t units = w.shop().units().size();
    begun(); // the same again: refused by its first row, the workshop is open again as it was
    REQUIRE(w.wait_for([&] { return w.window.workshop() != nullptr; }));
    CHECK_FALSE(w.window.told().contains(QStringLiteral("was brought in")));
    CHECK(w.shop().units().size() == units);
}

TEST_CASE("The arrows walk the whole route and on to its rooms") {
    Window w;
    w.window.go_to(Station::receive);
    w.window.route()->setFocus();
    for (int i = 1; i < station_count; ++i) {
        w.key(Qt::Key_Down);
        CHECK(w.window.route()->current() == static_cast<Station>(i)); // K32: they worked once
        CHECK(w.window.route()->hasFocus());
    }
    w.key(Qt::Key_Down);
    CHECK(w.window.current_view() == w.window.view(Room::ledger));
    w.key(Qt::Key_Down);
    CHECK(w.window.current_view() == w.window.view(Room::library));
    w.key(Qt::Key_Up);
    w.key(Qt::Key_Up);
    CHECK(w.window.current_view() == w.window.view(Station::prove));
}
