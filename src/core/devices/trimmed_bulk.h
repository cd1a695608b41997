#pragma once

#include "devices/trimmed_compensation.h"

#include <span>

namespace fg {

/// Raw numbers of many measurements, a column each, all of one length.
struct RawColumns {
    std::span<const std::int32_t> temperature, pressure, humidity;
};

/// °C, Pa and %RH of them, columns of the same length.
struct ReadingColumns {
    std::span<double> temperature, pressure, humidity;
};

/// The double routine over whole columns: the bulk path of recordings and imports. The same templates as a single
/// decoding runs. Compiled for the processor's wider vector unit as well; which one runs is
/// chosen when the program starts. Raw numbers are not looked at: skipped ones (0x80000) have to be told apart before.
void compensateColumns(const TrimmedCoefficients& coefficients, const RawColumns& raw, const ReadingColumns& readings);

}  // namespace fg
