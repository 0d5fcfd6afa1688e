// Six unlike shops' packs with one to six hidden faults each, as the bench would type their readings. Shares neither
// code nor formulas nor mixes with the explanation engine, nor with triage_packs.h: curves are tables of this file's
// own, resistance follows a power of what is left, recovery after load a power of time, a pack may be warmer in the
// middle, meters have gain and offset and write few or many digits.
#pragma once

#include <cstdint>
#include <string>
#include <utility>
#include <vector>

namespace shops {

enum class Shop {
    small_packs, // 5S to 10S of lithium, mostly dead or out of balance
    modules,     // rows of 14 to 40 nickel modules, 0 to 6 bad, mostly typed to 0.1 V
    harvest,     // 7S to 14S with 2 to 8 in parallel, mostly dead through or leaking
    careful,     // mostly healthy or slightly out of balance, 0.001 V
    hire,        // sticks of 4 to 10 single nickel cells and small iron phosphate packs, mostly worn or leaking
    depot        // 10S to 16S of another curve, wear without one law, leaks that slow down, read before they settled
};
inline constexpr int shop_count = 6;
[[nodiscard]] const char* name(Shop shop);

struct Reading {
    int group = 0;         // 1-based
    std::string condition; // as in ingot-cli
    double volts = 0, amperes = 0, days = 0;
};

struct Case {
    int series = 0, parallel = 1, cells_per_unit = 1;
    std::string chemistry;
    double resolution_v = 0.001;
    // What is wrong: the trade's names with their groups, rising; empty: healthy.
    std::vector<std::pair<std::string, std::vector<int>>> faults;
    std::vector<Reading> rest;    // every group at rest
    double terminals_v = 0;       // at rest
    std::vector<Reading> further; // one more kind: under load, at the end of charge, or stored for days
    // What each kind would have shown; empty: nobody takes it (a dead group is neither loaded nor charged).
    std::vector<Reading> load, end_of_charge, stored;
};

// The same seed gives the same case.
[[nodiscard]] Case make(Shop shop, std::uint64_t seed);

} // namespace shops
