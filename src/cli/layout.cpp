// ingot-cli layout: where each cell stands in its case, and which pieces join them.
#include "cli/verbs.h"

#include "core/build/layout.h"
#include "exchange/assignment_csv.h"
#include "exchange/text_file.h"

#include <fmt/format.h>

namespace ingot::cli {

namespace {
constexpr double mm = 1000;
constexpr int um_digits = 9;

Json in_mm(double metres) {
    return significant(metres * mm, um_digits);
}
} // namespace

Result<Output> layout(const LayoutArguments& arguments) {
    const auto text = exchange::read_text(arguments.build);
    if (!text)
        return text.problem();
    const auto groups =
        exchange::read_assignment(text.value(), shown_name(arguments.build), arguments.series, arguments.parallel);
    if (!groups)
        return groups.problem();
    LayoutProblem problem;
    problem.groups = groups.value();
    problem.diameter_m = arguments.diameter_mm / mm;
    problem.pitch_m = arguments.pitch_mm.value_or(0) / mm;
    problem.case_width_m = arguments.case_width_mm / mm;
    problem.case_height_m = arguments.case_height_mm / mm;
    problem.staggered = arguments.grid == "staggered";
    const auto proposals = propose_layouts(problem);
    if (!proposals)
        return Problem{shown_name(arguments.build), 0, proposals.problem().sentence};
    const Layout& best = proposals.value().front();
    Output out;
    out.json["fits"] = best.fits;
    const Json size = {in_mm(best.size_m[0]), in_mm(best.size_m[1])};
    out.json["size_mm"] = size;
    if (!best.fits)
        out.json["needs_mm"] = size;
    out.json["kinds"] = best.kinds;
    out.json["strip_length_m"] = significant(best.strip_length_m, um_digits);
    out.json["welds"] = best.welds;
    out.text +=
        fmt::format("{} x {} mm, {}: {} kinds of pieces, {:.2f} m of strip, {} welds\n", size[0].dump(), size[1].dump(),
                    best.fits ? "fits" : "does not fit", best.kinds, best.strip_length_m, best.welds);
    out.json["cells"] = Json::array();
    for (const LayoutCell& cell : best.cells) {
        out.json["cells"].push_back({{"cell", cell.id},
                                     {"group", cell.group + 1},
                                     {"x_mm", in_mm(cell.x_m)},
                                     {"y_mm", in_mm(cell.y_m)},
                                     {"plus_face", code(cell.plus)}});
        out.text += fmt::format("  {:<14} group {:>3}  at {:>7.1f}, {:>7.1f} mm, plus to the {}\n", cell.id,
                                cell.group + 1, cell.x_m * mm, cell.y_m * mm, code(cell.plus));
    }
    out.json["pieces"] = Json::array();
    int n = 0;
    for (const LayoutPiece& piece : best.pieces) {
        Json cells = Json::array();
        std::string list;
        for (const std::size_t c : piece.cells) {
            cells.push_back(best.cells[c].id);
            list += " " + best.cells[c].id;
        }
        const std::string name = fmt::format("P{}", ++n);
        out.json["pieces"].push_back({{"piece", name},
                                      {"face", code(piece.face)},
                                      {"kind", code(piece.kind)},
                                      {"length_mm", in_mm(piece.length_m)},
                                      {"cells", cells}});
        out.text += fmt::format("  {:<5} {:<5} {:<8} {:>7.1f} mm {}\n", name, code(piece.face), code(piece.kind),
                                piece.length_m * mm, list);
    }
    out.json["sense"] = Json::array();
    for (std::size_t tap = 0; tap < best.sense.size(); ++tap)
        out.json["sense"].push_back(
            {{"tap", tap}, {"face", code(best.sense[tap].face)}, {"cell", best.cells[best.sense[tap].cell].id}});
    out.json["warnings"] = Json::array();
    const double pitch_mm = arguments.pitch_mm.value_or(arguments.diameter_mm + 1);
    constexpr double clearance_mm = 2;
    if (arguments.strip_width_mm && pitch_mm - *arguments.strip_width_mm < clearance_mm) {
        const std::string warning =
            fmt::format("Strips of {} mm beside each other at {} mm come nearer than {} mm: take narrower ones.",
                        *arguments.strip_width_mm, pitch_mm, clearance_mm);
        out.json["warnings"].push_back(warning);
        out.text += "Note: " + warning + "\n";
    }
    return out;
}

} // namespace ingot::cli
