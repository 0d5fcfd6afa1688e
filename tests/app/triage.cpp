// Triage by hand: rounds with their conditions, explanations that move with each reading, symptoms, donors.
#include "window.h"

#include "app/parts/choice_row.h"
#include "app/parts/explanation_bars.h"
#include "app/parts/photo_view.h"
#include "app/parts/routes_view.h"
#include "app/parts/strip_picture.h"
#include "app/parts/tray_picture.h"
#include "app/parts/voltage_ladder.h"
#include "app/rooms/units_page.h"
#include "app/stations/open/open_station.h"
#include "app/stations/triage/triage_station.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QSpinBox>
#include <QTableWidget>
#include <QUndoStack>

#include <map>
#include <set>

using namespace ingot;
using namespace ingot::tests;

namespace {

// A new pack at Triage, chosen on screen.
Id pack_at_triage(Window& w, const std::string& label, int series) {
    Assembly record;
    record.lot = w.shop().lots().front().id;
    record.label = label;
    record.chemistry = "nmc";
    record.layout = {series, 3, 1};
    record.state = AssemblyState::in_triage;
    const Id id = w.shop().receive().add_pack(record).value();
    w.settle();
    w.go(Station::triage);
    auto* packs = w.find<QComboBox>("triage_pack");
    packs->setCurrentIndex(packs->findText(QString::fromStdString(label)));
    w.settle();
    return id;
}

QString bars(const Window& w) {
    for (const auto* shown : w.window.findChildren<app::ExplanationBars*>())
        if (shown->isVisible()) // older ones wait to be deleted
            return shown->accessibleDescription();
    return {};
}

} // namespace

TEST_CASE("Triage: a round under load finds the joint, and the bars move with each reading") {
    Window w;
    const Id id = pack_at_triage(w, "MOW-99 · pack 1", 5);
    w.key(Qt::Key_F5);
    for (const char* volts : {"3.842", "3.846", "3,844", "3.841", "3.845"})
        w.scan(QString::fromLatin1(volts));
    w.settle();
    CHECK(bars(w).startsWith(QStringLiteral("Nothing wrong")));
    REQUIRE(w.find<QLabel>("tell_apart") != nullptr);
    w.key(Qt::Key_F7);
    w.scan(QStringLiteral("2.0 A")); // the load's current, for the whole round
    CHECK(w.find<QLineEdit>("round_condition")->text().startsWith(QStringLiteral("2.0")));
    for (const char* volts : {"3.77", "3.774", "3.622", "3.769", "3.773"})
        w.scan(QString::fromLatin1(volts));
    w.settle();
    CHECK(bars(w).startsWith(QStringLiteral("Resistive joint, group 3")));
    const TriageCase known = w.shop().triage().triage_case(id);
    CHECK(known.readings.size() == 10);
    CHECK(*known.readings.back().current_a == -2.0);
    w.key(Qt::Key_F4);
    w.scan(QStringLiteral("7 d"));
    w.scan(QStringLiteral("3.841"));
    CHECK(*w.shop().triage().triage_case(id).readings.back().days == Approx(7));
}

TEST_CASE("N5, N6: particulars and the layout are noted at Receive, told in Evidence, and taken back with Ctrl+Z") {
    Window w;
    Assembly record;
    record.lot = w.shop().lots().front().id;
    record.label = "MOW-98 · pack 1";
    record.chemistry = "nmc";
    record.layout = {5, 2, 1};
    const Id id = w.shop().receive().add_pack(record).value();
    w.go(Station::receive);
    w.scan(QString::fromStdString(record.label));
    Window::answer([](QWidget* dialog) {
        dialog->findChild<QLineEdit*>(QStringLiteral("charger"))->setText(QStringLiteral("missing"));
        dialog->findChild<QLineEdit*>(QStringLiteral("board"))->setText(QStringLiteral("wakes only on a charger"));
        qobject_cast<QDialog*>(dialog)->accept();
    });
    w.scan(QStringLiteral("particulars"));
    CHECK(w.shop().receive().particulars(id).size() == 2);
    const auto notes = w.window.view(Station::receive)->evidence().notes;
    CHECK(notes.contains(QStringLiteral("Charger: missing")));
    Window::answer([](QWidget* dialog) {
        const auto lines = dialog->findChildren<QLineEdit*>();
        REQUIRE(lines.size() == 5);
        lines[0]->setText(QStringLiteral("6"));
        lines[4]->setText(QStringLiteral("counted with the case open"));
        qobject_cast<QDialog*>(dialog)->accept();
    });
    w.scan(QStringLiteral("correct the layout"));
    CHECK(w.shop().pack(id)->layout.series == 6);
    w.window.activateWindow();
    w.window.undo_stack()->undo();
    CHECK(w.shop().pack(id)->layout.series == 5);
}

TEST_CASE("N22: explanations of one kind over several sets of groups stand as one line") {
    Window w;
    const Id id = pack_at_triage(w, "MOW-98 · pack 3", 6);
    w.key(Qt::Key_F5);
    for (const char* volts : {"3.842", "3.780", "3.720", "3.846", "3.700", "3.842"})
        w.scan(QString::fromLatin1(volts));
    const auto& all = w.shop().triage().explained(id).explanations;
    std::map<Fault, int> sets;
    for (const Explanation& e : all)
        sets[e.fault] += e.probability >= 0.02;
    REQUIRE(std::any_of(sets.begin(), sets.end(), [](const auto& one) { return one.second > 1; }));
    std::set<QString> kinds;
    bool told = false;
    for (const auto& bar : w.window.view(Station::triage)->evidence().explanations) {
        CHECK(kinds.insert(bar.title.section(QLatin1Char(','), 0, 0)).second);
        told = told || bar.below.contains(QStringLiteral(" Or group"));
    }
    CHECK(told);
}

