#include "exchange/library_entry.h"

#include "exchange/csv.h"
#include "exchange/toml_tables.h"

#include <array>
#include <cmath>
#include <sstream>

namespace ingot::exchange {

namespace {

using Type = EntryField::Type;

// Its list in the file; nothing: the file is the entry.
const char* list_of(EntryKind kind) {
    switch (kind) {
    case EntryKind::model:
        return "model";
    case EntryKind::format:
        return "format";
    case EntryKind::finding:
        return "finding";
    case EntryKind::symptom:
        return "symptom";
    case EntryKind::instrument:
        return "instrument";
    case EntryKind::chemistry:
    case EntryKind::prices:
        break;
    }
    return nullptr;
}

Result<toml::table> read(const std::string& text) {
    try {
        return parse_toml(text, "entry");
    } catch (const Broken& broken) {
        return broken.problem;
    }
}

// The entries of a file.
std::vector<toml::table*> entries_in(toml::table& file, EntryKind kind) {
    std::vector<toml::table*> out;
    const char* list = list_of(kind);
    if (list == nullptr) {
        out.push_back(&file);
        return out;
    }
    if (auto* all = file[list].as_array())
        for (auto& node : *all)
            if (auto* one = node.as_table())
                out.push_back(one);
    return out;
}

std::string written(const toml::table& entry, EntryKind kind) {
    std::ostringstream out;
    const char* list = list_of(kind);
    if (list == nullptr)
        out << entry << "\n";
    else
        out << toml::table{{list, toml::array{entry}}} << "\n";
    return out.str();
}

// The table that a key stands in, and its last word.
std::pair<toml::table*, std::string> place_of(toml::table& entry, const std::string& key, bool make) {
    const std::size_t dot = key.find('.');
    if (dot == std::string::npos)
        return {&entry, key};
    const std::string outer = key.substr(0, dot);
    if (make && !entry.contains(outer))
        entry.insert(outer, toml::table{});
    return {entry[outer].as_table(), key.substr(dot + 1)};
}

std::string shown(const toml::node& node) {
    if (const auto text = node.value_exact<std::string>())
        return *text;
    if (const auto flag = node.value_exact<bool>())
        return *flag ? "true" : "false";
    if (const auto whole = node.value_exact<std::int64_t>())
        return std::to_string(*whole);
    if (const auto number = node.value_exact<double>())
        return fmt::format("{}", *number);
    return {};
}

EntryField needed(const char* key, Type type = Type::text) {
    return {key, type, true, {}};
}
// As far as it is known.
EntryField known(const char* key, Type type = Type::number) {
    return {key, type, false, {}};
}

// Nothing: set. Otherwise what is wrong.
std::optional<Problem> set(toml::table& entry, const EntryField& field, const std::string& value) {
    const auto [table, key] = place_of(entry, field.key, !value.empty());
    if (value.empty()) {
        if (field.required)
            return Problem{field.key, 0, said("is needed.")};
        if (table != nullptr)
            table->erase(key);
        return std::nullopt;
    }
    if (table == nullptr)
        return Problem{field.key, 0, said("stands where no table is.")};
    switch (field.type) {
    case Type::text:
    case Type::choice:
        table->insert_or_assign(key, value);
        break;
    case Type::flag:
        table->insert_or_assign(key, value == "true");
        break;
    case Type::number:
    case Type::share:
    case Type::whole: {
        const auto number = parse_number(value);
        if (!number || (field.type == Type::whole && *number != std::floor(*number)))
            return Problem{field.key, 0,
                           field.type == Type::whole ? said("\"{}\" is not a whole number.", value)
                                                     : said("\"{}\" is not a number.", value)};
        if (field.type == Type::share && !(*number > 0 && *number < 1))
            return Problem{field.key, 0, said("must be over 0 and under 100 %.")};
        if (field.type == Type::whole)
            table->insert_or_assign(key, static_cast<std::int64_t>(*number));
        else
            table->insert_or_assign(key, *number);
        break;
    }
    }
    return std::nullopt;
}

} // namespace

const char* library_kind(EntryKind kind) {
    switch (kind) {
    case EntryKind::model:
        return "models";
    case EntryKind::chemistry:
        return "chemistries";
    case EntryKind::format:
        return "formats";
    case EntryKind::finding:
        return "look-findings";
    case EntryKind::symptom:
        return "symptoms";
    case EntryKind::instrument:
    case EntryKind::prices:
        break;
    }
    return "";
}

namespace {

// Shipped symptoms stand in the file of what is expected; a shop's own in files of their own.
bool holds(const LibraryText& text, EntryKind kind) {
    return text.kind == library_kind(kind) || (kind == EntryKind::symptom && text.kind == "triage");
}

std::vector<EntryField> symptom_fields() {
    std::vector<EntryField> out{
        needed("id"),
        needed("name"),
        known("refuses_charge", Type::flag),
    };
    for (int f = 0; f < fault_count; ++f)
        out.push_back({std::string("met.") + code(static_cast<Fault>(f)), Type::share, true, {}});
    return out;
}

// The figures of the shop's prices and hours, by key.
template <class Prices, class Hours> auto figures_of(Prices& prices, Hours& hours) {
    return std::vector{
        std::pair("prices.hour", &prices.hour),
        std::pair("prices.stock_unit", &prices.stock_unit),
        std::pair("prices.board", &prices.board),
        std::pair("prices.charger", &prices.charger),
        std::pair("prices.strip_and_sundries", &prices.strip_and_sundries),
        std::pair("prices.recycling", &prices.recycling),
        std::pair("hours.open_and_close", &hours.open_and_close),
        std::pair("hours.per_unit_tested", &hours.per_unit_tested),
        std::pair("hours.per_unit_replaced", &hours.per_unit_replaced),
        std::pair("hours.per_unit_built", &hours.per_unit_built),
        std::pair("hours.prove", &hours.prove),
        std::pair("hours.day_waited", &hours.day_waited),
    };
}

std::vector<EntryField> prices_fields() {
    WorthPrices prices;
    WorthHours hours;
    std::vector<EntryField> out;
    for (const auto& [key, value] : figures_of(prices, hours))
        out.push_back({key, Type::number, true, {}});
    return out;
}

} // namespace

const std::vector<EntryField>& entry_fields(EntryKind kind) {
    static const std::vector<EntryField> model{
        needed("id"),
        needed("name"),
        needed("chemistry"),
        known("format", Type::text),
        needed("cells_in_series", Type::whole),
        needed("rated_ah", Type::number),
        known("new_dc_resistance_ohm"),
        known("new_ac_resistance_ohm"),
        known("continuous_a"),
        known("peak_a"),
        known("charge_a"),
        known("charge_limit_v"),
        known("mass_kg"),
        known("low_self_discharge", Type::flag),
        needed("source"),
    };
    static const std::vector<EntryField> chemistry{
        needed("id"),
        needed("name"),
        needed("lithium", Type::flag),
        needed("voltage_tells_charge", Type::flag),
        needed("voltage.nominal_low_v", Type::number),
        needed("voltage.nominal_high_v", Type::number),
        needed("voltage.full_v", Type::number),
        known("voltage.charge_limit_v"),
        known("voltage.charge_reaches_v"),
        known("voltage.charge_tolerance_v"),
        needed("voltage.test_cutoff_v", Type::number),
        known("voltage.highest_cutoff_v"),
        needed("voltage.floor_v", Type::number),
        needed("voltage.scrap_below_v", Type::number),
        needed("voltage.quarantine_below_v", Type::number),
        needed("bands.dead_below_v", Type::number),
        needed("bands.deep_below_v", Type::number),
        needed("bands.low_below_v", Type::number),
        needed("bands.working_up_to_v", Type::number),
        needed("bands.over_above_v", Type::number),
        needed("ocv"),
        needed("source"),
    };
    static const std::vector<EntryField> format{
        needed("id"),      known("iec_size", Type::text),     known("diameter_mm"), known("broad_mm"),
        known("thick_mm"), needed("height_mm", Type::number), needed("source"),
    };
    static const std::vector<EntryField> finding{
        needed("id"),
        needed("name"),
        {"consequence", Type::choice, true, {"go-on", "with-care", "quarantine", "refuse"}},
        needed("what_to_do"),
        needed("source"),
    };
    static const std::vector<EntryField> symptom = symptom_fields();
    static const std::vector<EntryField> instrument{
        needed("id"),
        {"kind", Type::choice, true, {"", "meter", "tester", "charger", "board", "supply"}},
        needed("channels", Type::whole),
        known("volts_resolution"),
        known("amperes_resolution"),
        known("current_gain"),
        known("current_offset_a"),
    };
    static const std::vector<EntryField> prices = prices_fields();
    switch (kind) {
    case EntryKind::model:
        return model;
    case EntryKind::chemistry:
        return chemistry;
    case EntryKind::format:
        return format;
    case EntryKind::symptom:
        return symptom;
    case EntryKind::instrument:
        return instrument;
    case EntryKind::prices:
        return prices;
    case EntryKind::finding:
        break;
    }
    return finding;
}

std::optional<std::string> entry_text(const std::vector<LibraryText>& texts, EntryKind kind, const std::string& id) {
    std::optional<std::string> out;
    std::int64_t best = -1;
    for (const LibraryText& text : texts) {
        if (!holds(text, kind))
            continue;
        auto file = read(text.text);
        if (!file)
            continue;
        for (const toml::table* entry : entries_in(file.value(), kind)) {
            const std::int64_t version = (*entry)["version"].value_or(std::int64_t{1});
            if ((*entry)["id"].value_or(std::string()) == id && version > best) {
                best = version;
                out = written(*entry, kind);
            }
        }
    }
    return out;
}

Result<std::map<std::string, std::string>> entry_values(EntryKind kind, const std::string& text) {
    auto file = read(text);
    if (!file)
        return file.problem();
    const auto entries = entries_in(file.value(), kind);
    if (entries.size() != 1)
        return Problem{"entry", 0, said("holds {} entries. Give one.", entries.size())};
    std::map<std::string, std::string> out;
    for (const EntryField& field : entry_fields(kind)) {
        const auto [table, key] = place_of(*entries.front(), field.key, false);
        if (table != nullptr)
            if (const toml::node* node = table->get(key))
                out[field.key] = shown(*node);
    }
    if (const auto* version = entries.front()->get("version"))
        out["version"] = shown(*version);
    return out;
}

Result<std::string> entry_with(EntryKind kind, const std::string& text,
                               const std::map<std::string, std::string>& values) {
    auto file = read(text);
    if (!file)
        return file.problem();
    const auto entries = entries_in(file.value(), kind);
    if (entries.size() != 1)
        return Problem{"entry", 0, said("holds {} entries. Give one.", entries.size())};
    for (const EntryField& field : entry_fields(kind))
        if (const auto value = values.find(field.key); value != values.end())
            if (auto wrong = set(*entries.front(), field, value->second))
                return *wrong;
    if (const auto version = values.find("version"); version != values.end())
        if (auto wrong = set(*entries.front(), needed("version", Type::whole), version->second))
            return *wrong;
    return written(*entries.front(), kind);
}

std::string instrument_entry(const Instrument& instrument) {
    toml::table out;
    out.insert("id", instrument.name);
    out.insert("kind", instrument.kind);
    out.insert("channels", instrument.channels);
    const auto figure = [&](const char* key, const std::optional<double>& value) {
        if (value)
            out.insert(key, *value);
    };
    figure("volts_resolution", instrument.volts_resolution);
    figure("amperes_resolution", instrument.amperes_resolution);
    figure("current_gain", instrument.current_gain);
    figure("current_offset_a", instrument.current_offset_a);
    return written(out, EntryKind::instrument);
}

Result<Instrument> read_instrument_entry(const std::string& text) {
    auto file = read(text);
    if (!file)
        return file.problem();
    const auto entries = entries_in(file.value(), EntryKind::instrument);
    if (entries.size() != 1)
        return Problem{"entry", 0, said("holds {} entries. Give one.", entries.size())};
    const toml::table& entry = *entries.front();
    Instrument out;
    out.name = entry["id"].value_or(std::string());
    out.kind = entry["kind"].value_or(std::string());
    out.channels = entry["channels"].value_or(0);
    if (out.name.empty())
        return Problem{"id", 0, said("is needed.")};
    constexpr int most_channels = 256;
    if (out.channels < 1 || out.channels > most_channels)
        return Problem{"channels", 0, said("must be 1 to {}.", most_channels)};
    for (const auto& [key, kept] : {std::pair("volts_resolution", &out.volts_resolution),
                                    {"amperes_resolution", &out.amperes_resolution},
                                    {"current_gain", &out.current_gain},
                                    {"current_offset_a", &out.current_offset_a}}) {
        *kept = entry[key].value<double>();
        if (std::string_view(key).ends_with("_resolution") && *kept && !(**kept > 0))
            return Problem{key, 0, said("must be over 0.")};
    }
    constexpr double most_gain = 0.5; // it would be no instrument
    if (out.current_gain && !(std::fabs(*out.current_gain) < most_gain))
        return Problem{"current_gain", 0, said("must be within 50 % either way.")};
    return out;
}

std::string prices_entry(const WorthPrices& prices, const WorthHours& hours) {
    toml::table out;
    for (const auto& [path, value] : figures_of(prices, hours)) {
        const auto [table, key] = place_of(out, path, true);
        table->insert(key, *value);
    }
    return written(out, EntryKind::prices);
}

Result<std::pair<WorthPrices, WorthHours>> read_prices_entry(const std::string& text) {
    auto file = read(text);
    if (!file)
        return file.problem();
    std::pair<WorthPrices, WorthHours> out;
    for (const auto& [path, value] : figures_of(out.first, out.second)) {
        const auto [table, key] = place_of(file.value(), path, false);
        const auto number = table == nullptr ? std::nullopt : (*table)[key].value<double>();
        if (!number)
            return Problem{path, 0, said("is needed.")};
        // Who recycles may pay or take; nothing else has a price under 0.
        if (*number < 0 && std::string_view(path) != "prices.recycling")
            return Problem{path, 0, said("must not be under 0.")};
        *value = *number;
    }
    return out;
}

} // namespace ingot::exchange
