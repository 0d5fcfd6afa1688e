// A build on paper: where its units stand, what joins them, what the metal carries, what each step lays bare, how long
// it runs. A question holds all it needs by value, so that it can be answered beside the window.
#pragma once

#include "core/build/build_steps.h"
#include "core/build/design.h"
#include "core/build/pack_charge.h"
#include "core/build/pack_in_use.h"
#include "core/build/pack_joints.h"
#include "core/cells/chemistry.h"
#include "core/cells/id.h"
#include "exchange/library_toml.h"

#include <functional>
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
    std::optional<double> diameter_m; // nothing: no round cells, or of an unknown format
    double unit_mass_kg = 0;          // 0: not known
    double continuous_rating_a = 0;   // of one unit; 0: not known
    Chemistry chemistry;
    BuildDesign design;
    std::optional<exchange::StripMaterial> material;
    std::optional<exchange::StripDensity> density;
    std::optional<StripStock> stock; // nothing as long as width or thickness are unknown
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
    Sentence objection; // why there are no proposals
    [[nodiscard]] const LayoutProposal* now() const { return proposals.empty() ? nullptr : &proposals[chosen]; }
};
// Asked between the pieces of long work; false: nobody waits for it any more, what is there is handed out.
using StillWanted = std::function<bool()>;
[[nodiscard]] BuildPlan plan_build(
    const BuildQuestion& question, const StillWanted& wanted = [] { return true; });

// How long it runs under the load of its design, and under what is otherwise.
enum class RunVariant { as_built, one_more, doubled_strip, heavier, other_build };
struct VariantRun {
    RunVariant variant{};
    std::string label;                  // of another build
    PackRun run;                        // its groups and units are the build's
    std::optional<double> device_off_s; // the device's own limit is reached before a group's
};
struct BuildRun {
    Id build = 0;
    bool power = false;
    double load = 0;      // W or A; of a profile its mean
    bool profile = false; // a load that changes
    double until_v = 0;   // of a group
    double joints_ohm = 0;
    bool joints_known = false;
    std::optional<double> uncertain_share; // of the run time, k = 2, from the capacities of the group that ends it
    std::vector<VariantRun> variants;      // as built first
    // From where the units stand now, on the charger of its design; nothing: why.
    std::optional<ChargeRun> charge;
    Sentence charge_objection;
    // From storage charge, by the leaks of its units; nothing: why.
    std::optional<ShelfStay> shelf;
    Sentence shelf_objection;
    double shelf_soc = 0;
    Sentence objection;
};
[[nodiscard]] BuildRun run_build(
    const BuildQuestion& question, const StillWanted& wanted = [] { return true; });
// The same load on another build, beside it; nothing is added where that cannot be run.
void add_other_build(BuildRun& run, const BuildQuestion& question, const BuildQuestion& other,
                     const std::string& label);
// What is run: the pack as built, and its load (a profile, else steady). Objects as run_build does.
struct RunSetUp {
    PackDesign design;
    PackLoad load;
    double cell_until_v = 0; // of a cell
};
[[nodiscard]] Result<RunSetUp> run_set_up(const BuildQuestion& question, double joints_ohm);
// The same as a circuit for any SPICE simulator, over `until_s`.
[[nodiscard]] Result<std::string> spice_of_build(const BuildQuestion& question, double joints_ohm, double until_s);

} // namespace ingot
