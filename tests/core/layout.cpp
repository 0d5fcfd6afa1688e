// Cells in a case: nothing overlaps, nothing crosses, and the pieces join what was designed.
#include "core/build/layout.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace ingot;

namespace {

LayoutProblem problem_of(int series, int parallel, double width_mm, double height_mm, bool staggered = false) {
    LayoutProblem out;
    for (int s = 0; s < series; ++s) {
        auto& group = out.groups.emplace_back();
        for (int p = 0; p < parallel; ++p)
            group.push_back(std::to_string(s + 1) + "." + std::to_string(p + 1));
    }
    out.diameter_m = 0.0185;
    out.case_width_m = width_mm / 1000;
    out.case_height_m = height_mm / 1000;
    out.staggered = staggered;
    return out;
}

struct Segment {
    double x0, y0, x1, y1;
};
bool cross(const Segment& a, const Segment& b) {
    const auto side = [](const Segment& s, double x, double y) {
        return (s.x1 - s.x0) * (y - s.y0) - (s.y1 - s.y0) * (x - s.x0);
    };
    constexpr double hair = 1e-12;
    return side(a, b.x0, b.y0) * side(a, b.x1, b.y1) < -hair * hair &&
           side(b, a.x0, a.y0) * side(b, a.x1, a.y1) < -hair * hair;
}

void check(const LayoutProblem& problem, const Layout& layout) {
    const double pitch = problem.pitch_m > 0 ? problem.pitch_m : problem.diameter_m + 1e-3;
    const double r = problem.diameter_m / 2;
    CHECK(layout.cells.size() == problem.groups.size() * problem.groups.front().size());
    for (std::size_t a = 0; a < layout.cells.size(); ++a) {
        const LayoutCell& c = layout.cells[a];
        if (layout.fits) {
            CHECK(c.x_m - r >= -1e-9);
            CHECK(c.y_m - r >= -1e-9);
            CHECK(c.x_m + r <= problem.case_width_m + 1e-9);
            CHECK(c.y_m + r <= problem.case_height_m + 1e-9);
        }
        for (std::size_t b = 0; b < a; ++b)
            CHECK(std::hypot(c.x_m - layout.cells[b].x_m, c.y_m - layout.cells[b].y_m) >= pitch - 1e-9);
    }
    CHECK(joins_as_designed(layout, problem.groups.size()));
    CHECK(layout.sense.size() == problem.groups.size() + 1);
    // Each piece as its ways from weld to weld; those of one face never cross.
    for (const auto face : {StripDrawing::Face::front, StripDrawing::Face::back}) {
        std::vector<Segment> ways;
        for (const LayoutPiece& piece : layout.pieces)
            if (piece.face == face)
                for (std::size_t k = 1; k < piece.cells.size(); ++k) {
                    const LayoutCell& from = layout.cells[piece.cells[k - 1]];
                    const LayoutCell& to = layout.cells[piece.cells[k]];
                    CHECK(std::hypot(from.x_m - to.x_m, from.y_m - to.y_m) == Approx(pitch));
                    ways.push_back({from.x_m, from.y_m, to.x_m, to.y_m});
                }
        for (std::size_t a = 0; a < ways.size(); ++a)
            for (std::size_t b = 0; b < a; ++b)
                CHECK_FALSE(cross(ways[a], ways[b]));
    }
}

} // namespace

TEST_CASE("Cells stand in the case, nothing crosses, the netlist of the pieces is the design") {
    struct Case {
        int series, parallel;
        double width, height;
        bool staggered;
    };
    for (const Case& c : {Case{7, 4, 140, 80, false}, Case{1, 1, 20, 20, false}, Case{10, 1, 100, 60, false},
                          Case{5, 3, 90, 70, false}, Case{13, 5, 200, 200, true}, Case{4, 7, 300, 40, true},
                          Case{2, 2, 10, 10, false}, Case{7, 4, 140, 80, true}}) {
        const LayoutProblem problem = problem_of(c.series, c.parallel, c.width, c.height, c.staggered);
        const auto proposals = propose_layouts(problem);
        REQUIRE(proposals);
        INFO(c.series << "S" << c.parallel << "P in " << c.width << " x " << c.height);
        for (std::size_t n = 0; n < std::min<std::size_t>(6, proposals.value().size()); ++n)
            check(problem, proposals.value()[n]);
    }
}

