// What a hand moves in a layout: the words it is kept in, the netlist it leaves, what it must not do; flat cells; what
// keeps strips off foreign metal.
#include "core/build/layout_moves.h"
#include "core/build/layout_covers.h"
#include "core/build/layout_fit.h"
#include "core/build/pack_joints.h"
#include "core/cells/random.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>

using namespace ingot;

namespace {

using Face = StripDrawing::Face;
using Kind = LayoutMove::Kind;

constexpr double wide_m = 0.300, high_m = 0.200;

LayoutProblem round_cells(int series, int parallel) {
    LayoutProblem out;
    for (int s = 0; s < series; ++s) {
        auto& group = out.groups.emplace_back();
        for (int p = 0; p < parallel; ++p)
            group.push_back("u" + std::to_string(s * parallel + p));
    }
    out.diameter_m = 0.0185;
    out.case_width_m = wide_m;
    out.case_height_m = high_m;
    return out;
}

Layout first_of(const LayoutProblem& problem) {
    return propose_layouts(problem).value().front();
}

std::vector<LayoutMove> moves(const char* words) {
    const auto read = layout_moves_from(words);
    REQUIRE(read);
    return read.value();
}

Layout moved(const Layout& layout, const char* words) {
    const auto done = moved_by_hand(layout, moves(words), wide_m, high_m);
    if (!done)
        FAIL(done.problem().text());
    return done.value();
}

std::string refused(const Layout& layout, const char* words) {
    const auto done = moved_by_hand(layout, moves(words), wide_m, high_m);
    REQUIRE_FALSE(done);
    return done.problem().text();
}

// The nets once more, by walking from end to end: the number of joints, and whether each end lies at its group's level.
bool is_series_of_groups(const Layout& layout, std::size_t series) {
    const std::size_t n = layout.cells.size();
    std::vector<std::vector<std::size_t>> next(2 * n);
    for (const LayoutPiece& piece : layout.pieces)
        for (std::size_t k = 1; k < piece.cells.size(); ++k) {
            const std::size_t side = piece.face == Face::front ? 0 : n;
            next[side + piece.cells[k - 1]].push_back(side + piece.cells[k]);
            next[side + piece.cells[k]].push_back(side + piece.cells[k - 1]);
        }
    std::vector<int> level(2 * n, -1);
    const auto level_of = [&](std::size_t end) {
        const LayoutCell& cell = layout.cells[end % n];
        const bool plus = (cell.plus == Face::front) == (end < n);
        return static_cast<int>(cell.group) + (plus ? 1 : 0);
    };
    std::size_t nets = 0;
    for (std::size_t start = 0; start < 2 * n; ++start) {
        if (level[start] >= 0)
            continue;
        ++nets;
        std::vector<std::size_t> open{start};
        while (!open.empty()) {
            const std::size_t at = open.back();
            open.pop_back();
            if (level[at] >= 0)
                continue;
            level[at] = level_of(at);
            if (level[at] != level_of(start))
                return false; // a short
            open.insert(open.end(), next[at].begin(), next[at].end());
        }
    }
    return nets == series + 1;
}

} // namespace

