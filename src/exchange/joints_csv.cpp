#include "exchange/joints_csv.h"

#include "exchange/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace ingot::exchange {

namespace {

// Objects where an id stood before.
class Once {
public:
    void see(Rows& rows, const std::string& what, const std::string& id) {
        const auto [at, fresh] = lines_.emplace(id, rows.line());
        if (!fresh)
            rows.object(said("{} {} stands on line {} already.", what, id, at->second));
    }

private:
    std::map<std::string, int> lines_;
};

Column cell_id() {
    return {"Cell ID", Dimension::text, {"cell id", "cell", "unit id", "unit"}, true, {}, 1, {}};
}
Column voltage() {
    return {"Voltage / V", Dimension::volt, {"voltage"}, true, {}, 1, {}};
}
Column dc_resistance() {
    return {"DC Resistance / Ohm", Dimension::ohm, {"dc resistance", "resistance"}, true, {}, 1, {}};
}

} // namespace

Result<JoiningUnits> read_joining_units(std::string_view text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column id = cell_id();
    Column group{"Group", Dimension::text, {"group"}, true, {}, 1, {}};
    Column volts = voltage();
    Column ohm = dc_resistance();
    Column capacity{"Capacity / Ah", Dimension::ampere_hour, {"capacity"}, false, {}, 1, {}};
    if (const auto found = find_columns(reader, {&id, &group, &volts, &ohm, &capacity}); !found)
        return found.problem();
    JoiningUnits out;
    Once once;
    Rows rows(reader);
    while (rows.next()) {
        JoiningUnit unit;
        unit.line = rows.line();
        unit.id = rows.needed_text(id, "Give every unit its code.");
        unit.group = rows.needed_text(group, "Say which group the unit goes to.");
        unit.voltage_v = rows.needed(volts, "Read the unit before it is joined.");
        unit.resistance_ohm = rows.needed(ohm, "Without it nobody can say what would flow.");
        unit.capacity_ah = rows.number(capacity);
        if (!(unit.resistance_ohm > 0))
            rows.object(said("\"DC Resistance / Ohm\" must be over 0."));
        if (unit.capacity_ah && !(*unit.capacity_ah > 0))
            rows.object(said("\"Capacity / Ah\" must be over 0; leave it blank where it is not known."));
        once.see(rows, "unit", unit.id);
        if (rows.problem())
            break;
        out.units.push_back(std::move(unit));
    }
    if (rows.problem())
        return *rows.problem();
    if (out.units.empty())
        return Problem{file, 0, said("there is no unit in it. Give one line for each unit that is to be joined.")};
    out.last_line_dropped = reader.dialect().last_line_dropped;
    return out;
}

namespace {

struct PieceColumns {
    Column piece{"Piece", Dimension::text, {"piece"}, true, {}, 1, {}};
    Column from{"From", Dimension::text, {"from"}, true, {}, 1, {}};
    Column to{"To", Dimension::text, {"to"}, true, {}, 1, {}};
    Column length{"Length / mm", Dimension::metre, {"length"}, false, {}, 1, {}};
    Column width{"Width / mm", Dimension::metre, {"width"}, false, {}, 1, {}};
    Column thickness{"Thickness / mm", Dimension::metre, {"thickness"}, false, {}, 1, {}};
    Column layers{"Layers", Dimension::number, {"layers"}, false, {}, 1, {}};
    Column material{"Material", Dimension::text, {"material"}, false, {}, 1, {}};
    Column ohm{"Resistance / Ohm", Dimension::ohm, {"resistance", "dc resistance"}, false, {}, 1, {}};

