#include "core/triage/predict.h"

#include <algorithm>

namespace ingot::triage_detail {

namespace {

constexpr double overfull_charge = 0.03; // from the end of the curve to the charge limit
constexpr double underfull_charge = 0.06;
constexpr double slope_window = 0.02;
constexpr double table_from = -0.15, table_to = 1.15; // of charge
constexpr int table_steps = 2600;

} // namespace

LongOcv::LongOcv(const Chemistry& chemistry) : curve_(&chemistry.ocv) {
    const auto& v = curve_->ocv_v();
    const auto& s = curve_->soc();
    const std::size_t n = v.size();
    top_slope_ =
        std::max((v[n - 1] - v[n - 2]) / (s[n - 1] - s[n - 2]), (chemistry.full_v - v[n - 1]) / overfull_charge);
    bottom_slope_ = v.front() / underfull_charge;
    for (int i = 0; i <= table_steps; ++i)
        table_.push_back(exact(table_from + (table_to - table_from) * i / table_steps));
}

double LongOcv::volts(double charge) const {
    const double at = (charge - table_from) / (table_to - table_from) * table_steps;
    if (!(at >= 0 && at < table_steps))
        return exact(charge);
    const auto i = static_cast<std::size_t>(at);
    return table_[i] + (at - static_cast<double>(i)) * (table_[i + 1] - table_[i]);
}

double LongOcv::exact(double charge) const {
    const double low = curve_->soc().front();
    const double high = curve_->soc().back();
    if (charge < low)
        return std::max(0.0, curve_->ocv_v().front() + (charge - low) * bottom_slope_);
    if (charge > high)
        return curve_->ocv_v().back() + (charge - high) * top_slope_;
    return curve_->ocv_at(charge);
}

double LongOcv::charge(double volts) const {
    const auto& v = curve_->ocv_v();
    if (volts < v.front())
        return curve_->soc().front() + (std::max(volts, 0.0) - v.front()) / bottom_slope_;
    if (volts > v.back())
        return curve_->soc().back() + (volts - v.back()) / top_slope_;
    return curve_->soc_at(volts);
}

double LongOcv::slope(double charge) const {
    return (volts(charge + slope_window / 2) - volts(charge - slope_window / 2)) / slope_window;
}

} // namespace ingot::triage_detail
