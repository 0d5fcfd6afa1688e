// Whole jobs, walked from the rack to their end in the real window, as somebody would who has the thing in hand.
#include "window.h"

#include "app/parts/voltage_ladder.h"
#include "app/stations/open/open_station.h"
#include "app/stations/rest/rest_station.h"
#include "app/stations/triage/triage_station.h"
#include "workshop/bay_rules.h"

#include <QAbstractButton>
#include <QComboBox>
#include <QFileDialog>
#include <QLineEdit>
#include <QSpinBox>
#include <QTableView>
#include <QTableWidget>

#include <map>

using namespace ingot;
using namespace ingot::tests;

namespace {

// A shop of its own, with one lot.
struct JobWindow : Window {
    Temporary folder;
    JobWindow() : Window(make()) { go(Station::receive); }
    // Types a pack at Receive and takes it in.
    Id receive(const char* label, const char* chemistry, PackLayout layout, const char* ah = "",
               const char* volts = "") {
        find<QLineEdit>("pack_label")->setText(QString::fromLatin1(label));
        auto* kinds = find<QComboBox>("pack_chemistry");
        kinds->setCurrentIndex(kinds->findData(QString::fromLatin1(chemistry)));
        find<QSpinBox>("pack_series")->setValue(layout.series);
        find<QSpinBox>("pack_parallel")->setValue(layout.parallel);
        find<QSpinBox>("pack_cells")->setValue(layout.cells_per_unit);
        find<QSpinBox>("pack_units_per_tap")->setValue(layout.units_per_tap);
        find<QLineEdit>("pack_capacity")->setText(QString::fromLatin1(ah));
        find<QLineEdit>("pack_voltage")->setText(QString::fromLatin1(volts));
        const std::size_t before = shop().packs().size();
        key(Qt::Key_Return, Qt::ControlModifier);
        REQUIRE(shop().packs().size() == before + 1);
        return shop().packs().back().id;
    }
    void send_to_triage() {
        key(Qt::Key_T, Qt::ControlModifier);
        go(Station::triage);
    }
    void round(Qt::Key begin, const QStringList& volts) {
        key(begin);
        for (const QString& v : volts)
            scan(v);
    }
    // Answers a question with a line and triggers the command.
    void ask(const QString& command_words, const QString& text) {
        answer_line(text);
        window.activateWindow();
        command(command_words);
        window.activateWindow();
        settle();
    }
    void choose_file(const QString& command_words, const std::string& path) {
        Window::answer_file(path);
        window.activateWindow();
        command(command_words);
        window.activateWindow();
        settle();
    }
    [[nodiscard]] const Explanation& first(Id pack) {
        settle();
        return shop().triage().explained(pack).explanations.front();
    }

private:
    static std::string make() {
        static const Temporary empty;
        static int made = 0;
        const std::string path = empty.file("job-" + std::to_string(++made) + ".ingot");
        REQUIRE(Workshop::create(path, "Fellside bench").ok());
        return path;
    }
};

} // namespace

