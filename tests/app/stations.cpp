// Each station by hand, as a new user would.
#include "window.h"

#include "app/parts/record_table.h"

#include "app/parts/duty_scatter.h"
#include "app/parts/level_view.h"
#include "app/parts/voltage_ladder.h"
#include "app/stations/build/build_station.h"
#include "app/stations/match/match_station.h"
#include "app/stations/open/open_station.h"
#include "app/stations/receive/receive_station.h"
#include "app/stations/sort/sort_station.h"
#include "app/stations/test/log_import.h"
#include "app/stations/test/log_queue.h"
#include "app/stations/test/test_station.h"
#include "app/stations/triage/triage_station.h"

#include <QAbstractButton>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>
#include <QUndoStack>

using namespace ingot;
using namespace ingot::tests;

namespace {
const Assembly* pack_named(const Workshop& shop, const std::string& label) {
    for (const auto& p : shop.packs())
        if (p.label == label)
            return &p;
    return nullptr;
}
} // namespace

TEST_CASE("Receive: packs at bench speed, claims checked while typing") {
    Window w;
    w.go(Station::receive);
    const auto before = w.shop().packs().size();
    auto* capacity = w.find<QLineEdit>("pack_capacity");
    capacity->setFocus();
    QTest::keyClicks(capacity, QStringLiteral("72,8"));
    auto* words = w.find<QLabel>("form_objections");
    CHECK(words->text().contains(QStringLiteral("only in parallel"))); // 7S4P of 2.6 Ah
    capacity->clear();
    QTest::keyClicks(capacity, QStringLiteral("10.4"));
    CHECK_FALSE(words->text().contains(QStringLiteral("only in parallel")));
    auto* label = w.find<QLineEdit>("pack_label");
    const QString first = label->text();
    QTest::keyClick(capacity, Qt::Key_Return);
    w.settle();
    CHECK(w.shop().packs().size() == before + 1);
    CHECK(w.shop().packs().back().label == first.toStdString());
    CHECK(*w.shop().packs().back().claim.capacity_ah == 10.4);
    CHECK(label->hasFocus());
    QTest::keyClick(label, Qt::Key_Return); // the next one, label counted up, everything else kept
    w.settle();
    CHECK(w.shop().packs().size() == before + 2);
    CHECK(w.shop().packs().back().label != first.toStdString());
    QTest::keyClicks(w.find<QLineEdit>("pack_voltage"), QStringLiteral("lots"));
    QTest::keyClick(w.find<QLineEdit>("pack_voltage"), Qt::Key_Return);
    CHECK(w.window.told().contains(QStringLiteral("not a number")));
    CHECK(w.shop().packs().size() == before + 2);
}

TEST_CASE("Receive: a swollen pack is quarantined and does not go on") {
    Window w;
    w.go(Station::receive);
    w.scan(QStringLiteral("LAN-04 ") + QChar(0x00B7) + QStringLiteral(" pack 1"));
    const Id id = pack_named(w.shop(), "LAN-04 \xC2\xB7 pack 1")->id;
    for (auto* box : w.window.current_view()->findChildren<QCheckBox*>())
        if (box->text() == QStringLiteral("Swollen")) {
            QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
            w.settle();
        }
    CHECK(w.shop().receive().pack_quarantined(id));
    for (QAction* action : w.window.current_view()->commands())
        if (action->text().contains(QStringLiteral("Triage")))
            CHECK_FALSE(action->isEnabled());
}

