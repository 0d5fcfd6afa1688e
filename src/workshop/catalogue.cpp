#include "workshop/catalogue.h"

#include "exchange/protocol_toml.h"
#include "workshop/bench_wording.h"
#include "workshop/workshop.h"

#include <QJsonDocument>
#include <QJsonObject>

#include <fmt/format.h>

#include <algorithm>

namespace ingot {

namespace {

std::string file_of(const std::string& id) {
    std::string name;
    for (const char c : id)
        name += (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' ? c : '-';
    return name + ".toml";
}

// What Ingot ships is the limit, not what the shop made of it: what was lowered may go back.
std::optional<Problem> charged_too_high(const std::string& id, const exchange::Library& now,
                                        const std::vector<exchange::LibraryText>& texts) {
    const auto shipped = exchange::read_library(Workshop::shipped_folder("data"));
    const Chemistry* known = shipped ? shipped.value().chemistry(id) : now.chemistry(id);
    if (known == nullptr || !known->lithium)
        return std::nullopt;
    const auto tried = exchange::parse_library(texts);
    if (!tried)
        return tried.problem();
    const Chemistry* next = tried.value().chemistry(id);
    constexpr double hair_v = 1e-9;
    if (next != nullptr && next->lithium && next->charging_v() <= known->charging_v() + hair_v &&
        next->floor_v >= known->floor_v - hair_v)
        return std::nullopt;
    return Problem{"charge_limit_v", 0,
                   said("{} would be charged higher or emptied lower than Ingot has it. Cells that bear it are a "
                        "chemistry of their own: copy it under another name, with the maker's sheet as source.",
                        known->name)};
}

} // namespace

Result<bool> CatalogueService::set_setting(const std::string& key, const std::string& value) {
    ChangeSet changes;
    changes.settings = true;
    return session_.step([&] { session_.catalogue.set(key, value); }, changes);
}

namespace {
constexpr const char* log_shapes_key = "log_shapes";
}

std::map<std::string, std::string> CatalogueService::log_shapes() const {
    std::map<std::string, std::string> out;
    const QJsonObject kept = QJsonDocument::fromJson(QByteArray::fromStdString(setting(log_shapes_key))).object();
    for (auto at = kept.begin(); at != kept.end(); ++at)
        out[at.key().toStdString()] = at.value().toString().toStdString();
    return out;
}

Result<bool> CatalogueService::keep_log_shape(const std::vector<std::string>& header, const exchange::LogShape& shape) {
    const std::string text = exchange::write_log_shape(shape);
    if (const auto read = exchange::read_log_shape(text); !read) // what is kept can be read
        return read.problem();
    QJsonObject kept;
    for (const auto& [key, known] : log_shapes())
        kept.insert(QString::fromStdString(key), QString::fromStdString(known));
    kept.insert(QString::fromStdString(exchange::shape_key(header)), QString::fromStdString(text));
    return set_setting(log_shapes_key, QJsonDocument(kept).toJson(QJsonDocument::Compact).toStdString());
}

Result<bool> CatalogueService::note_check(const std::string& name, const std::string& against,
                                          const std::string& what) {
    if (name.empty() || against.empty())
        return Problem{"", 0, said("Say which instrument was held against which.")};
    if (name == against)
        return Problem{"", 0, said("An instrument is held against another one, not against itself.")};
    Instrument checked;
    checked.name = name;
    for (const Instrument& known : instruments())
        if (known.name == name)
            checked = known;
    checked.checked_at = session_.now();
    ChangeSet changes;
    changes.settings = true;
    return session_.step(
        [&] {
            session_.measurements.set(checked);
            session_.record_event("instrument checked", name,
                                  "against " + against + (what.empty() ? std::string() : ": " + what));
        },
        changes);
}

Result<bool> CatalogueService::set_instrument(const Instrument& instrument) {
    if (instrument.name.empty() || instrument.channels < 1)
        return Problem{"", 0, said("An instrument has a name and at least one channel.")};
    ChangeSet changes;
    changes.settings = true;
    return session_.step([&] { session_.measurements.set(instrument); }, changes);
}

std::vector<exchange::LibraryText> CatalogueService::texts_with(const std::string& kind, const std::string& name,
                                                                const std::string& text) const {
    std::vector<exchange::LibraryText> texts;
    for (const LibraryRow& row : session_.catalogue.library())
        if (row.kind != kind || row.name != name)
            texts.push_back({row.kind, row.name, row.text});
    texts.push_back({kind, name, text});
    return texts;
}

Result<bool> CatalogueService::keep_text(const std::string& kind, const std::string& name, int version,
                                         const std::string& text) {
    auto parsed = exchange::parse_library(texts_with(kind, name, text));
    if (!parsed)
        return parsed.problem();
    ChangeSet changes;
    changes.library = true;
    const exchange::Library before = inventory_.library();
    const auto done = session_.step(
        [&] {
            session_.catalogue.add(LibraryRow{kind, name, text, version});
            session_.record_event("library text saved", name, "version " + std::to_string(version));
            inventory_.set_library(std::move(parsed).value());
        },
        changes);
    if (!done)
        inventory_.set_library(before);
    return done;
}

Result<bool> CatalogueService::save_model(UnitModel model) {
    const exchange::Library& library = inventory_.library();
    if (model.id.empty() || model.rated_ah <= 0 || model.cells_in_series < 1)
        return Problem{"model", 0,
                       said("needs what is printed on it, a rating over 0 Ah and 1 cell or more in series.")};
    if (library.chemistry(model.chemistry) == nullptr)
        return Problem{"model", 0, said("chemistry \"{}\" is not in the library.", model.chemistry)};
    const CellFormat* format = library.format(model.format);
    if (!model.format.empty() && format == nullptr)
        return Problem{"model", 0, said("format \"{}\" is not in the library.", model.format)};
    const FormatCapacity* holds = format == nullptr ? nullptr : format->capacity_for(model.chemistry);
    if (holds != nullptr && model.rated_ah > holds->impossible_above_ah)
        return Problem{"model", 0,
                       said("No {} holds {} Ah: {} Ah is the most that its volume can. Check the print.", model.format,
                            model.rated_ah, holds->impossible_above_ah)};
    if (model.name.empty())
        model.name = model.id;
    if (model.source.empty())
        model.source = "entered in this shop";
    const UnitModel* there = library.model(model.id);
    model.version = there == nullptr ? 1 : there->version + 1;
    return keep_text("models", model.id + ".toml", model.version, exchange::write_model(model));
}

Result<int> CatalogueService::bring_in_models(const std::string& text, const std::string& file) {
    std::vector<exchange::LibraryText> texts; // a model's chemistry must be known
    for (const LibraryRow& row : session_.catalogue.library())
        if (row.kind == "ocv" || row.kind == "chemistries")
            texts.push_back({row.kind, row.name, row.text});
    texts.push_back({"models", file, text});
    const auto read = exchange::parse_library(texts);
    if (!read)
        return read.problem();
    const exchange::Library before = inventory_.library();
    int kept = 0;
    const auto done = session_.batch([&]() -> Result<bool> {
        for (const auto& [id, model] : read.value().models) {
            if (auto saved = save_model(model); !saved)
                return Problem{file, 0, said("{}: {}", id, saved.problem().sentence)};
            ++kept;
        }
        return true;
    });
    if (!done) {
        inventory_.set_library(before);
        return done.problem();
    }
    return kept;
}

std::string CatalogueService::entry(exchange::EntryKind kind, const std::string& id) const {
    std::vector<exchange::LibraryText> texts;
    for (const LibraryRow& row : session_.catalogue.library())
        texts.push_back({row.kind, row.name, row.text});
    return exchange::entry_text(texts, kind, id).value_or("");
}

Result<std::string> CatalogueService::save_entry(exchange::EntryKind kind, const std::string& text) {
    using exchange::EntryKind;
    const auto values = exchange::entry_values(kind, text);
    if (!values)
        return values.problem();
    const auto value = [&](const char* key) {
        const auto found = values.value().find(key);
        return found == values.value().end() ? std::string() : found->second;
    };
    const std::string id = value("id");
    if (id.empty())
        return Problem{"id", 0, said("is needed.")};
    if (kind == EntryKind::model) {
        const auto kept = bring_in_models(text, "model");
        return kept ? Result<std::string>(text) : kept.problem();
    }
    const std::string name = file_of(id);
    int version = 0;
    for (const LibraryRow& row : session_.catalogue.library())
        if (row.kind == exchange::library_kind(kind) && row.name == name)
            version = row.version;
    const std::string there = entry(kind, id);
    if (!there.empty()) {
        version = std::max(version, 1);
        if (const auto known = exchange::entry_values(kind, there); known && known.value().contains("version"))
            version = std::max(version, std::stoi(known.value().at("version")));
    }
    if (kind == EntryKind::chemistry)
        if (const auto refused = charged_too_high(id, inventory_.library(), texts_with("chemistries", name, text)))
            return *refused;
    std::map<std::string, std::string> with{{"version", std::to_string(version + 1)}};
    auto kept = exchange::entry_with(kind, text, with);
    if (!kept)
        return kept.problem();
    if (const auto done = keep_text(exchange::library_kind(kind), name, version + 1, kept.value()); !done)
        return done.problem();
    return kept;
}

Result<std::string> CatalogueService::save_protocol(const std::string& text) {
    auto read = exchange::read_protocol(text, "protocol");
    if (!read)
        return read.problem();
    Protocol& protocol = read.value();
    if (protocol.id.empty() || protocol.chemistries.empty())
        return Problem{"protocol", 0, said("needs an id and at least one chemistry.")};
    for (const std::string& chemistry : protocol.chemistries) {
        const Chemistry* known = inventory_.library().chemistry(chemistry);
        if (known == nullptr)
            return Problem{"protocol", 0, said("chemistry \"{}\" is not in the library.", chemistry)};
        BayUnit usual; // what would be wrong with any unit
        usual.rated_ah = 1;
        if (const auto objections = check_protocol(protocol, usual, *known, {1000, 1000, true, true});
            !objections.empty())
            return Problem{"protocol", 0,
                           as_told(wording::protocol_objection(objections.front(), protocol).toStdString())};
    }
    protocol.version = 1;
    if (const Protocol* there = inventory_.library().protocol(protocol.id))
        protocol.version = there->version + 1;
    std::string kept = exchange::write_protocol(protocol);
    if (const auto done = keep_text("protocols", file_of(protocol.id), protocol.version, kept); !done)
        return done.problem();
    return kept;
}

Result<std::string> CatalogueService::save_teardown_plan(const std::string& text) {
    auto read = exchange::parse_library({{"teardown", "plan", text}});
    if (!read)
        return read.problem();
    if (read.value().teardown.size() != 1 || read.value().teardown.front().steps.empty())
        return Problem{"plan", 0, said("holds no plan with steps, or more than one. Give one [[plan]].")};
    exchange::TeardownPlan plan = read.value().teardown.front();
    plan.version = 1;
    for (const auto& there : inventory_.library().teardown)
        if (there.id == plan.id)
            plan.version = there.version + 1;
    std::string kept = exchange::write_teardown_plan(plan);
    if (const auto done = keep_text("teardown", file_of(plan.id), plan.version, kept); !done)
        return done.problem();
    return kept;
}

} // namespace ingot
