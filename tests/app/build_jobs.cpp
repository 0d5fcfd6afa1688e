// Whole jobs of Build, walked from the device on the bench to the joined pack.
#include "shop.h"
#include "window.h"

#include "app/parts/figure_boxes.h"
#include "app/parts/window_bars.h"
#include "app/stations/build/build_station.h"
#include "app/stations/match/match_station.h"
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
    // Types a figure into its box at Need.
    void figure(DesignFigure figure, const char* typed) {
        build().show_view(app::BuildStation::View::need);
        ready();
        auto* boxes = find<app::FigureBoxes>("need_boxes");
        const QString name = wording::design_figure(figure);
        for (const auto& part : boxes->parts())
            if (part.name == name) {
                QTest::mouseClick(boxes, Qt::LeftButton, Qt::NoModifier, part.at.center().toPoint());
                window.scan_field()->setFocus();
                scan(QString::fromLatin1(typed));
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
        REQUIRE(wait_for([&] { return !match->searching() && match->has_answer(); }));
        key(Qt::Key_Return, Qt::ControlModifier);
        REQUIRE(build().build() == id);
        this->key(Qt::Key_U, Qt::AltModifier);
        ready();
        for (const BuildLine& line : shop().build().sheet(id).lines)
            scan(QString::fromStdString(line.code));
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
        for (const Id cell : lantern_cells(*shop, stock, chemistry, model)) {
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
