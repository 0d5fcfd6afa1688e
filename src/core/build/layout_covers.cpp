#include "core/build/layout_covers.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace ingot {

namespace {

using Face = StripDrawing::Face;
using Point = std::array<double, 2>;

double distance_to(const Point& a, const Point& b, const LayoutCell& cell) {
    const double dx = b[0] - a[0];
    const double dy = b[1] - a[1];
    const double square = dx * dx + dy * dy;
    const double t = square > 0 ? std::clamp(((cell.x_m - a[0]) * dx + (cell.y_m - a[1]) * dy) / square, 0.0, 1.0) : 0;
    return std::hypot(cell.x_m - a[0] - t * dx, cell.y_m - a[1] - t * dy);
}

// From the weld of a lead straight to the nearest edge of the outline.
Point lead_end(const Layout& layout, const LayoutCell& cell) {
    double left = cell.x_m;
    double right = cell.x_m;
    double bottom = cell.y_m;
    double top = cell.y_m;
    for (const LayoutCell& one : layout.cells) {
        left = std::min(left, one.x_m);
        right = std::max(right, one.x_m);
        bottom = std::min(bottom, one.y_m);
        top = std::max(top, one.y_m);
    }
    const double half = layout.cell_m[0] / 2;
    const std::array<std::pair<double, Point>, 4> ways{{{cell.x_m - left, {left - half, cell.y_m}},
                                                        {right - cell.x_m, {right + half, cell.y_m}},
                                                        {cell.y_m - bottom, {cell.x_m, bottom - half}},
                                                        {top - cell.y_m, {cell.x_m, top + half}}}};
    return std::min_element(ways.begin(), ways.end(), [](const auto& a, const auto& b) { return a.first < b.first; })
        ->second;
}

} // namespace

LayoutCovers covers_of(const Layout& layout, std::span<const JoinedCell> cells, double strip_m) {
    LayoutCovers out;
    if (layout.flat || layout.cells.empty() || (!cells.empty() && cells.size() != layout.cells.size()))
        return out;
    const double radius = layout.cell_m[0] / 2;
    // Volts of each joint over the pack's minus, from the highest unit of each group.
    const std::size_t groups = layout.cells.back().group + 1;
    std::vector<double> group_v(groups, 0);
    for (std::size_t c = 0; c < cells.size(); ++c)
        group_v[layout.cells[c].group] = std::max(group_v[layout.cells[c].group], cells[c].voltage_v);
    std::vector<double> level(groups + 1, 0);
    for (std::size_t g = 0; g < groups; ++g)
        level[g + 1] = level[g] + group_v[g];
    out.rings = static_cast<int>(layout.cells.size());
    const bool reaches_rim = strip_m / std::numbers::sqrt2 > radius - can_rim_m;
    for (std::size_t p = 0; p < layout.pieces.size(); ++p) {
        const LayoutPiece& piece = layout.pieces[p];
        const LayoutCell& first = layout.cells[piece.cells.front()];
        const double volts = level[first.group + (first.plus == piece.face ? 1 : 0)];
        std::vector<Point> way;
        for (const std::size_t c : piece.cells)
            way.push_back(weld_place(layout.cells[c], piece.face));
        if (piece.kind == LayoutPiece::Kind::lead)
            way.push_back(lead_end(layout, first));
        for (std::size_t c = 0; c < layout.cells.size(); ++c) {
            const LayoutCell& cell = layout.cells[c];
            if (std::find(piece.cells.begin(), piece.cells.end(), c) != piece.cells.end())
                continue;
            double nearest = distance_to(way.front(), way.front(), cell);
            for (std::size_t k = 1; k < way.size(); ++k)
                nearest = std::min(nearest, distance_to(way[k - 1], way[k], cell));
            if (nearest >= radius + strip_m / 2)
                continue;
            const double to_can = std::fabs(volts - level[cell.group]);
            const double to_plus = cell.plus == piece.face ? std::fabs(volts - level[cell.group + 1]) : 0;
            if (const double most = std::max(to_can, to_plus); most > 0)
                out.cards.push_back({p, c, most});
        }
        if (!reaches_rim)
            continue;
        const auto corner = [&](std::size_t c) {
            if (layout.cells[c].plus == piece.face)
                out.corners.push_back({p, c});
        };
        corner(piece.cells.front());
        if (piece.cells.size() > 1)
            corner(piece.cells.back());
    }
    return out;
}

} // namespace ingot