TEST_CASE("Moves of a hand are kept as words, add up, and take each other back") {
    const auto both = moves("square-4-along: cell 3.2 0.5 -1; lead plus 7.1 ;sense 3 2.4; link 1.1 2.3;; cut 1.2 2.2");
    REQUIRE(both.size() == 5);
    CHECK(words_of(both) == "cell 3.2 0.5 -1; lead plus 7.1; sense 3 2.4; link 1.1 2.3; cut 1.2 2.2");
    CHECK(moved_arrangement("square-4-along: cell 3.2 0.5 -1") == "square-4-along");
    CHECK(moved_arrangement("cell 3.2 0.5 -1").empty());
    CHECK(both[0].x_m == Approx(0.0005));
    CHECK(both[0].y_m == Approx(-0.001));
    CHECK(words_of({{Kind::cell, {1, 1}, {}, 0, 0.001, -0.0}}) == "cell 1.1 1 0");
    // Steps of one cell add up; back where it was, it was not moved.
    CHECK(words_of(moves("cell 1.1 0.5 0; cell 1.1 0.5 0; cell 1.1 0 2")) == "cell 1.1 1 2");
    CHECK(words_of(moves("cell 1.1 0.5 0; cell 1.1 -0.5 0")).empty());
    CHECK(words_of(moves("lead minus 1.2; lead minus 1.3; lead plus 4.1")) == "lead minus 1.3; lead plus 4.1");
    CHECK(words_of(moves("cut 1.2 2.2; link 2.2 1.2")).empty());
    CHECK(words_of(moves("cut 1.2 2.2; cut 1.2 2.2")) == "cut 1.2 2.2");
    for (const char* wrong : {"cell 3.2 0.5", "cell 3 0.5 1", "cell 3.2 a 1", "lead up 7.1", "sense -1 2.1", "link 1.1",
                              "weld 1.1 2.1", "cell 0.1 1 1", "cell 1.1 1e9 0", "cell 1.1 nan 0"}) {
        INFO(wrong);
        const auto read = layout_moves_from(wrong);
        REQUIRE_FALSE(read);
        CHECK(read.problem().text().find("\"cell 3.2 0.5 -1\"") != std::string::npos); // the remedy
        CHECK(read.problem().text().find(wrong) != std::string::npos);
    }
}

TEST_CASE("A cell moved by hand takes its strips along; two that overlap and strips that cross are measured") {
    const Layout proposed = first_of(round_cells(4, 2));
    CHECK(*least_gap_m(proposed) == Approx(0.001));
    const Layout aside = moved(proposed, "cell 1.1 -3 4");
    CHECK(aside.cells[0].x_m == Approx(proposed.cells[0].x_m - 0.003));
    CHECK(aside.cells[0].y_m == Approx(proposed.cells[0].y_m + 0.004));
    for (std::size_t p = 0; p < aside.pieces.size(); ++p) {
        const LayoutPiece& piece = aside.pieces[p];
        double length = 0;
        for (std::size_t k = 1; k < piece.cells.size(); ++k)
            length += std::hypot(aside.cells[piece.cells[k]].x_m - aside.cells[piece.cells[k - 1]].x_m,
                                 aside.cells[piece.cells[k]].y_m - aside.cells[piece.cells[k - 1]].y_m);
        if (piece.kind != LayoutPiece::Kind::lead)
            CHECK(piece.length_m == Approx(length));
    }
    CHECK(is_series_of_groups(aside, 4));
    // Towards its neighbour by more than the room between them.
    const LayoutCell& a = proposed.cells[0];
    const LayoutCell& b = proposed.cells[1];
    LayoutMove towards{Kind::cell, {1, 1}, {}, 0, 0, 0};
    towards.x_m = (b.x_m - a.x_m) / 0.0195 * 0.0025;
    towards.y_m = (b.y_m - a.y_m) / 0.0195 * 0.0025;
    const auto close = moved_by_hand(proposed, {towards}, wide_m, high_m);
    REQUIRE(close);
    CHECK(*least_gap_m(close.value()) == Approx(-0.0015));
    // Out of the case, and it says so.
    CHECK(proposed.fits);
    CHECK_FALSE(moved(proposed, "cell 1.1 -200 0").fits);
    // Far across the pack: strips of two joints cross on a face.
    REQUIRE(*nearest_foreign_strip_m(proposed, 0.008) > 0);
    double widest = 1;
    for (const char* across : {"cell 1.1 60 0", "cell 1.1 0 60", "cell 1.1 40 40", "cell 1.1 -60 0", "cell 1.1 0 -60"})
        widest = std::min(widest, *nearest_foreign_strip_m(moved(proposed, across), 0.008));
    CHECK(widest == Approx(-0.008)); // crossing: the whole width overlaps
}

