#include "core/build/pack_joints.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

using Face = StripDrawing::Face;

std::string weld(std::size_t cell, Face face) {
    return (face == Face::front ? "f" : "b") + std::to_string(cell);
}

// Which piece a resistor of the network belongs to.
struct Stretch {
    std::size_t piece = 0;
    StripSize size;
};

} // namespace

int layers_of(const Layout& layout, const LayoutPiece& piece, const StripStock& stock) {
    const LayoutCell& first = layout.cells[piece.cells.front()];
    // A parallel piece carries the whole current where the pack begins and where it ends.
    const bool at_end = (first.group == 0 && first.plus != piece.face) ||
                        (first.group == layout.cells.back().group && first.plus == piece.face);
    return piece.kind == LayoutPiece::Kind::series || !at_end ? stock.link_layers : stock.end_layers;
}

double strip_warming_k(const StripSize& strip, double current_a) {
    constexpr double to_air = 10;      // W/m2K
    constexpr double lorenz = 2.44e-8; // W ohm/K2
    constexpr double room_k = 293;     // for the metal's conductivity alone
    const double conductivity = lorenz * room_k / strip.resistivity_ohm_m;
    const double area = strip.area_m2();
    const double source = current_a * current_a * strip.resistivity_ohm_m / (area * area * conductivity); // K/m2
    const double m = std::sqrt(to_air * strip.width_m / (conductivity * area));                           // 1/m
    return source / (m * m) * (1 - 1 / std::cosh(m * strip.length_m / 2));
}

Result<PackJoints> load_joints(const Layout& layout, std::span<const JoinedCell> cells, const StripStock& stock,
                               double load_a) {
    if (cells.size() != layout.cells.size() || cells.empty())
        return Problem{"", 0, said("the layout has other cells.")};
    if (!(stock.width_m > 0) || !(stock.thickness_m > 0) || !(stock.resistivity_ohm_m > 0) || stock.link_layers < 1 ||
        stock.end_layers < 1)
        return Problem{"", 0, said("the strip's width, thickness, layers and resistivity must be over 0.")};
    std::vector<StripPiece> strips;
    std::vector<Stretch> stretches;
    const auto add = [&](std::size_t p, double length_m, int layers, std::string from, std::string to) {
        const StripSize size{length_m, stock.width_m, stock.thickness_m, layers, stock.resistivity_ohm_m};
        strips.push_back(
            {std::to_string(strips.size()), std::move(from), std::move(to), size.resistance_ohm(), size.area_m2()});
        stretches.push_back({p, size});
    };
    const auto stretch = [&](const LayoutPiece& piece, std::size_t k) {
        const auto from = weld_place(layout.cells[piece.cells[k]], piece.face);
        const auto to = weld_place(layout.cells[piece.cells[k + 1]], piece.face);
        return std::hypot(from[0] - to[0], from[1] - to[1]);
    };
    PackJoints out;
    for (std::size_t p = 0; p < layout.pieces.size(); ++p) {
        const LayoutPiece& piece = layout.pieces[p];
        const LayoutCell& first = layout.cells[piece.cells.front()];
        const int layers = layers_of(layout, piece, stock);
        out.pieces.push_back({0, 0, 0, 0, layers});
        if (piece.kind == LayoutPiece::Kind::lead) {
            add(p, piece.length_m, layers, first.plus == piece.face ? "+" : "-", weld(piece.cells.front(), piece.face));
            continue;
        }
        for (std::size_t k = 0; k + 1 < piece.cells.size(); ++k)
            add(p, stretch(piece, k), layers, weld(piece.cells[k], piece.face), weld(piece.cells[k + 1], piece.face));
    }
    std::vector<StripCell> sources;
    for (std::size_t c = 0; c < cells.size(); ++c) {
        if (!(cells[c].resistance_ohm > 0))
            return Problem{"", 0, said("the resistance of {} must be over 0.", layout.cells[c].id)};
        const Face plus = layout.cells[c].plus;
        sources.push_back({layout.cells[c].id, weld(c, plus), weld(c, plus == Face::front ? Face::back : Face::front),
                           cells[c].voltage_v, cells[c].resistance_ohm});
    }
    const auto solved = solve_strips(strips, sources, {load_a, "+", "-"});
    if (!solved)
        return solved.problem();
    const StripCurrents& currents = solved.value();
    for (std::size_t i = 0; i < stretches.size(); ++i) {
        PieceLoad& piece = out.pieces[stretches[i].piece];
        const double current = std::fabs(currents.pieces[i].current_a);
        piece.loss_w += currents.pieces[i].loss_w;
        piece.warmer_k = std::max(piece.warmer_k, strip_warming_k(stretches[i].size, current));
        if (current >= piece.current_a) {
            piece.current_a = current;
            piece.density_a_per_m2 = current / stretches[i].size.area_m2();
        }
    }
    for (std::size_t p = 0; p < out.pieces.size(); ++p) {
        constexpr double but_rounding = 1 + 1e-9; // both leads carry the whole current: the first of them is named
        if (out.pieces[p].density_a_per_m2 > but_rounding * out.pieces[out.worst].density_a_per_m2)
            out.worst = p;
        out.warmest_k = std::max(out.warmest_k, out.pieces[p].warmer_k);
    }
    out.cell_a = currents.cell_a;
    out.loss_w = currents.strip_loss_w;
    out.drop_v = load_a != 0 ? out.loss_w / std::fabs(load_a) : 0;
    return out;
}

} // namespace ingot
