#include "derived/law_rows.h"
#include "derived/physical.h"

#include <array>

namespace fg {
namespace {

/// Temperature at which water and steam stand together at a pressure: the steam of a kettle.
struct BoilingPoint {
    static constexpr std::string_view kId = "boiling-point", kTitle = "Boiling point of water at a pressure",
                                      kSource = "IAPWS-IF97, section 8.2, equation 31";
    static constexpr std::array kInputs{
        LawInput{"pressure", "Pressure of the air there", "p", Quantity::Pressure, {611.213, 22.064e6}}};
    static constexpr LawOutput kOutput{"ts", Quantity::Temperature, "degC"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        constexpr std::array n{0.11670521452767e4,  -0.72421316703206e6, -0.17073846940092e2, 0.12020824702470e5,
                               -0.32325550322333e7, 0.14915108613530e2,  -0.48232657361591e4, 0.40511340542057e6,
                               -0.23855557567849,   0.65017534844798e3};
        const N beta = step("β", "", kSource, pow(x[0] / constant<N>(1e6, "Pa"), N(0.25)));
        const N e = step("E", "", kSource, beta * beta + n[2] * beta + n[5]);
        const N f = step("F", "", kSource, n[0] * (beta * beta) + n[3] * beta + n[6]);
        const N g = step("G", "", kSource, n[1] * (beta * beta) + n[4] * beta + n[7]);
        const N d = step("D", "", kSource, 2.0 * g / (-f - sqrt(f * f - 4.0 * e * g)));
        const N sum = n[9] + d;
        const N kelvin = step("Ts", "K", kSource, (sum - sqrt(sum * sum - 4.0 * (n[8] + n[9] * d))) / 2.0);
        return step("ts", "degC", kSource, kelvin - constant<N>(physical::kZero_K, "K"));
    }
};

constexpr LawInput kWaterTemperature{"temperature", "Temperature of the water",
                                     "t",           Quantity::Temperature,
                                     {0, 40},       20};
constexpr LawInput kGravity{"gravity", "Gravity there", "g", Quantity::Ratio, {9.76, 9.84}, physical::kGravity, "m/s²"};

/// Density of air-free water at 101 325 Pa, in kg/m³.
template <class N>
N densityOfWater(const N& t) {
    constexpr std::string_view kSource = "Tanaka et al., Metrologia 38 (2001) 301, table 1";
    const N off = t - 3.983035;
    return step("ρ", "kg/m³", kSource, 999.974950 * (1.0 - off * off * (t + 301.797) / (522528.9 * (t + 69.34881))));
}

/// What a column of water presses with.
struct WaterColumn {
    static constexpr std::string_view kId = "water-column", kTitle = "Pressure of a column of water",
                                      kSource = "p = ρ·g·h";
    static constexpr std::array kInputs{
        LawInput{"height", "Height between the two surfaces", "h", Quantity::Height, {-100, 100}}, kWaterTemperature,
        kGravity};
    static constexpr LawOutput kOutput{"p", Quantity::Pressure, "Pa"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        return step("p", "Pa", kSource, densityOfWater(x[1]) * x[2] * x[0]);
    }
};

/// How deep a pressure sensor is under water.
struct Depth {
    static constexpr std::string_view kId = "depth", kTitle = "Depth under water", kSource = "h = (p − p0)/(ρ·g)";
    static constexpr std::array kInputs{
        LawInput{"pressure", "Absolute pressure down there", "p", Quantity::Pressure, {0, 2e7}},
        LawInput{"surface", "Absolute pressure at the surface", "p0", Quantity::Pressure, {3e4, 1.1e5}},
        LawInput{"density", "Density of the water", "ρ", Quantity::Ratio, {950, 1250}, 998.2, "kg/m³"}, kGravity};
    static constexpr LawOutput kOutput{"h", Quantity::Height, "m"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        return step("h", "m", kSource, (x[0] - x[1]) / (x[2] * x[3]));
    }
};

}  // namespace

std::vector<const Law*> waterLaws() { return {&lawOf<BoilingPoint>(), &lawOf<WaterColumn>(), &lawOf<Depth>()}; }

}  // namespace fg