TEST_CASE(
    "Job: a device's snapshot of 17 blocks before the gate, then the bench's readings of its 34 modules (N9, N18)") {
    JobWindow w;
    const Id pack = w.receive("buoy row", "nimh", {17, 1, 6, 2}, "6.5", "244.8");
    CHECK(w.shop().pack(pack)->layout.units() == 34);
    CHECK(w.shop().receive().gate_closed(*w.shop().pack(pack)));
    // The device says its blocks while the pack is in it and live: block 6 lacks a cell's worth.
    std::string heads = "Time";
    std::string row = "0";
    for (int block = 1; block <= 17; ++block) {
        heads += ",Block " + std::to_string(block) + " / V";
        row += block == 6 ? ",14.62" : ",15.9" + std::to_string(block % 4);
    }
    const std::string path = w.folder.write("snapshot.csv", heads + "\n" + row + "\n");
    w.choose_file(QStringLiteral("The device's own readings"), path);
    CHECK(w.shop().triage().group_readings(pack, Condition::rest).size() == 17);
    CHECK(w.shop().receive().gate_closed(*w.shop().pack(pack))); // data came in, no hand did
    CHECK(w.first(pack).fault == Fault::dead_group);
    CHECK(w.first(pack).groups == std::vector<int>{6});
    // Hands wait for the gate: until it is passed the pack stays at Receive.
    w.send_to_triage();
    CHECK(w.shop().pack(pack)->state == AssemblyState::received);
    w.go(Station::receive);
    w.window.take_line(QStringLiteral("buoy row"));
    QTest::mouseClick(w.find<QAbstractButton>("pass_gate"), Qt::LeftButton);
    w.settle();
    REQUIRE_FALSE(w.shop().receive().gate_closed(*w.shop().pack(pack)));
    w.send_to_triage();
    REQUIRE(w.shop().pack(pack)->state == AssemblyState::in_triage);
    // After it the bench reads each module of each block, without cutting anything.
    auto* ladder = w.window.findChildren<app::VoltageLadder*>().front();
    for (int block = 1; block <= 17; ++block) {
        ladder->set_selected(block);
        w.ask(QStringLiteral("Unit voltages of this group"),
              block == 6 ? QStringLiteral("7,96 6,68") : QStringLiteral("7.95 7.96"));
    }
    CHECK(w.shop().triage().triage_case(pack).units.size() == 34);
    // Both live on one picture, and the remedy names the module.
    bool both = false;
    for (const auto& part : ladder->parts())
        both |= part.value.contains(QStringLiteral("2 units read by themselves")) &&
                part.value.contains(QStringLiteral("14.62"));
    CHECK(both);
    REQUIRE(w.first(pack).groups == std::vector<int>{6});
    bool named = false;
    for (const Way& way : w.shop().triage().ways(pack))
        named |= way.way == WayForward::swap_unit && way.odd_units == std::vector<std::string>{"2"};
    CHECK(named);
    // Taken apart, its 34 modules have codes and places.
    w.key(Qt::Key_T, Qt::ControlModifier);
    w.go(Station::open);
    w.find<QComboBox>("open_model")->setCurrentText(QStringLiteral("G65M"));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    CHECK(w.shop().units().size() == 34);
}

TEST_CASE("Job: ten harvested 2P sticks of two makes stay welded pairs: one code each, counted by make (N10, N28)") {
    JobWindow w;
    std::vector<Id> packs;
    for (int n = 1; n <= 10; ++n) {
        const std::string label = "stick " + std::to_string(n);
        packs.push_back(w.receive(label.c_str(), "nmc", {2, 2, 1}, "5.0"));
    }
    // A label of what cannot be is not believed; all of one kind go to Open together, without a diagnosis each.
    w.command(QStringLiteral("All of its kind to Open"));
    for (const Id pack : packs)
        REQUIRE(w.shop().pack(pack)->state == AssemblyState::to_open);
    w.go(Station::open);
    auto* chosen = w.find<QComboBox>("open_model");
    for (int n = 0; n < 10; ++n) {
        // Seven are of one make, three of another.
        chosen->setCurrentText(n % 3 == 2 ? QStringLiteral("grey sleeve") : QStringLiteral("green sleeve"));
        const std::size_t before = w.shop().units().size();
        Window::answer([](QWidget* dialog) { // the name that is offered says that it is a pair
            auto* line = dialog->findChild<QLineEdit*>();
            REQUIRE(line != nullptr);
            CHECK(line->text().endsWith(QStringLiteral("× 2")));
            qobject_cast<QDialog*>(dialog)->accept();
        });
        w.window.activateWindow();
        w.command(QStringLiteral("Make its groups units"));
        REQUIRE(w.shop().units().size() == before + 2);
    }
    REQUIRE(w.shop().units().size() == 20);
    std::map<std::string, int> by_make;
    for (const UnitState& unit : w.shop().units()) {
        ++by_make[unit.record.model];
        CHECK(unit.record.place == 0);                 // a whole group
        CHECK(unit.reference.rated_ah == Approx(5.0)); // both cells of the pair, as the label has it
        CHECK(unit.reference.cells_in_series == 1);
    }
    REQUIRE(by_make.size() == 2);
    CHECK(by_make["green sleeve × 2"] == 14);
    CHECK(by_make["grey sleeve × 2"] == 6);
    // A pair is tested as one: what it gives is the pair's.
    w.window.activateWindow();
    w.settle();
    w.go(Station::test);
    const QString code = QString::fromStdString(w.shop().units().front().code());
    w.scan(code);
    w.key(Qt::Key_4, Qt::AltModifier);
    w.scan(QStringLiteral("4.31"));
    INFO(w.window.told().toStdString());
    CHECK(w.shop().units().front().facts.capacity_ah->value == Approx(4.31));
    CHECK(w.shop().units().front().verdict.duty == Duty::store);
}