TEST_CASE("7S4P in a case of 140 x 80 mm: columns of four, two kinds of pieces and the leads") {
    const LayoutProblem problem = problem_of(7, 4, 140, 80);
    const Layout best = propose_layouts(problem).value().front();
    CHECK(best.fits);
    CHECK(best.size_m[0] == Approx(6 * 0.0195 + 0.0185)); // 135.5 mm
    CHECK(best.size_m[1] == Approx(3 * 0.0195 + 0.0185)); // 77.0 mm
    int parallel = 0;
    int series = 0;
    for (const LayoutPiece& piece : best.pieces) {
        parallel += piece.kind == LayoutPiece::Kind::parallel ? 1 : 0;
        series += piece.kind == LayoutPiece::Kind::series ? 1 : 0;
    }
    CHECK(parallel == 14);
    CHECK(series == 6 * 4); // every cell has its own way to the next group
    CHECK(best.kinds == 3);
    CHECK(best.welds == 14 * 4 + 24 * 2 + 2);
    CHECK(best.strip_length_m == Approx(14 * 3 * 0.0195 + 24 * 0.0195 + 2 * 0.0185));
    // Turned by a quarter it fits the turned case.
    CHECK(propose_layouts(problem_of(7, 4, 80, 140)).value().front().fits);
    // One mm less and it does not; the outline says what it needs.
    const Layout tight = propose_layouts(problem_of(7, 4, 135, 77)).value().front();
    CHECK_FALSE(tight.fits);
    CHECK(tight.size_m[0] == Approx(0.1355));
    // Staggered lanes are nearer to each other: 4 lanes take 3 x 16.887 + 18.5 mm.
    const Layout staggered = propose_layouts(problem_of(7, 4, 150, 70, true)).value().front();
    CHECK(staggered.fits);
    CHECK(staggered.size_m[1] == Approx(3 * 0.0195 * std::sqrt(3.0) / 2 + 0.0185));
}

TEST_CASE("A wrong piece is seen in the netlist; sizes that cannot be are refused") {
    Layout layout = propose_layouts(problem_of(3, 2, 100, 100)).value().front();
    REQUIRE(joins_as_designed(layout, 3));
    Layout shorted = layout;
    shorted.pieces.push_back({LayoutPiece::Kind::series, StripDrawing::Face::front, 0.02, {0, 4}});
    CHECK_FALSE(joins_as_designed(shorted, 3));
    Layout open = layout;
    std::erase_if(open.pieces, [](const LayoutPiece& p) { return p.kind == LayoutPiece::Kind::series; });
    CHECK_FALSE(joins_as_designed(open, 3));
    Layout turned = layout;
    turned.cells[1].plus = StripDrawing::Face::back;
    CHECK_FALSE(joins_as_designed(turned, 3));
    LayoutProblem uneven = problem_of(2, 2, 100, 100);
    uneven.groups[1].pop_back();
    CHECK_FALSE(propose_layouts(uneven));
    LayoutProblem narrow = problem_of(2, 2, 100, 100);
    narrow.pitch_m = 0.018;
    CHECK_FALSE(propose_layouts(narrow));
    CHECK_FALSE(propose_layouts(problem_of(2, 2, 0, 100)));
}

TEST_CASE("Strips of unlike nets keep the pitch less their width") {
    // Cells of a square grid: bars of neighbouring groups lie a pitch apart, on the face where no joint is between.
    const auto square = propose_layouts(problem_of(4, 3, 200, 200));
    REQUIRE(square);
    CHECK(*nearest_foreign_strip_m(square.value().front(), 0.008) == Approx(0.0195 - 0.008));
    // Half a pitch aside the lanes come nearer: by the height of the triangle.
    const auto staggered = propose_layouts(problem_of(4, 3, 200, 200, true));
    REQUIRE(staggered);
    const double gap = *nearest_foreign_strip_m(staggered.value().front(), 0.008);
    CHECK(gap <= 0.0195 - 0.008 + 1e-9);
    CHECK(gap >= 0.0195 * std::sqrt(3.0) / 2 - 0.008 - 1e-9);
    CHECK_FALSE(nearest_foreign_strip_m(propose_layouts(problem_of(1, 5, 200, 200)).value().front(), 0.008));
    // Every pair, the long way.
    const Layout layout = propose_layouts(problem_of(7, 4, 300, 300, true)).value().front();
    const auto nets = nets_of(layout);
    double nearest = 1e300;
    constexpr int points = 60;
    for (const LayoutPiece& a : layout.pieces)
        for (const LayoutPiece& b : layout.pieces) {
            if (a.face != b.face || a.cells.size() < 2 || b.cells.size() < 2)
                continue;
            const std::size_t side = a.face == StripDrawing::Face::front ? 0 : layout.cells.size();
            if (nets[side + a.cells.front()] == nets[side + b.cells.front()])
                continue;
            for (std::size_t i = 1; i < a.cells.size(); ++i)
                for (std::size_t j = 1; j < b.cells.size(); ++j)
                    for (int s = 0; s <= points; ++s)
                        for (const double t : {0.0, 1.0}) {
                            const LayoutCell &a0 = layout.cells[a.cells[i - 1]], &a1 = layout.cells[a.cells[i]];
                            const LayoutCell& b0 = layout.cells[b.cells[t == 0 ? j - 1 : j]];
                            const double u = double(s) / points;
                            nearest = std::min(nearest, std::hypot(a0.x_m + u * (a1.x_m - a0.x_m) - b0.x_m,
                                                                   a0.y_m + u * (a1.y_m - a0.y_m) - b0.y_m));
                        }
        }
    CHECK(*nearest_foreign_strip_m(layout, 0) == Approx(nearest).margin(2e-4));
}
