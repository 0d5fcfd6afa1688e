// How the explanation engine does on the shops' packs: who was right first, what it stated, how long it took.
#pragma once

#include "core/triage/explain.h"
#include "core/triage/outcomes.h"
#include "exchange/library_toml.h"
#include "triage_shops.h"

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <map>
#include <string>
#include <vector>

namespace ingot::benchmarks {

// Which readings the bench has beside those at rest: none; the terminals and one kind by chance; the terminals and the
// kind that the engine asks for (by chance where it asks for none, or for what this pack does not offer); the terminals
// and up to three readings as it asks for them.
enum class Further { none, by_chance, as_asked, followed };

inline void take(TriageCase& into, const shops::Case& known, const std::vector<shops::Reading>& readings) {
    for (const shops::Reading& r : readings) {
        GroupReading reading;
        reading.group = r.group;
        reading.condition = *condition_from(r.condition);
        reading.voltage_v = r.volts;
        reading.resolution_v = known.resolution_v;
        if (r.amperes != 0)
            reading.current_a = r.amperes;
        if (r.days > 0)
            reading.days = r.days;
        into.readings.push_back(reading);
    }
}

// Takes the reading that is asked for; false: this pack does not offer it.
inline bool answer(TriageCase& pack, const shops::Case& known, const NextReading& asked) {
    const auto& readings = asked.kind == ReadingKind::load            ? known.load
                           : asked.kind == ReadingKind::end_of_charge ? known.end_of_charge
                                                                      : known.stored;
    if (asked.kind == ReadingKind::load || asked.kind == ReadingKind::end_of_charge ||
        asked.kind == ReadingKind::stored) {
        const bool again =
            !readings.empty() && std::any_of(pack.readings.begin(), pack.readings.end(), [&](const GroupReading& r) {
                return code(r.condition) == readings.front().condition;
            });
        if (readings.empty() || again)
            return false;
        take(pack, known, readings);
        return true;
    }
    if (asked.kind == ReadingKind::repeat) {
        const std::string condition = code(asked.condition.value_or(Condition::rest));
        for (const auto* of : {&known.rest, &known.load, &known.end_of_charge, &known.stored})
            if (!of->empty() && of->front().condition == condition) {
                std::vector<shops::Reading> again;
                for (const shops::Reading& r : *of)
                    if (std::find(asked.groups.begin(), asked.groups.end(), r.group) != asked.groups.end())
                        again.push_back(r);
                take(pack, known, again);
                return !again.empty();
            }
        return false;
    }
    if (asked.kind != ReadingKind::lead_swap || asked.groups.empty())
        return false;
    const int group = asked.groups.front();
    pack.swaps.push_back({group, std::any_of(known.faults.begin(), known.faults.end(), [&](const auto& f) {
                              return f.first == "sense-fault" &&
                                     std::find(f.second.begin(), f.second.end(), group) != f.second.end();
                          })});
    return true;
}

inline TriageCase as_typed(const shops::Case& known, Further further, const Chemistry& chemistry,
                           const TriageKnowledge& knowledge) {
    TriageCase out;
    out.layout = {known.series, known.parallel, known.cells_per_unit};
    take(out, known, known.rest);
    if (further == Further::none)
        return out;
    out.terminal_v = known.terminals_v;
    const int asked_for = further == Further::as_asked ? 1 : further == Further::followed ? 3 : 0;
    bool any = false;
    constexpr int most_repeats = 3; // seconds each, and no further kind of reading
    for (int kinds = 0, repeats = 0; kinds < asked_for && repeats <= most_repeats;) {
        const auto next = explain(out, chemistry, knowledge).settle_by;
        if (!next || !answer(out, known, *next))
            break;
        ++(next->kind == ReadingKind::repeat ? repeats : kinds);
        any = kinds > 0;
    }
    if (!any && further != Further::followed)
        take(out, known, known.further);
    return out;
}

// Name and groups, and what stands beside.
inline bool is_right(const Explanation& e, const shops::Case& known) {
    if (known.faults.empty())
        return e.fault == Fault::healthy;
    const auto found = std::find_if(known.faults.begin(), known.faults.end(),
                                    [&](const auto& f) { return f.first == code(e.fault) && f.second == e.groups; });
    return found != known.faults.end() && std::all_of(known.faults.begin(), known.faults.end(), [&](const auto& f) {
               return &f == &*found || std::any_of(e.with.begin(), e.with.end(), [&](const auto& w) {
                   return code(w.first) == f.first && w.second == f.second;
               });
           });
}

struct ShopScore {
    int cases = 0, first = 0, two = 0, else_over_half = 0;
    double slowest_ms = 0;
    std::vector<double> wide_ms; // of packs of 36 groups and more
    std::array<double, 10> stated{};
    std::array<int, 10> count{}, found{};
    std::map<std::string, std::map<std::string, int>> confusion;

