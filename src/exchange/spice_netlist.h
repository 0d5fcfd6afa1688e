// A pack under a load as a circuit that any SPICE simulator reads: to check Ingot's simulation, or to go on from it.
#pragma once

#include "core/build/pack_in_use.h"

#include <string>

namespace ingot::exchange {

// Each cell: its charge on a capacitor of as many farads as it holds coulombs (so that its voltage is the state of
// charge), its curve as a source that follows that voltage, its resistance, its RC pair. The load in amperes over the
// time given; `terminal` is the pack's plus, ground its minus, g1, g2, ... the plus of each group. Loads in watts: a
// source of current that divides by the voltage.
[[nodiscard]] std::string write_spice_netlist(const PackDesign& design, const Chemistry& chemistry,
                                              const PackLoad& load, double until_s);

} // namespace ingot::exchange