TEST_CASE("Job: a pack dead all through is taken to break for units, and nothing is read into it (N11)") {
    JobWindow w;
    const Id pack = w.receive("lantern stick", "nmc", {4, 2, 1}, "5.2");
    w.send_to_triage();
    w.round(Qt::Key_F5, {QStringLiteral("0.62"), QStringLiteral("0.71"), QStringLiteral("0.55"), QStringLiteral("0.68"),
                         QStringLiteral("2.56")});
    CHECK(w.first(pack).fault == Fault::all_discharged);
    for (const Way& way : w.shop().triage().ways(pack)) {
        CHECK(way.way != WayForward::donor);
        CHECK_FALSE(way.donor);
    }
    // What is it worth as stock? The units cost more than they bring: the page says so, either way.
    w.window.go_to(app::Room::worth, pack);
    w.settle();
    CHECK(w.window.current_view() == w.window.view(app::Room::worth));
    w.key(Qt::Key_Escape);
    w.go(Station::triage);
    w.key(Qt::Key_T, Qt::ControlModifier);
    w.go(Station::open);
    w.find<QComboBox>("open_model")->setCurrentText(QStringLiteral("H26"));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(w.shop().units().size() == 8);
    CHECK(w.shop().pack(pack)->state == AssemblyState::opened);
    for (const UnitState& unit : w.shop().units())
        CHECK_FALSE(unit.facts.rest_voltage_v); // a group's volts are no unit's
}

TEST_CASE("Job: a one-cell device with a weak cell is judged by itself, against its label (N16)") {
    JobWindow w;
    const Id pack = w.receive("exit light", "nmc", {1, 1, 1}, "2.6", "3.6");
    w.send_to_triage();
    w.round(Qt::Key_F5, {QStringLiteral("4.11"), QStringLiteral("4.11")});
    w.key(Qt::Key_F7);
    auto* amperes = w.find<QLineEdit>("round_condition");
    if (amperes != nullptr && amperes->isVisible()) {
        amperes->setText(QStringLiteral("1"));
        emit amperes->editingFinished();
    }
    w.window.scan_field()->setFocus();
    w.scan(QStringLiteral("3.00"));
    // 1.1 V at 1 A is no healthy cell, though there is none beside it.
    CHECK(w.first(pack).fault != Fault::healthy);
    double healthy = 0;
    for (const Explanation& e : w.shop().triage().explained(pack).explanations)
        healthy += e.fault == Fault::healthy ? e.probability : 0;
    CHECK(healthy < 0.1);
}

