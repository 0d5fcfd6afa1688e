#include "workshop/ledger.h"

#include <algorithm>
#include <cctype>
#include <sstream>

namespace ingot {

namespace {

constexpr std::size_t slice = 2000; // some milliseconds
// So few subjects are read one by one instead of going through everything.
constexpr std::size_t few_subjects = 200;

std::string lower(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

bool holds(const std::string& text, const std::string& word) {
    return lower(text).find(word) != std::string::npos;
}

bool fits(const LedgerSearch& search, const Measurement& m) {
    return std::all_of(search.words.begin(), search.words.end(), [&](const LedgerSearch::Word& word) {
        return (m.subject.unit != 0 ? word.units.contains(m.subject.unit)
                                    : word.assemblies.contains(m.subject.assembly)) ||
               word.quantities.contains(m.quantity) || holds(m.instrument, word.text) || holds(m.protocol, word.text);
    });
}

bool fits(const LedgerSearch& search, const Run& run) {
    return std::all_of(search.words.begin(), search.words.end(), [&](const LedgerSearch::Word& word) {
        const auto units = run.units();
        return word.assemblies.contains(run.assembly) ||
               std::any_of(units.begin(), units.end(), [&](Id unit) { return word.units.contains(unit); }) ||
               holds(run.instrument, word.text) || holds(run.protocol, word.text) || holds(run.file, word.text);
    });
}

bool fits(const LedgerSearch& search, const Event& event) {
    return std::all_of(search.words.begin(), search.words.end(), [&](const LedgerSearch::Word& word) {
        return holds(event.subject, word.text) || holds(event.what, word.text) || holds(event.detail, word.text);
    });
}

// Of a page of everything, what fits.
template <class Record> LedgerSlice<Record> sift(const LedgerSearch& search, std::vector<Record> page) {
    LedgerSlice<Record> out;
    out.end = page.size() < slice;
    if (!page.empty())
        out.before = page.back().id;
    for (Record& record : page)
        if (fits(search, record))
            out.records.push_back(std::move(record));
    return out;
}

// A word that can only be a label or a model, and names few: its things are read one by one.
const LedgerSearch::Word* few(const LedgerSearch& search) {
    for (const LedgerSearch::Word& word : search.words)
        if (word.quantities.empty() && !word.units.empty() &&
            word.units.size() + word.assemblies.size() <= few_subjects)
            return &word;
    return nullptr;
}

template <class Record> LedgerSlice<Record> all_at_once(const LedgerSearch& search, std::vector<Record> found) {
    LedgerSlice<Record> out;
    out.end = true;
    for (Record& record : found)
        if (fits(search, record))
            out.records.push_back(std::move(record));
    std::sort(out.records.begin(), out.records.end(), [](const Record& a, const Record& b) { return a.id > b.id; });
    return out;
}

} // namespace

std::vector<Placement> LedgerService::placements(Id unit, Id assembly) const {
    if (unit != 0)
        return session_.assemblies.placements_of_unit(unit);
    const auto all = inventory_.placements(assembly);
    return {all.begin(), all.end()};
}

std::string LedgerService::subject_of(const Measurement& m) const {
    if (const UnitState* unit = inventory_.unit(m.subject.unit))
        return unit->code();
    const Assembly* assembly = inventory_.assembly(m.subject.assembly);
    return assembly != nullptr ? assembly->label : std::string();
}

HistorySubject LedgerService::named(const std::string& label) const {
    const std::string wanted = lower(label);
    for (const auto* assemblies : {&inventory_.packs(), &inventory_.builds()})
        for (const Assembly& assembly : *assemblies)
            if (lower(assembly.label) == wanted)
                return {0, assembly.id};
    if (looks_like_unit_code(label))
        if (const auto unit = inventory_.find_unit(label))
            return {unit.value(), 0};
    return {};
}

LedgerSearch LedgerService::search(const std::string& words,
                                   const std::function<std::string(Quantity)>& quantity_word) const {
    LedgerSearch out;
    std::istringstream in(lower(words));
    for (std::string text; in >> text;) {
        LedgerSearch::Word& word = out.words.emplace_back();
        word.text = text;
        for (const UnitState& unit : inventory_.units())
            if (holds(unit.code(), text) || holds(unit.record.model, text))
                word.units.insert(unit.record.id);
        for (const auto* assemblies : {&inventory_.packs(), &inventory_.builds()})
            for (const Assembly& assembly : *assemblies)
                if (holds(assembly.label, text) || holds(assembly.model, text))
                    word.assemblies.insert(assembly.id);
        for (const Quantity quantity :
             {Quantity::voltage, Quantity::dc_resistance, Quantity::ac_resistance, Quantity::resistance,
              Quantity::capacity, Quantity::self_discharge, Quantity::temperature, Quantity::insulation,
              Quantity::sensor, Quantity::duration})
            if (holds(quantity_word(quantity), text))
                word.quantities.insert(quantity);
    }
    return out;
}

LedgerSlice<Measurement> LedgerService::measurements(const LedgerSearch& search, Id before) const {
    if (search.unit != 0)
        return {session_.measurements.history_of_unit(search.unit), 0, true};
    if (search.assembly != 0)
        return {session_.measurements.history_of_assembly(search.assembly), 0, true};
    if (const LedgerSearch::Word* word = few(search)) {
        std::vector<Measurement> found;
        const auto take = [&found](std::vector<Measurement> more) {
            std::move(more.begin(), more.end(), std::back_inserter(found));
        };
        for (const Id unit : word->units)
            take(session_.measurements.history_of_unit(unit));
        for (const Id assembly : word->assemblies)
            take(session_.measurements.history_of_assembly(assembly));
        return all_at_once(search, std::move(found));
    }
    return sift(search, session_.measurements.page(before, slice));
}

LedgerSlice<Run> LedgerService::runs(const LedgerSearch& search, Id before) const {
    if (search.unit != 0)
        return {session_.runs.of_unit(search.unit), 0, true};
    if (const LedgerSearch::Word* word = few(search)) {
        std::vector<Run> found;
        for (const Id unit : word->units)
            for (Run& run : session_.runs.of_unit(unit))
                found.push_back(std::move(run));
        return all_at_once(search, std::move(found));
    }
    return sift(search, session_.runs.page(before, slice));
}

LedgerSlice<Event> LedgerService::events(const LedgerSearch& search, Id before) const {
    return sift(search, session_.remarks.page(before, slice));
}

} // namespace ingot
