#include "core/donors/donors.h"

#include "core/donors/donor_search.h"
#include "core/measure/statistics.h"
#include "core/triage/groups.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <numeric>
#include <set>

namespace ingot {

using namespace donors_detail;

namespace {

// Without windows any good group may stand anywhere: most packs, then most groups that stay, by the packs' sizes.
std::vector<int> choose_hosts(const Packs& packs, int good, const DonorRules& rules) {
    struct Best {
        int count = 0;
        int first = 0; // of those that are wanted first
        int kept = 0;
        bool operator<(const Best& other) const {
            return count != other.count   ? count < other.count
                   : first != other.first ? first < other.first
                                          : kept < other.kept;
        }
        bool operator==(const Best&) const = default;
    };
    const auto room = static_cast<std::size_t>(good);
    const std::size_t n = packs.names.size();
    std::vector<std::vector<Best>> best(n + 1, std::vector<Best>(room + 1));
    const auto with = [&](std::size_t p, Best before) {
        const int size = static_cast<int>(packs.groups[p].size());
        return Best{before.count + 1, before.first + (rules.hosts_first.contains(packs.names[p]) ? 1 : 0),
                    before.kept + packs.good[p] - size};
    };
    for (std::size_t p = 0; p < n; ++p)
        for (std::size_t used = 0; used <= room; ++used) {
            best[p + 1][used] = best[p][used];
            if (const std::size_t size = packs.groups[p].size(); size <= used && packs.host[p] != 0)
                best[p + 1][used] = std::max(best[p + 1][used], with(p, best[p][used - size]));
        }
    std::vector<int> hosts;
    std::size_t used = room;
    for (std::size_t p = n; p-- > 0;)
        if (best[p + 1][used] != best[p][used]) {
            hosts.push_back(static_cast<int>(p));
            used -= packs.groups[p].size();
        }
    std::reverse(hosts.begin(), hosts.end());
    return hosts;
}

// How far a pack's groups lie apart.
struct Extent {
    double low_v = 1e9, high_v = -1e9, low_c = 1e9, high_c = -1e9;
    std::uint64_t models = 0; // one bit each, the last for all that follow

