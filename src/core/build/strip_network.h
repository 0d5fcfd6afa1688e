// The joints of a pack as a network of resistors: which current each piece of strip and each cell carries under a load.
// Nodes are the places where things are welded together.
#pragma once

#include "core/cells/problem.h"

#include <optional>
#include <string>
#include <vector>

namespace ingot {

// R = resistivity * length / (width * thickness * layers). Lengths in m, resistivity in ohm m at 20 degC.
struct StripSize {
    double length_m = 0, width_m = 0, thickness_m = 0;
    int layers = 1;
    double resistivity_ohm_m = 0;
    [[nodiscard]] double area_m2() const { return width_m * thickness_m * layers; }
    [[nodiscard]] double resistance_ohm() const { return resistivity_ohm_m * length_m / area_m2(); }
};

struct StripPiece {
    std::string id, from, to;
    double resistance_ohm = 0;     // > 0
    std::optional<double> area_m2; // none where sizes are unknown
};

// A cell between two nodes. A resistance of 0 is an ideal source; a loop of such is refused.
struct StripCell {
    std::string id, plus, minus;
    double voltage_v = 0;
    double resistance_ohm = 0;
};

struct StripLoad {
    double current_a = 0; // drawn from plus to minus through the device
    std::string plus, minus;
};

struct StripCurrents {
    struct Piece {
        double current_a = 0; // signed, from From to To
        double drop_v = 0;    // signed
        double loss_w = 0;
        std::optional<double> density_a_per_m2; // its size
    };
    std::vector<Piece> pieces;
    std::vector<double> cell_a; // positive: discharging
    double terminal_v = 0;
    double strip_loss_w = 0;
    std::optional<std::size_t> worst; // highest density; highest loss where no size is known
};

// Kirchhoff's laws, solved directly. Objects to: an unknown terminal, anything that hangs on nothing, a piece without
// resistance, a loop of cells without resistance; each with its name.
[[nodiscard]] Result<StripCurrents> solve_strips(const std::vector<StripPiece>& pieces,
                                                 const std::vector<StripCell>& cells, const StripLoad& load);

} // namespace ingot