    std::vector<Column*> all() { return {&piece, &from, &to, &length, &width, &thickness, &layers, &material, &ohm}; }
};

const StripMaterial* material_of(Rows& rows, std::string name, const std::vector<StripMaterial>& materials) {
    if (name.empty() && !materials.empty())
        return &materials.front();
    std::transform(name.begin(), name.end(), name.begin(), [](char c) { return c >= 'A' && c <= 'Z' ? c + 32 : c; });
    std::string known;
    for (const StripMaterial& material : materials) {
        if (material.id == name)
            return &material;
        known += (known.empty() ? "" : ", ") + material.id;
    }
    rows.object(said("material \"{}\" is not in the library. Use one of {}.", name, known));
    return nullptr;
}

// Resistance and area of a piece: what was measured, else what follows from its sizes.
void size_up(Rows& rows, const PieceColumns& c, const std::vector<StripMaterial>& materials, StripPiece& piece) {
    const auto length = rows.number(c.length);
    const auto width = rows.number(c.width);
    const auto thickness = rows.number(c.thickness);
    const auto layers = rows.number(c.layers).value_or(1);
    const auto ohm = rows.number(c.ohm);
    if (rows.problem())
        return;
    constexpr double most_layers = 100;
    if (layers != std::floor(layers) || layers < 1 || layers > most_layers)
        return rows.object(said("\"Layers\" is a whole number from 1."));
    for (const auto& [size, name] : {std::pair{length, "Length"}, std::pair{width, "Width"}, {thickness, "Thickness"}})
        if (size && !(*size > 0))
            return rows.object(said("\"{} / mm\" must be over 0.", name));
    StripSize size{length.value_or(0), width.value_or(0), thickness.value_or(0), static_cast<int>(layers), 0};
    if (width && thickness)
        piece.area_m2 = size.area_m2();
    if (ohm) {
        if (!(*ohm > 0))
            return rows.object(said("piece {} has no resistance. Give one over 0, or its sizes.", piece.id));
        piece.resistance_ohm = *ohm;
        return;
    }
    if (!length || !width || !thickness)
        return rows.object(said("piece {} needs its length, width and thickness, or its resistance.", piece.id));
    const StripMaterial* material = material_of(rows, rows.text(c.material), materials);
    if (material == nullptr)
        return;
    size.resistivity_ohm_m = material->resistivity_ohm_m;
    piece.resistance_ohm = size.resistance_ohm();
}

} // namespace

Result<std::vector<StripPiece>> read_strip_pieces(std::string_view text, const std::string& file,
                                                  const std::vector<StripMaterial>& materials) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    PieceColumns columns;
    if (const auto found = find_columns(reader, columns.all()); !found)
        return found.problem();
    std::vector<StripPiece> out;
    Once once;
    Rows rows(reader);
    while (rows.next()) {
        StripPiece piece;
        piece.id = rows.needed_text(columns.piece, "Give every piece a name.");
        piece.from = rows.needed_text(columns.from, "Name the node at which it begins.");
        piece.to = rows.needed_text(columns.to, "Name the node at which it ends.");
        size_up(rows, columns, materials, piece);
        if (!rows.problem() && piece.from == piece.to)
            rows.object(said("piece {} begins and ends at {}. Join two nodes.", piece.id, piece.from));
        once.see(rows, "piece", piece.id);
        if (rows.problem())
            break;
        out.push_back(std::move(piece));
    }
    if (rows.problem())
        return *rows.problem();
    return out;
}

Result<std::vector<StripCell>> read_strip_cells(std::string_view text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    CsvReader& reader = opened.value();
    Column id = cell_id();
    Column plus{"Plus", Dimension::text, {"plus", "positive"}, true, {}, 1, {}};
    Column minus{"Minus", Dimension::text, {"minus", "negative"}, true, {}, 1, {}};
    Column volts = voltage();
    Column ohm = dc_resistance();
    if (const auto found = find_columns(reader, {&id, &plus, &minus, &volts, &ohm}); !found)
        return found.problem();
    std::vector<StripCell> out;
    Once once;
    Rows rows(reader);
    while (rows.next()) {
        StripCell cell;
        cell.id = rows.needed_text(id, "Give every cell its code.");
        cell.plus = rows.needed_text(plus, "Name the node at its plus end.");
        cell.minus = rows.needed_text(minus, "Name the node at its minus end.");
        cell.voltage_v = rows.needed(volts, "Give the cell's voltage at rest.");
        cell.resistance_ohm = rows.needed(ohm, "Give the cell's resistance.");
        if (cell.resistance_ohm < 0)
            rows.object(said("\"DC Resistance / Ohm\" is negative."));
        if (!rows.problem() && cell.plus == cell.minus)
            rows.object(said("both ends of cell {} are at {}: it is shorted.", cell.id, cell.plus));
        once.see(rows, "cell", cell.id);
        if (rows.problem())
            break;
        out.push_back(std::move(cell));
    }
    if (rows.problem())
        return *rows.problem();
    if (out.empty())
        return Problem{file, 0, said("there is no cell in it. Give one line for each cell.")};
    return out;
}

} // namespace ingot::exchange
