// A practice deal of its own kind: three ways to make one pack of the same units, of which one holds longest. Which it
// is comes out of cells that are run empty one by one, not out of the sums that Match weighs.
#pragma once

#include "core/practice/deal.h"

namespace ingot {

// As it is, and as it was measured.
struct DealtUnit {
    double capacity_ah = 0, resistance_ohm = 0, leak_ah_per_day = 0;
    double read_capacity_ah = 0, read_resistance_ohm = 0, read_leak_ah_per_day = 0;
};

// What may be measured beside the capacities, which are given; of all units at one go.
enum class MatchMeasure { resistances, rest_week };
inline constexpr int match_measure_count = 2;

class MatchDeal {
public:
    // Level 1: capacities decide, plainly; 2: closely; 3: a resistance or a leak may decide; 4: with a coarse meter; 5:
    // closely. Level 1..5, seed 0..9999, else std::invalid_argument.
    MatchDeal(int level, int seed);

    static constexpr int ways = 3;
    [[nodiscard]] const PackLayout& layout() const { return layout_; }
    [[nodiscard]] const std::vector<DealtUnit>& units() const { return units_; }
    // Units (from 0) of each group.
    [[nodiscard]] const std::vector<std::vector<std::size_t>>& way(int way) const {
        return ways_.at(static_cast<std::size_t>(way));
    }
    [[nodiscard]] double load_a() const { return load_a_; }
    [[nodiscard]] int weeks_stored() const { return weeks_; } // before it has to give what it holds
    [[nodiscard]] MeasureCost cost(MatchMeasure measure) const;
    // Ah that each way gives then, to the first empty group.
    [[nodiscard]] const std::vector<double>& gives_ah() const { return gives_ah_; }
    [[nodiscard]] int best() const;
    // A unit in it leaks: whoever takes it sends a pack out that goes flat.
    [[nodiscard]] bool holds_a_leaker(int way) const;
    // The cheapest of what has to be known to see which is best; minutes of hands.
    [[nodiscard]] double needed_min() const;

private:
    void deal_units(Random& random);
    void deal_ways(Random& random);
    // By what is known: without resistances or leaks, those of a usual unit.
    [[nodiscard]] std::vector<double> run(bool read, bool resistances, bool leaks) const;

    int level_;
    PackLayout layout_;
    double load_a_ = 0;
    int weeks_ = 0;
    std::vector<DealtUnit> units_;
    std::vector<std::vector<std::vector<std::size_t>>> ways_;
    std::vector<double> gives_ah_;
};

} // namespace ingot
