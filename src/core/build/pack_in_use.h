// A pack under a load, marched in time with one cell model: open-circuit voltage over charge, series resistance, one RC
// pair where it is known. In a group all cells share one voltage, so that each moment has a closed form:
// V = (sum G U - I) / sum G, I_i = G_i (U_i - V). See docs/methods/simulate.md.
#pragma once

#include "core/cells/chemistry.h"
#include "core/cells/problem.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

struct PackDesign {
    struct Cell {
        std::string id;
        double capacity_ah = 0;    // > 0
        double resistance_ohm = 0; // > 0
        double soc = 1;            // 0..1
        double r1_ohm = 0;         // with c1_f one RC pair, relaxed to begin with; 0: none
        double c1_f = 0;
    };
    std::vector<std::vector<Cell>> groups; // in series, minus first
    double joint_ohm = 0;                  // in series with the pack, >= 0
    std::optional<double> temperature_c;   // recorded; the cell model has none
};

// Drawn at the terminals, A or W, positive out of the pack; each level holds until the next begins, the last as long as
// the one before it, a single one for ever. The whole is repeated.
struct PackLoad {
    struct Level {
        double from_s = 0;
        double value = 0;
    };
    bool power = false; // W instead of A
    std::vector<Level> levels;
};

enum class EndReason { cutoff, empty, power, time };
[[nodiscard]] const char* code(EndReason reason);

struct PackRun {
    struct Group {
        double left_ah = 0;
        double lowest_v = 0;
    };
    struct Cell {
        double peak_a = 0; // largest discharge current
        double mean_a = 0;
        double left_ah = 0;
        double loss_w = 0; // heat in its resistances, on average
    };
    struct Sample {
        double time_s = 0;
        double terminal_v = 0;
        double current_a = 0;
    };
    double run_time_s = 0;
    double usable_ah = 0;
    double usable_wh = 0;     // at the terminals
    std::size_t ended_by = 0; // group
    double ended_at_v = 0;    // that group's voltage
    EndReason reason{};
    std::vector<Group> groups;
    std::vector<std::vector<Cell>> cells;
    double energy_balance = 0; // (taken from the cells - given at the terminals - lost) / taken
    std::vector<Sample> curve; // a few hundred points
};

struct PackRunOptions {
    double until_v = 0;           // per group; a unit of several cells in series counts as one cell of the design
    std::optional<double> step_s; // nothing: 1 s, longer where the load is slow
    std::optional<double> longest_s = {}; // ended there; nothing: by the pack alone
};

// Objects to: no group or an empty one, values out of range, a load that never ends the pack, unless it is cut short.
[[nodiscard]] Result<PackRun> run_pack(const PackDesign& design, const Chemistry& chemistry, const PackLoad& load,
                                       const PackRunOptions& options);

} // namespace ingot
