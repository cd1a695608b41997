#include "analysis/approach.h"

#include "numeric/least_squares.h"

#include <algorithm>
#include <boost/math/tools/minima.hpp>
#include <cmath>
#include <string>

namespace fg {
namespace {

/// The straight problem at one τ.
Expected<LeastSquares> fitAt(double timeConstant_s, std::span<const double> times_s, std::span<const double> readings) {
    const auto size = static_cast<Eigen::Index>(times_s.size());
    Eigen::MatrixXd design(size, 2);
    Eigen::VectorXd y(size);
    for (Eigen::Index i = 0; i < size; ++i) {
        const auto at = static_cast<std::size_t>(i);
        design.row(i) << 1, std::exp(-(times_s[at] - times_s[0]) / timeConstant_s);
        y(i) = readings[at];
    }
    return leastSquares(design, y);
}

}  // namespace

double Approach::at(double time_s) const { return end + (start - end) * std::exp(-time_s / timeConstant_s); }

Expected<Approach> fitApproach(std::span<const double> times_s, std::span<const double> readings) {
    constexpr std::size_t kLeast = 5;
    if (readings.size() < kLeast || times_s.size() != readings.size())
        return fail(ErrorCode::Missing, "readings", std::to_string(readings.size()),
                    "five at least, each with its time");
    const double length_s = times_s.back() - times_s.front();
    const double step_s = length_s / static_cast<double>(readings.size() - 1);
    const auto restAt = [&](double logarithm) {
        const auto fit = fitAt(std::exp(logarithm), times_s, readings);
        return fit ? fit->residuals.squaredNorm() : std::numeric_limits<double>::infinity();
    };
    // Between a reading's distance and ten times the run; first roughly, then by parabolas.
    const double low = std::log(step_s / 2), high = std::log(10 * length_s);
    constexpr int kGrid = 40, kBits = 40;
    double best = low, least = restAt(low);
    for (int i = 1; i <= kGrid; ++i) {
        const double at = low + (high - low) * i / kGrid;
        if (const double rest = restAt(at); rest < least) {
            best = at;
            least = rest;
        }
    }
    const double width = (high - low) / kGrid;
    const auto found = boost::math::tools::brent_find_minima(restAt, best - width, best + width, kBits);
    const double tau_s = std::exp(found.first);
    const auto fit = fitAt(tau_s, times_s, readings);
    if (!fit) return tl::unexpected(fit.error());
    Approach approach;
    approach.end = fit->coefficients(0);
    approach.start = approach.end + fit->coefficients(1);
    approach.timeConstant_s = tau_s;
    // Standard errors of all three together, by the slopes of the curve (JCGM 100:2008, 5.1; Gauss–Newton).
    const auto size = static_cast<Eigen::Index>(times_s.size());
    Eigen::MatrixXd slopes(size, 3);
    for (Eigen::Index i = 0; i < size; ++i) {
        const double t = times_s[static_cast<std::size_t>(i)] - times_s[0], decay = std::exp(-t / tau_s);
        slopes.row(i) << 1, decay, fit->coefficients(1) * decay * t / (tau_s * tau_s);
    }
    const double variance = fit->residuals.squaredNorm() / static_cast<double>(size - 3);
    const Eigen::MatrixXd normal = slopes.transpose() * slopes;
    const Eigen::LDLT<Eigen::MatrixXd> solver(normal);
    const Eigen::MatrixXd covariance = solver.solve(Eigen::MatrixXd::Identity(3, 3)) * variance;
    approach.scatter = std::sqrt(variance);
    approach.endStandard = std::sqrt(std::max(0.0, covariance(0, 0)));
    approach.timeConstantStandard_s = std::sqrt(std::max(0.0, covariance(2, 2)));
    const bool isAtEdge = found.first < low + width || found.first > high - width;
    const bool isNoise = std::abs(fit->coefficients(1)) < 4 * approach.scatter;
    const bool isVague = approach.timeConstantStandard_s > tau_s / 2;
    if (isAtEdge || isNoise || isVague || !solver.isPositive())
        return fail(ErrorCode::Domain, "step", isNoise ? "nothing but noise" : "a run that does not bend",
                    "a stretch that begins at a step and lasts two time constants");
    return approach;
}

}  // namespace fg
