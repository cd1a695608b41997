#include "sensors/table.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "units/number_format.h"
#include "units/unit.h"

namespace fg {
namespace {

constexpr double kKelvin = 273.15;

}  // namespace

// A thermistor's table is kept as (−1/T, ln R): nearly a straight line, and still ascending with temperature.
double Table::toX(double measurand) const {
    return m_interpolation == Interpolation::Linear ? measurand : -1 / (measurand + kKelvin);
}
double Table::fromX(double x) const { return m_interpolation == Interpolation::Linear ? x : -1 / x - kKelvin; }
double Table::toY(double output) const { return m_interpolation == Interpolation::Linear ? output : std::log(output); }
double Table::fromY(double y) const { return m_interpolation == Interpolation::Linear ? y : std::exp(y); }

Expected<Table> Table::make(std::vector<Point> points, Quantity measurand, Quantity output, Interpolation interpolation,
                            const std::string& field) {
    if (points.size() < 2)
        return fail(ErrorCode::Range, field, fmt::format("{} points", points.size()), "a table of at least two points");
    std::sort(points.begin(), points.end());
    const bool rising = points.back()[1] > points.front()[1];
    for (std::size_t i = 0; i < points.size(); ++i) {
        const auto [x, y] = points[i];
        if (!std::isfinite(x) || !std::isfinite(y))
            return fail(ErrorCode::Range, field, "a value that is not finite", "finite numbers");
        if (interpolation == Interpolation::Thermistor && (!(y > 0) || !(x > -kKelvin)))
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
    table.m_interpolation = interpolation;
    table.m_measurand = measurand;
    table.m_output = output;
    table.m_range = {points.front()[0], points.back()[0]};
    table.m_rising = rising;
    std::vector<Point> byX, byY;
    for (const Point& point : points) {
        byX.push_back({table.toX(point[0]), table.toY(point[1])});
        byY.push_back({table.toY(point[1]), table.toX(point[0])});
    }
    std::sort(byY.begin(), byY.end());
    table.m_byX = std::make_shared<const Polyline>(std::move(byX));
    table.m_byY = std::make_shared<const Polyline>(std::move(byY));
    return table;
}

double Table::forward(double measurand) const { return fromY(m_byX->at(toX(measurand))); }
double Table::inverse(double output) const { return fromX(m_byY->at(toY(output))); }

std::vector<TraceLine> Table::explainInverse(double output) const {
    const Unit& unit = canonicalUnit(m_measurand);
    const std::string_view out = canonicalUnit(m_output).symbol;
    const auto ends = m_byY->segmentAt(toY(output));
    if (!ends)
        return {{"x", fmt::format("{} {} lies outside the table", plainNumber(output, 7), out), std::nan(""),
                 std::string(unit.id), "table of the part"}};
    const auto& [a, b] = *ends;
    return {{"x",
             fmt::format("between {} {} at {} {} and {} {} at {} {}, for {} {}", plainNumber(fromY(a[0]), 6), out,
                         plainNumber(fromX(a[1]), 6), unit.symbol, plainNumber(fromY(b[0]), 6), out,
                         plainNumber(fromX(b[1]), 6), unit.symbol, plainNumber(output, 7), out),
             inverse(output), std::string(unit.id),
             m_interpolation == Interpolation::Linear ? "table of the part, straight between"
                                                      : "table of the part, ln R over 1/T"}};
}

std::vector<TraceLine> Table::explainForward(double measurand) const {
    const Unit& out = canonicalUnit(m_output);
    return {{"y", fmt::format("table at {} {}", plainNumber(measurand, 7), canonicalUnit(m_measurand).symbol),
             forward(measurand), std::string(out.id), "table of the part"}};
}

}  // namespace fg