TEST_CASE("N51: what it turned out to be is recorded from Triage, with what was said first at the head of the list") {
    Window w;
    const Id id = pack_at_triage(w, "MOW-98 · pack 2", 5);
    w.key(Qt::Key_F5);
    for (const char* volts : {"3.70", "3.70", "0.12", "3.70", "3.70"})
        w.scan(QString::fromLatin1(volts));
    QString first;
    Window::answer([&first](QWidget* dialog) {
        first = dialog->findChild<QComboBox*>(QStringLiteral("cause"))->itemText(0);
        qobject_cast<QDialog*>(dialog)->accept();
    });
    w.scan(QStringLiteral("what it turned out to be"));
    REQUIRE(w.wait_for([&] { return w.shop().triage().outcome(id).has_value(); }));
    CHECK(first.startsWith(QStringLiteral("Dead group")));
    CHECK(w.shop().triage().outcome(id)->causes == std::vector<NamedFault>{{Fault::dead_group, {3}}});
    CHECK(w.window.told().contains(QStringLiteral("Right first in 1 of 1 pack")));
}

TEST_CASE("N51: several faults of a pack are typed each with its groups; what contradicts itself is objected to") {
    Window w;
    const Id id = pack_at_triage(w, "MOW-97 · pack 2", 6);
    w.key(Qt::Key_F5);
    for (const char* volts : {"3.70", "3.70", "0.12", "3.70", "3.70", "3.70"})
        w.scan(QString::fromLatin1(volts));
    QStringList objected;
    Window::answer([&objected](QWidget* dialog) {
        const auto line = [dialog](const char* name) {
            return dialog->findChild<QLineEdit*>(QStringLiteral("cause_") + QLatin1String(name));
        };
        auto* combo = dialog->findChild<QComboBox*>(QStringLiteral("cause"));
        auto* sound = dialog->findChild<QCheckBox*>(QStringLiteral("cause_healthy"));
        const auto enter = [&] {
            QTest::keyClick(dialog, Qt::Key_Return);
            for (const QLabel* label : dialog->findChildren<QLabel*>(QStringLiteral("objection")))
                if (label->isVisibleTo(dialog))
                    objected << label->text();
        };
        CHECK(line("dead-group")->text() == QStringLiteral("3")); // as was said
        const auto type = [](QLineEdit* into, const char* words) {
            into->setFocus();
            into->selectAll();
            QTest::keyClicks(into, QString::fromLatin1(words));
        };
        line("dead-group")->clear();
        enter(); // nothing at all
        sound->click();
        type(line("weak-group"), "5");
        enter(); // both
        sound->click();
        type(line("weak-group"), "5, 9");
        enter(); // no such group
        CHECK(combo->currentText() == QStringLiteral("As typed below"));
        // Nothing is squeezed by what is said below it.
        CHECK(line("weak-group")->height() == line("dead-group")->height());
        type(line("dead-group"), "3");
        type(line("weak-group"), "5; 2");
        type(line("imbalance"), "All");
        type(line("leaking-cell"), "?");
        enter();
    });
    w.scan(QStringLiteral("what it turned out to be"));
    REQUIRE(w.wait_for([&] { return w.shop().triage().outcome(id).has_value(); }));
    REQUIRE(objected.size() == 3);
    CHECK(objected[0].contains(QStringLiteral("Say what was found")));
    CHECK(objected[1].contains(QStringLiteral("Take one of them back")));
    CHECK(objected[2].contains(QStringLiteral("from 1 to 6")));
    CHECK(w.shop().triage().outcome(id)->causes == std::vector<NamedFault>{{Fault::dead_group, {3}},
                                                                           {Fault::leaking_cell, {}},
                                                                           {Fault::weak_group, {2, 5}},
                                                                           {Fault::imbalance, {}}});
    CHECK(w.window.told().contains(QStringLiteral("Right first in 0 of 1 pack")));
    // Asked again, Enter leaves what was recorded as it is, also what nobody knew.
    const auto recorded = w.shop().triage().outcome(id)->causes;
    Window::answer([](QWidget* dialog) {
        CHECK(dialog->findChild<QLineEdit*>(QStringLiteral("cause_leaking-cell"))->text() == QStringLiteral("?"));
        CHECK(dialog->findChild<QLineEdit*>(QStringLiteral("cause_imbalance"))->text() == QStringLiteral("all"));
        QTest::keyClick(dialog, Qt::Key_Return);
    });
    const std::size_t noted = w.shop().inventory().particulars().size();
    w.scan(QStringLiteral("what it turned out to be"));
    REQUIRE(w.wait_for([&] { return w.shop().inventory().particulars().size() > noted; }));
    CHECK(w.shop().triage().outcome(id)->causes == recorded);
}

TEST_CASE("Triage: a minus is asked for twice") {
    Window w;
    const Id id = pack_at_triage(w, "MOW-99 · pack 2", 3);
    w.key(Qt::Key_F5);
    w.scan(QStringLiteral("-3.7"));
    CHECK(w.window.told().contains(QStringLiteral("again")));
    CHECK(w.shop().triage().triage_case(id).readings.empty());
    w.scan(QStringLiteral("-3.7"));
    REQUIRE(w.shop().triage().triage_case(id).readings.size() == 1);
    CHECK(w.shop().triage().triage_case(id).readings[0].voltage_v == -3.7);
}

