// What packs turned out to have, once they were opened or mended, against what was said of them before: the shop's own
// reliability, and what it expects of the next pack of a kind.
#pragma once

#include "core/triage/explain.h"

#include <span>
#include <string>
#include <vector>

namespace ingot {

struct Outcome {
    Fault cause = Fault::healthy;
    std::vector<int> groups; // rising; empty where it concerns the whole pack
    // What the readings said before: the first explanation, and what was given for the true one. 0..1.
    Fault first = Fault::healthy;
    std::vector<int> first_groups;
    double first_stated = 0, cause_stated = 0;
    [[nodiscard]] bool first_right() const { return first == cause && first_groups == groups; }
};

// One line of text for the workshop file, and back; nothing where it is none.
[[nodiscard]] std::string write_outcome(const Outcome& outcome);
[[nodiscard]] std::optional<Outcome> read_outcome(const std::string& text);

// `stated`: the sum of what was said of the first explanations; `right`: how many of them were.
struct Reliability {
    int packs = 0, right = 0;
    double stated = 0;
};
[[nodiscard]] Reliability reliability(std::span<const Outcome> outcomes);

// The chances to begin with, moved towards what packs of the kind turned out to have, and half as much towards what
// others of the shop that are like it had: shipped ones count as `shipped_weight` packs, and none falls under half of
// what is shipped.
inline constexpr double shipped_weight = 20;
[[nodiscard]] TriageKnowledge learned(TriageKnowledge shipped, std::span<const Outcome> of_the_kind,
                                      std::span<const Outcome> like_it = {});

} // namespace ingot
