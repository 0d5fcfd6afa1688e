#include "exchange/weld_map.h"

#include "core/build/layout_covers.h"
#include "exchange/csv.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <iterator>
#include <map>
#include <tuple>

namespace ingot::exchange {

namespace {

constexpr double to_mm = 1000;
constexpr double margin_mm = 22;      // leads stick out
constexpr double foot_mm = 16;        // bar and words
constexpr double unknown_strip = 0.4; // of a cell

std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text) {
        if (c == '<')
            out += "&lt;";
        else if (c == '>')
            out += "&gt;";
        else if (c == '&')
            out += "&amp;";
        else if (c == '"')
            out += "&quot;";
        else
            out += c;
    }
    return out;
}

class Sheet {
public:
    Sheet(const WeldMap& map, StripDrawing::Face face) : map_(map), face_(face) {
        width_ = std::max(map.case_width_m, map.layout.size_m[0]) * to_mm;
        height_ = std::max(map.case_height_m, map.layout.size_m[1]) * to_mm;
    }

    std::string write() {
        const auto [w, h] = weld_map_size_mm(map_);
        put("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{:.2f}mm\" height=\"{:.2f}mm\" viewBox=\"0 0 {:.2f} "
            "{:.2f}\" font-family=\"sans-serif\">\n",
            w, h, w, h);
        put("<title>{}, {} face, 1:1</title>\n", escaped(map_.label), code(face_));
        put("<rect class=\"case\" x=\"{:.2f}\" y=\"{:.2f}\" width=\"{:.2f}\" height=\"{:.2f}\" fill=\"none\" "
            "stroke=\"black\" stroke-width=\"0.2\" stroke-dasharray=\"2 1\"/>\n",
            margin_mm, margin_mm, width_, height_);
        cells();
        pieces();
        signs();
        sense();
        foot(h);
        out_ += "</svg>\n";
        return std::move(out_);
    }

private:
    template <class... Values> void put(fmt::format_string<Values...> text, Values&&... values) {
        fmt::format_to(std::back_inserter(out_), text, std::forward<Values>(values)...);
    }
    // Of flat cells both terminals are seen from the one side: nothing is turned over.
    [[nodiscard]] double across(double x_m) const {
        const double from_left = x_m * to_mm;
        const bool mirrored = face_ == StripDrawing::Face::back && !map_.layout.flat;
        return margin_mm + (mirrored ? width_ - from_left : from_left);
    }
    [[nodiscard]] double up(double y_m) const { return margin_mm + height_ - y_m * to_mm; }
    // Where a cell is welded on this face.
    [[nodiscard]] double x(const LayoutCell& cell) const { return across(weld_place(cell, face_)[0]); }
    [[nodiscard]] double y(const LayoutCell& cell) const { return up(weld_place(cell, face_)[1]); }
    [[nodiscard]] double radius_mm() const {
        return std::min(map_.layout.cell_m[0], map_.layout.cell_m[1]) * to_mm / 2;
    }

    void cells() {
        const double r = radius_mm();
        for (const LayoutCell& cell : map_.layout.cells) {
            if (map_.layout.flat) {
                const double w = map_.layout.cell_m[0] * to_mm;
                const double h = map_.layout.cell_m[1] * to_mm;
                put("<rect class=\"cell\" x=\"{:.3f}\" y=\"{:.3f}\" width=\"{:.3f}\" height=\"{:.3f}\" fill=\"none\" "
                    "stroke=\"black\" stroke-width=\"0.3\"/>\n",
                    across(cell.x_m) - w / 2, up(cell.y_m) - h / 2, w, h);
                continue;
            }
            put("<circle class=\"cell\" cx=\"{:.3f}\" cy=\"{:.3f}\" r=\"{:.3f}\" fill=\"none\" stroke=\"black\" "
                "stroke-width=\"0.3\"/>\n",
                x(cell), y(cell), r);
            if (cell.plus == face_) // its plus end lies here: the ring that insulates the rim
                put("<circle class=\"ring\" cx=\"{:.3f}\" cy=\"{:.3f}\" r=\"{:.3f}\" fill=\"none\" stroke=\"black\" "
                    "stroke-width=\"0.9\"/>\n",
                    x(cell), y(cell), r * 0.62);
        }
    }

    // Over the strips, so that it can be read.
    void signs() {
        const double r = radius_mm();
        for (const LayoutCell& cell : map_.layout.cells)
            put("<text x=\"{:.2f}\" y=\"{:.2f}\" font-size=\"2.6\" text-anchor=\"middle\">{} {}</text>\n", x(cell),
                y(cell) + r * 0.86, cell.group + 1, cell.plus == face_ ? "+" : "\xE2\x88\x92");
    }

