// Linear least squares by orthogonal factors: coefficients, their covariance, what is left over. Checked against NIST's
// Statistical Reference Datasets and the GNU Scientific Library.
#pragma once

#include <vector>

namespace ingot {

struct LeastSquares {
    std::vector<double> coefficients;
    std::vector<double> standard_errors;
    std::vector<std::vector<double>> unscaled_covariance; // (X'X)^-1; times the residual variance: the covariance
    double residual_sum = 0;                              // of squares
    double residual_sd = 0;                               // 0 without degrees of freedom
    int degrees_of_freedom = 0;
};

// `rows` are the rows of the design, all of one length, at least as many as columns. Throws std::invalid_argument on
// shapes that do not fit or columns that depend on each other.
[[nodiscard]] LeastSquares least_squares(const std::vector<std::vector<double>>& rows, const std::vector<double>& y);

} // namespace ingot
