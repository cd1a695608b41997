// Calibration: published regressions, and whether a calibrated gauge tells the truth about itself.

#include "calibration/advice.h"
#include "calibration/apply.h"
#include "calibration/record.h"
#include "calibration/series.h"
#include "calibration/steady.h"
#include "calibration/study.h"
#include "converters/kind.h"
#include "path/correction.h"
#include "path/correction_basis.h"
#include "support.h"
#include "uncertainty/budget.h"
#include "uncertainty/improvements.h"
#include "uncertainty/monte_carlo.h"
#include "wiring/kind.h"

#include <cmath>
#include <random>

namespace fg {
namespace {

const Unit& kCelsius = canonicalUnit(Quantity::Temperature);

std::vector<Comparison> comparisons(std::initializer_list<std::array<double, 2>> xy) {
    std::vector<Comparison> points;
    for (const auto& [x, y] : xy) points.push_back({x, y});
    return points;
}

// NIST StRD, linear least squares, Norris: certified values.
TEST(Fit, CertifiedLine) {
    const auto points =
        comparisons({{0.2, 0.1},     {337.4, 338.8}, {118.2, 118.1}, {884.6, 888.0}, {10.1, 9.2},    {226.5, 228.1},
                     {666.3, 668.5}, {996.3, 998.5}, {448.6, 449.1}, {777.0, 778.9}, {558.2, 559.2}, {0.4, 0.3},
                     {0.6, 0.1},     {775.5, 778.1}, {666.9, 668.8}, {338.0, 339.3}, {447.5, 448.9}, {11.6, 10.8},
                     {556.0, 557.7}, {228.1, 228.3}, {995.8, 998.0}, {887.6, 888.8}, {120.2, 119.6}, {0.3, 0.3},
                     {0.3, 0.6},     {556.8, 557.6}, {339.1, 339.3}, {887.2, 888.0}, {999.0, 998.5}, {779.0, 778.9},
                     {11.1, 10.2},   {118.3, 117.6}, {229.2, 228.9}, {669.1, 668.4}, {448.9, 449.2}, {0.5, 0.2}});
    const auto fit = fitCurve(FitKind::Line, points, 0, false, kCelsius).value();
    EXPECT_NEAR(fit.coefficients[0].value, -0.262323073774029, 1e-12);
    EXPECT_NEAR(fit.coefficients[1].value, 1.00211681802045, 1e-13);
    EXPECT_NEAR(fit.coefficients[0].standard, 0.232818234301152, 1e-12);
    EXPECT_NEAR(fit.coefficients[1].standard, 0.429796848199937e-3, 1e-14);
    EXPECT_NEAR(fit.scatter, 0.884796396144373, 1e-12);
}

// JCGM 100:2008, H.3: the calibration of a thermometer, its results as printed in H.3.3 and H.3.4.
TEST(Fit, TheThermometerOfTheGuide) {
    std::vector<Comparison> points;
    for (const auto& [t, b] : std::initializer_list<std::array<double, 2>>{{21.521, -0.171},
                                                                           {22.012, -0.169},
                                                                           {22.512, -0.166},
                                                                           {23.003, -0.159},
                                                                           {23.507, -0.164},
                                                                           {23.999, -0.165},
                                                                           {24.513, -0.156},
                                                                           {25.002, -0.157},
                                                                           {25.503, -0.159},
                                                                           {26.010, -0.161},
                                                                           {26.511, -0.160}})
        points.push_back({t, t + b});
    const auto fit = fitCurve(FitKind::Line, points, 20, true, kCelsius).value();
    EXPECT_NEAR(fit.coefficients[0].value, -0.1712, 0.00005);
    EXPECT_NEAR(fit.coefficients[0].standard, 0.0029, 0.00005);
    EXPECT_NEAR(fit.coefficients[1].value, 0.00218, 0.000005);
    EXPECT_NEAR(fit.coefficients[1].standard, 0.00067, 0.000005);
    EXPECT_NEAR(fit.correlation[0][1], -0.930, 0.0005);
    EXPECT_NEAR(fit.scatter, 0.0035, 0.00005);
    const Prediction at30 = fit.at(30);
    EXPECT_NEAR(at30.value, -0.1494, 0.00005);
    EXPECT_NEAR(at30.standard, 0.0041, 0.00005);
    // The same line, stated of the reference: the reading and its correction.
    const auto whole = fitCurve(FitKind::Line, points, 20, false, kCelsius).value();
    EXPECT_NEAR(whole.at(30).value, 30 + at30.value, 1e-12);
    EXPECT_NEAR(whole.at(30).standard, at30.standard, 1e-12);
}

// Leaving a point out is the fit without it.
TEST(Fit, LeaveOneOutIsTheFitWithoutThePoint) {
    std::mt19937 random(7);
    std::normal_distribution<double> noise(0, 0.2);
    for (const FitKind kind : {FitKind::Offset, FitKind::Line, FitKind::Quadratic, FitKind::Cubic}) {
        std::vector<Comparison> points;
        for (int i = 0; i < 9; ++i) {
            const double x = 10.0 * i + noise(random);
            points.push_back({x, 1.02 * x + 0.3 + noise(random), 0.1 + 0.02 * i});
        }
        const auto fit = fitCurve(kind, points, 40, false, kCelsius).value();
        for (std::size_t left = 0; left < points.size(); ++left) {
            auto others = points;
            others[left].setAside = "for the test";
            const auto without = fitCurve(kind, others, 40, false, kCelsius).value();
            EXPECT_NEAR(fit.leaveOneOut[left], points[left].reference - without.at(points[left].x).value, 1e-9);
            EXPECT_NEAR(without.residuals[left], fit.leaveOneOut[left], 1e-9);
        }
    }
}

// Curves of known coefficients come back, and predict where they were not asked.
TEST(Fit, FindsTheCurvesThatMadeThePoints) {
    std::vector<Comparison> beta, steinhart, platinum;
    for (const double t : {0.0, 20.0, 40.0, 60.0, 80.0}) {
        const double kelvin = t + 273.15;
        beta.push_back({10000 * std::exp(3950 * (1 / kelvin - 1 / 298.15)), t});
        platinum.push_back({100 * (1 + 3.9083e-3 * t - 5.775e-7 * t * t), t});
    }
    for (const double ohm : {30000.0, 12000.0, 5000.0, 2000.0}) {
        const double lnR = std::log(ohm);
        steinhart.push_back({ohm, 1 / (1.129148e-3 + 2.34125e-4 * lnR + 8.76741e-8 * lnR * lnR * lnR) - 273.15});
    }
    const auto byBeta = fitCurve(FitKind::Beta, beta, 0, false, kCelsius).value();
    EXPECT_NEAR(byBeta.coefficients[0].value, 10000, 1e-6);
    EXPECT_NEAR(byBeta.coefficients[1].value, 3950, 1e-7);
    EXPECT_NEAR(byBeta.at(10000).value, 25, 1e-9);
    const auto bySteinhart = fitCurve(FitKind::SteinhartHart, steinhart, 0, false, kCelsius).value();
    EXPECT_NEAR(bySteinhart.coefficients[0].value, 1.129148e-3, 1e-14);
    EXPECT_NEAR(bySteinhart.coefficients[2].value, 8.76741e-8, 1e-16);
    const auto byPlatinum = fitCurve(FitKind::Callendar, platinum, 0, false, kCelsius).value();
    EXPECT_NEAR(byPlatinum.coefficients[0].value, 100, 1e-9);
    EXPECT_NEAR(byPlatinum.coefficients[1].value, 3.9083e-3, 1e-12);
    EXPECT_NEAR(byPlatinum.coefficients[2].value, -5.775e-7, 1e-13);
    EXPECT_NEAR(byPlatinum.at(138.5055).value, 100, 1e-4);  // IEC 60751, table 1: 138.51 Ω
    EXPECT_EQ(fitCurve(FitKind::Beta, comparisons({{-5, 20}, {100, 30}}), 0, false, kCelsius).error().code,
              ErrorCode::Range);
}

TEST(Fit, RefusesWhatCannotBeFitted) {
    EXPECT_EQ(fitCurve(FitKind::Line, comparisons({{20, 21}}), 0, false, kCelsius).error().code, ErrorCode::Missing);
    EXPECT_EQ(fitCurve(FitKind::Line, comparisons({{20, 21}, {20, 21.2}}), 0, false, kCelsius).error().code,
              ErrorCode::Domain);
    EXPECT_EQ(fitCurve(FitKind::Offset, {}, 0, false, kCelsius).error().code, ErrorCode::Missing);
}

TEST(Advice, RecommendsTheSimplestCurveAndNamesTheOutlier) {
    std::mt19937 random(3);
    std::normal_distribution<double> noise(0, 0.05);
    const auto made = [&](auto curve) {
        std::vector<Comparison> points;
        for (int i = 0; i < 10; ++i) points.push_back({10.0 * i, curve(10.0 * i) + noise(random), 0, "", i + 2u});
        return points;
    };
    const auto kindOf = [](const std::vector<Comparison>& points) {
        return recommendedFit(points, 0, true, kCelsius).value().kind;
    };
    EXPECT_EQ(kindOf(made([](double x) { return x + 0.7; })), FitKind::Offset);
    EXPECT_EQ(kindOf(made([](double x) { return 1.01 * x - 0.2; })), FitKind::Line);
    EXPECT_EQ(kindOf(made([](double x) { return x + 0.0004 * (x - 40) * (x - 40); })), FitKind::Quadratic);
    auto points = made([](double x) { return 1.01 * x; });
    points[4].reference += 2;
    const auto fit = fitCurve(FitKind::Line, points, 0, false, kCelsius).value();
    const auto findings = calibrationFindings(points, fit, {});
    const auto outlier =
        std::find_if(findings.begin(), findings.end(), [](const Finding& one) { return one.id == "outlier"; });
    ASSERT_NE(outlier, findings.end());
    EXPECT_NE(outlier->detail.find("line 6"), std::string::npos) << outlier->detail;
    // A curve that turns round is a fault.
    const auto turning = comparisons({{0, 0}, {10, 12}, {20, 14}, {30, 8}});
    const auto bent = fitCurve(FitKind::Quadratic, turning, 0, false, kCelsius).value();
    EXPECT_EQ(calibrationFindings(turning, bent, {}).front().id, "not-monotonic");
}

TEST(Series, NoiseDriftAndNeighbours) {
    // Five readings by hand: mean 20.2, squares of differences 0.04 + 0.01 + 0 + 0.01 + 0.04.
    const std::array five{20.0, 20.1, 20.2, 20.3, 20.4};
    const auto small = statisticsOf(five).value();
    EXPECT_DOUBLE_EQ(small.mean, 20.2);
    EXPECT_NEAR(small.deviation, std::sqrt(0.1 / 4), 1e-12);
    EXPECT_NEAR(small.drift, 0.1, 1e-12);
    std::mt19937 random(11);
    std::normal_distribution<double> noise(0, 1);
    std::vector<double> white, red;
    double last = 0;
    for (int i = 0; i < 4000; ++i) {
        white.push_back(5 + noise(random));
        red.push_back(5 + (last = 0.8 * last + noise(random)));
    }
    const auto plain = statisticsOf(white).value(), alike = statisticsOf(red).value();
    EXPECT_TRUE(plain.isWhite);
    EXPECT_NEAR(plain.meanStandard, 1 / std::sqrt(4000.0), 0.001);
    EXPECT_FALSE(alike.isWhite);
    EXPECT_NEAR(alike.neighbours, 0.8, 0.05);
    // An autoregressive process of 0.8: σ = 1/√(1 − 0.64), its mean scatters by 1/(1 − 0.8)/√n.
    EXPECT_NEAR(alike.meanStandard, 5 / std::sqrt(4000.0), 0.012);
    EXPECT_EQ(statisticsOf(std::array{1.0}).error().code, ErrorCode::Missing);
}

/// A gauge, the piece of it that a maker may hold, and its comparisons with a reference that has errors of its own.
struct Workshop {
    GaugeSpec spec;
    std::vector<double> places;
    double shared = 0.05, own = 0.03;
    Interval tried;
};

/// Every toleranced parameter somewhere within its limits.
GaugeSpec pieceOf(const GaugeSpec& spec, std::mt19937_64& random) {
    std::uniform_real_distribution<double> within(-1, 1);
    GaugeSpec piece = spec;
    const auto part = test::catalogue().partOrFamily(spec.sensor.part, spec.quantity).value();
    const auto move = [&](Parameters& own, const std::vector<ParameterSpec>& specs, const Parameters& effective) {
        for (const ParameterSpec& one : specs) {
            const double tolerance = one.toleranceId.empty() ? 0 : effective.numberOr(one.toleranceId, 0);
            const double value = effective.numberOr(one.id, one.defaultValue.value_or(0));
            if (tolerance > 0)
                own.set(one.id, one.tolerance == ToleranceKind::Relative ? value * (1 + tolerance * within(random))
                                                                         : value + tolerance * within(random));
        }
    };
    move(piece.sensor.parameters, findSensorFamily(part.family)->parameters(spec.quantity),
         spec.sensor.parameters.over(part.parameters));
    move(piece.wiring.parameters, findWiringKind(spec.wiring.kind)->parameters(), spec.wiring.parameters);
    move(piece.converter.parameters, findConverterKind(spec.converter.kind)->parameters(), spec.converter.parameters);
    piece.correction = {};
    return piece;
}

/// The share of readings whose stated interval holds the truth.
double coverage(const Workshop& shop, const std::function<Expected<GaugeSpec>(const PointsFile&)>& calibrate,
                bool byResistance, std::uint64_t seed) {
    std::mt19937_64 random(seed);
    std::normal_distribution<double> normal;
    const auto plain = AnalogPath::build(shop.spec, test::catalogue()).value();
    int held = 0, count = 0;
    for (int piece = 0; piece < 2000; ++piece) {
        const auto hardware = AnalogPath::build(pieceOf(shop.spec, random), test::catalogue()).value();
        PointsFile points;
        points.unit = &kCelsius;
        points.isResistance = byResistance;
        const double bias = shop.shared * normal(random);
        for (const double place : shop.places) {
            // Steady and averaged: no quantisation is left in the comparison.
            const double code = hardware.exactCode(place);
            const double reference = place + bias + shop.own * normal(random);
            const double ohm = plain.sensor().forward(plain.reading(code));
            points.points.push_back({byResistance ? ohm : plain.reading(code), reference, shop.own});
        }
        const auto spec = calibrate(points);
        if (!spec) continue;
        const auto gauge = AnalogPath::build(*spec, test::catalogue());
        EXPECT_TRUE(gauge) << gauge.error().message();
        if (!gauge) return 0;
        const double world = std::uniform_real_distribution<double>(shop.tried.low, shop.tried.high)(random);
        const double reading = gauge->reading(std::floor(hardware.exactCode(world) + 0.5));
        const auto budget = budgetOf(*spec, test::catalogue(), *gauge, reading);
        EXPECT_TRUE(budget) << budget.error().message();
        if (!budget) return 0;
        ++count;
        held += std::abs(reading - world) <= budget->expanded ? 1 : 0;
    }
    EXPECT_GE(count, 1990);
    return static_cast<double>(held) / count;
}

GaugeSpec thermistor() {
    GaugeSpec spec = test::gluePot();
    spec.correction = {};
    spec.converter.parameters.set("error_LSB", 0.0);
    return spec;
}

TEST(Calibrated, StatedIntervalsHoldTheTruth) {
    const Workshop line{thermistor(), {25, 45, 65, 85}, 0.05, 0.03, {25, 85}};
    const auto by = [](const Workshop& shop, FitKind kind) {
        return [&shop, kind](const PointsFile& points) {
            return calibrated(shop.spec, test::catalogue(), kind, points, 55, {shop.shared, "", ""});
        };
    };
    const double ofLine = coverage(line, by(line, FitKind::Line), false, 1);
    EXPECT_GE(ofLine, 0.93);
    EXPECT_LE(ofLine, 0.97);
    // One offset at one point, read far from it: the tolerance of the slope is still there.
    const Workshop offset{thermistor(), {60}, 0.05, 0.03, {25, 85}};
    const double ofOffset = coverage(offset, by(offset, FitKind::Offset), false, 2);
    EXPECT_GE(ofOffset, 0.93);
    EXPECT_LE(ofOffset, 0.97);
    const double ofCubic = coverage(line, by(line, FitKind::Quadratic), false, 3);
    EXPECT_GE(ofCubic, 0.93);
    EXPECT_LE(ofCubic, 0.97);
    const double ofThermistor = coverage(line, by(line, FitKind::Beta), true, 4);
    EXPECT_GE(ofThermistor, 0.93);
    EXPECT_LE(ofThermistor, 0.97);
}

// What an offset leaves, worked out by hand: a straight sensor whose slope is ± 2 %, compared at 30 °C.
TEST(Calibrated, AnOffsetTakesOffOnlyWhatIsOneAndTheBandOpens) {
    GaugeSpec spec = test::directGauge("chip-one-point", 12, 3.3);
    spec.sensor.parameters = {{"value_V", 0.76}, {"at_degC", 25.0}, {"slope_V_per_degC", 0.0025}};
    spec.sensor.parameters.set("slope_tolerance", 0.02);
    spec.reading.span = {0, 60};
    spec.correction.kind = "offset";
    spec.correction.points = {{30, 30, 0.1}};
    spec.correction.reference = 0.2;
    const auto slopeAt = [&](double world) {
        const auto budget = budgetAt(spec, test::catalogue(), world);
        EXPECT_TRUE(budget) << budget.error().message();
        double u = -1;
        for (const Contribution& line : budget->contributions)
            if (line.parameter == "sensor.slope_V_per_degC") u = line.standard;
        return u;
    };
    // Before: |t − 25|·2 %/√3; after: |t − 30|·2 %/√3.
    for (const double t : {0.0, 20.0, 30.0, 45.0, 60.0})
        EXPECT_NEAR(slopeAt(t), std::abs(t - 30) * 0.02 / std::sqrt(3.0), 2e-4) << t;
    const auto budget = budgetAt(spec, test::catalogue(), 30).value();
    double fit = 0, reference = 0;
    for (const Contribution& line : budget.contributions) {
        if (line.label.starts_with("Fit")) fit = line.standard;
        if (line.label.starts_with("Reference of")) reference = line.standard;
    }
    EXPECT_NEAR(fit, 0.1, 1e-12);
    EXPECT_NEAR(reference, 0.2, 1e-12);
}

TEST(Calibrated, TheDrawsAgreeAndWhatWasPromisedIsWhatIsGot) {
    GaugeSpec spec = thermistor();
    const auto plain = budgetAt(spec, test::catalogue(), 60).value();
    const auto ways = improvements(spec, test::catalogue(), plain);
    const auto way = std::find_if(ways.begin(), ways.end(),
                                  [](const Improvement& one) { return one.parameter == "correction.points"; });
    ASSERT_NE(way, ways.end());
    PointsFile points;
    points.unit = &kCelsius;
    points.points = {{60, 60}};
    const auto done =
        calibrated(spec, test::catalogue(), FitKind::Offset, points, 0, {plain.standard / 5, "", ""}).value();
    const auto after = budgetAt(done, test::catalogue(), 60).value();
    EXPECT_NEAR(after.expanded, way->expanded, 1e-9);
    EXPECT_LT(after.expanded, plain.expanded);
    // Away from the point, and with a line between two.
    points.points = {{30, 30.4, 0.02}, {80, 79.2, 0.02}};
    const auto line = calibrated(spec, test::catalogue(), FitKind::Line, points, 55, {0.05, "", ""}).value();
    for (const auto& [calibratedSpec, world] : {std::pair{done, 35.0}, {line, 55.0}, {line, 40.0}}) {
        const auto budget = budgetAt(calibratedSpec, test::catalogue(), world).value();
        const auto run = monteCarlo(calibratedSpec, test::catalogue(), world, 200000).value();
        EXPECT_NEAR(run.expanded, budget.expanded, 0.03 * budget.expanded) << world;
    }
}

// A curved correction runs both ways, stays what it is at its ends, and is refused where it would turn round.
TEST(Correction, CurvedOnesRunBothWays) {
    CorrectionSpec spec;
    spec.kind = "cubic";
    spec.centre = 50;
    spec.offset = 0.3;
    spec.slope = -0.01;
    spec.quadratic = 2e-4;
    spec.cubic = 1e-6;
    for (const double at : {10.0, 30.0, 60.0, 90.0}) {
        const double x = at - 50;
        spec.points.push_back({at, at + 0.3 - 0.01 * x + 2e-4 * x * x + 1e-6 * x * x * x, 0.1});
    }
    const auto curve = Correction::make(spec, Quantity::Temperature).value();
    for (double v = -20; v <= 120; v += 3.7) {
        EXPECT_NEAR(curve.undo(curve.apply(v)), v, 1e-9);
        const double x = std::clamp(v, 10.0, 90.0) - 50;
        EXPECT_NEAR(curve.amount(v), 0.3 - 0.01 * x + 2e-4 * x * x + 1e-6 * x * x * x, 1e-12) << v;
    }
    CorrectionSpec table;
    table.kind = "table";
    table.points = {{0, 0.5, 0.1}, {50, 49, 0.1}, {100, 100.5, 0.1}};
    const auto straight = Correction::make(table, Quantity::Temperature).value();
    EXPECT_NEAR(straight.amount(25), -0.25, 1e-12);
    EXPECT_NEAR(straight.amount(-10), 0.5, 1e-12);
    EXPECT_NEAR(straight.undo(straight.apply(70)), 70, 1e-9);
    spec.cubic = -1e-3;
    const auto turning = Correction::make(spec, Quantity::Temperature);
    ASSERT_FALSE(turning);
    EXPECT_EQ(turning.error().code, ErrorCode::Domain);
    spec.points.clear();
    EXPECT_EQ(Correction::make(spec, Quantity::Temperature).error().where, "correction.points");
}

TEST(Points, AreReadWithTheirUnits) {
    const auto file = readPoints(
                          "reference [degF];reading [degC];u_reference;set_aside\n68;20,5;0,9;\n212;99,1;0,9;"
                          "bath not stirred\n",
                          "p.csv", nullptr)
                          .value();
    ASSERT_EQ(file.points.size(), 2u);
    EXPECT_EQ(file.unit->id, "degF");
    EXPECT_NEAR(file.points[0].x, 68.9, 1e-9);
    EXPECT_NEAR(file.points[0].u, 0.9, 1e-12);
    EXPECT_EQ(file.points[1].setAside, "bath not stirred");
    const auto where = [](const char* text) { return readPoints(text, "p.csv", nullptr).error(); };
    EXPECT_EQ(where("reading\n20\n").code, ErrorCode::Missing);
    EXPECT_EQ(where("reference,reading\n20,warm\n").where, "p.csv, line 2: reading");
    EXPECT_EQ(where("reference [degC],reading [hPa]\n20,1000\n").code, ErrorCode::Unknown);
    EXPECT_EQ(where("reference,raw\n20,512\n").code, ErrorCode::Missing);
    EXPECT_EQ(where("reference,reading\n").code, ErrorCode::Missing);
    EXPECT_EQ(where("").code, ErrorCode::Missing);
}

// Line through (30, 30.4) and (80, 79.2): wanted 0.4 and −0.8, so −0.024 a degree; by hand.
TEST(Study, EveryFitWithWhatItLeaves) {
    GaugeSpec spec = thermistor();
    spec.correction.kind = "line";
    spec.correction.points = {{30, 30.4, 0.05}, {80, 79.2, 0.05}, {55, 57, 0.05, "not stirred"}};
    spec.correction = refit(spec.correction, "line", spec.quantity).value();
    EXPECT_NEAR(spec.correction.slope, -0.024, 1e-12);
    EXPECT_NEAR(spec.correction.offset, 0.4 + 30 * 0.024, 1e-12);
    const auto study = studyOf(spec, test::catalogue()).value();
    ASSERT_EQ(study.points.size(), 3u);
    EXPECT_NEAR(study.points[0].left, 0, 1e-12);
    EXPECT_NEAR(study.points[2].wanted, 2, 1e-12);
    EXPECT_NEAR(study.points[2].left, 2.2, 1e-12);  // the line gives −0.2 at 55
    ASSERT_EQ(study.fits.size(), 6u);
    EXPECT_NEAR(study.fits[0].worstLeft, 0.8, 1e-12);
    EXPECT_NEAR(study.fits[1].worstLeft, 0.6, 1e-12);  // the mean of 0.4 and −0.8 is −0.2
    EXPECT_NEAR(study.fits[2].worstLeft, 0, 1e-12);
    EXPECT_FALSE(study.fits[3].spec);  // two points give no parabola
    EXPECT_FALSE(study.fits[3].why.empty());
    EXPECT_TRUE(study.fits[5].spec);
    EXPECT_EQ(study.recommended, "line");
    // Between the points the band is narrower than before, beyond them it is not.
    const auto at = [&](double reading) {
        std::size_t i = 0;
        while (study.band.reading[i] < reading) ++i;
        return std::pair(study.band.before[i], study.band.after[i]);
    };
    EXPECT_LT(at(55).second, 0.5 * at(55).first);
    EXPECT_GT(at(88).second, 0.95 * at(88).first);  // the line shrinks the error itself by 2.4 %
    EXPECT_EQ(refit(spec.correction, "parameters", spec.quantity).error().code, ErrorCode::Unsupported);
    // A refit that names no parameters, or a negative uncertainty, is told.
    GaugeSpec bad = spec;
    bad.correction.kind = "parameters";
    EXPECT_EQ(AnalogPath::build(bad, test::catalogue()).error().where, "correction.parameters");
    bad = spec;
    bad.correction.reference = -0.1;
    EXPECT_EQ(AnalogPath::build(bad, test::catalogue()).error().where, "correction.reference_uncertainty");
    // Nothing typed is lost without points either: an error names what is missing.
    spec.correction.points.clear();
    EXPECT_FALSE(refit(spec.correction, "offset", spec.quantity));
}

TEST(Study, AReadingMayBeGivenAsItsCode) {
    const Gauge gauge = Gauge::make(thermistor(), test::catalogue()).value();
    EXPECT_NEAR(uncorrectedReading(gauge, "68 °F").value(), 20, 1e-9);
    EXPECT_NEAR(uncorrectedReading(gauge, "code 2155").value(), gauge.analog()->reading(2155), 1e-12);
    EXPECT_NEAR(uncorrectedReading(gauge, "code 0x86B").value(), gauge.analog()->reading(2155), 1e-12);
    EXPECT_FALSE(uncorrectedReading(gauge, "code 5000"));
    EXPECT_FALSE(uncorrectedReading(gauge, "warm"));
    EXPECT_EQ(uncorrectedReading(gauge, "code 4095").error().code, ErrorCode::Domain);
}

// A probe that takes up the bath's temperature with τ = 10 s: off by e⁻ᵗ/¹⁰ of 40 °C; noise 0.02 °C.
TEST(SteadyWatch, WaitsForTheProbeAndThenAverages) {
    std::mt19937 random(5);
    std::normal_distribution<double> noise(0, 0.02);
    SteadyWatch watch(20, 0);
    double first = -1;
    for (double t = 0; t < 240; t += 0.5) {
        watch.take(t, 60 - 40 * std::exp(-t / 10) + noise(random));
        const auto state = watch.state();
        if (state && state->isSteady && first < 0) first = t;
        if (state && state->isSteady && t > 150) {
            EXPECT_NEAR(state->mean, 60, 5 * state->meanStandard + 1e-4);
            EXPECT_NEAR(state->meanStandard, 0.02 / std::sqrt(41.0), 0.004);
        }
    }
    // Over the last 20 s it still moved by more than the noise until 40·e⁻⁽ᵗ⁻²⁰⁾/¹⁰ is some hundredths: from 60 s on.
    EXPECT_GT(first, 60);
    EXPECT_LT(first, 130);
    watch.take(500, std::nan(""));
    EXPECT_FALSE(watch.state());
}

/// The line of a Markdown table that begins so; empty where there is none.
std::string rowOf(const std::string& text, const std::string& begin) {
    const std::size_t at = text.find("| " + begin + " |");
    return at == std::string::npos ? "" : text.substr(at, text.find('\n', at) - at);
}

TEST(Record, SaysWhatWasComparedAndWhatItIsNot) {
    GaugeSpec spec = thermistor();
    spec.name = "Pot <b>|*";
    spec.reading.unit = "degF";
    spec.reading.span = {68, 194};
    spec.correction.points = {{30, 30.4, 0.05, "", "cold"},
                              {80, 79.2, 0.05, "", "hot"},
                              {55, 57, 0.05, "lid | open", "mid"}};
    spec.correction.reference = 0.1;
    spec.correction.with = "the bench thermometer";
    spec.correction.time = "2026-11-27";
    spec.correction = refit(spec.correction, "line", spec.quantity).value();
    const Paper paper = calibrationRecord(spec, test::catalogue()).value();
    const std::string text = markdownOf(paper);
    EXPECT_EQ(text.find("# Calibration record: Pot \\<b\\>\\|\\*"), 0u) << text.substr(0, 80);
    EXPECT_NE(text.find("not a certificate"), std::string::npos);
    // In °F: 30 °C is 86, 30.4 is 86.72, 0.4 K is 0.72; U of 2 · 0.05 K is 0.18.
    EXPECT_EQ(rowOf(text, "cold").find("| cold | 86.72 | 0.18 | 86 | +0.72 |"), 0u) << rowOf(text, "cold");
    EXPECT_NE(rowOf(text, "mid").find("lid \\| open"), std::string::npos) << rowOf(text, "mid");
    EXPECT_NE(rowOf(text, "Uncertainty of the reference at all points alike").find("± 0.36 °F"), std::string::npos);
    // amount = 0.4 K + 0.72 K − 0.024·t/°C: at 32 °F 1.12 K, which is 2.016 °F.
    EXPECT_NE(rowOf(text, "Added to the reading").find("2.016 °F − 0.024 × (reading − 32)"), std::string::npos)
        << rowOf(text, "Added to the reading");
    const std::string html = htmlOf(paper);
    EXPECT_NE(html.find("Pot &lt;b&gt;|*"), std::string::npos);
    EXPECT_EQ(html.find("<b>"), std::string::npos);
    spec.correction = {};
    EXPECT_EQ(calibrationRecord(spec, test::catalogue()).error().code, ErrorCode::Missing);
}

}  // namespace
}  // namespace fg