TEST_CASE("Triage: symptoms, and what was done to a group, from the keyboard") {
    Window w;
    const Id id = pack_at_triage(w, "MOW-99 · pack 3", 4);
    w.scan(QStringLiteral("symptoms"));
    auto* menu = w.find<QMenu>("symptoms");
    REQUIRE(menu->isVisible());
    QTest::keyClick(menu, Qt::Key_Down);
    QTest::keyClick(menu, Qt::Key_Return);
    w.settle();
    CHECK(w.shop().triage().symptoms_of_pack(id).size() == 1);
    CHECK_FALSE(bars(w).isEmpty()); // a symptom alone is a beginning
    w.window.findChildren<app::VoltageLadder*>().front()->set_selected(2);
    w.scan(QStringLiteral("lead swapped: the error moved"));
    const TriageCase known = w.shop().triage().triage_case(id);
    REQUIRE(known.swaps.size() == 1);
    CHECK(known.swaps[0].group == 2);
    CHECK(known.swaps[0].moved);
}

TEST_CASE("Triage: voltages of single units and a temperature, typed for the selected group") {
    Window w;
    const Id id = pack_at_triage(w, "MOW-99 · pack 4", 4);
    for (int g = 1; g <= 4; ++g)
        REQUIRE(w.shop().triage().record_group_reading(id, g, 3.70 + 0.001 * g, Condition::rest, "meter"));
    w.window.findChildren<app::VoltageLadder*>().front()->set_selected(3);
    const auto trigger = [&](const QString& words) {
        for (QAction* action : w.window.view(Station::triage)->commands())
            if (action->text().remove(QLatin1Char('&')).startsWith(words))
                action->trigger();
        w.settle();
    };
    const auto type = [&](const QString& command, const QString& text) {
        QString objected;
        Window::answer_line(text, &objected);
        trigger(command);
        return objected;
    };
    const auto volts = [&](const QString& text) { return type(QStringLiteral("Unit voltages"), text); };
    CHECK(volts(QStringLiteral("3,703 0.2 -")).isEmpty());
    const TriageCase known = w.shop().triage().triage_case(id);
    REQUIRE(known.units.size() == 2);
    CHECK(known.units[0].group == 3);
    CHECK(known.units[1].voltage_v == Approx(0.2));
    CHECK(bars(w).contains(QStringLiteral("group 3"))); // the one that fell is in there
    // K29: what is wrong is said beside the field, before the box closes.
    CHECK(volts(QStringLiteral("3.7 x")).contains(QStringLiteral("\"x\"")));
    CHECK(volts(QStringLiteral("1 2 3 4 5")).contains(QStringLiteral("3 units")));
    CHECK(volts(QStringLiteral("3.7 37")).isEmpty()); // the record objects
    CHECK(w.window.told().contains(QStringLiteral("unit 2")));
    CHECK(w.shop().triage().triage_case(id).units.size() == 2);
    CHECK(type(QStringLiteral("Temperature of this"), QStringLiteral("warm")).contains(QStringLiteral("40 to 150")));
    CHECK(type(QStringLiteral("Temperature of this"), QStringLiteral("41,5")).isEmpty());
    const auto capacity = [&](const QString& text) { return type(QStringLiteral("Capacity of this"), text); };
    CHECK(capacity(QStringLiteral("5,45")).isEmpty());
    CHECK(w.shop().triage().group_capacities(id).at(3) == Approx(5.45));
    CHECK(capacity(QStringLiteral("lots")).contains(QStringLiteral("\"lots\"")));
    CHECK(capacity(QStringLiteral("-2")).isEmpty());
    CHECK(w.window.told().contains(QStringLiteral("not believed")));
    CHECK(w.shop().triage().group_capacities(id).at(3) == Approx(5.45));
    REQUIRE(w.shop().triage().triage_case(id).temperatures.size() == 1);
    CHECK(w.shop().triage().triage_case(id).temperatures[0].temperature_c == Approx(41.5));
    // Kept in the file.
    const auto again = Workshop::open(w.path());
    REQUIRE(again);
    CHECK(again.value()->triage().triage_case(id).units.size() == 2);
}

