// A build in use, before it is joined: how long it runs under its load, who ends it, how warm it becomes by place, its
// first charge, its months on the shelf, and the same of what is otherwise. Answered beside the window.
#pragma once

#include "core/build/pack_charge.h"
#include "core/build/pack_heat.h"
#include "core/build/pack_in_use.h"
#include "workshop/build_plan.h"

namespace ingot {

// What a build is held against.
enum class RunVariant { as_built, one_more, doubled_strip, heavier, other_build };
struct VariantRun {
    RunVariant variant{};
    std::string label;                  // of another build
    PackRun run;                        // its groups and units are the build's
    std::optional<double> device_off_s; // the device's own limit is reached before a group's
    double joints_ohm = 0;
    bool joints_known = false;
    double mass_kg = 0;               // of its units; 0: not known
    double continuous_rating_a = 0;   // of one unit; 0: not known
    std::optional<Layout> layout;     // nothing: no round cells
    std::optional<PackWarmth> warmth; // in the layout's order; nothing: why
    Sentence warmth_objection;
    std::optional<ChargeRun> charge; // from where the units stand now, on the charger of its design; nothing: why
    Sentence charge_objection;
    std::optional<ShelfStay> shelf; // from storage charge, by the leaks of its units; nothing: why
    Sentence shelf_objection;
};
struct BuildRun {
    Id build = 0;
    bool power = false;
    double load = 0;                       // W or A; of a profile its mean
    bool profile = false;                  // a load that changes
    double until_v = 0;                    // of a group
    std::optional<double> uncertain_share; // of the run time, k = 2, from the capacities of the group that ends it
    double shelf_soc = 0;
    std::vector<VariantRun> variants; // as built first
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
