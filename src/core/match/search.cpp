// Ingot's search: usable capacity first, then levelness within what may be given up.
#include "core/match/arena.h"
#include "core/match/ways.h"
#include "core/measure/statistics.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

namespace ingot {

namespace {

using namespace matching;

constexpr double mah_per_ah = 1000.0;
constexpr int small_parallel = 8;     // complete re-splits of pairs are possible up to here
constexpr int exact_parallel = 5;     // depth-first search is worth its nodes up to here
constexpr int tiny_units = 15;        // S x P up to here is levelled exactly
constexpr double level_enough = 1e-4; // far under what any meter's error leaves
constexpr int strict_units = 32;      // the same where nothing may be given up

class Search {
public:
    Search(const MatchProblem& problem, const MatchObserver& observer) : problem_(problem), observer_(observer) {
        prepare();
    }

    MatchResult run() {
        all_ = largest(arena_, {});
        strict_ = deal(arena_, all_);
        strict_level_ = level_of(arena_, sums_of(arena_, strict_));
        best_ = strict_;
        best_level_ = strict_level_;
        report(0.02);
        bound_ = usable_bound_mah(arena_.capacity_mah, arena_.series, arena_.parallel);
        find_usable();
        floor_ = strict_level_.usable_mah;
        if (problem_.give_up > 0)
            floor_ = static_cast<long>(std::ceil((1 - problem_.give_up) * static_cast<double>(floor_) - 1e-9));
        best_ = strict_;
        best_level_ = strict_level_;
        report(0.3);
        if (arena_.series > 1)
            level();
        return result();
    }

private:
    void prepare() {
        arena_.series = problem_.series;
        arena_.parallel = problem_.parallel;
        std::vector<std::size_t> units = usable_units(problem_, true);
        if (const auto without = static_cast<int>(usable_units(problem_, false).size() - units.size()); without > 0)
            notes_.emplace_back(MatchNote::units_without_capacity, without);
        const FilledPool filled = fill(problem_);
        std::stable_sort(units.begin(), units.end(), [&](std::size_t a, std::size_t b) {
            return *problem_.pool[a].capacity_ah > *problem_.pool[b].capacity_ah;
        });
        if (filled.has_leak && filled.median_leak > 0)
            arena_.leak_scale = problem_.leak_weight / (problem_.parallel * filled.median_leak);
        int without_resistance = 0;
        int without_leak = 0;
        for (const std::size_t u : units) {
            const MatchUnit& unit = problem_.pool[u];
            arena_.capacity_mah.push_back(static_cast<int>(std::lround(*unit.capacity_ah * mah_per_ah)));
            arena_.conductance.push_back(filled.conductance_s[u]);
            arena_.leak.push_back(filled.leak_ah_per_day[u]);
            without_resistance += unit.resistance_ohm ? 0 : 1;
            without_leak += unit.self_discharge_ah_per_day ? 0 : 1;
            arena_.pool_index.push_back(u);
            arena_.locked_to.push_back(-1);
        }
        if (without_resistance > 0)
            notes_.emplace_back(filled.has_conductance ? MatchNote::units_without_resistance
                                                       : MatchNote::resistance_unknown,
                                without_resistance);
        if (without_leak > 0)
            notes_.emplace_back(filled.has_leak ? MatchNote::units_without_self_discharge
                                                : MatchNote::self_discharge_unknown,
                                without_leak);
        for (const MatchLock& lock : problem_.locks) {
            const auto at = std::find(arena_.pool_index.begin(), arena_.pool_index.end(), lock.unit);
            if (at != arena_.pool_index.end())
                arena_.locked_to[static_cast<std::size_t>(at - arena_.pool_index.begin())] =
                    static_cast<int>(lock.group);
        }
    }

    // --- first goal: the largest smallest group sum ---

