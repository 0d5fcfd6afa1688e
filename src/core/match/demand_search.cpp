// Keeps what a person asks of a match by exchanges: within the pack and with the stock.
#include "core/cells/random.h"
#include "core/match/demand_reader.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

namespace ingot::matching {

namespace {

constexpr int few_units = 60; // up to here starts cost next to nothing

// Breaches first, then the floor, then levelness.
struct Standing {
    int breaches = 0;
    double low_ah = 0, levelness = 0;
    [[nodiscard]] bool better_than(const Standing& other, double floor_ah) const {
        if (breaches != other.breaches)
            return breaches < other.breaches;
        constexpr double exactly = 1e-9;
        const double reach = std::min(low_ah, floor_ah);
        const double reach_other = std::min(other.low_ah, floor_ah);
        if (std::fabs(reach - reach_other) > exactly)
            return reach > reach_other;
        return levelness < other.levelness - exactly;
    }
};

class DemandSearch {
public:
    DemandSearch(const MatchProblem& problem, const MatchObserver& observer)
        : problem_(problem), observer_(observer), reader_(problem), locked_(problem.pool.size(), 0) {
        for (const MatchLock& lock : problem.locks)
            locked_[lock.unit] = 1;
        usable_ = matching::usable_units(problem, true);
        if (reader_.filled().has_leak && reader_.filled().median_leak > 0)
            leak_scale_ = problem.leak_weight / (problem.parallel * reader_.filled().median_leak);
    }

    Groups run(const Groups& start) {
        std::vector<Groups> starts{start};
        if (problem_.demands.one_model_per_group && problem_.locks.empty())
            if (Groups chunks = by_model(); !chunks.empty())
                starts.push_back(std::move(chunks));
        // What a demand cuts into islands is not crossed by single exchanges: several starts.
        const int more = problem_.locks.empty() ? (problem_.series * problem_.parallel <= few_units ? 8 : 2) : 0;
        for (int i = 0; i < more; ++i)
            starts.push_back(i % 2 == 0 ? by_voltage_from(i) : at_random(i));
        std::erase_if(starts, [](const Groups& from) { return from.empty(); });
        Groups best;
        Standing stands;
        const double all_ah = bound_ah();
        for (const Groups& from : starts) {
            if (!best.empty() && stands.breaches == 0 && stands.low_ah >= all_ah - 1e-9)
                break; // no choice is better
            Groups found = improved(from, all_ah, usable_first);
            const Standing at = standing(found);
            if (best.empty() || at.better_than(stands, all_ah)) {
                best = std::move(found);
                stands = at;
            }
        }
        for (int polish = 0; polish < 3 && stands.low_ah < all_ah - 1e-9 && !stopped_; ++polish) {
            Groups found = improved(best, all_ah, polish == 0 ? usable_first : level_then);
            if (const Standing at = standing(found); at.better_than(stands, all_ah)) {
                best = std::move(found);
                stands = at;
            }
        }
        double reach_ah = stands.low_ah;
        if (Groups earlier = matching::earlier_answer(problem_); !earlier.empty()) {
            const Standing at = standing(earlier);
            if (at.better_than(stands, std::max(at.low_ah, reach_ah) * (1 - problem_.give_up))) {
                reach_ah = at.breaches < stands.breaches ? at.low_ah : std::max(at.low_ah, reach_ah);
                best = std::move(earlier);
                stands = at;
            }
        }
        best_usable_ah_ = stands.breaches == 0 ? reach_ah : 0;
        const double floor_ah = reach_ah * (1 - problem_.give_up);
        constexpr int most_rounds = 12;
        constexpr int quiet_rounds = 3; // in a row that brought nothing
        for (int round = 0, quiet = 0; round < most_rounds && quiet < quiet_rounds && !stopped_ && problem_.series > 1;
             ++round) {
            Groups found = improved(best, floor_ah, level_then);
            const Standing at = standing(found);
            ++quiet;
            if (at.better_than(stands, floor_ah)) {
                best = std::move(found);
                stands = at;
                quiet = 0;
            }
        }
        return best;
    }
    [[nodiscard]] double best_usable_ah() const { return best_usable_ah_; }
    [[nodiscard]] bool stopped() const { return stopped_; }

private:
    // How hot it begins, how cold it ends, and what a breach and the capacity under the floor cost meanwhile: at the
    // end a breach costs more than the whole capacity.
    struct Cooling {
        double first_heat, last_heat, first_price, last_price, floor_price;
    };
    static constexpr Cooling usable_first{0.1, 0.001, 0.05, 8, 3};
    static constexpr Cooling level_then{0.03, 0.0002, 0.02, 60, 30};
    struct GroupSum {
        double ah = 0, siemens = 0, leak = 0;
        int breaches = 0;
    };

