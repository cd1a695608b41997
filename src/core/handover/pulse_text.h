#pragma once

#include "handover/code_text.h"

namespace fg {

/// The transfer of a single-bus part as program text: a start pulse, then its bits by the length of their pulses, over
/// two functions for the line that the maker fills in. C: `single_bus(site, low_us, in, in_count)`, 0 without an
/// answer. MicroPython: `single_bus(site, low_us, count)`, which raises OSError then. Source: AM2302 and DHT11 data
/// sheets, single-bus communication: a pulse of 22 to 30 µs is 0, of 68 to 75 µs 1.
[[nodiscard]] std::string singleBusText(CodeLanguage language);

/// The transfer of a part with a data and a clock line, likewise: `clocked(site, pulses, in, in_count)`,
/// `clocked(site, pulses, count)`. Source: HX711 data sheet, serial interface: ready when its data line is low, most
/// significant bit first after each rising edge, the clock high for 0.2 to 50 µs.
[[nodiscard]] std::string clockedText(CodeLanguage language);

}  // namespace fg
