// How well readings fit what a severity expects.
#include "core/triage/predict.h"

#include <Eigen/Cholesky>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ingot::triage_detail {

namespace {

constexpr double least_variance = 1e-12; // V^2

// Of `size` readings, where that is known beforehand, or of any number.
constexpr int most_of(int size) {
    return size == Eigen::Dynamic ? static_cast<int>(most_values) : size;
}
template <int size> using SquareOf = Eigen::Matrix<double, size, size, Eigen::ColMajor, most_of(size), most_of(size)>;
template <int size> using ColumnOf = Eigen::Matrix<double, size, 1, Eigen::ColMajor, most_of(size), 1>;
using Column = ColumnOf<Eigen::Dynamic>;

// Lower Cholesky factor of the covariance, blur and all.
template <int size = Eigen::Dynamic> Eigen::LLT<SquareOf<size>> factor_of(const Severity& s) {
    const auto n = static_cast<Eigen::Index>(s.size);
    SquareOf<size> covariance = SquareOf<size>::Zero(n, n);
    for (std::size_t i = 0; i < s.size; ++i)
        for (std::size_t j = 0; j <= i; ++j)
            covariance(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(j)) =
                s.covariance[Severity::at(i, j)] + s.blur[i] * s.blur[j];
    Eigen::LLT<SquareOf<size>> factor(covariance);
    if (factor.info() == Eigen::Success)
        return factor;
    covariance.diagonal().array() += least_variance; // two readings that say the same thing
    factor.compute(covariance);
    return factor;
}

// How far readings lie from what is expected, in units in which they are independent: squared; and the product of the
// factor's diagonal.
struct Fit {
    double away, volume;
};
template <int size> Fit fit_of(const Severity& s, const std::vector<double>& x) {
    const auto factor = factor_of<size>(s);
    ColumnOf<size> away(static_cast<Eigen::Index>(s.size));
    for (std::size_t i = 0; i < s.size; ++i)
        away(static_cast<Eigen::Index>(i)) = x[i] - s.mean[i];
    factor.matrixLLT().template triangularView<Eigen::Lower>().solveInPlace(away);
    return {away.squaredNorm(), factor.matrixLLT().diagonal().prod()};
}
// Most groups were read once or a few times: so many are solved without a loop.
Fit fit(const Severity& s, const std::vector<double>& x) {
    return s.size == 1   ? fit_of<1>(s, x)
           : s.size == 2 ? fit_of<2>(s, x)
           : s.size == 3 ? fit_of<3>(s, x)
                         : fit_of<Eigen::Dynamic>(s, x);
}

// The first `count` of them.
Column whitened(const Eigen::LLT<SquareOf<Eigen::Dynamic>>& factor, const Severity& s, const std::vector<double>& x,
                std::size_t count) {
    const auto n = static_cast<Eigen::Index>(count);
    Column away(n);
    for (std::size_t i = 0; i < count; ++i)
        away(static_cast<Eigen::Index>(i)) = x[i] - s.mean[i];
    factor.matrixLLT().topLeftCorner(n, n).triangularView<Eigen::Lower>().solveInPlace(away);
    return away;
}

} // namespace

// Student's t about the expected readings: what the model leaves out has heavier tails than a normal.
double log_density(const Severity& s, const std::vector<double>& x) {
    if (s.size == 0)
        return 0;
    static constexpr double freedom = 6;
    static constexpr double narrower = (freedom - 2) / freedom; // so that the variance stays what it is
    static const auto constants = [] {                          // by the number of readings
        std::array<double, most_values + 1> out{};
        for (std::size_t n = 0; n <= most_values; ++n)
            out[n] = std::lgamma((freedom + static_cast<double>(n)) / 2) - std::lgamma(freedom / 2) -
                     0.5 * static_cast<double>(n) * std::log(freedom * narrower * std::numbers::pi);
        return out;
    }();
    const Fit found = fit(s, x);
    return constants[s.size] - std::log(found.volume) -
           0.5 * (freedom + static_cast<double>(s.size)) * std::log1p(found.away / narrower / freedom);
}

Conditional conditional_last(const Severity& s, const std::vector<double>& x) {
    const auto factor = factor_of(s);
    const std::size_t last = s.size - 1;
    const auto row = factor.matrixLLT().row(static_cast<Eigen::Index>(last));
    const Column before = whitened(factor, s, x, last);
    return {s.mean[last] + row.head(before.size()).dot(before), row(before.size()) * row(before.size())};
}

double log_sum(const std::vector<double>& logs) {
    if (logs.empty())
        return -1e300;
    const double top = *std::max_element(logs.begin(), logs.end());
    double sum = 0;
    for (const double l : logs)
        sum += std::exp(l - top);
    return top + std::log(sum);
}

} // namespace ingot::triage_detail
