// Whole jobs of Build, walked from the device on the bench to the joined pack.
#include "shop.h"
#include "window.h"

#include "app/parts/build_lanes.h"
#include "app/parts/figure_boxes.h"
#include "app/parts/layout_picture.h"
#include "app/parts/module_row.h"
#include "app/parts/step_list.h"
#include "app/parts/window_bars.h"
#include "app/stations/build/build_station.h"
#include "app/stations/build/layout_view.h"
#include "app/stations/match/match_station.h"
#include "app/stations/match/several_view.h"
#include "app/stations/prove/prove_station.h"

#include "workshop/build_wording.h"

#include <QComboBox>
#include <QFileDialog>
#include <QLineEdit>

using namespace ingot;
using namespace ingot::tests;

namespace {

// A shop with so many measured units of one model, and a device to be built for.
struct BuildJob : Window {
    Temporary folder;
    Id id = 0;
    BuildJob(const PackLayout& stock, const char* chemistry, const char* model, double volts, double ah, double ohm)
        : Window(make(stock, chemistry, model, volts, ah, ohm)) {
        go(Station::build);
    }
    [[nodiscard]] app::BuildStation& build() { return *view<app::BuildStation>(Station::build); }
    void begin(const char* line) {
        answer_line(QString::fromLatin1(line));
        trigger("Begin");
        window.activateWindow();
        settle();
        id = build().build();
        REQUIRE(id != 0);
    }
    void trigger(const char* word) {
        for (QAction* action : build().commands())
            if (action->text().remove(QLatin1Char('&')).contains(QString::fromUtf8(word))) {
                INFO(word << " " << window.told().toStdString());
                REQUIRE(action->isEnabled());
                action->trigger();
                ready();
                return;
            }
        FAIL("no command " << word);
    }
    void ready() {
        REQUIRE(wait_for([&] { return !build().working(); }));
    }
    // Types a figure into its box at Need, and at Layout.
    void figure(DesignFigure figure, const char* typed) {
        type_into("need_boxes", app::BuildStation::View::need, figure, typed);
    }
    void layout_figure(DesignFigure figure, const char* typed) {
        const bool rim = figure == DesignFigure::cell_link_m || figure == DesignFigure::room_deep_m ||
                         figure == DesignFigure::raised_top_m || figure == DesignFigure::sleeve_m;
        type_into(rim ? "rim_boxes" : "layout_boxes", app::BuildStation::View::layout, figure, typed);
    }
    void type_into(const char* name_of_boxes, app::BuildStation::View view, DesignFigure figure, const char* typed) {
        build().show_view(view);
        ready();
        auto* boxes = find<app::FigureBoxes>(name_of_boxes);
        const QString name = wording::design_figure(figure);
        for (const auto& part : boxes->parts())
            if (part.name == name) {
                QTest::mouseClick(boxes, Qt::LeftButton, Qt::NoModifier, part.at.center().toPoint());
                window.scan_field()->setFocus();
                scan(QString::fromLatin1(typed));
                ready();
                CHECK(shop().build().design(id).knows(figure));
                return;
            }
        FAIL("no box " << name.toStdString());
    }
    void choose(const char* box, const char* data) {
        build().show_view(app::BuildStation::View::need);
        auto* combo = find<QComboBox>(box);
        const int row = combo->findData(QString::fromLatin1(data));
        REQUIRE(row >= 0);
        combo->setCurrentIndex(row);
        emit combo->activated(row);
        settle();
    }
    void write(const char* box, const char* words) {
        auto* line = find<QLineEdit>(box);
        line->setFocus();
        line->clear();
        QTest::keyClicks(line, QString::fromLatin1(words));
        QTest::keyClick(line, Qt::Key_Return);
        settle();
        window.scan_field()->setFocus();
    }
    void take_design(const char* chemistry, int series) {
        auto* bars = window.findChild<app::WindowBars*>();
        bars->setFocus();
        const auto there = [&] {
            return bars->chosen() != nullptr && bars->chosen()->chemistry == chemistry &&
                   bars->chosen()->series == series;
        };
        for (int i = 0; i < 60 && !there(); ++i)
            QTest::keyClick(bars, Qt::Key_Down);
        for (int i = 0; i < 60 && !there(); ++i)
            QTest::keyClick(bars, Qt::Key_Up);
        settle();
        REQUIRE(there());
        INFO("duty " << code(shop().units().front().verdict.duty) << ", fillings "
                     << shop().build().fillings(id, chemistry, series).size());
        trigger("Take the design");
        REQUIRE(shop().build_of(id)->chemistry == chemistry);
    }
    void match_and_take() {
        trigger("Find units in Match");
        auto* match = view<app::MatchStation>(Station::match);
        key(Qt::Key_F9);
        constexpr int long_search = 4; // of 210 units, on a busy machine
        REQUIRE(wait_for([&] { return !match->searching() && match->has_answer(); }, long_search * patience_ms));
        key(Qt::Key_Return, Qt::ControlModifier);
        REQUIRE(build().build() == id);
        this->key(Qt::Key_U, Qt::AltModifier);
        ready();
        // A scan is a scan: of hundreds the first ones go by the scanner.
        constexpr int enough = 30;
        int scanned = 0;
        for (const BuildLine& line : shop().build().sheet(id).lines)
            if (++scanned <= enough)
                scan(QString::fromStdString(line.code));
            else
                REQUIRE(shop().build().take(id, line.unit));
        settle();
        REQUIRE(shop().build_of(id)->state == AssemblyState::taken);
    }
    // Enter on every step, until nothing is ticked any more.
    void tick_on() {
        build().show_view(app::BuildStation::View::steps);
        ready();
        window.scan_field()->setFocus();
        for (int i = 0; i < 400 && shop().build_of(id)->state != AssemblyState::joined; ++i) {
            const auto before = shop().build().ticks(id).size();
            scan(QString());
            if (shop().build().ticks(id).size() == before)
                return;
        }
    }

private:
    static std::string make(const PackLayout& stock, const char* chemistry, const char* model, double volts, double ah,
                            double ohm) {
        static const Temporary made;
        static int number = 0;
        const std::string path = made.file("build-job-" + std::to_string(++number) + ".ingot");
        auto shop = new_shop(path, "Fellside bench");
        int n = 0;
        for (const Id cell : units_in_low_packs(*shop, stock, chemistry, model)) {
            ++n;
            Measurement m;
            for (const auto& [quantity, value] : {std::pair(Quantity::voltage, volts),
                                                  {Quantity::dc_resistance, ohm * (1 + 0.01 * (n % 5))},
                                                  {Quantity::capacity, ah * (1 + 0.004 * (n % 7))},
                                                  {Quantity::self_discharge, 0.0002}}) {
                m.quantity = quantity;
                m.value = value;
                REQUIRE(shop->test().record_reading(cell, m));
            }
        }
        return path;
    }
};

} // namespace