TEST_CASE("Receive: a pack over 60 V waits at the gate until its cautions are done") {
    Window w;
    w.go(Station::receive);
    auto* table = w.find<app::RecordTable>("receive_packs");
    for (int row = 0; row < table->model()->rowCount(); ++row)
        if (table->model()->index(row, 0).data().toString().startsWith(QStringLiteral("BUO-02")))
            QTest::mouseClick(table->viewport(), Qt::LeftButton, {},
                              table->visualRect(table->model()->index(row, 0)).center());
    w.settle();
    auto* pass = w.find<app::PressButton>("pass_gate");
    REQUIRE(pass != nullptr);
    CHECK(pass->isVisible());
    const Id id = pack_named(w.shop(), "BUO-02 \xC2\xB7 pack 1")->id;
    CHECK_FALSE(w.shop().receive().set_state(id, AssemblyState::in_triage).ok());
    QTest::mouseClick(pass, Qt::LeftButton);
    w.settle();
    CHECK_FALSE(w.shop().receive().gate_closed(*w.shop().pack(id)));
    w.press(QStringLiteral("Send to Triage"));
    CHECK(w.shop().pack(id)->state == AssemblyState::in_triage);
}

TEST_CASE("Triage: a reading round by number pad") {
    Window w;
    const Id id = pack_named(w.shop(), "BUO-02 \xC2\xB7 pack 1")->id;
    REQUIRE(w.shop().receive().pass_gate(id).ok());
    REQUIRE(w.shop().receive().set_state(id, AssemblyState::in_triage).ok());
    w.go(Station::triage);
    auto* station = w.view<app::TriageStation>(Station::triage);
    auto* packs = w.find<QComboBox>("triage_pack");
    packs->setCurrentIndex(packs->findText(QStringLiteral("BUO-02"), Qt::MatchStartsWith));
    w.settle();
    CHECK(station->pack() == id);
    w.key(Qt::Key_F5);
    CHECK(station->active_box() == 0);
    w.scan(QStringLiteral("7.74"));
    w.scan(QStringLiteral("7,71")); // decimal comma
    CHECK(station->active_box() == 2);
    w.scan(QStringLiteral("77.4")); // a slip is queried at once and not recorded
    CHECK(w.window.told().contains(QStringLiteral("slipped decimal")));
    CHECK(station->active_box() == 2);
    w.key(Qt::Key_Backspace); // in the empty field: one back
    CHECK(station->active_box() == 1);
    w.scan(QStringLiteral("7.72")); // read again: the later one counts
    w.scan(QStringLiteral("*"));    // skipped
    CHECK(station->active_box() == 3);
    const auto read = w.shop().triage().group_readings(id, Condition::rest);
    CHECK(read.size() == 2);
    CHECK(read.at(2) == 7.72);
    w.key(Qt::Key_F8);
    CHECK(station->active_box() == -1);
    w.scan(QStringLiteral("7.7"));
    CHECK(w.window.told().contains(QStringLiteral("No round runs")));
}

TEST_CASE("Triage: groups are chosen on the ladder, a deep group forbids the load round") {
    Window w;
    w.go(Station::triage);
    auto* packs = w.find<QComboBox>("triage_pack");
    packs->setCurrentIndex(packs->findText(QStringLiteral("MOW-07 ") + QChar(0x00B7) + QStringLiteral(" pack 3")));
    w.settle();
    auto* station = w.view<app::TriageStation>(Station::triage);
    CHECK(station->evidence().mark == Duty::quarantine);
    CHECK(station->evidence().line.contains(QStringLiteral("Group 3")));
    auto* ladder = w.window.current_view()->findChild<app::VoltageLadder*>();
    CHECK(ladder->selected() == 3); // the one that leads the eye
    ladder->setFocus();
    QTest::keyClick(ladder, Qt::Key_Right);
    CHECK(ladder->selected() == 4);
    CHECK(station->evidence().mark == Duty::drive);
    for (QAction* action : station->commands())
        if (action->text().contains(QStringLiteral("load")))
            CHECK_FALSE(action->isEnabled());
}

