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
constexpr double usual_heat = 0.02;   // of annealing, in levelness
constexpr double usual_cooling = 200; // start to end

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
        const std::optional<Slots> earlier = slots_of(earlier_answer(problem_));
        if (earlier)
            offer_strict(*earlier, strict_level_.usable_mah);
        report(0.02);
        bound_ = usable_bound_mah(arena_.capacity_mah, arena_.series, arena_.parallel);
        find_usable();
        floor_ = strict_level_.usable_mah;
        if (problem_.give_up > 0)
            floor_ = static_cast<long>(std::ceil((1 - problem_.give_up) * static_cast<double>(floor_) - 1e-9));
        best_ = strict_;
        best_level_ = strict_level_;
        if (earlier)
            offer(*earlier);
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
                                             problem_.seed, still_wanted()),
                                 bound_);
            } else if (arena_.has_locks() && arena_.parallel <= small_parallel)
                offer_strict(annealed({strict_, {}}, bound_, 300'000), bound_);
            else
                offer_strict(level_large(arena_, strict_, bound_, budget(400), problem_.seed, still_wanted()), bound_);
        }
        proved_ = strict_level_.usable_mah >= bound_;
        if (proved_ || arena_.has_locks() || arena_.parallel > exact_parallel)
            return;
        const Arena part = within_budget(strict_level_.usable_mah + 1);
        constexpr long nodes = 4'000'000;
        const ExactResult exact =
            maximise_usable(part, bound_, strict_level_.usable_mah, budget_long(nodes), still_wanted());
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
        std::vector<int> units(end);
        std::iota(units.begin(), units.end(), 0);
        return part_of(arena_, units);
    }

    [[nodiscard]] static Arena part_of(const Arena& whole, const std::vector<int>& units) {
        Arena part = whole;
        for (std::size_t k = 0; k < units.size(); ++k) {
            const auto u = static_cast<std::size_t>(units[k]);
            part.capacity_mah[k] = whole.capacity_mah[u];
            part.conductance[k] = whole.conductance[u];
            part.leak[k] = whole.leak[u];
            part.pool_index[k] = whole.pool_index[u];
            part.locked_to[k] = whole.locked_to[u];
        }
        part.capacity_mah.resize(units.size());
        part.conductance.resize(units.size());
        part.leak.resize(units.size());
        part.pool_index.resize(units.size());
        part.locked_to.resize(units.size());
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

    // Where a levelling starts from, and the units that it leaves in stock.
    struct Start {
        Slots slots;
        std::vector<char> avoid;
    };

    void level() {
        const std::vector<Start> starts = level_starts();
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
        }
        for (std::size_t i = 0; i < starts.size() && !stopped_; ++i) {
            if (tight) {
                level_tight(starts[i].slots);
            } else {
                const bool tiny = arena_.wanted() <= tiny_units;
                offer(annealed(starts[i], floor_, tiny ? 12'000 : moves()));
                if (!tiny)
                    offer(resplit_pairs(arena_, best_, floor_, budget(200), 0.0, problem_.seed + i, still_wanted()));
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
    void go_on(const std::vector<Start>& starts) {
        // Of few units the best answers lie far apart, and a round costs little.
        constexpr int few_units = 32;
        const int quiet_rounds = budget(arena_.wanted() <= few_units ? 8 : 4);
        constexpr double worth_while = 0.99;
        const int most = budget(16);
        int quiet = 0;
        for (int round = 1; round <= most && quiet < quiet_rounds && !stopped_; ++round) {
            const double before = best_level_.levelness;
            const auto seed = problem_.seed + 101 * static_cast<std::uint64_t>(round);
            const bool from_best = round % 2 == 0;
            const Start& start = starts[static_cast<std::size_t>(round / 2) % starts.size()];
            const double heat = from_best ? std::min(usual_heat, 0.15 * best_level_.levelness) : usual_heat;
            offer(annealed(from_best ? Start{best_, {}} : start, floor_, moves(), seed, heat));
            // Where the floor leaves little room single exchanges break it; splits of two groups need not.
            constexpr int splits = 3000;
            offer(resplit_pairs(arena_, from_best ? best_ : start.slots, floor_, splits, usual_heat, seed,
                                still_wanted()));
            offer(resplit_pairs(arena_, best_, floor_, budget(200), 0.0, seed, still_wanted()));
            quiet = best_level_.levelness < worth_while * before ? 0 : quiet + 1;
            report(0.6 + 0.3 * round / most);
        }
    }

    // More effort is more rounds, not longer ones.
    [[nodiscard]] long moves() const {
        const long usual = std::clamp(160'000L * arena_.series, 800'000L, 1'800'000L);
        return std::min(usual, budget_long(usual));
    }

    void level_tiny() {
        const Arena part = within_budget(floor_);
        constexpr long nodes = 3'000'000;
        const ExactResult exact =
            level_exactly(part, floor_, best_level_.levelness, budget_long(nodes), {}, still_wanted());
        if (!exact.slots.empty())
            offer(exact.slots);
    }

    // The last milliampere-hour is wanted: single exchanges nearly always break the floor, re-splits need not.
    void level_tight(const Slots& start) {
        if (arena_.has_locks()) {
            offer(annealed({start, {}}, floor_, moves()));
            return;
        }
        if (arena_.parallel <= exact_parallel) {
            if (arena_.wanted() > tiny_units) {
                constexpr int at_once = 5;
                offer(relevel_subsets(arena_, start, floor_, at_once, budget(arena_.series > 7 ? 2500 : 12),
                                      problem_.seed, still_wanted()));
            }
            return;
        }
        constexpr double heat = 0.004;
        Slots slots = resplit_pairs(arena_, start, floor_, budget(6000), heat, problem_.seed, still_wanted());
        offer(slots);
        offer(resplit_pairs(arena_, best_, floor_, budget(2000), 0.0, problem_.seed + 7, still_wanted()));
    }

    void level_many(const std::vector<Start>& starts) {
        const int rounds = budget(40 + 14 * arena_.series);
        for (std::size_t i = starts.size(); i-- > 0 && !stopped_;) {
            if (best_level_.usable_mah >= floor_ && best_level_.levelness < level_enough)
                break;
            offer(level_large(arena_, starts[i].slots, floor_, rounds, problem_.seed, still_wanted()));
            report(0.3 + 0.6 * static_cast<double>(starts.size() - i) / static_cast<double>(starts.size()));
        }
    }

    // The strict answer, and answers without leakers. The leak spread is what the worst leaker that stays makes it, and
    // the milder ones cost nothing more: so the worst is left out first, then the next, as far as the floor is held
    // without them. Where the bound says that it could be and the deal does not, the capacities are levelled first.
    [[nodiscard]] std::vector<Start> level_starts() {
        std::vector<Start> starts{{strict_, {}}};
        const std::vector<char> outliers = leak_outliers();
        std::vector<std::size_t> order;
        for (std::size_t i = 0; i < outliers.size(); ++i)
            if (outliers[i] != 0)
                order.push_back(i);
        std::stable_sort(order.begin(), order.end(),
                         [&](std::size_t a, std::size_t b) { return arena_.leak[a] > arena_.leak[b]; });
        constexpr std::size_t most_starts = 4;
        std::vector<std::vector<char>> nested;
        const auto leave_out = [&](const std::vector<std::size_t>& worst_first) {
            std::vector<char> avoid = nested.empty() ? std::vector<char>(arena_.leak.size(), 0) : nested.back();
            for (const std::size_t unit : worst_first) {
                avoid[unit] = 1;
                if (bound_without(avoid) < floor_)
                    break;
                nested.push_back(avoid);
            }
        };
        leave_out(order);
        // Small groups exchange with the stock as they are levelled; large ones only share out what was chosen.
        if (arena_.parallel > small_parallel && !arena_.has_locks())
            leave_out(conductance_outliers());
        for (auto without = nested.rbegin(); without != nested.rend() && starts.size() < most_starts; ++without) {
            Slots slots = deal(arena_, largest(arena_, *without));
            if (!arena_.has_locks() && arena_.parallel > 1)
                slots = brought_to_floor(std::move(slots), *without);
            if (std::any_of(starts.begin(), starts.end(), [&](const Start& s) { return s.slots == slots; }))
                continue;
            offer(slots);
            starts.push_back({std::move(slots), std::move(*without)});
        }
        return starts;
    }

    [[nodiscard]] long bound_without(const std::vector<char>& avoid) const {
        std::vector<int> left;
        left.reserve(avoid.size());
        for (std::size_t i = 0; i < avoid.size(); ++i)
            if (avoid[i] == 0)
                left.push_back(arena_.capacity_mah[i]);
        if (left.size() < static_cast<std::size_t>(arena_.wanted()))
            return 0;
        return usable_bound_mah(std::move(left), arena_.series, arena_.parallel);
    }

    [[nodiscard]] Slots brought_to_floor(Slots slots, const std::vector<char>& avoid) {
        const auto reach = [&](const Slots& s) { return level_of(arena_, sums_of(arena_, s)).usable_mah; };
        if (reach(slots) >= floor_)
            return slots;
        Arena part = capacity_only();
        std::vector<int> whole; // index in the part -> in the arena
        std::vector<int> back(avoid.size(), -1);
        for (std::size_t i = 0; i < avoid.size(); ++i)
            if (avoid[i] == 0) {
                back[i] = static_cast<int>(whole.size());
                whole.push_back(static_cast<int>(i));
            }
        part = part_of(part, whole);
        Slots at = slots;
        for (int& u : at)
            u = back[static_cast<std::size_t>(u)];
        constexpr int tries = 4;
        for (int i = 0; i < tries && reach(slots) < floor_ && !stopped_; ++i) {
            const Slots from = i == 0 ? at : shaken(at, i);
            const auto seed = problem_.seed + static_cast<std::uint64_t>(i);
            constexpr double heat = 0.002;
            Slots found =
                arena_.parallel <= small_parallel
                    ? resplit_pairs(part, from, floor_, budget(400), i == 0 ? 0.0 : heat, seed, still_wanted())
                    : level_large(part, from, floor_, budget(400), seed, still_wanted());
            for (int& u : found)
                u = whole[static_cast<std::size_t>(u)];
            if (reach(found) > reach(slots))
                slots = std::move(found);
        }
        return slots;
    }

    // Conductance far from the pool's middle, the farthest first.
    [[nodiscard]] std::vector<std::size_t> conductance_outliers() const {
        const auto [middle, scale] = robust_spread(arena_.conductance);
        constexpr double far = 5;
        constexpr double least_share = 0.1; // of the middle, where the others are all but equal
        const double limit = std::max(far * scale, least_share * middle);
        const auto away = [&, middle = middle](std::size_t i) { return std::fabs(arena_.conductance[i] - middle); };
        std::vector<std::size_t> out;
        for (std::size_t i = 0; i < arena_.conductance.size(); ++i)
            if (arena_.conductance[i] > 0 && away(i) > limit)
                out.push_back(i);
        std::stable_sort(out.begin(), out.end(), [&](std::size_t a, std::size_t b) { return away(a) > away(b); });
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

    [[nodiscard]] Slots annealed(const Start& start, long floor_mah, long moves, std::uint64_t seed = 0,
                                 double heat = usual_heat) {
        AnnealPlan plan;
        plan.start_heat = heat;
        plan.end_heat = heat / usual_cooling;
        plan.floor_mah = floor_mah;
        plan.moves = moves;
        plan.seed = seed != 0 ? seed : problem_.seed;
        // Smaller units than these cannot be used without breaking the floor.
        plan.candidates = std::min(arena_.size(), within_budget(floor_mah).size());
        plan.candidates = std::min(plan.candidates, arena_.wanted() + std::max(16, arena_.wanted() / 2));
        plan.avoid = start.avoid;
        return anneal(arena_, start.slots, plan, still_wanted());
    }

    [[nodiscard]] std::optional<Slots> slots_of(const Groups& groups) const {
        if (groups.empty())
            return std::nullopt;
        std::vector<int> at(problem_.pool.size(), -1);
        for (std::size_t i = 0; i < arena_.pool_index.size(); ++i)
            at[arena_.pool_index[i]] = static_cast<int>(i);
        Slots slots;
        slots.reserve(static_cast<std::size_t>(arena_.wanted()));
        for (const auto& group : groups)
            for (const std::size_t u : group)
                slots.push_back(at[u]);
        return slots;
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

    StillWanted still_wanted() {
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
        return Problem{"", 0, said("A pack needs at least one group of at least one unit.")};
    std::set<std::string> chemistries;
    for (const MatchUnit& unit : problem.pool)
        if (!unit.chemistry.empty())
            chemistries.insert(unit.chemistry);
    if (chemistries.size() > 1) {
        std::string names;
        for (const std::string& c : chemistries)
            names += (names.empty() ? "" : ", ") + c;
        return Problem{
            "", 0,
            said("The pool holds more than one chemistry ({}). One pack takes one chemistry; choose one.", names)};
    }
    std::set<std::size_t> locked;
    std::vector<int> in_group(static_cast<std::size_t>(problem.series), 0);
    for (const MatchLock& lock : problem.locks) {
        if (lock.unit >= problem.pool.size() || lock.group >= static_cast<std::size_t>(problem.series))
            return Problem{"", 0, said("A lock names a unit or a group that does not exist.")};
        if (!locked.insert(lock.unit).second)
            return Problem{"", 0, said("{} is locked twice. Free it once.", problem.pool[lock.unit].id)};
        if (std::find(problem.excluded.begin(), problem.excluded.end(), lock.unit) != problem.excluded.end())
            return Problem{"", 0,
                           said("{} is locked and excluded at once. Decide for one.", problem.pool[lock.unit].id)};
        if (++in_group[lock.group] > problem.parallel)
            return Problem{"", 0, said("More units are locked to group {} than it holds.", lock.group + 1)};
        if (way == MatchWay::search && !problem.pool[lock.unit].capacity_ah)
            return Problem{
                "", 0, said("{} is locked but its capacity is not known. Test it first.", problem.pool[lock.unit].id)};
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