TEST_CASE("N23: a reading is struck out, a round goes to the right pack and back, the report is on paper") {
    Window w;
    const Id right = pack_at_triage(w, "MOW-99 · pack 6", 4);
    const Id wrong = pack_at_triage(w, "MOW-99 · pack 7", 4);
    w.key(Qt::Key_F5);
    for (const char* volts : {"3.702", "3.701", "3.310", "3.703", "14.42"})
        w.scan(QString::fromLatin1(volts));
    REQUIRE(w.shop().triage().group_readings(wrong, Condition::rest).size() == 5);
    auto* station = w.view<app::TriageStation>(Station::triage);
    REQUIRE(station->print_report_to(QString::fromStdString(w.file("report.pdf"))));
    REQUIRE(std::system(("pdftotext -layout " + w.file("report.pdf") + " " + w.file("report.txt")).c_str()) == 0);
    const std::string report = Temporary::read(w.file("report.txt"));
    CHECK(report.find("Triage of MOW-99") != std::string::npos);
    CHECK(report.find("3.310") != std::string::npos);
    CHECK(report.find("group 3") != std::string::npos);
    const auto trigger = [&](const QString& words) {
        for (QAction* action : station->commands())
            if (action->text().remove(QLatin1Char('&')).startsWith(words))
                action->trigger();
        w.settle();
    };
    // Group 3 was read again; the slip is struck out and stays on record.
    w.window.findChildren<app::VoltageLadder*>().front()->set_selected(3);
    REQUIRE(w.shop().triage().record_group_reading(wrong, 3, 3.699, Condition::rest, "meter").ok());
    w.settle();
    Window::answer_line(QStringLiteral("the probe slipped"));
    trigger(QStringLiteral("Strike out a reading"));
    CHECK(w.shop().triage().group_readings(wrong, Condition::rest).at(3) == Approx(3.310)); // the one before counts
    // The whole round was read on the other pack.
    QString objected;
    Window::answer_line(QStringLiteral("MOW-99 · pack 60"), &objected);
    trigger(QStringLiteral("Move a round"));
    CHECK(objected.contains(QStringLiteral("no other pack")));
    Window::answer_line(QStringLiteral("mow-99 · pack 6"));
    trigger(QStringLiteral("Move a round"));
    CHECK(w.shop().triage().group_readings(wrong, Condition::rest).empty());
    CHECK(w.shop().triage().group_readings(right, Condition::rest).at(3) == Approx(3.310));
    CHECK(w.shop().triage().group_readings(right, Condition::rest).size() == 5);
    w.window.undo_stack()->undo();
    CHECK(w.shop().triage().group_readings(wrong, Condition::rest).size() == 5);
    CHECK(w.shop().triage().group_readings(right, Condition::rest).empty());
    // Where it does not fit nothing is moved.
    Assembly small = *w.shop().pack(right);
    small.label = "MOW-99 · pack 8";
    small.layout.series = 3;
    const Id narrow = w.shop().receive().add_pack(small).value();
    const auto refused = w.shop().triage().move_round(wrong, Condition::rest, narrow);
    REQUIRE_FALSE(refused.ok());
    CHECK(refused.problem().sentence.english().find("does not fit MOW-99 · pack 8") != std::string::npos);
    CHECK(w.shop().triage().group_readings(wrong, Condition::rest).size() == 5);
    CHECK(w.shop().triage().group_readings(narrow, Condition::rest).empty());
}

TEST_CASE("Triage: a large case is weighed beside the window") {
    Window w;
    const Id id = pack_at_triage(w, "MOW-99 · pack 5", 14);
    for (const Condition condition : {Condition::rest, Condition::end_of_charge, Condition::load})
        for (int g = 1; g <= 14; ++g) {
            RoundConditions conditions;
            conditions.load_a = 2;
            REQUIRE(w.shop().triage().record_group_reading(
                id, g, g == 7 ? 3.4 : 3.70 + 0.001 * (g % 5) - (condition == Condition::load ? 0.08 : 0), condition,
                "meter", conditions));
        }
    QElapsedTimer clock;
    clock.start();
    const auto now = w.window.view(Station::triage)->evidence();
    CHECK(clock.elapsed() < 100);
    REQUIRE(w.wait_for([&] { return w.shop().triage().explained_at_hand(id); }));
    w.settle();
    CHECK_FALSE(bars(w).isEmpty());
    CHECK(w.shop().triage().explained(id).explanations.front().groups == std::vector<int>{7});
}

TEST_CASE("Donors: the plan, the wrong pack refused, each move by a scan") {
    Window w;
    std::vector<Id> packs;
    for (const char* label : {"LAN-90 · pack 1", "LAN-90 · pack 2"})
        packs.push_back(pack_at_triage(w, label, 9));
    for (int g = 1; g <= 9; ++g) {
        REQUIRE(w.shop().triage().record_group_reading(packs[0], g, g == 4 ? 0.4 : 3.70, Condition::rest, "meter"));
        REQUIRE(w.shop().triage().record_group_reading(packs[1], g, g == 6 || g == 7 ? 1.1 : 3.71, Condition::rest,
                                                       "meter"));
    }
    w.settle();
    for (int g = 1; g <= 9; ++g) {
        REQUIRE(w.shop().triage().note_group_capacity(packs[0], g, 6.0));
        REQUIRE(w.shop().triage().note_group_capacity(packs[1], g, 5.4));
    }
    w.key(Qt::Key_F9);
    REQUIRE(w.window.current_view() == w.window.view(app::Room::donors));
    auto* said = w.find<QLabel>("donors_summary");
    auto* tolerance = w.find<QLineEdit>("donors_tolerance");
    const auto planned = [&](const QString& per_cent) {
        tolerance->setText(per_cent);
        emit tolerance->editingFinished();
        REQUIRE(w.wait_for([&] { return !said->text().contains(QStringLiteral("Planning")); }));
        return said->text();
    };
    const QString summary = planned({});
    CHECK(summary.contains(QStringLiteral("1 of 2 packs can live, 1 group moves")));
    // The donor's groups hold too little beside the others: nothing fits within 5 %.
    CHECK(planned(QStringLiteral("5")).contains(QStringLiteral("0 of 2 packs can live")));
    CHECK(planned(QStringLiteral("much")).contains(QStringLiteral("\"much\" is not a figure")));
    CHECK(planned(QStringLiteral("20")) == summary);
    auto* moves = w.find<QTableWidget>("donors_moves");
    REQUIRE(moves->rowCount() == 1);
    CHECK(moves->item(0, 4)->text().contains(QStringLiteral("3.71")));
    CHECK(moves->item(0, 5)->text().contains(QStringLiteral("5.4")));
    const auto* step = w.find<QLabel>("donors_step");
    w.window.take_line(QStringLiteral("LAN-90 · pack 1"));
    CHECK(step->text().contains(QStringLiteral("Nothing was recorded")));
    CHECK(w.window.current_view() == w.window.view(app::Room::donors)); // a wrong scan does not lead away
    w.window.take_line(QStringLiteral("LAN-90 · pack 2"));
    CHECK(step->text().contains(QStringLiteral("All moves are done")));
    w.press(QStringLiteral("Left-over packs to Open"));
    CHECK(w.window.told().contains(QStringLiteral("1 pack went to Open")));
    CHECK(w.shop().pack(packs[1])->state == AssemblyState::to_open);
    CHECK(w.shop().pack(packs[0])->state == AssemblyState::in_triage);
    w.key(Qt::Key_Escape);
    CHECK(w.window.current_view() == w.window.view(Station::triage));
    CHECK(w.shop().triage().group_readings(packs[0], Condition::rest).at(4) == Approx(3.71));
    CHECK(w.shop().triage().explained(packs[0]).explanations.front().fault == Fault::healthy);
}