TEST_CASE("Open: a pack becomes units, and their labels a sheet") {
    Window w;
    w.go(Station::open);
    const auto before = w.shop().units().size();
    w.key(Qt::Key_Return, Qt::ControlModifier);
    CHECK(w.shop().units().size() == before + 28);
    const UnitState& last = w.shop().units().back();
    CHECK(last.record.group == 7);
    CHECK(last.record.place == 4);
    CHECK(last.record.well > 0);
    CHECK(w.find<QLabel>("open_last")->text().contains(QString::fromStdString(last.code())));
    auto* station = w.view<app::OpenStation>(Station::open);
    const QString pdf = QString::fromStdString(w.file("labels.pdf"));
    REQUIRE(station->print_labels_to(pdf));
    CHECK(Temporary::read(pdf.toStdString()).substr(0, 5) == "%PDF-");
    CHECK_FALSE(station->print_labels_to(QStringLiteral("/no/such/folder/x.pdf")));
    // What was made can be scanned at once.
    w.scan(QString::fromStdString(last.code()));
    CHECK(w.window.route()->current() == Station::test);
}

TEST_CASE("Test: typed readings of the scanned unit, instrument remembered, struck out with a reason") {
    Window w;
    w.go(Station::test);
    Id id = 0;
    for (const UnitState& u : w.shop().units())
        if (u.in_stock() && !u.facts.capacity_ah && u.verdict.duty == Duty::rest_again)
            id = u.record.id;
    w.scan(QString::fromStdString(w.shop().unit(id)->code()));
    const auto count = w.shop().test().history(id).size();
    w.key(Qt::Key_4, Qt::AltModifier); // capacity
    w.scan(QStringLiteral("2,345"));
    CHECK(*w.shop().unit(id)->facts.capacity_ah == 2.345);
    w.key(Qt::Key_2, Qt::AltModifier); // DC milliohm
    w.scan(QStringLiteral("48.5"));
    CHECK(*w.shop().unit(id)->facts.dc_resistance_ohm == Approx(0.0485));
    w.scan(QStringLiteral("48500")); // far too high
    CHECK(w.window.told().contains(QStringLiteral("far too high")));
    CHECK(w.shop().test().history(id).size() == count + 2);
    const auto newest = w.shop().test().history(id).front();
    CHECK(newest.instrument == "bench meter");
    CHECK_FALSE(newest.conditions.temperature_c); // K28: nobody said how warm the room is
    CHECK_FALSE(newest.conditions.days_since_charge);
    auto* table = w.find<app::RecordTable>("readings");
    table->selectRow(0);
    w.settle();
    Window::answer([](QWidget* dialog) {
        QTest::keyClicks(dialog->findChild<QLineEdit*>(), QStringLiteral("probe slipped"));
        QTest::keyClick(dialog->findChild<QLineEdit*>(), Qt::Key_Return);
    });
    w.press(QStringLiteral("Strike out a reading…"));
    CHECK(w.shop().test().history(id).front().struck_reason == "probe slipped");
    // Last figures pick another unit: four of them, with the leading zero.
    w.scan(QStringLiteral("0193"));
    CHECK(w.view<app::TestStation>(Station::test)->unit() != id);
}

