#pragma once

#include "formula/recorded.h"
#include "formula/trace_line.h"
#include "units/number_format.h"

namespace fg {

/// What stands for a named value inside a printed formula.
enum class Named {
    Numbers,  ///< its number and unit: "10000 Ω"; a negative one in brackets
    Symbols   ///< its name: "R25"
};

/// A value of a formula with its unit, whose id or compound it is given: (0.0000123, "A") is "12.3", "µA"; prefixes
/// only where the plain number would be hard to read, below 0.01 and from a million on.
[[nodiscard]] NumberText valueText(double value, std::string_view unit, int significant);

/// A node as people write it: × and / and ^, ln, √, brackets only where the order needs them. Of a branch the side that
/// holds. The order of operations is that of the computation: nothing is simplified.
[[nodiscard]] std::string formulaText(const Recording& recording, std::int32_t node, Named named);

/// A step as a line of the trace.
[[nodiscard]] TraceLine lineOf(const Recording& recording, std::int32_t step);

/// The steps on which `result` rests, in the order in which they were computed; those of branches not taken left out.
[[nodiscard]] std::vector<TraceLine> linesOf(const Recorded& result);

/// The steps recorded from node `from` on, whatever rests on them; those of branches not taken left out.
[[nodiscard]] std::vector<TraceLine> linesSince(const Recording& recording, std::int32_t from);

/// Adds lines to a trace, those left out that stand in it already: the LSB on the way there and on the way back.
void appendLines(std::vector<TraceLine>& trace, std::vector<TraceLine> more);

}  // namespace fg
