#include "core/measure/forecast.h"

#include <boost/math/distributions/students_t.hpp>

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

namespace ingot {

namespace {

constexpr std::size_t fewest_siblings = 3;
constexpr std::size_t least_points = 10;
constexpr double transient_share = 0.03; // of a discharge, in which the first drop still settles
constexpr double nearly_whole = 0.98;    // a sibling is forecast from no more of it than this
constexpr double widest = 0.15;
constexpr int places = 40; // at which curves are compared

double volts_at(const DischargeCurve& curve, double amount_ah) {
    const auto& x = curve.amount_ah;
    const auto next = std::lower_bound(x.begin(), x.end(), amount_ah);
    if (next == x.begin())
        return curve.volts.front();
    if (next == x.end())
        return curve.volts.back();
    const auto i = static_cast<std::size_t>(next - x.begin());
    return curve.volts[i - 1] + (curve.volts[i] - curve.volts[i - 1]) * (amount_ah - x[i - 1]) / (x[i] - x[i - 1]);
}

// How far a curve up to `moved` lies off the others when its whole is taken to be `whole`: mean square, V^2, after the
// constant difference.
double misfit(const DischargeCurve& curve, double moved, double whole,
              const std::vector<const DischargeCurve*>& others) {
    double sum = 0;
    double squares = 0;
    for (int i = 0; i < places; ++i) {
        const double at = moved * (transient_share + (1 - transient_share) * i / (places - 1));
        double usual = 0;
        for (const DischargeCurve* other : others)
            usual += volts_at(*other, at / whole * other->amount_ah.back());
        const double off = volts_at(curve, at) - usual / static_cast<double>(others.size());
        sum += off;
        squares += off * off;
    }
    const double mean = sum / places;
    return squares / places - mean * mean;
}

// The whole at which it lies along the others best; nothing where that is at an end of what could be.
std::optional<double> best_whole(const DischargeCurve& curve, double moved,
                                 const std::vector<const DischargeCurve*>& others) {
    double largest = 0;
    for (const DischargeCurve* other : others)
        largest = std::max(largest, other->amount_ah.back());
    constexpr double beyond_any = 1.5;
    constexpr int steps = 60;
    const double low = std::log(moved);
    const double high = std::log(std::max(moved, largest) * beyond_any);
    int best = 0;
    std::vector<double> off;
    off.reserve(steps + 1);
    for (int i = 0; i <= steps; ++i) {
        off.push_back(misfit(curve, moved, std::exp(low + (high - low) * i / steps), others));
        if (off.back() < off[static_cast<std::size_t>(best)])
            best = i;
    }
    if (best == steps)
        return std::nullopt;
    // Golden section between its neighbours; at the low end it is all but over.
    double a = low + (high - low) * std::max(0, best - 1) / steps;
    double b = low + (high - low) * (best + 1) / steps;
    constexpr double golden = 0.6180339887498949;
    constexpr int halvings = 24;
    for (int i = 0; i < halvings; ++i) {
        const double left = b - golden * (b - a);
        const double right = a + golden * (b - a);
        if (misfit(curve, moved, std::exp(left), others) < misfit(curve, moved, std::exp(right), others))
            b = right;
        else
            a = left;
    }
    return std::exp((a + b) / 2);
}

} // namespace

std::optional<CapacityForecast> forecast_capacity(const DischargeCurve& so_far,
                                                  std::span<const DischargeCurve> siblings) {
    std::vector<const DischargeCurve*> whole;
    for (const DischargeCurve& sibling : siblings)
        if (sibling.amount_ah.size() >= least_points && sibling.amount_ah.back() > 0)
            whole.push_back(&sibling);
    if (whole.size() < fewest_siblings || so_far.amount_ah.size() < least_points || !(so_far.amount_ah.back() > 0))
        return std::nullopt;
    const double moved = so_far.amount_ah.back();
    const auto found = best_whole(so_far, moved, whole);
    if (!found)
        return std::nullopt;
    double squares = 0;
    for (std::size_t left_out = 0; left_out < whole.size(); ++left_out) {
        std::vector<const DischargeCurve*> others = whole;
        others.erase(others.begin() + static_cast<std::ptrdiff_t>(left_out));
        const double truth = whole[left_out]->amount_ah.back();
        const auto told = best_whole(*whole[left_out], std::min(moved, nearly_whole * truth), others);
        if (!told)
            return std::nullopt;
        squares += std::pow(std::log(*told / truth), 2);
    }
    const auto n = static_cast<double>(whole.size());
    constexpr double tail = 0.975;
    const double wide = boost::math::quantile(boost::math::students_t(n), tail) * std::sqrt(squares / n * (1 + 1 / n));
    if (wide > widest)
        return std::nullopt;
    return CapacityForecast{*found, std::max(moved, *found * std::exp(-wide)), *found * std::exp(wide),
                            static_cast<int>(whole.size())};
}

} // namespace ingot
