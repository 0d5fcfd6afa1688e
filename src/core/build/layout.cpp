#include "core/build/layout.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

namespace ingot {

const char* code(LayoutPiece::Kind kind) {
    switch (kind) {
    case LayoutPiece::Kind::parallel:
        return "parallel";
    case LayoutPiece::Kind::series:
        return "series";
    case LayoutPiece::Kind::lead:
        return "lead";
    }
    return "";
}

const char* code(StripDrawing::Face face) {
    return face == StripDrawing::Face::front ? "front" : "back";
}

std::string arrangement_of(const Layout& layout) {
    return std::string(layout.staggered ? "staggered-" : "square-") + std::to_string(layout.lane) +
           (layout.upright ? "-upright" : "-along");
}

std::array<double, 2> weld_place(const LayoutCell& cell, StripDrawing::Face face) {
    const double side = face == StripDrawing::Face::front ? 1 : -1;
    return {cell.x_m + side * cell.front_m[0], cell.y_m + side * cell.front_m[1]};
}

namespace {

using Face = StripDrawing::Face;
constexpr double hair = 1e-9;

Face other(Face face) {
    return face == Face::front ? Face::back : Face::front;
}

// Around the centres of all cells.
struct Centres {
    double left = 0, right = 0, bottom = 0, top = 0;
    explicit Centres(const std::vector<LayoutCell>& cells) {
        if (cells.empty())
            return;
        left = right = cells.front().x_m;
        bottom = top = cells.front().y_m;
        for (const LayoutCell& cell : cells) {
            left = std::min(left, cell.x_m);
            right = std::max(right, cell.x_m);
            bottom = std::min(bottom, cell.y_m);
            top = std::max(top, cell.y_m);
        }
    }
    [[nodiscard]] double to_edge(const LayoutCell& cell) const {
        return std::min({cell.x_m - left, right - cell.x_m, cell.y_m - bottom, top - cell.y_m});
    }
};

double weld_distance(const Layout& layout, std::size_t a, std::size_t b, Face face) {
    const auto from = weld_place(layout.cells[a], face);
    const auto to = weld_place(layout.cells[b], face);
    return std::hypot(from[0] - to[0], from[1] - to[1]);
}

// A shape is known by the distances between its welds, whichever way it lies; of a long piece by those of welds
// that follow each other closely.
int kinds_of(const Layout& out) {
    constexpr double um = 1e6;
    constexpr std::size_t every_pair_up_to = 12, close = 3;
    std::set<std::vector<long>> shapes;
    const LayoutPiece* before = nullptr;
    for (const LayoutPiece& piece : out.pieces) {
        const bool same = before != nullptr && before->cells == piece.cells && before->length_m == piece.length_m;
        before = &piece;
        if (same) // on the other face
            continue;
        const std::size_t reach = piece.cells.size() <= every_pair_up_to ? every_pair_up_to : close;
        std::vector<long> shape = {std::lround(piece.length_m * um)};
        for (std::size_t a = 0; a < piece.cells.size(); ++a)
            for (std::size_t b = a > reach ? a - reach : 0; b < a; ++b)
                shape.push_back(std::lround(um * weld_distance(out, piece.cells[a], piece.cells[b], piece.face)));
        std::sort(shape.begin(), shape.end());
        shapes.insert(std::move(shape));
    }
    return static_cast<int>(shapes.size());
}

class Draughtsman {
public:
    explicit Draughtsman(const LayoutProblem& problem)
        : problem_(problem), series_(problem.groups.size()), parallel_(problem.groups.front().size()),
          flat_(problem.thick_m > 0), along_(flat_ ? problem.thick_m : problem.diameter_m),
          broad_(flat_ ? problem.broad_m : problem.diameter_m),
          pitch_(problem.pitch_m > 0 ? problem.pitch_m : along_ + room_between) {}

