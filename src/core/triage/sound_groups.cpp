// How sound groups lie about their middle.
#include "core/triage/predict.h"

#include <cmath>

namespace ingot::triage_detail {

namespace {

constexpr double stray_share = 0.02; // sound groups that lie farther out than usual

} // namespace

double Predictor::unlike_leaks() const {
    constexpr double unlike = 0.5; // of what leaves them
    return unlike * usual_leak_per_day() * days_since_level;
}

double Predictor::usual_charge_sd() const {
    return std::hypot(knowledge_.usual_charge, unlike_leaks() / std::sqrt(cells_));
}

void Predictor::spread_into(std::vector<Severity>& list, const Taken& taken, double charge_sd, double capacity_sd,
                            double weight) const {
    constexpr int steps = 6; // either side, out to two and a half standard deviations
    constexpr double each = 2.5 / steps;
    const std::size_t first = list.size();
    const double all_sd = std::hypot(charge_sd, capacity_sd);
    double total = 0;
    for (int i = -steps; i <= steps; ++i) {
        Latent l;
        l.charge = all_sd * i * each;
        l.charge_at_end = l.charge * std::pow(charge_sd / all_sd, 2);
        l.charge_at_end_sd = charge_sd * capacity_sd / all_sd;
        l.spread_counted = capacity_sd > 0;
        list.push_back(severity(l, taken, all_sd * each * smoothing));
        list.back().log_weight = -0.5 * std::pow(i * each, 2);
        total += std::exp(list.back().log_weight);
    }
    for (std::size_t i = first; i < list.size(); ++i)
        list[i].log_weight += std::log(weight / total);
}

std::vector<Severity> Predictor::healthy(const Taken& taken) const {
    constexpr double straight_above = 0.15; // under this charge the curve bends too much for one normal
    const double usual = usual_charge_sd();
    const double charge = ocv_.charge(rest_v_ / cells_);
    std::vector<Severity> out;
    if (charge < straight_above && !taken.empty()) {
        const double by_capacity = (1 - std::max(charge, 0.0)) * knowledge_.usual_capacity * looseness_.charge;
        spread_into(out, taken, usual, by_capacity, 1 - stray_share);
        spread_into(out, taken, 2.5 * usual, by_capacity, stray_share);
        return out;
    }
    out = {severity({}, taken, usual), severity({}, taken, 2.5 * usual)};
    out[0].log_weight = std::log(1 - stray_share);
    out[1].log_weight = std::log(stray_share);
    return out;
}

std::vector<Severity> Predictor::spread(const Taken& taken, double charge_sd) const {
    std::vector<Severity> out;
    spread_into(out, taken, charge_sd, 0, 1);
    return out;
}

} // namespace ingot::triage_detail
