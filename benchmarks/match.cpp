// Ingot's search against the references (serpentine deal, balanced largest differencing) on the same seeded pools in
// the same run. Quality as medians; time as a ratio to a fixed workload measured in this run (see `unit_of_work`).
//
//   match [SEEDS] [--pool ROW]
//   match --tail [POOLS] [--pool SIZE] [--from SEED]   J of the patient search beside J of five times its rounds, on
//                                        fresh pools: median and worst; SIZE 0: 61 units, 1: 120, 2: 300
#include "core/match/problem.h"
#include "match_pools.h"

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <numeric>
#include <queue>
#include <vector>

namespace {

using namespace ingot;
using Clock = std::chrono::steady_clock;

double seconds_since(Clock::time_point start) {
    return std::chrono::duration<double>(Clock::now() - start).count();
}

// A fixed piece of integer work that no change to Ingot touches: sorting a million generated numbers, best of three.
double unit_of_work() {
    double best = 1e9;
    for (int run = 0; run < 3; ++run) {
        std::mt19937_64 random(1);
        std::vector<std::uint64_t> numbers(1'000'000);
        for (auto& n : numbers)
            n = random();
        const auto start = Clock::now();
        std::sort(numbers.begin(), numbers.end());
        best = std::min(best, seconds_since(start));
    }
    return best;
}

// Balanced largest differencing for S subsets of P units each: start from P tuples of S units (the largest S, the next
// S,
// ...), always merge the two tuples with the largest spread, largest sums to smallest. Source: the balanced form of the
// differencing method as published for multi-way balanced partition (from memory).
std::vector<std::vector<std::size_t>> differencing(const MatchProblem& problem) {
    const auto s = static_cast<std::size_t>(problem.series);
    const auto p = static_cast<std::size_t>(problem.parallel);
    std::vector<std::size_t> order(problem.pool.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        return *problem.pool[a].capacity_ah > *problem.pool[b].capacity_ah;
    });
    struct Subset {
        double sum = 0;
        std::vector<std::size_t> units;
    };
    using Tuple = std::vector<Subset>; // falling sums
    const auto spread = [](const Tuple& t) { return t.front().sum - t.back().sum; };
    const auto narrower = [&](const Tuple& a, const Tuple& b) { return spread(a) < spread(b); };
    std::priority_queue<Tuple, std::vector<Tuple>, decltype(narrower)> heap(narrower);
    for (std::size_t k = 0; k < p; ++k) {
        Tuple tuple;
        for (std::size_t i = 0; i < s; ++i) {
            const std::size_t u = order[k * s + i];
            tuple.push_back({*problem.pool[u].capacity_ah, {u}});
        }
        heap.push(std::move(tuple));
    }
    while (heap.size() > 1) {
        const Tuple a = heap.top();
        heap.pop();
        const Tuple b = heap.top();
        heap.pop();
        Tuple merged;
        for (std::size_t i = 0; i < s; ++i) {
            Subset joint = a[i];
            const Subset& other = b[s - 1 - i];
            joint.sum += other.sum;
            joint.units.insert(joint.units.end(), other.units.begin(), other.units.end());
            merged.push_back(std::move(joint));
        }
        std::stable_sort(merged.begin(), merged.end(), [](const Subset& x, const Subset& y) { return x.sum > y.sum; });
        heap.push(std::move(merged));
    }
    std::vector<std::vector<std::size_t>> groups;
    for (const Subset& subset : heap.top())
        groups.push_back(subset.units);
    return groups;
}

struct Sample {
    std::vector<double> usable, capacity, conductance, leak, levelness, seconds;
    int proved = 0;
    int at_bound = 0;
    int runs = 0;

    void add(const MatchResult& result, double best_usable_ah, double elapsed_s) {
        usable.push_back(result.usable_ah / best_usable_ah);
        capacity.push_back(result.capacity_spread * 100);
        conductance.push_back(result.conductance_spread.value_or(0) * 100);
        leak.push_back(result.leak_spread_ah_per_day.value_or(0) * 1000);
        levelness.push_back(result.levelness);
        seconds.push_back(elapsed_s);
        proved += result.proved ? 1 : 0;
        at_bound += result.best_usable_ah >= result.bound_ah - 1e-9 ? 1 : 0;
        ++runs;
    }
};

double middle(std::vector<double> values) {
    std::sort(values.begin(), values.end());
    const std::size_t half = values.size() / 2;
    return values.size() % 2 == 1 ? values[half] : (values[half - 1] + values[half]) / 2;
}

void print(const char* name, const Sample& s, double unit_s, double deal_s) {
    std::printf(
        "  %-16s usable %.5f  capacity %8.4f %%  conductance %8.4f %%  leak %8.4f mAh/d  J %.5f  proved %2d/%d  "
        "at bound %2d  time %8.3f x unit (%6.0f x deal)\n",
        name, middle(s.usable), middle(s.capacity), middle(s.conductance), middle(s.leak), middle(s.levelness),
        s.proved, s.runs, s.at_bound, middle(s.seconds) / unit_s, middle(s.seconds) / deal_s);
}

