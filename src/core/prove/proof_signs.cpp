#include "core/prove/proof_signs.h"

#include "core/measure/statistics.h"
#include "core/prove/proven_units.h"

#include <algorithm>
#include <cmath>

namespace ingot {

namespace {

// Common practice, no source.
constexpr double usual_resolution_v = 0.001;  // where the meter's last digit is not known
constexpr double measured_ohm_error = 0.06;   // of a group's resistance: instruments, warmth, joints of sound welds
constexpr double unmeasured_ohm_error = 0.25; // held against siblings only
constexpr double measured_ah_error = 0.015;   // of a group's capacity
constexpr double unmeasured_ah_error = 0.06;
constexpr double top_v = 0.004;        // a cell: at the end of a charge, board and polarisation
constexpr double falling_v = 0.0015;   // a cell, in days of rest
constexpr double sagging_v = 0.002;    // a cell, under load
constexpr double apart_v = 0.010;      // a cell: how far apart groups are joined
constexpr double flat_top_v = 0.015;   // a cell, where voltage tells no charge
constexpr double unit_hair_v = 0.0025; // under load: sound joints, and the sag between two cans

class SignReader {
public:
    SignReader(const ProvenPack& pack, const Proof& proof) : pack_(pack), proof_(proof) {}

    ProofSigns read() {
        const auto series = static_cast<std::size_t>(pack_.series);
        out_.groups.assign(series, {});
        for (std::size_t g = 0; g < series; ++g) {
            out_.capacity_ah.push_back(g < pack_.units.size() ? group_capacity_ah(pack_.units[g]) : std::nullopt);
            out_.ohm.push_back(g < pack_.group_resistance_ohm.size() ? pack_.group_resistance_ohm[g] : std::nullopt);
        }
        bool any = look_at_rest();
        any = look_at_top() || any;
        any = look_at_fall() || any;
        any = look_at_sag() || any;
        for (GroupSigns::One GroupSigns::*sign : {&GroupSigns::top, &GroupSigns::fall, &GroupSigns::sag})
            learn_spread(sign);
        out_.any = look_at_units() || any;
        return std::move(out_);
    }

private:
    using Values = std::vector<std::optional<double>>;

    [[nodiscard]] const ProofReading* round_of_groups(ProofRound round) const {
        const auto r = static_cast<std::size_t>(round);
        return r < pack_.rounds.size() && static_cast<int>(pack_.rounds[r].group_v.size()) == pack_.series
                   ? &pack_.rounds[r]
                   : nullptr;
    }
    [[nodiscard]] static Values from_middle(const Values& values) {
        std::vector<double> known;
        for (const auto& v : values)
            if (v)
                known.push_back(*v);
        Values out(values.size());
        if (known.size() < 2)
            return out;
        const double middle = median(known);
        for (std::size_t g = 0; g < values.size(); ++g)
            if (values[g])
                out[g] = *values[g] - middle;
        return out;
    }
    [[nodiscard]] double cells() const { return pack_.cells_per_unit; }
    [[nodiscard]] static double digit(const ProofReading& reading) {
        return reading.resolution.value_or(usual_resolution_v) / std::sqrt(12.0) * std::sqrt(2.0);
    }

    // How far this pack's own groups lie apart, beside what is usual: most of them are sound.
    void learn_spread(GroupSigns::One GroupSigns::*sign) {
        constexpr double usual_counts = 2; // as so many groups
        constexpr double normal = 1.4826;
        constexpr double least = 0.35;
        constexpr double most = 3;
        std::vector<double> off;
        for (const GroupSigns& signs : out_.groups)
            if (const GroupSigns::One& one = signs.*sign; one.off)
                off.push_back(std::fabs(*one.off / one.sigma));
        if (off.size() < 3)
            return;
        const double spread = normal * median(off);
        const auto count = static_cast<double>(off.size());
        const double factor =
            std::clamp(std::sqrt((count * spread * spread + usual_counts) / (count + usual_counts)), least, most);
        for (GroupSigns& signs : out_.groups)
            (signs.*sign).sigma *= factor;
    }

    bool look_at_rest() {
        const ProofReading* reading = round_of_groups(ProofRound::at_rest);
        if (reading == nullptr)
            return false;
        const Values off = from_middle(reading->group_v);
        for (std::size_t g = 0; g < off.size(); ++g)
            out_.groups[g].rest = {off[g], std::hypot(digit(*reading), apart_v * cells())};
        return reading->whole();
    }

