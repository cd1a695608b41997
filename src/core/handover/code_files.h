#pragma once

#include "handover/device_code.h"
#include "handover/gauge_code.h"
#include "handover/law_code.h"
#include "handover/running_code.h"

namespace fg {

// The files around a formula: header, source, program. They fill in `files`, `header`, `function`, `takes`,
// `signature` and the bytes of what they wrote.

void writeRealFiles(const Gauge& gauge, const CodeWish& wish, const FormulaCode& formula, GaugeCode& code);
/// `device` is what the formula stands on.
void writeDeviceFiles(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device, GaugeCode& code);
void writeRunningFiles(const Gauge& gauge, const CodeWish& wish, const RunningCode& running, GaugeCode& code);
void writeLawFiles(const Gauge& gauge, const CodeWish& wish, const LawCode& law, GaugeCode& code);
/// The same of a law or a value of the last while in fixed point.
[[nodiscard]] Expected<void> writeWholeRunningFiles(const Gauge& gauge, const CodeWish& wish,
                                                    const RunningCode& running, GaugeCode& code);
[[nodiscard]] Expected<void> writeWholeLawFiles(const Gauge& gauge, const CodeWish& wish, const LawCode& law,
                                                GaugeCode& code);
/// A part whose document computes in whole numbers: its routine, and from its last number to the result. Unsupported
/// where the routine looks at something that is no whole number.
[[nodiscard]] Expected<void> writeRoutineFiles(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device,
                                               GaugeCode& code);
/// `device` is read, joined and checked; `code.form` makes its one number the reading.
void writeWholeDeviceFiles(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device, GaugeCode& code);
void writeWholeFiles(const Gauge& gauge, const CodeWish& wish, GaugeCode& code);

}  // namespace fg
