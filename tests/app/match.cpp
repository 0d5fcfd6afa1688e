// Match in the window: one build, and several over one stock.
#include "window.h"

#include "app/parts/build_lanes.h"
#include "app/parts/level_view.h"
#include "app/parts/questions.h"
#include "app/parts/ways_view.h"
#include "app/parts/window_bars.h"
#include "app/stations/build/build_station.h"
#include "app/stations/match/match_station.h"
#include "app/stations/match/several_view.h"

#include <QCheckBox>
#include <QComboBox>
#include <QMouseEvent>
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
    REQUIRE(w.wait_for([&] { return several->answer() && !several->searching(); }));
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

TEST_CASE("Job: eight matched cells are bought, used whole, and broken only on purpose (N4)") {
    Window w;
    w.go(Station::receive);
    Window::answer([](QWidget* dialog) {
        const auto type = [&](const char* field, const char* words) {
            dialog->findChild<QLineEdit*>(QString::fromLatin1(field))->setText(QString::fromLatin1(words));
        };
        dialog->findChild<QComboBox*>(QStringLiteral("loose_model"))->setCurrentText(QStringLiteral("H26"));
        type("loose_count", "8");
        type("loose_matched", "the dealer, within 1 %");
        qobject_cast<QDialog*>(dialog)->accept();
    });
    w.command(QStringLiteral("Loose units"));
    w.window.activateWindow();
    w.settle();
    const auto sets = w.shop().inventory().sets_in_stock();
    REQUIRE(sets.size() == 1);
    const auto& [set, units] = *sets.begin();
    REQUIRE(units.size() == 8);
    const QString code = QString::fromStdString(w.shop().unit(units[0])->code());
    // Tested like any others, at Test.
    w.go(Station::test);
    for (std::size_t i = 0; i < units.size(); ++i) {
        w.scan(QString::fromStdString(w.shop().unit(units[i])->code()));
        w.key(Qt::Key_4, Qt::AltModifier);
        w.scan(QStringLiteral("2.5%1").arg(i));
        w.key(Qt::Key_2, Qt::AltModifier);
        w.scan(QStringLiteral("42"));
    }
    REQUIRE(w.shop().unit(units[7])->facts.capacity_ah);
    // Match offers it by name; until then its units are not there.
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    auto* offered = w.find<QComboBox>("match_set");
    REQUIRE(offered->isVisible());
    REQUIRE(offered->count() == 2);
    QAction* breaks = nullptr;
    for (QAction* action : match->commands())
        if (action->text().remove(QLatin1Char('&')).startsWith(QStringLiteral("Break the matched set")))
            breaks = action;
    REQUIRE(breaks != nullptr);
    CHECK_FALSE(breaks->isEnabled());
    w.scan(code);
    CHECK(w.window.told().contains(QStringLiteral("belongs to the matched set")));
    offered->setFocus();
    w.key(Qt::Key_Down);
    CHECK(breaks->isEnabled());
    for (auto* box : match->findChildren<QCheckBox*>()) // whatever their duty
        box->setChecked(true);
    w.find<QSpinBox>("match_series")->setValue(3);
    w.find<QSpinBox>("match_parallel")->setValue(2);
    w.key(Qt::Key_F9);
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    const std::size_t builds = w.shop().builds().size();
    w.key(Qt::Key_Return, Qt::ControlModifier); // six of eight
    CHECK(w.shop().builds().size() == builds);
    CHECK(w.window.told().contains(QStringLiteral("used whole")));
    w.find<QSpinBox>("match_series")->setValue(4);
    w.key(Qt::Key_F9);
    REQUIRE(
        w.wait_for([&] { return !match->searching() && match->has_answer() && match->answer()->groups.size() == 4; }));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    REQUIRE(w.shop().builds().size() == builds + 1);
    const Id build = w.shop().builds().back().id;
    CHECK(w.shop().build().sheet(build).lines.size() == 8);
    // Given up it is a set again; broken, its units are like all others; and back with Ctrl+Z.
    REQUIRE(w.shop().build().give_up(build));
    w.go(Station::match);
    offered->setFocus();
    w.key(Qt::Key_Down);
    REQUIRE(breaks->isEnabled());
    Window::answer_line(QStringLiteral("one of them is for a lantern"));
    breaks->trigger();
    w.window.activateWindow();
    w.settle();
    CHECK(w.shop().inventory().sets_in_stock().empty());
    CHECK_FALSE(offered->isVisible());
    CHECK_FALSE(breaks->isEnabled());
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().inventory().sets_in_stock().size() == 1);
    CHECK(w.shop().receive().particulars(set).at(ParticularKind::matched_set) == "the dealer, within 1 %");
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

