#pragma once

#include "units/error.h"

#include <span>
#include <vector>

namespace fg {

/// A point of a noise spectrum.
struct SpectrumPoint {
    double frequency_Hz = 0;
    double density = 0;  ///< unit of the readings over √Hz
};

/// One-sided noise density of readings at an even interval: means of overlapping Hann-windowed pieces, each without its
/// straight line (Welch, IEEE Trans. Audio Electroacoust. AU-15, 1967). Its square, summed over frequency, is the
/// variance. Errors: Missing for fewer than 16 readings; Range for an interval that is not above 0.
[[nodiscard]] Expected<std::vector<SpectrumPoint>> noiseSpectrum(std::span<const double> readings, double interval_s);

}  // namespace fg