TEST_CASE("N32: a capacity typed off a display carries current and voltages, and says where it cannot be compared") {
    Window w;
    w.go(Station::test);
    std::vector<Id> cells; // siblings without a capacity
    for (const UnitState& u : w.shop().units())
        if (u.in_stock() && !u.facts.capacity_ah && w.shop().inventory().chemistry_of(u) != nullptr &&
            w.shop().inventory().chemistry_of(u)->id == "nmc" &&
            (cells.empty() || w.shop().unit(cells.front())->record.model == u.record.model))
            cells.push_back(u.record.id);
    REQUIRE(cells.size() >= 2);
    std::reverse(cells.begin(), cells.end()); // beside the newest siblings it is compared
    const auto field = [&](const QString& name) {
        for (auto* line : w.view<app::TestStation>(Station::test)->findChildren<QLineEdit*>())
            if (line->accessibleName() == name)
                return line;
        throw std::logic_error("no such field");
    };
    QLineEdit* at = field(QStringLiteral("The current of the discharge, A"));
    QLineEdit* from = field(QStringLiteral("What it was charged to, V"));
    QLineEdit* down = field(QStringLiteral("Where the discharge ended, V"));
    const auto type = [&](QLineEdit* line, const QString& text) {
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_F2); // back to the scan field
    };
    w.scan(QString::fromStdString(w.shop().unit(cells[0])->code()));
    CHECK_FALSE(at->isVisible());
    w.key(Qt::Key_4, Qt::AltModifier);
    CHECK(at->isVisible());
    type(at, QStringLiteral("0,5x")); // a letter is no figure
    CHECK(at->text() == QStringLiteral("0,5"));
    type(from, QStringLiteral("4.20"));
    type(down, QStringLiteral("2.80"));
    w.scan(QStringLiteral("2.41"));
    INFO(w.window.told().toStdString());
    const Measurement kept = w.shop().test().history(cells[0]).front();
    CHECK(kept.quantity == Quantity::capacity);
    CHECK(*kept.conditions.discharge_current_a == 0.5);
    CHECK(*kept.conditions.charged_to_v == 4.2);
    CHECK(*kept.conditions.cutoff_v == 2.8);
    CHECK_FALSE(kept.conditions.temperature_c);
    // The charger was set once: the next unit has the same, and another setting is told apart.
    w.scan(QString::fromStdString(w.shop().unit(cells[1])->code()));
    CHECK(at->text() == QStringLiteral("0,5"));
    type(down, QStringLiteral("4.3"));
    w.scan(QStringLiteral("2.36"));
    CHECK(w.window.told().contains(QStringLiteral("swapped")));
    CHECK_FALSE(w.shop().unit(cells[1])->facts.capacity_ah);
    type(down, QStringLiteral("3.2"));
    w.scan(QStringLiteral("2.36"));
    REQUIRE(w.shop().unit(cells[1])->facts.capacity_ah);
    CHECK(w.shop().test().compare_capacity(cells[1]).reasons.contains(Incomparable::other_cutoff));
    CHECK(w.window.current_view()->evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("Not comparable")));
}

TEST_CASE("Test: a log is previewed, then taken in; a broken one changes nothing") {
    Window w;
    w.go(Station::test);
    auto* station = w.view<app::TestStation>(Station::test);
    const QDir logs(QString::fromStdString(Workshop::shipped_folder("demo")) + QStringLiteral("/logs-to-import"));
    const QString file = logs.filePath(logs.entryList({QStringLiteral("*.csv")}).front());
    station->import_file(file);
    REQUIRE(w.wait_for([&] { return station->log_import()->ready(); }));
    const Id id = station->unit();
    CHECK(w.shop().unit(id)->code() == QFileInfo(file).completeBaseName().toStdString()); // the file is named after it
    CHECK(w.find<QLabel>("log_outcome")->text().contains(QStringLiteral("Ah")));
    CHECK_FALSE(w.shop().unit(id)->facts.capacity_ah.has_value()); // nothing is recorded yet
    w.press(QStringLiteral("Record the log"));
    REQUIRE(w.shop().unit(id)->facts.capacity_ah.has_value());
    CHECK(w.shop().test().runs(id).size() == 1);
    const auto readings = w.shop().ledger().counts().measurements;
    const std::string broken = w.file("broken.csv");
    std::ofstream(broken) << "Test Time / s,Voltage / V,Current / A\n0,3.7,0\n1,3.7,oops\n";
    station->import_file(QString::fromStdString(broken));
    REQUIRE(w.wait_for([&] { return !station->log_import()->reading(); }));
    CHECK(w.window.told().contains(QStringLiteral("broken.csv:3:")));
    CHECK(w.shop().ledger().counts().measurements == readings);
}

