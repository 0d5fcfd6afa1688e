// Packs as the bench types them, and what the engine says of them with the knowledge that ships.
#pragma once

#include "core/triage/explain.h"
#include "exchange/library_toml.h"

#include <initializer_list>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace explained_packs {

using namespace ingot;

inline const exchange::Library& library() {
    static const exchange::Library data =
        std::move(exchange::read_library(std::string(INGOT_SOURCE_DIR) + "/data").value());
    return data;
}

inline void read(TriageCase& pack, Condition condition, const std::vector<double>& volts,
                 std::optional<double> current = {}, std::optional<double> days = {}) {
    for (std::size_t g = 0; g < volts.size(); ++g)
        pack.readings.push_back({static_cast<int>(g) + 1, condition, volts[g], current, days, {}});
}

inline TriageCase seven() {
    TriageCase pack;
    pack.layout = {7, 4, 1};
    pack.capacity_ah = 8.8;
    return pack;
}

inline Explained explained(const TriageCase& pack, const char* chemistry = "nmc") {
    return explain(pack, *library().chemistry(chemistry), library().triage);
}

inline const Explanation& first(const Explained& e) {
    return e.explanations.front();
}

inline double probability(const Explained& e, Fault fault, const std::vector<int>& groups) {
    for (const Explanation& x : e.explanations)
        if (x.fault == fault && x.groups == groups)
            return x.probability;
    return 0;
}

inline std::vector<double> less(std::vector<double> volts, double by) {
    for (double& v : volts)
        v -= by;
    return volts;
}

// The same with other voltages in some groups, numbered from 1.
inline std::vector<double> with(std::vector<double> volts, std::initializer_list<std::pair<int, double>> changes) {
    for (const auto& [group, v] : changes)
        volts[static_cast<std::size_t>(group - 1)] = v;
    return volts;
}

} // namespace explained_packs
