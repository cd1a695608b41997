#pragma once

#include "path/analog_path.h"

#include <array>

namespace fg {

/// One row of a table over the span.
struct SpanRow {
    double value = 0;       ///< of the measurand, in the reading's unit, as asked
    double input = 0;       ///< what arrives at the converter, canonical (V)
    double exact = 0;       ///< code, not rounded
    Code code;              ///< as the converter gives it
    std::int64_t word = 0;  ///< the word it arrives in
    double codeValue = 0;   ///< what that code really stands for, in the reading's unit; NaN where the formula has none
};

/// A step of 1, 2 or 5 times a power of ten that divides `width` into at most 25 parts; 1 for a width that is not above
/// 0.
[[nodiscard]] double niceStep(double width);

/// The values from span.low to span.high at equal steps, the high end included. Error: Range at "step" for a step that
/// is not above 0 or gives more than 100 000 values.
[[nodiscard]] Expected<std::vector<double>> spanValues(Interval span, double step);

/// The wanted span at equal steps (in the reading's unit, above 0), its high end included. Error: Range at "step" for a
/// step that is not above 0 or gives more than 100 000 rows.
[[nodiscard]] Expected<std::vector<SpanRow>> spanTable(const GaugeSpec& spec, const AnalogPath& path, double step);

/// One row as texts: value, input, code, hex, binary, what the code really is, limit mark ("at least", "no value").
/// Numbers plain, to `digits` significant ones, as in the CSV.
inline constexpr std::size_t kSpanCells = 7;
using SpanCells = std::array<std::string, kSpanCells>;
[[nodiscard]] SpanCells spanCells(const AnalogPath& path, const SpanRow& row, int digits = 8);

/// The table as CSV (RFC 4180): value, input, code in decimal, hex and binary, the code's own value, limit mark.
[[nodiscard]] std::string spanTableCsv(const GaugeSpec& spec, const AnalogPath& path, const std::vector<SpanRow>& rows);

/// Integers that turn a code of a straight path into the reading without a floating point: reading · scale = (code ·
/// multiplier + addend)
/// >> shift in 32-bit signed arithmetic, for every code.
struct IntegerConstants {
    std::int32_t multiplier = 0, addend = 0;
    int shift = 0;
    double scale = 1;       ///< result is the reading (in its unit) times this: 100 for hundredths
    double worstError = 0;  ///< largest difference from the exact formula over all codes, in the reading's unit
};

/// Nothing for a path that is not straight, or when 32 bits cannot hold it at that scale.
[[nodiscard]] std::optional<IntegerConstants> integerConstants(const GaugeSpec& spec, const AnalogPath& path,
                                                               double scale);

}  // namespace fg
