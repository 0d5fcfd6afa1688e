// How the explanation engine does on the four shops' packs: who was right first, what it stated, how long it took.
#pragma once

#include "core/triage/explain.h"
#include "exchange/library_toml.h"
#include "triage_shops.h"

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <map>
#include <string>

namespace ingot::benchmarks {

inline TriageCase as_typed(const shops::Case& known, bool further) {
    TriageCase out;
    out.layout = {known.series, known.parallel, known.cells_per_unit};
    const auto take = [&](const shops::Reading& r) {
        GroupReading reading;
        reading.group = r.group;
        reading.condition = *condition_from(r.condition);
        reading.voltage_v = r.volts;
        reading.resolution_v = known.resolution_v;
        if (r.amperes != 0)
            reading.current_a = r.amperes;
        if (r.days > 0)
            reading.days = r.days;
        out.readings.push_back(reading);
    };
    std::for_each(known.rest.begin(), known.rest.end(), take);
    if (further) {
        out.terminal_v = known.terminals_v;
        std::for_each(known.further.begin(), known.further.end(), take);
    }
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
    std::array<double, 10> stated{};
    std::array<int, 10> count{}, found{};
    std::map<std::string, std::map<std::string, int>> confusion;

    void add(const ShopScore& other) {
        cases += other.cases;
        first += other.first;
        two += other.two;
        else_over_half += other.else_over_half;
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

inline ShopScore score(shops::Shop shop, std::uint64_t first_seed, int cases, bool further,
                       const exchange::Library& library) {
    ShopScore out;
    for (int i = 0; i < cases; ++i) {
        const shops::Case known = shops::make(shop, first_seed + static_cast<std::uint64_t>(i));
        const TriageCase pack = as_typed(known, further);
        const auto begun = std::chrono::steady_clock::now();
        const Explained said = explain(pack, *library.chemistry(known.chemistry), library.triage);
        const std::chrono::duration<double, std::milli> took = std::chrono::steady_clock::now() - begun;
        out.slowest_ms = std::max(out.slowest_ms, took.count());
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

} // namespace ingot::benchmarks