TEST_CASE("N10: several logs are read one after the other, and those that a tester leaves in a watched folder") {
    Window w;
    w.go(Station::test);
    auto* station = w.view<app::TestStation>(Station::test);
    const QDir logs(QString::fromStdString(Workshop::shipped_folder("demo")) + QStringLiteral("/logs-to-import"));
    QStringList files;
    for (const QString& name : logs.entryList({QStringLiteral("*.csv")}))
        files << logs.filePath(name);
    REQUIRE(files.size() >= 2);
    // Two at once, a broken one between them: it is said, and holds nothing up.
    const std::string broken = w.file("broken.csv");
    std::ofstream(broken) << "Test Time / s,Voltage / V,Current / A\n0,3.7,0\n1,3.7,oops\n";
    const auto ready = [&] { return w.wait_for([&] { return station->log_import()->ready(); }); };
    station->logs()->add({QString::fromStdString(broken), files[0], files[1]});
    station->next_log();
    REQUIRE(ready());
    CHECK(station->logs()->waiting() == 1);
    const Id first = station->unit();
    CHECK(w.shop().unit(first)->code() == QFileInfo(files[0]).completeBaseName().toStdString());
    CHECK(w.window.told().contains(QStringLiteral("1 more log waits")));
    w.press(QStringLiteral("Record the log"));
    REQUIRE(ready());
    const Id second = station->unit();
    CHECK(second != first);
    CHECK(w.shop().unit(second)->code() == QFileInfo(files[1]).completeBaseName().toStdString());
    for (QAction* action : station->commands())
        if (action->text().contains(QStringLiteral("iscard")))
            action->trigger();
    w.settle();
    CHECK_FALSE(station->log_import()->ready());
    CHECK(station->logs()->waiting() == 0);
    CHECK(w.shop().unit(first)->facts.capacity_ah.has_value());
    CHECK_FALSE(w.shop().unit(second)->facts.capacity_ah.has_value());
    // A folder: what lies in it stays, what arrives is read once nobody writes to it.
    const Temporary folder;
    (void)folder.write("old.csv", "Test Time / s,Voltage / V,Current / A\n0,3.7,0\n");
    station->logs()->set_patience(60);
    CHECK_FALSE(station->logs()->watch(QStringLiteral("/no/such/folder")));
    REQUIRE(station->logs()->watch(QString::fromStdString(folder.file(""))));
    const QString name = QFileInfo(files[1]).fileName();
    REQUIRE(QFile::copy(files[1], QString::fromStdString(folder.file(name.toStdString()))));
    REQUIRE(ready());
    CHECK(station->unit() == second);
    CHECK(station->logs()->waiting() == 0);
    // Another start goes on there: what arrived meanwhile waits, what was known does not.
    app::LogQueue later(nullptr);
    later.set_patience(40);
    QStringList arrived;
    QObject::connect(&later, &app::LogQueue::arrived, [&] { arrived << later.take(); });
    const QStringList known = station->logs()->known_names();
    CHECK(known == QStringList{name, QStringLiteral("old.csv")});
    (void)folder.write("new.csv", "Test Time / s,Voltage / V,Current / A\n0,3.7,0\n");
    CHECK_FALSE(later.resume(QStringLiteral("/no/such/folder"), known));
    REQUIRE(later.resume(QString::fromStdString(folder.file("")), known));
    REQUIRE(w.wait_for([&] { return !arrived.isEmpty(); }));
    CHECK(QFileInfo(arrived.front()).fileName() == QStringLiteral("new.csv"));
    CHECK(arrived.size() == 1);
    REQUIRE(station->logs()->watch({}));
    CHECK(station->logs()->folder().isEmpty());
}

