// Build in the real window: from what the device needs to the last tick, with scanner and keys.
#include "window.h"

#include "app/parts/figure_boxes.h"
#include "app/parts/gate_picture.h"
#include "app/parts/layout_picture.h"
#include "app/parts/run_compare.h"
#include "app/parts/run_curves.h"
#include "app/parts/step_list.h"
#include "app/parts/window_bars.h"
#include "app/stations/build/build_station.h"
#include "app/stations/build/layout_view.h"

#include "exchange/pack_design_json.h"
#include "exchange/text_file.h"
#include "workshop/build_run.h"

#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QLineEdit>
#include <QSignalSpy>
#include <QTableWidget>

using namespace ingot;
using namespace ingot::tests;

namespace {

struct BuildWindow : Window {
    BuildWindow() { go(Station::build); }
    [[nodiscard]] app::BuildStation& station() { return *view<app::BuildStation>(Station::build); }
    void show(app::BuildStation::View view) {
        station().show_view(view);
        ready();
    }
    void ready() {
        REQUIRE(wait_for([&] { return !station().working(); }));
    }
    template <class Part> Part& part(const char* name = "") {
        const auto all = station().findChildren<Part*>(QString::fromLatin1(name));
        for (Part* one : all)
            if (one->isVisible())
                return *one;
        FAIL("no such part in sight: " << name);
        throw 0;
    }
    [[nodiscard]] std::string figure(DesignFigure figure) {
        return shop().build().design(station().build()).word(figure);
    }
    void command(const char* words) {
        for (QAction* action : station().commands())
            if (action->text().remove(QLatin1Char('&')) == QString::fromUtf8(words)) {
                REQUIRE(action->isEnabled());
                action->trigger();
                ready();
                return;
            }
        FAIL("no such command: " << words);
    }
    void take_all() {
        const BuildSheet sheet = shop().build().sheet(station().build());
        for (const BuildLine& line : sheet.lines)
            if (!line.taken)
                REQUIRE(shop().build().take(station().build(), line.unit));
        ready();
    }
};

} // namespace

TEST_CASE("N39: what the device needs is typed box by box, every chemistry is held against it, and Ctrl+Z takes back") {
    BuildWindow w;
    w.key(Qt::Key_N, Qt::AltModifier);
    CHECK(w.station().view() == app::BuildStation::View::need);
    auto& boxes = w.part<app::FigureBoxes>("need_boxes");
    auto& bars = w.part<app::WindowBars>();
    REQUIRE(bars.rows() >= 4);
    CHECK(bars.designs().front().verdict == ConversionVerdict::keep);
    CHECK(w.station().evidence().hazard_title.contains(QStringLiteral("old charger")));
    // The box that takes the next number; a comma is a point.
    QTest::mouseClick(&boxes, Qt::LeftButton, Qt::NoModifier, boxes.parts()[0].at.center().toPoint());
    CHECK(w.station().scan_hint().contains(QStringLiteral("off below")));
    w.scan(QStringLiteral("11,5"));
    CHECK(w.figure(DesignFigure::off_v) == "11.5");
    CHECK(boxes.active() == 1);
    w.scan(QString()); // Enter alone: the next box
    CHECK(boxes.active() == 2);
    w.scan(QStringLiteral("99999"));
    CHECK(w.figure(DesignFigure::bears_v) == "18.0"); // refused with its range, nothing kept
    CHECK(w.window.told().contains(QStringLiteral("0.1 to 1000 V")));
    w.scan(QStringLiteral("?"));
    CHECK(w.figure(DesignFigure::bears_v).empty()); // no longer known
    CHECK(w.station().evidence().notes.join(QString()).contains(QStringLiteral("bears")));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.figure(DesignFigure::bears_v) == "18.0");
    // Up and down choose a design; what of the stock could fill it follows.
    bars.setFocus();
    auto& fillings = w.part<QTableWidget>("fillings");
    const QString own = bars.name(*bars.chosen());
    CHECK(fillings.rowCount() >= 1);
    w.key(Qt::Key_Up);
    CHECK(bars.name(*bars.chosen()) != own);
    CHECK(w.station().evidence().subject.contains(bars.name(*bars.chosen())));
    // An unknown charger clashes with nothing.
    auto& charger = w.part<QComboBox>("charger_kind");
    charger.setCurrentIndex(0);
    emit charger.activated(0);
    w.settle();
    CHECK(w.figure(DesignFigure::charger_kind).empty());
    w.command("Find units in Match");
    CHECK(w.window.current_view() == w.view<app::Page>(Station::match));
}