    void find_usable() {
        offer_strict(strict_, bound_);
        const bool pairs = arena_.parallel <= small_parallel && !arena_.has_locks();
        if (strict_level_.usable_mah < bound_ && arena_.parallel > 1 && arena_.series > 1) {
            if (pairs) { // capacity alone: the mean is within a mAh of the bound, and no re-split is needed
                const Arena bare = capacity_only();
                constexpr int tries = 12;
                for (int i = 0; i < tries && strict_level_.usable_mah < bound_ && !stopped_; ++i)
                    offer_strict(level_large(bare, i == 0 ? strict_ : shaken(strict_, i), bound_, budget(400),
                                             problem_.seed, pulse()),
                                 bound_);
            } else if (arena_.has_locks() && arena_.parallel <= small_parallel)
                offer_strict(annealed(strict_, bound_, 300'000), bound_);
            else
                offer_strict(level_large(arena_, strict_, bound_, budget(400), problem_.seed, pulse()), bound_);
        }
        proved_ = strict_level_.usable_mah >= bound_;
        if (proved_ || arena_.has_locks() || arena_.parallel > exact_parallel)
            return;
        const Arena part = within_budget(strict_level_.usable_mah + 1);
        constexpr long nodes = 4'000'000;
        const ExactResult exact = maximise_usable(part, bound_, strict_level_.usable_mah, budget_long(nodes), pulse());
        if (!exact.slots.empty())
            offer_strict(exact.slots, bound_);
        proved_ = exact.exhausted;
    }

    // A few units exchanged at random, to start from somewhere else.
    [[nodiscard]] Slots shaken(Slots slots, int which) const {
        Random random(problem_.seed + static_cast<std::uint64_t>(which));
        for (int i = 0; i < 2 * arena_.series; ++i)
            std::swap(slots[static_cast<std::size_t>(random.below(arena_.wanted()))],
                      slots[static_cast<std::size_t>(random.below(arena_.wanted()))]);
        return slots;
    }

    [[nodiscard]] Arena capacity_only() const {
        Arena bare = arena_;
        std::fill(bare.conductance.begin(), bare.conductance.end(), 0.0);
        bare.leak_scale = 0;
        return bare;
    }

    // Only units that can be part of an answer with every group at the floor: using a smaller one instead of the last
    // of the largest S x P loses their difference, and no more than the total's surplus may be lost.
    [[nodiscard]] Arena within_budget(long floor_mah) const {
        const auto wanted = static_cast<std::size_t>(arena_.wanted());
        long total = 0;
        for (std::size_t i = 0; i < wanted; ++i)
            total += arena_.capacity_mah[i];
        const long budget = total - static_cast<long>(arena_.series) * floor_mah;
        std::size_t end = wanted;
        while (end < arena_.capacity_mah.size() && arena_.capacity_mah[wanted - 1] - arena_.capacity_mah[end] <= budget)
            ++end;
        Arena part = arena_;
        part.capacity_mah.resize(end);
        part.conductance.resize(end);
        part.leak.resize(end);
        part.pool_index.resize(end);
        part.locked_to.resize(end);
        return part;
    }

    void offer_strict(const Slots& slots, long floor_mah) {
        const Level level = level_of(arena_, sums_of(arena_, slots));
        if (better(level, strict_level_, floor_mah)) {
            strict_ = slots;
            strict_level_ = level;
        }
    }

    // --- second goal: levelness at or above the floor ---

    void level() {
        std::vector<Slots> starts{strict_};
        for (const bool worst_first : {true, false}) {
            const Slots without = deal(arena_, largest(arena_, leakers_to_leave_out(worst_first)));
            if (std::find(starts.begin(), starts.end(), without) == starts.end()) {
                starts.push_back(without);
                offer(without);
            }
        }
        if (arena_.parallel > small_parallel) {
            level_many(starts);
            return;
        }
        const bool tight = floor_ >= strict_level_.usable_mah; // nothing may be given up
        constexpr double next_to_nothing = 0.003;
        if (!tight && problem_.give_up < next_to_nothing && arena_.wanted() > tiny_units) {
            // So little is given up that the tight way may still be the better one.
            const long keep = floor_;
            floor_ = strict_level_.usable_mah;
            level_tight(strict_);
            floor_ = keep;
            starts.front() = best_;
        }
        for (std::size_t i = 0; i < starts.size() && !stopped_; ++i) {
            if (tight) {
                level_tight(starts[i]);
            } else {
                const bool tiny = arena_.wanted() <= tiny_units;
                const Slots found = annealed(starts[i], floor_, tiny ? 12'000 : moves());
                offer(found);
                if (!tiny)
                    offer(resplit_pairs(arena_, best_, floor_, budget(200), 0.0, problem_.seed + i, pulse()));
            }
            report(0.3 + 0.3 * static_cast<double>(i + 1) / static_cast<double>(starts.size()));
        }
        if (!tight && arena_.wanted() > tiny_units)
            go_on(starts);
        if (arena_.wanted() <= tiny_units && !arena_.has_locks())
            level_tiny();
        else if (tight && arena_.wanted() <= strict_units && arena_.parallel <= exact_parallel && !arena_.has_locks())
            level_tiny();
    }

    // Again from other ends, until several rounds in a row have brought next to nothing.
    void go_on(const std::vector<Slots>& starts) {
        const int quiet_rounds = budget(12);
        constexpr double worth_while = 0.99;
        const int most = budget(48);
        int quiet = 0;
        for (int round = 1; round <= most && quiet < quiet_rounds && !stopped_; ++round) {
            const double before = best_level_.levelness;
            const auto seed = problem_.seed + 101 * static_cast<std::uint64_t>(round);
            const bool from_best = round % 2 == 0;
            offer(annealed(from_best ? best_ : starts[static_cast<std::size_t>(round / 2) % starts.size()], floor_,
                           moves(), seed));
            offer(resplit_pairs(arena_, best_, floor_, budget(200), 0.0, seed, pulse()));
            quiet = best_level_.levelness < worth_while * before ? 0 : quiet + 1;
            report(0.6 + 0.3 * round / most);
        }
    }

    // More effort is more rounds, not longer ones: a long one wanders back to the leakers that were left out.
    [[nodiscard]] long moves() const {
        const long usual = std::clamp(40'000L * arena_.series, 200'000L, 450'000L);
        return std::min(usual, budget_long(usual));
    }

    void level_tiny() {
        const Arena part = within_budget(floor_);
        constexpr long nodes = 3'000'000;
        const ExactResult exact = level_exactly(part, floor_, best_level_.levelness, budget_long(nodes), {}, pulse());
        if (!exact.slots.empty())
            offer(exact.slots);
    }

    // The last milliampere-hour is wanted: single exchanges nearly always break the floor, re-splits need not.
    void level_tight(const Slots& start) {
        if (arena_.has_locks()) {
            offer(annealed(start, floor_, moves()));
            return;
        }
        if (arena_.parallel <= exact_parallel) {
            if (arena_.wanted() > tiny_units) {
                constexpr int at_once = 5;
                offer(relevel_subsets(arena_, start, floor_, at_once, budget(arena_.series > 7 ? 2500 : 12),
                                      problem_.seed, pulse()));
            }
            return;
        }
        constexpr double heat = 0.004;
        Slots slots = resplit_pairs(arena_, start, floor_, budget(6000), heat, problem_.seed, pulse());
        offer(slots);
        offer(resplit_pairs(arena_, best_, floor_, budget(2000), 0.0, problem_.seed + 7, pulse()));
    }

    void level_many(const std::vector<Slots>& starts) {
        const int rounds = budget(40 + 14 * arena_.series);
        for (std::size_t i = starts.size(); i-- > 0 && !stopped_;) {
            if (best_level_.usable_mah >= floor_ && best_level_.levelness < level_enough)
                break;
            offer(level_large(arena_, starts[i], floor_, rounds, problem_.seed, pulse()));
            report(0.3 + 0.6 * static_cast<double>(starts.size() - i) / static_cast<double>(starts.size()));
        }
    }

    // Leakers that can be spared, one by one, the worst or the smallest first: as many as the rest can do without at
    // the floor.
    [[nodiscard]] std::vector<char> leakers_to_leave_out(bool worst_first) const {
        const std::vector<char> outliers = leak_outliers();
        std::vector<char> out(arena_.leak.size(), 0);
        std::vector<std::size_t> order;
        for (std::size_t i = 0; i < outliers.size(); ++i)
            if (outliers[i] != 0)
                order.push_back(i);
        std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
            return worst_first ? arena_.leak[a] > arena_.leak[b] : arena_.capacity_mah[a] < arena_.capacity_mah[b];
        });
        for (const std::size_t leaker : order) {
            out[leaker] = 1;
            std::vector<int> left;
            for (std::size_t i = 0; i < out.size(); ++i)
                if (out[i] == 0)
                    left.push_back(arena_.capacity_mah[i]);
            if (left.size() < static_cast<std::size_t>(arena_.wanted()) ||
                usable_bound_mah(std::move(left), arena_.series, arena_.parallel) < floor_)
                out[leaker] = 0;
        }
        return out;
    }

    // Self-discharge far beyond the pool's usual spread.
    [[nodiscard]] std::vector<char> leak_outliers() const {
        if (arena_.leak_scale <= 0)
            return {};
        const auto [middle, scale] = robust_spread(arena_.leak);
        constexpr double far = 5;
        std::vector<char> outliers(arena_.leak.size(), 0);
        for (std::size_t i = 0; i < outliers.size(); ++i)
            outliers[i] = scale > 0 && arena_.leak[i] > middle + far * scale && arena_.locked_to[i] < 0 ? 1 : 0;
        return outliers;
    }

    [[nodiscard]] Slots annealed(const Slots& start, long floor_mah, long moves, std::uint64_t seed = 0) {
        AnnealPlan plan;
        plan.floor_mah = floor_mah;
        plan.moves = moves;
        plan.seed = seed != 0 ? seed : problem_.seed;
        // Smaller units than these cannot be used without breaking the floor.
        plan.candidates = std::min(arena_.size(), within_budget(floor_mah).size());
        plan.candidates = std::min(plan.candidates, arena_.wanted() + std::max(16, arena_.wanted() / 2));
        return anneal(arena_, start, plan, pulse());
    }

    void offer(const Slots& slots) {
        const Level level = level_of(arena_, sums_of(arena_, slots));
        if (better(level, best_level_, floor_)) {
            best_ = slots;
            best_level_ = level;
        }
    }

    // --- reporting ---

    [[nodiscard]] int budget(int rounds) const { return std::max(1, static_cast<int>(rounds * problem_.effort)); }
    [[nodiscard]] long budget_long(long n) const {
        return std::max(1L, static_cast<long>(static_cast<double>(n) * problem_.effort));
    }

    Pulse pulse() {
        return [this] {
            if (!stopped_ && observer_ && !observer_({share_, nullptr}))
                stopped_ = true;
            return !stopped_;
        };
    }

    void report(double share) {
        share_ = share;
        if (!observer_ || stopped_)
            return;
        const MatchResult now = result();
        if (!observer_({share, &now}))
            stopped_ = true;
    }

    [[nodiscard]] Groups groups_of(const Slots& slots) const {
        Groups groups(static_cast<std::size_t>(arena_.series));
        for (std::size_t i = 0; i < slots.size(); ++i)
            groups[i / static_cast<std::size_t>(arena_.parallel)].push_back(
                arena_.pool_index[static_cast<std::size_t>(slots[i])]);
        return groups;
    }

    [[nodiscard]] MatchResult result() const {
        MatchResult result = figures_of(problem_, groups_of(best_));
        result.best_usable_ah = std::max(result.usable_ah, figures_of(problem_, groups_of(strict_)).usable_ah);
        result.proved = proved_;
        result.notes = notes_;
        if (stopped_)
            result.notes.emplace_back(MatchNote::stopped, 1);
        return result;
    }

    const MatchProblem& problem_;
    const MatchObserver& observer_;
    Arena arena_;
    std::vector<std::pair<MatchNote, int>> notes_;
    std::vector<int> all_;
    Slots strict_; // the best usable capacity found
    Level strict_level_;
    Slots best_;
    Level best_level_;
    long bound_ = 0;
    long floor_ = 0;
    double share_ = 0;
    bool proved_ = false;
    bool stopped_ = false;
};

// What stands in the way of any matching; empty when nothing does.
std::optional<Problem> objection(const MatchProblem& problem, MatchWay way) {
    if (problem.series < 1 || problem.parallel < 1)
        return Problem{"", 0, "A pack needs at least one group of at least one unit."};
    std::set<std::string> chemistries;
    for (const MatchUnit& unit : problem.pool)
        if (!unit.chemistry.empty())
            chemistries.insert(unit.chemistry);
    if (chemistries.size() > 1) {
        std::string names;
        for (const std::string& c : chemistries)
            names += (names.empty() ? "" : ", ") + c;
        return Problem{
            "", 0, "The pool holds more than one chemistry (" + names + "). One pack takes one chemistry; choose one."};
    }
    std::set<std::size_t> locked;
    std::vector<int> in_group(static_cast<std::size_t>(problem.series), 0);
    for (const MatchLock& lock : problem.locks) {
        if (lock.unit >= problem.pool.size() || lock.group >= static_cast<std::size_t>(problem.series))
            return Problem{"", 0, "A lock names a unit or a group that does not exist."};
        if (!locked.insert(lock.unit).second)
            return Problem{"", 0, problem.pool[lock.unit].id + " is locked twice. Free it once."};
        if (std::find(problem.excluded.begin(), problem.excluded.end(), lock.unit) != problem.excluded.end())
            return Problem{"", 0, problem.pool[lock.unit].id + " is locked and excluded at once. Decide for one."};
        if (++in_group[lock.group] > problem.parallel)
            return Problem{"", 0,
                           "More units are locked to group " + std::to_string(lock.group + 1) + " than it holds."};
        if (way == MatchWay::search && !problem.pool[lock.unit].capacity_ah)
            return Problem{"", 0,
                           problem.pool[lock.unit].id + " is locked but its capacity is not known. Test it first."};
    }
    return std::nullopt;
}

} // namespace

namespace {

// So many of the units that are used have a capacity that does not compare with those of most of the pool.
int unlike_capacities(const MatchProblem& problem, const MatchResult& result) {
    std::vector<std::optional<Fact>> capacities;
    capacities.reserve(problem.pool.size());
    for (const MatchUnit& unit : problem.pool)
        capacities.push_back(unit.capacity_ah);
    std::set<std::size_t> unlike;
    for (const Unlike& u : unlike_most(capacities))
        unlike.insert(u.index);
    int count = 0;
    for (const GroupSums& group : result.groups)
        for (const std::size_t u : group.units)
            count += unlike.contains(u) ? 1 : 0;
    return count;
}

} // namespace

Result<MatchResult> match(const MatchProblem& problem, MatchWay way, const MatchObserver& observer) {
    if (auto problem_found = objection(problem, way))
        return std::move(*problem_found);
    const auto plain = [&](const Result<Groups>& groups) -> Result<MatchResult> {
        if (!groups)
            return groups.problem();
        MatchResult result = figures_of(problem, groups.value());
        result.way = way;
        if (const int unlike = unlike_capacities(problem, result); unlike > 0)
            result.notes.emplace_back(MatchNote::unlike_capacities, unlike);
        return result;
    };
    switch (way) {
    case MatchWay::deal:
        return plain(by_deal(problem));
    case MatchWay::twins:
        return plain(by_twins(problem));
    case MatchWay::voltage_only:
        return plain(by_voltage(problem));
    case MatchWay::search:
        break;
    }
    const std::vector<std::size_t> blind = without_asked_figure(problem);
    MatchProblem asked = problem;
    asked.excluded.insert(asked.excluded.end(), blind.begin(), blind.end());
    if (const auto possible = by_deal(asked); !possible)
        return possible.problem();
    MatchResult found = Search(asked, observer).run();
    if (problem.demands.any() && !breaches_of(problem, groups_in(found)).empty())
        found = meet_demands(asked, found, observer);
    if (!blind.empty())
        found.notes.emplace_back(MatchNote::units_without_asked_figure, static_cast<int>(blind.size()));
    if (const int unlike = unlike_capacities(problem, found); unlike > 0)
        found.notes.emplace_back(MatchNote::unlike_capacities, unlike);
    return found;
}

} // namespace ingot
