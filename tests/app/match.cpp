// Match in the window: one build, and several over one stock.
#include "window.h"

#include "app/parts/build_lanes.h"
#include "app/parts/window_bars.h"
#include "app/stations/build/build_station.h"
#include "app/stations/match/match_station.h"
#include "app/stations/match/several_view.h"

#include <QComboBox>
#include <QSpinBox>

using namespace ingot;
using namespace ingot::tests;

TEST_CASE("Several builds over one stock: who gets what, in which order, and what is met is reserved by one key") {
    Window w;
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    w.key(Qt::Key_B, Qt::AltModifier);
    auto* several = match->several_view();
    REQUIRE(several->isVisible());
    w.settle();
    auto* lanes = several->lanes();
    REQUIRE(lanes->lanes().size() == 4);
    REQUIRE(several->answer());
    CHECK(lanes->lanes()[0].name == QStringLiteral("B-015, mower pack"));
    CHECK(lanes->lanes()[0].state == app::BuildLane::State::met);
    CHECK(lanes->lanes()[0].usable_ah >= *lanes->lanes()[0].wanted_ah - 5e-4);
    CHECK(lanes->lanes()[3].state != app::BuildLane::State::met);
    // No unit stands in two lanes.
    std::set<std::size_t> seen;
    for (const app::BuildLane& lane : lanes->lanes())
        for (const std::size_t rank : lane.ranks)
            CHECK(seen.insert(rank).second);
    // By keys to the last; it says what the others cost it and the ways out.
    lanes->setFocus();
    for (int i = 0; i < 3; ++i)
        QTest::keyClick(lanes, Qt::Key_Down);
    w.settle();
    CHECK(match->evidence().subject.startsWith(QStringLiteral("B-018")));
    CHECK_FALSE(match->evidence().ways.empty());
    w.key(Qt::Key_Up, Qt::ControlModifier);
    CHECK(lanes->lanes()[2].name == QStringLiteral("B-018, mower pack"));
    CHECK(lanes->chosen() == 2); // what was chosen stays chosen
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(lanes->lanes()[3].name == QStringLiteral("B-018, mower pack"));
    // A label says who gets the unit.
    const AllotAnswer answer = *several->answer();
    const Id given = answer.question.units[answer.result.builds[1].match.groups[0].units[0]];
    w.scan(QString::fromStdString(w.shop().unit(given)->code()));
    CHECK(w.window.told().contains(QStringLiteral("B-016")));
    const Id left = answer.question.units[answer.result.left.front()];
    w.scan(QString::fromStdString(w.shop().unit(left)->code()));
    CHECK((w.window.told().contains(QStringLiteral("left over")) ||
           w.window.told().contains(QStringLiteral("not in the stock"))));
    // What is met is reserved; what is not, waits on.
    std::size_t met = 0;
    for (std::size_t b = 0; b < answer.question.builds.size(); ++b)
        met += answer.met(b) ? 1 : 0;
    w.key(Qt::Key_Return, Qt::ControlModifier | Qt::ShiftModifier);
    w.settle();
    CHECK(w.shop().inventory().wanting().size() == 4 - met);
    CHECK(w.shop().build().sheet(answer.question.builds[0]).lines.size() == 28);
    // Another rule set gives other units their duties: the answer follows it.
    const auto fit = [&] {
        const auto& waits = several->answer()->question.waits;
        return std::count(waits.begin(), waits.end(), 0);
    };
    const auto before = fit();
    REQUIRE(w.shop().sort().choose_rules("thrift"));
    w.settle();
    CHECK(fit() > before);
    for (const BuildLine& line : w.shop().build().sheet(answer.question.builds[0]).lines)
        CHECK_FALSE(w.shop().unit(line.unit)->in_stock());
}

TEST_CASE("A build is added by one line, opened with Enter, searched and reserved for itself") {
    Window w;
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    w.key(Qt::Key_B, Qt::AltModifier);
    w.settle();
    Window::answer_line(QStringLiteral("exit light 2S2P 4,1 store"));
    w.press(QStringLiteral("Add a build…"));
    w.window.activateWindow();
    w.settle();
    auto* lanes = match->several_view()->lanes();
    REQUIRE(lanes->lanes().size() == 5);
    CHECK(lanes->lanes()[4].name == QStringLiteral("B-019, exit light"));
    CHECK(lanes->chosen() == 4);
    const Id build = match->several_view()->chosen_build();
    lanes->setFocus();
    QTest::keyClick(lanes, Qt::Key_Return);
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    CHECK(w.find<QSpinBox>("match_series")->value() == 2);
    CHECK(w.find<QSpinBox>("match_parallel")->value() == 2);
    w.key(Qt::Key_Return, Qt::ControlModifier);
    CHECK(w.window.route()->current() == Station::build);
    CHECK(w.view<app::BuildStation>(Station::build)->build() == build);
    CHECK(w.shop().build().sheet(build).lines.size() == 4);
    CHECK(w.shop().build_of(build)->label == "B-019");
}

TEST_CASE("N39: a build begins with its device: a design is taken, Match finds its units, Build shows them") {
    Window w;
    w.go(Station::build);
    auto* build = w.view<app::BuildStation>(Station::build);
    Window::answer_line(QStringLiteral("mower pack 1S1P"));
    for (QAction* command : build->commands())
        if (command->text().remove(QLatin1Char('&')).contains(QStringLiteral("Begin")))
            command->trigger();
    w.window.activateWindow();
    w.settle();
    const Id id = build->build();
    REQUIRE(w.shop().build_of(id)->label == "B-019");
    CHECK(build->view() == app::BuildStation::View::need);
    for (const char* figure : {"15", "25.2", "30", "8"}) { // off, nominal, bears, continuous
        w.scan(QString::fromLatin1(figure));
        w.settle();
    }
    CHECK(w.shop().build().design(id).number(DesignFigure::nominal_v) == Approx(25.2));
    const auto trigger = [&](const char* word) {
        for (QAction* command : build->commands())
            if (command->text().remove(QLatin1Char('&')).contains(QString::fromLatin1(word))) {
                REQUIRE(command->isEnabled());
                command->trigger();
                w.settle();
                return;
            }
        FAIL("no command " << word);
    };
    auto* bars = w.window.findChild<app::WindowBars*>();
    const auto choose_lithium = [&] { // of which there is stock
        bars->setFocus();
        for (int i = 0; i < 20 && (bars->chosen() == nullptr || bars->chosen()->chemistry != "nmc"); ++i)
            QTest::keyClick(bars, Qt::Key_Down);
        w.settle();
        REQUIRE(bars->chosen() != nullptr);
        REQUIRE(bars->chosen()->chemistry == "nmc");
    };
    choose_lithium();
    trigger("Take the design");
    const PackLayout taken = w.shop().build_of(id)->layout;
    CHECK(taken.units() > 1);
    CHECK_FALSE(w.shop().build_of(id)->chemistry.empty());
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().build_of(id)->layout == PackLayout{1, 1, 1});
    choose_lithium();
    trigger("Take the design");
    trigger("Find units in Match");
    CHECK(w.window.route()->current() == Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    CHECK(w.find<QSpinBox>("match_series")->value() == taken.series);
    CHECK(w.find<QSpinBox>("match_parallel")->value() == taken.parallel);
    w.key(Qt::Key_F9);
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    CHECK(build->build() == id);
    CHECK(static_cast<int>(w.shop().build().sheet(id).lines.size()) == taken.units());
}