TEST_CASE("N41: layout by keys: proposals, the worst piece, a remedy that the welder can weld") {
    BuildWindow w;
    w.key(Qt::Key_L, Qt::AltModifier);
    w.ready();
    auto& picture = w.part<app::LayoutPicture>();
    auto* layout = w.station().findChild<app::LayoutView*>();
    REQUIRE(layout->plan().proposals.size() >= 2);
    CHECK(w.station().evidence().verdict == QStringLiteral("Too thin here"));
    CHECK(w.part<app::StepList>().parts()[0].name == QStringLiteral("Current density, the worst piece"));
    CHECK(w.part<app::StepList>().parts()[0].value.contains(QStringLiteral("10.0 A/mm")));
    // Left and right walk the pieces; Evidence speaks of the chosen one.
    picture.setFocus();
    w.key(Qt::Key_Right);
    CHECK(picture.piece() == 0);
    CHECK(w.station().evidence().subject.contains(picture.parts()[0].name));
    // A unit's label finds its place.
    const BuildSheet sheet = w.shop().build().sheet(w.station().build());
    w.scan(QString::fromStdString(sheet.lines.front().code));
    CHECK(w.window.told().contains(QStringLiteral("group 1")));
    // The second remedy is thicker than the welder can: not advised, and it has no number. The first is two layers.
    const auto ways = w.station().evidence().ways;
    REQUIRE(ways.size() == 3);
    CHECK_FALSE(ways[1].advised);
    CHECK(ways[1].below.contains(QStringLiteral("welder stops")));
    w.command("Take remedy 3");
    CHECK(w.window.told().contains(QStringLiteral("no such remedy")));
    w.command("Take remedy 2");
    CHECK(w.figure(DesignFigure::strip_width_m) == "0.01"); // the third of them: wider
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.ready();
    w.command("Take remedy 1");
    CHECK(w.figure(DesignFigure::end_layers) == "2");
    CHECK(w.station().evidence().verdict != QStringLiteral("Too thin here"));
    CHECK_FALSE(w.part<app::StepList>().parts()[0].value.contains(QStringLiteral("to come")));
    // Strongest to the warm middle: said by the checks, done by a command, taken back.
    const auto heat = [&] {
        for (const auto& part : w.part<app::StepList>().parts())
            if (part.name == QStringLiteral("Heat by place"))
                return part.value;
        return QString();
    };
    const Id first = w.shop().build().sheet(w.station().build()).lines.front().unit;
    REQUIRE(heat().contains(QStringLiteral("moves")));
    w.command("Place by heat");
    w.ready();
    CHECK(heat().contains(QStringLiteral("strongest group in the warm middle")));
    w.command("Place by heat");
    CHECK(w.window.told().contains(QStringLiteral("stand so already")));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.ready();
    CHECK(heat().contains(QStringLiteral("moves")));
    CHECK(w.shop().build().sheet(w.station().build()).lines.front().unit == first);
    // The second proposal, by mouse; its arrangement is kept.
    const std::string wanted = arrangement_of(layout->plan().proposals[1].layout);
    QTest::mouseClick(&w.part<app::PressButton>("proposal_2"), Qt::LeftButton);
    w.ready();
    CHECK(w.figure(DesignFigure::arrangement) == wanted);
    CHECK(layout->plan().chosen == 1);
    // A room that is too small is said.
    auto& boxes = w.part<app::FigureBoxes>("layout_boxes");
    QTest::mouseClick(&boxes, Qt::LeftButton, Qt::NoModifier, boxes.parts()[0].at.center().toPoint());
    w.scan(QStringLiteral("60"));
    w.ready();
    CHECK_FALSE(layout->plan().now()->layout.fits);
}

