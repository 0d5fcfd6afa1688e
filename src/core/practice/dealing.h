// What all practice deals are made with: numbers that are the same on any bench, from a level and a seed.
#pragma once

#include "core/cells/random.h"

#include <cmath>
#include <cstdint>
#include <stdexcept>

namespace ingot::dealing {

inline std::uint64_t mixed(std::uint64_t a, std::uint64_t b, std::uint64_t c) {
    std::uint64_t x =
        a * 0x9E3779B97F4A7C15ULL ^ (b + 0x7F4A7C15ULL) * 0xBF58476D1CE4E5B9ULL ^ (c + 1) * 0x94D049BB133111EBULL;
    x ^= x >> 31;
    x *= 0xD6E8FEB86659FD93ULL;
    return x ^ (x >> 29);
}

inline double between(Random& random, double from, double to) {
    return from + (to - from) * random.unit();
}
// About normal: the sum of twelve.
inline double around(Random& random, double sd) {
    double sum = -6;
    for (int i = 0; i < 12; ++i)
        sum += random.unit();
    return sum * sd;
}

inline double rounded(double value, double resolution) {
    return std::round(value / resolution) * resolution;
}

inline void check_deal(int level, int seed, int levels, int seeds) {
    if (level < 1 || level > levels || seed < 0 || seed >= seeds)
        throw std::invalid_argument("a practice deal has level 1 to 5 and seed 0 to 9999");
}

} // namespace ingot::dealing
