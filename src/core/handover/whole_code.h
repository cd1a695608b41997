// Gauges as code in integers: their numbers are searched for, proven, and written.
#pragma once

#include "handover/device_code.h"

namespace fg {

/// What a result in whole numbers is the reading times: enough for `wanted`, less where a result up to `largest` does
/// not fit its type.
[[nodiscard]] std::int64_t wholeScaleFor(double wanted, double largest, CodeArithmetic arithmetic);

/// An analog gauge over the codes of its span; `exact` is what it reads. Errors: Range for a result that its type does
/// not hold; Unsupported for an arithmetic that cannot hold this gauge.
[[nodiscard]] Expected<void> writeWhole(const Gauge& gauge, const CodeWish& wish, const ReadingOfCode& exact,
                                        GaugeCode& code);

/// A part whose reading follows from one number (DeviceCode::one), as a converter's code. Errors: those of
/// writeWhole(); Domain for a span that the part does not send in one run of numbers.
[[nodiscard]] Expected<void> writeWholeDevice(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device,
                                              GaugeCode& code);

/// A routine in whole numbers, of a part's document or in fixed point: from its last number to the result. `off`: how
/// far it was from the formula in real numbers, where that was looked at, `offAt` for what. Files are not written yet.
/// Errors: those of writeWhole(); Domain for a span of which the routine gives one number or none.
[[nodiscard]] Expected<void> fitRoutine(const Gauge& gauge, const CodeWish& wish, const WholeRoutine& routine,
                                        const CodeError& off, const std::string& offAt, GaugeCode& code);

}  // namespace fg