    [[nodiscard]] double ah(std::size_t u) const { return problem_.pool[u].capacity_ah->value; }
    [[nodiscard]] GroupSum sum_of(const std::vector<std::size_t>& group) const {
        GroupSum out;
        for (const std::size_t u : group) {
            out.ah += ah(u);
            out.siemens += reader_.filled().conductance_s[u];
            out.leak += reader_.filled().leak_ah_per_day[u];
        }
        out.breaches = reader_.total(group);
        return out;
    }
    [[nodiscard]] double bound_ah() const {
        constexpr double in_mah = 1000;
        std::vector<int> mah;
        for (const std::size_t u : usable_)
            mah.push_back(static_cast<int>(std::lround(ah(u) * in_mah)));
        return static_cast<double>(usable_bound_mah(std::move(mah), problem_.series, problem_.parallel)) / in_mah;
    }
    [[nodiscard]] double levelness(const std::vector<GroupSum>& sums) const {
        GroupSum low = sums.front();
        GroupSum high = low;
        GroupSum total;
        for (const GroupSum& s : sums) {
            low = {std::min(low.ah, s.ah), std::min(low.siemens, s.siemens), std::min(low.leak, s.leak), 0};
            high = {std::max(high.ah, s.ah), std::max(high.siemens, s.siemens), std::max(high.leak, s.leak), 0};
            total.ah += s.ah;
            total.siemens += s.siemens;
        }
        const auto groups = static_cast<double>(sums.size());
        double out = (high.ah - low.ah) * groups / total.ah;
        if (reader_.filled().has_conductance && total.siemens > 0)
            out += (high.siemens - low.siemens) * groups / total.siemens;
        return out + leak_scale_ * (high.leak - low.leak);
    }
    [[nodiscard]] static double lowest(const std::vector<GroupSum>& sums) {
        return std::min_element(sums.begin(), sums.end(), [](const auto& a, const auto& b) { return a.ah < b.ah; })->ah;
    }
    [[nodiscard]] std::vector<int> used_of_origins(const Groups& groups) const {
        std::vector<int> used(reader_.origins(), 0);
        for (const auto& group : groups)
            for (const std::size_t u : group)
                if (reader_.origin(u) >= 0)
                    ++used[static_cast<std::size_t>(reader_.origin(u))];
        return used;
    }
    [[nodiscard]] int origin_breaches(const std::vector<int>& used) const {
        int out = 0;
        for (std::size_t o = 0; o < used.size(); ++o)
            out += reader_.broken(static_cast<int>(o), used[o]);
        return out;
    }
    [[nodiscard]] Standing standing(const Groups& groups) const {
        std::vector<GroupSum> sums;
        int breaches = origin_breaches(used_of_origins(groups));
        for (const auto& group : groups) {
            sums.push_back(sum_of(group));
            breaches += sums.back().breaches;
        }
        return {breaches, lowest(sums), levelness(sums)};
    }

