#pragma once

#include "handover/error_curve.h"
#include "handover/integer_form.h"
#include "handover/typed_line.h"

namespace fg {

/// What a maker's own line is worth against the gauge.
struct LineCheck {
    CodeError error;                ///< in the unit of the reading; overflowed codes among them
    bool isOverflowing = false;     ///< at a code that the converter can give
    std::int64_t overflowCode = 0;  ///< the first
    LineValue overflow;             ///< there
    std::int64_t shownCode = 0;     ///< in the middle of the span: what the line then says, and what the gauge reads
    double shownValue = 0, shownReading = 0;
    std::int64_t nones = 0;  ///< codes at which it divides by 0
    double exactWorst = 0;   ///< of the same line in real numbers: what its constants cost
    double cutWorst = 0;     ///< the most that whole numbers cost against that
    CodeRange range;
    double scale = 1;
    std::vector<CodeErrorBand> curve;      ///< what the line says less what the gauge reads, over the codes of the span
    std::vector<CodeErrorBand> realCurve;  ///< the same of the line in real numbers
};

/// A line whose constants fit the gauge better.
struct BetterLine {
    std::string text;
    double scale = 1;
    CodeError error;
    std::vector<CodeErrorBand> curve;  ///< as LineCheck::curve
};

/// Runs the line over every code of the span. Its result is the reading in `unit` times `scale`. Errors: those of
/// codeRangeOf().
[[nodiscard]] Expected<LineCheck> checkLine(const Gauge& gauge, const TypedLine& line, LineInt width, const Unit& unit,
                                            double scale);

/// The same line with the whole constants that bring its worst error down without overflow, found by fitting them as
/// real numbers and then one step at a time; nothing where none is better. Where whole numbers throw the decimals away,
/// `scale` times 100 with a straight line is tried as well.
[[nodiscard]] std::vector<BetterLine> betterLines(const Gauge& gauge, const TypedLine& line, LineInt width,
                                                  const Unit& unit, double scale);

}  // namespace fg
