#include "core/triage/groups.h"

#include "core/measure/statistics.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

// Usual spread of a sound used pack's groups, one standard deviation per cell in series (common practice: 0.01 V is
// excellent, 0.05 V is too much).
constexpr double usual_spread_v = 0.010;
constexpr double outlier_factor = 3.0;

} // namespace

const char* code(PackTriage triage) {
    switch (triage) {
    case PackTriage::not_read:
        return "not-read";
    case PackTriage::incomplete:
        return "incomplete";
    case PackTriage::healthy:
        return "healthy";
    case PackTriage::group_out_of_band:
        return "group-out-of-band";
    case PackTriage::group_stands_out:
        return "group-stands-out";
    case PackTriage::sum_misses_terminals:
        return "sum-misses-terminals";
    }
    return "";
}

bool is_hazard(GroupState state, const Chemistry& chemistry) {
    const bool deep = state == GroupState::deep || state == GroupState::dead;
    return (deep && chemistry.lithium) || state == GroupState::over;
}

TriageResult triage_groups(const GroupVoltages& voltages, const Chemistry& chemistry) {
    TriageResult result;
    const std::size_t count = voltages.rest_v.size();
    result.groups.resize(count);
    std::vector<double> read;
    for (const auto& v : voltages.rest_v)
        if (v)
            read.push_back(*v);
    if (read.empty())
        return result;
    result.median_v = median(read);
    double worst_away = 0;
    bool out_of_band = false;
    bool stands_out = false;
    for (std::size_t i = 0; i < count; ++i) {
        if (!voltages.rest_v[i])
            continue;
        const double v = *voltages.rest_v[i];
        GroupFinding& finding = result.groups[i];
        finding.state = state_of(chemistry, v, voltages.cells_per_unit);
        out_of_band |= *finding.state != GroupState::working;
        if (v / voltages.cells_per_unit < chemistry.floor_v)
            result.load_round_allowed = false;
        std::vector<double> others;
        for (std::size_t j = 0; j < count; ++j)
            if (j != i && voltages.rest_v[j])
                others.push_back(*voltages.rest_v[j]);
        if (others.empty())
            continue;
        const auto [middle, scale] = robust_spread(others);
        finding.from_median_v = v - middle;
        const double usual = usual_spread_v * voltages.cells_per_unit;
        const double sigma = std::sqrt(scale * scale + usual * usual + std::pow(voltages.meter_error_v / 2, 2));
        finding.outlier = others.size() >= 2 && std::fabs(*finding.from_median_v) > outlier_factor * sigma;
        stands_out |= finding.outlier;
        const double away = std::fabs(*finding.from_median_v);
        if ((finding.outlier || *finding.state != GroupState::working) && away >= worst_away) {
            worst_away = away;
            result.worst = i;
        }
    }
    if (read.size() == count) {
        double sum = 0;
        for (const double v : read)
            sum += v;
        result.sum_v = sum;
        if (voltages.terminal_v) {
            result.difference_v = *voltages.terminal_v - sum;
            // Each reading errs on its own; the terminals are read on a coarser range (one part in a thousand).
            const double allowed = voltages.meter_error_v * std::sqrt(static_cast<double>(count)) + 0.001 * sum + 0.02;
            result.sum_agrees = std::fabs(*result.difference_v) <= allowed;
        }
    }
    if (out_of_band)
        result.summary = PackTriage::group_out_of_band;
    else if (stands_out)
        result.summary = PackTriage::group_stands_out;
    else if (!result.sum_agrees)
        result.summary = PackTriage::sum_misses_terminals;
    else
        result.summary = read.size() == count ? PackTriage::healthy : PackTriage::incomplete;
    return result;
}

} // namespace ingot
