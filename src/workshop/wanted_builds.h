// Builds that have no units yet, and who of them gets what of the stock. All by value, so that the answer is found
// beside the window.
#pragma once

#include "core/assembly/assembly.h"
#include "core/cells/evidence.h"
#include "core/match/allot.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

// What a person says of a build before it has units.
struct WantedBuild {
    std::string purpose; // what it is for; may be empty
    int series = 0;      // units; 1..200
    int parallel = 0;    // 1..500
    std::optional<double> usable_ah;
    std::optional<Duty> least_duty;
};
// "mower pack 7S4P 9.2 Ah drive": words, groups and capacity in any order, the duty first or last; decimal comma or
// point. Objects to
// groups that are missing or out of range, and to a capacity that is none.
[[nodiscard]] Result<WantedBuild> wanted_build_from(const std::string& line);

// A pack that was opened in part wants as many groups as it lost, like those that stayed.
struct Refill {
    Id pack = 0;
    std::vector<int> groups;          // its places that are to be filled, rising
    int survivors = 0;                // groups that stay in it
    int known = 0;                    // of them, whose capacity is known
    std::optional<double> weakest_ah; // of those: more than that gains nothing
    std::optional<double> stand_at_v; // of a surviving group at rest, the median
    std::string model;                // of most units that came out of it; empty: nobody knows
};

// What is asked: the stock, and the builds that want units, first come first.
struct AllotQuestion {
    AllotProblem problem;
    std::vector<Id> units;  // as in the pool
    std::vector<Id> builds; // as in the problem
    // Of the pool, what no build may use yet: its verdict still waits for a measurement.
    std::vector<char> waits;
};

struct AllotAnswer {
    AllotQuestion question;
    AllotResult result;
    std::vector<AllotStanding> standings; // as the builds
    // The most each could have with the units whose verdict still waits; nothing where none of them fits.
    struct Waiting {
        int units = 0;
        double at_most_ah = 0;
    };
    std::vector<Waiting> waiting;

    [[nodiscard]] bool met(std::size_t build) const;        // filled, and as much as is wanted
    [[nodiscard]] double short_ah(std::size_t build) const; // 0: met, or nothing is wanted
};

// `going` is asked now and then whether the answer is still wanted.
[[nodiscard]] Result<AllotAnswer> answer_allotment(AllotQuestion question, const std::function<bool()>& going);

} // namespace ingot
