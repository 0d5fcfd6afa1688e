// What packs turned out to have, once they were opened or mended, against what was said of them before: the shop's own
// reliability, and what it expects of the next pack of a kind.
#pragma once

#include "core/triage/explain.h"

#include <span>
#include <string>
#include <vector>

namespace ingot {

// A fault and its groups, rising; none where it concerns the whole pack, or where nobody knows in which it was.
struct NamedFault {
    Fault fault = Fault::healthy;
    std::vector<int> groups;
    friend bool operator==(const NamedFault&, const NamedFault&) = default;
};
// As they stand in an outcome: each fault once, in the order of the faults; nothing wrong: "healthy" alone.
[[nodiscard]] std::vector<NamedFault> in_order(std::vector<NamedFault> faults);
[[nodiscard]] std::vector<NamedFault> named_by(const Explanation& explanation);

struct Outcome {
    std::vector<NamedFault> causes{NamedFault{}};
    // What the readings said before: the first explanation, and what was given for the true one. 0..1.
    std::vector<NamedFault> first{NamedFault{}};
    double first_stated = 0, cause_stated = 0;
    [[nodiscard]] bool first_right() const { return causes == first; }
};

// One line of text for the workshop file, and back; nothing where it is none. Lines of before, which name one fault
// each, read as they always did.
[[nodiscard]] std::string write_outcome(const Outcome& outcome);
[[nodiscard]] std::optional<Outcome> read_outcome(const std::string& text);

// `stated`: the sum of what was said of the first explanations; `right`: how many of them were.
struct Reliability {
    int packs = 0, right = 0;
    double stated = 0;
};
[[nodiscard]] Reliability reliability(std::span<const Outcome> outcomes);

// The chances to begin with, moved towards what packs of the kind turned out to have, and half as much towards what
// others of the shop that are like it had: shipped ones count as `shipped_weight` packs, and none falls under a fifth
// of what is shipped. A pack with several faults counts once, shared evenly among them.
inline constexpr double shipped_weight = 12;
[[nodiscard]] TriageKnowledge learned(TriageKnowledge shipped, std::span<const Outcome> of_the_kind,
                                      std::span<const Outcome> like_it = {});

} // namespace ingot
