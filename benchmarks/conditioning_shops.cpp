#include "conditioning_shops.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

namespace simulated {

namespace {

class Luck {
public:
    explicit Luck(std::uint64_t seed) : engine_(seed) {}
    double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(engine_); }
    double bell(double middle, double sigma) { return std::normal_distribution<double>(middle, sigma)(engine_); }
    double long_tailed(double sigma) { return sigma * std::student_t_distribution<double>(3)(engine_); }
    int whole(int low, int high) { return std::uniform_int_distribution<int>(low, high)(engine_); }
    bool happens(double share) { return between(0, 1) < share; }

private:
    std::mt19937_64 engine_;
};

// Good: at the bar in the end, and not on its way down through it.
void decide(Module& m) {
    const double last = m.true_ah.back();
    const double before = m.true_ah[m.true_ah.size() - 4];
    m.good = last >= m.bar_ah && last + (last - before) >= m.bar_ah;
}

void measure(Module& m, double ah, bool full = true) {
    m.cycles.push_back({std::max(0.0, ah), full});
}

// A row of module cells: gains as the logarithm of the cycle, interrupted once by a stand-still; some fall after a
// peak.
Module of_rows(Luck& luck) {
    Module m;
    const double level = std::clamp(luck.bell(5.3, 0.7), 1.5, 6.6);
    const double first = level * luck.between(0.5, 0.95);
    const double pace = luck.between(0.3, 3.0);
    const bool halts = luck.happens(0.35);
    const int halt_from = luck.whole(2, 6);
    const int halt = luck.whole(2, 8);
    const bool falls = luck.happens(0.08);
    const int falls_from = luck.whole(2, 6);
    const double fall = luck.between(0.008, 0.03);
    const double noise = luck.between(0.004, 0.012);
    double room = 0;
    double truth = first;
    for (int n = 1; n <= module_cycles; ++n) {
        const int after = halts && n > halt_from ? std::max(halt_from, n - halt) : n;
        const double reached = std::log1p((after - 1) * pace) / std::log1p((module_cycles - 1) * pace);
        truth = first + (level - first) * std::min(1.0, reached * 1.15);
        if (falls && n > falls_from)
            truth *= 1 - fall * (n - falls_from);
        m.true_ah.push_back(truth);
        room = 0.7 * room + luck.bell(0, 0.003);
        const bool spoilt = luck.happens(0.03);
        measure(m, truth * (1 + room + luck.bell(0, noise)) * (spoilt ? luck.between(0.5, 0.9) : 1),
                !spoilt || luck.happens(0.2));
    }
    return m;
}

// Loose cells of 2 Ah: now a gain, now none; a display with a long tail of errors that nobody flags.
Module of_loose_cells(Luck& luck) {
    Module m;
    m.rated_ah = 2.0;
    m.bar_ah = 1.6;
    const double level = m.rated_ah * luck.between(0.5, 1.05);
    double truth = level * luck.between(0.35, 0.97);
    const double share = luck.between(0.15, 0.6);
    const bool tires = luck.happens(0.06);
    int still = 0;
    for (int n = 1; n <= module_cycles; ++n) {
        m.true_ah.push_back(truth);
        const bool low = luck.happens(0.05);
        measure(m, truth * (1 + luck.long_tailed(0.006)) * (low ? luck.between(0.8, 0.95) : 1));
        if (still > 0)
            --still;
        else if (luck.happens(0.12))
            still = luck.whole(2, 8);
        else
            truth += (level - truth) * share * luck.between(0.4, 1.6);
        if (tires && n > 4)
            truth *= luck.between(0.97, 0.995);
    }
    return m;
}

// Large cells that lay for years: a first cycle that says nothing, then a climb that begins late; soft shorts among
// them; a display with steps of 0.05 Ah.
Module of_old_stock(Luck& luck) {
    Module m;
    m.rated_ah = 10;
    m.bar_ah = 7.5;
    const double level = luck.between(4.5, 10.2);
    const double base = level * luck.between(0.4, 0.85);
    const double onset = luck.between(2, 9);
    const double form = luck.between(1.5, 3);
    const bool shorted = luck.happens(0.12);
    const int shorted_from = luck.whole(2, 9);
    const double loss = luck.between(0.02, 0.08);
    for (int n = 1; n <= module_cycles; ++n) {
        const double x = n / onset;
        double truth = base + (level - base) * (1 - std::exp(-std::pow(x, form)));
        if (n == 1)
            truth *= luck.between(0.3, 0.8);
        if (shorted && n > shorted_from)
            truth *= std::pow(1 - loss, n - shorted_from);
        m.true_ah.push_back(truth);
        constexpr double step = 0.05;
        measure(m, std::round(truth * (1 + luck.between(-0.015, 0.015)) / step) * step);
    }
    return m;
}

// Whatever comes in: two climbs with a stand-still between them, a room that swings from day to night, sudden deaths.
Module of_mixed(Luck& luck) {
    Module m;
    m.rated_ah = luck.happens(0.5) ? 6.5 : 3.0;
    m.bar_ah = m.rated_ah * luck.between(0.7, 0.82);
    const double level = m.rated_ah * luck.bell(0.8, 0.13);
    const double first = level * luck.between(0.4, 0.9);
    const double quick = luck.between(0.2, 1.2);
    const double slow = luck.between(0.05, 0.2);
    const double of_quick = luck.between(0.3, 0.9);
    const bool halts = luck.happens(0.4);
    const int halt_from = luck.whole(2, 7);
    const int halt = luck.whole(2, 8);
    const double swing = luck.between(0, 0.015);
    const double period = luck.between(3, 9);
    const double phase = luck.between(0, 2 * std::numbers::pi);
    const int dies_at = luck.happens(0.06) ? luck.whole(4, 18) : module_cycles + 1;
    for (int n = 1; n <= module_cycles; ++n) {
        const int after = halts && n > halt_from ? std::max(halt_from, n - halt) : n;
        const double reached =
            of_quick * (1 - std::exp(-quick * (after - 1))) + (1 - of_quick) * (1 - std::exp(-slow * (after - 1)));
        const double truth = (first + (level - first) * reached) * (n >= dies_at ? 0.4 : 1);
        m.true_ah.push_back(truth);
        const double room = swing * std::sin(2 * std::numbers::pi * n / period + phase);
        const bool spoilt = luck.happens(0.02);
        measure(m, truth * (1 + room + luck.bell(0, 0.005)) * (spoilt ? luck.between(0.4, 0.9) : 1),
                !spoilt || luck.happens(0.3));
    }
    return m;
}

} // namespace

const char* name(ModuleShop shop) {
    switch (shop) {
    case ModuleShop::rows:
        return "rows";
    case ModuleShop::loose_cells:
        return "loose cells";
    case ModuleShop::old_stock:
        return "old stock";
    case ModuleShop::mixed:
        return "mixed";
    }
    return "";
}

Module make_module(ModuleShop shop, std::uint64_t seed) {
    Luck luck(seed * 0xD1B54A32D192ED03ULL + static_cast<std::uint64_t>(shop) * 7919 + 3);
    Module m = shop == ModuleShop::rows          ? of_rows(luck)
               : shop == ModuleShop::loose_cells ? of_loose_cells(luck)
               : shop == ModuleShop::old_stock   ? of_old_stock(luck)
                                                 : of_mixed(luck);
    decide(m);
    return m;
}

} // namespace simulated
