// The bays in the real window: sixteen units through load, capacity, verdict and swap on the simulated tester; faults;
// the plan; the conditioning; curves and files.
#include "window.h"

#include "app/parts/bay_wall.h"
#include "app/parts/bench_clock.h"
#include "app/parts/choice_row.h"
#include "app/parts/conditioning_view.h"
#include "app/parts/plan_lanes.h"
#include "app/parts/run_plot.h"
#include "app/stations/test/bench_view.h"
#include "app/stations/test/test_station.h"
#include "app/theme/theme.h"
#include "bench/bench_process.h"
#include "exchange/log_csv.h"
#include "sanitized.h"

#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMenuBar>

#include <ctime>

using namespace ingot;
using namespace ingot::tests;

namespace {

struct BenchWindow : Window {
    Temporary at_tester;
    SimProcess sim;
    explicit BenchWindow(int bays = 8, double rate = 4000)
        : sim(at_tester,
              {QStringLiteral("--bays"), QString::number(bays), QStringLiteral("--seed"), QStringLiteral("4")}) {
        go(Station::test);
        bench().bays().set_rate(rate);
        bench().bays().set_sample_interval(20);
        bench().bays().set_poll_interval(20);
    }
    [[nodiscard]] app::BenchView& bench() const { return *window.bench(); }
    [[nodiscard]] Bays& bays() const { return bench().bays(); }
    void attach() {
        command(QStringLiteral("Attach a tester"));
        scan(QString::fromStdString(sim.address()));
        REQUIRE(wait_for([&] { return bays().ready(); }));
        key(Qt::Key_Escape); // back to where the page was asked for
        REQUIRE(window.current_view() == window.view(Station::test));
    }
    void command(const QString& words) {
        for (QAction* action : window.view(Station::test)->commands())
            if (action->text().remove(QLatin1Char('&')).startsWith(words)) {
                action->trigger();
                settle();
                return;
            }
        FAIL("no command " << words.toStdString());
    }
    // Units that may go on a bay.
    [[nodiscard]] std::vector<Id> units(const std::string& chemistry, std::size_t count) const {
        std::vector<Id> out;
        for (const UnitState& unit : shop().units())
            if (out.size() < count && unit.in_stock() && unit.verdict.duty != Duty::quarantine &&
                unit.facts.chemistry == chemistry && unit.reference.rated_ah > 0 &&
                bays()
                    .objections(unit.record.id, *shop().library().protocol(bays().usual_protocol(unit.record.id)))
                    .empty())
                out.push_back(unit.record.id);
        return out;
    }
    [[nodiscard]] QString code(Id unit) const { return QString::fromStdString(shop().unit(unit)->code()); }
    void choose_protocol(const char* id) const {
        auto* box = window.findChild<QComboBox*>(QStringLiteral("protocol"));
        box->setCurrentIndex(box->findData(QString::fromLatin1(id)));
    }
    [[nodiscard]] int looking(BayLook look) const {
        return static_cast<int>(std::count_if(bays().bays().begin(), bays().bays().end(),
                                              [&](const BayView& b) { return b.look == look; }));
    }
    static void save_as(const std::string& path) {
        answer([path](QWidget* dialog) {
            auto* files = qobject_cast<QFileDialog*>(dialog);
            REQUIRE(files != nullptr);
            files->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"))->setText(QString::fromStdString(path));
            static_cast<QDialog*>(files)->accept();
        });
    }
};

} // namespace

