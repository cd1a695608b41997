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

/// A part whose document computes in integers (DeviceCode::tail): its routine, and from its last number to the result.
/// Errors: those of writeWhole() and writeRoutineFiles(); Domain for a span of which the routine gives one number or
/// none.
[[nodiscard]] Expected<void> writeRoutine(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device,
                                          GaugeCode& code);

}  // namespace fg
