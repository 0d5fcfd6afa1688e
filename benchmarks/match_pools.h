// Random pools like a shop's, from seeds: three models, health 0.5 to 1.02, resistance that grows with wear, leaks that
// are log-normal with a few outliers. Invented; the same generator serves tests and benchmarks.
#pragma once

#include "core/match/problem.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <random>
#include <string>

namespace ingot::pools {

inline MatchProblem random_pool(int units, int series, int parallel, unsigned seed) {
    struct Model {
        const char* id;
        double rated_ah;
        double new_ohm;
    };
    constexpr std::array<Model, 3> models{{{"M20", 2.0, 0.032}, {"M25", 2.5, 0.029}, {"M30", 3.0, 0.026}}};
    std::mt19937_64 random(seed);
    std::normal_distribution<double> normal(0, 1);
    std::uniform_real_distribution<double> uniform(0, 1);
    std::uniform_int_distribution<std::size_t> which(0, models.size() - 1);
    MatchProblem problem;
    problem.series = series;
    problem.parallel = parallel;
    for (int i = 0; i < units; ++i) {
        const Model& model = models[which(random)];
        const double health = std::clamp(0.82 + 0.07 * normal(random), 0.5, 1.02);
        MatchUnit unit;
        unit.id = "U" + std::to_string(i + 1);
        unit.model = model.id;
        unit.capacity_ah = std::round(model.rated_ah * health * 1000) / 1000;
        unit.resistance_ohm = model.new_ohm * (1 + 1.6 * (1 - health)) * std::exp(0.10 * normal(random));
        const bool outlier = uniform(random) < 0.015;
        unit.self_discharge_ah_per_day =
            (outlier ? 10 + 20 * uniform(random) : 0.6 * std::exp(0.45 * normal(random))) / 1000;
        problem.pool.push_back(unit);
    }
    return problem;
}

} // namespace ingot::pools
