#include "core/prove/proof.h"

#include "core/measure/statistics.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

constexpr double meter_hair = 1e-9;

class Judge {
public:
    Judge(const ProvenPack& pack, const ProofLimits& limits) : pack_(pack), limits_(limits) {}

    [[nodiscard]] Proof judge() const {
        Proof proof;
        proof.rounds.resize(proof_round_count);
        proof.passed = true;
        for (int r = 0; r < proof_round_count; ++r) {
            RoundVerdict& verdict = proof.rounds[static_cast<std::size_t>(r)];
            judge_round(static_cast<ProofRound>(r), verdict);
            proof.passed = proof.passed && !holds_up(verdict.state);
        }
        return proof;
    }

private:
    [[nodiscard]] const ProofReading& at(ProofRound round) const {
        static const ProofReading nothing;
        const auto r = static_cast<std::size_t>(round);
        return r < pack_.rounds.size() ? pack_.rounds[r] : nothing;
    }
    [[nodiscard]] double per_cell(double volts) const { return volts / pack_.cells_per_unit; }
    // What a rest or a load is held against has to be whole too.
    [[nodiscard]] bool judged_in_full(ProofRound round) const {
        if (round == ProofRound::after_rest)
            return at(ProofRound::end_of_charge).whole();
        if (round == ProofRound::under_load)
            return before_load() != nullptr && at(ProofRound::under_load).load_a.has_value();
        return true;
    }
    [[nodiscard]] const ProofReading* before_load() const {
        const ProofReading* best = nullptr;
        for (const ProofRound round : {ProofRound::at_rest, ProofRound::end_of_charge, ProofRound::after_rest})
            if (const ProofReading& r = at(round);
                r.whole() && r.day <= at(ProofRound::under_load).day && (best == nullptr || r.day >= best->day))
                best = &r;
        return best;
    }

    void judge_round(ProofRound round, RoundVerdict& verdict) const {
        if (reads_groups(round))
            judge_groups(round, verdict);
        else if (round == ProofRound::units)
            judge_units(verdict);
        else
            judge_items(round, verdict);
        if (!verdict.findings.empty() && verdict.state != ProofState::too_early)
            verdict.state = ProofState::failed;
        const auto r = static_cast<std::size_t>(round);
        if (may_be_left_out(round) && r < pack_.left_out.size() && !pack_.left_out[r].empty() &&
            verdict.state != ProofState::failed)
            verdict.state = ProofState::left_out;
    }

    void judge_groups(ProofRound round, RoundVerdict& verdict) const {
        const ProofReading& reading = at(round);
        verdict.asked = pack_.series + 1;
        for (const auto& v : reading.group_v)
            verdict.read += v ? 1 : 0;
        verdict.read += reading.terminals_v ? 1 : 0;
        if (reading.begun())
            look_at(round, reading, verdict);
        if (verdict.findings.empty() && verdict.state == ProofState::open && reading.whole() && judged_in_full(round))
            verdict.state = ProofState::passed;
    }

    // Under load a unit stands off its group by what its joint drops; one that is not joined, by the sag, or by what it
    // missed of the charge.
    void judge_units(RoundVerdict& verdict) const {
        if (pack_.parallel < 2) {
            verdict.state = ProofState::not_asked;
            return;
        }
        const ProofReading& reading = at(ProofRound::units);
        const double limit = limits_.unit_v + reading.resolution.value_or(0);
        for (std::size_t g = 0; g < reading.unit_v.size(); ++g) {
            std::vector<double> known;
            for (const auto& v : reading.unit_v[g])
                if (v)
                    known.push_back(*v);
            verdict.read += static_cast<int>(known.size());
            if (known.size() < 2)
                continue;
            // Of two the lower carries: a joint's drop adds to the can. One that missed the charge is far lower.
            const double middle = known.size() == 2 ? lower_that_carries(known) : median(known);
            for (std::size_t p = 0; p < reading.unit_v[g].size(); ++p)
                if (const auto& v = reading.unit_v[g][p]; v && std::fabs(*v - middle) > limit + meter_hair)
                    verdict.findings.push_back({ProofRound::units, static_cast<int>(g) + 1, ProofSign::not_joined,
                                                *v - middle, limit, std::nullopt, static_cast<int>(p) + 1});
        }
        verdict.asked = pack_.series * pack_.parallel;
        if (verdict.findings.empty() && verdict.read >= verdict.asked && reading.load_a)
            verdict.state = ProofState::passed;
    }
    [[nodiscard]] double lower_that_carries(const std::vector<double>& known) const {
        const double low = std::min(known[0], known[1]);
        const double high = std::max(known[0], known[1]);
        constexpr double a_joint_v = 0.25; // a cell: what no sag explains
        return high - low > a_joint_v * pack_.cells_per_unit ? high : low;
    }