TEST_CASE("Job: two lead blocks become nickel 7S2P, their series coil is kept, their charger is not (N39)") {
    BuildJob w({8, 2, 1}, "nicd", "D40", 1.29, 3.9, 0.0072);
    w.begin("buoy lamp 1S1P");
    w.choose("old_chemistry", "pb-agm");
    w.figure(DesignFigure::nominal_v, "8");
    w.figure(DesignFigure::off_v, "6,3");
    w.figure(DesignFigure::bears_v, "11");
    w.figure(DesignFigure::continuous_a, "1.5");
    w.figure(DesignFigure::old_series, "4");
    w.figure(DesignFigure::load_w, "12");
    w.figure(DesignFigure::run_s, "300"); // five hours: two in parallel
    w.figure(DesignFigure::charger_v, "9.6");
    w.choose("charger_kind", "lead");
    w.write("moves_over", "series coil, plug");
    // Keeping lead is said to be a good answer; nickel is taken all the same.
    w.take_design("nicd", 7);
    bool keep = false;
    for (const auto& way : w.build().evidence().ways)
        keep = keep || way.title.contains(QStringLiteral("Keep the chemistry"));
    CHECK(keep);
    CHECK(w.shop().build_of(w.id)->layout.series == 7);
    CHECK(w.shop().build_of(w.id)->layout.parallel == 2);
    w.match_and_take();
    w.choose("joining", "weld");
    // The lead charger floats: nothing is joined until another is named.
    w.tick_on();
    CHECK(w.shop().build().ticks(w.id).contains({BuildTask::polarity, 1}));
    CHECK_FALSE(w.shop().build().ticks(w.id).contains({BuildTask::parallel_front, 1}));
    CHECK(w.window.told().contains(QStringLiteral("name at Need")));
    CHECK(w.build().evidence().ways.front().title == QStringLiteral("Not like this"));
    w.figure(DesignFigure::new_charger_v, "10.5");
    w.tick_on();
    INFO(w.window.told().toStdString());
    REQUIRE(w.shop().build_of(w.id)->state == AssemblyState::joined); // nickel asks for no board
    // What moves over is on the passport.
    bool coil = false;
    for (const auto& [figure, value] : w.shop().prove().passport(w.id).design)
        coil = coil || (figure == "moves-over" && value.find("series coil") != std::string::npos);
    CHECK(coil);
}

