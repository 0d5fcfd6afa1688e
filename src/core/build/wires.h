// Wires and fuse wires: standard sections, gauge numbers, what melts a wire. SI units.
#pragma once

#include <optional>
#include <span>

namespace ingot {

// A copper conductor of IEC 60228, class 5 (flexible), plain: its greatest resistance at 20 degC.
struct StandardWire {
    double section_mm2 = 0;
    double ohm_per_m = 0;
};
// 0.5 to 120 mm2, rising.
[[nodiscard]] std::span<const StandardWire> standard_wires();
// The thinnest that carries the current at that density; nothing: none does.
[[nodiscard]] std::optional<StandardWire> wire_for(double current_a, double a_per_m2);
// Diameter by its gauge number: 36 is 0.005 inch, 4/0 (-3) is 0.46 inch, 39 equal steps between. ASTM B258.
[[nodiscard]] double gauge_diameter_m(int number);
// The gauge whose section is not less than that, the thinnest such; nothing: thicker than 4/0.
[[nodiscard]] std::optional<int> gauge_for(double section_mm2);

// What melts a long bare copper wire in still air: I = a d^1.5, a = 80 A/mm^1.5 (W. H. Preece, Proc. R. Soc. 36, 1884;
// the figure for copper from memory). Short or thin wires carry more; within a quarter.
[[nodiscard]] double copper_melts_at_a(double diameter_m);
// The same the other way round.
[[nodiscard]] double copper_that_melts_at_m(double current_a);
// What melts a copper wire within a time so short that no heat leaves it (I. M. Onderdonk's formula, from memory; under
// about 5 s): A sqrt(log10((1083 - Ta) / (234 + Ta) + 1) / (33 t)), A in circular mils.
[[nodiscard]] double copper_melts_within_a(double diameter_m, double seconds, double air_c);

} // namespace ingot
