#pragma once

#include "path/analog_path.h"

#include <vector>

namespace fg {

/// A function of the measurand over a span, both in the reading's unit.
struct SpanCurve {
    std::vector<double> world;
    std::vector<double> value;
    /// Index of the smallest finite value; 0 when there is none.
    [[nodiscard]] std::size_t worst() const;
};

/// Is the span better looked at by ratios than by differences? Light, where it goes over decades. The curves below have
/// their places at equal ratios then.
[[nodiscard]] bool isLogarithmic(const GaugeSpec& spec);

/// Codes per unit of the reading over the wanted span, at `points` (at least 2) equally spaced places.
[[nodiscard]] SpanCurve countsPerUnitOver(const GaugeSpec& spec, const AnalogPath& path, std::size_t points);

/// The sensor's signal (canonical unit of signalQuantity()) over the wanted span.
[[nodiscard]] SpanCurve signalOver(const GaugeSpec& spec, const AnalogPath& path, std::size_t points);

/// What one LSB is worth in the reading's unit over the wanted span.
[[nodiscard]] SpanCurve stepOver(const GaugeSpec& spec, const AnalogPath& path, std::size_t points);

/// What reading each code by the other law would cost over the wanted span: other minus present, in the reading's unit
/// (a difference).
[[nodiscard]] SpanCurve lawDifferenceOver(const GaugeSpec& spec, const Catalogue& catalogue, const AnalogPath& path,
                                          std::size_t points);

/// How much of the converter's codes the wanted span uses, 0 … 1, and the codes at its two ends.
struct RangeUsed {
    double fraction = 0;
    double codeAtLow = 0;
    double codeAtHigh = 0;
};
[[nodiscard]] RangeUsed rangeUsedBy(const GaugeSpec& spec, const AnalogPath& path);

}  // namespace fg
