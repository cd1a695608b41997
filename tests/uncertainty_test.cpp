#include "support.h"
#include "uncertainty/budget.h"
#include "uncertainty/reading_text.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace fg {
namespace {

const Contribution& line(const Budget& budget, const std::string& parameter) {
    const auto it = std::find_if(budget.contributions.begin(), budget.contributions.end(),
                                 [&](const Contribution& c) { return c.parameter == parameter; });
    if (it == budget.contributions.end()) throw std::runtime_error("no line for " + parameter);
    return *it;
}

// The glue pot at 60.484 °C: limits and standard uncertainties by hand from the partial derivatives
//   |dT/dR25|·1 % = T²/B·1 %,  |dT/dB|·1 % = T·(1 − T/T0)·1 %,  |dT/dRf| as R25.
TEST(Budget, GluePotAgreesWithItsPartialDerivatives) {
    constexpr double t = 60.484, T = t + 273.15;
    const Budget budget = budgetAt(test::gluePot(), test::catalogue(), t).value();
    const double byR25 = T * T / 3950 * 0.01, byB = std::abs(T * (1 - T / 298.15)) * 0.01;
    EXPECT_NEAR(line(budget, "sensor.r25_ohm").limit, byR25, 2e-4);
    EXPECT_NEAR(line(budget, "sensor.beta_K").limit, byB, 2e-4);
    EXPECT_NEAR(line(budget, "wiring.fixed_ohm").limit, byR25, 2e-4);
    EXPECT_NEAR(line(budget, "sensor.r25_ohm").standard, byR25 / std::sqrt(3.0), 2e-4);
    EXPECT_NEAR(line(budget, "converter.reference_V").standard, 0, 1e-12);  // ratiometric: it cancels
    EXPECT_NEAR(line(budget, "converter.error_LSB").limit, 3 / 36.24, 1e-3);
    EXPECT_NEAR(line(budget, "converter.bits").standard, 1 / 36.24 / std::sqrt(12.0), 1e-4);
    EXPECT_NEAR(budget.expanded, 0.6425, 3e-3);  // 400 000 draws by another program: −0.641 … +0.644
    EXPECT_NEAR(budget.coverage(), 1.96, 0.01);
    double shares = 0;
    for (const Contribution& c : budget.contributions) shares += c.share;
    EXPECT_NEAR(shares, 1, 1e-12);
    EXPECT_TRUE(budget.sensorStated);
}

TEST(SelfHeating, GluePotAtSixtyDegrees) {
    const GaugeSpec spec = test::warmPot();
    const auto heating = test::pathOf(spec).heat().at(2443.8);
    ASSERT_TRUE(heating);
    EXPECT_NEAR(heating->current_A, 3.3 / (2443.8 + 2200), 1e-7);
    EXPECT_NEAR(heating->power_W, 1.234e-3, 1e-6);
    EXPECT_NEAR(heating->rise_K, 0.31, 0.002);
    EXPECT_NEAR(heating->uncertainty_K, 0.2 * heating->rise_K, 1e-12);
    EXPECT_FALSE(test::pathOf(test::directGauge("tmp36", 10, 5)).heat().at(2443.8));
    // Corrected, both ways: code 2155 is 2443 Ω or so, 60.50 °C of the sensor, 0.31 K above what it is to measure.
    const AnalogPath path = test::pathOf(spec);
    const double ohm = 2200 * 2155.0 / (4096 - 2155), sensor = 1 / (1 / 298.15 + std::log(ohm / 10000) / 3950) - 273.15,
                 current = 3.3 / (ohm + 2200);
    EXPECT_NEAR(path.reading(2155), sensor - current * current * ohm / 0.004, 1e-9);
    EXPECT_NEAR(path.exactCode(path.reading(2155)), 2155, 1e-9);
    std::vector<double> codes{1000, 2155, 3000}, readings(3);
    path.readings(codes, readings);
    for (std::size_t i = 0; i < 3; ++i) EXPECT_EQ(readings[i], path.reading(codes[i]));
    // A current source and leads: power is I²·R of the sensor alone.
    GaugeSpec iron = spec;
    iron.wiring = {"current-source", {{"excitation_A", 0.001}, {"lead_ohm", 10.0}}};
    iron.sensor.part = "pt1000";
    iron.sensor.parameters = {{"dissipation_W_per_K", 0.01}};
    EXPECT_NEAR(test::pathOf(iron).heat().at(1000)->rise_K, 1e-6 * 1000 / 0.01, 1e-12);
}

// JCGM 101: draw every input from its distribution, run the hardware, read it with the nominal formula.
TEST(Budget, AgreesWithMonteCarlo) {
    GaugeSpec spec = test::warmPot();
    spec.converter.parameters.set("error_LSB", 0.0);
    constexpr double t = 60;
    const AnalogPath nominal = test::pathOf(spec);
    const Budget budget = budgetAt(spec, test::catalogue(), t).value();
    std::mt19937_64 random(20261123);
    std::uniform_real_distribution<double> within(-1, 1);
    const SelfHeating heating = nominal.heat().at(nominal.signalAt(t)).value();
    double sum = 0, squares = 0;
    constexpr int kDraws = 20000;
    for (int i = 0; i < kDraws; ++i) {
        const double r25 = 10000 * (1 + 0.01 * within(random)), beta = 3950 * (1 + 0.01 * within(random)),
                     fixed = 2200 * (1 + 0.01 * within(random));
        const double warm = t + heating.rise_K + heating.uncertainty_K * within(random);
        const double resistance = r25 * std::exp(beta * (1 / (warm + 273.15) - 1 / 298.15));
        const double code = std::floor(4096 * resistance / (resistance + fixed) + 0.5);
        const double error = nominal.reading(code) - t;
        sum += error;
        squares += error * error;
    }
    const double mean = sum / kDraws, deviation = std::sqrt(squares / kDraws - mean * mean);
    EXPECT_NEAR(deviation, budget.standard,
                0.02 * budget.standard);  // 20 000 draws: the deviation itself scatters by 0.5 %
}

TEST(Budget, FixedPartsBringTheirAccuracyStatement) {
    GaugeSpec spec = test::directGauge("tmp36", 12, 3.0);
    spec.converter.parameters.set("reference_tolerance", 0.01);
    const Budget budget = budgetAt(spec, test::catalogue(), 30).value();
    EXPECT_EQ(budget.contributions.front().limit, 4.0);
    // U = 500 mV + 10 mV/°C·t read with a reference 1 % off: (0.8 V·1 %)/10 mV/°C
    EXPECT_NEAR(line(budget, "converter.reference_V").limit, 0.8, 1e-3);
    EXPECT_EQ(budgetAt(spec, test::catalogue(), 25)->contributions.front().limit, 3.0);  // the tighter band at 25 °C
    spec.converter.parameters.set("reference_measured_V", 2.98);
    spec.converter.parameters.set("reference_measured_tolerance", 0.002);
    const Budget measured = budgetAt(spec, test::catalogue(), 30).value();
    EXPECT_THROW((void)line(measured, "converter.reference_V"), std::runtime_error);
    EXPECT_NEAR(line(measured, "converter.reference_measured_V").limit, 0.16, 1e-3);
}

TEST(Budget, SaysWhenTheSensorItselfIsLeftOut) {
    GaugeSpec spec = test::gluePot();
    spec.sensor.parameters.remove("r25_tolerance");
    spec.sensor.parameters.remove("beta_tolerance");
    EXPECT_FALSE(budgetAt(spec, test::catalogue(), 60)->sensorStated);
    EXPECT_EQ(budgetAt(spec, test::catalogue(), -300).error().code, ErrorCode::Domain);
    spec.wiring.parameters.set("fixed_ohm", -1.0);
    EXPECT_EQ(budgetAt(spec, test::catalogue(), 60).error().where, "wiring.fixed_ohm");
}

TEST(StageText, ShowsWhatATileShows) {
    const GaugeSpec spec = test::gluePot();
    const AnalogPath path = test::pathOf(spec);
    const Evaluation evaluation = path.evaluate({Stage::Converter, 2155}).value();
    const Unit& unit = spec.readingUnit();
    EXPECT_EQ(stageText(evaluation.at(Stage::Reading), 0.681, unit).joined(), "60.50 °C");
    EXPECT_EQ(stageText(evaluation.at(Stage::Reading), 0.681, unit).uncertainty, "0.68");
    EXPECT_EQ(stageText(evaluation.at(Stage::Sensor), 0.681, unit).joined(), "2.443 kΩ");
    EXPECT_EQ(stageText(evaluation.at(Stage::Converter), 0.681, unit).joined(), "2155");
    EXPECT_EQ(stageText(evaluation.at(Stage::Correction), 0.681, unit).joined(), "0.00 °C");
    const Evaluation clipped = path.evaluate({Stage::Converter, 4095}).value();
    EXPECT_EQ(stageText(clipped.at(Stage::Reading), 0, unit).sign, "≤ ");
    EXPECT_TRUE(stageText(clipped.at(Stage::Reading), 5, unit).uncertainty.empty());
    const Unit& fahrenheit = *unitFromId("degF", Quantity::Temperature).value();
    EXPECT_EQ(readingText(evaluation.at(Stage::Reading), 0.681, fahrenheit).joined(), "140.9 °F");
}

}  // namespace
}  // namespace fg