    void judge_items(ProofRound round, RoundVerdict& verdict) const {
        bool whole = true;
        for (int i = 0; i < proof_item_count; ++i) {
            const auto item = static_cast<ProofItem>(i);
            if (round_of(item) != round || item == ProofItem::hours_to_wake)
                continue;
            const bool there_is_none = pack_.not_there[static_cast<std::size_t>(i)];
            const bool known = pack_.item(item).has_value() || there_is_none;
            ++verdict.asked;
            verdict.read += known ? 1 : 0;
            whole = whole && known;
            if (pack_.item(item) && !there_is_none)
                look_at_item(item, *pack_.item(item), verdict);
        }
        if (verdict.findings.empty() && verdict.state == ProofState::open) {
            if (round == ProofRound::run) // one of the two is enough; none, where voltage tells of charge
                verdict.state = verdict.read > 0             ? ProofState::passed
                                : pack_.voltage_tells_charge ? ProofState::not_asked
                                                             : ProofState::open;
            else if (whole)
                verdict.state = ProofState::passed;
        }
    }

    void look_at_item(ProofItem item, double value, RoundVerdict& verdict) const {
        const auto finding = [&](ProofSign sign, double limit) {
            verdict.findings.push_back({round_of(item), 0, sign, value, limit, std::nullopt});
        };
        switch (item) {
        case ProofItem::insulation_plus:
        case ProofItem::insulation_minus: {
            const double limit = std::max(limits_.insulation_ohm, limits_.insulation_ohm_per_v * full_v());
            if (value < limit)
                finding(ProofSign::insulation, limit);
            break;
        }
        case ProofItem::output:
            if (const auto volts = nearest_terminals(value);
                volts && std::fabs(value - *volts) > limits_.output_share * std::fabs(*volts) + meter_hair)
                finding(ProofSign::no_output, *volts);
            break;
        case ProofItem::wakes:
            if (value < 1)
                finding(ProofSign::asleep, 0);
            break;
        case ProofItem::sensor:
            if (value < limits_.sensor_least_ohm || value > limits_.sensor_most_ohm)
                finding(ProofSign::sensor,
                        value < limits_.sensor_least_ohm ? limits_.sensor_least_ohm : limits_.sensor_most_ohm);
            break;
        case ProofItem::capacity:
            if (pack_.promised_ah && value < limits_.capacity_share * *pack_.promised_ah)
                finding(ProofSign::short_of_capacity, limits_.capacity_share * *pack_.promised_ah);
            break;
        case ProofItem::run_time:
            if (pack_.promised_run_s && value < limits_.run_share * *pack_.promised_run_s)
                finding(ProofSign::short_run, limits_.run_share * *pack_.promised_run_s);
            break;
        case ProofItem::works:
            if (value < 1) {
                finding(ProofSign::refused, limits_.wake_hours);
                // Some devices sleep for hours before they believe a pack.
                if (pack_.item(ProofItem::hours_to_wake).value_or(0) < limits_.wake_hours)
                    verdict.state = ProofState::too_early;
            }
            break;
        case ProofItem::codes_clear:
            if (value < 1)
                finding(ProofSign::codes, 0);
            break;
        case ProofItem::hours_to_wake:
            break;
        }
    }
    // As high as the pack may stand.
    [[nodiscard]] double full_v() const {
        double highest = 0;
        for (const ProofReading& reading : pack_.rounds)
            highest = std::max(highest, reading.terminals_v.value_or(0));
        return std::max(highest, pack_.charge_limit_v.value_or(0) * pack_.series * pack_.cells_per_unit);
    }
    // It was read beside one of these, charged or not.
    [[nodiscard]] std::optional<double> nearest_terminals(double output) const {
        std::optional<double> best;
        for (const ProofRound round : {ProofRound::at_rest, ProofRound::end_of_charge, ProofRound::after_rest})
            if (const auto& v = at(round).terminals_v;
                v && (!best || std::fabs(*v - output) < std::fabs(*best - output)))
                best = v;
        return best;
    }