    // Each model gives as many whole groups as make the weakest as strong as it can be; its own are dealt to and fro.
    [[nodiscard]] Groups by_model() const {
        std::map<int, std::vector<std::size_t>> models;
        for (const std::size_t u : usable_)
            models[reader_.model(u)].push_back(u);
        const auto parallel = static_cast<std::size_t>(problem_.parallel);
        std::vector<std::tuple<double, int, std::size_t>> steps; // the mean that a model's k-th group leaves its groups
        for (auto& [model, units] : models) {
            std::stable_sort(units.begin(), units.end(), [&](std::size_t a, std::size_t b) { return ah(a) > ah(b); });
            double sum = 0;
            for (std::size_t i = 0; i < units.size(); ++i) {
                sum += ah(units[i]);
                const std::size_t groups = (i + 1) / parallel;
                if ((i + 1) % parallel == 0)
                    steps.emplace_back(sum / static_cast<double>(groups), model, groups);
            }
        }
        std::sort(steps.begin(), steps.end(), std::greater<>());
        std::map<int, std::size_t> take;
        std::size_t taken = 0;
        for (const auto& [mean, model, groups] : steps) {
            if (taken == static_cast<std::size_t>(problem_.series))
                break;
            if (groups != take[model] + 1)
                continue;
            take[model] = groups;
            ++taken;
        }
        if (taken < static_cast<std::size_t>(problem_.series))
            return {};
        Groups out;
        for (const auto& [model, groups] : take) {
            const std::size_t first = out.size();
            out.resize(first + groups);
            for (std::size_t i = 0; i < groups * parallel; ++i) {
                const std::size_t row = i / groups;
                const std::size_t at = row % 2 == 0 ? i % groups : groups - 1 - i % groups;
                out[first + at].push_back(models.at(model)[i]);
            }
        }
        return out;
    }

    [[nodiscard]] Groups filled_in_order(const std::vector<std::size_t>& order) const {
        Groups out(static_cast<std::size_t>(problem_.series));
        const auto parallel = static_cast<std::size_t>(problem_.parallel);
        for (std::size_t i = 0; i < out.size() * parallel; ++i)
            out[i / parallel].push_back(order[i]);
        return out;
    }
    // Neighbours in voltage, from somewhere in the pool on: groups that may be joined as they are.
    [[nodiscard]] Groups by_voltage_from(int which) const {
        if (!problem_.demands.join_window_v)
            return at_random(which);
        std::vector<std::size_t> order = usable_;
        std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
            return problem_.pool[a].voltage_v.value_or(0) < problem_.pool[b].voltage_v.value_or(0);
        });
        const std::size_t spare =
            order.size() - static_cast<std::size_t>(problem_.series) * static_cast<std::size_t>(problem_.parallel);
        constexpr std::size_t parts = 4;
        order.erase(order.begin(),
                    order.begin() + static_cast<std::ptrdiff_t>(spare * static_cast<std::size_t>(which) / 2 / parts));
        return filled_in_order(order);
    }
    [[nodiscard]] Groups at_random(int which) const {
        std::vector<std::size_t> order = usable_;
        Random random(problem_.seed + 7919 * static_cast<std::uint64_t>(which + 1));
        for (std::size_t i = order.size(); i > 1; --i)
            std::swap(order[i - 1], order[static_cast<std::size_t>(random.below(static_cast<int>(i)))]);
        return filled_in_order(order);
    }

    // Exchanges, ever more careful: breaches weigh more and more, what loosens the pack is accepted less and less.
    [[nodiscard]] Groups improved(const Groups& start, double floor_ah, const Cooling& cooling) {
        Groups groups = start;
        std::vector<char> in_use(problem_.pool.size(), 0);
        std::vector<GroupSum> sums;
        for (const auto& group : groups) {
            sums.push_back(sum_of(group));
            for (const std::size_t u : group)
                in_use[u] = 1;
        }
        std::vector<std::size_t> stock;
        for (const std::size_t u : usable_)
            if (in_use[u] == 0)
                stock.push_back(u);
        std::vector<int> used = used_of_origins(groups);
        Groups best = groups;
        Standing best_stands = standing(groups);
        Random random(problem_.seed + ++calls_);
        const long moves = move_count();
        int origins_broken = origin_breaches(used);
        Standing now{breaches(sums) + origins_broken, lowest(sums), levelness(sums)};
        for (long move = 0; move < moves; ++move) {
            constexpr long look = 512;
            if (move % look == 0 && !wanted(static_cast<double>(move) / static_cast<double>(moves)))
                break;
            const double t = static_cast<double>(move) / static_cast<double>(moves);
            const double heat = cooling.first_heat * std::pow(cooling.last_heat / cooling.first_heat, t);
            const double price = cooling.first_price * std::pow(cooling.last_price / cooling.first_price, t);
            const auto a = static_cast<std::size_t>(random.below(problem_.series));
            const auto i = static_cast<std::size_t>(random.below(problem_.parallel));
            const std::size_t out = groups[a][i];
            const bool from_stock = !stock.empty() && (problem_.series == 1 || random.below(2) == 0);
            if (locked_[out] != 0 || (!from_stock && problem_.series == 1))
                continue;
            const auto s = from_stock ? static_cast<std::size_t>(random.below(static_cast<int>(stock.size()))) : 0;
            const auto b = from_stock ? a : static_cast<std::size_t>(random.below(problem_.series));
            const auto j = static_cast<std::size_t>(random.below(problem_.parallel));
            const std::size_t in = from_stock ? stock[s] : groups[b][j];
            if ((!from_stock && a == b) || locked_[in] != 0)
                continue;
            const double before = cost(now, price, cooling.floor_price, floor_ah);
            const GroupSum sum_a = sums[a];
            const GroupSum sum_b = sums[b];
            groups[a][i] = in;
            if (!from_stock)
                groups[b][j] = out;
            sums[a] = sum_of(groups[a]);
            if (!from_stock)
                sums[b] = sum_of(groups[b]);
            const int origins_before = origins_broken;
            if (from_stock)
                origins_broken += exchanged(used, out, in);
            const Standing then{breaches(sums) + origins_broken, lowest(sums), levelness(sums)};
            const double after = cost(then, price, cooling.floor_price, floor_ah);
            if (after <= before || random.unit() < std::exp((before - after) / heat)) {
                if (from_stock)
                    stock[s] = out;
                now = then;
                if (now.better_than(best_stands, floor_ah)) {
                    best = groups;
                    best_stands = now;
                }
                continue;
            }
            groups[a][i] = out;
            if (!from_stock)
                groups[b][j] = in;
            else
                exchanged(used, in, out);
            origins_broken = origins_before;
            sums[b] = sum_b;
            sums[a] = sum_a;
        }
        return best;
    }

