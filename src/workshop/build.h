// Build: what to take from which tray, and whether it may be joined.
#pragma once

#include "core/build/bringing.h"
#include "core/build/build_safety.h"
#include "core/build/conversion.h"
#include "core/build/joining.h"
#include "core/build/sizing.h"
#include "workshop/build_run.h"
#include "workshop/service.h"
#include "workshop/wanted_builds.h"

namespace ingot {

// One line of a build sheet.
struct BuildLine {
    int group = 0, place = 0;
    Id unit = 0;
    std::string code, model, tray;
    int well = 0;
    std::optional<Fact> capacity_ah, resistance_ohm, leak_ah_per_day, voltage_v;
    bool taken = false;
};
struct BuildSheet {
    Assembly build;
    std::vector<BuildLine> lines;
    std::vector<JoinCheck> joining; // per group, in order
    JoinCheck worst;                // the group with the largest difference
    std::vector<double> group_capacity_ah;
    int taken = 0;
};

class BuildService : public Service {
public:
    using Service::Service;

    [[nodiscard]] BuildSheet sheet(Id build) const;
    // The unit that was scanned while taking units for a build; a wrong one is refused with the reason.
    Result<BuildLine> take(Id build, Id unit);
    Result<bool> put_back(Id build, Id unit);
    // A unit that is dropped, swollen or does not pass while the build is not welded: another takes its place, the old
    // one goes back to stock (its finding is said where it lies). Refuses a unit of another chemistry, one that is not
    // in stock, and one in quarantine.
    Result<bool> replace(Id build, Id unit, Id by);
    // What could take its place, best first: of the stock, of its model where there are any, its capacity and
    // resistance as near as can be, with what the group's sum and the pack's weakest group become.
    struct Substitute {
        Id unit = 0;
        double group_ah = 0;  // of its group afterwards
        double usable_ah = 0; // of the pack afterwards
        std::optional<double> resistance_ohm;
    };
    [[nodiscard]] std::vector<Substitute> substitutes(Id build, Id unit, std::size_t most) const;
    // Where each unit would stand so that heat does least harm: in that layout, or in a row (nothing).
    struct HeatSeats {
        std::vector<std::vector<Id>> order; // by group and place
        int moved = 0;                      // units that would change their place
        int warmest = 0, strongest = 0;     // groups as they stand now, from 1
        Sentence objection;                 // why nothing is proposed
    };
    [[nodiscard]] HeatSeats heat_seats(Id build, const Layout* layout) const;
    // Its units in that order, by group and place; refused when something is welded, or unless each has one place.
    Result<bool> arrange(Id build, const std::vector<std::vector<Id>>& order);
    // Its units go back to stock.
    Result<bool> give_up(Id build);
    [[nodiscard]] static std::string sheet_csv(const BuildSheet& sheet);

    // --- Before it has units ---
    Result<Id> begin(const WantedBuild& wanted, const std::string& label = {});
    // Its chemistry and groups, as long as no unit is reserved for it; `model` empty: any.
    Result<bool> set_form(Id build, const std::string& chemistry, const PackLayout& layout, const std::string& model);
    // `places` earlier (negative) or later among those that want units.
    Result<bool> serve(Id build, int places);

    // --- New groups for an old pack (refill.cpp) ---
    // Of every pack under repair with empty places that nothing is begun for yet.
    [[nodiscard]] std::vector<Refill> refills() const;
    [[nodiscard]] std::optional<Refill> refill(Id build) const; // that a build is for; its groups
    // A build of those groups, served last: it wants the weakest survivor's capacity, its model first.
    Result<Id> begin_refill(Id pack);
    // Its joined groups go into the pack's places; the pack stays under repair. And out again.
    Result<bool> put_in(Id build);
    Result<bool> take_out(Id build);

    // --- The design ---
    [[nodiscard]] const BuildDesign& design(Id build) const { return inventory_.design(build); }
    // Empty: no longer known.
    Result<bool> set_figure(Id build, DesignFigure figure, const std::string& value);
    // All that is known of it: beside the window plan_build and run_build answer it.
    [[nodiscard]] BuildQuestion question(Id build) const;
    // What could take the place of what the device had, the build's own design among it.
    [[nodiscard]] std::vector<ConversionDesign> conversions_for(Id build) const;
    // What of the stock could fill that many cells in series, by model: enough of them first, then the fewest units.
    struct Filling {
        StockModel stock;
        Sizing sizing;
    };
    [[nodiscard]] std::vector<Filling> fillings(Id build, const std::string& chemistry, int cells_in_series) const;

    // What makes it unsafe as far as it is known, what refuses first. `board_asked`: a lithium build's board by now.
    [[nodiscard]] std::vector<UnsafeFinding> safety(Id build, bool board_asked) const;

    // --- The steps ---
    struct GateGroup {
        JoinCheck check;
        std::optional<JoinPlan> plan;    // what to bring where; nothing as long as a unit is not read
        std::vector<std::string> units;  // codes; where all are read, in the plan's order
        std::vector<double> volts;       // of those that are read
        std::vector<std::string> unread; // codes
        bool passes = false;
    };
    [[nodiscard]] std::vector<GateGroup> gate(Id build) const;
    [[nodiscard]] const BuildTicks& ticks(Id build) const { return inventory_.ticks(build); }
    // The first item that is to be done and can be; nothing: all is done, or something waits.
    [[nodiscard]] std::optional<std::pair<BuildTask, int>> next_item(Id build) const;
    // Refused while what has to come before it is not done, until all units are at the bench, and beyond the reading of
    // polarity while the design is unsafe. With its last item the build is joined.
    Result<bool> tick(Id build, BuildTask task, int item);
    // What was done after it, on the strength of it, has to be taken back first.
    Result<bool> take_back(Id build, BuildTask task, int item);

private:
    [[nodiscard]] const Placement* placement_of(Id build, Id unit) const;
    // Units that are welded together are not taken apart by a click: their steps are taken back first, by hand and on
    // record. Why not, then.
    [[nodiscard]] std::optional<Problem> welded(const Assembly& build) const;
    [[nodiscard]] std::vector<bool> gate_passed(Id build) const;
    [[nodiscard]] Refill refill_for(const Assembly& pack, std::vector<int> groups) const;
    [[nodiscard]] std::optional<double> group_capacity(const Assembly& pack, int group) const;
};

} // namespace ingot