    void add(const ShopScore& other) {
        cases += other.cases;
        first += other.first;
        two += other.two;
        else_over_half += other.else_over_half;
        wide_ms.insert(wide_ms.end(), other.wide_ms.begin(), other.wide_ms.end());
        for (std::size_t b = 0; b < stated.size(); ++b) {
            stated[b] += other.stated[b];
            count[b] += other.count[b];
            found[b] += other.found[b];
        }
    }
    [[nodiscard]] double share_first() const { return static_cast<double>(first) / cases; }
    [[nodiscard]] double share_two() const { return static_cast<double>(two) / cases; }
    [[nodiscard]] double calibration_error() const {
        double error = 0;
        for (std::size_t b = 0; b < stated.size(); ++b)
            error += std::fabs(stated[b] - found[b]) / cases;
        return error;
    }
};

// What a shop expects once it recorded what so many of its packs turned out to be, none of them of the next one's kind.
inline TriageKnowledge taught(shops::Shop shop, std::uint64_t first_seed, int packs, const TriageKnowledge& shipped) {
    std::vector<Outcome> outcomes;
    for (int i = 0; i < packs; ++i) {
        const shops::Case known = shops::make(shop, first_seed + static_cast<std::uint64_t>(i));
        std::vector<NamedFault> causes;
        for (const auto& [fault, groups] : known.faults)
            causes.push_back({*fault_from(fault), groups});
        outcomes.emplace_back().causes = in_order(std::move(causes));
    }
    return learned(shipped, {}, outcomes);
}

inline ShopScore score(shops::Shop shop, std::uint64_t first_seed, int cases, Further further,
                       const exchange::Library& library, const TriageKnowledge& knowledge) {
    ShopScore out;
    for (int i = 0; i < cases; ++i) {
        const shops::Case known = shops::make(shop, first_seed + static_cast<std::uint64_t>(i));
        const Chemistry& chemistry = *library.chemistry(known.chemistry);
        const TriageCase pack = as_typed(known, further, chemistry, knowledge);
        const auto begun = std::chrono::steady_clock::now();
        const Explained said = explain(pack, chemistry, knowledge);
        const std::chrono::duration<double, std::milli> took = std::chrono::steady_clock::now() - begun;
        out.slowest_ms = std::max(out.slowest_ms, took.count());
        if (known.series >= 36)
            out.wide_ms.push_back(took.count());
        const auto& list = said.explanations;
        const bool top = is_right(list.front(), known);
        ++out.cases;
        out.first += top ? 1 : 0;
        out.two += top || (list.size() > 1 && is_right(list[1], known)) ? 1 : 0;
        out.else_over_half += said.something_else > 0.5 ? 1 : 0;
        const auto bin = std::min<std::size_t>(9, static_cast<std::size_t>(list.front().probability * 10));
        out.stated[bin] += list.front().probability;
        ++out.count[bin];
        out.found[bin] += top ? 1 : 0;
        ++out.confusion[known.faults.empty() ? "healthy" : known.faults.front().first][top ? "right"
                                                                                       : said.something_else > 0.5
                                                                                           ? "something else"
                                                                                           : code(list.front().fault)];
    }
    return out;
}
inline ShopScore score(shops::Shop shop, std::uint64_t first_seed, int cases, Further further,
                       const exchange::Library& library) {
    return score(shop, first_seed, cases, further, library, library.triage);
}

} // namespace ingot::benchmarks
