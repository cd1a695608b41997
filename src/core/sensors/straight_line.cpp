#include "sensors/straight_line.h"

#include <fmt/format.h>
#include <cmath>
#include "units/number_format.h"

namespace fg {
namespace {
constexpr const char* kSource = "part's transfer function: y = offset + slope · x";
}

Expected<StraightLine> StraightLine::make(double slope, double offset, Quantity measurand, Quantity output,
                                          Interval range, const Fields& fields) {
    if (!std::isfinite(slope) || slope == 0)
        return fail(ErrorCode::Range, fields.slope, plainNumber(slope),
                    fmt::format("a slope that is not zero, in {} per {}", canonicalUnit(output).id,
                                canonicalUnit(measurand).id));
    if (!std::isfinite(offset))
        return fail(ErrorCode::Range, fields.offset, plainNumber(offset),
                    fmt::format("a value in {}", canonicalUnit(output).id));
    StraightLine line;
    line.m_slope = slope;
    line.m_offset = offset;
    line.m_measurand = measurand;
    line.m_output = output;
    line.m_range = range;
    return line;
}

Expected<StraightLine> StraightLine::throughPoints(std::array<double, 2> first, std::array<double, 2> second,
                                                   Quantity measurand, Quantity output, Interval range,
                                                   const std::string& field) {
    if (first[0] == second[0])
        return fail(ErrorCode::Range, field, fmt::format("two points at {}", plainNumber(first[0])),
                    "two different values of the measurand");
    if (first[1] == second[1])
        return fail(ErrorCode::Range, field, fmt::format("the output {} at both points", plainNumber(first[1])),
                    "an output that changes");
    const double slope = (second[1] - first[1]) / (second[0] - first[0]);
    return make(slope, first[1] - slope * first[0], measurand, output, range, {field, field});
}

std::vector<TraceLine> StraightLine::explainInverse(double output) const {
    const Unit& unit = canonicalUnit(m_measurand);
    const std::string_view out = canonicalUnit(m_output).symbol;
    return {{"x",
             fmt::format("({} {} − {} {})/({} {}/{})", plainNumber(output, 7), out, term(m_offset, 10), out,
                         plainNumber(m_slope), out, unit.symbol),
             inverse(output), std::string(unit.id), kSource}};
}

std::vector<TraceLine> StraightLine::explainForward(double measurand) const {
    const Unit& unit = canonicalUnit(m_measurand);
    const Unit& out = canonicalUnit(m_output);
    return {{"y",
             fmt::format("{} {} + {} {}/{} × {} {}", plainNumber(m_offset), out.symbol, plainNumber(m_slope),
                         out.symbol, unit.symbol, term(measurand), unit.symbol),
             forward(measurand), std::string(out.id), kSource}};
}

}  // namespace fg
