// Populations: what each source, lot and model of the shop is like, what a further unit of it would be, which labels
// are doubtful, what the odd ones share, which instruments disagree.
#pragma once

#include "core/sort/population.h"
#include "workshop/workshop.h"

#include <array>
#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

enum class PopulationBy { source, lot, model };
inline constexpr int population_by_count = 3;

// A unit as populations see it.
struct PopulationUnit {
    Id unit = 0;
    LabelledUnit labelled;
    Duty duty{};
    bool judged = false; // its duty is more than "measure it first"
    std::string source, lot, model;
    Id pack = 0;
    std::vector<Trait> traits;
};
// By value, so that it can be worked out beside the window.
struct PopulationQuestion {
    std::vector<PopulationUnit> units;
    std::vector<TwiceRead> dc_ohm, capacity_ah;
};

struct Population {
    std::string name; // empty: of none
    int units = 0, judged = 0;
    std::array<int, duty_count> duties{};
    std::optional<Quartiles> capacity_share;      // of rated
    std::optional<Quartiles> resistance_multiple; // of new
    int packs = 0;                                // that gave units
    [[nodiscard]] int at_least(Duty duty) const;  // that are fit for it or for harder work
    [[nodiscard]] double units_a_pack() const { return packs > 0 ? static_cast<double>(units) / packs : 0; }
};
struct InstrumentDoubt {
    bool resistance = true; // else capacity
    InstrumentGap gap;
};
struct DoubtfulLabel {
    Id unit = 0;
    Suspect suspect;
};
struct PopulationAnswer {
    std::array<std::vector<Population>, population_by_count> by; // most units first
    std::vector<DoubtfulLabel> doubtful;
    std::vector<SharedTrait> shared; // by scrap and quarantined units, against all that are judged
    std::vector<InstrumentDoubt> instruments;
};

[[nodiscard]] PopulationQuestion population_question(Workshop& workshop);
[[nodiscard]] PopulationAnswer answer_populations(const PopulationQuestion& question);
// Gathers and answers on the calling thread, over a connection of its own that only reads. Throws std::runtime_error
// with the reason where the file cannot be opened.
[[nodiscard]] PopulationAnswer populations_beside(const std::string& path);
// The answer as things stand, to be run on any thread: of many units it is gathered there as well.
[[nodiscard]] std::function<PopulationAnswer()> population_work(Workshop& workshop);

// Packs of a population to open so that, with this chance, `needed` more units are fit for a duty: units that are
// needed, rounded up to whole packs. Nothing where nothing is known, or far too many would be needed.
[[nodiscard]] std::optional<int> packs_for(const Population& population, Duty duty, int needed, double chance);

// Every population with its counts and quartiles.
[[nodiscard]] std::string populations_csv(const PopulationAnswer& answer);

} // namespace ingot