TEST_CASE("Job: a nickel pack of twenty becomes lithium; its charger and a thermal switch are refused (N43)") {
    BuildJob w({8, 2, 1}, "nmc", "H26", 3.64, 2.5, 0.036);
    w.begin("mower 1S1P");
    w.choose("old_chemistry", "nimh");
    w.figure(DesignFigure::nominal_v, "24");
    w.figure(DesignFigure::off_v, "18");
    w.figure(DesignFigure::bears_v, "30");
    w.figure(DesignFigure::continuous_a, "6");
    w.figure(DesignFigure::old_series, "20");
    w.figure(DesignFigure::run_s, "45");
    w.figure(DesignFigure::charger_v, "30");
    w.choose("charger_kind", "minus-dv");
    w.take_design("nmc", 7);
    CHECK(w.shop().build_of(w.id)->layout.series == 7);
    w.match_and_take();
    w.choose("board_kind", "thermal-switch");
    CHECK(w.build().evidence().hazard_line.contains(QStringLiteral("thermal switch")));
    w.tick_on();
    CHECK_FALSE(w.shop().build().ticks(w.id).contains({BuildTask::parallel_front, 1}));
    w.figure(DesignFigure::new_charger_v, "29,4");
    w.tick_on();
    CHECK(w.window.told().contains(QStringLiteral("thermal switch")));
    CHECK_FALSE(w.shop().build().ticks(w.id).contains({BuildTask::parallel_front, 1}));
    // A board for six is not one for seven; one for seven is.
    w.choose("board_kind", "board");
    w.write("board", "6S 20 A");
    w.tick_on();
    CHECK(w.window.told().contains(QStringLiteral("6 cells in series")));
    w.build().show_view(app::BuildStation::View::need);
    w.write("board", "7S 20 A, wakes on a charger");
    w.tick_on();
    INFO(w.window.told().toStdString());
    REQUIRE(w.shop().build_of(w.id)->state == AssemblyState::joined);
    // What goes to the welder and into the case: weld map, wiring.
    REQUIRE(w.build().write_weld_map_to(QString::fromStdString(w.folder.file("map.svg"))));
    CHECK(Temporary::read(w.folder.file("map-front.svg")).find("class=\"bar\"") != std::string::npos);
    CHECK(Temporary::read(w.folder.file("map-back.svg")).find("back face") != std::string::npos);
    w.answer([&w](QWidget* dialog) {
        auto* files = qobject_cast<QFileDialog*>(dialog);
        REQUIRE(files != nullptr);
        files->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"))
            ->setText(QString::fromStdString(w.folder.file("wires.svg")));
        static_cast<QDialog*>(files)->accept();
    });
    w.window.activateWindow();
    w.trigger("Wiring");
    CHECK(Temporary::read(w.folder.file("wires.svg")).find("7S 20 A") != std::string::npos);
    w.window.activateWindow();
    w.settle();
    w.go(Station::prove);
    CHECK(w.view<app::ProveStation>(Station::prove)->pack() == w.id);
}

