// The weld map in true size, the cut list and the wiring, read back by a program that knows nothing of Ingot's writer.
#include "exchange/weld_map.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <regex>
#include <set>
#include <sstream>

using namespace ingot;
using Face = StripDrawing::Face;

namespace {

struct Tag {
    std::string name;
    std::map<std::string, std::string> attributes;
    [[nodiscard]] double number(const std::string& key) const { return std::stod(attributes.at(key)); }
    [[nodiscard]] bool is(const std::string& kind) const {
        const auto found = attributes.find("class");
        return found != attributes.end() && found->second == kind;
    }
};

std::vector<Tag> tags_of(const std::string& svg) {
    std::vector<Tag> out;
    static const std::regex tag("<([a-z]+)((?:\\s+[a-zA-Z:-]+=\"[^\"]*\")*)\\s*/?>");
    static const std::regex attribute("([a-zA-Z:-]+)=\"([^\"]*)\"");
    for (auto it = std::sregex_iterator(svg.begin(), svg.end(), tag); it != std::sregex_iterator(); ++it) {
        Tag& found = out.emplace_back();
        found.name = (*it)[1];
        const std::string rest = (*it)[2];
        for (auto a = std::sregex_iterator(rest.begin(), rest.end(), attribute); a != std::sregex_iterator(); ++a)
            found.attributes[(*a)[1]] = (*a)[2];
    }
    return out;
}

std::vector<Tag> of_kind(const std::vector<Tag>& tags, const std::string& kind) {
    std::vector<Tag> out;
    std::copy_if(tags.begin(), tags.end(), std::back_inserter(out), [&](const Tag& tag) { return tag.is(kind); });
    return out;
}

Layout layout_of(int series, int parallel, bool staggered = false) {
    LayoutProblem problem;
    problem.diameter_m = 0.0184;
    problem.pitch_m = 0.0195;
    problem.case_width_m = 0.160;
    problem.case_height_m = 0.110;
    problem.staggered = staggered;
    for (int g = 0; g < series; ++g) {
        problem.groups.emplace_back();
        for (int p = 0; p < parallel; ++p)
            problem.groups.back().push_back(std::to_string(g) + "." + std::to_string(p));
    }
    return propose_layouts(problem).value().front();
}

} // namespace

TEST_CASE("Weld map: cells stand as far apart as in the pack, in mm; the back is the front's mirror") {
    const Layout layout = layout_of(7, 4, true);
    StripStock stock;
    stock.width_m = 0.008;
    stock.thickness_m = 0.00015;
    const exchange::WeldMap map{layout, "B-016 <7S4P>", 0.160, 0.110, stock};
    const auto front = tags_of(exchange::write_weld_map(map, Face::front));
    const auto back = tags_of(exchange::write_weld_map(map, Face::back));
    // The page is the drawing, a user unit a millimetre.
    const auto& page = front.front();
    REQUIRE(page.name == "svg");
    const auto [width, height] = exchange::weld_map_size_mm(map);
    CHECK(std::stod(page.attributes.at("width")) == Approx(width));
    CHECK(page.attributes.at("width").ends_with("mm"));
    std::istringstream box(page.attributes.at("viewBox"));
    double x0 = 0;
    double y0 = 0;
    double w = 0;
    double h = 0;
    box >> x0 >> y0 >> w >> h;
    CHECK(w == Approx(width).margin(0.01));
    CHECK(h == Approx(height).margin(0.01));
    const auto cells = of_kind(front, "cell");
    const auto mirrored = of_kind(back, "cell");
    REQUIRE(cells.size() == 28);
    REQUIRE(mirrored.size() == 28);
    for (std::size_t a = 0; a < cells.size(); ++a) {
        CHECK(cells[a].number("r") == Approx(9.2));
        CHECK(mirrored[a].number("cy") == Approx(cells[a].number("cy")).margin(0.01));
        CHECK(mirrored[a].number("cx") + cells[a].number("cx") == Approx(w).margin(0.01));
        for (std::size_t b = 0; b < a; ++b) {
            const double drawn = std::hypot(cells[a].number("cx") - cells[b].number("cx"),
                                            cells[a].number("cy") - cells[b].number("cy"));
            const double stands =
                std::hypot(layout.cells[a].x_m - layout.cells[b].x_m, layout.cells[a].y_m - layout.cells[b].y_m);
            REQUIRE(drawn == Approx(stands * 1000).margin(0.01));
        }
    }
    // Each plus end has its ring, on the face where it lies; together they are all cells.
    CHECK(of_kind(front, "ring").size() + of_kind(back, "ring").size() == 28);
    // Strips in their width; as many pieces as the layout has on that face; each weld has its number.
    for (const Face face : {Face::front, Face::back}) {
        const auto& tags = face == Face::front ? front : back;
        std::size_t strips = 0;
        for (const char* kind : {"parallel", "series", "lead"})
            for (const Tag& strip : of_kind(tags, kind)) {
                ++strips;
                CHECK(strip.number("stroke-width") == Approx(8));
            }
        CHECK(static_cast<long>(strips) == std::count_if(layout.pieces.begin(), layout.pieces.end(),
                                                         [&](const auto& piece) { return piece.face == face; }));
        std::size_t welds = 0;
        for (const LayoutPiece& piece : layout.pieces)
            welds += piece.face == face && piece.kind != LayoutPiece::Kind::lead ? piece.cells.size() : 0;
        CHECK(of_kind(tags, "weld").size() == welds);
    }
    CHECK(of_kind(front, "sense").size() + of_kind(back, "sense").size() == 8);
    // The bar to be measured.
    const auto bar = of_kind(front, "bar");
    REQUIRE(bar.size() == 1);
    double from = 0;
    double to = 0;
    double y = 0;
    REQUIRE(std::sscanf(bar[0].attributes.at("d").c_str(), "M%lf %lf L%lf", &from, &y, &to) == 3);
    CHECK(to - from == Approx(50));
}