    void pieces() {
        const double wide = map_.stock.width_m > 0 ? map_.stock.width_m * to_mm : 2 * radius_mm() * unknown_strip;
        int weld = 0;
        for (const LayoutPiece& piece : map_.layout.pieces) {
            if (piece.face != face_)
                continue;
            std::string way;
            for (const std::size_t c : piece.cells)
                fmt::format_to(std::back_inserter(way), "{}{:.3f} {:.3f}", way.empty() ? "M" : " L",
                               x(map_.layout.cells[c]), y(map_.layout.cells[c]));
            if (piece.kind == LayoutPiece::Kind::lead) {
                const auto [end_x, end_y] = lead_end(map_.layout.cells[piece.cells.front()], piece.length_m * to_mm);
                fmt::format_to(std::back_inserter(way), " L{:.3f} {:.3f}", end_x, end_y);
            }
            put("<path class=\"{}\" d=\"{}\" fill=\"none\" stroke=\"#8899a6\" stroke-opacity=\"0.55\" "
                "stroke-width=\"{:.2f}\" stroke-linecap=\"square\" stroke-linejoin=\"miter\"/>\n",
                code(piece.kind), way, wide);
            if (piece.kind == LayoutPiece::Kind::lead)
                continue;
            for (const std::size_t c : piece.cells)
                put("<text class=\"weld\" x=\"{:.2f}\" y=\"{:.2f}\" font-size=\"2.4\" "
                    "text-anchor=\"middle\">{}</text>\n",
                    x(map_.layout.cells[c]),
                    y(map_.layout.cells[c]) - 1.4 + (piece.kind == LayoutPiece::Kind::series ? 4.2 : 0.0), ++weld);
        }
    }
    // Straight out over the nearest edge of the case.
    [[nodiscard]] std::pair<double, double> lead_end(const LayoutCell& cell, double length) const {
        const double at_x = x(cell);
        const double at_y = y(cell);
        const double to_left = at_x - margin_mm;
        const double to_right = margin_mm + width_ - at_x;
        const double to_top = at_y - margin_mm;
        const double to_bottom = margin_mm + height_ - at_y;
        const double nearest = std::min({to_left, to_right, to_top, to_bottom});
        if (nearest == to_left)
            return {at_x - length, at_y};
        if (nearest == to_right)
            return {at_x + length, at_y};
        if (nearest == to_top)
            return {at_x, at_y - length};
        return {at_x, at_y + length};
    }

    void sense() {
        for (std::size_t tap = 0; tap < map_.layout.sense.size(); ++tap) {
            const SenseTap& at = map_.layout.sense[tap];
            if (at.face != face_)
                continue;
            const LayoutCell& cell = map_.layout.cells[at.cell];
            // Beside the weld's number.
            const double aside = radius_mm() * 0.6;
            put("<circle class=\"sense\" cx=\"{:.3f}\" cy=\"{:.3f}\" r=\"2.2\" fill=\"white\" stroke=\"black\" "
                "stroke-width=\"0.3\"/>\n<text x=\"{:.2f}\" y=\"{:.2f}\" font-size=\"2.8\" "
                "text-anchor=\"middle\">{}</text>\n",
                x(cell) + aside, y(cell) - aside, x(cell) + aside, y(cell) - aside + 1.0, tap);
        }
    }

    void foot(double height) {
        constexpr double bar_mm = 50;
        const double line = height - foot_mm + 6;
        put("<path class=\"bar\" d=\"M{:.2f} {:.2f} L{:.2f} {:.2f}\" stroke=\"black\" stroke-width=\"0.5\"/>\n",
            margin_mm, line, margin_mm + bar_mm, line);
        put("<text x=\"{:.2f}\" y=\"{:.2f}\" font-size=\"3\">50 mm: measure it. {}, {} face, seen from "
            "outside</text>\n",
            margin_mm, line + 5, escaped(map_.label), code(face_));
    }

    const WeldMap& map_;
    StripDrawing::Face face_;
    double width_ = 0, height_ = 0;
    std::string out_;
};

} // namespace

std::array<double, 2> weld_map_size_mm(const WeldMap& map) {
    return {std::max(map.case_width_m, map.layout.size_m[0]) * to_mm + 2 * margin_mm,
            std::max(map.case_height_m, map.layout.size_m[1]) * to_mm + 2 * margin_mm + foot_mm};
}

std::string write_weld_map(const WeldMap& map, StripDrawing::Face face) {
    return Sheet(map, face).write();
}

