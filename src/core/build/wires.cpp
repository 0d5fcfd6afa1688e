#include "core/build/wires.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace ingot {

namespace {

// IEC 60228, table 3, class 5, plain annealed copper.
constexpr std::array<StandardWire, 15> flexible_copper{{{0.5, 39.0e-3},
                                                        {0.75, 26.0e-3},
                                                        {1, 19.5e-3},
                                                        {1.5, 13.3e-3},
                                                        {2.5, 7.98e-3},
                                                        {4, 4.95e-3},
                                                        {6, 3.30e-3},
                                                        {10, 1.91e-3},
                                                        {16, 1.21e-3},
                                                        {25, 0.780e-3},
                                                        {35, 0.554e-3},
                                                        {50, 0.386e-3},
                                                        {70, 0.272e-3},
                                                        {95, 0.206e-3},
                                                        {120, 0.161e-3}}};
constexpr double mm2_per_m2 = 1e6;
constexpr double to_mm = 1000;
constexpr double preece_copper = 80; // A/mm^1.5
constexpr double preece_power = 1.5;
constexpr int thickest_gauge = -3;
constexpr int thinnest_gauge = 40;

} // namespace

std::span<const StandardWire> standard_wires() {
    return flexible_copper;
}

std::optional<StandardWire> wire_for(double current_a, double a_per_m2) {
    constexpr double hair = 1 + 1e-9;
    for (const StandardWire& wire : flexible_copper)
        if (wire.section_mm2 / mm2_per_m2 * a_per_m2 * hair >= current_a)
            return wire;
    return std::nullopt;
}

double gauge_diameter_m(int number) {
    return 0.127e-3 * std::pow(92.0, (36 - number) / 39.0);
}

std::optional<int> gauge_for(double section_mm2) {
    for (int number = thinnest_gauge; number >= thickest_gauge; --number) {
        const double d = gauge_diameter_m(number) * to_mm;
        if (std::numbers::pi / 4 * d * d >= section_mm2)
            return number;
    }
    return std::nullopt;
}

double copper_melts_at_a(double diameter_m) {
    return preece_copper * std::pow(diameter_m * to_mm, preece_power);
}

double copper_that_melts_at_m(double current_a) {
    return std::pow(current_a / preece_copper, 1 / preece_power) / to_mm;
}

double copper_melts_within_a(double diameter_m, double seconds, double air_c) {
    constexpr double metres_a_mil = 25.4e-6;
    constexpr double copper_melts_c = 1083;
    const double mils = diameter_m / metres_a_mil;
    return mils * mils * std::sqrt(std::log10((copper_melts_c - air_c) / (234 + air_c) + 1) / (33 * seconds));
}

} // namespace ingot
