// A fit of 10,000 points with its leave-one-out errors, covariance and correlation, against the plain solution of the
// same least-squares problem. Ratios of one run.

#include "calibration/fit.h"
#include "ratio.h"

#include <cstdio>
#include <Eigen/Dense>
#include <random>

int main() {
    using namespace fg;
    constexpr Eigen::Index kPoints = 10'000;
    std::mt19937 random(1);
    std::normal_distribution<double> noise(0, 0.1);
    std::vector<Comparison> points;
    Eigen::MatrixXd design(kPoints, 4);
    Eigen::VectorXd y(kPoints);
    for (Eigen::Index i = 0; i < kPoints; ++i) {
        const double x = 0.01 * static_cast<double>(i), reference = 1.01 * x + 0.3 + noise(random);
        points.push_back({x, reference});
        design.row(i) << 1, x - 50, (x - 50) * (x - 50), (x - 50) * (x - 50) * (x - 50);
        y(i) = reference;
    }
    volatile double sink = 0;
    for (const FitKind kind : {FitKind::Line, FitKind::Cubic}) {
        const auto count = static_cast<Eigen::Index>(coefficientsOf(kind));
        const double times = bench::ratio(
            [&] { sink = fitCurve(kind, points, 50, false, canonicalUnit(Quantity::Temperature))->leaveOneOutRms; },
            [&] {
                const Eigen::MatrixXd columns = design.leftCols(count);
                sink = Eigen::VectorXd(columns.colPivHouseholderQr().solve(y))(0);
            },
            15);
        std::printf("fit of %ld points, %s, with leave-one-out: %.1f times the plain fit (wanted: below 20)\n",
                    static_cast<long>(kPoints), std::string(fitName(kind)).c_str(), times);
    }
    return 0;
}