std::string write_cut_list(const WeldMap& map) {
    // Pieces of one length and use are one shape; both faces together. End bars may lie in more layers than links.
    std::map<std::tuple<std::string, long, int, int>, int> shapes;
    std::vector<int> clipped(map.layout.pieces.size(), 0);
    if (map.stock.width_m > 0)
        for (const LayoutCorner& corner : covers_of(map.layout, {}, map.stock.width_m).corners)
            ++clipped[corner.piece];
    constexpr double to_um = 1e6;
    for (std::size_t p = 0; p < map.layout.pieces.size(); ++p) {
        const LayoutPiece& piece = map.layout.pieces[p];
        const int layers = std::max(1, layers_of(map.layout, piece, map.stock));
        ++shapes[{code(piece.kind), std::lround(piece.length_m * to_um), layers, clipped[p]}];
    }
    std::string out = "Kind,Count,Layers,Length / mm,Width / mm,Thickness / mm,Ends clipped\n";
    const auto known = [](double mm) { return mm > 0 ? csv_number(mm) : std::string(); };
    for (const auto& [shape, count] : shapes)
        out += fmt::format("{},{},{},{},{},{},{}\n", std::get<0>(shape), count, std::get<2>(shape),
                           csv_number(static_cast<double>(std::get<1>(shape)) / to_mm),
                           known(map.stock.width_m * to_mm), known(map.stock.thickness_m * to_mm),
                           map.stock.width_m > 0 ? std::to_string(std::get<3>(shape)) : std::string());
    return out;
}

std::string write_wiring(const std::string& label, int series, int parallel, const BuildDesign& design) {
    constexpr double pitch = 26;
    constexpr double left = 30;
    constexpr double row = 60; // of the cells
    const double width = left * 2 + pitch * series + 60;
    constexpr double height = 130;
    std::string out = fmt::format(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.0f}mm\" "
        "height=\"{1:.0f}mm\" viewBox=\"0 0 {0:.0f} {1:.0f}\" font-family=\"sans-serif\" font-size=\"4\">\n"
        "<title>{2}, wiring</title>\n",
        width, height, escaped(label));
    const auto line = [&](const char* kind, double x1, double y1, double x2, double y2) {
        out += fmt::format("<path class=\"{}\" d=\"M{:.1f} {:.1f} L{:.1f} {:.1f}\" stroke=\"black\" "
                           "stroke-width=\"{}\" fill=\"none\"/>\n",
                           kind, x1, y1, x2, y2, std::string(kind) == "main" ? 0.9 : 0.35);
    };
    const auto text = [&](double x, double y, const std::string& words, const char* anchor = "middle") {
        out +=
            fmt::format("<text x=\"{:.1f}\" y=\"{:.1f}\" text-anchor=\"{}\">{}</text>\n", x, y, anchor, escaped(words));
    };
    const auto box = [&](const char* kind, double x, double y, double w, double h) {
        out +=
            fmt::format("<rect class=\"{}\" x=\"{:.1f}\" y=\"{:.1f}\" width=\"{:.1f}\" height=\"{:.1f}\" fill=\"none\" "
                        "stroke=\"black\" stroke-width=\"0.4\"/>\n",
                        kind, x, y, w, h);
    };
    for (int g = 0; g < series; ++g) {
        const double x = left + pitch * g;
        box("group", x + 4, row - 8, pitch - 8, 16);
        text(x + pitch / 2, row + 1.5, fmt::format("{}", g + 1));
        text(x + pitch / 2, row + 14, fmt::format("{}P", parallel));
        line("main", x, row, x + 4, row);
        line("main", x + pitch - 4, row, x + pitch, row);
    }
    // Sense leads, the pack's minus first, up to the plug in their order.
    constexpr double plug = 22;
    for (int tap = 0; tap <= series; ++tap) {
        const double x = left + pitch * tap;
        line("sense", x, row, x, plug + 6);
        text(x, plug + 4, fmt::format("{}", tap));
    }
    box("plug", left - 4, plug - 4, pitch * series + 8, 10);
    text(left + pitch * series / 2, plug - 6, "sense plug, 0 first");
    // Main leads: minus through the board, plus through the fuse.
    const double end = left + pitch * series;
    const std::string board = design.word(DesignFigure::board);
    const auto fuse = design.number(DesignFigure::fuse_a);
    const auto wire = design.number(DesignFigure::wire_mm2);
    constexpr double low = 100;
    line("main", left, row, left, low);
    box("board", left + 10, low - 8, 60, 16);
    line("main", left, low, left + 10, low);
    line("main", left + 70, low, end + 30, low);
    text(left + 40, low + 1.5, board.empty() ? "board: not said" : board);
    line("main", end, row, end + 8, row);
    box("fuse", end + 8, row - 3, 14, 6);
    text(end + 15, row - 5, fuse ? fmt::format("fuse {:g} A", *fuse) : "fuse: not said");
    line("main", end + 22, row, end + 30, row);
    text(end + 34, row + 1.5, "+", "start");
    text(end + 34, low + 1.5, "\xE2\x88\x92", "start");
    const std::string moves = design.word(DesignFigure::moves_over);
    text(left, height - 12, wire ? fmt::format("leads {:g} mm\xC2\xB2", *wire) : "leads: not said", "start");
    if (!moves.empty())
        text(left, height - 6, "moves over: " + moves, "start");
    out += "</svg>\n";
    return out;
}

} // namespace ingot::exchange
