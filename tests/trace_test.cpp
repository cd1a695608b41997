// The trace as people read it: every line of every network and family, word for word where a maker would check it by
// hand.

#include "support.h"

#include <algorithm>
#include <cmath>

#include "units/number_format.h"

namespace fg {
namespace {

std::vector<TraceLine> traceOf(const GaugeSpec& spec, Entry entry) {
    const AnalogPath path = test::pathOf(spec);
    return path.trace(path.evaluate(entry).value());
}

const TraceLine& lineNamed(const std::vector<TraceLine>& lines, const std::string& name) {
    const auto it = std::find_if(lines.begin(), lines.end(), [&](const TraceLine& line) { return line.name == name; });
    if (it == lines.end()) throw std::runtime_error("no line " + name);
    return *it;
}

TEST(Trace, GluePotFromTheCode) {
    const auto lines = traceOf(test::gluePot(), {Stage::Converter, 2155});
    const char* expected[][2] = {{"LSB", "3.3 V/2^12"},
                                 {"U", "2155 × 805.66406 µV"},
                                 {"R", "2200 Ω × 1.7362061 V/(3.3 V − 1.7362061 V)"},
                                 {"ln_R", "ln(2442.5554 Ω/10000 Ω)"},
                                 {"T", "1/(1/298.15 K + (−1.4095403)/3950 K)"},
                                 {"t", "333.64799 K − 273.15 K"}};
    ASSERT_EQ(lines.size(), std::size(expected));
    for (std::size_t i = 0; i < lines.size(); ++i) {
        EXPECT_EQ(lines[i].name, expected[i][0]);
        EXPECT_EQ(lines[i].formula, expected[i][1]);
    }
    EXPECT_EQ(lines[5].unit, "degC");
    EXPECT_EQ(lines[2].symbols, "Rf × U/(Us − U)");
    EXPECT_EQ(lines[4].symbols, "1/(1/T0 + ln_R/B)");
}

TEST(Trace, FromTheWorldItShowsTheWayThereAndBack) {
    const auto lines = traceOf(test::gluePot(), {Stage::World, 61});
    EXPECT_EQ(lines[0].formula, "61 °C + 273.15 K");
    EXPECT_EQ(lines[1].formula, "10000 Ω × exp(3950 K × (1/334.15 K − 1/298.15 K))");
    EXPECT_EQ(lines[2].formula, "3.3 V × 2399.4958 Ω/(2399.4958 Ω + 2200 Ω)");
    EXPECT_EQ(lineNamed(lines, "code").formula, "round(2136.8287)");
    EXPECT_EQ(lineNamed(lines, "code").value, 2137);
    EXPECT_EQ(lineNamed(lines, "code").source, "rounded to the nearest code");
}

TEST(Trace, SaysWhichLawAndWhichRounding) {
    GaugeSpec spec = test::gluePot();
    spec.converter.parameters.set("code_law", std::string("2^n-1"));
    spec.converter.parameters.set("rounding", std::string("down"));
    const auto lines = traceOf(spec, {Stage::Converter, 2155});
    EXPECT_EQ(lineNamed(lines, "LSB").formula, "3.3 V/(2^12 − 1)");
    EXPECT_EQ(lineNamed(lines, "U").formula, "(2155 + ½) × 805.86081 µV");
    EXPECT_EQ(lineNamed(lines, "U").source, "truncating converter: cell k … k + 1");
    EXPECT_NEAR(lineNamed(lines, "U").value, 2155.5 * 3.3 / 4095, 1e-12);
}

TEST(Trace, AClippedCodeIsSaidAndBounded) {
    const auto top = traceOf(test::directGauge("lm35", 10, 1.1), {Stage::World, 200});
    EXPECT_NE(lineNamed(top, "code").source.find("clipped"), std::string::npos);
    const auto bottom = traceOf(test::gluePot(), {Stage::Converter, 0});
    EXPECT_EQ(lineNamed(bottom, "U_limit").source, "clipped code: a limit, not a value; ½ LSB in from code 0");
    EXPECT_NEAR(lineNamed(bottom, "U_limit").value, 0.5 * 3.3 / 4096, 1e-12);
}

TEST(Trace, LinearPartAndCorrection) {
    GaugeSpec spec = test::directGauge("tmp36", 10, 5);
    spec.correction = {"offset", -0.3, 0, 0};
    const auto lines = traceOf(spec, {Stage::Converter, 153});
    EXPECT_EQ(lines[2].formula, "(0.74707031 V − 0.5 V)/(0.01 V/°C)");
    EXPECT_NEAR(lines[2].value, 24.70703125, 1e-9);
    EXPECT_EQ(lines.back().formula, "24.707031 °C + (−0.3 °C)");
    EXPECT_EQ(lines.back().source, "this gauge's calibration");
}

TEST(Trace, CurrentLoopPlatinumAndPhotoresistor) {
    GaugeSpec loop;
    loop.quantity = Quantity::Pressure;
    loop.sensor = {"pressure-4-20ma", {{"low_Pa", 0.0}, {"high_Pa", 1e6}}};
    loop.wiring = {"load", {{"load_ohm", 150.0}, {"source", std::string("rail")}, {"source_V", 24.0}}};
    loop.converter.parameters = {{"bits", 12.0}, {"reference_V", 3.3}};
    loop.reading = {"Pa", {0, 1e6}, 0};
    const auto current = traceOf(loop, {Stage::Wiring, 1.8});
    EXPECT_NE(lineNamed(current, "I").formula.find(" V/150 Ω"), std::string::npos);
    EXPECT_NEAR(lineNamed(current, "I").value, 0.012, 1e-5);

    GaugeSpec iron;
    iron.sensor = {"pt1000", {}};
    iron.wiring = {"divider", {{"fixed_ohm", 1000.0}}};
    iron.converter.parameters = {{"bits", 16.0}, {"reference_V", 3.3}};
    const auto warm = traceOf(iron, {Stage::Sensor, 1385.055});
    EXPECT_EQ(warm.back().source, "IEC 60751, t >= 0 °C: A 3.9083e-3, B −5.775e-7");
    EXPECT_NEAR(warm.back().value, 100, 0.03);
    EXPECT_NE(traceOf(iron, {Stage::Sensor, 602.56}).back().source.find("Newton"), std::string::npos);

    GaugeSpec window;
    window.quantity = Quantity::Illuminance;
    window.sensor = {"photoresistor", {{"r10_ohm", 15000.0}, {"gamma", 0.7}}};
    window.wiring = {"divider", {{"fixed_ohm", 10000.0}}};
    window.converter.parameters = {{"bits", 10.0}, {"reference_V", 5.0}};
    window.reading = {"lx", {1, 1000}, 0};
    const auto light = traceOf(window, {Stage::Converter, 512});
    EXPECT_EQ(light.back().formula, "10 lx × (10000 Ω/15000 Ω)^(−1/0.7)");
    EXPECT_NEAR(light.back().value, 10 * std::pow(1.5, 1 / 0.7), 1e-9);
}

}  // namespace
}  // namespace fg
