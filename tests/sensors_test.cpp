#include "sensors/family.h"
#include "sensors/ntc_beta.h"
#include "sensors/steinhart_hart.h"
#include "sensors/straight_line.h"

#include <gtest/gtest.h>
#include <cmath>

namespace fg {
namespace {

// Published R–T table of the 2252 Ω thermistor (curve with R25 = 2252 Ω, R(0)/R(25) = 3.266), rounded there to four
// digits.
constexpr Point kTable[] = {{0, 7355},   {10, 4482},  {20, 2814},  {25, 2252},  {30, 1815},  {40, 1200},
                            {50, 811.3}, {60, 560.3}, {70, 394.5}, {80, 282.7}, {90, 206.1}, {100, 152.8}};

TEST(SteinhartHart, ThreePointsOfAPublishedTableGiveTheOthers) {
    const auto curve = steinhartHartThrough({{0, 7355}, {50, 811.3}, {100, 152.8}}, {0, 100});
    ASSERT_TRUE(curve) << curve.error().message();
    // Published coefficients of this curve: 1.4733e-3, 2.372e-4, 1.074e-7.
    EXPECT_NEAR(curve->a, 1.4733e-3, 3e-6);
    EXPECT_NEAR(curve->b, 2.372e-4, 5e-7);
    EXPECT_NEAR(curve->c, 1.074e-7, 1e-9);
    for (const Point& point : kTable) {
        // Last printed digit up to 0.015 °C, and as much again for points 50 °C apart.
        EXPECT_NEAR(curve->inverse(point[1]), point[0], 0.035) << point[1] << " Ω";
        EXPECT_NEAR(curve->forward(point[0]) / point[1], 1, 1e-3) << point[0] << " °C";
    }
}

TEST(SteinhartHart, RefusesPointsThatAreNoThermistor) {
    const auto says = [](const std::vector<Point>& points) {
        const auto curve = steinhartHartThrough(points, {0, 100});
        return curve ? std::string("accepted") : curve.error().message();
    };
    EXPECT_NE(says({{25, 10000}, {25, 10000}, {25, 10000}}).find("two points at 25 °C"), std::string::npos);
    EXPECT_NE(says({{0, 1000}, {25, 2000}, {50, 3000}}).find("falls as it gets warmer"), std::string::npos);
    EXPECT_NE(says({{0, 7355}, {25, 0}, {50, 811}}).find("above 0 Ω"), std::string::npos);
    EXPECT_NE(says({{0, 7355}, {25, 2252}}).find("three points"), std::string::npos);
    EXPECT_NE(says({{-300, 7355}, {25, 2252}, {50, 811}}).find("−273.15"), std::string::npos);
    EXPECT_EQ(steinhartHart(1e-3, -1e-4, 1e-7, {0, 1}).error().where, "b");
    EXPECT_EQ(steinhartHart(1e-3, 1e-4, -1e-7, {0, 1}).error().where, "c");
}

TEST(NtcBeta, FollowsItsDefinition) {
    const auto ntc = ntcBeta(10000, 3950, 25, {-55, 155});
    ASSERT_TRUE(ntc);
    EXPECT_DOUBLE_EQ(ntc->forward(25), 10000);
    EXPECT_NEAR(ntc->inverse(2443.8), 60.484,
                5e-4);  // worked in shared figures of the glue pot, by hand from the equation
    // B is defined by two resistances: B = ln(R1/R2)/(1/T1 − 1/T2), whatever the two temperatures are.
    const double beta = std::log(ntc->forward(0) / ntc->forward(100)) / (1 / 273.15 - 1 / 373.15);
    EXPECT_NEAR(beta, 3950, 1e-9);
    // Temperature coefficient −B/T² at 25 °C, against a finite difference.
    const double slope = (ntc->forward(25.001) - ntc->forward(24.999)) / 0.002 / 10000;
    EXPECT_NEAR(slope, -3950 / (298.15 * 298.15), 1e-8);
}

TEST(NtcBeta, HasNoValueOutsideItsDomain) {
    const auto ntc = ntcBeta(10000, 3950, 25, {-55, 155}).value();
    EXPECT_TRUE(std::isnan(ntc.inverse(0)));
    EXPECT_TRUE(std::isnan(ntc.inverse(-1)));
    EXPECT_TRUE(std::isnan(ntc.forward(-273.15)));
    EXPECT_TRUE(std::isnan(ntc.inverse(std::nan(""))));
    EXPECT_EQ(ntcBeta(-1, 3950, 25, {0, 1}).error().where, "r25_ohm");
    EXPECT_EQ(ntcBeta(1, 0, 25, {0, 1}).error().where, "beta_K");
    EXPECT_EQ(ntcBeta(1, INFINITY, 25, {0, 1}).error().code, ErrorCode::Range);
}

TEST(StraightLine, MatchesThePublishedPointsOfTheParts) {
    struct Published {
        double slope, offset, temperature, voltage;
    };
    // Front pages of the part's data sheets.
    constexpr Published published[] = {
        {0.01, 0, 150, 1.5},   {0.01, 0, 25, 0.25},   {0.01, 0, -55, -0.55},   // lm35
        {0.01, 0, 25, 0.25},                                                   // tmp35
        {0.01, 0.5, 25, 0.75}, {0.01, 0.5, -40, 0.1}, {0.01, 0.5, 125, 1.75},  // tmp36
        {0.02, 0, 25, 0.5},    {0.02, 0, 100, 2.0},                            // tmp37
    };
    const SensorFamily* linear = findSensorFamily("linear-voltage");
    const SensorContext context{Quantity::Temperature, {-55, 150}, 0};
    for (const Published& p : published) {
        const auto line = linear->make({{"slope_V_per_degC", p.slope}, {"offset_V", p.offset}}, context).value();
        EXPECT_NEAR(line->forward(p.temperature), p.voltage, 1e-12);
        EXPECT_NEAR(line->inverse(p.voltage), p.temperature, 1e-9);
    }
    EXPECT_EQ(linear->make({{"slope_V_per_degC", 0.0}, {"offset_V", 1.0}}, context).error().where, "slope_V_per_degC");
}

TEST(SensorFamilies, RoundTripWithinANanoOfTheSpan) {
    const std::pair<const char*, Parameters> sensors[] = {
        {"linear-voltage", {{"slope_V_per_degC", -0.0109}, {"offset_V", 2.103}}},
        {"ntc-beta", {{"r25_ohm", 10000.0}, {"beta_K", 3435.0}}},
        {"steinhart-hart", {{"a", 1.4733e-3}, {"b", 2.372e-4}, {"c", 1.074e-7}}},
        {"steinhart-hart", {{"a", 1.0e-3}, {"b", 2.5e-4}, {"c", 0.0}}},
        {"steinhart-hart-points", {{"points_degC_ohm", std::vector<Point>{{0, 7355}, {25, 2252}, {100, 152.8}}}}},
    };
    constexpr Interval span{-55, 150};
    for (const auto& [id, parameters] : sensors) {
        const auto sensor = findSensorFamily(id)->make(parameters, {Quantity::Temperature, span, 0});
        ASSERT_TRUE(sensor) << id << sensor.error().message();
        double before = (*sensor)->forward(span.low - 1);
        for (double t = span.low; t <= span.high; t += 0.37) {
            const double signal = (*sensor)->forward(t);
            EXPECT_NEAR((*sensor)->inverse(signal), t, 1e-9 * span.width()) << id;
            EXPECT_EQ(signal > before, (*sensor)->isRising()) << id << " at " << t;
            before = signal;
        }
        // The last line of either explanation is the value itself.
        EXPECT_DOUBLE_EQ((*sensor)->explainForward(40).back().value, (*sensor)->forward(40)) << id;
        EXPECT_DOUBLE_EQ((*sensor)->explainInverse((*sensor)->forward(40)).back().value,
                         (*sensor)->inverse((*sensor)->forward(40)))
            << id;
    }
}

TEST(SensorFamilies, WhatTheyAreConfusedWithIsThere) {
    for (const SensorFamily& family : sensorFamilies())
        for (const std::string_view other : family.confusedWith) {
            const SensorFamily* there = findSensorFamily(other);
            ASSERT_TRUE(there) << family.id << ": " << other;
            EXPECT_NE(there->id, family.id);
        }
}

TEST(SensorFamilies, MissingParametersAreNamed) {
    const SensorContext context{Quantity::Temperature, {0, 1}, 0};
    EXPECT_EQ(findSensorFamily("ntc-beta")->make({{"r25_ohm", 1e4}}, context).error().where, "beta_K");
    EXPECT_EQ(findSensorFamily("linear-voltage")->make({}, context).error().where, "slope_V_per_degC");
    EXPECT_EQ(
        findSensorFamily("ntc-beta")->make({{"r25_ohm", std::string("many")}, {"beta_K", 1.0}}, context).error().code,
        ErrorCode::Missing);
    EXPECT_EQ(findSensorFamily("no-such"), nullptr);
}

TEST(StraightLine, RatiometricPartsFollowTheirSupply) {
    const Parameters parameters{{"slope_V_per_percent", 0.03}, {"offset_V", 0.8}, {"ratiometric_at_V", 5.0}};
    const auto at4 = findSensorFamily("linear-voltage")->make(parameters, {Quantity::RelativeHumidity, {0, 100}, 4.0});
    ASSERT_TRUE(at4);
    EXPECT_NEAR((*at4)->forward(50), (0.8 + 1.5) * 4 / 5, 1e-12);
    EXPECT_FALSE(findSensorFamily("linear-voltage")->make(parameters, {Quantity::RelativeHumidity, {0, 100}, 0}));
}

}  // namespace
}  // namespace fg