TEST_CASE("Leads and sense leads go to any cell of their end, links to a neighbour group and nowhere else") {
    const Layout proposed = first_of(round_cells(4, 2));
    const Layout other = moved(proposed, "lead minus 1.2; lead plus 4.1; sense 0 1.1; sense 2 3.2");
    for (const LayoutPiece& piece : other.pieces)
        if (piece.kind == LayoutPiece::Kind::lead) {
            const LayoutCell& cell = other.cells[piece.cells.front()];
            CHECK(piece.cells.front() == (cell.plus == piece.face ? 6 : 1));
        }
    CHECK(other.sense[0].cell == 0);
    CHECK(other.sense[2].cell == 5); // group 3's minus: the joint of groups 2 and 3
    CHECK(other.sense[2].face != other.cells[5].plus);
    CHECK(is_series_of_groups(other, 4));
    CHECK(joins_as_designed(other, 4));
    CHECK_THAT(refused(proposed, "lead plus 3.1"), Catch::Contains("group 4"));
    CHECK_THAT(refused(proposed, "sense 2 4.1"), Catch::Contains("does not lie at that joint"));
    CHECK_THAT(refused(proposed, "sense 5 4.1"), Catch::Contains("0 to 4"));
    CHECK_THAT(refused(proposed, "link 1.1 3.1"), Catch::Contains("would short"));
    CHECK_THAT(refused(proposed, "link 1.1 1.2"), Catch::Contains("would short"));
    CHECK_THAT(refused(proposed, "cell 5.1 1 1"), Catch::Contains("1 to 4, of 2 cells"));
    CHECK_THAT(refused(proposed, "cell 1.3 1 1"), Catch::Contains("1 to 4, of 2 cells"));
    // Each link there is can be left out; without any between two groups the netlist is another one.
    std::vector<LayoutMove> all;
    for (const LayoutPiece& piece : proposed.pieces)
        if (piece.kind == LayoutPiece::Kind::series && proposed.cells[piece.cells.front()].group == 1)
            all.push_back({Kind::cut,
                           {2, static_cast<int>(piece.cells.front() % 2) + 1},
                           {3, static_cast<int>(piece.cells.back() % 2) + 1},
                           0,
                           0,
                           0});
    REQUIRE(!all.empty());
    const auto open = moved_by_hand(proposed, all, wide_m, high_m);
    REQUIRE(open);
    CHECK_FALSE(joins_as_designed(open.value(), 4));
    CHECK_FALSE(is_series_of_groups(open.value(), 4));
    std::vector<LayoutMove> joined = all;
    joined.push_back({Kind::link, {2, 1}, {3, 1}, 0, 0, 0});
    const bool direct = std::any_of(all.begin(), all.end(), [](const LayoutMove& m) {
        return m.at == LayoutPlace{2, 1} && m.to == LayoutPlace{3, 1};
    });
    const auto again =
        moved_by_hand(proposed, direct ? std::vector<LayoutMove>(all.begin() + 1, all.end()) : joined, wide_m, high_m);
    REQUIRE(again);
    CHECK(joins_as_designed(again.value(), 4));
    const auto twice = moved_by_hand(proposed, {all.front(), all.front()}, wide_m, high_m);
    REQUIRE_FALSE(twice);
    CHECK_THAT(twice.problem().text(), Catch::Contains("no link"));
}