TEST_CASE("Job: a row of 28 modules in its clamp: bars cleaned, torque, a bracket that fits one way (N41, N45)") {
    BuildJob w({28, 1, 6}, "nimh", "G65M", 7.8, 6.3, 0.017);
    w.begin("hill repeater 28S1P");
    w.choose("old_chemistry", "nimh");
    w.figure(DesignFigure::nominal_v, "201.6");
    w.figure(DesignFigure::continuous_a, "20");
    w.figure(DesignFigure::charger_v, "252");
    w.choose("charger_kind", "minus-dv");
    w.choose("joining", "bolts");
    // Full it has far over 60 V: that is said where its units are named.
    w.match_and_take();
    w.build().show_view(app::BuildStation::View::layout);
    w.ready();
    auto* row = w.window.findChild<app::ModuleRow*>();
    REQUIRE(row->isVisible());
    REQUIRE(row->parts().size() == 28);
    CHECK(row->parts()[0].value.contains(QStringLiteral("minus lead")));
    CHECK(row->parts()[0].value.contains(QStringLiteral("plus to the front")));
    CHECK(row->parts()[1].value.contains(QStringLiteral("plus to the back"))); // each turned against the next
    CHECK(row->parts()[27].value.contains(QStringLiteral("plus lead")));
    for (const auto& part : row->parts())
        CHECK(QRectF(row->rect()).contains(part.at));
    // By keys to the third; a scanned module says where it stands.
    row->setFocus();
    for (int i = 0; i < 3; ++i)
        QTest::keyClick(row, Qt::Key_Right);
    CHECK(w.build().evidence().line.contains(QStringLiteral("bar to module 4 on the front")));
    w.window.scan_field()->setFocus();
    w.scan(QString::fromStdString(w.shop().build().sheet(w.id).lines[9].code));
    CHECK(row->chosen() == 9);
    // The bars as they came, and after they were cleaned: no better first.
    auto* boxes = w.find<app::FigureBoxes>("bar_boxes");
    REQUIRE(boxes->isVisible());
    const auto type = [&](const char* name, const char* typed) {
        for (const auto& part : boxes->parts())
            if (part.name == QString::fromLatin1(name)) {
                QTest::mouseClick(boxes, Qt::LeftButton, Qt::NoModifier, part.at.center().toPoint());
                w.window.scan_field()->setFocus();
                w.scan(QString::fromLatin1(typed));
                w.ready();
                return;
            }
        FAIL("no box " << name);
    };
    type("a bar before", "1,8");
    type("a bar now", "1.9");
    const auto checks = [&] {
        QStringList said;
        for (auto* list : w.build().findChildren<app::StepList*>())
            if (list->isVisible())
                for (const auto& part : list->parts())
                    said << part.name + QLatin1Char(' ') + part.value;
        return said.join(QLatin1Char('\n'));
    };
    const auto unsafe = [&] {
        const auto all = w.shop().build().safety(w.id, true);
        return std::any_of(all.begin(), all.end(), [](const auto& f) { return f.what == Unsafe::bars_no_better; });
    };
    CHECK(unsafe());
    type("a bar now", "0.3");
    CHECK_FALSE(unsafe());
    CHECK(checks().contains(QStringLiteral("162 mV"))); // 27 bars of 0.3 milliohm at 20 A
    CHECK(checks().contains(QStringLiteral("not known: the maker's")));
    type("torque", "5.4");
    CHECK(checks().contains(QStringLiteral("5.4 Nm, from the middle outwards")));
    // The steps speak of a row, its clamp and its bracket; polarity is read before the first bar.
    w.key(Qt::Key_S, Qt::AltModifier);
    w.ready();
    QStringList steps;
    for (auto* each : w.build().findChildren<app::StepList*>())
        if (each->isVisible())
            for (const auto& part : each->parts())
                steps << part.name;
    REQUIRE_FALSE(steps.isEmpty());
    CHECK(steps.contains(QStringLiteral("Clamped in their row")));
    CHECK(steps.contains(QStringLiteral("Bars, front")));
    CHECK_FALSE(steps.contains(QStringLiteral("Rings on the plus ends")));
    CHECK(steps.front() == QStringLiteral("Caps on the poles"));
    w.scan(QString());
    CHECK(w.build().evidence().hand_line.contains(QStringLiteral("fits one way only")));
    w.tick_on();
    INFO(w.window.told().toStdString());
    REQUIRE(w.shop().build_of(w.id)->state == AssemblyState::joined);
    // Torque and bars go with the pack.
    const Passport passport = w.shop().prove().passport(w.id);
    const auto goes = [&](const char* figure) {
        return std::any_of(passport.design.begin(), passport.design.end(),
                           [&](const auto& f) { return f.first == figure; });
    };
    CHECK(goes("bar-torque-nm"));
    CHECK(goes("bar-ohm"));
}

