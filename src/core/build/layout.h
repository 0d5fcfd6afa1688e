// Where each cell of a pack stands in its case, which way up, and which pieces of strip join them on both faces.
// See docs/methods/layout.md.
#pragma once

#include "core/cells/problem.h"
#include "core/cells/strip_drawing.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

struct LayoutProblem {
    std::vector<std::vector<std::string>> groups; // ids; group 1 at the pack's minus; all of one size
    double diameter_m = 0;
    // Flat cells (pouches, prisms, modules) stand in stacks, broad side to broad side, seen on their terminals: so
    // broad and so thick, and the diameter counts nothing. 0: round ones.
    double broad_m = 0, thick_m = 0;
    double pitch_m = 0; // from centre to centre; 0: the diameter, or the thickness, and 1 mm
    double case_width_m = 0, case_height_m = 0;
    bool staggered = false; // every second lane half a pitch aside
};

struct LayoutCell {
    std::string id;
    std::size_t group = 0;     // 0-based
    double x_m = 0, y_m = 0;   // centre, origin at the case's lower left, seen from the front
    StripDrawing::Face plus{}; // the face at which its plus end is
    // Of flat ones, which have both terminals on one side: from the centre to the one that counts as the front's; the
    // back's lies as far on the other side. Of round ones 0.
    std::array<double, 2> front_m{};
};
// Where a cell is welded on that face.
[[nodiscard]] std::array<double, 2> weld_place(const LayoutCell& cell, StripDrawing::Face face);

// What is welded together on one face. parallel: ends of one group. series: plus ends of a group with minus ends of the
// next. lead: where the pack's lead leaves.
struct LayoutPiece {
    enum class Kind { parallel, series, lead };
    Kind kind{};
    StripDrawing::Face face{};
    double length_m = 0;
    std::vector<std::size_t> cells;
};
[[nodiscard]] const char* code(LayoutPiece::Kind kind);
[[nodiscard]] const char* code(StripDrawing::Face face);

struct SenseTap {
    StripDrawing::Face face{};
    std::size_t cell = 0;
};

struct Layout {
    std::vector<LayoutCell> cells; // group after group
    std::vector<LayoutPiece> pieces;
    std::vector<SenseTap> sense;    // S + 1, the pack's minus first
    std::array<double, 2> size_m{}; // outline of the cells
    std::array<double, 2> cell_m{}; // of one cell as it stands; round: its diameter twice
    bool flat = false;
    int kinds = 0; // distinct shapes of pieces
    double strip_length_m = 0;
    int welds = 0; // pairs of piece and end
    bool fits = false;
    // How they stand: lanes of that many cells, along the case's height (upright) or its width.
    std::size_t lane = 0;
    bool upright = false, staggered = false;
};
// What tells one proposal from another, to be asked for again: "staggered-4-upright".
[[nodiscard]] std::string arrangement_of(const Layout& layout);

// Proposals, best first: those that fit, then by kinds of pieces, then by strip. Cells stand in lanes that are walked
// to and fro, so that neighbours in the series path are neighbours in the case and no piece crosses another. Objects
// to: groups of unlike size, sizes that are not positive, a pitch under the diameter.
[[nodiscard]] Result<std::vector<Layout>> propose_layouts(const LayoutProblem& problem);

// The nets that the pieces make: for each face and cell (front first, then back, each in the order of the cells) the
// number of its net. Two ends are joined when they have the same number.
[[nodiscard]] std::vector<std::size_t> nets_of(const Layout& layout);
// Whether those nets are S groups of P in series and nothing else.
[[nodiscard]] bool joins_as_designed(const Layout& layout, std::size_t series);

// The least distance between strips of that width which are not joined, on either face; nothing where there is only one
// net on each. Leads, whose way is not drawn, are left out.
// Under 0: they cross.
[[nodiscard]] std::optional<double> nearest_foreign_strip_m(const Layout& layout, double width_m);
// The least room between two cells; under 0: they would overlap. Nothing for one cell.
[[nodiscard]] std::optional<double> least_gap_m(const Layout& layout);
// Lengths, outline, kinds, sums and whether it fits, from where its cells stand and what its pieces join.
void measure_layout(Layout& layout, double case_width_m, double case_height_m);

} // namespace ingot
