// Functions laid down once and read often: against closed forms and against a plain search.

#include "numeric/bracketed.h"
#include "numeric/polyline.h"
#include "path/default_gauge.h"
#include "support.h"

#include <cmath>
#include <cstring>
#include <random>

namespace fg {
namespace {

TEST(InverseTable, AgreesWithTheClosedFormOverTheWholeRange) {
    // y = 2.5·exp(−x/40), x = −40·ln(y/2.5): a factor of twelve in slope between the ends.
    const InverseTable table([](double y) { return -40 * std::log(y / 2.5); }, 2.5 * std::exp(-2.5), 2.5);
    for (int i = 0; i <= 10000; ++i) {
        const double x = i * 0.01, y = std::min(2.5, std::max(2.5 * std::exp(-2.5), 2.5 * std::exp(-x / 40)));
        EXPECT_NEAR(table.at(y), x, 2e-11) << x;
    }
    EXPECT_TRUE(std::isnan(table.at(2.5001)));
    EXPECT_TRUE(std::isnan(table.at(0.2)));
    EXPECT_TRUE(std::isnan(table.at(std::nan(""))));
}

TEST(InverseTable, SolvesForEachValueWhereNoPolynomialFits) {
    // The square root begins upright: its first cells must not be guessed.
    const InverseTable table([](double y) { return std::sqrt(y); }, 0, 1);
    for (const double y : {0.0, 1e-12, 1e-6, 0.0007, 0.003, 0.0041, 0.02, 0.5, 1.0})
        EXPECT_NEAR(table.at(y), std::sqrt(y), 1e-13) << y;
}

TEST(Bracketed, FindsTheValueThatTheFunctionWasGiven) {
    const auto cubic =
        Bracketed::make([](double x) { return 1.1038 - 1.9368e-3 * x + 3.0114e-6 * x * x - 3.4403e-8 * x * x * x; },
                        {0, 100}, "c1");
    ASSERT_TRUE(cubic);
    for (double x = 0; x <= 100; x += 0.37) EXPECT_NEAR(cubic->inverse(cubic->forward(x)), x, 1e-10);
    EXPECT_NEAR(cubic->inverse(cubic->forward(0)), 0, 1e-11);
    EXPECT_TRUE(std::isnan(cubic->inverse(1.2)));
}

TEST(Polyline, AgreesWithAPlainSearch) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> step(1e-6, 1), value(-5, 5);
    std::vector<Polyline::Point> points;
    double x = -3;
    for (int i = 0; i < 500; ++i) points.push_back({x += std::pow(step(random), 4) + 1e-9, value(random)});
    const Polyline line(points);
    std::uniform_real_distribution<double> inside(points.front()[0], points.back()[0]);
    for (int i = 0; i < 20000; ++i) {
        const double at = inside(random);
        std::size_t k = 0;
        while (points[k + 1][0] < at) ++k;
        const double wanted =
            std::lerp(points[k][1], points[k + 1][1], (at - points[k][0]) / (points[k + 1][0] - points[k][0]));
        ASSERT_NEAR(line.at(at), wanted, 1e-6) << at;  // segments as short as 1e-9 lose digits of their place
    }
    for (const auto& point : points) EXPECT_EQ(line.at(point[0]), point[1]);
    EXPECT_TRUE(std::isnan(line.at(std::nextafter(points.front()[0], -9))));
    EXPECT_TRUE(std::isnan(line.at(std::nextafter(points.back()[0], 99))));
    EXPECT_TRUE(std::isnan(line.at(std::nan(""))));
}

TEST(Readings, OfABatchAreThoseOfEachCodeToTheLastBit) {
    const Catalogue& catalogue = test::catalogue();
    int paths = 0;
    for (const Part& part : catalogue.parts()) {
        GaugeSpec spec = defaultGauge(part);
        spec.correction = {"line", 0.25, 0.01, 0};
        const auto path = AnalogPath::build(spec, catalogue);
        ASSERT_TRUE(path) << part.id << ": " << path.error().message();
        ++paths;
        std::vector<std::int32_t> codes;
        const auto low = path->converter().minCode(), high = path->converter().maxCode();
        for (std::int64_t i = 0; i <= 3000; ++i)
            codes.push_back(static_cast<std::int32_t>(low + (high - low) * i / 3000));
        const std::vector<double> asDoubles(codes.begin(), codes.end());
        std::vector<double> ofIntegers(codes.size()), ofDoubles(codes.size());
        path->readings(codes, ofIntegers);
        path->readings(asDoubles, ofDoubles);
        for (std::size_t i = 0; i < codes.size(); ++i) {
            const double one = path->reading(codes[i]);
            if (std::isnan(one)) {
                ASSERT_TRUE(std::isnan(ofIntegers[i]) && std::isnan(ofDoubles[i])) << part.id << " code " << codes[i];
            } else {
                ASSERT_EQ(ofIntegers[i], one) << part.id << " code " << codes[i];
                ASSERT_EQ(ofDoubles[i], one) << part.id << " code " << codes[i];
            }
        }
    }
    EXPECT_GE(paths, 50);
}

}  // namespace
}  // namespace fg
