// What a lot, a source, a model is like: yields, quantiles, what a further unit of it would be, how many more are
// needed, and what the odd ones have in common. See docs/methods/populations.md.
#pragma once

#include "core/cells/evidence.h"
#include "core/measure/facts.h"
#include "core/sort/duty.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

// A share with its interval, 95 %.
struct ShareOf {
    double mean = 0, low = 0, high = 0; // 0..1
};
// What a further one would be, after `hits` of `of`: Beta distribution with the half-a-case prior of Jeffreys. Throws
// std::invalid_argument unless 0 <= hits <= of.
[[nodiscard]] ShareOf chance_of_next(int hits, int of);

// The chance that `more` further ones give at least `needed`, after `hits` of `of` (beta-binomial). 0..1.
[[nodiscard]] double chance_of_at_least(int needed, int more, int hits, int of);
// The fewest further ones that give at least `needed` with this chance; nothing where more than `most` would be needed
// or nothing is known yet (of = 0).
[[nodiscard]] std::optional<int> further_for(int needed, double chance, int hits, int of, int most = 100'000);

// A measured quantity of a population: quartiles and how many have one.
struct Quartiles {
    int known = 0;
    double lower = 0, middle = 0, upper = 0;
};
// Each of at least one value.
[[nodiscard]] std::optional<Quartiles> quartiles_of(const std::vector<double>& values);

// What makes a unit's label doubtful.
enum class Suspicion {
    holds_far_less, // than its model is rated, while its resistance is far from new: worn, or never was that model
    holds_more,     // than its model is rated: another model under that name
    too_light,      // for its model
    too_heavy,
};
inline constexpr int suspicion_count = 4;
[[nodiscard]] const char* code(Suspicion suspicion);
struct Suspect {
    std::size_t unit = 0; // index into what was given
    Suspicion suspicion{};
    double measured = 0, claimed = 0; // Ah or kg
};
struct LabelledUnit {
    UnitFacts facts;
    UnitReference reference;        // only one that a model gives is held against the unit
    std::optional<double> mass_kg;  // weighed
    std::optional<double> model_kg; // its model's
};
// Limits by common practice, no source: under half of the rating with twice the new resistance, a tenth over the
// rating, a twentieth off in mass.
[[nodiscard]] std::vector<Suspect> suspects(const std::vector<LabelledUnit>& units);

// One thing that units can share: "source: hill repeaters", "tray: T3".
struct Trait {
    std::string kind, value;
    friend auto operator<=>(const Trait&, const Trait&) = default; // NOLINT(modernize-use-nullptr): its own 0
};
// A trait that the odd ones share more often than chance would have it.
struct SharedTrait {
    Trait trait;
    int odd_with = 0, with = 0, odd = 0, all = 0;
    double chance = 0; // that so many of the odd ones have it by chance alone, times the number of traits looked at
};
// Fisher's exact test, one-sided, each trait against the rest; the strongest first, down to `largest_chance`. A trait
// that all units have, or that fewer than three odd ones have, says nothing.
[[nodiscard]] std::vector<SharedTrait> shared_traits(const std::vector<std::vector<Trait>>& units,
                                                     const std::vector<char>& odd, double largest_chance = 0.01);

// Two instruments on the same units: how much the first reads above the second.
struct InstrumentGap {
    std::string instrument, against;
    int units = 0;
    double ratio = 1;       // of the readings, middle
    double uncertainty = 0; // of the ratio, k = 2
};
struct TwiceRead {
    std::string unit, instrument;
    double value = 0; // > 0; one quantity and method
};
// Every pair of instruments that read at least five units in common, where the ratio differs from 1 by more than its
// uncertainty and by more than 1 %; the widest gap first. Which of the two is wrong is for a third to say.
[[nodiscard]] std::vector<InstrumentGap> instrument_gaps(const std::vector<TwiceRead>& readings);

} // namespace ingot
