// Simulated nickel modules that are cycled, with known truth, for the conditioning benchmark and its tests. Shares
// nothing with the estimator: climbs are hyperbolic, stretched or logistic, never a plain exponential; noise has a slow
// part (the room) and a fast one; some cycles are spoiled, some of those without the tester saying so.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace simulated {

enum class ModuleKind { climbing, climbing_again, levelled_under, falling, near_miss, near_pass, noisy, spoiled };
inline constexpr int module_kinds = 8;
const char* name(ModuleKind kind);

struct ModuleCycle {
    double measured_ah = 0;
    bool full = true; // as the tester says
};
inline constexpr double module_rated_ah = 6.5; // common practice, no source: a usual size of hybrid module
inline constexpr double module_bar_ah = 5.0;
inline constexpr int module_cycles = 20;

struct Module {
    ModuleKind kind{};
    bool good = false; // truly at the bar, and holding it, within 20 cycles
    double rated_ah = module_rated_ah, bar_ah = module_bar_ah;
    std::vector<double> true_ah;
    std::vector<ModuleCycle> cycles; // 20
};

Module make_module(std::uint64_t seed);

} // namespace simulated