TEST_CASE("Job: a 5S2P is re-celled; the welder stops at 0.15 mm, so the ends get a second layer (N41)") {
    BuildJob w({5, 2, 1}, "nmc", "H26", 3.64, 2.5, 0.036);
    w.begin("trail lantern 5S2P");
    w.figure(DesignFigure::nominal_v, "18");
    w.figure(DesignFigure::continuous_a, "10");
    w.figure(DesignFigure::charger_v, "21");
    w.choose("charger_kind", "cc-cv");
    w.choose("board_kind", "board");
    w.write("board", "5S 20 A");
    w.choose("joining", "weld");
    w.take_design("nmc", 5);
    w.match_and_take();
    // The strip at hand is thicker than what the welder goes through: nothing is welded with it.
    w.build().show_view(app::BuildStation::View::layout);
    w.ready();
    w.layout_figure(DesignFigure::strip_width_m, "8");
    w.layout_figure(DesignFigure::strip_thickness_m, "0,2");
    w.layout_figure(DesignFigure::welder_thickest_m, "0.15");
    auto* material = w.find<QComboBox>("strip_material");
    material->setCurrentIndex(material->findData(QStringLiteral("nickel")));
    emit material->activated(material->currentIndex());
    w.ready();
    w.tick_on();
    CHECK(w.shop().build_of(w.id)->state == AssemblyState::taken);
    CHECK(w.window.told().contains(QStringLiteral("the welder goes through 0.15 mm")));
    // Thinner strip: now the end bars carry too much for their section, and a second layer is offered and taken.
    w.build().show_view(app::BuildStation::View::layout);
    w.ready();
    w.layout_figure(DesignFigure::strip_thickness_m, "0.15");
    const auto ways = w.build().evidence().ways;
    REQUIRE_FALSE(ways.empty());
    CHECK(ways.front().title.contains(QStringLiteral("2 layers at both ends")));
    w.trigger("Take remedy 1");
    CHECK(w.shop().build().design(w.id).word(DesignFigure::end_layers) == "2");
    // The trial weld stands with the joint.
    const auto asked = [&] {
        const auto all = w.shop().build().safety(w.id, true);
        return std::any_of(all.begin(), all.end(), [](const auto& f) { return f.what == Unsafe::no_trial_weld; });
    };
    CHECK(asked());
    w.write("trial_weld", "62 %, 8 ms, strip tears");
    CHECK_FALSE(asked());
    CHECK(w.shop().build().design(w.id).word(DesignFigure::trial_weld) == "62 %, 8 ms, strip tears");
    w.tick_on();
    INFO(w.window.told().toStdString());
    CHECK(w.shop().build_of(w.id)->state == AssemblyState::joined);
}