TEST_CASE("Sixteen units through the bays: scanned in, measured, swapped; faults say what they mean") {
    BenchWindow w(16);
    w.attach();
    REQUIRE(w.bays().bays().size() == 16);
    CHECK(w.window.height() == 800);
    CHECK(w.window.width() == 1280);
    const auto cells = w.units("nmc", 17);
    REQUIRE(cells.size() == 17);
    w.choose_protocol("li-capacity-quick");
    w.bays().set_fault(w.code(cells[3]).toStdString(), "overheating");
    w.bays().set_fault(w.code(cells[7]).toStdString(), "loose-clip");
    for (int b = 1; b <= 16; ++b) {
        w.scan(w.code(cells[static_cast<std::size_t>(b) - 1]));
        w.scan(QStringLiteral("B%1").arg(b));
        w.scan(QStringLiteral("yes"));
    }
    CHECK(w.looking(BayLook::free) == 0);
    REQUIRE(w.wait_for([&] { return w.looking(BayLook::lift_out) + w.looking(BayLook::stopped) == 16; }, 60'000));
    CHECK(w.looking(BayLook::stopped) == 2);
    CHECK(w.bays().bays()[3].stop == bench::StepEnd::hot);
    CHECK(w.bays().bays()[7].stop == bench::StepEnd::open);
    CHECK(w.shop().unit(cells[3])->quarantined);
    for (int b = 1; b <= 16; ++b)
        if (b != 4 && b != 8) {
            INFO(b);
            const UnitFacts& facts = w.shop().unit(cells[static_cast<std::size_t>(b) - 1])->facts;
            REQUIRE(facts.capacity_ah);
            CHECK(*facts.capacity_ah > 0.5 * w.shop().unit(cells[static_cast<std::size_t>(b) - 1])->reference.rated_ah);
        }
    // The bar tells what it means for the unit, the wall can be walked, Evidence follows.
    auto* wall = w.bench().wall();
    wall->setFocus();
    QTest::mouseClick(wall, Qt::LeftButton, {}, wall->place_of(4).center().toPoint());
    w.settle();
    CHECK(w.bench().chosen_bay() == 4);
    const auto evidence = w.window.view(Station::test)->evidence();
    CHECK(evidence.subject.contains(w.code(cells[3])));
    CHECK(evidence.line.contains(QStringLiteral("too hot")));
    CHECK(app::BayWall::spoken(w.bays().bays()[3], 1).contains(QStringLiteral("stopped")));
    QTest::keyClick(wall, Qt::Key_Right);
    CHECK(w.bench().chosen_bay() == 5);
    QTest::keyClick(wall, Qt::Key_Down);
    CHECK(w.bench().chosen_bay() == 5); // one tester: one row
    // Swap: scan the bay to lift out, then the next unit and the bay.
    w.scan(QStringLiteral("b 1"));
    CHECK(w.bays().bays()[0].look == BayLook::free);
    w.scan(w.code(cells[16]));
    w.scan(QStringLiteral("bay 1"));
    CHECK(w.bays().bays()[0].look == BayLook::free); // it is only offered
    w.scan(QStringLiteral("bay 1"));                 // the scanner read twice at once
    CHECK(w.bays().bays()[0].look == BayLook::free);
    w.wait_for([] { return false; }, 600);
    w.scan(QStringLiteral("bay 1"));
    CHECK(w.bays().bays()[0].code == w.code(cells[16]).toStdString());
    CHECK(w.window.bench_clock()->isVisible());
    // A hazard is not put on a bay again.
    w.scan(QStringLiteral("B2"));
    w.scan(w.code(cells[3]));
    w.scan(QStringLiteral("B2"));
    CHECK(w.bays().bays()[1].look == BayLook::free);
    CHECK(w.window.told().contains(QStringLiteral("is in bay 4 already")));
    w.scan(QStringLiteral("B99"));
    CHECK(w.window.told().contains(QStringLiteral("no bay 99")));
    // The bar follows the evening's colours.
    app::Theme::instance().apply(app::Theme::Appearance::dark);
    w.settle();
    CHECK(w.find<QWidget>("message_bar")->palette().color(QPalette::Window) == app::colours().brass_ground);
    app::Theme::instance().apply(app::Theme::Appearance::light);
}

TEST_CASE("K20: a double-click, Enter or Space on a free bay starts nothing; unit, bay, yes does") {
    BenchWindow w;
    w.attach();
    const auto cells = w.units("nmc", 2);
    auto* wall = w.bench().wall();
    const auto idle = [&] {
        w.wait_for([] { return false; }, 700); // longer than a scanner's double reading counts as one
        return w.looking(BayLook::free) == 8;
    };
    w.scan(w.code(cells[0]));
    QTest::mouseDClick(wall, Qt::LeftButton, {}, wall->place_of(2).center().toPoint());
    CHECK(idle());
    CHECK(w.bench().offered());
    CHECK(w.find<QLabel>("offer_words")->text().contains(w.code(cells[0])));
    wall->setFocus();
    for (const auto key : {Qt::Key_Return, Qt::Key_Space, Qt::Key_Return}) {
        QTest::keyClick(wall, key);
        CHECK(idle());
    }
    QTest::mouseDClick(wall, Qt::LeftButton, {}, wall->place_of(2).center().toPoint());
    CHECK(idle());
    w.press(QStringLiteral("Not now"));
    CHECK_FALSE(w.bench().offered());
    w.scan(QStringLiteral("yes")); // nothing is offered
    CHECK(idle());
    w.scan(w.code(cells[0]));
    w.scan(QStringLiteral("B2"));
    w.scan(QStringLiteral("B3")); // another bay is another offer
    CHECK(idle());
    w.scan(QStringLiteral("yes"));
    CHECK(w.wait_for([&] { return w.bays().bays()[2].look == BayLook::running; }));
    CHECK(w.looking(BayLook::free) == 7);
}

TEST_CASE("Modules are cycled to a verdict that the window shows") {
    BenchWindow w(8, 10'000);
    w.bays().set_sample_interval(60);
    w.attach();
    const auto modules = w.units("nimh", 4);
    REQUIRE(modules.size() == 4);
    for (int b = 1; b <= 4; ++b) {
        w.scan(w.code(modules[static_cast<std::size_t>(b) - 1]));
        w.scan(QStringLiteral("B%1").arg(b));
        w.scan(QStringLiteral("yes"));
    }
    REQUIRE(w.wait_for([&] { return w.looking(BayLook::lift_out) == 4; }, 90'000));
    w.command(QStringLiteral("Page: conditioning"));
    auto* view = w.bench().conditioning();
    REQUIRE(view->rows() == 4);
    QTest::mouseClick(view, Qt::LeftButton, {}, view->row_at(2).center().toPoint());
    w.settle();
    REQUIRE(view->chosen() != nullptr);
    CHECK(view->chosen()->cycles.size() == 3);
    CHECK(w.view<app::TestStation>(Station::test)->unit() == view->chosen()->unit);
    CHECK(view->accessibleDescription().contains(QString::fromStdString(view->chosen()->code)));
    QTest::keyClick(view, Qt::Key_Up);
    CHECK(view->chosen()->unit != 0);
}

TEST_CASE("The plan of the waiting modules is drawn, dragged and exported") {
    BenchWindow w;
    w.attach();
    Window::answer([](QWidget* dialog) {
        REQUIRE(dialog->findChild<QLineEdit*>(QStringLiteral("shift")) != nullptr);
        dialog->findChild<QLineEdit*>(QStringLiteral("shift"))->setText(QStringLiteral("00:00-24:00"));
        dialog->findChild<QLineEdit*>(QStringLiteral("days"))->setText(QStringLiteral("mon-sun"));
        dialog->findChild<QLineEdit*>(QStringLiteral("supply"))->setText(QStringLiteral("12,5"));
        qobject_cast<QDialog*>(dialog)->accept();
    });
    w.command(QStringLiteral("Attended hours"));
    CHECK(*w.bench().schedule().hours().supply_a == Approx(12.5));
    Window::answer([](QWidget* dialog) {
        auto* packs = dialog->findChild<QComboBox*>();
        for (int i = 0; i < packs->count(); ++i)
            if (packs->itemText(i).startsWith(QStringLiteral("BUO")) ||
                packs->itemText(i).contains(QStringLiteral("28 units")))
                packs->setCurrentIndex(i);
        qobject_cast<QDialog*>(dialog)->accept();
    });
    w.command(QStringLiteral("Let units wait"));
    constexpr int patience_ms = 120'000; // a sanitizer makes the search slow
    REQUIRE(w.wait_for([&] { return !w.bench().planning() && w.bench().lanes()->planned().has_value(); }, patience_ms));
    const auto first = *w.bench().lanes()->planned();
    CHECK(first.plan.jobs.size() >= 12);
    CHECK_FALSE(objection_to_plan(first.problem, first.plan));
    CHECK(w.find<QLabel>("plan_words")->text().contains(QStringLiteral("visits")));
    // Dragging a later job to the right insists on a start.
    auto* lanes = w.bench().lanes();
    std::size_t last = 0;
    for (std::size_t i = 0; i < first.plan.jobs.size(); ++i)
        if (first.plan.jobs[i].start_h > first.plan.jobs[last].start_h)
            last = i;
    const Id insisted = first.units[first.plan.jobs[last].job];
    const QPoint from = lanes->place_of(last).center().toPoint();
    QTest::mousePress(lanes, Qt::LeftButton, {}, from);
    QTest::mouseMove(lanes, from + QPoint(10, 0));
    QMouseEvent move(QEvent::MouseMove, QPointF(from + QPoint(24, 0)),
                     lanes->mapToGlobal(QPointF(from + QPoint(24, 0))), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(lanes, &move);
    QTest::mouseRelease(lanes, Qt::LeftButton, {}, from + QPoint(24, 0));
    REQUIRE(w.wait_for(
        [&] {
            return !w.bench().planning() &&
                   std::any_of(lanes->planned()->problem.jobs.begin(), lanes->planned()->problem.jobs.end(),
                               [](const PlanJob& job) { return job.start_h && *job.start_h > 0; });
        },
        patience_ms));
    const auto second = *lanes->planned();
    CHECK_FALSE(objection_to_plan(second.problem, second.plan));
    bool kept = false;
    for (const auto& waiting : w.bench().schedule().queue())
        kept = kept || (waiting.unit == insisted && !waiting.insisted_at.empty());
    CHECK(kept);
    const std::string path = w.file("visits.ics");
    BenchWindow::save_as(path);
    w.command(QStringLiteral("Export the visits"));
    REQUIRE(w.wait_for([&] { return std::filesystem::exists(path); }));
    CHECK(Temporary::read(path).find("BEGIN:VEVENT") != std::string::npos);
    CHECK(w.window.bench_clock()->headline().size() > 4);
}

TEST_CASE("Curves are read off and saved; the log is exported in both forms") {
    BenchWindow w;
    w.attach();
    const auto cells = w.units("nmc", 1);
    w.choose_protocol("li-capacity-quick");
    w.scan(w.code(cells[0]));
    w.scan(QStringLiteral("B1"));
    w.press(QStringLiteral("Start"));
    REQUIRE(w.wait_for([&] { return w.looking(BayLook::lift_out) == 1; }, 60'000));
    w.command(QStringLiteral("Page: curves"));
    auto* plot = w.bench().plot();
    CHECK(plot->curves() >= 1);
    plot->show_over_amount(true);
    CHECK(plot->band_shown()); // siblings with logs in the demo
    plot->show_over_amount(false);
    const std::string png = w.file("curves.png");
    const std::string svg = w.file("curves.svg");
    CHECK(plot->save_picture(QString::fromStdString(png)));
    CHECK(plot->save_picture(QString::fromStdString(svg)));
    CHECK(Temporary::read(png).substr(1, 3) == "PNG");
    CHECK(Temporary::read(svg).find("<svg") != std::string::npos);
    const std::string csv = w.file("log.csv");
    BenchWindow::save_as(csv);
    w.command(QStringLiteral("Save the log (CSV)"));
    const auto read = exchange::read_log(Temporary::read(csv), csv);
    REQUIRE(read);
    LogSamples samples = read.value().samples;
    const auto measured = measure_capacity(samples, {{}, 3.01, {}, 1, {}});
    REQUIRE(measured.discharge_capacity_ah);
    // The tester counts every ampere-second, its log only samples them.
    CHECK(*measured.discharge_capacity_ah == Approx(*w.shop().unit(cells[0])->facts.capacity_ah).epsilon(5e-3));
    const std::string bdf = w.file("log.bdf.csv");
    BenchWindow::save_as(bdf);
    w.command(QStringLiteral("Save the log (Battery"));
    const std::string text = Temporary::read(bdf);
    CHECK(text.rfind("Test Time / s,Voltage / V,Current / A,Step Count / 1,Charging Capacity / Ah", 0) == 0);
    CHECK(exchange::read_log(text, bdf)); // and Ingot reads it
}

TEST_CASE("64 bays at ten readings a second leave the window idle most of the time") {
    BenchWindow w(64, 1);
    w.bays().set_sample_interval(0.1);
    w.bays().set_poll_interval(100);
    w.attach();
    REQUIRE(w.bays().bays().size() == 64);
    CHECK(w.window.height() == 800);
    const auto cells = w.units("nmc", 64);
    REQUIRE(cells.size() == 64);
    for (int b = 1; b <= 64; ++b)
        REQUIRE(w.bays().put_in(cells[static_cast<std::size_t>(b) - 1], b, "li-capacity"));
    REQUIRE(w.wait_for([&] { return w.looking(BayLook::running) == 64; }));
    w.wait_for([] { return false; }, 1000);
    const std::clock_t before = std::clock();
    const std::uint64_t from = w.bays().tester(w.bays().testers().front().place.address)->last_sequence();
    QElapsedTimer wall;
    wall.start();
    // As the event loop of the application does: sleeps until something comes.
    QEventLoop loop;
    QTimer::singleShot(4000, &loop, &QEventLoop::quit);
    loop.exec();
    const double share =
        static_cast<double>(std::clock() - before) / CLOCKS_PER_SEC / (static_cast<double>(wall.elapsed()) / 1000);
    const auto samples = w.bays().tester(w.bays().testers().front().place.address)->last_sequence() - from;
    WARN("64 bays, " << samples << " samples in 4 s, " << 100 * share << " % of one core");
    // The figures come from benchmark_bench; this only catches a blunder, and not under a sanitizer.
    if (!sanitized) {
        CHECK(samples > 1000); // of 2560
        CHECK(share < 0.5);
    }
    for (const BayView& bay : w.bays().bays())
        CHECK(bay.gaps == 0);
}

TEST_CASE("N28: modules in series and a whole pack on bays in the window; what is seen there is noted there (N38)") {
    BenchWindow w(8);
    w.attach();
    const auto modules = w.units("nimh", 2);
    REQUIRE(modules.size() == 2);
    const QString codes = w.code(modules[0]) + QLatin1Char(' ') + w.code(modules[1]);
    const auto put = [&](const QString& command, const std::function<void(QWidget*)>& fill) {
        BenchWindow::answer([fill](QWidget* dialog) {
            fill(dialog);
            qobject_cast<QDialog*>(dialog)->accept();
        });
        w.window.activateWindow();
        w.command(command);
        w.settle();
    };
    put(QStringLiteral("Put units in series in a bay"),
        [&](QWidget* dialog) { dialog->findChild<QLineEdit*>()->setText(codes); });
    auto* offer = w.window.findChild<QLabel*>(QStringLiteral("offer_words"));
    const bool one_model = w.shop().unit(modules[0])->record.model == w.shop().unit(modules[1])->record.model;
    REQUIRE(one_model);
    REQUIRE(offer->isVisible());
    CHECK(offer->text().contains(QStringLiteral("+ 1 in series")));
    CHECK(w.looking(BayLook::free) == 8); // nothing starts before it is said again
    w.scan(QStringLiteral("yes"));
    REQUIRE(w.wait_for([&] { return w.bays().bay_of(modules[1]) != nullptr; }));
    const int bay = w.bays().bay_of(modules[1])->bay;
    REQUIRE(w.wait_for([&] { return w.bays().bay(bay)->look == BayLook::running; }));
    CHECK(w.bays().bay_of(modules[0])->bay == bay);
    // Evidence of either is that bay's.
    w.scan(w.code(modules[1]));
    CHECK(w.window.view(Station::test)->evidence().subject.contains(QStringLiteral("+ 1 in series")));
    // A pack that nothing watches is refused with the reason.
    Assembly pack;
    pack.lot = w.shop().lots().front().id;
    pack.label = "AAA stick";
    pack.chemistry = "nmc";
    pack.layout = {2, 1, 1};
    pack.claim.capacity_ah = 2.6;
    const Id id = w.shop().receive().add_pack(pack).value();
    const auto choose_pack = [&](QWidget* dialog) {
        auto* box = dialog->findChild<QComboBox*>(QStringLiteral("which_pack"));
        REQUIRE(box != nullptr);
        box->setCurrentIndex(box->findText(QStringLiteral("AAA stick")));
    };
    put(QStringLiteral("Put a pack in a bay"), choose_pack);
    CHECK(w.window.told().contains(QStringLiteral("protection board")));
    CHECK_FALSE(offer->isVisible());
    REQUIRE(w.shop().receive().note_particulars(id, 0, {{ParticularKind::board, "2S"}}));
    put(QStringLiteral("Put a pack in a bay"), choose_pack);
    REQUIRE(offer->isVisible());
    CHECK(offer->text().contains(QStringLiteral("AAA stick")));
    w.scan(QStringLiteral("yes"));
    REQUIRE(w.wait_for([&] { return w.bays().bay_of_assembly(id) != nullptr; }));
    const int of_pack = w.bays().bay_of_assembly(id)->bay;
    REQUIRE(w.wait_for([&] { return w.bays().bay(of_pack)->look != BayLook::waiting_to_start; }));
    w.bench().choose_bay(of_pack);
    CHECK(w.window.view(Station::test)->evidence().subject.contains(QStringLiteral("AAA stick")));
    w.command(QStringLiteral("Page: curves"));
    CHECK(w.bench().plot()->curves() > 0);
    w.command(QStringLiteral("Page: unit"));
    // Swelling is seen in the bay: noted there, and the unit is held apart.
    w.scan(w.code(modules[0]));
    put(QStringLiteral("Note an inspection finding"), [](QWidget* dialog) {
        auto* box = dialog->findChild<QComboBox*>();
        REQUIRE(box->itemText(0).startsWith(QStringLiteral("Swollen")));
        box->setCurrentIndex(0);
    });
    CHECK(w.shop().unit(modules[0])->quarantined);
    // Terminals cleaned, and the instrument held against another.
    w.scan(w.code(modules[1]));
    put(QStringLiteral("Note an inspection finding"), [](QWidget* dialog) {
        auto* box = dialog->findChild<QComboBox*>();
        for (int i = 0; i < box->count(); ++i)
            if (box->itemText(i).startsWith(QStringLiteral("Terminals cleaned")))
                box->setCurrentIndex(i);
    });
    CHECK_FALSE(w.shop().unit(modules[1])->quarantined);
    const auto& seen = w.shop().unit(modules[1])->findings;
    CHECK(std::find(seen.begin(), seen.end(), "terminals-cleaned") != seen.end());
    put(QStringLiteral("Instrument held against another"), [](QWidget* dialog) {
        dialog->findChild<QLineEdit*>(QStringLiteral("check_which"))->setText(QStringLiteral("bench meter"));
        dialog->findChild<QLineEdit*>(QStringLiteral("check_against"))->setText(QStringLiteral("1 kHz meter"));
        dialog->findChild<QLineEdit*>(QStringLiteral("check_showed"))->setText(QStringLiteral("3.701 and 3.702 V"));
    });
    bool checked = false;
    for (const Instrument& instrument : w.shop().catalogue().instruments())
        checked |= instrument.name == "bench meter" && !instrument.checked_at.empty();
    CHECK(checked);
}
