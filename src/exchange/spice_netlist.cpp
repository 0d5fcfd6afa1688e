#include "exchange/spice_netlist.h"

#include <fmt/format.h>

namespace ingot::exchange {

namespace {

constexpr double coulombs_per_ah = 3600;

std::string curve_of(const Chemistry& chemistry, const std::string& soc_node) {
    std::string out = "pwl(v(" + soc_node + ")";
    for (std::size_t i = 0; i < chemistry.ocv.soc().size(); ++i)
        out += fmt::format(",{:.9g},{:.9g}", chemistry.ocv.soc()[i], chemistry.ocv.ocv_v()[i]);
    return out + ")";
}

// The load's levels one after the other, over and over; edges of a microsecond.
std::string levels_of(const PackLoad& load, double until_s) {
    constexpr double edge_s = 1e-6;
    std::string out = fmt::format("0 {:.9g}", load.levels.front().value);
    if (load.levels.size() == 1)
        return out;
    double last = load.levels.front().value;
    double at = 0;
    while (at < until_s)
        for (std::size_t l = 0; l < load.levels.size(); ++l) {
            const bool final_level = l + 1 == load.levels.size();
            const double length = final_level ? load.levels[l].from_s - load.levels[l - 1].from_s
                                              : load.levels[l + 1].from_s - load.levels[l].from_s;
            if (at > 0)
                out += fmt::format(" {:.9f} {:.9g} {:.9f} {:.9g}", at, last, at + edge_s, load.levels[l].value);
            last = load.levels[l].value;
            at += length;
        }
    return out + fmt::format(" {:.9f} {:.9g}", at, last);
}

} // namespace

std::string write_spice_netlist(const PackDesign& design, const Chemistry& chemistry, const PackLoad& load,
                                double until_s) {
    std::string out =
        "* a pack under a load: volts, amperes, seconds; sN_M is the state of charge of cell M in group N\n";
    for (std::size_t g = 0; g < design.groups.size(); ++g) {
        const std::string minus = g == 0 ? "0" : fmt::format("g{}", g);
        const std::string plus = fmt::format("g{}", g + 1);
        for (std::size_t c = 0; c < design.groups[g].size(); ++c) {
            const auto& cell = design.groups[g][c];
            const std::string n = fmt::format("{}_{}", g + 1, c + 1);
            out += fmt::format("c{0} s{0} 0 {1:.9g} ic={2:.9g}\n", n, cell.capacity_ah * coulombs_per_ah, cell.soc);
            out += fmt::format("b{0} o{0} {1} v={2}\n", n, minus, curve_of(chemistry, "s" + n));
            out += fmt::format("v{0} o{0} i{0} 0\nf{0} s{0} 0 v{0} 1\n", n); // what the cell gives leaves its charge
            const bool pair = cell.r1_ohm > 0 && cell.c1_f > 0;
            out += fmt::format("r{0} i{0} {1} {2:.9g}\n", n, pair ? "p" + n : plus, cell.resistance_ohm);
            if (pair)
                out += fmt::format("rp{0} p{0} {1} {2:.9g}\ncp{0} p{0} {1} {3:.9g} ic=0\n", n, plus, cell.r1_ohm,
                                   cell.c1_f);
        }
    }
    out += fmt::format("rjoint g{} terminal {:.9g}\n", design.groups.size(),
                       design.joint_ohm > 0 ? design.joint_ohm : 1e-9);
    if (load.power)
        out += fmt::format("vp level 0 pwl({})\nbload terminal 0 i=v(level)/v(terminal)\n", levels_of(load, until_s));
    else
        out += fmt::format("iload terminal 0 pwl({})\n", levels_of(load, until_s));
    out += fmt::format(".tran 1 {:.9g} 0 1 uic\n.end\n", until_s);
    return out;
}

} // namespace ingot::exchange