TEST_CASE("Cut list: the strips of all pieces, shape by shape, add up to the layout's strip") {
    for (const auto& [series, parallel] : {std::pair(7, 4), {4, 1}, {13, 6}}) {
        const Layout layout = layout_of(series, parallel);
        StripStock stock;
        stock.width_m = 0.008;
        stock.thickness_m = 0.00015;
        stock.end_layers = 2;
        std::istringstream rows(exchange::write_cut_list({layout, "B", 0, 0, stock}));
        std::string line;
        std::getline(rows, line);
        CHECK(line == "Kind,Count,Layers,Length / mm,Width / mm,Thickness / mm,Ends clipped");
        double length = 0;
        int pieces = 0;
        std::set<std::string> kinds;
        while (std::getline(rows, line)) {
            std::istringstream fields(line);
            std::string kind;
            std::string count;
            std::string layers;
            std::string each;
            std::getline(fields, kind, ',');
            std::getline(fields, count, ',');
            std::getline(fields, layers, ',');
            std::getline(fields, each, ',');
            kinds.insert(kind);
            if (kind == "lead")
                CHECK(layers == "2");
            pieces += std::stoi(count);
            length += std::stoi(count) * std::stod(each);
        }
        CHECK(pieces == static_cast<int>(layout.pieces.size()));
        CHECK(length == Approx(layout.strip_length_m * 1000).margin(0.05));
        CHECK(kinds.contains("lead"));
        CHECK(kinds.contains("parallel") == (parallel > 1));
    }
}

TEST_CASE("Wiring: groups in series, sense leads 0 first, what the design says and what it does not") {
    BuildDesign design;
    const std::string bare = exchange::write_wiring("B-016", 7, 4, design);
    CHECK(bare.find("fuse: not said") != std::string::npos);
    CHECK(bare.find("board: not said") != std::string::npos);
    REQUIRE(design.set(DesignFigure::board, "7S 20 A & balance").ok());
    REQUIRE(design.set(DesignFigure::fuse_a, "20").ok());
    const std::string svg = exchange::write_wiring("B-016", 7, 4, design);
    CHECK(svg.find("7S 20 A &amp; balance") != std::string::npos);
    CHECK(svg.find("fuse 20 A") != std::string::npos);
    const auto tags = tags_of(svg);
    CHECK(of_kind(tags, "group").size() == 7);
    const auto sense = of_kind(tags, "sense");
    REQUIRE(sense.size() == 8);
    // Lead k leaves between groups k and k+1: from the minus of the first to the plus of the last, left to right.
    double before = -1;
    for (const Tag& lead : sense) {
        double x = 0;
        REQUIRE(std::sscanf(lead.attributes.at("d").c_str(), "M%lf", &x) == 1);
        CHECK(x > before);
        before = x;
    }
}
