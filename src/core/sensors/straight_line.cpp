#include "sensors/straight_line.h"

#include "units/number_format.h"

#include <fmt/format.h>

namespace fg {

Expected<LineThroughPoints> lineThroughPoints(std::array<double, 2> first, std::array<double, 2> second,
                                              Quantity measurand, Quantity output, Interval range,
                                              const std::string& field) {
    if (first[0] == second[0])
        return fail(ErrorCode::Range, field, fmt::format("two points at {}", plainNumber(first[0])),
                    "two different values of the measurand");
    if (first[1] == second[1])
        return fail(ErrorCode::Range, field, fmt::format("the output {} at both points", plainNumber(first[1])),
                    "an output that changes");
    LineThroughPoints line;
    line.x1 = first[0];
    line.y1 = first[1];
    line.x2 = second[0];
    line.y2 = second[1];
    line.fixed.argument = symbolOf(measurand);
    line.fixed.result = symbolOf(output);
    line.fixed.range = range;
    line.fixed.source = "straight line through two points";
    line.fixed.slopeUnit = slopeUnit(output, measurand);
    return checkedLine(line, field, field);
}

}  // namespace fg
