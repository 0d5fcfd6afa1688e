#include "conditioning_modules.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace simulated {

namespace {

struct Dice {
    std::mt19937_64 engine;
    double uniform(double low, double high) { return std::uniform_real_distribution<double>(low, high)(engine); }
    double normal(double sigma) { return std::normal_distribution<double>(0, sigma)(engine); }
    bool chance(double p) { return uniform(0, 1) < p; }
};

// Share of the way from the first capacity to the level after n - 1 cycles, 0 to 1.
double climb(int shape, double pace, double n) {
    const double x = (n - 1) / pace;
    if (shape == 0) // hyperbolic
        return 1 - 1 / std::pow(1 + x, 1.8);
    if (shape == 1) // stretched
        return 1 - std::exp(-std::pow(x, 0.8));
    const double at_start = 1 / (1 + std::exp(1.6)); // logistic: slow at first
    return (1 / (1 + std::exp(1.6 - 2.2 * x)) - at_start) / (1 - at_start);
}

} // namespace

const char* name(ModuleKind kind) {
    switch (kind) {
    case ModuleKind::climbing:
        return "climbing";
    case ModuleKind::climbing_again:
        return "climbing again";
    case ModuleKind::levelled_under:
        return "levelled under";
    case ModuleKind::falling:
        return "falling";
    case ModuleKind::near_miss:
        return "near miss";
    case ModuleKind::near_pass:
        return "near pass";
    case ModuleKind::noisy:
        return "noisy";
    case ModuleKind::spoiled:
        return "spoiled cycles";
    }
    return "";
}

Module make_module(std::uint64_t seed) {
    Dice dice{std::mt19937_64(seed * 0x9E3779B97F4A7C15ULL + 17)};
    Module m;
    m.kind = static_cast<ModuleKind>(seed % module_kinds);
    const double bar = module_bar_ah;
    const int shape = static_cast<int>(dice.uniform(0, 3));
    const double pace = dice.uniform(1.0, 4.0);
    double level = dice.uniform(bar * 1.03, 6.4);
    double first = level * dice.uniform(0.45, 0.92);
    double noise = dice.uniform(0.003, 0.010);
    const double room = dice.uniform(0.000, 0.004);
    switch (m.kind) {
    case ModuleKind::levelled_under:
        level = dice.uniform(bar * 0.45, bar * 0.95);
        first = level * dice.uniform(0.55, 0.95);
        break;
    case ModuleKind::near_miss:
        level = bar * dice.uniform(0.96, 0.985);
        first = level * dice.uniform(0.6, 0.95);
        break;
    case ModuleKind::near_pass:
        level = bar * dice.uniform(1.015, 1.04);
        first = level * dice.uniform(0.6, 0.95);
        break;
    case ModuleKind::noisy:
        noise = dice.uniform(0.012, 0.025);
        if (dice.chance(0.5))
            level = dice.uniform(bar * 0.5, bar * 0.93);
        else
            level = std::max(level, bar * 1.06);
        first = level * dice.uniform(0.5, 0.9);
        break;
    case ModuleKind::spoiled:
        if (dice.chance(0.5))
            level = dice.uniform(bar * 0.5, bar * 0.95);
        first = level * dice.uniform(0.5, 0.92);
        break;
    default:
        break;
    }
    const int stands_from = static_cast<int>(dice.uniform(3, 6));
    const int stands_for = static_cast<int>(dice.uniform(3, 5));
    const double stands_at = bar * dice.uniform(0.86, 0.97);
    const double fall = dice.uniform(0.012, 0.05);
    const double fall_first = bar * dice.uniform(0.85, 1.12);
    double drift = 0;
    for (int n = 1; n <= module_cycles; ++n) {
        double truth = first + (level - first) * climb(shape, pace, n);
        if (m.kind == ModuleKind::climbing_again) {
            const double low = std::min(first, stands_at * 0.9);
            const double before = low + (stands_at - low) * std::min(1.0, climb(shape, 1.2, n) * 1.05);
            const double since = n - stands_from - stands_for;
            truth = since <= 0 ? before : before + (level - before) * (1 - std::exp(-since / 1.8));
        }
        if (m.kind == ModuleKind::falling)
            truth = fall_first * std::pow(1 - fall, n - 1) * (n == 1 ? 0.995 : 1);
        m.true_ah.push_back(truth);
        drift = 0.8 * drift + dice.normal(room);
        ModuleCycle cycle;
        cycle.measured_ah = truth * (1 + drift + dice.normal(noise));
        const bool spoils = dice.chance(m.kind == ModuleKind::spoiled ? 0.18 : 0.01);
        if (spoils) {
            cycle.measured_ah *= dice.uniform(0.45, 0.93);
            cycle.full = dice.chance(0.15); // the tester seldom fails to say so
        }
        cycle.measured_ah = std::max(0.0, cycle.measured_ah);
        m.cycles.push_back(cycle);
    }
    const double best = *std::max_element(m.true_ah.begin(), m.true_ah.end());
    m.good = best >= bar && m.true_ah.back() >= bar && m.kind != ModuleKind::falling;
    return m;
}

} // namespace simulated
