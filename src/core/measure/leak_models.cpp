#include "core/measure/leak_models.h"

#include <numbers>

namespace ingot::leaks {

const std::vector<Shape>& shapes() {
    static const std::vector<Shape> all = [] {
        std::vector<Shape> out{{}};
        for (const double days : {0.3, 0.8, 2.0, 5.0})
            out.push_back({Shape::Kind::exponential, {days}, 1});
        for (const double exponent : {0.2, 0.5, 1.0})
            for (const double days : {0.05, 0.5, 4.0})
                out.push_back({Shape::Kind::power, {days}, exponent});
        for (const auto& spectrum :
             {std::vector<double>{0.3, 1.0, 3.0}, {0.3, 1.0, 3.0, 9.0}, {0.3, 1.0, 3.0, 9.0, 27.0}})
            out.push_back({Shape::Kind::exponential, spectrum, 1});
        return out;
    }();
    return all;
}

Component fit(const std::vector<Point>& points, const Shape& shape, double since_day, const Priors& priors) {
    constexpr double level_sd = 1.0; // V around the mean: as good as flat
    Component out;
    out.shape = &shape;
    out.since_day = since_day;
    const bool late = since_day >= 0;
    const int k = 2 + shape.parts() + (late ? 1 : 0);
    out.drift = Eigen::VectorXd::Zero(k);
    out.drift[1] = 1;
    if (late)
        out.drift[k - 1] = 1;
    double level = 0;
    for (const Point& p : points)
        level += p.volts / static_cast<double>(points.size());
    Eigen::MatrixXd precision = Eigen::MatrixXd::Zero(k, k);
    Eigen::VectorXd right = Eigen::VectorXd::Zero(k);
    Eigen::VectorXd prior_mean = Eigen::VectorXd::Zero(k);
    Eigen::VectorXd prior_sd = Eigen::VectorXd::Constant(k, priors.relaxation_sd);
    // What is left to relax after days is less than what went in the first hours.
    for (int p = 0; p < shape.parts(); ++p)
        prior_sd[2 + p] /= std::sqrt(std::max(1.0, shape.days[static_cast<std::size_t>(p)]));
    prior_sd[0] = level_sd;
    prior_sd[1] = priors.drift_sd;
    prior_mean[1] = priors.drift_mean;
    if (late)
        prior_sd[k - 1] = priors.drift_sd;
    const double weight = 1 / (priors.noise * priors.noise);
    double squares = 0;
    for (const Point& p : points) {
        const Eigen::VectorXd row = out.row_at(p.day);
        const double y = p.volts - level - row.dot(prior_mean);
        precision += weight * row * row.transpose();
        right += weight * y * row;
        squares += weight * y * y;
    }
    double log_prior_det = 0;
    for (int i = 0; i < k; ++i) {
        precision(i, i) += 1 / (prior_sd[i] * prior_sd[i]);
        log_prior_det += 2 * std::log(prior_sd[i]);
    }
    const Eigen::LLT<Eigen::MatrixXd> factor(precision);
    const Eigen::VectorXd away = factor.solve(right);
    out.covariance = factor.solve(Eigen::MatrixXd::Identity(k, k));
    out.coefficients = prior_mean + away;
    out.coefficients[0] += level;
    out.mean = out.drift.dot(out.coefficients);
    out.variance = out.drift.dot(out.covariance * out.drift);
    double log_det = 0;
    for (int i = 0; i < k; ++i)
        log_det += 2 * std::log(factor.matrixL()(i, i));
    const auto n = static_cast<double>(points.size());
    out.log_evidence = -0.5 * (squares - right.dot(away) + log_det + log_prior_det +
                               n * std::log(2 * std::numbers::pi * priors.noise * priors.noise));
    return out;
}

double residual_squares(const std::vector<Point>& points, const Component& c) {
    double out = 0;
    for (const Point& p : points) {
        const double left = p.volts - c.row_at(p.day).dot(c.coefficients);
        out += left * left;
    }
    return out;
}

void Mixture::weigh(const std::vector<double>& log_prior) {
    double best = -1e300;
    std::vector<double> logs;
    for (std::size_t i = 0; i < components.size(); ++i) {
        logs.push_back(components[i].log_evidence + log_prior[i]);
        best = std::max(best, logs.back());
    }
    double sum = 0;
    weights.clear();
    for (const double log : logs)
        sum += weights.emplace_back(std::exp(log - best));
    for (double& w : weights)
        w /= sum;
}

double Mixture::mean() const {
    double out = 0;
    for (std::size_t i = 0; i < components.size(); ++i)
        out += weights[i] * components[i].mean;
    return out;
}

double Mixture::variance() const {
    const double middle = mean();
    double out = 0;
    for (std::size_t i = 0; i < components.size(); ++i)
        out += weights[i] * (components[i].variance + std::pow(components[i].mean - middle, 2));
    return out;
}

const Component& Mixture::likeliest() const {
    return components[static_cast<std::size_t>(std::max_element(weights.begin(), weights.end()) - weights.begin())];
}

double Mixture::variance_after(double day, double noise) const {
    const double middle = mean();
    double within = 0;
    double between = 0;
    double mean_reading = 0;
    double own_spread = 0;
    for (std::size_t i = 0; i < components.size(); ++i)
        mean_reading += weights[i] * components[i].row_at(day).dot(components[i].coefficients);
    double apart = 0;
    for (std::size_t i = 0; i < components.size(); ++i) {
        const Component& c = components[i];
        const Eigen::VectorXd row = c.row_at(day);
        const Eigen::VectorXd gain = c.covariance * row;
        const double predicted = row.dot(gain) + noise * noise;
        within += weights[i] * (c.variance - std::pow(c.drift.dot(gain), 2) / predicted);
        between += weights[i] * std::pow(c.mean - middle, 2);
        apart += weights[i] * std::pow(row.dot(c.coefficients) - mean_reading, 2);
        own_spread += weights[i] * predicted;
    }
    return within + between * own_spread / (own_spread + apart);
}

namespace {

// The share of a mixture of normals (each widened) that lies below.
double below(const Mixture& mixture, double extra_mean, double extra_variance, double widen, double value) {
    double out = 0;
    for (std::size_t i = 0; i < mixture.components.size(); ++i) {
        const Component& c = mixture.components[i];
        const double sd = std::sqrt(c.variance + extra_variance) * widen;
        out += mixture.weights[i] * 0.5 * std::erfc((c.mean + extra_mean - value) / (sd * std::numbers::sqrt2));
    }
    return out;
}

} // namespace

double quantile_of(const Mixture& mixture, double extra_mean, double extra_variance, double widen, double share) {
    const double middle = mixture.mean() + extra_mean;
    constexpr double far = 12;
    const double reach = far * widen * std::sqrt(mixture.variance() + extra_variance);
    double low = middle - reach;
    double high = middle + reach;
    constexpr int halvings = 60;
    for (int n = 0; n < halvings; ++n) {
        const double half = (low + high) / 2;
        (below(mixture, extra_mean, extra_variance, widen, half) < share ? low : high) = half;
    }
    return (low + high) / 2;
}

} // namespace ingot::leaks