TEST_CASE("Match: what it is to keep is asked, named, kept in the answer, and its cost is said") {
    Window w;
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    match->start_search();
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    const double free_ah = match->answer()->usable_ah;
    auto* demands = w.find<QComboBox>("match_demands");
    CHECK(demands->currentText() == QStringLiteral("nothing"));
    Window::answer([](QWidget* dialog) {
        auto* box = qobject_cast<app::QuestionBox*>(dialog);
        for (QCheckBox* check : box->findChildren<QCheckBox*>())
            if (check->text().contains(QStringLiteral("one model")))
                check->setChecked(true);
        box->findChildren<QLineEdit*>().last()->setText(QStringLiteral("one kind"));
        box->accept();
    });
    demands->setCurrentIndex(demands->count() - 1); // ask…
    emit demands->activated(demands->currentIndex());
    w.window.activateWindow();
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    CHECK(demands->currentText() == QStringLiteral("one kind"));
    REQUIRE(w.shop().match().named_demands().size() == 1);
    for (const GroupSums& group : match->answer()->groups) {
        std::set<std::string> models;
        for (const std::size_t u : group.units)
            models.insert(w.shop().unit(match->unit_of(u))->record.model);
        CHECK(models.size() == 1);
    }
    CHECK(match->answer()->usable_ah <= free_ah + 1e-9);
    REQUIRE(w.wait_for(
        [&] { return match->evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("levelness")); }));
    CHECK(match->evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("Kept: one model in each group")));
    demands->setCurrentIndex(0);
    emit demands->activated(0);
    REQUIRE(w.wait_for([&] { return !match->searching(); }));
    CHECK_FALSE(match->demands().demands.any());
}

TEST_CASE("Match: units are exchanged by keys and by drag with the figures in sight, kept beside, and taken back") {
    Window w;
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    match->start_search();
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    auto* level = match->level_view();
    const MatchResult searched = *match->answer();
    const auto code_at = [&](std::size_t g, std::size_t k) {
        return QString::fromStdString(w.shop().unit(match->unit_of(searched.groups[g].units[k]))->code());
    };
    const QString a = code_at(0, 0);
    const QString b = code_at(1, 1);
    level->select(0, a);
    emit level->chosen(0, a);
    CHECK(match->evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("Why here")));
    w.key(Qt::Key_F4);
    CHECK(match->scan_hint().contains(QStringLiteral("exchange")));
    w.scan(b);
    CHECK(match->evidence().subject.contains(a));
    CHECK(match->evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("usable")));
    CHECK(match->answer()->levelness == searched.levelness); // looked at, not done
    w.key(Qt::Key_Escape);
    CHECK_FALSE(match->evidence().subject.contains(QStringLiteral(" for ")));
    level->select(0, a);
    w.key(Qt::Key_F4);
    w.scan(b);
    w.key(Qt::Key_F4); // does it
    const auto& now = match->answer()->groups[1].units;
    CHECK(std::find(now.begin(), now.end(), searched.groups[0].units[0]) != now.end());
    CHECK(match->answer()->levelness != searched.levelness);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(match->answer()->levelness == searched.levelness);
    // By drag.
    const QPoint from = level->unit_box(2, 0).center().toPoint();
    const QPoint to = level->unit_box(3, 0).center().toPoint();
    QTest::mousePress(level, Qt::LeftButton, {}, from);
    QMouseEvent move(QEvent::MouseMove, to, level->mapToGlobal(to), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(level, &move);
    CHECK(match->evidence().subject.contains(QStringLiteral(" for ")));
    QTest::mouseRelease(level, Qt::LeftButton, {}, to);
    w.settle();
    CHECK(match->answer()->groups[3].units != searched.groups[3].units);
    // Kept beside a new search, and chosen again.
    const double by_hand = match->answer()->levelness;
    for (QAction* action : match->commands())
        if (action->text().contains(QStringLiteral("Keep this")))
            action->trigger();
    match->start_search();
    REQUIRE(w.wait_for([&] { return !match->searching(); }));
    auto* ways = match->findChild<app::WaysView*>();
    ways->setFocus();
    for (int i = 0; i < 4; ++i)
        QTest::keyClick(ways, Qt::Key_Down);
    w.settle();
    CHECK(match->answer()->levelness == by_hand);
    // A unit of the stock that is not in the pool of the answer is refused in words.
    level->select(0, code_at(0, 0));
    w.key(Qt::Key_F4);
    for (const UnitState& unit : w.shop().units())
        if (unit.in_stock() && !unit.quarantined && unit.facts.chemistry == "lfp") {
            w.scan(QString::fromStdString(unit.code()));
            break;
        }
    CHECK(w.window.told().contains(QStringLiteral("not in the pool")));
}