    // Lanes of that many cells, along the width or along the height.
    [[nodiscard]] Layout draw(std::size_t lane, bool upright) const {
        Layout out;
        out.lane = lane;
        out.upright = upright;
        out.staggered = problem_.staggered;
        place(lane, upright, out);
        for (std::size_t g = 0; g < series_; ++g)
            join_group(g, out);
        for (std::size_t g = 0; g + 1 < series_; ++g)
            join_series(g, out);
        const Centres centres(out.cells);
        out.pieces.push_back({LayoutPiece::Kind::lead, minus_face(0), 0, {edge_cell(0, out, centres)}});
        out.pieces.push_back(
            {LayoutPiece::Kind::lead, other(minus_face(series_ - 1)), 0, {edge_cell(series_ - 1, out, centres)}});
        out.sense.push_back({minus_face(0), edge_cell(0, out, centres)});
        for (std::size_t g = 0; g < series_; ++g)
            out.sense.push_back({other(minus_face(g)), edge_cell(g, out, centres)});
        measure_layout(out, problem_.case_width_m, problem_.case_height_m);
        return out;
    }

private:
    // Groups stand alternately plus up and plus down, so that each joint of two lies on one face.
    [[nodiscard]] static Face minus_face(std::size_t group) { return group % 2 == 0 ? Face::back : Face::front; }
    [[nodiscard]] std::size_t first_of(std::size_t group) const { return group * parallel_; }

    void place(std::size_t lane, bool upright, Layout& out) const {
        const std::size_t count = series_ * parallel_;
        const double across = flat_ ? broad_ + room_between : problem_.staggered ? pitch_ * std::sqrt(3.0) / 2 : pitch_;
        out.flat = flat_;
        out.cell_m = upright ? std::array{broad_, along_} : std::array{along_, broad_};
        double most_x = 0;
        double most_y = 0;
        for (std::size_t n = 0; n < count; ++n) {
            const std::size_t l = n / lane;
            const std::size_t k = l % 2 == 0 ? n % lane : lane - 1 - n % lane;
            const double along = static_cast<double>(k) * pitch_ + (problem_.staggered && l % 2 == 1 ? pitch_ / 2 : 0);
            const double aside = static_cast<double>(l) * across;
            LayoutCell cell;
            cell.group = n / parallel_;
            cell.id = problem_.groups[cell.group][n % parallel_];
            cell.x_m = upright ? aside : along;
            cell.y_m = upright ? along : aside;
            cell.plus = other(minus_face(cell.group));
            if (flat_) { // both terminals on the side that is seen, in every second stack the other way round
                const double to_terminal = (l % 2 == 0 ? -1 : 1) * broad_ * terminal_share;
                cell.front_m[upright ? 0 : 1] = to_terminal;
            }
            most_x = std::max(most_x, cell.x_m);
            most_y = std::max(most_y, cell.y_m);
            out.cells.push_back(std::move(cell));
        }
        const double width = most_x + out.cell_m[0];
        const double height = most_y + out.cell_m[1];
        const bool fits = width <= problem_.case_width_m + hair && height <= problem_.case_height_m + hair;
        const double left = fits ? (problem_.case_width_m - width) / 2 : 0;
        const double below = fits ? (problem_.case_height_m - height) / 2 : 0;
        // The last lane may be short: its cells begin where the lane before ended, so the outline begins at 0 anyway.
        for (LayoutCell& cell : out.cells) {
            cell.x_m += left + out.cell_m[0] / 2;
            cell.y_m += below + out.cell_m[1] / 2;
        }
    }

    [[nodiscard]] bool beside(const Layout& layout, std::size_t a, std::size_t b) const {
        const double dx = layout.cells[a].x_m - layout.cells[b].x_m;
        const double dy = layout.cells[a].y_m - layout.cells[b].y_m;
        constexpr double and_rounding = 1 + 2e-6;
        if (flat_) { // in the stack, or in the next one at the same height
            const double x = std::fabs(dx) / (layout.upright ? broad_ + room_between : pitch_);
            const double y = std::fabs(dy) / (layout.upright ? pitch_ : broad_ + room_between);
            return x + y < and_rounding;
        }
        return dx * dx + dy * dy < pitch_ * pitch_ * and_rounding;
    }

    // One piece along all cells of a group, on both faces. Between neighbours only, so that nothing crosses.
    void join_group(std::size_t group, Layout& out) const {
        if (parallel_ < 2)
            return;
        LayoutPiece piece;
        piece.kind = LayoutPiece::Kind::parallel;
        for (std::size_t k = 0; k < parallel_; ++k)
            piece.cells.push_back(first_of(group) + k);
        for (const Face face : {Face::front, Face::back}) {
            piece.face = face;
            out.pieces.push_back(piece);
        }
    }