TEST_CASE("Job: a group in the middle is taken out, the rest is kept, and the pack goes back into service (N27)") {
    JobWindow w;
    const Id pack = w.receive("repeater pack", "nmc", {6, 2, 1}, "5.2");
    w.send_to_triage();
    QStringList volts;
    for (int g = 1; g <= 6; ++g)
        volts << (g == 4 ? QStringLiteral("0.31") : QStringLiteral("3.70%1").arg(g));
    volts << QStringLiteral("18.83");
    w.round(Qt::Key_F5, volts);
    CHECK(w.first(pack).groups == std::vector<int>{4});
    w.key(Qt::Key_T, Qt::ControlModifier);
    w.go(Station::open);
    w.find<QComboBox>("open_model")->setCurrentText(QStringLiteral("H26"));
    QString objected;
    Window::answer_line(QStringLiteral("4 9"), &objected);
    w.window.activateWindow();
    w.command(QStringLiteral("Take out only some groups"));
    CHECK(objected.contains(QStringLiteral("1 to 6")));
    w.ask(QStringLiteral("Take out only some groups"), QStringLiteral("4"));
    REQUIRE(w.shop().units().size() == 2);
    CHECK(w.shop().pack(pack)->state == AssemblyState::under_repair);
    CHECK(w.shop().triage().groups_taken_out(pack) == std::vector<int>{4});
    // What stands in it is a pack under repair at Triage; it does not go on a bay while a group is missing.
    CHECK(may_run_on_no_bay(w.shop(), OnChannel::of_assembly(pack), w.shop().library().protocol("li-capacity")));
    // A group of a sister pack takes the place.
    w.go(Station::receive);
    const Id sister = w.receive("repeater pack 2", "nmc", {6, 2, 1}, "5.2");
    w.send_to_triage();
    w.window.take_line(QStringLiteral("repeater pack 2")); // the one under repair stands in the list, too
    w.settle();
    QStringList others;
    for (int g = 1; g <= 6; ++g)
        others << (g == 1 ? QStringLiteral("0.22") : QStringLiteral("3.70%1").arg(g));
    others << QStringLiteral("18.74");
    w.round(Qt::Key_F5, others);
    REQUIRE(w.shop().triage().move_group(sister, 3, pack, 4));
    CHECK(w.shop().triage().groups_taken_out(pack).empty());
    w.window.take_line(QStringLiteral("repeater pack")); // its label opens it
    w.settle();
    QStringList again;
    for (int g = 1; g <= 6; ++g)
        again << QStringLiteral("3.70%1").arg(g);
    again << QStringLiteral("22.221");
    w.round(Qt::Key_F5, again);
    INFO(code(w.first(pack).fault) << " " << w.window.told().toStdString());
    CHECK(w.first(pack).fault == Fault::healthy);
    w.command(QStringLiteral("Into service"));
    CHECK(w.shop().pack(pack)->state == AssemblyState::in_service);
}

TEST_CASE(
    "N5: a unit's age, mass and a note are typed at Test, stand in its Evidence, and are taken back by an empty line") {
    Window w;
    w.go(Station::test);
    const UnitState& unit = w.shop().units().front();
    const Id id = unit.record.id;
    w.scan(QString::fromStdString(unit.code()));
    const auto type = [&](const char* age, const char* mass, const char* note) {
        Window::answer([=](QWidget* dialog) {
            for (const auto& [name, text] : {std::pair{"age", age}, {"mass", mass}, {"note", note}}) {
                auto* line = dialog->findChild<QLineEdit*>(QString::fromLatin1(name));
                REQUIRE(line != nullptr);
                line->setText(QString::fromLatin1(text));
            }
            qobject_cast<QDialog*>(dialog)->accept();
        });
        w.window.activateWindow();
        w.command(QStringLiteral("Particulars of this unit"));
        w.settle();
    };
    type("3 years", "45,2 g", "from the wet corner");
    const auto known = w.shop().receive().particulars(0, id);
    CHECK(known.at(ParticularKind::mass) == "45,2 g");
    CHECK(*w.shop().unit(id)->facts.age_years == Approx(3).margin(0.1));
    CHECK(w.window.current_view()
              ->evidence()
              .notes.join(QLatin1Char(' '))
              .contains(QStringLiteral("from the wet corner")));
    type("", "45,2 g", "");
    CHECK(w.shop().receive().particulars(0, id).size() == 1);
    CHECK(w.shop().unit(id)->facts.age_years.value_or(0) != Approx(3).margin(0.01));
}