    void look_at(ProofRound round, const ProofReading& reading, RoundVerdict& verdict) const {
        look_at_polarity(round, reading, verdict);
        if (round == ProofRound::under_load)
            look_at_load(reading, verdict);
        else
            look_at_spread(round, reading, verdict);
        if (round == ProofRound::end_of_charge)
            look_at_limit(reading, verdict);
        if (round == ProofRound::after_rest)
            look_at_falls(reading, verdict);
        look_at_terminals(round, reading, verdict);
    }

    static void look_at_polarity(ProofRound round, const ProofReading& reading, RoundVerdict& verdict) {
        for (std::size_t g = 0; g < reading.group_v.size(); ++g)
            if (reading.group_v[g] && *reading.group_v[g] < 0)
                verdict.findings.push_back(
                    {round, static_cast<int>(g) + 1, ProofSign::reversed, *reading.group_v[g], 0, std::nullopt});
    }

    void look_at_spread(ProofRound round, const ProofReading& reading, RoundVerdict& verdict) const {
        std::vector<double> known;
        for (const auto& v : reading.group_v)
            if (v)
                known.push_back(*v);
        if (known.empty())
            return;
        const double middle = median(known);
        for (const auto& v : reading.group_v)
            verdict.shown_v.push_back(v ? std::optional(*v - middle) : std::nullopt);
        const auto [low, high] = std::minmax_element(known.begin(), known.end());
        verdict.spread_v = per_cell(*high - *low);
        const double spread = *verdict.spread_v - meter_hair;
        verdict.grade = spread <= limits_.excellent_v    ? SpreadGrade::excellent
                        : spread <= limits_.acceptable_v ? SpreadGrade::good
                        : spread <= limits_.most_v       ? SpreadGrade::acceptable
                                                         : SpreadGrade::too_much;
        if (*verdict.grade != SpreadGrade::too_much)
            return;
        // The one furthest from the middle is the one to look at.
        std::size_t worst = 0;
        double furthest = -1;
        for (std::size_t g = 0; g < reading.group_v.size(); ++g)
            if (reading.group_v[g] && std::fabs(*reading.group_v[g] - middle) > furthest) {
                furthest = std::fabs(*reading.group_v[g] - middle);
                worst = g;
            }
        if (*reading.group_v[worst] >= 0) // a reversed one is said already
            verdict.findings.push_back({round, static_cast<int>(worst) + 1, ProofSign::uneven, *verdict.spread_v,
                                        limits_.most_v, std::nullopt});
    }

    void look_at_limit(const ProofReading& reading, RoundVerdict& verdict) const {
        if (!pack_.charge_limit_v)
            return;
        const double limit = *pack_.charge_limit_v + limits_.over_limit_v;
        for (std::size_t g = 0; g < reading.group_v.size(); ++g)
            if (reading.group_v[g] && per_cell(*reading.group_v[g]) > limit + meter_hair)
                verdict.findings.push_back({ProofRound::end_of_charge, static_cast<int>(g) + 1, ProofSign::over_charged,
                                            per_cell(*reading.group_v[g]), limit, std::nullopt});
    }

    void look_at_falls(const ProofReading& reading, RoundVerdict& verdict) const {
        const ProofReading& full = at(ProofRound::end_of_charge);
        if (!full.whole())
            return;
        if (reading.day - full.day < limits_.least_rest_days - meter_hair) {
            verdict.state = ProofState::too_early;
            return;
        }
        std::vector<double> falls;
        for (std::size_t g = 0; g < reading.group_v.size(); ++g)
            if (reading.group_v[g])
                falls.push_back(*full.group_v[g] - *reading.group_v[g]);
        const double middle = falls.empty() ? 0 : median(falls);
        for (std::size_t g = 0; g < reading.group_v.size(); ++g)
            if (reading.group_v[g]) {
                const double more = per_cell(*full.group_v[g] - *reading.group_v[g] - middle);
                if (more > limits_.fall_v + meter_hair)
                    verdict.findings.push_back({ProofRound::after_rest, static_cast<int>(g) + 1, ProofSign::falling,
                                                more, limits_.fall_v, std::nullopt});
            }
    }