TEST_CASE("Job: two groups of a 13S4P are filled again in place, levelled to those that stay, and read through (N27)") {
    BuildJob w({6, 2, 1}, "nmc", "H26", 3.74, 2.5, 0.036);
    // The mower's pack, its two dead groups taken out.
    Assembly mower;
    mower.lot = w.shop().receive().add_lot({0, "MOW-13", "", "", "", {}}).value();
    mower.label = "M-13";
    mower.chemistry = "nmc";
    mower.format = "18650";
    mower.layout = {13, 4, 1};
    const Id pack = w.shop().receive().add_pack(mower).value();
    REQUIRE(w.shop().receive().set_state(pack, AssemblyState::in_triage));
    for (int g = 1; g <= 13; ++g)
        REQUIRE(
            w.shop().triage().record_group_reading(pack, g, g == 5 || g == 6 ? 0.4 : 3.740, Condition::rest, "meter"));
    REQUIRE(w.shop().open().open_pack(pack, "R1", "H26", "T1", {5, 6}));
    // Match lists it among the builds that want units.
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    w.key(Qt::Key_B, Qt::AltModifier);
    Window::answer([](QWidget* dialog) {
        auto* choices = dialog->findChild<QComboBox*>();
        REQUIRE(choices != nullptr);
        CHECK(choices->currentText().contains(QStringLiteral("places 5 and 6")));
        qobject_cast<app::QuestionBox*>(dialog)->accept();
    });
    w.press(QStringLiteral("Refill a pack…"));
    w.window.activateWindow();
    w.settle();
    w.id = match->several_view()->chosen_build();
    REQUIRE(w.id != 0);
    CHECK(w.shop().build_of(w.id)->layout == PackLayout{2, 4, 1});
    auto* lanes = match->several_view()->lanes();
    lanes->setFocus();
    QTest::keyClick(lanes, Qt::Key_Return);
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(w.window.route()->current() == Station::build);
    for (const BuildLine& line : w.shop().build().sheet(w.id).lines)
        w.scan(QString::fromStdString(line.code));
    REQUIRE(w.shop().build_of(w.id)->state == AssemblyState::taken);
    // What they are to be brought to is where those that stay stand.
    w.key(Qt::Key_U, Qt::AltModifier);
    w.ready();
    CHECK(w.build().evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("Those that stay stand at 3.740")));
    w.choose("board_kind", "board");
    // One unit stands high at the gate: its group waits until it is brought down and read again.
    w.build().show_view(app::BuildStation::View::steps);
    w.ready();
    w.window.scan_field()->setFocus();
    const QString odd = QString::fromStdString(w.shop().build().sheet(w.id).lines[1].code);
    w.scan(odd);
    w.scan(QStringLiteral("3.851"));
    w.tick_on();
    CHECK(w.shop().build_of(w.id)->state == AssemblyState::taken);
    CHECK_FALSE(w.shop().build().gate(w.id)[0].passes);
    w.scan(odd);
    w.scan(QStringLiteral("3.741"));
    w.tick_on();
    INFO(w.window.told().toStdString());
    REQUIRE(w.shop().build_of(w.id)->state == AssemblyState::joined);
    // Its links are the old pack's: no step of this build welds one.
    for (const auto& [item, at] : w.shop().build().ticks(w.id))
        CHECK(item.first != BuildTask::links_front);
    w.trigger("Put into its pack");
    CHECK(w.shop().triage().groups_taken_out(pack).empty());
    // Read through again at Triage it is sound, and goes back.
    w.go(Station::triage);
    w.window.take_line(QStringLiteral("M-13"));
    w.settle();
    w.key(Qt::Key_F5);
    for (int g = 0; g < 13; ++g) // all of them: what was read before speaks of another pack
        w.scan(QStringLiteral("3.740"));
    w.scan(QStringLiteral("48.62"));
    w.settle();
    REQUIRE_FALSE(w.shop().triage().explained(pack).explanations.empty());
    CHECK(w.shop().triage().explained(pack).explanations.front().fault == Fault::healthy);
    w.command(QStringLiteral("Into service"));
    CHECK(w.shop().pack(pack)->state == AssemblyState::in_service);
}

