#include "sensors/table.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {

Expected<Table> tableThrough(std::vector<Point> points, Quantity measurand, Quantity output,
                             Interpolation interpolation, const std::string& field) {
    if (points.size() < 2)
        return fail(ErrorCode::Range, field, fmt::format("{} points", points.size()), "a table of at least two points");
    std::sort(points.begin(), points.end());
    const bool rising = points.back()[1] > points.front()[1];
    for (std::size_t i = 0; i < points.size(); ++i) {
        const auto [x, y] = points[i];
        if (!std::isfinite(x) || !std::isfinite(y))
            return fail(ErrorCode::Range, field, "a value that is not finite", "finite numbers");
        if (interpolation == Interpolation::Thermistor && (!(y > 0) || !(x > -kKelvinAt0degC)))
            return fail(ErrorCode::Range, field, fmt::format("{} Ω at {} °C", plainNumber(y), plainNumber(x)),
                        "resistances above 0 Ω and temperatures above −273.15 °C");
        if (i == 0) continue;
        const auto [x0, y0] = points[i - 1];
        if (x == x0)
            return fail(ErrorCode::Range, field, fmt::format("two points at {}", plainNumber(x)),
                        "each value of the measurand once");
        if ((y > y0) != rising || y == y0)
            return fail(ErrorCode::Range, field,
                        fmt::format("{} at {} after {} at {}", plainNumber(y), plainNumber(x), plainNumber(y0),
                                    plainNumber(x0)),
                        rising ? "an output that rises all along" : "an output that falls all along");
    }
    Table table;
    table.fixed.interpolation = interpolation;
    table.fixed.argument = symbolOf(measurand);
    table.fixed.result = symbolOf(output);
    table.fixed.range = {points.front()[0], points.back()[0]};
    table.fixed.isRising = rising;
    std::vector<Point> byX, byY;
    for (const auto& [x, y] : points) {
        const bool isLinear = interpolation == Interpolation::Linear;
        const Point pair = isLinear ? Point{x, y} : Point{-1 / (x + kKelvinAt0degC), std::log(y)};
        byX.push_back(pair);
        byY.push_back({pair[1], pair[0]});
    }
    std::sort(byY.begin(), byY.end());
    table.fixed.byX = std::make_shared<const Polyline>(std::move(byX));
    table.fixed.byY = std::make_shared<const Polyline>(std::move(byY));
    return table;
}

}  // namespace fg