TEST_CASE("Steps are ticked with Enter to the last one; what a slip would bridge is said before it can") {
    BuildWindow w;
    w.take_all();
    w.key(Qt::Key_S, Qt::AltModifier);
    w.ready();
    const Id build = w.station().build();
    auto& list = w.part<app::StepList>();
    CHECK(list.parts()[0].value.startsWith(QStringLiteral("now")));
    CHECK(w.station().evidence().hazard_title.contains(QStringLiteral("3.6")));
    CHECK(w.station().evidence().caution == "build");
    w.scan(QString()); // Enter
    CHECK(w.shop().build().ticks(build).contains({BuildTask::rings, 1}));
    CHECK(list.parts()[0].value.startsWith(QStringLiteral("done")));
    // Backspace in the empty field takes it back; so does Ctrl+Z, and redo ticks it again.
    QTest::keyClick(w.window.scan_field(), Qt::Key_Backspace);
    w.settle();
    CHECK_FALSE(w.shop().build().ticks(build).contains({BuildTask::rings, 1}));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().build().ticks(build).contains({BuildTask::rings, 1}));
    // A step that has to wait is refused with what comes first.
    QTest::mouseClick(&list, Qt::LeftButton, Qt::NoModifier, list.parts().back().at.center().toPoint());
    w.scan(QString());
    CHECK(w.window.told().contains(QStringLiteral("First:")));
    // A unit is scanned and reads high: its group waits, and what to bring where is said.
    const auto gate = w.shop().build().gate(build);
    const QString odd = QString::fromStdString(gate[1].units[0]);
    w.scan(odd);
    CHECK(w.station().scan_hint().contains(odd));
    w.scan(QStringLiteral("3.752"));
    CHECK_FALSE(w.shop().build().gate(build)[1].passes);
    CHECK(w.part<QLabel>("gate_words").text().contains(odd));
    CHECK(w.part<app::GatePicture>().parts()[1].value.contains(QStringLiteral("not yet")));
    for (int i = 0; i < 60; ++i)
        w.scan(QString());
    CHECK(w.shop().build().ticks(build).contains({BuildTask::parallel_front, 3}));
    CHECK_FALSE(w.shop().build().ticks(build).contains({BuildTask::parallel_front, 2}));
    CHECK(w.shop().build_of(build)->state == AssemblyState::taken);
    w.scan(odd);
    w.scan(QString::number(gate[1].plan->common_v, 'f', 3));
    CHECK(w.shop().build().gate(build)[1].passes);
    bool cautioned = false; // N40: what is never soldered stands beside the joints
    for (int i = 0; i < 60 && w.shop().build_of(build)->state != AssemblyState::joined; ++i) {
        cautioned = cautioned || w.station().evidence().caution == "joining";
        w.scan(QString());
    }
    CHECK(cautioned);
    CHECK(w.shop().build_of(build)->state == AssemblyState::joined);
    CHECK(w.station().evidence().verdict == QStringLiteral("Joined"));
    for (const auto& part : list.parts())
        CHECK(part.value.startsWith(QStringLiteral("done")));
    // It is all in the file.
    const auto reader = Workshop::open(w.path()).value();
    CHECK(reader->build_of(build)->state == AssemblyState::joined);
}

TEST_CASE("Simulate says how long it runs and what would change it, and follows a figure that is typed") {
    BuildWindow w;
    w.key(Qt::Key_M, Qt::AltModifier);
    w.ready();
    CHECK(w.station().view() == app::BuildStation::View::run);
    CHECK(w.station().evidence().verdict == QStringLiteral("Runs long enough"));
    auto& right = w.part<QComboBox>("run_right");
    REQUIRE(right.count() == 4);
    CHECK(w.part<app::RunCurves>().parts().size() == 4);
    // Every row names both designs and what differs; another one is put beside by keys.
    const auto& compare = w.part<app::RunCompare>();
    REQUIRE(compare.parts().size() == 7);
    const QString runs = compare.parts()[0].value;
    CHECK(runs.contains(QStringLiteral("as matched")));
    CHECK(runs.contains(QStringLiteral("one more in each group")));
    CHECK(runs.contains(QStringLiteral("better")));
    CHECK(compare.parts()[3].value.contains(QStringLiteral("+"))); // warmer than the air
    right.setFocus();
    w.key(Qt::Key_End);
    CHECK(compare.parts()[0].value.contains(QStringLiteral("load 10 % heavier")));
    CHECK(compare.parts()[0].value.contains(QStringLiteral("it costs")));
    w.key(Qt::Key_Home);
    CHECK_FALSE(compare.parts()[0].value.contains(QStringLiteral("costs"))); // itself beside itself stands alone
    auto& boxes = w.part<app::FigureBoxes>("run_boxes");
    boxes.setFocus(); // Tab reaches it; its first box takes the number
    CHECK(boxes.active() == 0);
    w.scan(QStringLiteral("120"));
    w.ready();
    CHECK(w.figure(DesignFigure::load_w) == "120");
    CHECK(w.station().evidence().verdict == QStringLiteral("Too short"));
    // Its charger and its board: the first charge begins where the units stand, the shelf where they are kept.
    const auto type = [&](DesignFigure figure, const char* value) {
        REQUIRE(w.shop().build().set_figure(w.station().build(), figure, value));
        w.ready();
    };
    type(DesignFigure::charger_a, "");
    CHECK(w.station().evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("type what its charger gives")));
    type(DesignFigure::charger_a, "2");
    type(DesignFigure::balance_a, "0.06");
    const QString charge = w.station().evidence().notes.join(QLatin1Char(' '));
    CHECK((charge.contains(QStringLiteral("the charger ends it")) ||
           charge.contains(QStringLiteral("the board stops")) || charge.contains(QStringLiteral("not read since"))));
    CHECK(w.station().evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("On the shelf")));
    // Nobody knows the load: it says so and shows no old figure.
    boxes.set_active(0);
    w.scan(QStringLiteral("?"));
    boxes.set_active(1);
    w.scan(QStringLiteral("?"));
    w.ready();
    CHECK(w.part<QLabel>("run_words").text().contains(QStringLiteral("No load is known")));
    CHECK_FALSE(w.station().findChild<app::RunCurves*>()->isVisible());
}