    Extent(const Good& good, const std::vector<int>& members) {
        for (const int g : members) {
            const auto k = static_cast<std::size_t>(g);
            low_v = std::min(low_v, good.volts[k]);
            high_v = std::max(high_v, good.volts[k]);
            if (!std::isnan(good.log_capacity[k])) {
                low_c = std::min(low_c, good.log_capacity[k]);
                high_c = std::max(high_c, good.log_capacity[k]);
            }
            models |= std::uint64_t{1} << static_cast<unsigned>(std::min(good.model[k], 63));
        }
    }
    [[nodiscard]] double spread() const {
        constexpr double per_model = 0.1; // a second model weighs as 10 % of capacity or 0.1 V do
        int count = -1;
        for (std::uint64_t m = models; m != 0; m &= m - 1)
            ++count;
        return std::max(0.0, high_c - low_c) + std::max(0.0, high_v - low_v) + per_model * std::max(0, count);
    }
    [[nodiscard]] bool within(const Windows& windows) const {
        constexpr double rounding = 1e-9;
        return high_v - low_v <= windows.volts + rounding && high_c - low_c <= windows.log_capacity + rounding &&
               (!windows.one_model || (models & (models - 1)) == 0);
    }
};

// Exchanges of groups that are moved anyway (or left over), while the packs become better matched.
void level(const Good& good, const Windows& windows, Choice& choice) {
    const int slots = choice.packs();
    std::vector<std::vector<int>> members(static_cast<std::size_t>(slots));
    std::vector<int> spare;
    for (int g = 0; g < good.size(); ++g) {
        const int s = choice.slot_of[static_cast<std::size_t>(g)];
        if (s >= 0)
            members[static_cast<std::size_t>(s)].push_back(g);
        else
            spare.push_back(g);
    }
    const auto guest = [&](int g, int s) {
        return choice.host[static_cast<std::size_t>(s)] != good.pack[static_cast<std::size_t>(g)];
    };
    constexpr int most_passes = 3;
    constexpr double worthwhile = 1e-9;
    for (int pass = 0; pass < most_passes; ++pass) {
        bool changed = false;
        for (int s = 0; s < slots; ++s) {
            auto& here = members[static_cast<std::size_t>(s)];
            for (int& g : here) {
                if (!guest(g, s))
                    continue;
                for (int& other : spare) {
                    if (good.pack[static_cast<std::size_t>(other)] == choice.host[static_cast<std::size_t>(s)])
                        continue;
                    const double before = Extent(good, here).spread();
                    std::swap(g, other);
                    const Extent after(good, here);
                    if (after.within(windows) && after.spread() < before - worthwhile)
                        changed = true;
                    else
                        std::swap(g, other);
                }
                for (int t = s + 1; t < slots; ++t)
                    for (int& other : members[static_cast<std::size_t>(t)]) {
                        auto& there = members[static_cast<std::size_t>(t)];
                        if (!guest(other, t) || !guest(other, s) || !guest(g, t))
                            continue;
                        const double before = Extent(good, here).spread() + Extent(good, there).spread();
                        std::swap(g, other);
                        const Extent after_here(good, here);
                        const Extent after_there(good, there);
                        if (after_here.within(windows) && after_there.within(windows) &&
                            after_here.spread() + after_there.spread() < before - worthwhile)
                            changed = true;
                        else
                            std::swap(g, other);
                    }
            }
        }
        if (!changed)
            break;
    }
    std::fill(choice.slot_of.begin(), choice.slot_of.end(), -1);
    for (int s = 0; s < slots; ++s)
        for (const int g : members[static_cast<std::size_t>(s)])
            choice.slot_of[static_cast<std::size_t>(g)] = s;
}

} // namespace

Result<DonorPlan> plan_donors(const std::vector<DonorGroup>& groups, const Chemistry& chemistry,
                              const DonorRules& rules, const DonorObserver& observer) {
    if (groups.empty())
        return Problem{"", 0, said("there is no group. Give one line for each group of each pack.")};
    DonorPlan plan;
    Packs packs;
    std::map<std::string, std::size_t> index;
    std::set<std::pair<std::string, int>> seen;
    std::vector<double> capacities;
    for (std::size_t i = 0; i < groups.size(); ++i) {
        const DonorGroup& g = groups[i];
        if (!seen.emplace(g.pack, g.group).second)
            return Problem{"", 0, said("group {} of pack {} stands twice.", g.group, g.pack)};
        const auto [at, fresh] = index.emplace(g.pack, packs.names.size());
        if (fresh) {
            packs.names.push_back(g.pack);
            packs.groups.emplace_back();
        }
        packs.groups[at->second].push_back(i);
        if (g.capacity_ah)
            capacities.push_back(*g.capacity_ah);
    }
    const double least_capacity = capacities.empty() ? 0 : rules.least_capacity_share * median(capacities);
    Good good;
    std::map<std::string, std::size_t> models;
    plan.good.assign(groups.size(), false);
    packs.good.assign(packs.names.size(), 0);
    for (const std::string& name : packs.names) {
        packs.host.push_back(rules.never_host.contains(name) ? 0 : 1);
        packs.first.push_back(rules.hosts_first.contains(name) ? 1 : 0);
    }
    for (std::size_t p = 0; p < packs.names.size(); ++p) {
        auto& places = packs.groups[p];
        std::sort(places.begin(), places.end(),
                  [&](std::size_t a, std::size_t b) { return groups[a].group < groups[b].group; });
        for (const std::size_t i : places) {
            const DonorGroup& g = groups[i];
            if (state_of(chemistry, g.voltage_v, rules.cells_per_unit) != GroupState::working ||
                (g.capacity_ah && *g.capacity_ah < least_capacity))
                continue;
            plan.good[i] = true;
            ++packs.good[p];
            good.original.push_back(i);
            good.pack.push_back(static_cast<int>(p));
            good.volts.push_back(g.voltage_v);
            good.log_capacity.push_back(g.capacity_ah && *g.capacity_ah > 0 ? std::log(*g.capacity_ah)
                                                                            : std::numeric_limits<double>::quiet_NaN());
            good.model.push_back(static_cast<int>(models.emplace(g.model, models.size()).first->second));
        }
    }
    const auto simple = choose_hosts(packs, good.size(), rules);
    plan.bound = static_cast<int>(simple.size());

    Windows windows;
    if (rules.voltage_window_v)
        windows.volts = *rules.voltage_window_v;
    if (rules.capacity_tolerance)
        windows.log_capacity = std::log1p(*rules.capacity_tolerance);
    windows.one_model = rules.one_model;

    Choice choice;
    if (rules.windows()) {
        const auto host = std::find(packs.host.begin(), packs.host.end(), 1);
        const std::size_t one = host == packs.host.end() ? 0 : static_cast<std::size_t>(host - packs.host.begin());
        const std::size_t series = packs.groups[one].size();
        for (std::size_t p = 0; p < packs.names.size(); ++p)
            if (packs.host[p] != 0 && packs.groups[p].size() != series)
                return Problem{"", 0,
                               said("pack {} has {} groups, pack {} has {}. With windows, plan for packs of one kind.",
                                    packs.names[p], packs.groups[p].size(), packs.names[one], series)};
        if (host == packs.host.end()) { // nothing can be rebuilt
            plan.proved = true;
            choice.slot_of.assign(static_cast<std::size_t>(good.size()), -1);
            choice.moved = 0;
        } else {
            DonorSearch search(good, packs, static_cast<int>(series), windows, observer);
            choice = search.run(plan.proved);
        }
    } else {
        plan.proved = true;
        choice.host = simple;
        choice.slot_of.assign(static_cast<std::size_t>(good.size()), -1);
        std::vector<int> need;
        need.reserve(simple.size());
        for (const int p : simple)
            need.push_back(static_cast<int>(packs.groups[static_cast<std::size_t>(p)].size()));
        for (std::size_t g = 0; g < choice.slot_of.size(); ++g)
            for (std::size_t s = 0; s < simple.size(); ++s)
                if (simple[s] == good.pack[g]) {
                    choice.slot_of[g] = static_cast<int>(s);
                    --need[s];
                }
        std::size_t s = 0;
        for (std::size_t g = 0; g < choice.slot_of.size(); ++g) {
            while (s < need.size() && need[s] == 0)
                ++s;
            if (s == need.size())
                break;
            if (choice.slot_of[g] < 0) {
                choice.slot_of[g] = static_cast<int>(s);
                --need[s];
            }
        }
    }
    level(good, windows, choice);

    std::vector<std::size_t> order(choice.host.size());
    std::iota(order.begin(), order.end(), 0);
    std::sort(order.begin(), order.end(),
              [&](std::size_t a, std::size_t b) { return choice.host[a] < choice.host[b]; });
    for (const std::size_t s : order) {
        const auto p = static_cast<std::size_t>(choice.host[s]);
        RebuiltPack rebuilt;
        rebuilt.pack = packs.names[p];
        std::set<int> open;
        for (const std::size_t i : packs.groups[p])
            open.insert(groups[i].group);
        std::vector<std::size_t> guests;
        for (std::size_t g = 0; g < choice.slot_of.size(); ++g) {
            if (choice.slot_of[g] != static_cast<int>(s))
                continue;
            const std::size_t i = good.original[g];
            if (good.pack[g] == static_cast<int>(p)) {
                rebuilt.groups.push_back({groups[i].group, i});
                open.erase(groups[i].group);
            } else {
                guests.push_back(i);
            }
        }
        plan.moved += static_cast<int>(guests.size());
        for (const std::size_t i : guests) {
            rebuilt.groups.push_back({*open.begin(), i});
            open.erase(open.begin());
        }
        std::sort(rebuilt.groups.begin(), rebuilt.groups.end(),
                  [](const PlacedGroup& a, const PlacedGroup& b) { return a.position < b.position; });
        plan.packs.push_back(std::move(rebuilt));
    }
    for (std::size_t g = 0; g < choice.slot_of.size(); ++g)
        if (choice.slot_of[g] < 0)
            plan.leftover.push_back(good.original[g]);
    return plan;
}

DonorForecast forecast_donors(const std::vector<DonorGroup>& groups, const DonorPlan& plan, const DonorRules& rules,
                              int series) {
    std::set<std::string> kind;
    int good = 0;
    for (std::size_t i = 0; i < groups.size(); ++i) {
        if (rules.never_host.contains(groups[i].pack))
            continue;
        kind.insert(groups[i].pack);
        good += plan.good[i] ? 1 : 0;
    }
    DonorForecast out;
    if (kind.empty() || good == 0 || series < 1)
        return out;
    const double each = static_cast<double>(good) / static_cast<double>(kind.size());
    out.packs_each = each / series;
    // What lies left over already counts towards the next; the host comes with the pack that is bought.
    const double lacking = std::max(1.0, static_cast<double>(series) - static_cast<double>(plan.leftover.size()));
    out.until_next = std::max(1, static_cast<int>(std::ceil(lacking / each - 1e-9)));
    return out;
}

} // namespace ingot
