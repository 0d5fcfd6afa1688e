#include "core/prove/proof.h"

#include "core/measure/statistics.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ingot {

namespace {

constexpr std::array<const char*, proof_round_count> round_codes{"at-rest", "end-of-charge", "after-rest",
                                                                 "under-load"};
constexpr double meter_hair = 1e-9;

class Judge {
public:
    Judge(const ProvenPack& pack, const ProofLimits& limits) : pack_(pack), limits_(limits) {}

    [[nodiscard]] Proof judge() const {
        Proof proof;
        proof.rounds.resize(proof_round_count);
        proof.passed = true;
        for (int r = 0; r < proof_round_count; ++r) {
            const auto round = static_cast<ProofRound>(r);
            RoundVerdict& verdict = proof.rounds[static_cast<std::size_t>(r)];
            const ProofReading& reading = at(round);
            if (reading.begun())
                look_at(round, reading, verdict);
            if (!verdict.findings.empty())
                verdict.state = ProofState::failed;
            else if (verdict.state == ProofState::open && reading.whole() && judged_in_full(round))
                verdict.state = ProofState::passed;
            proof.passed = proof.passed && verdict.state == ProofState::passed;
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
        std::vector<double> known;
        for (std::size_t g = 0; g < reading.group_v.size(); ++g)
            if (reading.group_v[g]) {
                excess[g] = *rest->group_v[g] - *reading.group_v[g] -
                            (verdict.predicted ? load * *pack_.group_resistance_ohm[g] : 0);
                known.push_back(*excess[g]);
            }
        if (known.empty())
            return;
        // What all share is not theirs: the sag goes on with time and charge, so that the instant's resistance never
        // says all of it. A group is held against the middle of them, where there are enough to have one.
        constexpr std::size_t enough = 3;
        const double shared = known.size() >= enough ? std::max(0.0, median(known)) : 0;
        const double limit = limits_.sag_v * pack_.cells_per_unit + reading.resolution.value_or(0);
        for (std::size_t g = 0; g < excess.size(); ++g) {
            if (!excess[g])
                continue;
            verdict.shown_v[g] = *excess[g] - shared;
            const double more = *excess[g] - shared;
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

const char* code(ProofRound round) {
    return round_codes.at(static_cast<std::size_t>(round));
}

std::optional<ProofRound> proof_round_from(const std::string& code) {
    for (std::size_t i = 0; i < round_codes.size(); ++i)
        if (round_codes[i] == code)
            return static_cast<ProofRound>(i);
    return std::nullopt;
}

const char* code(ProofSign sign) {
    switch (sign) {
    case ProofSign::none:
        return "none";
    case ProofSign::reversed:
        return "reversed";
    case ProofSign::uneven:
        return "uneven";
    case ProofSign::over_charged:
        return "over-charged";
    case ProofSign::falling:
        return "falling";
    case ProofSign::missing_unit:
        return "missing-unit";
    case ProofSign::resistive:
        return "resistive";
    case ProofSign::terminals:
        return "terminals";
    }
    return "";
}

bool ProofReading::begun() const {
    return terminals_v.has_value() ||
           std::any_of(group_v.begin(), group_v.end(), [](const auto& v) { return v.has_value(); });
}

bool ProofReading::whole() const {
    return !group_v.empty() && terminals_v.has_value() &&
           std::all_of(group_v.begin(), group_v.end(), [](const auto& v) { return v.has_value(); });
}

Proof judge_proof(const ProvenPack& pack, const ProofLimits& limits) {
    return Judge(pack, limits).judge();
}

} // namespace ingot
