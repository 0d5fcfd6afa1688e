// What goes with a pack when it leaves the bench: what is in it and where that came from, how it was joined, what was
// proved, what it may be asked. SI units.
#pragma once

#include "core/prove/proof.h"

#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace ingot {

struct Passport {
    std::string label, workshop, chemistry, chemistry_name;
    int series = 1, parallel = 1, cells_per_unit = 1;
    std::string joined_at, proved_at, proved_by; // ISO 8601, UTC; empty: not yet
    struct Unit {
        std::string code, model, origin; // the pack it came out of
        int group = 0, place = 0;
        std::optional<double> capacity_ah, resistance_ohm, leak_ah_per_day;
    };
    std::vector<Unit> units;
    std::optional<double> usable_ah; // of the weakest group; nothing: not all were measured
    double nominal_v = 0, empty_v = 0;
    std::optional<double> charge_limit_v;
    std::vector<std::pair<std::string, std::string>> design; // figure, value
    struct Round {
        ProofRound round{};
        std::string read_at;
        ProofReading reading;
        RoundVerdict verdict;
        std::string signed_by, left_out; // by whom; why it was not done
    };
    std::vector<Round> rounds; // those that were read, answered or left out
    struct Item {
        ProofItem item{};
        double value = 0; // in the item's unit
    };
    std::vector<Item> items;
    bool lithium = false;
};

} // namespace ingot
