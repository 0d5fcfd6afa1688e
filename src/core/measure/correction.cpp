#include "core/measure/correction.h"

#include <cmath>

namespace ingot {

namespace {

constexpr double least_fraction = 0.4;
constexpr double coldest = 15;
constexpr double warmest = 35;
constexpr double slow_lambda = 0.006;
constexpr double fast_lambda = 0.01;
// What still counts as the same conditions.
constexpr double same_volts = 0.02; // of the value
constexpr double same_rate = 0.25;
constexpr double same_celsius = 8;

bool apart(const std::optional<double>& a, const std::optional<double>& b, double share) {
    return a && b && std::fabs(*a - *b) > share * std::max(std::fabs(*a), std::fabs(*b));
}

} // namespace

std::optional<CorrectedCapacity> to_full_window(double measured_ah, double uncertainty_ah, double start_v, double end_v,
                                                const Chemistry& chemistry, int cells, double meter_v) {
    if (!chemistry.voltage_tells_charge || chemistry.ocv.empty() || cells < 1)
        return std::nullopt;
    const auto fraction = [&](double from, double to) {
        return chemistry.ocv.soc_at(from / cells) - chemistry.ocv.soc_at(to / cells);
    };
    const double covered = fraction(start_v, end_v);
    if (covered < least_fraction)
        return std::nullopt;
    CorrectedCapacity out;
    out.measured_ah = measured_ah;
    out.charge_fraction = covered;
    out.full_ah = measured_ah / covered;
    // Both voltages wrong by the meter, outward and inward.
    const double wide = fraction(start_v + meter_v * cells, end_v - meter_v * cells);
    const double narrow = fraction(start_v - meter_v * cells, end_v + meter_v * cells);
    const double by_meter = measured_ah * (1 / narrow - 1 / wide) / 2;
    const double own = uncertainty_ah / covered;
    out.uncertainty_ah = std::sqrt(by_meter * by_meter + own * own);
    return out;
}

std::optional<double> lead_acid_at_25(double measured_ah, double celsius, bool fast_rate) {
    constexpr double reference = 25;
    if (celsius < coldest || celsius > warmest)
        return std::nullopt;
    return measured_ah / (1 + (fast_rate ? fast_lambda : slow_lambda) * (celsius - reference));
}

double at_another_rate(double capacity_ah, double rated_hours, double current_a, double k) {
    return capacity_ah * std::pow(current_a * rated_hours / capacity_ah, 1 - k);
}

std::vector<Incomparable> incomparable(const Conditions& one, const Conditions& other) {
    std::vector<Incomparable> out;
    if (apart(one.cutoff_v, other.cutoff_v, same_volts))
        out.push_back(Incomparable::other_cutoff);
    if (apart(one.discharge_current_a, other.discharge_current_a, same_rate))
        out.push_back(Incomparable::other_rate);
    if (apart(one.charged_to_v, other.charged_to_v, same_volts))
        out.push_back(Incomparable::other_charge);
    if (one.temperature_c && other.temperature_c && std::fabs(*one.temperature_c - *other.temperature_c) > same_celsius)
        out.push_back(Incomparable::other_temperature);
    return out;
}

} // namespace ingot
