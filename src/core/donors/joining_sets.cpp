#include "core/donors/joining_sets.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace ingot::donors_detail {

namespace {

// Evenly chosen from the sorted values, at most `most`.
std::vector<double> thinned(std::vector<double> values, std::size_t most, bool& complete) {
    std::sort(values.begin(), values.end());
    values.erase(std::unique(values.begin(), values.end()), values.end());
    if (values.size() <= most)
        return values;
    complete = false;
    std::vector<double> out;
    for (std::size_t i = 0; i < most; ++i)
        out.push_back(values[i * (values.size() - 1) / (most - 1)]);
    return out;
}

} // namespace

bool inside(double value, double from, double width) {
    constexpr double rounding = 1e-9;
    return std::isnan(value) || (value >= from - rounding && value <= from + width + rounding);
}

std::vector<Set> maximal_sets(const Good& good, const Windows& windows, int least, bool& complete) {
    constexpr std::size_t most_starts = 90; // of windows, in each direction
    constexpr std::size_t most_filtered = 3000;
    complete = true;
    std::map<int, std::vector<int>> classes;
    for (int i = 0; i < good.size(); ++i)
        classes[windows.one_model ? good.model[static_cast<std::size_t>(i)] : 0].push_back(i);
    std::vector<Set> out;
    for (const auto& [model, members] : classes) {
        std::set<Set> candidates;
        std::vector<double> from_volts{-1e9};
        std::vector<double> from_capacity{-1e9};
        if (std::isfinite(windows.volts)) {
            from_volts.clear();
            for (const int i : members)
                from_volts.push_back(good.volts[static_cast<std::size_t>(i)]);
        }
        if (std::isfinite(windows.log_capacity)) {
            from_capacity.clear();
            for (const int i : members)
                if (!std::isnan(good.log_capacity[static_cast<std::size_t>(i)]))
                    from_capacity.push_back(good.log_capacity[static_cast<std::size_t>(i)]);
            if (from_capacity.empty())
                from_capacity.push_back(0);
        }
        const std::size_t starts = members.size() > most_starts ? most_starts / 2 : most_starts;
        from_volts = thinned(std::move(from_volts), starts, complete);
        from_capacity = thinned(std::move(from_capacity), starts, complete);
        const double volts_width = std::isfinite(windows.volts) ? windows.volts : 1e12;
        const double capacity_width = std::isfinite(windows.log_capacity) ? windows.log_capacity : 1e12;
        for (const double v : from_volts)
            for (const double c : from_capacity) {
                Set set(static_cast<std::size_t>(good.size()));
                for (const int i : members) {
                    const auto k = static_cast<std::size_t>(i);
                    if (inside(good.volts[k], v, volts_width) && inside(good.log_capacity[k], c, capacity_width))
                        set.set(k);
                }
                if (static_cast<int>(set.count()) >= least)
                    candidates.insert(std::move(set));
            }
        std::vector<Set> ordered(candidates.begin(), candidates.end());
        std::stable_sort(ordered.begin(), ordered.end(),
                         [](const Set& a, const Set& b) { return a.count() > b.count(); });
        const std::size_t start = out.size();
        const bool filter = ordered.size() <= most_filtered;
        for (const Set& set : ordered) {
            if (filter && std::any_of(out.begin() + static_cast<std::ptrdiff_t>(start), out.end(),
                                      [&](const Set& larger) { return set.is_subset_of(larger); }))
                continue;
            out.push_back(set);
        }
    }
    return out;
}

} // namespace ingot::donors_detail