TEST_CASE("N10: columns are said by the person once, a file of several channels is recorded channel by channel") {
    Window w;
    w.go(Station::test);
    auto* station = w.view<app::TestStation>(Station::test);
    const QDir logs(QString::fromStdString(Workshop::shipped_folder("demo")) + QStringLiteral("/logs-to-import"));
    const QString first = logs.filePath(logs.entryList({QStringLiteral("*.csv")}).front());
    const std::string unit = QFileInfo(first).completeBaseName().toStdString();
    const auto log = exchange::read_log(Temporary::read(first.toStdString()), "log").value();
    // Two channels, interleaved, named so that nobody understands them; the second is named after a unit.
    std::string text = "Zeit;Spannung;Strom;Platz\n";
    for (std::size_t i = 0; i < log.samples.size(); ++i)
        for (const std::string& place : {std::string("A"), unit})
            text += std::to_string(log.samples.time_s[i]) + ";" + std::to_string(log.samples.voltage_v[i] * 1000) +
                    ";" + std::to_string(log.samples.current_a[i]) + ";" + place + "\n";
    const Temporary folder;
    const auto other = folder.write("evening.csv", text);
    station->import_file(QString::fromStdString(other));
    REQUIRE(w.wait_for([&] { return station->log_import()->asking(); }));
    CHECK(w.window.told().contains(QStringLiteral("is missing")));
    CHECK_FALSE(station->log_import()->ready());
    const auto choose = [&](int column, const char* words) {
        auto* choice = w.find<QComboBox>(("log_column_" + std::to_string(column)).c_str());
        const int at = choice->findText(QString::fromUtf8(words));
        REQUIRE(at >= 0);
        choice->setCurrentIndex(at);
    };
    choose(0, "time, s");
    choose(1, "voltage, mV");
    w.press(QStringLiteral("Read with these columns"));
    CHECK(w.window.told().contains(QStringLiteral("current")));
    CHECK(station->log_import()->asking());
    choose(2, "current, A");
    choose(3, "channel");
    w.press(QStringLiteral("Read with these columns"));
    REQUIRE(w.wait_for([&] { return station->log_import()->ready(); }));
    CHECK(station->log_import()->runs() == 2);
    CHECK(w.find<QLabel>("log_outcome")->text().contains(QStringLiteral("Ah")));
    // Channel A is nobody's yet: its unit is scanned. Then the other channel finds its own.
    const Id theirs = w.shop().find_unit(unit).value();
    Id mine = 0;
    for (const UnitState& one : w.shop().units())
        if (one.record.id != theirs && one.in_stock() && !one.facts.capacity_ah)
            mine = one.record.id;
    REQUIRE(mine != 0);
    w.scan(QString::fromStdString(w.shop().unit(mine)->code()));
    REQUIRE(station->unit() == mine);
    CHECK(station->log_import()->ready()); // a scan does not lose it
    w.press(QStringLiteral("Record the log"));
    CHECK(w.shop().unit(mine)->facts.capacity_ah.has_value());
    CHECK(w.window.told().contains(QString::fromStdString("channel " + unit)));
    CHECK(station->unit() == theirs);
    CHECK_FALSE(w.shop().unit(theirs)->facts.capacity_ah.has_value());
    w.press(QStringLiteral("Record the log"));
    CHECK(w.shop().unit(theirs)->facts.capacity_ah.has_value());
    CHECK_FALSE(station->log_import()->ready());
    // The next file of these columns is understood at once.
    const auto next = folder.write("next.csv", text);
    station->import_file(QString::fromStdString(next));
    REQUIRE(w.wait_for([&] { return station->log_import()->ready(); }));
    CHECK(station->log_import()->runs() == 2);
    // By mistake it may be changed: the columns are asked for again, and nothing was recorded.
    w.find<QAbstractButton>("log_columns")->click();
    CHECK(station->log_import()->asking());
    for (QAction* action : station->commands())
        if (action->text().contains(QStringLiteral("iscard")))
            action->trigger();
    w.settle();
    CHECK_FALSE(station->log_import()->asking());
    CHECK_FALSE(station->log_import()->ready());
}