TEST_CASE("N26: an unlike pack gives its groups, a host is forbidden or wanted first, a further pack is forecast") {
    Window w;
    w.go(Station::triage);
    std::vector<Id> packs;
    for (const char* label : {"LAN-91 · pack 1", "LAN-91 · pack 2"})
        packs.push_back(pack_at_triage(w, label, 7));
    const Id other = pack_at_triage(w, "LAN-91 · pack 3", 5); // of another layout
    for (int g = 1; g <= 7; ++g) {
        REQUIRE(w.shop().triage().record_group_reading(packs[0], g, g == 4 ? 0.4 : 3.70, Condition::rest, "meter"));
        REQUIRE(w.shop().triage().record_group_reading(packs[1], g, g == 6 ? 1.1 : 3.71, Condition::rest, "meter"));
    }
    for (int g = 1; g <= 5; ++g)
        REQUIRE(w.shop().triage().record_group_reading(other, g, g == 2 ? 0.3 : 3.70, Condition::rest, "meter"));
    REQUIRE(w.shop().receive().note_particulars(other, 0, {{ParticularKind::age, "4 years"}}));
    w.window.go_to(app::Room::donors, packs[0]);
    w.settle();
    auto* said = w.find<QLabel>("donors_summary");
    auto* moves = w.find<QTableWidget>("donors_moves");
    const auto done = [&] { return w.wait_for([&] { return !said->text().contains(QStringLiteral("Planning")); }); };
    REQUIRE(done());
    CHECK(said->text().contains(QStringLiteral("1 of 2 packs can live, 1 group moves")));
    CHECK(said->text().contains(QStringLiteral("A further one brings")));
    // With the other layout's groups both live; what it is stands beside each move.
    w.find<QCheckBox>("donors_unlike")->click();
    REQUIRE(done());
    CHECK(said->text().contains(QStringLiteral("2 of 3 packs can live, 2 groups move")));
    REQUIRE(moves->rowCount() == 2);
    for (int row = 0; row < 2; ++row) {
        CHECK(moves->item(row, 2)->text() == QStringLiteral("LAN-91 · pack 3"));
        CHECK(moves->item(row, 6)->text().contains(QStringLiteral("5S")));
        CHECK(moves->item(row, 6)->text().contains(QStringLiteral("4 years")));
        CHECK(moves->item(row, 0)->text() != QStringLiteral("LAN-91 · pack 3")); // it is no host
    }
    // One of them has a dead board: its groups go into the other, or stay.
    w.find<QCheckBox>("donors_unlike")->click();
    REQUIRE(done());
    REQUIRE(moves->rowCount() == 1);
    const QString host = moves->item(0, 0)->text();
    moves->setCurrentCell(0, 0);
    w.command(QStringLiteral("Not into this pack"));
    REQUIRE(done());
    CHECK(said->text().contains(QStringLiteral("Not rebuilt: ") + host));
    REQUIRE(moves->rowCount() == 1);
    const QString second = moves->item(0, 0)->text();
    CHECK(second != host);
    moves->setCurrentCell(0, 0);
    w.command(QStringLiteral("This pack is rebuilt first"));
    REQUIRE(done());
    CHECK(said->text().contains(QStringLiteral("First: ") + second));
    CHECK(moves->item(0, 0)->text() == second);
}

TEST_CASE("Receive: the same again, and the voltage as it comes in") {
    Window w;
    w.go(Station::receive);
    const auto before = w.shop().packs().size();
    auto* intake = w.find<QLineEdit>("pack_intake");
    intake->setFocus();
    QTest::keyClicks(intake, QStringLiteral("25,1"));
    QTest::keyClick(intake, Qt::Key_Return);
    w.settle();
    REQUIRE(w.shop().packs().size() == before + 1);
    const Assembly first = w.shop().packs().back();
    CHECK(w.shop().triage().group_readings(first.id, Condition::rest).at(0) == Approx(25.1));
    CHECK(intake->text().isEmpty());
    w.key(Qt::Key_F4);
    REQUIRE(w.shop().packs().size() == before + 2);
    const Assembly second = w.shop().packs().back();
    CHECK(second.label != first.label);
    CHECK(second.layout == first.layout);
    CHECK(second.chemistry == first.chemistry);
    CHECK(w.shop().triage().group_readings(second.id, Condition::rest).empty());
    // Over 60 V: no reading before the gate.
    w.find<QSpinBox>("pack_series")->setValue(20);
    QTest::keyClicks(intake, QStringLiteral("74"));
    QTest::keyClick(intake, Qt::Key_Return);
    w.settle();
    CHECK(w.window.told().contains(QStringLiteral("gate")));
    CHECK(w.shop().packs().size() == before + 2);
}

