// The ledger: how much there is of everything, what was said and done lately, and what was done to one thing, in order.
// Reads only. Long lists are read newest first in slices, so that a search never holds the window up.
#pragma once

#include "workshop/service.h"

#include <functional>
#include <unordered_set>

namespace ingot {

struct LedgerCounts {
    std::int64_t lots = 0, packs = 0, units = 0, measurements = 0, runs = 0, builds = 0;
};

// What a history is of; one of them, 0 the other.
struct HistorySubject {
    Id unit = 0;
    Id assembly = 0;
    [[nodiscard]] bool nothing() const { return unit == 0 && assembly == 0; }
    friend bool operator==(const HistorySubject&, const HistorySubject&) = default;
};

// What is searched for among measurements, runs and events: all words must be found, each in the label or model of what
// was measured, in the quantity, the instrument, the protocol or what was done. Made by LedgerService::search.
struct LedgerSearch {
    struct Word {
        std::string text; // in small letters
        std::unordered_set<Id> units, assemblies;
        std::set<Quantity> quantities;
    };
    std::vector<Word> words;
    Id unit = 0, assembly = 0; // everything of one thing instead
};

// The next of a list, and where to go on; `end`: there is nothing behind it.
template <class Record> struct LedgerSlice {
    std::vector<Record> records;
    Id before = 0;
    bool end = false;
};

class LedgerService : public Service {
public:
    using Service::Service;

    [[nodiscard]] LedgerCounts counts() const {
        return {static_cast<std::int64_t>(inventory_.lots().size()),
                static_cast<std::int64_t>(inventory_.packs().size()),
                static_cast<std::int64_t>(inventory_.units().size()),
                session_.measurements.count(),
                session_.runs.count(),
                static_cast<std::int64_t>(inventory_.builds().size())};
    }
    // A pack's, a unit's or a build's label.
    [[nodiscard]] std::vector<Event> events_of(const std::string& label) const {
        return session_.remarks.events_of(label);
    }
    // Where a unit stood, or what stood in an assembly; ended ones included.
    [[nodiscard]] std::vector<Placement> placements(Id unit, Id assembly) const;
    // What a measurement is of: "K4-0193-T", "MOW-07, group 3".
    [[nodiscard]] std::string subject_of(const Measurement& measurement) const;

    // What has this label, in any letters: a unit's code whole or by its last figures, a pack, a build. Nothing else.
    [[nodiscard]] HistorySubject named(const std::string& label) const;

    // `quantity_word`: how a quantity is called, for the search.
    [[nodiscard]] LedgerSearch search(const std::string& words,
                                      const std::function<std::string(Quantity)>& quantity_word) const;
    // Newest first, from the one entered before `before` (0: the newest of all). Looks at some thousands at a time.
    [[nodiscard]] LedgerSlice<Measurement> measurements(const LedgerSearch& search, Id before) const;
    [[nodiscard]] LedgerSlice<Run> runs(const LedgerSearch& search, Id before) const;
    [[nodiscard]] LedgerSlice<Event> events(const LedgerSearch& search, Id before) const;
    [[nodiscard]] std::optional<Measurement> measurement(Id id) const { return session_.measurements.find(id); }
};

} // namespace ingot
