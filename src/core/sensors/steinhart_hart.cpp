#include "sensors/steinhart_hart.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {
constexpr double kKelvin = kKelvinAt0degC;
}  // namespace

Expected<SteinhartHart> steinhartHart(double a, double b, double c, Interval range_degC) {
    if (!std::isfinite(a)) return fail(ErrorCode::Range, "a", plainNumber(a), "a coefficient in 1/K, around 1e-3");
    if (!(b > 0) || !std::isfinite(b))
        return fail(ErrorCode::Range, "b", plainNumber(b),
                    "a coefficient above 0, around 2e-4: with it the resistance falls as it gets warmer");
    if (!(c >= 0) || !std::isfinite(c))
        return fail(ErrorCode::Range, "c", plainNumber(c),
                    "a coefficient of 0 or above, around 1e-7: below 0 the curve turns back");
    SteinhartHart curve;
    curve.a = a;
    curve.b = b;
    curve.c = c;
    curve.fixed.range_degC = range_degC;
    return curve;
}

Expected<SteinhartHart> steinhartHartThrough(const std::vector<Point>& points, Interval range_degC) {
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
    auto curve = steinhartHart(a, b, c, range_degC);
    if (!curve)
        return fail(ErrorCode::Range, "points",
                    fmt::format("points that give b = {} and c = {}", plainNumber(b, 4), plainNumber(c, 4)),
                    "three points of one thermistor: b above 0 and c not below 0");
    return curve;
}

}  // namespace fg