TEST_CASE("Sort: a limit is dragged, all units follow at once, and undo takes it back") {
    Window w;
    w.go(Station::sort);
    auto* models = w.find<QComboBox>("sort_model");
    models->setCurrentIndex(models->findData(QStringLiteral("H26")));
    w.settle();
    auto* scatter = w.view<app::SortStation>(Station::sort)->scatter();
    const auto before = w.shop().sort().duty_counts();
    const QPoint from = scatter->handle(true, 0).center().toPoint();
    QTest::mousePress(scatter, Qt::LeftButton, {}, from);
    QTest::mouseMove(scatter, from + QPoint(20, 0));
    QTest::mouseMove(scatter, from + QPoint(60, 0));
    w.settle();
    const auto during = w.shop().sort().duty_counts();
    CHECK(during[0] < before[0]); // Drive got harder while the mouse is still down
    QTest::mouseRelease(scatter, Qt::LeftButton, {}, from + QPoint(60, 0));
    w.settle();
    CHECK(w.shop().sort().rules_changed());
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().sort().duty_counts() == before);
    w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    CHECK(w.shop().sort().duty_counts()[0] == during[0]);
    // Tapped and typed.
    QTest::mouseClick(scatter, Qt::LeftButton, {}, scatter->handle(true, 0).center().toPoint());
    CHECK(w.window.scan_field()->hint().contains(QStringLiteral("Drive limit")));
    w.scan(QStringLiteral("2,40"));
    CHECK(*w.shop().sort().rules().by_model.at("H26").least_capacity_ah[0] == 2.4);
    w.key(Qt::Key_S, Qt::ControlModifier);
    CHECK(w.shop().sort().rules().version == 2);
    CHECK_FALSE(w.shop().sort().rules_changed());
}

TEST_CASE("Sort: a unit is tapped and its reasons stand in Evidence") {
    Window w;
    w.go(Station::sort);
    auto* station = w.view<app::SortStation>(Station::sort);
    auto* scatter = station->scatter();
    Id id = 0;
    for (const UnitState& u : w.shop().units())
        if (u.in_stock() && u.record.model == "H26" && u.facts.capacity_ah && u.facts.dc_resistance_ohm &&
            u.verdict.duty == Duty::scrap)
            id = u.record.id;
    REQUIRE(id != 0);
    QTest::mouseClick(scatter, Qt::LeftButton, {}, scatter->position_of(id).toPoint());
    w.settle();
    CHECK(station->evidence().unit == id);
    CHECK(station->evidence().verdict == QStringLiteral("Scrap"));
    scatter->setFocus();
    QTest::keyClick(scatter, Qt::Key_Right);
    CHECK(station->evidence().unit != id);
}

TEST_CASE("Match to Build: search, lock, reserve, take by scanning") {
    Window w;
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    w.key(Qt::Key_F9);
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    const MatchResult first = *match->answer();
    CHECK(first.groups.size() == 7);
    // Lock a unit to its group by double click, search again: it stays there.
    auto* level = match->level_view();
    QTest::mouseDClick(level, Qt::LeftButton, {}, level->unit_box(2, 1).center().toPoint());
    w.settle();
    const QString locked = level->selected_unit();
    REQUIRE_FALSE(locked.isEmpty());
    CHECK(w.window.undo_stack()->count() == 1);
    w.key(Qt::Key_F9);
    REQUIRE(w.wait_for([&] { return !match->searching(); }));
    level->select(2, locked);
    bool there = false;
    const auto pool =
        w.shop().match().problem_for(w.shop().match().pool({"nmc", "", "", {Duty::drive, Duty::store}})).pool;
    for (const auto u : match->answer()->groups[2].units)
        there |= QString::fromStdString(pool[u].id) == locked;
    CHECK(there);
    // A quarantined unit is refused.
    for (const UnitState& u : w.shop().units())
        if (u.quarantined) {
            w.scan(QString::fromStdString(u.code()));
            CHECK(w.window.told().contains(QStringLiteral("quarantine")));
            break;
        }
    w.key(Qt::Key_Return, Qt::ControlModifier);
    CHECK(w.window.route()->current() == Station::build);
    auto* build = w.view<app::BuildStation>(Station::build);
    const BuildSheet sheet = w.shop().build().sheet(build->build());
    CHECK(sheet.build.label == "B-019"); // after those of the demo that want units
    CHECK(sheet.lines.size() == 28);
    w.scan(QString::fromStdString(sheet.lines[4].code));
    CHECK(w.shop().build().sheet(build->build()).taken == 1);
    for (const UnitState& u : w.shop().units())
        if (u.in_stock()) {
            w.scan(QString::fromStdString(u.code()));
            CHECK(w.window.told().contains(QStringLiteral("does not belong")));
            break;
        }
    CHECK(w.shop().build().sheet(build->build()).taken == 1);
    w.key(Qt::Key_Z, Qt::ControlModifier); // the take is taken back
    CHECK(w.shop().build().sheet(build->build()).taken == 0);
    w.scan(QString::fromStdString(sheet.lines[4].code));
    w.key(Qt::Key_B, Qt::ControlModifier); // put it back
    CHECK(w.shop().build().sheet(build->build()).taken == 0);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().build().sheet(build->build()).taken == 1);
    w.key(Qt::Key_B, Qt::ControlModifier); // last_ is gone: nothing happens, nothing breaks
    REQUIRE(build->write_pdf_to(QString::fromStdString(w.file("sheet.pdf"))));
    CHECK(Temporary::read(w.file("sheet.pdf")).substr(0, 5) == "%PDF-");
}