    // Short pieces from each cell to a neighbour in the next group, as many as can be, so that the current has the
    // shortest way: a largest matching, by augmenting paths.
    void join_series(std::size_t group, Layout& out) const {
        std::vector<std::vector<std::size_t>> near(parallel_); // of the next group's cells
        for (std::size_t from = 0; from < parallel_; ++from)
            for (std::size_t to = 0; to < parallel_; ++to)
                if (beside(out, first_of(group) + from, first_of(group + 1) + to))
                    near[from].push_back(to);
        std::vector<std::size_t> partner(parallel_, parallel_); // of the next group's cells
        const auto find = [&](auto&& self, std::size_t from, std::vector<char>& tried) -> bool {
            for (const std::size_t to : near[from]) {
                if (tried[to] != 0)
                    continue;
                tried[to] = 1;
                if (partner[to] == parallel_ || self(self, partner[to], tried)) {
                    partner[to] = from;
                    return true;
                }
            }
            return false;
        };
        for (std::size_t from = 0; from < parallel_; ++from) {
            std::vector<char> tried(parallel_, 0);
            (void)find(find, from, tried);
        }
        for (std::size_t to = 0; to < parallel_; ++to)
            if (partner[to] != parallel_)
                out.pieces.push_back({LayoutPiece::Kind::series,
                                      other(minus_face(group)),
                                      0,
                                      {first_of(group) + partner[to], first_of(group + 1) + to}});
    }

    [[nodiscard]] std::size_t edge_cell(std::size_t group, const Layout& out, const Centres& centres) const {
        const std::size_t first = first_of(group);
        std::size_t best = first;
        for (std::size_t c = first; c < first + parallel_; ++c)
            if (centres.to_edge(out.cells[c]) < centres.to_edge(out.cells[best]) - hair)
                best = c;
        return best;
    }

