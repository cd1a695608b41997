#pragma once

#include "derived/running.h"
#include "handover/law_code.h"
#include "handover/whole_slope.h"

namespace fg {

/// A value of the last while as code: its window, and the correction and the unit behind that.
struct RunningCode {
    Over over = Over::Mean;
    std::int64_t window_ms = 0;
    LawParameter reading;               ///< what goes in
    LawCode law;                        ///< its one parameter is what the window comes to; the error is of both
    std::optional<WholeSlope> slope{};  ///< of a rate in whole numbers
};

/// The code reads the board's clock in milliseconds and keeps the pieces of WindowPieces. Run over 20,000 readings that
/// walk through the span (a rate: with slopes up to its ends), with pauses longer than the window; in whole numbers
/// over readings in whole steps. Errors: those of lawCodeOf(); Range for a window that such a clock does not measure;
/// Unsupported for a table, and for a mean or a rate in 16 bits.
[[nodiscard]] Expected<RunningCode> runningCodeOf(const DerivedPath& path, const GaugeSpec& spec, const Unit& unit,
                                                  CodeArithmetic arithmetic, const WholeLaw& whole);

}  // namespace fg
