// The interval of a sum of distributions against closed forms: rectangle, triangle, trapezium, three rectangles
// (Irwin–Hall), normal.

#include "uncertainty/coverage.h"
#include "support.h"

#include <cmath>

namespace fg {
namespace {

double half(std::vector<double> rectangles, double normal = 0) { return coverageHalfWidth(rectangles, normal); }

TEST(Coverage, ClosedForms) {
    constexpr double out = 1 - kCoverageProbability;  // of both tails together
    EXPECT_NEAR(half({3}), 3 * kCoverageProbability, 1e-9);
    EXPECT_NEAR(half({1, 1}), 2 - 2 * std::sqrt(out), 2e-5);                // P(|X| > x) = (2 − x)²/4
    EXPECT_NEAR(half({2, 0.6}), 2.6 - std::sqrt(out * 4 * 2 * 0.6), 2e-5);  // trapezium: (a + b − x)²/(4ab)
    EXPECT_NEAR(half({1, 1, 1}), 3 - std::cbrt(24 * out), 3e-5);            // Irwin–Hall: (3 − x)³/24
    EXPECT_NEAR(half({}, 0.5), 0.5 * 2.0000024, 4e-5);  // the 97.725 % point of a normal distribution
    EXPECT_EQ(half({}), 0);
    EXPECT_NEAR(half(std::vector<double>(60, 1.0)) / std::sqrt(20.0), 1.9983, 4e-3);  // Cornish–Fisher of 60 alike
}

TEST(Coverage, NeverWiderThanTheSumOfHardLimits) {
    for (const auto& limits : {std::vector<double>{4, 0.1}, {1, 1, 1, 1}, {5, 1e-3, 1e-5}, {1500, 1.3e-14, 217, 54}}) {
        double sum = 0, variance = 0;
        for (const double a : limits) {
            sum += a;
            variance += a * a / 3;
        }
        EXPECT_LE(half(limits), sum);
        EXPECT_LE(half(limits), 2.0 * std::sqrt(variance));
        EXPECT_GE(half(limits), 1.64 * std::sqrt(variance));
        // What is too small to see changes nothing.
        std::vector<double> more = limits;
        more.push_back(1e-12 * sum);
        EXPECT_NEAR(half(more), half(limits), 1e-9 * sum);
    }
    // A narrow normal part hardly widens a rectangle; a wide one takes over.
    EXPECT_NEAR(half({1}, 0.001), kCoverageProbability, 1e-4);
    EXPECT_NEAR(half({0.001}, 1), 2, 1e-4);
    // Continuous where the narrow part changes its treatment.
    EXPECT_NEAR(half({1}, 0.0115), half({1}, 0.0117), 2e-4);
}

}  // namespace
}  // namespace fg