TEST_CASE("Match: a search can be stopped and an impossible one says what is missing") {
    Window w;
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    w.find<QSpinBox>("match_series")->setValue(13);
    w.find<QSpinBox>("match_parallel")->setValue(8);
    match->start_search();
    match->stop_search();
    REQUIRE(w.wait_for([&] { return !match->searching(); }));
    CHECK(match->has_answer()); // the best so far
    w.find<QSpinBox>("match_parallel")->setValue(100);
    w.settle();
    for (QAction* action : match->commands())
        if (action->text() == QStringLiteral("&Search"))
            CHECK_FALSE(action->isEnabled());
}

TEST_CASE("N10: all packs of a kind are sent to Open by one command, and taken back by one key") {
    Window w;
    w.go(Station::receive);
    std::vector<Id> received;
    for (int n = 0; n < 3; ++n) {
        Assembly pack;
        pack.lot = w.shop().packs().front().lot;
        pack.label = "bulk " + std::to_string(n + 1);
        pack.chemistry = "nmc";
        pack.layout = {2, 3, 1};
        received.push_back(w.shop().receive().add_pack(pack).value());
    }
    w.settle();
    w.scan(QStringLiteral("bulk 2"));
    w.command(QStringLiteral("All of its kind to Open"));
    for (const Id id : received)
        CHECK(w.shop().pack(id)->state == AssemblyState::to_open);
    CHECK(w.window.told().contains(QStringLiteral("3 packs wait at Open")));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    for (const Id id : received)
        CHECK(w.shop().pack(id)->state == AssemblyState::received);
}

TEST_CASE("N29: what hid in a pack is noted at Open part by part, told in Evidence, and taken back with Ctrl+Z") {
    Window w;
    w.go(Station::open);
    auto* open = w.view<app::OpenStation>(Station::open);
    const auto notes = [&] { return open->evidence().notes.join(QLatin1Char('\n')); };
    Window::answer([](QWidget* dialog) {
        dialog->findChild<QLineEdit*>(QStringLiteral("found_board"))->setText(QStringLiteral("box 3"));
        dialog->findChild<QLineEdit*>(QStringLiteral("found_series-part"))
            ->setText(QStringLiteral("coil, with the board"));
        static_cast<QDialog*>(dialog)->accept();
    });
    w.command(QStringLiteral("Parts found"));
    w.window.activateWindow();
    w.settle();
    CHECK(notes().contains(QStringLiteral("Found in it, protection board: box 3")));
    CHECK(notes().contains(QStringLiteral("coil or resistor in the lead: coil, with the board")));
    // What is known stands in the form; an emptied line takes it back.
    Window::answer([](QWidget* dialog) {
        auto* board = dialog->findChild<QLineEdit*>(QStringLiteral("found_board"));
        CHECK(board->text() == QStringLiteral("box 3"));
        board->clear();
        static_cast<QDialog*>(dialog)->accept();
    });
    w.command(QStringLiteral("Parts found"));
    w.window.activateWindow();
    w.settle();
    CHECK_FALSE(notes().contains(QStringLiteral("protection board: box 3")));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(notes().contains(QStringLiteral("protection board: box 3")));
}