TEST_CASE("200 random layouts moved at random: the netlist of the pieces is the design, or it is said not to be") {
    Random random(20261130);
    int as_designed = 0;
    int opened = 0;
    for (int n = 0; n < 200; ++n) {
        const int series = 1 + random.below(8);
        const int parallel = 1 + random.below(5);
        LayoutProblem problem = round_cells(series, parallel);
        problem.staggered = random.below(2) == 1;
        const auto proposals = propose_layouts(problem);
        REQUIRE(proposals);
        const auto few = static_cast<int>(std::min<std::size_t>(5, proposals.value().size()));
        const Layout& from = proposals.value()[static_cast<std::size_t>(random.below(few))];
        std::vector<LayoutMove> hand;
        for (int k = random.below(12); k-- > 0;) {
            LayoutMove move;
            move.kind = static_cast<Kind>(random.below(5));
            move.at = {1 + random.below(series), 1 + random.below(parallel)};
            move.to = {move.at.group + 1, 1 + random.below(parallel)};
            move.number = random.below(move.kind == Kind::lead ? 2 : series + 1);
            move.x_m = 0.0005 * (random.below(21) - 10);
            move.y_m = 0.0005 * (random.below(21) - 10);
            const auto tried = and_move(hand, move);
            if (moved_by_hand(from, tried, wide_m, high_m))
                hand = tried;
        }
        // What was kept as words is what was moved.
        const auto read = layout_moves_from(words_of(hand));
        REQUIRE(read);
        const auto done = moved_by_hand(from, read.value(), wide_m, high_m);
        REQUIRE(done);
        const bool right = is_series_of_groups(done.value(), static_cast<std::size_t>(series));
        CHECK(joins_as_designed(done.value(), static_cast<std::size_t>(series)) == right);
        ++(right ? as_designed : opened);
        double strip = 0;
        for (const LayoutPiece& piece : done.value().pieces)
            strip += piece.length_m;
        CHECK(done.value().strip_length_m == Approx(strip));
    }
    CHECK(as_designed > 100);
    CHECK(opened > 5);
}

TEST_CASE("Flat cells stand in stacks: nothing overlaps, nothing crosses, the netlist is the design") {
    for (const auto& [series, parallel] : {std::pair(4, 1), {7, 1}, {6, 2}, {13, 1}, {3, 4}}) {
        LayoutProblem problem = round_cells(series, parallel);
        problem.diameter_m = 0;
        problem.broad_m = 0.060;
        problem.thick_m = 0.008;
        const auto proposals = propose_layouts(problem);
        REQUIRE(proposals);
        INFO(series << "S" << parallel << "P");
        for (const Layout& layout : proposals.value()) {
            CHECK(layout.flat);
            CHECK(is_series_of_groups(layout, static_cast<std::size_t>(series)));
            CHECK(*least_gap_m(layout) == Approx(0.001));
            CHECK(nearest_foreign_strip_m(layout, 0.006).value_or(1) > 0);
            // Rectangles, one by one.
            for (std::size_t a = 0; a < layout.cells.size(); ++a)
                for (std::size_t b = 0; b < a; ++b)
                    CHECK((std::fabs(layout.cells[a].x_m - layout.cells[b].x_m) > layout.cell_m[0] ||
                           std::fabs(layout.cells[a].y_m - layout.cells[b].y_m) > layout.cell_m[1]));
        }
        // A stack of all, 8 mm and 1 between: so long, and one cell broad.
        const auto count = static_cast<std::size_t>(series * parallel);
        const auto stack = std::find_if(proposals.value().begin(), proposals.value().end(),
                                        [&](const Layout& layout) { return layout.lane == count && layout.upright; });
        REQUIRE(stack != proposals.value().end());
        CHECK(stack->size_m[0] == Approx(0.060));
        CHECK(stack->size_m[1] == Approx(0.009 * series * parallel - 0.001));
    }
    LayoutProblem wrong = round_cells(2, 1);
    wrong.thick_m = 0.008;
    CHECK_FALSE(propose_layouts(wrong)); // so thick, and how broad?
    wrong.broad_m = 0.060;
    wrong.staggered = true;
    CHECK_FALSE(propose_layouts(wrong));
}

