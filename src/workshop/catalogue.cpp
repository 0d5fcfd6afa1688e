#include "workshop/catalogue.h"

#include "exchange/protocol_toml.h"
#include "workshop/bench_wording.h"

#include <algorithm>

namespace ingot {

namespace {

std::string file_of(const std::string& id) {
    std::string name;
    for (const char c : id)
        name += (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' ? c : '-';
    return name + ".toml";
}

} // namespace

Result<bool> CatalogueService::set_setting(const std::string& key, const std::string& value) {
    ChangeSet changes;
    changes.settings = true;
    return session_.step([&] { session_.catalogue.set(key, value); }, changes);
}

Result<bool> CatalogueService::set_instrument(const Instrument& instrument) {
    if (instrument.name.empty() || instrument.channels < 1)
        return Problem{"", 0, "An instrument has a name and at least one channel."};
    ChangeSet changes;
    changes.settings = true;
    return session_.step([&] { session_.measurements.set(instrument); }, changes);
}

Result<bool> CatalogueService::keep_text(const std::string& kind, const std::string& name, int version,
                                         const std::string& text) {
    std::vector<exchange::LibraryText> texts;
    for (const LibraryRow& row : session_.catalogue.library())
        if (row.kind != kind || row.name != name)
            texts.push_back({row.kind, row.name, row.text});
    texts.push_back({kind, name, text});
    auto parsed = exchange::parse_library(texts);
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

Result<std::string> CatalogueService::save_protocol(const std::string& text) {
    auto read = exchange::read_protocol(text, "protocol");
    if (!read)
        return read.problem();
    Protocol& protocol = read.value();
    if (protocol.id.empty() || protocol.chemistries.empty())
        return Problem{"protocol", 0, "needs an id and at least one chemistry."};
    for (const std::string& chemistry : protocol.chemistries) {
        const Chemistry* known = inventory_.library().chemistry(chemistry);
        if (known == nullptr)
            return Problem{"protocol", 0, "chemistry \"" + chemistry + "\" is not in the library."};
        BayUnit usual; // what would be wrong with any unit
        usual.rated_ah = 1;
        if (const auto objections = check_protocol(protocol, usual, *known, {1000, 1000, true, true});
            !objections.empty())
            return Problem{"protocol", 0, wording::protocol_objection(objections.front(), protocol).toStdString()};
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
        return Problem{"plan", 0, "holds no plan with steps, or more than one. Give one [[plan]]."};
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