TEST_CASE("Job: a 7S30P with cell links: a wire that opens at work is refused, the right one is built") {
    BuildJob w({7, 30, 1}, "nmc", "H26", 3.64, 2.5, 0.036);
    w.begin("hill repeater 7S30P");
    w.figure(DesignFigure::nominal_v, "25,2");
    w.figure(DesignFigure::continuous_a, "60");
    w.figure(DesignFigure::peak_a, "90");
    w.figure(DesignFigure::charger_v, "29.4");
    w.choose("charger_kind", "cc-cv");
    w.choose("board_kind", "board");
    w.write("board", "7S 100 A");
    w.choose("joining", "weld");
    w.match_and_take();
    REQUIRE(w.shop().build().sheet(w.id).lines.size() == 210);
    w.build().show_view(app::BuildStation::View::layout);
    w.ready();
    w.layout_figure(DesignFigure::strip_width_m, "12");
    w.layout_figure(DesignFigure::strip_thickness_m, "0.2");
    w.layout_figure(DesignFigure::welder_thickest_m, "0.25");
    // 90 A over thirty are 3 A each: links melt at 6 to 9 A, 0.18 to 0.23 mm. A thinner one opens at work.
    w.layout_figure(DesignFigure::cell_link_m, "0.1");
    w.tick_on();
    CHECK(w.shop().build_of(w.id)->state == AssemblyState::taken);
    CHECK(w.window.told().contains(QStringLiteral("opens at work")));
    CHECK(w.window.told().contains(QStringLiteral("0.18 to 0.23 mm")));
    w.build().show_view(app::BuildStation::View::layout);
    w.ready();
    w.layout_figure(DesignFigure::cell_link_m, "0.2");
    const auto findings = w.shop().build().safety(w.id, true);
    CHECK(std::none_of(findings.begin(), findings.end(), [](const auto& f) { return f.refuses; }));
    CHECK(std::any_of(findings.begin(), findings.end(), [](const auto& f) { return f.what == Unsafe::links_shake; }));
    // Drawn and joined as designed, two hundred and ten of them.
    auto* view = w.window.findChild<app::LayoutView*>();
    REQUIRE(view != nullptr);
    REQUIRE(view->plan().now() != nullptr);
    CHECK(view->plan().joins_as_designed);
    w.tick_on();
    INFO(w.window.told().toStdString());
    REQUIRE(w.shop().build_of(w.id)->state == AssemblyState::joined);
    const auto passport = w.shop().prove().passport(w.id);
    CHECK(std::any_of(passport.design.begin(), passport.design.end(),
                      [](const auto& f) { return f.first == "cell-link-m" && f.second == "0.0002"; }));
}

