#pragma once

#include "calibration/points_file.h"

namespace fg {

/// What stands beside the points of a calibration.
struct CalibrationNotes {
    double shared = 0;  ///< standard uncertainty of the reference that all points share, in the points' unit
    std::string with;   ///< the reference
    std::string time;   ///< when, ISO 8601
};

/// The gauge with the correction that the points give in place of its own. A fit of resistances puts the coefficients
/// into the sensor's parameters instead, where its family has them (r25_ohm and beta_K; a, b and c), and keeps the
/// points, so that the budget knows what they replaced. `centre` in the points' unit. Errors: those of fitCurve();
/// Unsupported for a curve that the gauge's sensor cannot take; Domain where the corrected reading would turn round.
[[nodiscard]] Expected<GaugeSpec> calibrated(const GaugeSpec& spec, const Catalogue& catalogue, FitKind kind,
                                             const PointsFile& points, double centre, const CalibrationNotes& notes);

/// The sensor's own constants from comparisons of the gauge (its readings without correction stand for resistances by
/// its own formula): Steinhart–Hart, Beta or Callendar–Van Dusen, whichever the sensor computes with. Errors:
/// Unsupported where it computes with none of them, those of calibrated().
[[nodiscard]] Expected<GaugeSpec> refitSensor(const GaugeSpec& spec, const Catalogue& catalogue,
                                              const std::vector<CalibrationPoint>& points,
                                              const CalibrationNotes& notes);

}  // namespace fg