    void look_at_load(const ProofReading& reading, RoundVerdict& verdict) const {
        const ProofReading* rest = before_load();
        verdict.shown_v.assign(reading.group_v.size(), std::nullopt);
        if (rest == nullptr || !reading.load_a || !(*reading.load_a > 0))
            return;
        const double load = *reading.load_a;
        verdict.predicted = static_cast<int>(pack_.group_resistance_ohm.size()) == pack_.series &&
                            std::all_of(pack_.group_resistance_ohm.begin(), pack_.group_resistance_ohm.end(),
                                        [](const auto& r) { return r.has_value(); });
        std::vector<std::optional<double>> excess(reading.group_v.size());
        verdict.sag_v.assign(reading.group_v.size(), std::nullopt);
        verdict.simulated_v.assign(reading.group_v.size(), std::nullopt);
        std::vector<std::optional<double>> by_units(
            reading.group_v.size()); // the instant's, as the units were measured
        for (std::size_t g = 0; g < reading.group_v.size(); ++g)
            if (reading.group_v[g]) {
                verdict.sag_v[g] = *rest->group_v[g] - *reading.group_v[g];
                if (verdict.predicted)
                    by_units[g] = load * *pack_.group_resistance_ohm[g];
            }
        const std::vector<std::size_t> order = reading_order(verdict.sag_v, reading);
        const double later = verdict.predicted ? later_sag(verdict.sag_v, by_units, order) : 1;
        bool any = false;
        for (std::size_t g = 0; g < reading.group_v.size(); ++g)
            if (verdict.sag_v[g]) {
                any = true;
                if (by_units[g])
                    verdict.simulated_v[g] = later * *by_units[g] + used_v(g, *rest, reading, load);
                excess[g] = *verdict.sag_v[g] - verdict.simulated_v[g].value_or(0);
            }
        if (!any)
            return;
        verdict.course_error_v.assign(excess.size(), 0);
        const std::vector<double> shared = shared_course(excess, reading, order, verdict.course_error_v);
        for (std::size_t g = 0; g < excess.size(); ++g) {
            if (!excess[g])
                continue;
            verdict.shown_v[g] = *excess[g] - shared[g];
            const double more = *excess[g] - shared[g];
            const double limit =
                std::max(limits_.sag_v * pack_.cells_per_unit, limits_.sag_share * verdict.simulated_v[g].value_or(0)) +
                reading.resolution.value_or(0) + verdict.course_error_v[g];
            // Less by as much: its units have less resistance than is on record, so they are not those.
            if (verdict.predicted && more < -limit - meter_hair)
                verdict.findings.push_back(
                    {ProofRound::under_load, static_cast<int>(g) + 1, ProofSign::other_unit, more, limit, more / load});
            if (more <= limit + meter_hair)
                continue;
            ProofFinding finding{
                ProofRound::under_load, static_cast<int>(g) + 1, ProofSign::resistive, more, limit, more / load};
            // As if one of P did not carry: R P/(P-1) instead of R.
            if (verdict.predicted && pack_.parallel > 1) {
                const double without = load * *pack_.group_resistance_ohm[g] / (pack_.parallel - 1);
                constexpr double near = 0.5;
                if (std::fabs(more - without) <= near * without)
                    finding.sign = ProofSign::missing_unit;
            }
            verdict.findings.push_back(finding);
        }
    }

    // Groups in the order in which they were read, as far as that is known; else by number.
    [[nodiscard]] static std::vector<std::size_t> reading_order(const std::vector<std::optional<double>>& read,
                                                                const ProofReading& reading) {
        std::vector<std::size_t> order;
        for (std::size_t g = 0; g < read.size(); ++g)
            if (read[g])
                order.push_back(g);
        if (reading.group_day.size() == read.size())
            std::stable_sort(order.begin(), order.end(),
                             [&](std::size_t a, std::size_t b) { return reading.group_day[a] < reading.group_day[b]; });
        return order;
    }