TEST_CASE("N8: worth it? asks what is wanted, moves with every route's own figures, remembers and learns") {
    Window w;
    w.go(Station::receive);
    const Assembly* known = nullptr; // a pack whose label says what it holds
    for (const Assembly& pack : w.shop().packs())
        if (known == nullptr && w.shop().receive().worth_case(pack.id, w.shop().triage()).pack.unit_wh > 0 &&
            pack.state == AssemblyState::received)
            known = &pack;
    REQUIRE(known != nullptr);
    const Id pack = known->id;
    w.window.go_to(app::Room::worth, pack);
    w.settle();
    REQUIRE(w.window.current_view() == w.window.view(app::Room::worth));
    const auto* words = w.find<QLabel>("worth_words");
    auto* routes = w.window.current_view()->findChild<app::RoutesView*>();
    const auto type = [&](const char* field, const QString& text) {
        auto* edit = w.find<QLineEdit>(field);
        REQUIRE(edit->isVisible());
        edit->setText(text);
        QTest::keyClick(edit, Qt::Key_Return);
    };
    auto* pages = w.window.current_view()->findChild<app::ChoiceRow*>(QStringLiteral("worth_pages"));
    const auto page = [&](int index) { QTest::mouseClick(pages->button(index), Qt::LeftButton); };
    type("worth_replace", QStringLiteral("2"));
    CHECK(words->text().contains(QStringLiteral("wins")));
    // The keys choose a route; its own figures stand beside it and no other's.
    routes->setFocus();
    for (int i = 0; i < 14 && routes->chosen() != WorthRoute::buy_new; ++i)
        QTest::keyClick(routes, Qt::Key_Down);
    for (int i = 0; i < 14 && routes->chosen() != WorthRoute::buy_new; ++i)
        QTest::keyClick(routes, Qt::Key_Up);
    REQUIRE(routes->chosen() == WorthRoute::buy_new);
    CHECK(w.find<QLabel>("worth_route")->text() == QStringLiteral("Buy new"));
    CHECK_FALSE(w.find<QLineEdit>("route_units")->isVisible());
    type("route_price", QStringLiteral("1"));
    CHECK(words->text().startsWith(QStringLiteral("Buy new wins")));
    CHECK(words->text().contains(QStringLiteral("stays first as long as")));
    // It is as likely to work as it is said to be.
    type("route_chance", QStringLiteral("1"));
    CHECK_FALSE(words->text().startsWith(QStringLiteral("Buy new wins")));
    CHECK(words->text().contains(QStringLiteral("Buy new wins if")));
    type("route_chance", QStringLiteral("99"));
    // A missing charger burdens it.
    const auto cost = [&] {
        for (const RouteFigures& f : routes->rows())
            if (f.route == WorthRoute::buy_new)
                return f.cost;
        return 0.0;
    };
    const double before = cost();
    page(0);
    auto* charger = w.find<QComboBox>("worth_charger_there");
    charger->setCurrentIndex(2);
    CHECK(cost() == Approx(before + w.find<QLineEdit>("worth_charger")->text().toDouble()));
    charger->setCurrentIndex(0);
    CHECK(cost() == Approx(before));
    page(1);
    type("worth_hour", QStringLiteral("lots"));
    CHECK(words->text().contains(QStringLiteral("not a number")));
    type("worth_hour", QStringLiteral("31,5"));
    w.press(QStringLiteral("Remember these"));
    const WorthCase kept = w.shop().receive().worth_case(pack, w.shop().triage());
    CHECK(kept.prices.hour == Approx(31.5));
    CHECK(kept.of(WorthRoute::buy_new).price == 1);
    // Without the Wh of a unit nothing is weighed, and nothing of before stands there.
    page(0);
    const QString unit_wh = w.find<QLineEdit>("worth_unit_wh")->text();
    type("worth_unit_wh", QString());
    CHECK(words->text().contains(QStringLiteral("more than nothing")));
    CHECK(routes->rows().empty());
    type("worth_unit_wh", unit_wh);
    CHECK_FALSE(routes->parts().empty());
    // Stock is wanted: other routes, and what a unit costs.
    auto* aim = w.window.current_view()->findChild<app::ChoiceRow*>(QStringLiteral("worth_aim"));
    QTest::mouseClick(aim->button(1), Qt::LeftButton);
    for (const RouteFigures& f : routes->rows())
        CHECK_FALSE(gives_device(f.route));
    CHECK(words->text().contains(QStringLiteral("taken out costs")));
    QTest::mouseClick(aim->button(0), Qt::LeftButton);
    // Three jobs teach the hours of a route.
    while (routes->chosen() != WorthRoute::buy_new)
        routes->choose(WorthRoute::buy_new);
    for (int i = 0; i < 3; ++i) {
        Window::answer_line(QStringLiteral("1.2"));
        w.window.activateWindow();
        w.command(QStringLiteral("It took"));
    }
    REQUIRE(w.shop().receive().jobs_done().size() >= 3);
    CHECK(words->text().contains(QStringLiteral("your jobs took")));
    w.command(QStringLiteral("Take over what your jobs took"));
    CHECK(w.find<QLineEdit>("route_hours")->text().toDouble() == Approx(1.2).margin(0.05));
    w.window.activateWindow();
    w.settle();
    w.key(Qt::Key_Escape);
    CHECK(w.window.current_view() != w.window.view(app::Room::worth));
}

