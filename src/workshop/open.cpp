// Open: homes in trays, units that go straight to recycling, teardown steps, photos, yield and manifest.
#include "exchange/csv.h"
#include "exchange/strip_drawing_json.h"
#include "store/schema.h"
#include "workshop/workshop.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <set>

namespace ingot {

namespace {

constexpr int usual_tray = 10; // wells each way
constexpr int largest_tray = 40;

} // namespace

store::TrayRecord Workshop::tray(const std::string& name) const {
    const auto found = std::find_if(trays_.begin(), trays_.end(), [&](const auto& t) { return t.name == name; });
    return found != trays_.end() ? *found : store::TrayRecord{name, usual_tray, usual_tray};
}

std::vector<std::string> Workshop::tray_names() const {
    std::set<std::string> names;
    for (const auto& t : trays_)
        names.insert(t.name);
    for (const UnitState& unit : units_)
        if (!unit.record.tray.empty() && unit.record.state != "recycled")
            names.insert(unit.record.tray);
    return {names.begin(), names.end()};
}

Result<bool> Workshop::set_tray_size(const std::string& name, int columns, int rows) {
    if (name.empty() || columns < 1 || rows < 1 || columns > largest_tray || rows > largest_tray)
        return Problem{"", 0, fmt::format("A tray has a name and 1 to {} wells each way.", largest_tray)};
    int highest = 0;
    for (const UnitState& unit : units_)
        if (unit.record.tray == name && unit.record.state != "recycled")
            highest = std::max(highest, unit.record.well);
    if (highest > columns * rows)
        return Problem{"", 0, fmt::format("Well {} of tray {} is taken. Move that unit first.", highest, name)};
    return guarded_step([&] { records_.set_tray({name, columns, rows}); }, touched_packs);
}

Result<int> Workshop::put_in_tray(Id id, const std::string& name) {
    const UnitState* u = unit(id);
    if (u == nullptr)
        return Problem{"", 0, "There is no such unit."};
    const store::TrayRecord size = tray(name);
    std::set<int> taken;
    for (const UnitState& other : units_)
        if (other.record.tray == name && other.record.state != "recycled" && other.record.id != id)
            taken.insert(other.record.well);
    for (int well = 1; well <= size.columns * size.rows; ++well) {
        if (taken.contains(well))
            continue;
        const auto done = set_home(id, name, well);
        if (!done)
            return done.problem();
        return well;
    }
    return Problem{"", 0, "Tray " + name + " is full. Start another one."};
}

Result<bool> Workshop::set_unit_model(Id id, const std::string& model) {
    const UnitState* u = unit(id);
    if (u == nullptr || model.empty())
        return Problem{"", 0, "Choose a unit and a model."};
    const UnitModel* known = library_.model(model);
    if (known != nullptr && known->chemistry != u->facts.chemistry)
        return Problem{"", 0,
                       fmt::format("{} is {}, but {} came out of a {} pack. Check what is printed on it.", known->name,
                                   known->chemistry, u->code(), u->facts.chemistry)};
    return guarded_step([&] { records_.set_unit_model(id, model); }, touched_unit(id));
}

Result<bool> Workshop::recycle_unit(Id id) {
    const UnitState* u = unit(id);
    if (u == nullptr)
        return Problem{"", 0, "There is no such unit."};
    if (u->record.state == "reserved" || u->record.state == "built")
        return Problem{"", 0, u->code() + " is reserved for a build. Give the build up first."};
    const std::string code = u->code();
    return guarded_step(
        [&] {
            records_.set_unit_state(id, "recycled");
            records_.set_unit_home(id, "", 0);
            records_.add(store::EventRecord{now(), "unit to recycling", code, ""});
        },
        touched_unit(id));
}

const exchange::TeardownPlan* Workshop::teardown_plan(const store::PackRecord& pack) const {
    const std::string kind = needs_gate(pack) ? "high-voltage" : pack.layout.cells_per_unit > 1 ? "modules" : "any";
    for (const std::string& wanted : {kind, std::string("any")})
        for (const auto& plan : library_.teardown)
            if (plan.fits == wanted)
                return &plan;
    return nullptr;
}

bool Workshop::step_done(Id pack_id, const std::string& step) const {
    return std::any_of(notes_.begin(), notes_.end(),
                       [&](const auto& n) { return n.pack_id == pack_id && n.kind == "teardown" && n.code == step; });
}

Result<bool> Workshop::tick_step(Id pack_id, const std::string& step, bool done) {
    const auto known = std::find_if(notes_.begin(), notes_.end(), [&](const auto& n) {
        return n.pack_id == pack_id && n.kind == "teardown" && n.code == step;
    });
    if (done == (known != notes_.end()))
        return true;
    if (!done) {
        const Id id = known->id;
        return guarded_step([&] { records_.strike_note(id, now()); }, touched_packs);
    }
    const auto added = note(pack_id, "teardown", 0, step);
    if (!added)
        return added.problem();
    return true;
}

StripDrawing Workshop::strip_drawing(Id pack_id) const {
    const store::PackRecord* p = pack(pack_id);
    if (p == nullptr)
        return {};
    if (const auto kept = drawings_.find(pack_id); kept != drawings_.end())
        if (const auto drawing = exchange::read_strip_drawing(kept->second, p->layout.series))
            return drawing.value();
    return StripDrawing::usual(p->layout.series);
}

int Workshop::photo_count(Id pack_id) const {
    const auto found = photo_counts_.find(pack_id);
    return found == photo_counts_.end() ? 0 : found->second;
}

Result<bool> Workshop::keep_strip_drawing(Id pack_id, const StripDrawing& drawing) {
    if (pack(pack_id) == nullptr)
        return Problem{"", 0, "There is no such pack."};
    return guarded_step([&] { records_.set_drawing(pack_id, exchange::write_strip_drawing(drawing), now()); },
                        touched_packs);
}

Result<Id> Workshop::attach_photo(Id pack_id, const std::string& file, const std::string& bytes) {
    if (pack(pack_id) == nullptr)
        return Problem{"", 0, "There is no such pack."};
    const bool jpeg = bytes.size() > 3 && bytes.compare(0, 3, "\xFF\xD8\xFF") == 0;
    const bool png = bytes.size() > 8 && bytes.compare(0, 8, "\x89PNG\r\n\x1A\n", 8) == 0;
    if (!jpeg && !png)
        return Problem{file, 0, "is neither a JPEG nor a PNG picture. Choose one of those."};
    if (bytes.size() > static_cast<std::size_t>(store::largest_photo_bytes))
        return Problem{file, 0,
                       fmt::format("has {:.1f} MB; a picture may have {} MB. Save it smaller.",
                                   static_cast<double>(bytes.size()) / 1048576, store::largest_photo_bytes / 1048576)};
    const auto slash = file.find_last_of('/');
    return guarded(
        [&] {
            return records_.add(store::PhotoRecord{0, pack_id,
                                                   slash == std::string::npos ? file : file.substr(slash + 1),
                                                   jpeg ? "image/jpeg" : "image/png", now(), bytes});
        },
        touched_packs);
}

std::vector<Yield> Workshop::yields(YieldBy by) const {
    std::map<std::string, Yield> rows;
    for (const UnitState& unit : units_) {
        std::string of = unit.record.model;
        if (by != YieldBy::model) {
            of = "not known";
            if (const store::PackRecord* p = pack(unit.record.pack_id)) {
                const auto lot =
                    std::find_if(lots_.begin(), lots_.end(), [&](const auto& l) { return l.id == p->lot_id; });
                if (lot != lots_.end())
                    of = by == YieldBy::lot ? lot->label : lot->source;
            }
        }
        Yield& row = rows[of];
        row.of = of;
        ++row.units;
        if (unit.record.state == "recycled" || unit.verdict.duty == Duty::scrap || unit.quarantined)
            ++row.scrap;
        else if (unit.verdict.duty <= Duty::light)
            ++row.usable;
        else
            ++row.undecided;
    }
    std::vector<Yield> out;
    out.reserve(rows.size());
    for (auto& [name, row] : rows)
        out.push_back(std::move(row));
    return out;
}

std::vector<ManifestLine> Workshop::recycling_manifest() const {
    std::map<std::pair<std::string, bool>, ManifestLine> lines;
    for (const UnitState& unit : units_) {
        if (unit.record.state != "recycled")
            continue;
        const bool damaged = std::any_of(unit.findings.begin(), unit.findings.end(), [&](const std::string& code) {
            const exchange::LookFinding* finding = library_.finding(code);
            return finding != nullptr && finding->consequence >= Consequence::quarantine;
        });
        const Chemistry* chemistry = library_.chemistry(unit.facts.chemistry);
        const std::string name = chemistry != nullptr ? chemistry->name : "not known";
        ManifestLine& line = lines[{name, damaged}];
        line.chemistry = name;
        line.damaged = damaged;
        ++line.units;
        const UnitModel* model = library_.model(unit.record.model);
        if (model != nullptr && model->mass_kg > 0)
            line.mass_kg += model->mass_kg;
        else
            ++line.without_mass;
    }
    std::vector<ManifestLine> out;
    out.reserve(lines.size());
    for (auto& [key, line] : lines)
        out.push_back(std::move(line));
    return out;
}

std::string Workshop::manifest_csv(const std::vector<ManifestLine>& manifest) {
    std::string out = exchange::csv_line({"Chemistry", "Condition", "Count", "Mass / kg", "Count Without Mass"});
    for (const ManifestLine& line : manifest)
        out += exchange::csv_line({line.chemistry, line.damaged ? "damaged" : "intact", std::to_string(line.units),
                                   fmt::format("{:.3f}", line.mass_kg), std::to_string(line.without_mass)});
    return out;
}

} // namespace ingot
