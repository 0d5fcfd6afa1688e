#include "core/measure/regression.h"

#include <Eigen/Dense>

#include <cmath>
#include <stdexcept>

namespace ingot {

LeastSquares least_squares(const std::vector<std::vector<double>>& rows, const std::vector<double>& y) {
    if (rows.empty() || rows.size() != y.size() || rows.front().empty() || rows.size() < rows.front().size())
        throw std::invalid_argument("least_squares: shapes");
    const auto n = static_cast<Eigen::Index>(rows.size());
    const auto k = static_cast<Eigen::Index>(rows.front().size());
    Eigen::MatrixXd x(n, k);
    for (Eigen::Index i = 0; i < n; ++i) {
        if (rows[static_cast<std::size_t>(i)].size() != rows.front().size())
            throw std::invalid_argument("least_squares: rows of unlike length");
        for (Eigen::Index j = 0; j < k; ++j)
            x(i, j) = rows[static_cast<std::size_t>(i)][static_cast<std::size_t>(j)];
    }
    // Columns of unit length, so that powers of large numbers do not drown each other.
    const Eigen::VectorXd scale = x.colwise().norm().transpose();
    if ((scale.array() == 0).any())
        throw std::invalid_argument("least_squares: a column of zeros");
    const Eigen::MatrixXd scaled = x * scale.cwiseInverse().asDiagonal();
    const Eigen::Map<const Eigen::VectorXd> right(y.data(), n);
    const Eigen::HouseholderQR<Eigen::MatrixXd> qr(scaled);
    const Eigen::MatrixXd r = qr.matrixQR().topRows(k).triangularView<Eigen::Upper>();
    constexpr double singular = 1e-15;
    if ((r.diagonal().cwiseAbs().array() < singular).any())
        throw std::invalid_argument("least_squares: columns depend on each other");
    Eigen::VectorXd beta = qr.solve(right);
    beta += qr.solve(right - scaled * beta); // once more: the last digits
    const Eigen::MatrixXd r_inverse = r.triangularView<Eigen::Upper>().solve(Eigen::MatrixXd::Identity(k, k));
    const Eigen::MatrixXd covariance = r_inverse * r_inverse.transpose();
    LeastSquares out;
    out.residual_sum = (right - scaled * beta).squaredNorm();
    out.degrees_of_freedom = static_cast<int>(n - k);
    if (out.degrees_of_freedom > 0)
        out.residual_sd = std::sqrt(out.residual_sum / out.degrees_of_freedom);
    for (Eigen::Index j = 0; j < k; ++j) {
        out.coefficients.push_back(beta[j] / scale[j]);
        out.standard_errors.push_back(out.residual_sd * std::sqrt(covariance(j, j)) / scale[j]);
        auto& row = out.unscaled_covariance.emplace_back();
        for (Eigen::Index i = 0; i < k; ++i)
            row.push_back(covariance(j, i) / (scale[j] * scale[i]));
    }
    return out;
}

} // namespace ingot
