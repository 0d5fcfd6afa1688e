// The models that a unit's rest readings are weighed under: Bayesian linear regressions with relaxations of many forms,
// and late starts of a leak. Internals of the judgement on leaks.
#pragma once

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <vector>

namespace ingot::leaks {

struct Point {
    double day = 0;
    double volts = 0;
    std::size_t round = 0;
};

// A shape that a relaxation can have: parts that each fall from 1 toward 0. A spectrum of exponentials, each as large
// as it likes, comes near to anything that falls ever more slowly, whatever its law.
struct Shape {
    enum class Kind { none, exponential, power };
    Kind kind = Kind::none;
    std::vector<double> days; // time constants, one for each part
    double exponent = 1;
    [[nodiscard]] int parts() const { return static_cast<int>(days.size()); }
    [[nodiscard]] double at(int part, double day) const {
        const double scaled = day / days[static_cast<std::size_t>(part)];
        return kind == Kind::exponential ? std::exp(-scaled) : std::pow(1 + scaled, -exponent);
    }
};

// All that are weighed.
[[nodiscard]] const std::vector<Shape>& shapes();

// The drift as one model of a series of readings sees it.
struct Component {
    double log_evidence = 0;
    double mean = 0, variance = 0; // of the drift at the last reading, V/day, falling positive
    double since_day = -1;         // of a late start
    // For what a further reading would add: covariance of the coefficients, what reads the drift from them.
    Eigen::MatrixXd covariance;
    Eigen::VectorXd drift;
    Eigen::VectorXd coefficients;
    const Shape* shape = nullptr;

    [[nodiscard]] Eigen::VectorXd row_at(double day) const {
        Eigen::VectorXd row = Eigen::VectorXd::Zero(drift.size());
        row[0] = 1;
        row[1] = -day;
        for (int p = 0; p < shape->parts(); ++p)
            row[2 + p] = shape->at(p, day);
        if (since_day >= 0)
            row[drift.size() - 1] = -std::max(0.0, day - since_day);
        return row;
    }
};

struct Priors {
    double drift_mean = 0, drift_sd = 0; // V/day
    double relaxation_sd = 0;            // V, of each part
    double noise = 0;                    // V, of one reading
};

// Flat in the level, normal in relaxation and drift. `since_day` of a late start, -1: none.
[[nodiscard]] Component fit(const std::vector<Point>& points, const Shape& shape, double since_day,
                            const Priors& priors);
[[nodiscard]] double residual_squares(const std::vector<Point>& points, const Component& c);

// Weighted models of one series.
struct Mixture {
    std::vector<Component> components;
    std::vector<double> weights;

    void weigh(const std::vector<double>& log_prior);
    [[nodiscard]] double mean() const;
    [[nodiscard]] double variance() const;
    [[nodiscard]] const Component& likeliest() const;
    // The variance that is expected after one more reading that day: within each model it shrinks by what the reading
    // says, between the models by how well it tells them apart.
    [[nodiscard]] double variance_after(double day, double noise) const;
};

// The value below which that share of a mixture of normals lies, each shifted and widened.
[[nodiscard]] double quantile_of(const Mixture& mixture, double extra_mean, double extra_variance, double widen,
                                 double share);

} // namespace ingot::leaks
