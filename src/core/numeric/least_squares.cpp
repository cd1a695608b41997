#include "numeric/least_squares.h"

#include <fmt/format.h>
#include <cmath>

namespace fg {

double LeastSquares::scatter() const {
    return freedom() > 0 ? std::sqrt(sumOfSquares / static_cast<double>(freedom()))
                         : std::numeric_limits<double>::quiet_NaN();
}

Eigen::VectorXd LeastSquares::leaveOneOut() const { return residuals.array() / (1 - leverage.array()); }

Expected<LeastSquares> leastSquares(const Eigen::MatrixXd& design, const Eigen::VectorXd& y, const Eigen::VectorXd& u) {
    const Eigen::Index points = design.rows(), count = design.cols();
    if (points < count)
        return fail(ErrorCode::Missing, "points", fmt::format("{}", points),
                    fmt::format("at least {}, as many as the fit has coefficients", count));
    if (!design.allFinite() || !y.allFinite() || !u.allFinite() || (u.size() > 0 && u.minCoeff() <= 0))
        return fail(ErrorCode::Range, "points", "a number that is none, or an uncertainty that is not above 0",
                    "finite numbers");
    const Eigen::VectorXd weight = u.size() > 0 ? Eigen::VectorXd(u.cwiseInverse()) : Eigen::VectorXd::Ones(points);
    Eigen::MatrixXd rows = weight.asDiagonal() * design;
    Eigen::VectorXd scale = rows.colwise().norm();
    for (double& one : scale)
        if (!(one > 0)) one = 1;
    rows = rows * scale.cwiseInverse().asDiagonal();
    Eigen::ColPivHouseholderQR<Eigen::MatrixXd> qr(rows);
    qr.setThreshold(1e-10);  // of columns scaled to one: the digits that data ever have
    if (qr.rank() < count)
        return fail(ErrorCode::Domain, "points", fmt::format("{} that tell {} coefficient(s)", points, qr.rank()),
                    fmt::format("points apart enough for {}", count));
    LeastSquares fit;
    const Eigen::MatrixXd inverse = qr.matrixR()
                                        .topLeftCorner(count, count)
                                        .triangularView<Eigen::Upper>()
                                        .solve(Eigen::MatrixXd::Identity(count, count));
    const Eigen::MatrixXd thin = qr.householderQ() * Eigen::MatrixXd::Identity(points, count);
    const Eigen::MatrixXd unscaled = scale.cwiseInverse().asDiagonal() * (qr.colsPermutation() * inverse);
    fit.projector = unscaled * thin.transpose() * weight.asDiagonal();
    fit.covariance = unscaled * unscaled.transpose();
    fit.coefficients = fit.projector * y;
    // One step of refinement: the residuals' own fit is what rounding left out.
    fit.coefficients += fit.projector * (y - design * fit.coefficients);
    fit.residuals = y - design * fit.coefficients;
    if (!fit.coefficients.allFinite() || !fit.covariance.allFinite() || !fit.residuals.allFinite())
        return fail(ErrorCode::Range, "points", "numbers beyond what can be computed with", "numbers of a usual size");
    fit.leverage = thin.rowwise().squaredNorm();
    fit.sumOfSquares = (weight.asDiagonal() * fit.residuals).squaredNorm();
    return fit;
}

}  // namespace fg