    // At the end of the charge, beside what the group's own capacity and its charge before explain.
    bool look_at_top() {
        const ProofReading* top = round_of_groups(ProofRound::end_of_charge);
        if (top == nullptr)
            return false;
        const ProofReading* rest = round_of_groups(ProofRound::at_rest);
        const bool tells = pack_.voltage_tells_charge && !pack_.ocv.empty() && rest != nullptr && rest->whole();
        Values shown(top->group_v.size());
        std::vector<double> sigma(top->group_v.size(), std::hypot(digit(*top), flat_top_v * cells()));
        if (tells) {
            std::vector<double> before;
            std::vector<double> after;
            std::vector<double> ah;
            for (std::size_t g = 0; g < top->group_v.size(); ++g)
                if (top->group_v[g]) {
                    before.push_back(pack_.ocv.soc_at(*rest->group_v[g] / cells()));
                    after.push_back(pack_.ocv.soc_at(*top->group_v[g] / cells()));
                    ah.push_back(out_.capacity_ah[g].value_or(0));
                }
            if (before.empty())
                return false;
            out_.gained = std::max(0.0, median(after) - median(before));
            const double middle_v = pack_.ocv.ocv_at(median(after));
            out_.slope = top_slope(median(after));
            const double middle_ah = median(ah);
            for (std::size_t g = 0; g < top->group_v.size(); ++g)
                if (top->group_v[g]) {
                    const bool known = out_.capacity_ah[g] && middle_ah > 0;
                    const double soc = pack_.ocv.soc_at(*rest->group_v[g] / cells());
                    const double expected = soc + out_.gained * (known ? middle_ah / *out_.capacity_ah[g] : 1);
                    shown[g] = *top->group_v[g] - cells() * (middle_v + out_.slope * (expected - median(after)));
                    const double soc_error = std::hypot(rest->resolution.value_or(usual_resolution_v) / cells() /
                                                            std::max(0.3, slope_before(*rest, g)),
                                                        out_.gained * ah_error(g));
                    sigma[g] = std::hypot(std::hypot(digit(*top), top_v * cells()), out_.slope * cells() * soc_error);
                }
        } else
            shown = top->group_v;
        const Values off = from_middle(shown);
        for (std::size_t g = 0; g < off.size(); ++g)
            out_.groups[g].top = {off[g], sigma[g]};
        return top->whole();
    }
    // Share of a group's capacity: what benches differ by, and its own units' errors.
    [[nodiscard]] double ah_error(std::size_t g) const {
        if (!out_.capacity_ah[g])
            return unmeasured_ah_error;
        double square = 0; // k = 2
        for (const ProvenUnit& unit : pack_.units[g])
            square += unit.capacity_error_ah.value_or(0) * unit.capacity_error_ah.value_or(0);
        return std::hypot(measured_ah_error, std::sqrt(square) / 2 / *out_.capacity_ah[g]);
    }
    // V a unit of charge where the charge ends; the curve is followed straight beyond its end.
    [[nodiscard]] double top_slope(double soc) const {
        constexpr double least = 0.2;
        return std::max(least, pack_.ocv.slope_at(pack_.ocv.ocv_at(std::min(soc, 0.995))));
    }
    [[nodiscard]] double slope_before(const ProofReading& rest, std::size_t g) const {
        return rest.group_v[g] ? pack_.ocv.slope_at(*rest.group_v[g] / cells()) : 0;
    }

    bool look_at_fall() {
        const ProofReading* top = round_of_groups(ProofRound::end_of_charge);
        const ProofReading* later = round_of_groups(ProofRound::after_rest);
        if (top == nullptr || later == nullptr || proof_.at(ProofRound::after_rest).state == ProofState::too_early)
            return false;
        Values falls(top->group_v.size());
        for (std::size_t g = 0; g < falls.size(); ++g)
            if (top->group_v[g] && later->group_v[g])
                falls[g] = *top->group_v[g] - *later->group_v[g];
        const Values off = from_middle(falls);
        for (std::size_t g = 0; g < off.size(); ++g)
            out_.groups[g].fall = {off[g], std::hypot(std::hypot(digit(*top), digit(*later)), falling_v * cells())};
        return later->whole();
    }

    bool look_at_sag() {
        const ProofReading* load = round_of_groups(ProofRound::under_load);
        const RoundVerdict& verdict = proof_.at(ProofRound::under_load);
        if (load == nullptr || !load->load_a || verdict.shown_v.size() != out_.groups.size())
            return false;
        out_.load_a = *load->load_a;
        out_.usual_sag_v = sag_of_all(verdict);
        const Values off = from_middle(verdict.shown_v);
        for (std::size_t g = 0; g < off.size(); ++g) {
            const double error = verdict.predicted ? measured_ohm_error : unmeasured_ohm_error;
            const double expected = out_.ohm[g] ? out_.load_a * *out_.ohm[g] : out_.usual_sag_v;
            const double course = g < verdict.course_error_v.size() ? verdict.course_error_v[g] / 2 : 0;
            out_.groups[g].sag = {off[g], std::hypot(std::hypot(digit(*load), sagging_v * cells()),
                                                     std::hypot(error * expected, course))};
        }
        return load->whole();
    }
    [[nodiscard]] static double sag_of_all(const RoundVerdict& verdict) {
        std::vector<double> known;
        for (const auto& v : verdict.sag_v)
            if (v)
                known.push_back(std::fabs(*v));
        return known.empty() ? 0 : median(known);
    }

    bool look_at_units() {
        const auto r = static_cast<std::size_t>(ProofRound::units);
        if (r >= pack_.rounds.size())
            return false;
        const ProofReading& reading = pack_.rounds[r];
        out_.units_a = reading.load_a.value_or(0);
        bool any = false;
        for (std::size_t g = 0; g < reading.unit_v.size() && g < out_.groups.size(); ++g) {
            std::vector<double> known;
            for (const auto& v : reading.unit_v[g])
                if (v)
                    known.push_back(*v);
            if (known.size() < 2)
                continue;
            any = true;
            const double middle = carrying_v(known, pack_.cells_per_unit);
            for (const auto& v : reading.unit_v[g])
                out_.groups[g].units.push_back(
                    {v ? std::optional(*v - middle) : std::nullopt, std::hypot(digit(reading), unit_hair_v)});
        }
        return any;
    }

    const ProvenPack& pack_;
    const Proof& proof_;
    ProofSigns out_;
};

} // namespace

ProofSigns read_proof_signs(const ProvenPack& pack, const Proof& proof) {
    return SignReader(pack, proof).read();
}

} // namespace ingot
