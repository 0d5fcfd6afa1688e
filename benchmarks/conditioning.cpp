// Keep cycling or stop: how often is the verdict right, and how many bay hours does it cost against always running 5,
// 10 and 20 cycles? On simulated modules (conditioning_modules.h, conditioning_shops.h) that share nothing with the
// estimator. Shop 0 is the first population, 1 to 4 the unlike ones.
//
//   benchmark_conditioning [MODULES] [FIRST_SEED] [SHOP]
#include "core/measure/conditioning.h"
#include "conditioning_shops.h"

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <string>

namespace {

using namespace ingot;
using simulated::Module;

constexpr int first_run = 3;

std::vector<ConditioningCycle> cycles_of(const Module& m, int count) {
    std::vector<ConditioningCycle> out;
    for (int n = 0; n < count; ++n) {
        const auto& c = m.cycles[static_cast<std::size_t>(n)];
        out.push_back({n + 1, c.measured_ah, c.full});
    }
    return out;
}

bool last_full_reaches(const Module& m, int count) {
    for (int n = count; n-- > 0;)
        if (m.cycles[static_cast<std::size_t>(n)].full)
            return m.cycles[static_cast<std::size_t>(n)].measured_ah >= m.bar_ah;
    return false;
}

// Charge at 3 A, discharge at 1 A, ten minutes' rest: hours of one cycle.
double hours(double ah) {
    return ah / 3 * 1.1 + ah + 1.0 / 6;
}

struct Way {
    std::string name;
    int right = 0, cycles = 0;
    double bay_hours = 0;
};

} // namespace

int main(int argc, char** argv) {
    const int count = argc > 1 ? std::atoi(argv[1]) : 2000;
    const auto seed = static_cast<std::uint64_t>(argc > 2 ? std::atoll(argv[2]) : 500000);
    const int shop = argc > 3 ? std::atoi(argv[3]) : 0;
    const bool show = std::getenv("SHOW") != nullptr;
    std::array<Way, 5> ways{{{"Ingot's verdict"}, {"old hands' rule"}, {"always 5"}, {"always 10"}, {"always 20"}}};
    std::array<std::array<int, 3>, simulated::module_kinds> kinds{}; // cases, right, cycles
    double judging_s = 0;
    int judged = 0;
    std::array<double, 10> stated{};
    std::array<int, 10> met{};
    std::array<int, 10> in_bin{};
    ConditioningRules rules;
    for (int i = 0; i < count; ++i) {
        const auto with_seed = seed + static_cast<std::uint64_t>(i);
        const Module m = shop == 0 ? simulated::make_module(with_seed)
                                   : simulated::make_module(static_cast<simulated::ModuleShop>(shop - 1), with_seed);
        rules.bar_ah = m.bar_ah;
        rules.rated_ah = m.rated_ah;
        const auto book = [&](Way& way, int cycles, bool fit) {
            way.right += fit == m.good;
            way.cycles += cycles;
            for (int n = 0; n < cycles; ++n)
                way.bay_hours += hours(m.cycles[static_cast<std::size_t>(n)].measured_ah);
        };
        for (const bool thumb : {false, true}) {
            int run = first_run;
            bool fit = false;
            while (true) {
                const auto start = std::chrono::steady_clock::now();
                const auto result = judge_conditioning(cycles_of(m, run), rules);
                judging_s += std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
                ++judged;
                const auto verdict = thumb ? result.rule_of_thumb : result.verdict;
                if (!thumb && verdict == ConditioningVerdict::keep_cycling) {
                    const auto b = static_cast<std::size_t>(std::min(9.0, result.pass_probability * 10));
                    stated[b] += result.pass_probability;
                    met[b] += m.good;
                    ++in_bin[b];
                }
                if (verdict != ConditioningVerdict::keep_cycling || run >= simulated::module_cycles) {
                    fit = verdict == ConditioningVerdict::fit;
                    if (show && !thumb && fit != m.good) {
                        std::printf("wrong: seed %llu %s truth %s, said %s (%s) after %d, p %.3f:",
                                    static_cast<unsigned long long>(seed) + static_cast<unsigned long long>(i),
                                    name(m.kind), m.good ? "good" : "bad", code(verdict), code(result.reason), run,
                                    result.pass_probability);
                        for (int n = 0; n < simulated::module_cycles; ++n)
                            std::printf(" %s%.2f%s", n == run ? "| " : "",
                                        m.cycles[static_cast<std::size_t>(n)].measured_ah,
                                        m.cycles[static_cast<std::size_t>(n)].full ? "" : "*");
                        std::printf("\n");
                    }
                    break;
                }
                run = std::min(simulated::module_cycles, run + (thumb ? 1 : result.cycles_to_run));
            }
            book(ways[thumb ? 1 : 0], run, fit);
            if (!thumb) {
                auto& k = kinds[static_cast<std::size_t>(m.kind)];
                ++k[0];
                k[1] += fit == m.good;
                k[2] += run;
            }
        }
        book(ways[2], 5, last_full_reaches(m, 5));
        book(ways[3], 10, last_full_reaches(m, 10));
        book(ways[4], simulated::module_cycles, last_full_reaches(m, simulated::module_cycles));
    }
    std::printf("%s: %d modules from seed %llu\n%-18s %8s %8s %14s\n",
                shop == 0 ? "first population" : simulated::name(static_cast<simulated::ModuleShop>(shop - 1)), count,
                static_cast<unsigned long long>(seed), "way", "right", "cycles", "share of hours");
    for (const Way& way : ways)
        std::printf("%-18s %7.2f%% %8.2f %13.1f%%\n", way.name.c_str(), 100.0 * way.right / count,
                    static_cast<double>(way.cycles) / count, 100 * way.bay_hours / ways[4].bay_hours);
    for (int k = 0; shop == 0 && k < simulated::module_kinds; ++k) {
        const auto& t = kinds[static_cast<std::size_t>(k)];
        std::printf("  %-16s %5d  right %6.2f%%  cycles %5.2f\n", name(static_cast<simulated::ModuleKind>(k)), t[0],
                    100.0 * t[1] / std::max(1, t[0]), static_cast<double>(t[2]) / std::max(1, t[0]));
    }
    std::printf("undecided verdicts, probability stated and met:");
    double apart = 0;
    double worst = 0;
    int undecided = 0;
    constexpr int enough = 100; // of a tenth, so that what was met is known to about 0.1
    for (std::size_t b = 0; b < 10; ++b)
        if (in_bin[b] > 0) {
            const double said = stated[b] / in_bin[b];
            const double was = static_cast<double>(met[b]) / in_bin[b];
            std::printf(" %.2f/%.2f(%d)", said, was, in_bin[b]);
            apart += in_bin[b] * std::abs(said - was);
            undecided += in_bin[b];
            if (in_bin[b] >= enough)
                worst = std::max(worst, std::abs(said - was));
        }
    std::printf("\napart by %.3f in the mean, %.3f in the worst tenth with %d cases", apart / std::max(1, undecided),
                worst, enough);
    std::printf("\none verdict %.2f ms\n", 1000 * judging_s / judged);
}