TEST_CASE("Simulate runs a load profile, another build beside it, and writes the circuit") {
    BuildWindow w;
    w.key(Qt::Key_M, Qt::AltModifier);
    w.ready();
    auto& right = w.part<QComboBox>("run_right");
    REQUIRE(right.count() == 4);
    const auto runs = [&] { return w.part<app::RunCompare>().parts()[0].value; };
    const QString steady = runs();
    const auto choose = [&](const char* command, const QString& item) {
        Window::answer([item](QWidget* dialog) {
            auto* box = dialog->findChild<QComboBox*>();
            REQUIRE(box != nullptr);
            REQUIRE(box->findText(item) >= 0);
            box->setCurrentIndex(box->findText(item));
            qobject_cast<QDialog*>(dialog)->accept();
        });
        w.window.activateWindow();
        w.command(command);
        w.ready();
    };
    // One that ships; the average is said, and it is not the steady load.
    choose("Load profile…", QStringLiteral("radio repeater"));
    CHECK_FALSE(w.figure(DesignFigure::load_profile).empty());
    CHECK(w.station().evidence().line.contains(QStringLiteral("changes")));
    CHECK(w.station().evidence().line.contains(QStringLiteral("0.59"))); // 52 s of 0.35, 8 of 2.4, 8 of 0.35
    CHECK(runs() != steady);
    // The circuit of what is run.
    const Temporary folder;
    const std::string path = folder.file("pack.cir");
    Window::answer_file(path);
    w.window.activateWindow();
    w.command("Circuit for SPICE…");
    const std::string netlist = Temporary::read(path);
    CHECK(netlist.find(".end") != std::string::npos);
    CHECK(netlist.find("terminal") != std::string::npos);
    w.command("Steady load again");
    w.ready();
    CHECK(runs() == steady);
    // Another build with units beside it: the same load, its own figures.
    QString other;
    for (const Assembly& build : w.shop().builds())
        if (build.id != w.station().build() && !w.shop().inventory().wants_units(build) &&
            run_set_up(w.shop().build().question(build.id), 0).ok())
            other = QString::fromStdString(build.label);
    if (!other.isEmpty()) {
        choose("Beside another build…", other);
        REQUIRE(right.count() == 5);
        CHECK(right.itemText(4) == other);
        choose("Beside another build…", QStringLiteral("none"));
        CHECK(right.count() == 4);
    }
}

TEST_CASE("Every load that ships is read, and its names are of this shop's devices") {
    const QDir shipped(QStringLiteral(INGOT_SOURCE_DIR "/data/loads"));
    const auto files = shipped.entryInfoList({QStringLiteral("*.csv")}, QDir::Files);
    REQUIRE(files.size() >= 4);
    for (const QFileInfo& file : files) {
        const auto text = exchange::read_text(file.absoluteFilePath().toStdString());
        REQUIRE(text);
        const auto load = exchange::read_pack_load(text.value(), file.fileName().toStdString());
        INFO(file.fileName().toStdString());
        REQUIRE(load);
        CHECK(load.value().levels.size() >= 3);
        for (const PackLoad::Level& level : load.value().levels)
            CHECK(level.value > 0);
    }
}

TEST_CASE("Every view of Build stands without a build, and reads only where the file may not be written") {
    const Temporary folder;
    const std::string empty = folder.file("own.ingot");
    REQUIRE(Workshop::create(empty, "Own shop").ok());
    Window w(empty);
    w.go(Station::build);
    auto* station = w.view<app::BuildStation>(Station::build);
    for (int v = 0; v < app::BuildStation::view_count; ++v) {
        station->show_view(static_cast<app::BuildStation::View>(v));
        w.settle();
        w.scan(QString());
        w.scan(QStringLiteral("3.64"));
        for (QAction* action : station->commands())
            if (action->isEnabled() && !action->text().contains(QStringLiteral("…")) &&
                !action->text().contains(QStringLiteral("Match")))
                action->trigger();
        station->show_view(static_cast<app::BuildStation::View>(v));
        (void)station->evidence();
        CHECK_FALSE(station->scan_hint().isEmpty());
    }
    CHECK(w.shop().builds().empty());
}