    // The change of breaches by one unit leaving the pack and another coming in.
    int exchanged(std::vector<int>& used, std::size_t out, std::size_t in) const {
        int change = 0;
        for (const auto& [unit, by] : {std::pair{out, -1}, std::pair{in, 1}})
            if (const int origin = reader_.origin(unit); origin >= 0) {
                int& count = used[static_cast<std::size_t>(origin)];
                change -= reader_.broken(origin, count);
                count += by;
                change += reader_.broken(origin, count);
            }
        return change;
    }
    [[nodiscard]] static int breaches(const std::vector<GroupSum>& sums) {
        return std::accumulate(sums.begin(), sums.end(), 0,
                               [](int sum, const GroupSum& group) { return sum + group.breaches; });
    }
    [[nodiscard]] static double cost(const Standing& at, double price, double floor_price, double floor_ah) {
        return price * at.breaches + floor_price * std::max(0.0, floor_ah - at.low_ah) / std::max(1e-9, floor_ah) +
               at.levelness;
    }
    [[nodiscard]] long move_count() const {
        constexpr double most = 250'000;
        constexpr double moves_a_unit = 4'000;
        const double usual = std::min(most, moves_a_unit * problem_.series * problem_.parallel);
        constexpr double unit_looks = 40e6; // two groups are summed up anew with each move
        const double affordable = unit_looks / (2.0 * problem_.parallel + problem_.series);
        return static_cast<long>(std::max(2'000.0, std::min(usual, affordable) * std::min(1.0, problem_.effort)));
    }
    bool wanted(double share) {
        constexpr double met_from = 0.9; // the search before has reported up to here
        if (!stopped_ && observer_ && !observer_({met_from + 0.1 * share, nullptr}))
            stopped_ = true;
        return !stopped_;
    }

    const MatchProblem& problem_;
    const MatchObserver& observer_;
    DemandReader reader_;
    std::vector<char> locked_;
    std::vector<std::size_t> usable_;
    double leak_scale_ = 0;
    double best_usable_ah_ = 0;
    std::uint64_t calls_ = 0;
    bool stopped_ = false;
};

} // namespace

MatchResult meet_demands(const MatchProblem& problem, const MatchResult& start, const MatchObserver& observer) {
    DemandSearch search(problem, observer);
    const Groups groups = search.run(groups_in(start));
    MatchResult out = figures_of(problem, groups);
    out.best_usable_ah = std::max(out.usable_ah, search.best_usable_ah());
    out.notes = start.notes;
    note_breaches(problem, out);
    if (search.stopped())
        out.notes.emplace_back(MatchNote::stopped, 1);
    return out;
}

} // namespace ingot::matching