    static constexpr double room_between = 1e-3;   // as long as no pitch is asked for
    static constexpr double terminal_share = 0.25; // of the breadth, from the middle; common practice, no source
    const LayoutProblem& problem_;
    std::size_t series_, parallel_;
    bool flat_;
    double along_, broad_; // of a cell: along its lane, across it
    double pitch_;
};

// The smaller the better: whether it does not fit, by how much, kinds of pieces, series pieces (more are shorter ways
// for the current and worth their strip), strip, outline; lengths in um, so that rounding decides nothing.
using Rank = std::array<long, 6>;
Rank rank_of(const Layout& layout, const LayoutProblem& problem) {
    constexpr double um = 1e6;
    const double excess = std::max(0.0, layout.size_m[0] - problem.case_width_m) +
                          std::max(0.0, layout.size_m[1] - problem.case_height_m);
    const auto links = std::count_if(layout.pieces.begin(), layout.pieces.end(),
                                     [](const LayoutPiece& p) { return p.kind == LayoutPiece::Kind::series; });
    return {layout.fits ? 0 : 1,
            layout.fits ? 0 : std::lround(excess * um),
            layout.kinds,
            -static_cast<long>(links),
            std::lround(layout.strip_length_m * um),
            std::lround(layout.size_m[0] * layout.size_m[1] * um)};
}

} // namespace

Result<std::vector<Layout>> propose_layouts(const LayoutProblem& problem) {
    const auto objection = [](Sentence sentence) { return Problem{"", 0, std::move(sentence)}; };
    if (problem.groups.empty() || problem.groups.front().empty())
        return objection(said("there is no cell to place."));
    for (const auto& group : problem.groups)
        if (group.size() != problem.groups.front().size())
            return objection(said("the groups are of unlike size. Each takes as many cells as the others."));
    const bool flat = problem.thick_m > 0;
    const double along_lane = flat ? problem.thick_m : problem.diameter_m;
    if (!(along_lane > 0) || !(problem.case_width_m > 0) || !(problem.case_height_m > 0) ||
        (flat && !(problem.broad_m > 0)))
        return objection(said("diameter and case must be over 0."));
    if (problem.pitch_m > 0 && problem.pitch_m < along_lane)
        return objection(said("the pitch is under the diameter: the cells would overlap."));
    if (flat && problem.staggered)
        return objection(said("flat cells stand in stacks, not staggered."));
    const std::size_t count = problem.groups.size() * problem.groups.front().size();
    const Draughtsman draughtsman(problem);
    // Every length of lane is looked at as long as that is quick; of large packs those that cut groups evenly, and
    // those that fill the case.
    constexpr std::size_t all_up_to = 400;
    const std::size_t across = problem.groups.front().size();
    std::vector<Layout> out;
    for (std::size_t lane = 1; lane <= count; ++lane)
        for (const bool upright : {false, true}) {
            if (count > all_up_to && lane % across != 0 && across % lane != 0)
                continue;
            Layout drawn = draughtsman.draw(lane, upright);
            // A link around the end of a stack may have to pass over a foreign terminal: such stacks are not offered.
            constexpr double narrow_m = 1e-4;
            if (!flat || lane == count || nearest_foreign_strip_m(drawn, narrow_m).value_or(1) > 0)
                out.push_back(std::move(drawn));
        }
    if (count > all_up_to && !flat)
        for (const bool upright : {false, true}) {
            const double pitch = problem.pitch_m > 0 ? problem.pitch_m : problem.diameter_m + 1e-3;
            const double room = (upright ? problem.case_height_m : problem.case_width_m) - problem.diameter_m;
            const auto lane = static_cast<std::size_t>(std::max(0.0, std::floor(room / pitch + 1e-9))) + 1;
            out.push_back(draughtsman.draw(std::min(lane, count), upright));
        }
    std::vector<std::pair<Rank, std::size_t>> order;
    order.reserve(out.size());
    for (std::size_t i = 0; i < out.size(); ++i)
        order.emplace_back(rank_of(out[i], problem), i);
    std::sort(order.begin(), order.end());
    std::vector<Layout> ranked;
    ranked.reserve(out.size());
    for (const auto& [rank, i] : order)
        ranked.push_back(std::move(out[i]));
    return ranked;
}

std::vector<std::size_t> nets_of(const Layout& layout) {
    const std::size_t n = layout.cells.size();
    std::vector<std::size_t> net(2 * n);
    std::iota(net.begin(), net.end(), std::size_t{0});
    const auto root = [&](std::size_t i) {
        while (net[i] != i)
            i = net[i] = net[net[i]];
        return i;
    };
    for (const LayoutPiece& piece : layout.pieces)
        for (const std::size_t cell : piece.cells) {
            const std::size_t side = piece.face == Face::front ? 0 : n;
            net[root(side + cell)] = root(side + piece.cells.front());
        }
    for (std::size_t i = 0; i < net.size(); ++i)
        net[i] = root(i);
    return net;
}

bool joins_as_designed(const Layout& layout, std::size_t series) {
    const std::size_t n = layout.cells.size();
    const auto nets = nets_of(layout);
    const auto net_at = [&](std::size_t cell, Face face) { return nets[(face == Face::front ? 0 : n) + cell]; };
    std::vector<std::set<std::size_t>> taps(series + 1); // nets at each level of the pack, minus first
    for (std::size_t c = 0; c < n; ++c) {
        const LayoutCell& cell = layout.cells[c];
        if (cell.group >= series)
            return false;
        taps[cell.group].insert(net_at(c, other(cell.plus)));
        taps[cell.group + 1].insert(net_at(c, cell.plus));
    }
    std::set<std::size_t> all;
    for (const auto& tap : taps) {
        if (tap.size() != 1)
            return false;
        all.insert(*tap.begin());
    }
    return all.size() == series + 1;
}

namespace {

struct Way {
    double x0 = 0, y0 = 0, x1 = 0, y1 = 0;
    std::size_t net = 0;
    [[nodiscard]] double left() const { return std::min(x0, x1); }
    [[nodiscard]] double right() const { return std::max(x0, x1); }
};

double distance_to(const Way& way, double x, double y) {
    const double dx = way.x1 - way.x0;
    const double dy = way.y1 - way.y0;
    const double square = dx * dx + dy * dy;
    const double t = square > 0 ? std::clamp(((x - way.x0) * dx + (y - way.y0) * dy) / square, 0.0, 1.0) : 0;
    return std::hypot(x - way.x0 - t * dx, y - way.y0 - t * dy);
}

bool cross(const Way& a, const Way& b) {
    const auto side = [](const Way& s, double x, double y) {
        return (s.x1 - s.x0) * (y - s.y0) - (s.y1 - s.y0) * (x - s.x0);
    };
    return side(a, b.x0, b.y0) * side(a, b.x1, b.y1) < 0 && side(b, a.x0, a.y0) * side(b, a.x1, a.y1) < 0;
}

// Ways that do not cross are nearest at an end of one of them.
double distance_of(const Way& a, const Way& b) {
    if (cross(a, b))
        return 0;
    return std::min({distance_to(a, b.x0, b.y0), distance_to(a, b.x1, b.y1), distance_to(b, a.x0, a.y0),
                     distance_to(b, a.x1, a.y1)});
}

} // namespace

std::optional<double> nearest_foreign_strip_m(const Layout& layout, double width_m) {
    const auto nets = nets_of(layout);
    std::optional<double> nearest;
    for (const Face face : {Face::front, Face::back}) {
        std::vector<Way> ways;
        for (const LayoutPiece& piece : layout.pieces)
            if (piece.face == face)
                for (std::size_t k = 1; k < piece.cells.size(); ++k) {
                    const auto a = weld_place(layout.cells[piece.cells[k - 1]], face);
                    const auto b = weld_place(layout.cells[piece.cells[k]], face);
                    ways.push_back({a[0], a[1], b[0], b[1],
                                    nets[(face == Face::front ? 0 : layout.cells.size()) + piece.cells[k]]});
                }
        std::sort(ways.begin(), ways.end(), [](const Way& a, const Way& b) { return a.left() < b.left(); });
        const double widest = std::accumulate(ways.begin(), ways.end(), 0.0, [](double most, const Way& way) {
            return std::max(most, way.right() - way.left());
        });
        for (std::size_t i = 0; i < ways.size(); ++i)
            for (std::size_t j = i + 1; j < ways.size(); ++j) {
                if (nearest && ways[j].left() - ways[i].left() > *nearest + width_m + widest)
                    break; // all further ones begin beyond reach
                if (ways[i].net != ways[j].net)
                    nearest = std::min(nearest.value_or(1e300), distance_of(ways[i], ways[j]) - width_m);
            }
    }
    return nearest;
}

std::optional<double> least_gap_m(const Layout& layout) {
    std::vector<std::size_t> by_x(layout.cells.size());
    std::iota(by_x.begin(), by_x.end(), std::size_t{0});
    std::sort(by_x.begin(), by_x.end(),
              [&](std::size_t a, std::size_t b) { return layout.cells[a].x_m < layout.cells[b].x_m; });
    std::optional<double> least;
    for (std::size_t i = 0; i < by_x.size(); ++i)
        for (std::size_t j = i + 1; j < by_x.size(); ++j) {
            const LayoutCell& a = layout.cells[by_x[i]];
            const LayoutCell& b = layout.cells[by_x[j]];
            const double dx = b.x_m - a.x_m - layout.cell_m[0];
            if (least && dx > *least)
                break; // all further ones stand farther to the right
            const double dy = std::fabs(b.y_m - a.y_m) - layout.cell_m[1];
            // Of two rectangles the larger way counts, or the corners.
            const double flat = dx > 0 && dy > 0 ? std::hypot(dx, dy) : std::max(dx, dy);
            const double round = std::hypot(b.x_m - a.x_m, b.y_m - a.y_m) - layout.cell_m[0];
            least = std::min(least.value_or(1e300), layout.flat ? flat : round);
        }
    return least;
}

void measure_layout(Layout& layout, double case_width_m, double case_height_m) {
    const Centres centres(layout.cells);
    layout.size_m = {centres.right - centres.left + layout.cell_m[0], centres.top - centres.bottom + layout.cell_m[1]};
    layout.fits =
        centres.left - layout.cell_m[0] / 2 >= -hair && centres.right + layout.cell_m[0] / 2 <= case_width_m + hair &&
        centres.bottom - layout.cell_m[1] / 2 >= -hair && centres.top + layout.cell_m[1] / 2 <= case_height_m + hair;
    layout.strip_length_m = 0;
    layout.welds = 0;
    for (LayoutPiece& piece : layout.pieces) {
        // A lead goes over the rim of the outermost cell, with a tongue as long again to solder to.
        piece.length_m = piece.kind == LayoutPiece::Kind::lead ? centres.to_edge(layout.cells[piece.cells.front()]) +
                                                                     std::min(layout.cell_m[0], layout.cell_m[1])
                                                               : 0;
        for (std::size_t k = 1; k < piece.cells.size(); ++k)
            piece.length_m += weld_distance(layout, piece.cells[k - 1], piece.cells[k], piece.face);
        layout.strip_length_m += piece.length_m;
        layout.welds += static_cast<int>(piece.cells.size());
    }
    layout.kinds = kinds_of(layout);
}

} // namespace ingot