TEST_CASE(
    "N45: a ring on every plus end, cards where a strip passes foreign metal, corners clipped where they reach a rim") {
    const Layout layout = first_of(round_cells(7, 4));
    const std::vector<JoinedCell> cells(28, JoinedCell{3.7, 0.03});
    const LayoutCovers narrow = covers_of(layout, cells, 0.008);
    CHECK(narrow.rings == 28);
    CHECK(narrow.corners.empty()); // 8 / sqrt 2 = 5.66 mm, the rim begins at 7.75
    CHECK(narrow.cards.empty());   // pieces go from neighbour to neighbour
    const LayoutCovers broad = covers_of(layout, cells, 0.012);
    std::size_t plus_ends = 0;
    for (const LayoutPiece& piece : layout.pieces) {
        plus_ends += layout.cells[piece.cells.front()].plus == piece.face ? 1 : 0;
        if (piece.cells.size() > 1)
            plus_ends += layout.cells[piece.cells.back()].plus == piece.face ? 1 : 0;
    }
    CHECK(broad.corners.size() == plus_ends); // 12 / sqrt 2 = 8.49 mm
    // Nine lanes of three: the plus lead from the very middle of the last group passes over one can of its own group,
    // whose rim is its minus; a minus lead there would pass over cans of its own joint.
    const auto nine = propose_layouts(round_cells(3, 9)).value();
    const auto lanes = std::find_if(nine.begin(), nine.end(), [](const Layout& one) { return one.lane == 3; });
    REQUIRE(lanes != nine.end());
    const std::vector<JoinedCell> many(27, JoinedCell{3.7, 0.03});
    CHECK(covers_of(*lanes, many, 0.008).cards.empty());
    const auto middle = covers_of(moved(*lanes, "lead plus 3.5"), many, 0.008).cards;
    REQUIRE(middle.size() == 1);
    CHECK(middle.front().volts == Approx(3.7));
    CHECK(lanes->cells[middle.front().cell].group == 2);
    CHECK(covers_of(moved(*lanes, "lead minus 1.5"), many, 0.008).cards.empty());
    // By hand over three groups: 1.1 of a row of single cells linked past its neighbours.
    const Layout row = first_of(round_cells(6, 1));
    LayoutMove far{Kind::cell, {6, 1}, {}, 0, 0, 0};
    far.x_m = row.cells[0].x_m - row.cells[5].x_m; // in line with the first, beyond it
    far.y_m = row.cells[0].y_m - row.cells[5].y_m + 0.030;
    const auto bent = moved_by_hand(row, {far}, wide_m, high_m);
    REQUIRE(bent);
    const auto cards = covers_of(bent.value(), std::vector<JoinedCell>(6, JoinedCell{3.7, 0.03}), 0.008).cards;
    REQUIRE(!cards.empty());
    const auto most =
        std::max_element(cards.begin(), cards.end(), [](const auto& a, const auto& b) { return a.volts < b.volts; });
    CHECK(most->volts > 3.7);
    CHECK(most->volts <= 6 * 3.7);
}

TEST_CASE(
    "N39: what fits a case and a room is measured: overlap, what the case lacks, a cell too long or loose, springs") {
    const Layout layout = first_of(round_cells(4, 2)); // 18.5 mm, 1 mm between
    const CaseFit roomy = fit_in_case(layout, wide_m, high_m);
    CHECK(roomy.apart);
    CHECK(roomy.over_width_m == 0);
    const CaseFit tight = fit_in_case(layout, layout.size_m[0] - 0.0014, layout.size_m[1] + 0.001);
    CHECK(tight.over_width_m == Approx(0.0014));
    CHECK(tight.over_height_m == 0);
    Layout over = layout;
    over.cells[1] = over.cells[0];
    CHECK_FALSE(fit_in_case(over, wide_m, high_m).apart);
    // 65 mm, a button of 1, two strips of 0.15 at both ends, a ring: 66.8 mm.
    const DepthFit exact = fit_along_cell(0.065, 0.001, 0.0003, true, 0.0668);
    CHECK(exact.long_m == Approx(0.0668));
    CHECK(exact.slack_m == Approx(0).margin(1e-9));
    CHECK_FALSE(fit_along_cell(0.065, 0.001, 0.0003, true, 0.0667).fits());
    CHECK_FALSE(fit_along_cell(0.065, 0, 0, false, 0.0669).rattles());
    CHECK(fit_along_cell(0.065, 0, 0, false, 0.0671).rattles());
    // Eight cells, 4S2P, 12 A: 6 A through 8 pairs of 10 mohm: 480 mV in series, I2R of 16 springs.
    const SpringLoad springs = load_springs(0.010, 12, 4, 2);
    CHECK(springs.each_a == Approx(6));
    CHECK(springs.drop_v == Approx(4 * 2 * 0.010 * 6));
    CHECK(springs.loss_w == Approx(16 * 0.010 * 36));
}
