// What is kept of a pack that is opened: drawing, photos, yield, the recycling manifest.
#include "workshop/open.h"

#include "exchange/csv.h"
#include "exchange/strip_drawing_json.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <set>

namespace ingot {

namespace {

constexpr std::size_t largest_photo_bytes = std::size_t{8} * 1024 * 1024;

} // namespace

StripDrawing OpenService::strip_drawing(Id pack_id) const {
    const Assembly* p = inventory_.pack(pack_id);
    if (p == nullptr)
        return {};
    if (const auto kept = inventory_.drawings().find(pack_id); kept != inventory_.drawings().end())
        if (const auto drawing = exchange::read_strip_drawing(kept->second, p->layout.series))
            return drawing.value();
    return StripDrawing::usual(p->layout.series);
}

Result<bool> OpenService::keep_strip_drawing(Id pack_id, const StripDrawing& drawing) {
    if (inventory_.pack(pack_id) == nullptr)
        return no_such_pack();
    return session_.step(
        [&] { session_.remarks.set_drawing(pack_id, exchange::write_strip_drawing(drawing), session_.now()); },
        ChangeSet::remark(pack_id, 0));
}

int OpenService::photo_count(Id pack_id) const {
    const auto found = inventory_.photo_counts().find(pack_id);
    return found == inventory_.photo_counts().end() ? 0 : found->second;
}

Result<Id> OpenService::attach_photo(Id pack_id, const std::string& file, const std::string& bytes) {
    if (inventory_.pack(pack_id) == nullptr)
        return no_such_pack();
    const bool jpeg = bytes.size() > 3 && bytes.compare(0, 3, "\xFF\xD8\xFF") == 0;
    const bool png = bytes.size() > 8 && bytes.compare(0, 8, "\x89PNG\r\n\x1A\n", 8) == 0;
    if (!jpeg && !png)
        return Problem{file, 0, said("is neither a JPEG nor a PNG picture. Choose one of those.")};
    if (bytes.size() > largest_photo_bytes)
        return Problem{file, 0,
                       said("has {} MB; a picture may have {} MB. Save it smaller.",
                            fmt::format("{:.1f}", static_cast<double>(bytes.size()) / 1048576),
                            largest_photo_bytes / 1048576)};
    const auto slash = file.find_last_of('/');
    return session_.commit(
        [&] {
            return session_.remarks.add(Photo{0, pack_id, slash == std::string::npos ? file : file.substr(slash + 1),
                                              jpeg ? "image/jpeg" : "image/png", session_.now(), bytes});
        },
        ChangeSet::remark(pack_id, 0));
}

namespace {

void count(Yield& yield, const UnitState& unit) {
    ++yield.units;
    if (unit.record.whereabouts == Whereabouts::recycled || unit.verdict.duty == Duty::scrap || unit.quarantined)
        ++yield.scrap;
    else if (unit.verdict.duty <= Duty::light)
        ++yield.usable;
    else
        ++yield.undecided;
}

std::string source_of(const Assembly& pack, const std::vector<Lot>& lots) {
    const auto lot = std::find_if(lots.begin(), lots.end(), [&](const Lot& l) { return l.id == pack.lot; });
    return lot == lots.end() ? std::string() : lot->source;
}

} // namespace

std::optional<Yield> OpenService::yield_of_kind(const Assembly& pack) const {
    Yield yield;
    yield.of = source_of(pack, inventory_.lots());
    std::set<Id> alike; // packs are few, units are many
    for (const Assembly& other : inventory_.packs())
        if (other.chemistry == pack.chemistry && source_of(other, inventory_.lots()) == yield.of)
            alike.insert(other.id);
    for (const UnitState& unit : inventory_.units())
        if (alike.contains(unit.record.pack))
            count(yield, unit);
    if (yield.usable + yield.scrap == 0)
        return std::nullopt;
    return yield;
}

std::vector<Yield> OpenService::yields(YieldBy by) const {
    std::map<std::string, Yield> rows;
    for (const UnitState& unit : inventory_.units()) {
        std::string of = unit.record.model;
        if (by != YieldBy::model) {
            of = "not known";
            if (const Assembly* p = inventory_.pack(unit.record.pack)) {
                const auto lot = std::find_if(inventory_.lots().begin(), inventory_.lots().end(),
                                              [&](const auto& l) { return l.id == p->lot; });
                if (lot != inventory_.lots().end())
                    of = by == YieldBy::lot ? lot->label : lot->source;
            }
        }
        Yield& row = rows[of];
        row.of = of;
        count(row, unit);
    }
    std::vector<Yield> out;
    out.reserve(rows.size());
    for (auto& [name, row] : rows)
        out.push_back(std::move(row));
    return out;
}

std::vector<ManifestLine> OpenService::recycling_manifest() const {
    std::map<std::pair<std::string, bool>, ManifestLine> lines;
    for (const UnitState& unit : inventory_.units()) {
        if (unit.record.whereabouts != Whereabouts::recycled)
            continue;
        const bool damaged = std::any_of(unit.findings.begin(), unit.findings.end(), [&](const std::string& code) {
            const exchange::LookFinding* finding = inventory_.library().finding(code);
            return finding != nullptr && finding->consequence >= Consequence::quarantine;
        });
        const Chemistry* chemistry = inventory_.library().chemistry(unit.facts.chemistry);
        const std::string name = chemistry != nullptr ? chemistry->name : "not known";
        ManifestLine& line = lines[{name, damaged}];
        line.chemistry = name;
        line.damaged = damaged;
        ++line.units;
        const UnitModel* model = inventory_.library().model(unit.record.model);
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

std::string OpenService::manifest_csv(const std::vector<ManifestLine>& manifest) {
    std::string out = exchange::csv_line({"Chemistry", "Condition", "Count", "Mass / kg", "Count Without Mass"});
    for (const ManifestLine& line : manifest)
        out += exchange::csv_line({line.chemistry, line.damaged ? "damaged" : "intact", std::to_string(line.units),
                                   fmt::format("{:.3f}", line.mass_kg), std::to_string(line.without_mass)});
    return out;
}

} // namespace ingot