TEST_CASE("Job: two look-alike packs with one dead pair each, one board latched, are made into one") {
    JobWindow w;
    const Id first = w.receive("repeater A", "nmc", {5, 2, 1}, "5.2");
    const Id second = w.receive("repeater B", "nmc", {5, 2, 1}, "5.2");
    for (const Id pack : {first, second}) {
        w.go(Station::receive);
        w.window.take_line(QString::fromStdString(w.shop().pack(pack)->label));
        w.key(Qt::Key_T, Qt::ControlModifier);
        REQUIRE(w.shop().pack(pack)->state == AssemblyState::in_triage);
    }
    w.go(Station::triage);
    w.window.take_line(QStringLiteral("repeater A"));
    w.round(Qt::Key_F5, {QStringLiteral("3.701"), QStringLiteral("0.312"), QStringLiteral("3.702"),
                         QStringLiteral("3.700"), QStringLiteral("3.701"), QStringLiteral("15.11")});
    CHECK(w.first(first).fault == Fault::dead_group);
    CHECK(w.first(first).groups == std::vector<int>{2});
    // The other one gives nothing at its terminals, too: a dead pair, and a board that shut off.
    w.window.take_line(QStringLiteral("repeater B"));
    w.round(Qt::Key_F5, {QStringLiteral("3.698"), QStringLiteral("3.699"), QStringLiteral("3.697"),
                         QStringLiteral("0.402"), QStringLiteral("3.699"), QStringLiteral("0.02")});
    double latched = 0;
    double dead = 0;
    for (const Explanation& e : w.shop().triage().explained(second).explanations) {
        const auto has = [&](Fault fault) {
            return e.fault == fault ||
                   std::any_of(e.with.begin(), e.with.end(), [&](const auto& part) { return part.first == fault; });
        };
        latched += has(Fault::latched_board) ? e.probability : 0;
        dead += has(Fault::dead_group) ? e.probability : 0;
    }
    CHECK(dead > 0.5);
    INFO("latched " << latched << ", dead " << dead);
    CHECK(latched + dead > 0.9);
    // Its board makes it the donor: nothing is built into it.
    w.key(Qt::Key_F9);
    REQUIRE(w.window.current_view() == w.window.view(app::Room::donors));
    auto* said = w.find<QLabel>("donors_summary");
    auto* moves = w.find<QTableWidget>("donors_moves");
    const auto planned = [&] { return w.wait_for([&] { return !said->text().contains(QStringLiteral("Planning")); }); };
    REQUIRE(planned());
    CHECK(said->text().contains(QStringLiteral("1 of 2 packs can live, 1 group moves")));
    REQUIRE(moves->rowCount() == 1);
    if (moves->item(0, 0)->text() == QStringLiteral("repeater B")) {
        moves->setCurrentCell(0, 0);
        w.command(QStringLiteral("Not into this pack"));
        REQUIRE(planned());
    }
    REQUIRE(moves->rowCount() == 1);
    CHECK(moves->item(0, 0)->text() == QStringLiteral("repeater A"));
    w.window.take_line(QStringLiteral("repeater B")); // the pack that the group comes out of
    CHECK(w.find<QLabel>("donors_step")->text().contains(QStringLiteral("All moves are done")));
    w.press(QStringLiteral("Left-over packs to Open"));
    w.key(Qt::Key_Escape);
    CHECK(w.shop().pack(second)->state == AssemblyState::to_open);
    CHECK(w.first(first).fault == Fault::healthy);
    // What is left of the donor: three good groups and its dead one; the moved group makes no units here.
    w.go(Station::open);
    w.find<QComboBox>("open_model")->setCurrentText(QStringLiteral("H26"));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    std::vector<Id> of_donor;
    for (const UnitState& unit : w.shop().units())
        if (unit.record.pack == second)
            of_donor.push_back(unit.record.id);
    CHECK(of_donor.size() == 8);
    // The dead pair goes to recycling, and the yield of the lot says so.
    int recycled = 0;
    for (const UnitState& unit : w.shop().units())
        if (unit.record.pack == second && unit.record.group == 4) {
            REQUIRE(w.shop().open().recycle_unit(unit.record.id));
            ++recycled;
        }
    CHECK(recycled == 2);
    const auto open = std::count_if(w.shop().units().begin(), w.shop().units().end(), [](const UnitState& unit) {
        return unit.record.whereabouts != Whereabouts::recycled;
    });
    CHECK(open == 6);
}

