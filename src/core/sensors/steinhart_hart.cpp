#include "sensors/steinhart_hart.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {
constexpr const char* kSource = "Steinhart–Hart equation, Deep-Sea Research 15 (1968) 497";
constexpr double kKelvin = 273.15;
}  // namespace

Expected<SteinhartHart> SteinhartHart::make(double a, double b, double c, Interval range_degC) {
    if (!std::isfinite(a)) return fail(ErrorCode::Range, "a", plainNumber(a), "a coefficient in 1/K, around 1e-3");
    if (!(b > 0) || !std::isfinite(b))
        return fail(ErrorCode::Range, "b", plainNumber(b),
                    "a coefficient above 0, around 2e-4: with it the resistance falls as it gets warmer");
    if (!(c >= 0) || !std::isfinite(c))
        return fail(ErrorCode::Range, "c", plainNumber(c),
                    "a coefficient of 0 or above, around 1e-7: below 0 the curve turns back");
    SteinhartHart curve;
    curve.m_a = a;
    curve.m_b = b;
    curve.m_c = c;
    curve.m_range_degC = range_degC;
    return curve;
}

Expected<SteinhartHart> SteinhartHart::throughPoints(const std::vector<Point>& points, Interval range_degC) {
    if (points.size() != 3)
        return fail(ErrorCode::Range, "points", fmt::format("{} points", points.size()),
                    "three points [temperature in °C, resistance in Ω]");
    std::vector<Point> sorted = points;
    std::sort(sorted.begin(), sorted.end());
    for (std::size_t i = 0; i < 3; ++i) {
        if (!(sorted[i][1] > 0) || !std::isfinite(sorted[i][1]))
            return fail(ErrorCode::Range, "points", plainNumber(sorted[i][1]) + " Ω",
                        "a resistance above 0 Ω at every point");
        if (!(sorted[i][0] > -kKelvin) || !std::isfinite(sorted[i][0]))
            return fail(ErrorCode::Range, "points", plainNumber(sorted[i][0]) + " °C",
                        "a temperature above −273.15 °C at every point");
        if (i > 0 && sorted[i][0] == sorted[i - 1][0])
            return fail(ErrorCode::Range, "points", fmt::format("two points at {} °C", plainNumber(sorted[i][0])),
                        "three different temperatures");
        if (i > 0 && !(sorted[i][1] < sorted[i - 1][1]))
            return fail(ErrorCode::Range, "points",
                        fmt::format("{} Ω at {} °C after {} Ω at {} °C", plainNumber(sorted[i][1]),
                                    plainNumber(sorted[i][0]), plainNumber(sorted[i - 1][1]),
                                    plainNumber(sorted[i - 1][0])),
                        "a resistance that falls as it gets warmer");
    }
    // Newton's divided differences on the basis 1, L, L³ (L = ln R), as in the paper's three-point solution.
    const double l1 = std::log(sorted[0][1]), l2 = std::log(sorted[1][1]), l3 = std::log(sorted[2][1]);
    const double y1 = 1 / (sorted[0][0] + kKelvin), y2 = 1 / (sorted[1][0] + kKelvin),
                 y3 = 1 / (sorted[2][0] + kKelvin);
    const double slope2 = (y2 - y1) / (l2 - l1);
    const double slope3 = (y3 - y1) / (l3 - l1);
    const double c = (slope3 - slope2) / (l3 - l2) / (l1 + l2 + l3);
    const double b = slope2 - c * (l1 * l1 + l1 * l2 + l2 * l2);
    const double a = y1 - l1 * (b + c * l1 * l1);
    auto curve = make(a, b, c, range_degC);
    if (!curve)
        return fail(ErrorCode::Range, "points",
                    fmt::format("points that give b = {} and c = {}", plainNumber(b, 4), plainNumber(c, 4)),
                    "three points of one thermistor: b above 0 and c not below 0");
    return curve;
}

double SteinhartHart::forward(double temperature_degC) const {
    const double temperature_K = temperature_degC + kKelvin;
    if (!(temperature_K > 0)) return std::nan("");
    const double y = m_a - 1 / temperature_K;
    if (m_c == 0) return std::exp(-y / m_b);
    // Depressed cubic L³ + pL + q = 0 with p > 0 has one real root. The hyperbolic form loses no digits where Cardano's
    // difference of cube roots would: L = −2·√(p/3)·sinh(asinh(3q/(2p)·√(3/p))/3).
    const double p = m_b / m_c;
    const double q = y / m_c;
    const double root = std::sqrt(p / 3);
    return std::exp(-2 * root * std::sinh(std::asinh(1.5 * q / (p * root)) / 3));
}

std::vector<TraceLine> SteinhartHart::explainInverse(double resistance_ohm) const {
    const double logR = std::log(resistance_ohm);
    const double inverse_T = m_a + logR * (m_b + m_c * logR * logR);
    return {
        {"ln R", fmt::format("ln({})", plainNumber(resistance_ohm, 7)), logR, "", kSource},
        {"1/T",
         fmt::format("{} + {} × {} + {} × {}³", plainNumber(m_a, 8), plainNumber(m_b, 8), term(logR),
                     plainNumber(m_c, 8), term(logR)),
         inverse_T, "1/K", kSource},
        {"T", fmt::format("1/{}", plainNumber(inverse_T, 8)), 1 / inverse_T, "K", kSource},
        {"t", fmt::format("{} K − 273.15 K", plainNumber(1 / inverse_T, 8)), inverse(resistance_ohm), "degC",
         "Celsius scale, NIST SP 811 B.8"},
    };
}

std::vector<TraceLine> SteinhartHart::explainForward(double temperature_degC) const {
    const double temperature_K = temperature_degC + kKelvin;
    return {
        {"T", fmt::format("{} °C + 273.15 K", plainNumber(temperature_degC, 8)), temperature_K, "K",
         "Celsius scale, NIST SP 811 B.8"},
        {"R",
         fmt::format("solve 1/{} = {} + {}·ln R + {}·(ln R)³", plainNumber(temperature_K, 8), plainNumber(m_a, 8),
                     plainNumber(m_b, 8), plainNumber(m_c, 8)),
         forward(temperature_degC), "ohm", kSource},
    };
}

}  // namespace fg