TEST_CASE("K11: worth it? opens at once and takes over what the readings say when they are explained") {
    Window w;
    const auto replace = [&] { return w.find<QLineEdit>("worth_replace")->text().toInt(); };
    int changed = 0;
    for (const Assembly& pack : w.shop().packs()) {
        const auto& triage = w.shop().triage();
        if (triage.explained_at_hand(pack.id) || triage.triage_case(pack.id).readings.empty())
            continue;
        w.window.go_to(app::Room::worth, pack.id);
        const int guess = replace();
        CHECK_FALSE(triage.explained_at_hand(pack.id)); // not on the window's thread
        REQUIRE(w.wait_for([&] { return triage.explained_at_hand(pack.id); }));
        w.settle();
        CHECK(replace() == w.shop().receive().worth_case(pack.id, triage).pack.units_to_replace);
        changed += replace() != guess ? 1 : 0;
        if (changed > 0)
            break;
    }
    CHECK(changed == 1); // a pack that readings say more of than the guess was among them
}

TEST_CASE("Open: steps ticked, units looked over by single keys, trays filled by scanning, the manifest written") {
    Window w;
    w.go(Station::open);
    const Id pack = w.find<QComboBox>("open_pack")->currentData().toLongLong();
    const exchange::TeardownPlan* plan = w.shop().open().teardown_plan(*w.shop().pack(pack));
    REQUIRE(plan != nullptr);
    auto* step = w.window.findChild<QCheckBox*>(QStringLiteral("step_") + QString::fromStdString(plan->steps[0].id));
    REQUIRE(step != nullptr);
    QTest::keyClick(step, Qt::Key_Space);
    w.settle();
    CHECK(w.shop().open().step_done(pack, plan->steps[0].id));
    w.key(Qt::Key_Return, Qt::ControlModifier); // makes its units
    std::vector<Id> units;
    for (const UnitState& unit : w.shop().units())
        if (unit.record.pack == pack)
            units.push_back(unit.record.id);
    REQUIRE(units.size() >= 3);
    w.key(Qt::Key_F6);
    REQUIRE(w.window.current_view() == w.window.view(app::Room::units));
    const auto* words = w.find<QLabel>("units_words");
    const auto is_recycled = [&](std::size_t i) {
        return w.shop().unit(units[i])->record.whereabouts == Whereabouts::recycled;
    };
    w.key(Qt::Key_D); // the first is dead
    CHECK(is_recycled(0));
    w.key(Qt::Key_D); // N30: no, it is not
    CHECK_FALSE(is_recycled(0));
    w.key(Qt::Key_Z, Qt::ControlModifier); // yes, it is
    CHECK(is_recycled(0));
    w.key(Qt::Key_Right);
    w.key(Qt::Key_S); // the second is swollen
    CHECK(words->text().contains(QStringLiteral("Swollen")));
    CHECK(w.shop().unit(units[1])->quarantined);
    w.key(Qt::Key_Q); // no such finding
    CHECK(words->text().contains(QStringLiteral("Nothing was recorded")));
    w.key(Qt::Key_D); // and goes, too, as damaged
    CHECK(is_recycled(1));
    w.key(Qt::Key_Right);
    w.press(QStringLiteral("R   Rusted")); // by the cap, and by its letter back again
    CHECK(w.shop().unit(units[2])->findings.size() == 1);
    w.key(Qt::Key_R);
    CHECK(w.shop().unit(units[2])->findings.empty());
    // Its label again, at the sixth place of a sheet that was begun.
    const auto* page = qobject_cast<app::UnitsPage*>(w.window.current_view());
    CHECK(const_cast<app::UnitsPage*>(page)->print_label_to(QString::fromStdString(w.file("one.pdf")), 6));
    REQUIRE(std::system(("pdftotext -layout " + w.file("one.pdf") + " " + w.file("one.txt")).c_str()) == 0);
    const std::string label = Temporary::read(w.file("one.txt"));
    CHECK(label.find(w.shop().unit(units[2])->code()) != std::string::npos);
    CHECK(label.find(w.shop().unit(units[1])->code()) == std::string::npos);
    const auto manifest = w.shop().open().recycling_manifest();
    int damaged = 0;
    int intact = 0;
    for (const ManifestLine& line : manifest)
        (line.damaged ? damaged : intact) += line.units;
    CHECK(damaged == 1);
    CHECK(intact >= 1);
    CHECK(w.view<app::OpenStation>(Station::open)->write_manifest_to(QString::fromStdString(w.file("out.pdf"))));
    const std::string csv = Temporary::read(w.file("out.csv"));
    CHECK(csv.find("Chemistry,Condition,Count") == 0);
    CHECK(csv.find("damaged,1,") != std::string::npos);
    REQUIRE(std::system(("pdftotext " + w.file("out.pdf") + " " + w.file("out.txt")).c_str()) == 0);
    CHECK(Temporary::read(w.file("out.txt")).find("damaged, apart") != std::string::npos);

    const QString code = QString::fromStdString(w.shop().unit(units[2])->code());
    w.key(Qt::Key_F7);
    REQUIRE(w.window.current_view() == w.window.view(app::Room::trays));
    w.scan(QStringLiteral("Z9"));
    w.scan(code);
    CHECK(w.find<QLabel>("tray_words")->text().contains(QStringLiteral("Well 1 of tray Z9")));
    auto* across = w.find<QLineEdit>("tray_columns");
    across->setText(QStringLiteral("6"));
    QTest::keyClick(across, Qt::Key_Return);
    CHECK(w.shop().unit(units[2])->record.tray == "Z9");
    CHECK(w.shop().unit(units[2])->record.well == 1);
    CHECK(w.shop().open().tray("Z9").columns == 6);
    w.key(Qt::Key_Z, Qt::ControlModifier); // the size
    w.key(Qt::Key_Z, Qt::ControlModifier); // the home
    CHECK(w.shop().open().tray("Z9").columns == 10);
    CHECK(w.shop().unit(units[2])->record.tray != "Z9");
}