TEST_CASE("Match: a search goes on longer from its answer, by keys, and never falls behind it") {
    Window w;
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    w.find<QSpinBox>("match_series")->setValue(5);
    w.key(Qt::Key_F9, Qt::ShiftModifier); // nothing to go on from yet
    CHECK_FALSE(match->searching());
    w.key(Qt::Key_F9);
    REQUIRE(w.wait_for([&] { return match->has_answer() && !match->searching(); }));
    const double first = match->answer()->levelness;
    w.key(Qt::Key_F9, Qt::ShiftModifier);
    CHECK(match->searching());
    REQUIRE(w.wait_for([&] { return !match->searching(); }));
    const double second = match->answer()->levelness;
    CHECK(second <= first + 1e-12);
}

TEST_CASE("Match: a pair that is kept apart shares no group in the next answer") {
    Window w;
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    match->start_search();
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    const Id a = match->unit_of(match->answer()->groups[0].units[0]);
    const Id b = match->unit_of(match->answer()->groups[0].units[1]);
    const auto code = [&](Id id) { return QString::fromStdString(w.shop().unit(id)->code()); };
    match->level_view()->select(0, code(a));
    Window::answer_line(code(b));
    for (QAction* action : match->commands())
        if (action->text().contains(QStringLiteral("part from")))
            action->trigger();
    w.window.activateWindow();
    w.settle();
    match->start_search();
    REQUIRE(w.wait_for([&] { return !match->searching(); }));
    for (const GroupSums& group : match->answer()->groups) {
        int met = 0;
        for (const std::size_t u : group.units)
            met += match->unit_of(u) == a || match->unit_of(u) == b ? 1 : 0;
        CHECK(met < 2);
    }
}

TEST_CASE("Match: a pack that was opened in part is refilled by keys, as one of the builds, and put in at Build") {
    Window w;
    w.go(Station::match);
    auto* match = w.view<app::MatchStation>(Station::match);
    w.key(Qt::Key_B, Qt::AltModifier);
    w.settle();
    // Nothing was opened in part yet: that is said, with what to do.
    for (const Refill& refill : w.shop().build().refills())
        REQUIRE(w.shop().build().begin_refill(refill.pack));
    w.press(QStringLiteral("Refill a pack…"));
    CHECK(w.window.told().contains(QStringLiteral("Open one in part first")));
    Id pack = 0;
    for (const Assembly& p : w.shop().packs())
        if (p.state == AssemblyState::in_triage && p.chemistry == "nmc" && p.layout.series > 2 &&
            !w.shop().receive().held(p))
            pack = p.id;
    REQUIRE(pack != 0);
    REQUIRE(w.shop().open().open_pack(pack, "R7", "H26", "", {2}));
    const Assembly before = *w.shop().pack(pack);
    Window::answer([](QWidget* dialog) {
        auto* choices = dialog->findChild<QComboBox*>();
        REQUIRE(choices != nullptr);
        CHECK(choices->currentText().contains(QStringLiteral("place 2")));
        qobject_cast<app::QuestionBox*>(dialog)->accept();
    });
    w.press(QStringLiteral("Refill a pack…"));
    w.window.activateWindow();
    w.settle();
    const Id build = match->several_view()->chosen_build();
    REQUIRE(build != 0);
    CHECK(w.shop().build_of(build)->layout == PackLayout{1, before.layout.parallel, before.layout.cells_per_unit});
    CHECK(match->evidence().notes.join(QLatin1Char(' ')).contains(QString::fromStdString(before.label)));
    auto* lanes = match->several_view()->lanes();
    lanes->setFocus();
    QTest::keyClick(lanes, Qt::Key_Return);
    REQUIRE(w.wait_for([&] { return !match->searching() && match->has_answer(); }));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    CHECK(w.window.route()->current() == Station::build);
    for (const BuildLine& line : w.shop().build().sheet(build).lines)
        w.scan(QString::fromStdString(line.code));
    CHECK(w.shop().build_of(build)->state == AssemblyState::taken);
    Measurement level;
    level.value = 3.64;
    for (const BuildLine& line : w.shop().build().sheet(build).lines)
        REQUIRE(w.shop().test().record_reading(line.unit, level));
    Measurement ohm;
    ohm.quantity = Quantity::dc_resistance;
    ohm.value = 0.05;
    for (const BuildLine& line : w.shop().build().sheet(build).lines)
        if (!line.resistance_ohm)
            REQUIRE(w.shop().test().record_reading(line.unit, ohm));
    while (const auto next = w.shop().build().next_item(build))
        REQUIRE(w.shop().build().tick(build, next->first, next->second));
    w.settle();
    REQUIRE(w.shop().build_of(build)->state == AssemblyState::joined);
    w.command(QStringLiteral("Put into its pack"));
    CHECK(w.shop().triage().groups_taken_out(pack).empty());
    w.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.shop().triage().groups_taken_out(pack) == std::vector<int>{2});
}
