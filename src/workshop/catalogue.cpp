#include "workshop/catalogue.h"

#include "exchange/protocol_toml.h"
#include "exchange/worth_json.h"
#include "workshop/bench_wording.h"
#include "workshop/workshop.h"

#include <QJsonDocument>
#include <QJsonObject>

#include <fmt/format.h>

#include <algorithm>
#include <tuple>

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
    const Chemistry& chemistry = *library.chemistry(model.chemistry);
    constexpr double hair_v = 1e-9;
    if (model.charge_limit_v && chemistry.charge_limit_v && *model.charge_limit_v > *chemistry.charge_limit_v + hair_v)
        return Problem{
            "charge_limit_v", 0,
            said("{} V a cell is over the limit of its chemistry, {} V. Cells that bear it are a chemistry of "
                 "their own.",
                 *model.charge_limit_v, *chemistry.charge_limit_v)};
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

Result<bool> CatalogueService::save_instrument(const Instrument& said_of_it) {
    Instrument instrument = said_of_it;
    for (const Instrument& known : instruments())
        if (known.name == instrument.name) {
            instrument.checked_at = known.checked_at;
            const bool on_the_bench = known.kind == "charger" || known.kind == "tester";
            if (on_the_bench && instrument.kind != known.kind)
                return Problem{"kind", 0, said("It stands on the bench as a {}: that stays.", known.kind)};
            if (on_the_bench && instrument.channels < known.channels)
                return Problem{"channels", 0,
                               said("Its channels are taken away at the bench, where its runs are seen.")};
        }
    return set_instrument(instrument);
}

// What is a record and no text of the library.
Result<std::string> CatalogueService::save_record(exchange::EntryKind kind, const std::string& text) {
    if (kind == exchange::EntryKind::instrument) {
        const auto instrument = exchange::read_instrument_entry(text);
        if (!instrument)
            return instrument.problem();
        if (const auto done = save_instrument(instrument.value()); !done)
            return done.problem();
        return text;
    }
    const auto figures = exchange::read_prices_entry(text);
    if (!figures)
        return figures.problem();
    WorthCase worth = inventory_.shops_worth();
    std::tie(worth.prices, worth.hours) = figures.value();
    if (const auto done = set_setting("worth", exchange::write_worth_case(worth)); !done)
        return done.problem();
    return text;
}

std::vector<exchange::LibraryText> CatalogueService::texts() const {
    std::vector<exchange::LibraryText> out;
    for (const LibraryRow& row : session_.catalogue.library())
        out.push_back({row.kind, row.name, row.text});
    return out;
}

std::vector<exchange::LibraryOffer> CatalogueService::offers() const {
    const auto shipped = exchange::read_library_texts(Workshop::shipped_folder("data"));
    return shipped ? exchange::library_offers(shipped.value(), texts()) : std::vector<exchange::LibraryOffer>();
}

Result<bool> CatalogueService::take_in(const exchange::LibraryOffer& offer) {
    const exchange::Library before = inventory_.library();
    const auto done = session_.batch([&]() -> Result<bool> {
        for (const exchange::LibraryText& needed : offer.with)
            if (auto kept = keep_text(needed.kind, needed.name, 1, needed.text); !kept)
                return kept;
        return keep_text(offer.kind, file_of(offer.id), offer.version, offer.text);
    });
    if (!done)
        inventory_.set_library(before);
    return done;
}

std::string CatalogueService::entry(exchange::EntryKind kind, const std::string& id) const {
    if (kind == exchange::EntryKind::prices)
        return exchange::prices_entry(inventory_.shops_worth().prices, inventory_.shops_worth().hours);
    if (kind == exchange::EntryKind::instrument) {
        for (const Instrument& known : instruments())
            if (known.name == id)
                return exchange::instrument_entry(known);
        return exchange::instrument_entry({});
    }
    return exchange::entry_text(texts(), kind, id).value_or("");
}

Result<std::string> CatalogueService::save_entry(exchange::EntryKind kind, const std::string& text) {
    using exchange::EntryKind;
    if (kind == EntryKind::instrument || kind == EntryKind::prices)
        return save_record(kind, text);
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
