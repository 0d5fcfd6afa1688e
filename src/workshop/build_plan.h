// A build on paper: where its units stand, what joins them, what the metal carries, what each step lays bare (how long
// it runs: build_run.h). A question holds all it needs by value, so that it can be answered beside the window.
#pragma once

#include "core/build/build_steps.h"
#include "core/build/design.h"
#include "core/build/layout_covers.h"
#include "core/build/layout_moves.h"
#include "core/build/pack_joints.h"
#include "core/cells/chemistry.h"
#include "core/cells/id.h"
#include "core/cells/still_wanted.h"
#include "exchange/library_toml.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

struct BuildQuestion {
    Id build = 0;
    int series = 0, parallel = 0, cells_per_unit = 1;
    std::vector<std::vector<std::string>> groups; // codes
    std::vector<JoinedCell> units;                // group after group; units not read count as full, see `unread`
    std::vector<double> capacity_ah;              // 0: not measured
    std::vector<double> capacity_uncertainty_ah;  // k = 2; 0: not known
    std::vector<std::string> unread;              // without a fresh voltage
    std::vector<double> leak_ah_per_day;          // 0: not known
    std::vector<std::string> without_resistance, without_capacity, without_leak;
    std::optional<double> diameter_m;            // nothing: no round cells, or of an unknown format
    std::optional<std::array<double, 2>> flat_m; // of flat cells: broad, thick
    bool to_scale = true;                        // false: modules of an unknown size, drawn as blocks
    double height_m = 0;                         // of the tallest; 0: not known
    double unit_mass_kg = 0;                     // 0: not known
    double continuous_rating_a = 0;              // of one unit; 0: not known
    Chemistry chemistry;
    BuildDesign design;
    std::optional<exchange::StripMaterial> material;
    std::optional<exchange::StripDensity> density;
    std::optional<StripStock> stock; // nothing as long as width or thickness are unknown
    [[nodiscard]] bool drawn() const { return diameter_m.has_value() || flat_m.has_value(); }
};

struct LayoutProposal {
    Layout layout;
    std::optional<PackJoints> joints; // nothing: strip, load or a resistance is not known
};

// What would mend the worst piece.
enum class RemedyKind { end_layer, link_layer, thicker, wider };
struct Remedy {
    RemedyKind kind{};
    StripStock stock;
    PackJoints joints;
    bool welder_fits = true; // as far as its limit is known
};

struct BuildPlan {
    Id build = 0;
    std::vector<LayoutProposal> proposals; // the best of each kind; empty: not of round cells
    std::size_t chosen = 0;
    std::vector<BuildStep> steps;
    std::optional<double> clearance_m; // of the chosen one
    bool joins_as_designed = false;
    std::vector<Remedy> remedies;
    std::optional<double> gap_m; // between two cells of the chosen one
    LayoutCovers covers;         // of the chosen one: rings, cards, corners
    Layout as_proposed;          // the chosen one before a hand moved it
    Sentence not_moved;          // why what a hand moved is not in it: it was moved in another arrangement
    Sentence objection;          // why there are no proposals
    // Of modules: in one row, each turned against the next; codes from the pack's minus on.
    std::vector<std::string> row;
    [[nodiscard]] const LayoutProposal* now() const { return proposals.empty() ? nullptr : &proposals[chosen]; }
};
[[nodiscard]] BuildPlan plan_build(
    const BuildQuestion& question, const StillWanted& wanted = [] { return true; });
// The chosen layout as those moves have it, with its currents and checks, within the time of a hand's movement; steps
// and remedies stay as they are. Objects where a move asks for what cannot be.
[[nodiscard]] Result<BuildPlan> with_moves(const BuildPlan& plan, const BuildQuestion& question,
                                           const std::vector<LayoutMove>& moves);
// Where its units may stand, and no more; of units that are not round as if they were, to have their order.
[[nodiscard]] BuildPlan lay_out_build(const BuildQuestion& question, const StillWanted& wanted);

} // namespace ingot
