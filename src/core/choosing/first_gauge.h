#pragma once

#include "choosing/candidate.h"

namespace fg {

/// A gauge of the part for one wish: span, accuracy and unit as wished, on the converter at hand where that takes the
/// part's signal, fed from the first supply on hand that suits, its resistors sized for the span (worst case, E12).
/// What cannot be sized stays as it was.
[[nodiscard]] GaugeSpec firstGauge(const Part& part, const Wish& wish, const Need& need, const Catalogue& catalogue);
[[nodiscard]] GaugeSpec firstGauge(const DevicePart& part, const std::string& reading, const Wish& wish,
                                   const Need& need);

/// The supply for a part: the lowest on hand that it works at. Nothing when none does, or none was named.
[[nodiscard]] std::optional<double> supplyFor(Interval works_V, const Need& need);

/// Worst case over the span at kTrustPlaces places.
[[nodiscard]] Trust trustOver(const GaugeSpec& spec, const Catalogue& catalogue);
inline constexpr int kTrustPlaces = 9;

}  // namespace fg
