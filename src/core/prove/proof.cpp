#include "core/prove/proof.h"

#include "core/measure/statistics.h"
#include "core/prove/proven_units.h"
#include "core/prove/sag_course.h"

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
        for (const ProofRound round : {ProofRound::end_of_charge, ProofRound::after_rest, ProofRound::at_rest})
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
            verdict.findings.empty()) // what did not pass is not hidden by it
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
            const double middle = carrying_v(known, pack_.cells_per_unit);
            for (std::size_t p = 0; p < reading.unit_v[g].size(); ++p)
                if (const auto& v = reading.unit_v[g][p]; v && std::fabs(*v - middle) > limit + meter_hair)
                    verdict.findings.push_back({ProofRound::units, static_cast<int>(g) + 1, ProofSign::not_joined,
                                                *v - middle, limit, std::nullopt, static_cast<int>(p) + 1});
        }
        verdict.asked = pack_.series * pack_.parallel;
        if (verdict.findings.empty() && verdict.read >= verdict.asked && reading.load_a)
            verdict.state = ProofState::passed;
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
        GroupVolts excess(reading.group_v.size());
        verdict.sag_v.assign(reading.group_v.size(), std::nullopt);
        verdict.simulated_v.assign(reading.group_v.size(), std::nullopt);
        GroupVolts by_units(reading.group_v.size()); // the instant's, as the units were measured
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
            const double more = *excess[g] - shared[g];
            verdict.shown_v[g] = more;
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
        const auto capacity = group_capacity_ah(pack_.units[g]);
        double first = reading.group_day[g];
        for (const double day : reading.group_day)
            if (day > 0)
                first = std::min(first, day);
        const double elapsed = (reading.group_day[g] - first) * s_per_day;
        if (!capacity || elapsed > longest_s)
            return 0;
        const double soc = pack_.ocv.soc_at(per_cell(*rest.group_v[g]));
        return pack_.cells_per_unit *
               (pack_.ocv.ocv_at(soc) - pack_.ocv.ocv_at(std::max(0.0, soc - load * elapsed / s_per_h / *capacity)));
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