TEST_CASE(
    "Job: a row of 28 modules, three dead, read to 0.1 V, is filled with modules that were bought loose (N4, N12)") {
    JobWindow w;
    const Id row = w.receive("buoy row", "nimh", {28, 1, 6}, "6.5");
    w.window.take_line(QStringLiteral("buoy row"));
    if (auto* gate = w.find<QAbstractButton>("pass_gate"); gate != nullptr && gate->isVisible()) {
        QTest::mouseClick(gate, Qt::LeftButton);
        w.settle();
    }
    w.send_to_triage();
    REQUIRE(w.shop().pack(row)->state == AssemblyState::in_triage);
    QStringList volts;
    const std::vector<int> dead{5, 12, 20};
    for (int g = 1; g <= 28; ++g)
        volts << (std::find(dead.begin(), dead.end(), g) != dead.end() ? QStringLiteral("6.6")
                  : g % 3 == 0                                         ? QStringLiteral("7.9")
                                                                       : QStringLiteral("8.0"));
    w.round(Qt::Key_F5, volts);
    CHECK(w.first(row).fault == Fault::dead_group);
    CHECK(w.first(row).groups == dead);
    // The three come out, the row stays a pack under repair.
    w.key(Qt::Key_T, Qt::ControlModifier);
    w.go(Station::open);
    w.find<QComboBox>("open_model")->setCurrentText(QStringLiteral("G65M"));
    w.ask(QStringLiteral("Take out only some groups"), QStringLiteral("5 12 20"));
    REQUIRE(w.shop().units().size() == 3);
    CHECK(w.shop().triage().groups_taken_out(row) == dead);
    for (const Id unit : {w.shop().units()[0].record.id, w.shop().units()[1].record.id, w.shop().units()[2].record.id})
        REQUIRE(w.shop().open().recycle_unit(unit));
    // Four modules bought loose, each with its code; measured at the bench.
    w.go(Station::receive);
    Window::answer([](QWidget* dialog) {
        dialog->findChild<QComboBox*>(QStringLiteral("loose_model"))->setCurrentText(QStringLiteral("G65M"));
        auto* chemistry = dialog->findChild<QComboBox*>(QStringLiteral("loose_chemistry"));
        chemistry->setCurrentIndex(chemistry->findData(QStringLiteral("nimh")));
        dialog->findChild<QLineEdit*>(QStringLiteral("loose_count"))->setText(QStringLiteral("4"));
        dialog->findChild<QLineEdit*>(QStringLiteral("loose_cells"))->setText(QStringLiteral("6"));
        qobject_cast<QDialog*>(dialog)->accept();
    });
    w.window.activateWindow();
    w.command(QString::fromUtf8("Loose units…"));
    std::vector<Id> bought;
    for (const UnitState& unit : w.shop().units())
        if (unit.record.pack != row)
            bought.push_back(unit.record.id);
    INFO(w.window.told().toStdString());
    REQUIRE(bought.size() == 4);
    w.window.activateWindow();
    w.settle();
    w.go(Station::test);
    for (std::size_t i = 0; i < bought.size(); ++i) {
        w.scan(QString::fromStdString(w.shop().unit(bought[i])->code()));
        w.key(Qt::Key_1, Qt::AltModifier);
        w.scan(QStringLiteral("7.96"));
        w.key(Qt::Key_4, Qt::AltModifier);
        w.scan(i == 3 ? QStringLiteral("4.1") : QStringLiteral("6.0%1").arg(i));
        w.key(Qt::Key_2, Qt::AltModifier);
        w.scan(QStringLiteral("12.%1").arg(i));
    }
    for (const Id unit : bought)
        REQUIRE(w.shop().unit(unit)->facts.capacity_ah);
    // The row asks for new groups as one build: the three that hold most.
    REQUIRE(w.shop().build().refills().size() == 1);
    const Id build = w.shop().build().begin_refill(row).value();
    std::vector<std::vector<Id>> groups;
    for (std::size_t i = 0; i < 3; ++i)
        groups.push_back({bought[i]});
    const auto reserved = w.shop().match().reserve_for(build, 1, groups, std::nullopt, 0);
    INFO((reserved ? std::string() : reserved.problem().sentence.english()));
    REQUIRE(reserved);
    w.go(Station::build);
    for (const BuildLine& line : w.shop().build().sheet(build).lines)
        w.scan(QString::fromStdString(line.code));
    REQUIRE(w.shop().build_of(build)->state == AssemblyState::taken);
    while (const auto next = w.shop().build().next_item(build))
        REQUIRE(w.shop().build().tick(build, next->first, next->second));
    w.settle();
    w.command(QStringLiteral("Put into its pack"));
    INFO(w.window.told().toStdString());
    CHECK(w.shop().triage().groups_taken_out(row).empty());
    // Read through again it is sound, and goes back.
    w.go(Station::triage);
    w.window.take_line(QStringLiteral("buoy row"));
    w.settle();
    QStringList again; // all of it: what was read before the refill speaks of another row
    for (int g = 1; g <= 28; ++g)
        again << (g % 3 == 0 ? QStringLiteral("7.9") : QStringLiteral("8.0"));
    again << QStringLiteral("223.1");
    w.round(Qt::Key_F5, again);
    CHECK(w.first(row).fault == Fault::healthy);
    w.command(QStringLiteral("Into service"));
    CHECK(w.shop().pack(row)->state == AssemblyState::in_service);
}

