#include "exchange/library_offer.h"

#include "exchange/toml_tables.h"

#include <algorithm>
#include <array>
#include <map>
#include <optional>
#include <sstream>

namespace ingot::exchange {

namespace {

struct Kind {
    const char* kind;
    const char* list; // of a file; "": the file is the entry
    const char* also; // another kind of file that holds such a list
};
constexpr std::array<Kind, 8> offered_kinds{{
    {"chemistries", "", ""},
    {"formats", "format", ""},
    {"rule-sets", "", ""},
    {"look-findings", "finding", ""},
    {"cautions", "caution", ""},
    {"symptoms", "symptom", "triage"},
    {"teardown", "plan", ""},
    {"protocols", "protocol", ""},
}};

std::optional<toml::table> read(const LibraryText& text) {
    try {
        return parse_toml(text.text, text.name);
    } catch (const Broken&) {
        return std::nullopt;
    }
}

// By id, the highest version of each.
std::map<std::string, LibraryOffer> entries_of(const Kind& kind, const std::vector<LibraryText>& texts) {
    std::map<std::string, LibraryOffer> out;
    const bool whole = *kind.list == '\0';
    const auto take = [&](const toml::table& entry) {
        LibraryOffer made;
        made.kind = kind.kind;
        made.id = entry["id"].value_or(std::string());
        made.name = entry["name"].value_or(entry["title"].value_or(made.id));
        made.version = entry["version"].value_or(1);
        const auto there = out.find(made.id);
        if (made.id.empty() || (there != out.end() && there->second.version >= made.version))
            return;
        std::ostringstream written;
        if (whole)
            written << entry << "\n";
        else
            written << toml::table{{kind.list, toml::array{entry}}} << "\n";
        made.text = written.str();
        if (const auto curve = entry["ocv"].value<std::string>())
            for (const LibraryText& text : texts)
                if (text.kind == "ocv" && text.name == *curve + ".csv")
                    made.with = {text};
        out[made.id] = std::move(made);
    };
    for (const LibraryText& text : texts) {
        if (text.kind != kind.kind && text.kind != kind.also)
            continue;
        const auto file = read(text);
        if (!file)
            continue;
        if (whole)
            take(*file);
        else if (const auto* list = (*file)[kind.list].as_array())
            for (const auto& node : *list)
                if (const auto* entry = node.as_table())
                    take(*entry);
    }
    return out;
}

} // namespace

std::vector<LibraryOffer> library_offers(const std::vector<LibraryText>& shipped, const std::vector<LibraryText>& own) {
    std::vector<LibraryOffer> out;
    for (const Kind& kind : offered_kinds) {
        const auto there = entries_of(kind, own);
        for (auto& [id, offer] : entries_of(kind, shipped)) {
            const auto known = there.find(id);
            if (known != there.end() && known->second.version >= offer.version)
                continue;
            offer.there = known == there.end() ? 0 : known->second.version;
            std::erase_if(offer.with, [&](const LibraryText& needed) {
                return std::any_of(own.begin(), own.end(), [&](const LibraryText& text) {
                    return text.kind == needed.kind && text.name == needed.name;
                });
            });
            out.push_back(std::move(offer));
        }
    }
    return out;
}

} // namespace ingot::exchange
