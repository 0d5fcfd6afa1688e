#include "app/screenshots.h"

#include "app/parts/build_lanes.h"
#include "app/parts/panel.h"
#include "app/parts/run_plot.h"
#include "app/rooms/donors_page.h"
#include "app/shell/main_window.h"
#include "app/stations/build/build_station.h"
#include "app/stations/match/match_station.h"
#include "app/stations/match/several_view.h"
#include "app/stations/prove/prove_station.h"
#include "app/stations/rest/rest_station.h"
#include "app/stations/test/bench_view.h"
#include "app/stations/test/log_import.h"
#include "app/stations/test/test_station.h"
#include "app/stations/triage/triage_station.h"
#include "app/theme/theme.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QPixmap>
#include <QProcess>
#include <QTemporaryDir>
#include <QTimer>

#include <algorithm>
#include <functional>

namespace ingot::app {

namespace {

void settle(const std::function<bool()>& done) {
    QElapsedTimer timer;
    timer.start();
    constexpr int longest_ms = 20'000;
    do {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    } while (!done() && timer.elapsed() < longest_ms);
    for (int i = 0; i < 5; ++i)
        QApplication::processEvents(QEventLoop::AllEvents, 20);
}

// The simulated tester on a socket of its own, for as long as the pictures are made.
class PosedTester {
public:
    explicit PosedTester(const QString& socket) {
        process_.start(QCoreApplication::applicationDirPath() + QStringLiteral("/ingot-sim"),
                       {QStringLiteral("--socket"), socket, QStringLiteral("--seed"), QStringLiteral("4")});
        process_.waitForReadyRead();
    }
    ~PosedTester() {
        process_.kill();
        process_.waitForFinished();
    }
    PosedTester(const PosedTester&) = delete;
    PosedTester& operator=(const PosedTester&) = delete;

private:
    QProcess process_;
};

// Modules cycled to a verdict, then cells at work on eight bays, one of them too hot.
void shoot_bench(MainWindow& window, const std::function<void(const QString&)>& save) {
    const QTemporaryDir folder;
    const QString socket = folder.filePath(QStringLiteral("tester"));
    const PosedTester posed(socket);
    BenchView& bench = *window.bench();
    Bays& bays = bench.bays();
    bays.set_sample_interval(30);
    constexpr double fast = 10'000;
    constexpr int poll_ms = 20;
    bays.set_poll_interval(poll_ms);
    bays.set_rate(fast);
    bench.attach("socket:" + socket.toStdString());
    settle([&] { return bays.ready(); });
    std::vector<Id> modules;
    std::vector<Id> cells;
    for (const UnitState& unit : window.workshop()->units()) {
        if (!unit.in_stock() || unit.verdict.duty == Duty::quarantine)
            continue;
        if (unit.reference.cells_in_series > 1)
            modules.push_back(unit.record.id);
        else if (!unit.facts.capacity_ah && unit.facts.chemistry == "nmc")
            cells.push_back(unit.record.id);
    }
    const auto all_done = [&] {
        return std::none_of(bays.bays().begin(), bays.bays().end(), [](const BayView& b) {
            return b.look == BayLook::running || b.look == BayLook::waiting_to_start;
        });
    };
    for (int b = 1; b <= 8 && b <= static_cast<int>(modules.size()); ++b)
        (void)bays.put_in(modules[static_cast<std::size_t>(b) - 1], b, "ni-conditioning");
    settle(all_done);
    for (int b = 1; b <= 8; ++b)
        (void)bays.lift_out(b);
    bench.show_page(BenchView::Page::conditioning);
    settle([] { return true; });
    save(QStringLiteral("conditioning.png"));
    if (modules.size() > 8)
        (void)bench.schedule().let_wait({modules.begin() + 8, modules.end()}, "ni-conditioning", "row");
    // Cells, one after the other, so that they stand at different steps.
    constexpr double brisk = 4000;
    bays.set_rate(brisk);
    const auto for_ms = [](int ms) {
        QElapsedTimer clock;
        clock.start();
        settle([&] { return clock.elapsed() > ms; });
    };
    int b = 0;
    for (const Id cell : cells) {
        if (b == 7)
            break;
        constexpr int hot_bay = 5;
        bays.set_fault(window.workshop()->unit(cell)->code(), b + 1 == hot_bay ? "overheating" : "");
        if (!bays.put_in(cell, b + 1, "li-capacity-quick")) // found too low to be charged
            continue;
        ++b;
        constexpr int between_ms = 420;
        for_ms(between_ms);
    }
    bays.set_rate(1);
    bench.show_page(BenchView::Page::plan);
    settle([&] { return !bench.planning(); });
    bench.choose_bay(2);
    window.go_to(Station::test);
    constexpr int calm_ms = 700;
    for_ms(calm_ms);
    save(QStringLiteral("bays.png"));
    bench.detach();
    for (const auto& name : {QStringLiteral("alarm_read"), QStringLiteral("message_read")})
        for (int left = 100; left > 0; --left)
            if (auto* read = window.findChild<PressButton*>(name); read != nullptr && read->isVisible())
                read->click();
    settle([] { return true; });
}

// The build joined and proved as far as the load, under which one group sags too far.
void shoot_proof(MainWindow& window, const std::function<void(const QString&)>& save) {
    Workshop& shop = *window.workshop();
    if (shop.builds().empty() || !shop.writable())
        return;
    const Id build = shop.builds().front().id;
    for (const BuildLine& line : shop.build().sheet(build).lines)
        (void)shop.build().take(build, line.unit);
    while (const auto next = shop.build().next_item(build))
        (void)shop.build().tick(build, next->first, next->second);
    const auto read = [&](ProofRound round, const std::vector<double>& groups, std::optional<double> load_a = {}) {
        constexpr double digit = 0.001;
        double sum = 0;
        for (std::size_t g = 0; g < groups.size(); ++g) {
            (void)shop.prove().record(build, round, static_cast<int>(g) + 1, groups[g], digit, load_a);
            sum += groups[g];
        }
        (void)shop.prove().record(build, round, 0, sum, digit, load_a);
    };
    auto& prove_it = shop.prove();
    (void)prove_it.set_bench_sign("T2");
    read(ProofRound::at_rest, {3.640, 3.641, 3.639, 3.642});
    constexpr double megohm = 1e6;
    (void)prove_it.record_item(build, ProofItem::insulation_plus, 50 * megohm, megohm);
    (void)prove_it.record_item(build, ProofItem::insulation_minus, 50 * megohm, megohm);
    (void)prove_it.record_item(build, ProofItem::output, 14.56, 0.01);
    (void)prove_it.answer(build, ProofItem::wakes, ProveService::Answer::yes);
    (void)prove_it.record_item(build, ProofItem::sensor, 10.4e3, 100);
    read(ProofRound::end_of_charge, {4.181, 4.183, 4.178, 4.184});
    constexpr int days = 4;
    shop.set_clock([] { return QDateTime::currentDateTimeUtc().addDays(days); });
    read(ProofRound::after_rest, {4.161, 4.163, 4.159, 4.164});
    constexpr double moderate_a = 6;
    for (int group = 1; group <= 4; ++group)
        for (int place = 1; place <= (group == 4 ? 2 : 4); ++place)
            (void)prove_it.record(build, ProofRound::units, group,
                                  group == 3 && place == 2 ? 4.104 : 4.071 + 0.001 * group, 0.001, moderate_a, place);
    constexpr double load_a = 12;
    read(ProofRound::under_load, {3.981, 3.983, 3.917, 3.984}, load_a);
    shop.set_clock([] { return QDateTime::currentDateTimeUtc(); });
    window.go_to(Station::prove);
    if (auto* prove = qobject_cast<ProveStation*>(window.view(Station::prove)))
        prove->show_round(ProofRound::under_load);
    settle([] { return true; });
    save(QStringLiteral("prove.png"));
}

} // namespace

bool write_screenshots(MainWindow& window, const QString& folder) {
    window.show();
    bool fine = true;
    const auto explained = [&](Id pack) { // or nothing is there to explain
        const TriageService& triage = window.workshop()->triage();
        return triage.explained_at_hand(pack) || triage.triage_case(pack).readings.empty();
    };
    const auto shoot = [&](Station station, const QString& name) {
        window.go_to(station);
        settle([&] {
            auto* rest = qobject_cast<RestStation*>(window.view(station));
            return rest == nullptr || !rest->judging(); // there is nothing to pose before
        });
        window.view(station)->pose();
        QElapsedTimer posed;
        posed.start();
        settle([&] {
            constexpr int begun_ms = 1000; // a search that has not begun by then has nothing to search in (K39)
            auto* match = qobject_cast<MatchStation*>(window.view(station));
            auto* test = qobject_cast<TestStation*>(window.view(station));
            auto* triage = qobject_cast<TriageStation*>(window.view(station));
            return (triage == nullptr || triage->pack() == 0 || explained(triage->pack())) &&
                   (match == nullptr || (!match->searching() && (match->has_answer() || posed.elapsed() > begun_ms))) &&
                   (test == nullptr || !test->log_import()->reading());
        });
        fine &= window.grab().save(folder + QLatin1Char('/') + name);
    };
    shoot(Station::receive, QStringLiteral("receive.png"));
    const auto shoot_room = [&](Room room, const QString& name, Id pack = 0) {
        window.go_to(room, pack);
        settle([&] {
            return room != Room::worth || pack == 0 || explained(pack); // its figures are replaced then
        });
        window.view(room)->pose();
        settle([&] {
            auto* donors = qobject_cast<DonorsPage*>(window.view(room));
            return donors == nullptr || !donors->planning();
        });
        fine &= window.grab().save(folder + QLatin1Char('/') + name);
    };
    const auto first_in = [&](AssemblyState state) {
        for (const Assembly& pack : window.workshop()->packs())
            if (pack.state == state)
                return pack.id;
        return Id(0);
    };
    shoot_room(Room::worth, QStringLiteral("worth.png"), first_in(AssemblyState::in_triage));
    shoot(Station::triage, QStringLiteral("triage.png"));
    if (auto* triage = qobject_cast<TriageStation*>(window.view(Station::triage)))
        shoot_room(Room::donors, QStringLiteral("donors.png"), triage->pack());
    shoot(Station::open, QStringLiteral("open.png"));
    shoot_room(Room::ledger, QStringLiteral("ledger.png"));
    shoot_room(Room::practice, QStringLiteral("practice.png"));
    shoot(Station::rest, QStringLiteral("rest.png"));
    shoot(Station::sort, QStringLiteral("sort.png"));
    shoot(Station::match, QStringLiteral("match.png"));
    if (auto* match = qobject_cast<MatchStation*>(window.view(Station::match))) {
        match->show_several(true);
        settle([&] { return !match->searching(); });
        match->several_view()->lanes()->choose(static_cast<int>(match->several_view()->lanes()->lanes().size()) - 1);
        settle([] { return true; });
        fine &= window.grab().save(folder + QStringLiteral("/match-many.png"));
        match->show_several(false);
    }
    if (auto* build = qobject_cast<BuildStation*>(window.view(Station::build)))
        for (const auto& [view, name] : {std::pair(BuildStation::View::need, QStringLiteral("build-need.png")),
                                         std::pair(BuildStation::View::layout, QStringLiteral("build-layout.png")),
                                         std::pair(BuildStation::View::steps, QStringLiteral("build-steps.png")),
                                         std::pair(BuildStation::View::run, QStringLiteral("build-run.png"))}) {
            window.go_to(Station::build);
            build->show_view(view);
            settle([&] { return !build->working(); });
            shoot(Station::build, name);
        }
    shoot_proof(window, [&](const QString& name) { fine &= window.grab().save(folder + QLatin1Char('/') + name); });
    window.go_to(Station::test);
    shoot_bench(window, [&](const QString& name) { fine &= window.grab().save(folder + QLatin1Char('/') + name); });
    Theme::instance().apply(Theme::Appearance::dark);
    shoot(Station::triage, QStringLiteral("triage-dark.png"));
    Theme::instance().apply(Theme::Appearance::light);
    return fine;
}

} // namespace ingot::app
