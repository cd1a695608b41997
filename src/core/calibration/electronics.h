#pragma once

#include "calibration/fit.h"
#include "gauge/gauge.h"

#include <vector>

namespace fg {

/// Points that tell what the electronics are, rather than what is to be added to a reading.
struct ElectronicsFit {
    /// The gauge with it put in, and no correction; its points are kept, as it would read them now.
    GaugeSpec spec;
    std::vector<FitCoefficient> coefficients;  ///< "reference_V"; "offset_LSB", "gain"
    double before = 0, after = 0;              ///< largest |reading − reference| of the points, canonical
};

/// The reference voltage that explains the points best: weighted least squares of the readings, by Gauss and Newton.
/// It becomes the measured one, with a tolerance of the same standard uncertainty. `points`: readings of this gauge
/// without correction. Errors: Missing without points; Unsupported for a gauge without an analog-to-digital converter;
/// Domain where the reference cancels, or no value explains them.
[[nodiscard]] Expected<ElectronicsFit> refitReference(const GaugeSpec& spec, const Catalogue& catalogue,
                                                      const std::vector<CalibrationPoint>& points);

/// A straight line in the raw domain: codes that came against the codes that the references should have given, as the
/// converter's offset and gain. It becomes the converter's known deviation from code to code. Errors: as above; Missing
/// for fewer than two points.
[[nodiscard]] Expected<ElectronicsFit> refitCodes(const GaugeSpec& spec, const Catalogue& catalogue,
                                                  const std::vector<CalibrationPoint>& points);

}  // namespace fg
