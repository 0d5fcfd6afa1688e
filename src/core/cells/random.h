// Chance for the searches: the same seed gives the same numbers on every machine.
#pragma once

#include <cstdint>

namespace ingot {

// xorshift64*
class Random {
public:
    explicit Random(std::uint64_t seed) : state_(seed * 0x9E3779B97F4A7C15ULL + 0x2545F4914F6CDD1DULL) {}
    std::uint64_t next() {
        state_ ^= state_ >> 12;
        state_ ^= state_ << 25;
        state_ ^= state_ >> 27;
        return state_ * 0x2545F4914F6CDD1DULL;
    }
    // 0..n-1
    int below(int n) { return static_cast<int>(((next() >> 32) * static_cast<std::uint64_t>(n)) >> 32); }
    // (0, 1]
    double unit() { return (static_cast<double>(next() >> 11) + 1) * (1.0 / 9007199254740992.0); }

private:
    std::uint64_t state_;
};

} // namespace ingot