TEST_CASE("Job: a pack drifts on the shelf; with its links cut the two leaking units among 60 are named") {
    JobWindow w;
    QDateTime now = QDateTime::fromString(QStringLiteral("2026-03-02T09:00:00Z"), Qt::ISODate);
    w.shop().set_clock([&now] {
        now = now.addMSecs(50);
        return now;
    });
    const Id pack = w.receive("mower 15S4P", "nmc", {15, 4, 1}, "10.4");
    w.window.take_line(QStringLiteral("mower 15S4P"));
    if (auto* gate = w.find<QAbstractButton>("pass_gate"); gate != nullptr && gate->isVisible()) {
        QTest::mouseClick(gate, Qt::LeftButton);
        w.settle();
    }
    w.send_to_triage();
    // Level when it was laid away, two groups low two weeks later.
    QStringList level;
    QStringList stored;
    for (int g = 1; g <= 15; ++g) {
        level << QStringLiteral("3.80%1").arg(g % 3);
        stored << (g == 4    ? QStringLiteral("3.742")
                   : g == 11 ? QStringLiteral("3.731")
                             : QStringLiteral("3.79%1").arg(g % 3 + 6));
    }
    w.round(Qt::Key_F5, level);
    now = now.addDays(14);
    REQUIRE(w.shop().pack(pack)->state == AssemblyState::in_triage);
    RoundConditions two_weeks;
    two_weeks.days = 14;
    for (int g = 1; g <= 15; ++g)
        REQUIRE(w.shop().triage().record_group_reading(pack, g, stored[g - 1].toDouble(), Condition::stored, "meter",
                                                       two_weeks));
    const Explanation& leak = w.first(pack);
    INFO(code(leak.fault));
    CHECK(leak.fault == Fault::leaking_cell);
    CHECK(leak.groups == std::vector<int>{4, 11});
    // The links are cut on one side, and all sixty units are read, day after day.
    auto* ladder = w.window.findChildren<app::VoltageLadder*>().front();
    w.go(Station::triage);
    for (int day = 0; day <= 12; day += 3) {
        for (int g = 1; g <= 15; ++g) {
            QStringList units;
            for (int place = 1; place <= 4; ++place) {
                const bool leaks = (g == 4 && place == 2) || (g == 11 && place == 3);
                const double v = (g == 4 ? 3.742 : g == 11 ? 3.731 : 3.796) - (leaks ? 0.004 : 0.0001) * day;
                units << QString::number(v, 'f', 3);
            }
            ladder->set_selected(g);
            w.ask(QStringLiteral("Unit voltages of this group"), units.join(QLatin1Char(' ')));
        }
        now = now.addDays(3);
    }
    w.go(Station::rest);
    const RestShelf shelf = RestService::judge(w.shop().rest().question());
    REQUIRE(shelf.lines.size() == 60);
    std::vector<std::pair<int, int>> leaking;
    for (const RestingLine& line : shelf.lines)
        if (line.leak.verdict == LeakVerdict::leaking)
            leaking.emplace_back(line.place.group, line.place.place);
    std::sort(leaking.begin(), leaking.end());
    CHECK(leaking == std::vector<std::pair<int, int>>{{4, 2}, {11, 3}});
    // The station names them first, by group and unit.
    REQUIRE(w.wait_for([&] { return !w.view<app::RestStation>(Station::rest)->judging(); }));
    auto* table = w.view<app::RestStation>(Station::rest)->findChild<QTableView*>();
    REQUIRE(table != nullptr);
    QStringList names;
    for (int r = 0; r < 2; ++r)
        names << table->model()->index(r, 0).data().toString();
    CHECK(names.join(QLatin1Char(' ')).contains(QStringLiteral("group 4, unit 2")));
    CHECK(names.join(QLatin1Char(' ')).contains(QStringLiteral("group 11, unit 3")));
}
