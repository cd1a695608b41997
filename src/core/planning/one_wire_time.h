#pragma once

#include "units/error.h"

namespace fg {

/// How long a 1-wire line is busy to read every probe on it once.
struct OneWireTime {
    double convert_s = 0;  ///< all at once where each has a supply of its own; one after the other with parasite power
    double read_s = 0;     ///< choosing each by its ROM code and reading its nine bytes
    double search_s = 0;   ///< finding the ROM codes of all, once
    [[nodiscard]] double cycle_s() const { return convert_s + read_s; }
};

/// Slots of 70 µs and resets of 960 µs with presence. Reading one: reset, match ROM and 64 bits, read scratchpad and 72
/// bits; converting: reset, skip or match ROM, command. Search: per probe a reset, the command and three slots a bit.
/// With parasite power the line must be held high during a conversion, so probes convert one after the other. Source:
/// DS18B20 data sheet, 1-wire signalling and transaction sequence; conversion 93.75 ms · 2^(bits − 9). Errors: Range
/// for probes (1 … 1000) or resolution (9 … 12).
[[nodiscard]] Expected<OneWireTime> oneWireTime(int probes, int resolution, bool isParasite);

}  // namespace fg
