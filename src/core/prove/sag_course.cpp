#include "core/prove/sag_course.h"

#include "core/measure/statistics.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

// The median of all pairs' slopes, then of what is left.
void line_through(const GroupVolts& excess, const ProofReading& reading, const std::vector<std::size_t>& order,
                  std::vector<double>& out) {
    std::vector<double> slopes;
    for (std::size_t i = 0; i < order.size(); ++i)
        for (std::size_t k = i + 1; k < order.size(); ++k)
            if (const double apart = reading.group_day[order[k]] - reading.group_day[order[i]]; apart > 0)
                slopes.push_back((*excess[order[k]] - *excess[order[i]]) / apart);
    const double slope = slopes.empty() ? 0 : median(slopes);
    std::vector<double> levels;
    levels.reserve(order.size());
    for (const std::size_t g : order)
        levels.push_back(*excess[g] - slope * (reading.group_day[g] - reading.group_day[order.front()]));
    const double level = median(levels);
    for (const std::size_t g : order)
        out[g] = level + slope * (reading.group_day[g] - reading.group_day[order.front()]);
}
void middle_of_neighbours(const GroupVolts& excess, const std::vector<std::size_t>& order, std::vector<double>& out,
                          std::vector<double>& error) {
    constexpr std::size_t beside = 4;
    constexpr std::size_t at_an_end = 5;
    constexpr std::size_t further_in = 2;
    const auto middle = [&](std::size_t from, std::size_t to) {
        std::vector<double> near;
        for (std::size_t k = from; k <= to; ++k)
            near.push_back(*excess[order[k]]);
        return median(near);
    };
    for (std::size_t i = 0; i < order.size(); ++i) {
        // As many before as after, so that a slope stays out of it. At the ends there are none: what the course
        // does beside them is how far it may be wrong there, twice that where it falls ever more slowly.
        const std::size_t reach = std::min({beside, i, order.size() - 1 - i});
        if (reach >= 2) {
            out[order[i]] = middle(i - reach, i + reach);
            continue;
        }
        const bool first = i < order.size() / 2;
        const std::size_t from = first ? 0 : order.size() - at_an_end;
        const std::size_t inner = first ? from + further_in : from - further_in;
        out[order[i]] = middle(from, from + at_an_end - 1);
        error[order[i]] = 2 * std::fabs(out[order[i]] - middle(inner, inner + at_an_end - 1));
    }
}

} // namespace

std::vector<std::size_t> reading_order(const GroupVolts& read, const ProofReading& reading) {
    std::vector<std::size_t> order;
    for (std::size_t g = 0; g < read.size(); ++g)
        if (read[g])
            order.push_back(g);
    if (reading.group_day.size() == read.size())
        std::stable_sort(order.begin(), order.end(),
                         [&](std::size_t a, std::size_t b) { return reading.group_day[a] < reading.group_day[b]; });
    return order;
}

double later_sag(const GroupVolts& sag, const GroupVolts& by_units, const std::vector<std::size_t>& order) {
    constexpr std::size_t beside = 4;
    constexpr double apart_v = 0.003; // pairs that are more alike tell nothing
    std::vector<double> ratios;       // what all share adds to the sag, so that no slope is steeper
    for (const std::size_t g : order)
        if (by_units[g] && *by_units[g] > 0)
            ratios.push_back(*sag[g] / *by_units[g]);
    const double most = ratios.empty() ? 1 : std::max(1.0, median(ratios));
    std::vector<std::pair<double, double>> slopes; // slope, weight
    double all = 0;
    for (std::size_t i = 0; i < order.size(); ++i)
        for (std::size_t k = i + 1; k < order.size() && k <= i + beside; ++k) {
            const auto& one = by_units[order[i]];
            const auto& other = by_units[order[k]];
            if (!one || !other || std::fabs(*one - *other) < apart_v)
                continue;
            const double weight = std::fabs(*one - *other);
            slopes.emplace_back((*sag[order[i]] - *sag[order[k]]) / (*one - *other), weight);
            all += weight;
        }
    std::sort(slopes.begin(), slopes.end());
    double seen = 0;
    for (const auto& [slope, weight] : slopes) {
        seen += weight;
        if (seen >= all / 2)
            return std::clamp(slope, 1.0, most);
    }
    return most;
}

std::vector<double> shared_course(const GroupVolts& excess, const ProofReading& reading,
                                  const std::vector<std::size_t>& order, std::vector<double>& error) {
    constexpr std::size_t enough = 3;
    constexpr std::size_t enough_for_a_line = 5;
    constexpr std::size_t enough_for_a_course = 7;
    constexpr double while_it_sinks_days = 20.0 / 86400;
    std::vector<double> known;
    known.reserve(order.size());
    for (const std::size_t g : order)
        known.push_back(*excess[g]);
    std::vector<double> out(excess.size(), known.size() >= enough ? std::max(0.0, median(known)) : 0);
    if (order.size() < enough_for_a_line || reading.group_day.size() != excess.size() ||
        reading.group_day[order.back()] - reading.group_day[order.front()] < while_it_sinks_days)
        return out;
    if (order.size() < enough_for_a_course)
        line_through(excess, reading, order, out);
    else
        middle_of_neighbours(excess, order, out, error);
    return out;
}

} // namespace ingot