TEST_CASE("Open: the strips are drawn with the keyboard and kept") {
    Window w;
    w.go(Station::open);
    const Id pack = w.find<QComboBox>("open_pack")->currentData().toLongLong();
    w.key(Qt::Key_F8);
    REQUIRE(w.window.current_view() == w.window.view(app::Room::strips));
    w.key(Qt::Key_Space); // group 1 ...
    w.key(Qt::Key_Right);
    w.key(Qt::Key_Space); // ... to 2: the usual strip goes
    w.key(Qt::Key_F);
    CHECK(w.find<QLabel>("strip_words")->text().contains(QStringLiteral("No strip yet from group 1 to 2")));
    CHECK(w.shop().open().strips_drawn(pack));
    CHECK(w.shop().open().strip_drawing(pack).gaps(7) == std::vector<int>{1});
    CHECK(w.shop().open().strip_drawing(pack).free_to_slide == StripDrawing::Face::back);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().open().strip_drawing(pack).free_to_slide == StripDrawing::Face::front);
}

TEST_CASE("K38: a photo that was attached is looked at, beside the strips and beside the units") {
    Window w;
    w.go(Station::open);
    const Id pack = w.find<QComboBox>("open_pack")->currentData().toLongLong();
    QImage made(3200, 2400, QImage::Format_RGB32);
    made.fill(Qt::darkGreen);
    const QString file = QString::fromStdString(w.file("strips.jpg"));
    REQUIRE(made.save(file));
    REQUIRE(w.shop().open().attach_photo(pack, file.toStdString(), Temporary::read(file.toStdString())).ok());
    REQUIRE(w.shop().open().attach_photo(pack, "torn.jpg", Temporary::read(file.toStdString()).substr(0, 400)).ok());
    for (const app::Room room : {app::Room::strips, app::Room::units}) {
        w.window.go_to(room, pack);
        auto* photos = w.window.current_view()->findChild<app::PhotoView*>();
        const auto* words = photos->findChild<QLabel*>(QStringLiteral("photo_words"));
        REQUIRE(w.wait_for([&] { return words->text().contains(QStringLiteral("cannot be shown")); })); // the torn one
        photos->show_photo(0);
        REQUIRE(w.wait_for([&] { return !photos->picture().isNull(); }));
        CHECK(photos->picture().width() == 1600); // no larger than a screen
        CHECK(words->text().contains(QStringLiteral("strips.jpg")));
        CHECK(photos->picture().pixelColor(800, 600).green() > 80);
    }
}

TEST_CASE("Units: a label that is scanned chooses its unit there, and a scanner's letters note nothing") {
    Window w;
    w.go(Station::open);
    const Id pack = w.find<QComboBox>("open_pack")->currentData().toLongLong();
    w.key(Qt::Key_Return, Qt::ControlModifier);
    w.key(Qt::Key_F6);
    std::vector<Id> units;
    for (const UnitState& unit : w.shop().units())
        if (unit.record.pack == pack)
            units.push_back(unit.record.id);
    auto* picture = w.find<app::TrayPicture>("units_picture");
    CHECK(picture->hasFocus());
    w.window.scan_sense()->set_fastest_key_ms(2000); // all that follows is fast
    w.scan(QString::fromStdString(w.shop().unit(units[4])->code()));
    CHECK(picture->chosen() == 4);
    for (const Id id : units) {
        CHECK(w.shop().unit(id)->findings.empty());
        CHECK(w.shop().unit(id)->in_stock());
    }
    // A letter alone is a person's, as soon as nothing follows it.
    w.window.scan_sense()->set_fastest_key_ms(30);
    w.key(Qt::Key_D);
    REQUIRE(w.wait_for([&] { return !w.shop().unit(units[4])->in_stock(); }, 2000));
}

TEST_CASE("N21: the resistor and the supply at hand are said once, both may stay unknown") {
    Window w;
    w.go(Station::triage);
    const auto fill = [](const QString& ohm, const QString& amperes, QString* objected = nullptr) {
        Window::answer([=](QWidget* dialog) {
            auto* box = qobject_cast<app::QuestionBox*>(dialog);
            REQUIRE(box != nullptr);
            box->findChild<QLineEdit*>(QStringLiteral("balance_ohm"))->setText(ohm);
            box->findChild<QLineEdit*>(QStringLiteral("balance_a"))->setText(amperes);
            box->accept();
            if (box->isVisible()) {
                if (objected != nullptr)
                    *objected = box->findChild<QLabel*>(QStringLiteral("objection"))->text();
                box->reject();
            }
        });
    };
    CHECK_FALSE(w.shop().triage().balance_gear().resistor_ohm);
    fill(QStringLiteral("6,8"), QString());
    w.command(QStringLiteral("Resistor and supply"));
    CHECK(*w.shop().triage().balance_gear().resistor_ohm == Approx(6.8));
    CHECK_FALSE(w.shop().triage().balance_gear().supply_a);
    QString objected;
    fill(QStringLiteral("-1"), QStringLiteral("0.5"), &objected);
    w.command(QStringLiteral("Resistor and supply"));
    CHECK_FALSE(objected.isEmpty());
    CHECK(*w.shop().triage().balance_gear().resistor_ohm == Approx(6.8)); // nothing was half kept
    CHECK_FALSE(w.shop().triage().balance_gear().supply_a);
}