    // The sag goes on with time, so that a resistance of an instant or of 1 kHz says only part of it: the same part of
    // every group of one make. From pairs that were read next to each other, so that what all share stays out of it.
    [[nodiscard]] static double later_sag(const std::vector<std::optional<double>>& sag,
                                          const std::vector<std::optional<double>>& by_units,
                                          const std::vector<std::size_t>& order) {
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

    // What all groups share: the middle of them; and where the figures were read one after the other while the load
    // went on, the course of it: by the middle of those that were read next to each other, of few groups by a line.
    [[nodiscard]] static std::vector<double> shared_course(const std::vector<std::optional<double>>& excess,
                                                           const ProofReading& reading,
                                                           const std::vector<std::size_t>& order,
                                                           std::vector<double>& error) {
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
    // The median of all pairs' slopes, then of what is left.
    static void line_through(const std::vector<std::optional<double>>& excess, const ProofReading& reading,
                             const std::vector<std::size_t>& order, std::vector<double>& out) {
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
    static void middle_of_neighbours(const std::vector<std::optional<double>>& excess,
                                     const std::vector<std::size_t>& order, std::vector<double>& out,
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

    // How far a group's own charge has sunk since the load's first figure was read. Nothing where its capacity is not
    // known, where voltage tells no charge, or where the figures lie so far apart that the load was off between them.
    [[nodiscard]] double used_v(std::size_t g, const ProofReading& rest, const ProofReading& reading,
                                double load) const {
        constexpr double longest_s = 900;
        constexpr double s_per_day = 86400;
        constexpr double s_per_h = 3600;
        if (pack_.ocv.empty() || !pack_.voltage_tells_charge || g >= pack_.units.size() ||
            g >= reading.group_day.size() || reading.group_day[g] <= 0)
            return 0;
        double capacity = 0;
        for (const ProvenUnit& unit : pack_.units[g]) {
            if (!unit.capacity_ah)
                return 0;
            capacity += *unit.capacity_ah;
        }
        double first = reading.group_day[g];
        for (const double day : reading.group_day)
            if (day > 0)
                first = std::min(first, day);
        const double elapsed = (reading.group_day[g] - first) * s_per_day;
        if (!(capacity > 0) || elapsed > longest_s)
            return 0;
        const double soc = pack_.ocv.soc_at(per_cell(*rest.group_v[g]));
        return pack_.cells_per_unit *
               (pack_.ocv.ocv_at(soc) - pack_.ocv.ocv_at(std::max(0.0, soc - load * elapsed / s_per_h / capacity)));
    }

    void look_at_terminals(ProofRound round, const ProofReading& reading, RoundVerdict& verdict) const {
        double sum = 0;
        for (const auto& v : reading.group_v) {
            if (!v)
                return;
            sum += *v;
        }
        if (!reading.terminals_v || round == ProofRound::under_load) // leads and fuse sag there
            return;
        const double limit = limits_.sum_share * std::fabs(sum) +
                             reading.resolution.value_or(0) / 2 * static_cast<double>(reading.group_v.size()) +
                             reading.terminals_resolution.value_or(0) / 2;
        if (std::fabs(*reading.terminals_v - sum) > limit + meter_hair)
            verdict.findings.push_back(
                {round, 0, ProofSign::terminals, *reading.terminals_v - sum, limit, std::nullopt});
    }

    const ProvenPack& pack_;
    const ProofLimits& limits_;
};

} // namespace

bool ProofReading::begun() const {
    return terminals_v.has_value() ||
           std::any_of(group_v.begin(), group_v.end(), [](const auto& v) { return v.has_value(); }) ||
           std::any_of(unit_v.begin(), unit_v.end(), [](const auto& group) {
               return std::any_of(group.begin(), group.end(), [](const auto& v) { return v.has_value(); });
           });
}

bool ProofReading::whole() const {
    return !group_v.empty() && terminals_v.has_value() &&
           std::all_of(group_v.begin(), group_v.end(), [](const auto& v) { return v.has_value(); });
}

Proof judge_proof(const ProvenPack& pack, const ProofLimits& limits) {
    return Judge(pack, limits).judge();
}

} // namespace ingot
