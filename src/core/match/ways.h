// The plain ways of matching, to stand beside the search. Not a public header.
#pragma once

#include "core/match/problem.h"

namespace ingot::matching {

// Pool indices that may be used: not excluded; with capacity unless the way does without.
[[nodiscard]] std::vector<std::size_t> usable_units(const MatchProblem& problem, bool needs_capacity);

// Conductance and leak of every unit of the pool. What is not known counts at the middle of its model (conductance) or
// of the pool (leak), so that no unit is lost to the first goal for want of a reading; with less than half of the
// resistances known, conductance is not levelled at all.
struct FilledPool {
    bool has_conductance = false;
    bool has_leak = false;
    std::vector<double> conductance_s;
    std::vector<double> leak_ah_per_day;
    double median_leak = 0;
};
[[nodiscard]] FilledPool fill(const MatchProblem& problem);

using Groups = std::vector<std::vector<std::size_t>>;
[[nodiscard]] Groups groups_in(const MatchResult& result);
// `go_on_from` where it fits the problem, else nothing.
[[nodiscard]] Groups earlier_answer(const MatchProblem& problem);
// How often the demands are broken, all together; and said of a result in a note, where they are.
[[nodiscard]] int count_breaches(const MatchProblem& problem, const Groups& groups);
void note_breaches(const MatchProblem& problem, MatchResult& result);

// --- demands.cpp, demand_search.cpp ---
// Units that may be used as far as the pool goes, but of which a demand asks a figure that is not known; locked ones
// stay.
[[nodiscard]] std::vector<std::size_t> without_asked_figure(const MatchProblem& problem);
// From an answer that heeds no demand to one that does: first no breach, then the largest usable capacity, then
// levelness above what may be given up. With breaches left where nothing better was found; it says so in a note.
[[nodiscard]] MatchResult meet_demands(const MatchProblem& problem, const MatchResult& start,
                                       const MatchObserver& observer);

// The best S x P by capacity dealt out to and fro.
[[nodiscard]] Result<Groups> by_deal(const MatchProblem& problem);
// One model: the S x P units of the narrowest window of capacity and resistance, dealt out to and fro.
[[nodiscard]] Result<Groups> by_twins(const MatchProblem& problem);
// The S x P units with the nearest voltages, grouped in order.
[[nodiscard]] Result<Groups> by_voltage(const MatchProblem& problem);

} // namespace ingot::matching
