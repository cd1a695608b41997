#pragma once

#include "units/error.h"

#include <Eigen/Dense>

namespace fg {

/// A linear least-squares fit y ≈ Σ cₖ·φₖ(x), with everything that says how far it can be trusted.
struct LeastSquares {
    Eigen::VectorXd coefficients;
    /// How the coefficients follow from the data: coefficients = projector · y.
    Eigen::MatrixXd projector;
    /// Covariance of the coefficients for data of the standard uncertainties given; of unit weights where none were:
    /// multiply by the residual variance.
    Eigen::MatrixXd covariance;
    Eigen::VectorXd residuals;  ///< y − Σ cₖ·φₖ(x)
    Eigen::VectorXd leverage;   ///< 0 … 1: how far each point pulls the curve to itself
    double sumOfSquares = 0;    ///< Σ (residual/u)²
    /// Points less coefficients: what is left to tell the scatter from.
    [[nodiscard]] Eigen::Index freedom() const { return residuals.size() - coefficients.size(); }
    /// √(Σ (residual/u)²/freedom): the residual standard deviation where no uncertainties were given. NaN without
    /// freedom.
    [[nodiscard]] double scatter() const;
    /// What each point would be off if it had not been used: residual/(1 − leverage).
    [[nodiscard]] Eigen::VectorXd leaveOneOut() const;
};

/// Fits by QR with column pivoting of the scaled columns, each row divided by its standard uncertainty. `design`: a row
/// for each point with φₖ at it; `u`: standard uncertainty of each y, all above 0; empty: unit weights. Errors: Missing
/// with fewer points than columns; Domain where the points cannot tell the columns apart. Source: ordinary
/// least squares; Björck, Numerical Methods for Least Squares Problems, 2.4 and 2.8.
[[nodiscard]] Expected<LeastSquares> leastSquares(const Eigen::MatrixXd& design, const Eigen::VectorXd& y,
                                                  const Eigen::VectorXd& u = {});

}  // namespace fg
