// Every analog family against a published point of its standard or data sheet, and a round trip over its span through
// the part's own entry.

#include "path/default_gauge.h"
#include "sensors/family.h"
#include "sensors/platinum.h"
#include "sensors/power_law.h"
#include "sensors/quadratic.h"
#include "sensors/table.h"
#include "sensors/typed_expression.h"
#include "sensors/user_function.h"
#include "support.h"
#include "uncertainty/budget.h"
#include "wiring/kind.h"

#include <cmath>

namespace fg {
namespace {

using test::sensorOf;

// IEC 60751:2008, table 1, rounded there to 0.01 Ω.
TEST(Platinum, MatchesTheTableOfTheStandard) {
    constexpr Point table[] = {{-200, 18.52}, {-150, 39.72}, {-100, 60.26}, {-50, 80.31},  {0, 100},
                               {50, 119.40},  {100, 138.51}, {150, 157.33}, {200, 175.86}, {300, 212.05},
                               {400, 247.09}, {600, 313.71}, {850, 390.48}};
    const Platinum pt100 = platinum(100, {-200, 850}).value();
    const Platinum pt1000 = platinum(1000, {-200, 850}).value();
    for (const Point& point : table) {
        EXPECT_NEAR(pt100.forward(point[0]), point[1], 0.0051) << point[0];
        EXPECT_NEAR(pt1000.forward(point[0]), 10 * point[1], 0.051) << point[0];
        EXPECT_NEAR(pt100.inverse(point[1]), point[0], 0.018)
            << point[1];  // half of the last digit over 0.29 Ω/°C at 850 °C
    }
    for (double t = -200; t <= 850; t += 0.7) EXPECT_NEAR(pt100.inverse(pt100.forward(t)), t, 1e-9);
    EXPECT_TRUE(std::isnan(pt100.forward(-260)));
    EXPECT_TRUE(std::isnan(pt100.inverse(500)));
    EXPECT_TRUE(std::isnan(pt100.inverse(-5)));
    EXPECT_FALSE(platinum(0, {0, 1}));
}

TEST(Platinum, ClassesAreThoseOfTheStandard) {
    // Tolerances at 100 °C: AA 0.27, A 0.35, B 0.8, C 1.6 °C.
    EXPECT_NEAR(test::catalogue().findPart("pt100-aa")->accuracyAt(100).value(), 0.27, 1e-12);
    EXPECT_NEAR(test::catalogue().findPart("pt100-a")->accuracyAt(-100).value(), 0.35, 1e-12);
    EXPECT_NEAR(test::catalogue().findPart("pt100")->accuracyAt(100).value(), 0.8, 1e-12);
    EXPECT_NEAR(test::catalogue().findPart("pt1000-c")->accuracyAt(100).value(), 1.6, 1e-12);
    EXPECT_FALSE(test::catalogue().findPart("pt100-aa")->accuracyAt(300));
}

// IEC 60584-1:2013, table 12: class 1 of type K is 1.5 °C to 375 °C and 0.004·|t| above; class 3 2.5 °C down to −167 °C
// and 0.015·|t| below.
TEST(Thermocouples, ClassesAreThoseOfTheStandard) {
    const auto limit = [](const char* part, double t) {
        return test::catalogue().findPart(part)->accuracyAt(t).value_or(-1);
    };
    EXPECT_NEAR(limit("thermocouple-k-class-1", 100), 1.5, 1e-12);
    EXPECT_NEAR(limit("thermocouple-k-class-1", 500), 2.0, 1e-12);
    EXPECT_NEAR(limit("thermocouple-t-class-1", 300), 1.2, 1e-12);
    EXPECT_NEAR(limit("thermocouple-e-class-1", 700), 2.8, 1e-12);
    EXPECT_NEAR(limit("thermocouple-k-class-3", -200), 3.0, 1e-12);
    EXPECT_NEAR(limit("thermocouple-t-class-3", -150), 2.25, 1e-12);
    EXPECT_NEAR(limit("thermocouple-b-class-3", 1000), 5.0, 1e-12);
    EXPECT_EQ(limit("thermocouple-k-class-3", 100), -1);
}

struct PublishedPoint {
    const char* part;
    double measurand;  // canonical
    double output;
    double tolerance;
    double supply_V;
};

void PrintTo(const PublishedPoint& point, std::ostream* out) { *out << point.part << " at " << point.measurand; }

class PartMatches : public testing::TestWithParam<PublishedPoint> {};

TEST_P(PartMatches, ItsDataSheet) {
    const PublishedPoint& p = GetParam();
    EXPECT_NEAR(sensorOf(p.part, p.supply_V)->forward(p.measurand), p.output, p.tolerance);
}

// Printed values: front pages, transfer tables and end points of the data sheets; the mpx parts from offset and
// full-scale output.
INSTANTIATE_TEST_SUITE_P(
    Points, PartMatches,
    testing::Values(PublishedPoint{"lm34", (77 - 32) / 1.8, 0.77, 1e-9, 5},
                    PublishedPoint{"lm34", (212 - 32) / 1.8, 2.12, 1e-9, 5},
                    PublishedPoint{"mcp9700", 0, 0.5, 1e-9, 3.3}, PublishedPoint{"mcp9701", 0, 0.4, 1e-9, 5},
                    PublishedPoint{"mcp9701", 100, 2.35, 1e-9, 5}, PublishedPoint{"lm335", 25, 2.982, 1e-3, 5},
                    PublishedPoint{"ad590", 25, 298.2e-6, 0.06e-6, 5}, PublishedPoint{"kty81-110", 0, 815, 0.6, 5},
                    PublishedPoint{"kty81-110", 100, 1696, 0.6, 5}, PublishedPoint{"kty81-110", 25, 1000, 1e-9, 5},
                    PublishedPoint{"mpx5010", 0, 0.2, 1e-9, 5}, PublishedPoint{"mpx5010", 10e3, 4.7, 1e-9, 5},
                    PublishedPoint{"mpx5100", 100e3, 4.7, 1e-9, 5}, PublishedPoint{"mpx5050", 50e3, 4.7, 1e-9, 5},
                    PublishedPoint{"mpx4115a", 15e3, 0.204, 1e-9, 5.1},
                    PublishedPoint{"mpx4115a", 115e3, 4.794, 1e-9, 5.1},
                    PublishedPoint{"mpx4250a", 20e3, 0.204, 1e-9, 5.1},
                    PublishedPoint{"mpx4250a", 250e3, 4.896, 1e-9, 5.1}, PublishedPoint{"hih4000", 0, 0.8, 1e-9, 5}));

TEST(HumidityCompensated, FollowsTheTemperatureFormula) {
    // By hand: sensor RH = 50·(1.0546 − 0.00216·t), U = 5·(0.0062·RHs + 0.16).
    EXPECT_NEAR(sensorOf("hih4000", 5)->forward(50), 5 * (0.0062 * 50 * (1.0546 - 0.00216 * 25) + 0.16), 1e-12);
    EXPECT_NEAR(sensorOf("hih4000", 5, {{"temperature_degC", 60.0}})->forward(50),
                5 * (0.0062 * 50 * (1.0546 - 0.00216 * 60) + 0.16), 1e-12);
    // 35 °C of ignorance is worth three percent of reading and more.
    EXPECT_GT(sensorOf("hih4000", 5, {{"temperature_degC", 60.0}})->inverse(2.5) - sensorOf("hih4000", 5)->inverse(2.5),
              3);
}

TEST(EveryPart, RoundTripsOverItsSpanAndExplainsItself) {
    std::size_t shorter = 0;
    for (const Part& part : test::catalogue().parts()) {
        const GaugeSpec spec = defaultGauge(part);
        const AnalogPath path = test::pathOf(spec);
        const Interval span = spec.spanCanonical();
        const Transfer& sensor = path.sensor();
        int places = 0;
        for (int i = 1; i < 40; ++i) {
            const double x = span.low + span.width() * i / 40;
            const double y = sensor.forward(x);
            if (std::isnan(y)) continue;  // a suggested table may be shorter than the usual span
            ++places;
            EXPECT_NEAR(sensor.inverse(y), x, 1e-9 * span.width()) << part.id << " at " << x;
            EXPECT_EQ(sensor.forward(x + span.width() / 500) > y, sensor.isRising()) << part.id << " at " << x;
        }
        EXPECT_GE(places, 10) << part.id;
        shorter += places < 39 ? 1 : 0;
        const double middle = (span.low + span.high) / 2;
        ASSERT_FALSE(std::isnan(sensor.forward(middle))) << part.id;
        EXPECT_DOUBLE_EQ(sensor.explainForward(middle).back().value, sensor.forward(middle)) << part.id;
        EXPECT_DOUBLE_EQ(sensor.explainInverse(sensor.forward(middle)).back().value,
                         sensor.inverse(sensor.forward(middle)))
            << part.id;
    }
    EXPECT_LE(shorter, 6u);  // the rest were tried over all of their span
}

TEST(CurrentLoop, SpansFourToTwentyMilliamperes) {
    const auto transmitter = sensorOf("pressure-4-20ma", 24, {{"low_Pa", 0.0}, {"high_Pa", 1e6}});
    EXPECT_NEAR(transmitter->forward(0), 0.004, 1e-15);
    EXPECT_NEAR(transmitter->forward(1e6), 0.020, 1e-15);
    EXPECT_NEAR(transmitter->inverse(0.012), 5e5, 1e-6);
    const Part& part = *test::catalogue().findPart("pressure-4-20ma");
    EXPECT_EQ(findSensorFamily(part.family)
                  ->make({{"low_Pa", 5.0}, {"high_Pa", 5.0}}, {Quantity::Pressure, {}, 0})
                  .error()
                  .where,
              "high_Pa");
}

TEST(PowerLaw, GammaIsDefinedByTenAndAHundredLux) {
    const PowerLaw cell = powerLawThrough(10, 15000, 100, 3000, {0.1, 1e4}).value();
    EXPECT_NEAR(cell.gamma, std::log10(15000.0 / 3000), 1e-12);
    EXPECT_NEAR(cell.r10, 15000, 1e-9);
    EXPECT_NEAR(cell.forward(100), 3000, 1e-9);
    EXPECT_NEAR(powerLawThrough(100, 3000, 10, 15000, {}).value().gamma, cell.gamma, 1e-12);
    EXPECT_TRUE(std::isnan(cell.forward(0)));
    EXPECT_TRUE(std::isnan(cell.inverse(-1)));
    EXPECT_NE(powerLawThrough(10, 3000, 100, 15000, {}).error().message().find("falls as it gets brighter"),
              std::string::npos);
    EXPECT_FALSE(powerLawThrough(10, 3000, 10, 15000, {}));
    EXPECT_FALSE(powerLaw(1000, 0, {}));
}

// The 2252 Ω thermistor's published table read between its points, against the points left out.
TEST(Table, ThermistorTableInterpolatesAsThermistorsRun) {
    const Table table =
        tableThrough(
            {{0, 7355}, {20, 2814}, {25, 2252}, {30, 1815}, {50, 811.3}, {70, 394.5}, {90, 206.1}, {100, 152.8}},
            Quantity::Temperature, Quantity::Resistance, Interpolation::Thermistor, "t")
            .value();
    for (const Point& left : {Point{10, 4482}, Point{40, 1200}, Point{60, 560.3}, Point{80, 282.7}})
        EXPECT_NEAR(table.inverse(left[1]), left[0], 0.12) << left[0];
    EXPECT_DOUBLE_EQ(table.forward(25), 2252);
    EXPECT_TRUE(std::isnan(table.forward(101)));  // nothing is known there
    EXPECT_TRUE(std::isnan(table.inverse(100)));
    EXPECT_FALSE(table.isRising());
}

TEST(Table, LinearTableAndWhatIsNoTable) {
    const Table table = tableThrough({{50, 2.5}, {0, 0.5}, {100, 3.5}}, Quantity::Temperature, Quantity::Voltage,
                                     Interpolation::Linear, "table_V")
                            .value();
    EXPECT_DOUBLE_EQ(table.forward(25), 1.5);
    EXPECT_DOUBLE_EQ(table.inverse(3.0), 75);
    const auto says = [](std::vector<Point> points) {
        return tableThrough(std::move(points), Quantity::Temperature, Quantity::Voltage, Interpolation::Linear,
                            "table_V")
            .error()
            .message();
    };
    EXPECT_NE(says({}).find("0 points"), std::string::npos);
    EXPECT_NE(says({{0, 1}, {0, 2}}).find("two points at 0"), std::string::npos);
    EXPECT_NE(says({{0, 1}, {10, 2}, {20, 1.5}}).find("1.5 at 20 after 2 at 10"), std::string::npos);
    EXPECT_NE(says({{0, 1}, {10, 1}}).find("table_V"), std::string::npos);
    EXPECT_FALSE(tableThrough({{0, 1000}, {10, -5}}, Quantity::Temperature, Quantity::Resistance,
                              Interpolation::Thermistor, "t"));
}

// Three values of a data sheet: through their mean, with the slope of the normal equations.
TEST(LineThroughPoints, OfMoreThanTwoIsTheLeastSquaresLine) {
    const SensorContext context{Quantity::Temperature, {-40, 125}, 0};
    Parameters points;
    points.set("points_V", std::vector<std::array<double, 2>>{{0, 0.300}, {50, 0.363}, {100, 0.420}});
    const auto made = findSensorFamily("line-through-points")->make(points, context).value();
    EXPECT_NEAR(made->forward(50), (0.300 + 0.363 + 0.420) / 3, 1e-12);  // through the mean
    EXPECT_NEAR(made->forward(100) - made->forward(0), 0.120, 1e-12);  // Σ(x − x̄)y/Σ(x − x̄)² = 6/5000 a degree
    points.set("points_V", std::vector<std::array<double, 2>>{{0, 0.300}});
    EXPECT_FALSE(findSensorFamily("line-through-points")->make(points, context));
}

TEST(UserFunction, PolynomialAndExpressionAgreeAndComeBack) {
    const SensorContext context{Quantity::Temperature, {0, 100}, 0};
    const auto made =
        findSensorFamily("polynomial-voltage")->make({{"c0_V", 0.5}, {"c1_V", 0.01}, {"c2_V", 2e-5}}, context).value();
    const auto typed = userExpression("0.5 + 0.01*x + 2e-5*x^2", Quantity::Temperature, {0, 100}).value();
    const Transfer &polynomial = *made, &expression = *typed;
    for (double x = 0; x <= 100; x += 3.7) {
        EXPECT_NEAR(polynomial.forward(x), 0.5 + 0.01 * x + 2e-5 * x * x, 1e-14);
        EXPECT_NEAR(expression.forward(x), polynomial.forward(x), 1e-14);
        EXPECT_NEAR(expression.inverse(expression.forward(x)), x, 1e-9);
    }
    EXPECT_TRUE(std::isnan(polynomial.inverse(9)));
}

/// What is typed is a formula like any other: its values by hand (x = 2), its steps printed, its slope exact.
TEST(UserFunction, WhatIsTypedIsRecorded) {
    const auto at2 = [](const std::string& text) { return TypedExpression::read(text)->at(2.0); };
    EXPECT_EQ(at2("-2^2 + x"), -2);     // a sign binds less than a power
    EXPECT_EQ(at2("2^3^2 * x"), 1024);  // powers from the right
    EXPECT_EQ(at2("2^-1 + x"), 2.5);
    EXPECT_EQ(at2("10 - x - 3"), 5);
    EXPECT_EQ(at2("x < 3 ? 10 : 20"), 10);
    EXPECT_EQ(at2("x >= 3 ? 10 : x > 1 ? 4 : 5"), 4);
    EXPECT_NEAR(at2("log10(100*x) + ln(_e) + log2(8)"), 6.301029995663981, 1e-14);
    EXPECT_EQ(at2("abs(-x) + min(x, 1) + max(1, 7)"), 10);
    EXPECT_EQ(at2(" ( 1 + x ) * .5e1 "), 15);
    for (const std::string& text : {std::string("sin(x)"), std::string("x +"), std::string("x 2"), std::string("(x"),
                                    std::string(100'000, '(') + "x", std::string(100'000, '-') + "x"})
        EXPECT_FALSE(TypedExpression::read(text)) << text.substr(0, 20);
    const auto isRecorded = [](const std::string& text) {
        const auto made = userExpression(text, Quantity::Temperature, {1, 20}).value();
        Recording in;
        const Recorded y = made->recordForward(in, 2);
        return in.at(y.indexIn(in)).op == Op::Step && in.at(in.at(y.indexIn(in)).operands[0]).op != Op::Call;
    };
    for (const char* text : {"-2^2 + x", "2^3^2*x", "x*x^0.5", "x < 3 ? x : 2*x - 3", "2.5*exp(-x/40)", "log10(x)"})
        EXPECT_TRUE(isRecorded(text)) << text;
    EXPECT_FALSE(isRecorded("sin(x/20)"));
    const Dual slope = userExpression("0.5 + 0.01*x + 2e-5*x^2", Quantity::Temperature, {0, 100})
                           .value()
                           ->forwardWith(std::span<const Dual>(), Dual{40, 1});
    EXPECT_NEAR(slope.slope, 0.01 + 4e-5 * 40, 1e-15);
}

TEST(UserFunction, RefusesWhatCannotBeTurnedRound) {
    const auto says = [](const std::string& text) {
        const auto made = userExpression(text, Quantity::Temperature, {-10, 100});
        return made ? std::string("accepted") : made.error().message();
    };
    EXPECT_NE(says("1/x").find("near 0.0"), std::string::npos) << says("1/x");  // divides by zero inside the range
    EXPECT_NE(says("log(x)").find("no value at −10"), std::string::npos) << says("log(x)");
    EXPECT_NE(says("x^2").find("near 0."), std::string::npos) << says("x^2");
    EXPECT_NE(says("2 +").find("expression"), std::string::npos);
    EXPECT_NE(says("y + 1").find("y"), std::string::npos);
    EXPECT_NE(says("").find("expression"), std::string::npos);
    EXPECT_NE(says("0,5+0,01*x").find("3 values between commas"), std::string::npos) << says("0,5+0,01*x");
    EXPECT_EQ(says("min(x, 200)"), "accepted");  // a comma inside a function separates its arguments
    EXPECT_NE(says("5").find("stands still"), std::string::npos);
    EXPECT_FALSE(findSensorFamily("polynomial-voltage")->make({{"c0_V", 1.0}}, {Quantity::Temperature, {0, 1}, 0}));
    EXPECT_FALSE(userExpression("x", Quantity::Temperature, {5, 5}));
}

TEST(Quadratic, FallingParabolaByHand) {
    const Quadratic curve = quadratic(1, -0.01, -2e-5, 30, {-50, 150}).value();
    EXPECT_NEAR(curve.forward(80), 1 - 0.5 - 0.05, 1e-15);   // d = 50
    EXPECT_NEAR(curve.forward(-20), 1 + 0.5 - 0.05, 1e-15);  // d = −50
    EXPECT_NEAR(curve.inverse(0.45), 80, 1e-12);
    EXPECT_NEAR(curve.inverse(1.45), -20, 1e-12);
    EXPECT_TRUE(std::isnan(curve.inverse(3)));  // above the vertex at d = −250
}

TEST(Quadratic, RefusesAParabolaThatTurnsInsideItsRange) {
    EXPECT_TRUE(quadratic(1, 0.01, -1e-5, 25, {-50, 150}));
    EXPECT_EQ(quadratic(1, 0.01, -1e-3, 25, {-50, 150}).error().where, "curvature");
    EXPECT_EQ(quadratic(1, 0, 1, 25, {-50, 150}).error().where, "slope");
}

TEST(Networks, FollowOhmsLaw) {
    const auto made = [](const char* kind, const Parameters& parameters) {
        return std::move(*findWiringKind(kind)->make(parameters, {3.3}));
    };
    EXPECT_NEAR(made("load", {{"load_ohm", 10e3}})->forward(298.15e-6), 2.9815, 1e-12);
    EXPECT_NEAR(made("load", {{"load_ohm", 150.0}})->forward(0.020), 3.0, 1e-12);
    EXPECT_NEAR(made("transimpedance", {{"feedback_ohm", 1e6}})->forward(1e-6), 1.0, 1e-12);
    EXPECT_NEAR(made("attenuator", {{"top_ohm", 10e3}, {"bottom_ohm", 20e3}})->forward(4.5), 3.0, 1e-12);
    EXPECT_NEAR(made("amplifier", {{"gain", 20.0}, {"offset_V", 0.5}})->forward(0.1), 2.5, 1e-12);
    EXPECT_NEAR(made("amplifier", {{"gain", 20.0}, {"offset_V", 0.5}})->inverse(2.5), 0.1, 1e-12);
    EXPECT_NEAR(made("current-source", {{"excitation_A", 1e-3}})->forward(138.51), 0.13851, 1e-12);
    for (const WiringKind& kind : wiringKinds()) {
        if (kind.parameters().front().id == "source_V") continue;  // nothing of its own
        const auto missing = kind.make({}, {3.3});
        ASSERT_FALSE(missing) << kind.id;
        EXPECT_EQ(missing.error().where.rfind("wiring", 0), 0u) << missing.error().message();
        EXPECT_TRUE(kind.make(startWiring(kind), {3.3})) << kind.id;
        Parameters negative = startWiring(kind);
        negative.set(kind.parameters().front().id, -1.0);
        EXPECT_FALSE(kind.make(negative, {3.3})) << kind.id;
    }
}

TEST(AnalogPath, TransmitterOverAShuntEndToEnd) {
    GaugeSpec spec;
    spec.quantity = Quantity::Pressure;
    spec.sensor = {"pressure-4-20ma", {{"low_Pa", 0.0}, {"high_Pa", 1e6}}};
    spec.wiring = {
        "load", {{"load_ohm", 150.0}, {"load_tolerance", 0.001}, {"source", std::string("rail")}, {"source_V", 24.0}}};
    spec.converter.parameters = {{"bits", 12.0}, {"reference_V", 3.3}};
    spec.reading = {"bar", {0, 10}, 0};
    const Evaluation half = test::pathOf(spec).evaluate({Stage::World, 5e5}).value();
    EXPECT_EQ(half.at(Stage::Converter).value, std::round(1.8 / 3.3 * 4096));  // 12 mA through 150 Ω
    EXPECT_NEAR(half.reading(), 5e5, 1e6 / (2.4 / 3.3 * 4096));
    // 0.1 % of the shunt: 12 mA·0.1 % is 12 µA of 16 mA a megapascal.
    const Budget budget = budgetAt(spec, test::catalogue(), 5e5).value();
    EXPECT_NEAR(budget.contributions.front().limit, 12e-6 / 0.016 * 1e6, 1);
}

// LMT84 … LMT87 data sheets, transfer tables at 30 and 0 °C; LM20 data sheet at 25 and 100 °C; mV.
TEST(Catalogue, CurvedVoltageParts) {
    const auto mV = [](const char* part, double t) { return 1e3 * test::sensorOf(part, 5)->forward(t); };
    EXPECT_NEAR(mV("lmt84", 30), 870.6, 0.5);
    EXPECT_NEAR(mV("lmt84", 0), 1034, 1.5);
    EXPECT_NEAR(mV("lmt87", 30), 2231, 0.5);
    EXPECT_NEAR(mV("lmt87", 0), 2633, 3);
    EXPECT_NEAR(mV("lm20", 25), 1574, 1);
    EXPECT_NEAR(mV("lm20", 100), 675, 1);
}

// KTY81-110 data sheet, resistance table: 2211 Ω or so at 150 °C, where the parabola alone gives 2277.
TEST(SiliconPtc, BendsAboveItsKnee) {
    const auto sensor = test::sensorOf("kty81-110", 5);
    EXPECT_NEAR(sensor->forward(150), 1000 * (1 + 0.007874 * 125 + 1.874e-5 * 125 * 125 - 3.42e-8 * std::pow(50, 3.7)),
                1e-9);
    EXPECT_LT(sensor->forward(150), 2240);
    for (double t = -50; t <= 150; t += 3.1) EXPECT_NEAR(sensor->inverse(sensor->forward(t)), t, 2e-9) << t;
}

TEST(NtcTwoPoints, IsTheBetaOfBoth) {
    const SensorFamily& family = *findSensorFamily("ntc-two-points");
    const SensorContext context{Quantity::Temperature, {-55, 155}, 0};
    const auto ntc = family.make({{"points_degC_ohm", std::vector<Point>{{25, 10000}, {85, 1070}}}}, context);
    ASSERT_TRUE(ntc);
    EXPECT_NEAR((*ntc)->forward(25), 10000, 1e-9);
    EXPECT_NEAR((*ntc)->forward(85), 1070, 1e-9);
    EXPECT_FALSE(family.make({{"points_degC_ohm", std::vector<Point>{{25, 1070}, {85, 10000}}}}, context));
    EXPECT_FALSE(family.make({{"points_degC_ohm", std::vector<Point>{{25, 10000}}}}, context));
}

// 0.5 … 4.5 V of 5 V for 0 … 10 bar; fed with 4.8 V half of the span is half of the supply.
TEST(RatiometricTransmitter, FollowsItsSupply) {
    const SensorFamily& family = *findSensorFamily("ratiometric-transmitter");
    const auto sensor = family.make({{"low_Pa", 0.0}, {"high_Pa", 1e6}}, {Quantity::Pressure, {0, 1e6}, 4.8});
    ASSERT_TRUE(sensor);
    EXPECT_NEAR((*sensor)->inverse(2.4), 5e5, 1e-6);
    EXPECT_EQ(family.make({{"low_Pa", 0.0}, {"high_Pa", 1e6}}, {Quantity::Pressure, {0, 1e6}, 0}).error().code,
              ErrorCode::Missing);
}

// NAMUR NE 43: 3.6 mA and 21 mA are no values.
TEST(CurrentLoop, AFailedLoopHasNoValue) {
    const auto loop = findSensorFamily("current-loop")
                          ->make({{"low_Pa", 0.0}, {"high_Pa", 1e5}}, {Quantity::Pressure, {0, 1e5}, 24})
                          .value();
    EXPECT_NEAR(loop->inverse(0.012), 5e4, 1e-6);
    EXPECT_NEAR(loop->inverse(0.0038), -1250, 1e-6);
    for (const double current : {0.002, 0.0036, 0.021, 0.022}) {
        EXPECT_TRUE(std::isnan(loop->inverse(current))) << current;
        EXPECT_FALSE(loop->refusal(current).empty()) << current;
    }
    EXPECT_TRUE(loop->refusal(0.012).empty());
}

}  // namespace
}  // namespace fg