// How much a search of five times the patient one's rounds would still better, over fresh pools of three sizes.
void tail(int pools, int only, int from) {
    struct Size {
        int units, series, parallel;
    };
    constexpr double longer_effort = 5 * patient_effort;
    constexpr std::array<Size, 3> sizes{{{61, 7, 4}, {120, 10, 4}, {300, 13, 8}}};
    int at = -1;
    for (const Size& size : sizes) {
        if (++at != only && only >= 0)
            continue;
        std::vector<double> ratios, usual_s, longer_s;
        for (int pool = 0; pool < pools; ++pool) {
            MatchProblem problem =
                pools::random_pool(size.units, size.series, size.parallel, static_cast<unsigned>(from + pool));
            problem.give_up = 0.005;
            problem.effort = patient_effort;
            auto start = Clock::now();
            const double usual = match(problem).value().levelness;
            usual_s.push_back(seconds_since(start));
            problem.effort = longer_effort;
            start = Clock::now();
            const double longer = match(problem).value().levelness;
            longer_s.push_back(seconds_since(start));
            ratios.push_back(usual / std::min(usual, longer)); // the better of both is what was found
            std::printf("  seed %d: %.3f\n", from + pool, ratios.back());
            std::fflush(stdout);
        }
        std::sort(ratios.begin(), ratios.end());
        const auto nth = [&](double share) {
            return ratios[static_cast<std::size_t>(share * static_cast<double>(ratios.size() - 1))];
        };
        std::printf("%3d units -> %2dS%dP, %d pools: J / best J  median %.3f  90 %% %.3f  worst %.3f   (%.1f s against "
                    "%.1f s in the middle)\n",
                    size.units, size.series, size.parallel, pools, middle(ratios), nth(0.9), ratios.back(),
                    middle(usual_s), middle(longer_s));
        std::fflush(stdout);
    }
}

} // namespace

int main(int argc, char** argv) {
    struct Row {
        int units, series, parallel;
    };
    constexpr std::array<Row, 6> rows{
        {{24, 4, 3}, {61, 7, 4}, {120, 10, 4}, {300, 13, 8}, {3000, 14, 80}, {10000, 20, 100}}};
    int seeds = 20;
    int only = -1;
    int tail_pools = 0;
    int tail_from = 1001; // no seed that a test or a benchmark used before
    for (int i = 1; i < argc; ++i) {
        if (std::strcmp(argv[i], "--pool") == 0 && i + 1 < argc)
            only = std::atoi(argv[++i]);
        else if (std::strcmp(argv[i], "--tail") == 0)
            tail_pools = i + 1 < argc && argv[i + 1][0] != '-' ? std::atoi(argv[++i]) : 40;
        else if (std::strcmp(argv[i], "--from") == 0 && i + 1 < argc)
            tail_from = std::atoi(argv[++i]);
        else
            seeds = std::atoi(argv[i]);
    }
    if (tail_pools > 0) {
        tail(tail_pools, only, tail_from);
        return 0;
    }
    const double unit_s = unit_of_work();
    std::printf("unit of work: sorting 1,000,000 numbers, %.1f ms in this run\n", unit_s * 1000);
    int at = -1;
    for (const Row& row : rows) {
        if (++at != only && only >= 0)
            continue;
        Sample dealt, differenced, strict, give_up;
        for (int seed = 1; seed <= seeds; ++seed) {
            MatchProblem problem = pools::random_pool(row.units, row.series, row.parallel, static_cast<unsigned>(seed));
            const auto timed = [&](auto&& work) {
                const auto start = Clock::now();
                const MatchResult result = work();
                return std::pair{result, seconds_since(start)};
            };
            problem.give_up = 0;
            const auto best = timed([&] { return match(problem).value(); });
            const double reference = best.first.best_usable_ah;
            strict.add(best.first, reference, best.second);
            problem.give_up = 0.005;
            const auto levelled = timed([&] { return match(problem).value(); });
            give_up.add(levelled.first, reference, levelled.second);
            const auto deal = timed([&] { return match(problem, MatchWay::deal).value(); });
            dealt.add(deal.first, reference, deal.second);
            const auto split = timed([&] { return figures_of(problem, differencing(problem)); });
            differenced.add(split.first, reference, split.second);
        }
        std::printf("%d units -> %dS%dP, %d seeds\n", row.units, row.series, row.parallel, seeds);
        const double deal_s = middle(dealt.seconds);
        print("deal", dealt, unit_s, deal_s);
        print("differencing", differenced, unit_s, deal_s);
        print("strict", strict, unit_s, deal_s);
        print("give up 0.5 %", give_up, unit_s, deal_s);
    }
    return 0;
}