TEST_CASE("Job: a pouch pack 4S2P stands in a stack, seen on its terminals; what is too long for the room is said") {
    BuildJob w({4, 2, 1}, "nmc", "H26", 3.64, 2.5, 0.036);
    // The shop's own format, and its cells are of that.
    REQUIRE(w.shop().catalogue().save_entry(exchange::EntryKind::format,
                                            "[[format]]\nid = \"pouch-60x8\"\nbroad_mm = 60.0\nthick_mm = 8.0\n"
                                            "height_mm = 95.0\nsource = \"measured here\"\n"));
    UnitModel model = *w.shop().library().model("H26");
    model.format = "pouch-60x8";
    REQUIRE(w.shop().catalogue().save_model(model));
    w.begin("weather buoy 4S2P");
    w.figure(DesignFigure::nominal_v, "14.4");
    w.figure(DesignFigure::continuous_a, "6");
    w.take_design("nmc", 4);
    w.match_and_take();
    w.layout_figure(DesignFigure::case_width_m, "70");
    w.layout_figure(DesignFigure::case_height_m, "90");
    w.layout_figure(DesignFigure::room_deep_m, "94");
    auto* layout = w.build().findChild<app::LayoutView*>();
    auto* picture = layout->findChild<app::LayoutPicture*>();
    REQUIRE(picture->isVisible());
    const Layout& now = layout->plan().now()->layout;
    CHECK(now.flat);
    CHECK(now.fits);
    CHECK(now.size_m[1] == Approx(8 * 0.009 - 0.001)); // eight of 8 mm, 1 mm between
    CHECK(layout->plan().joins_as_designed);
    CHECK(layout->evidence().verdict == QStringLiteral("Laid out"));
    bool too_long = false;
    for (auto* list : layout->findChildren<app::StepList*>())
        for (const auto& part : list->parts())
            too_long = too_long || part.value.contains(QStringLiteral("too long"));
    CHECK(too_long);
    w.layout_figure(DesignFigure::room_deep_m, "98,5");
    w.layout_figure(DesignFigure::raised_top_m, "1");
    bool pad = false;
    for (auto* list : layout->findChildren<app::StepList*>())
        for (const auto& part : list->parts())
            pad = pad || part.value.contains(QStringLiteral("pad 2.5"));
    CHECK(pad);
    // By hand, half a millimetre; a drag on the drawing would do the same.
    picture->setFocus();
    QTest::keyClick(picture, Qt::Key_Down);
    QTest::keyClick(picture, Qt::Key_Down, Qt::ShiftModifier);
    w.ready();
    CHECK(w.shop().build().design(w.id).word(DesignFigure::by_hand).find("cell 1.1 0 -0.5") != std::string::npos);
    for (const auto& part : picture->parts())
        CHECK(QRectF(picture->rect()).adjusted(-1, -1, 1, 1).contains(part.at));
}

TEST_CASE("Job: modules two in parallel are drawn as blocks: what is joined to what, and no length that nobody knows") {
    BuildJob w({7, 2, 6}, "nimh", "G65M", 7.8, 6.3, 0.017);
    w.begin("hill repeater 7S2P");
    w.figure(DesignFigure::nominal_v, "50.4");
    w.figure(DesignFigure::continuous_a, "20");
    w.choose("joining", "bolts");
    w.match_and_take();
    w.build().show_view(app::BuildStation::View::layout);
    w.ready();
    auto* layout = w.build().findChild<app::LayoutView*>();
    auto* picture = layout->findChild<app::LayoutPicture*>();
    REQUIRE(picture->isVisible());
    CHECK_FALSE(w.window.findChild<app::ModuleRow*>()->isVisible());
    CHECK(layout->plan().joins_as_designed);
    CHECK_FALSE(layout->plan().now()->joints);
    bool said = false;
    for (auto* list : layout->findChildren<app::StepList*>())
        for (const auto& part : list->parts()) {
            said = said || part.value.contains(QStringLiteral("not to scale"));
            CHECK_FALSE(part.value.contains(QStringLiteral(" mm,")));
        }
    CHECK(said);
    CHECK(picture->parts().size() > 14);
    w.window.scan_field()->setFocus();
    w.scan(QString::fromStdString(w.shop().build().sheet(w.id).lines[5].code));
    CHECK(picture->cell() == 5);
}
