#pragma once

#include "calibration/advice.h"
#include "calibration/stated.h"
#include "gauge/gauge.h"

namespace fg {

/// A comparison of the gauge's own, beside what the correction in force makes of it. Canonical.
struct StudiedPoint {
    double wanted = 0;  ///< reference less uncorrected reading
    double left = 0;    ///< what the correction in force leaves of it
};

/// One way of correcting, worked out for the points at hand.
struct StudiedFit {
    std::string kind;                     ///< as in CorrectionSpec: "none", "offset", …
    std::optional<CorrectionSpec> spec;   ///< nothing where the points do not give it
    std::string why;                      ///< then: why not
    double worstLeft = 0;                 ///< of the points used
    double expanded = 0, expandedAt = 0;  ///< the largest U over the span, and where
    bool isSensorStated = true;           ///< false: U leaves the sensor out, nobody said how accurate it is
};

/// The error that a gauge may have over its span, before and after its correction. Canonical.
struct ErrorBand {
    std::vector<double> reading;        ///< uncorrected
    std::vector<double> amount;         ///< the correction there
    std::vector<double> before, after;  ///< expanded uncertainty without and with it
    std::optional<Interval> points;     ///< between which it was compared
};

/// Everything about the calibration of a gauge that a screen shows.
struct CalibrationStudy {
    bool isCheck = false;              ///< of points taken since (`check`): `left` is what was found
    std::vector<StudiedPoint> points;  ///< as many as the gauge has
    std::vector<StudiedFit> fits;      ///< none, offset, line, quadratic, cubic, table
    std::string recommended;           ///< which of them; empty without points
    std::string why;                   ///< one sentence
    std::string coefficients;          ///< of the fit in force, with ± (k = 2) and how they go together; may be empty
    ErrorBand band;
    int decimals = 2;  ///< that errors deserve, in the gauge's unit
    std::vector<Finding> findings;
};

/// Of the gauge's points, whatever correction is in force; of those taken since, where there are any. Errors: those of
/// Gauge::make().
[[nodiscard]] Expected<CalibrationStudy> studyOf(const GaugeSpec& spec, const Catalogue& catalogue);

/// What a person gives as the reading of a point, uncorrected and canonical: a reading ("60.48 °C"), or a raw value
/// after the word "code" ("code 2155", "code 0x86B", bytes of a digital part). Errors: those of reading it; Domain
/// where the raw value has no reading or only a limit.
[[nodiscard]] Expected<double> uncorrectedReading(const Gauge& gauge, std::string_view text);

/// The correction of that kind that the points of `correction` give; points, reference and notes stay. "none" adds
/// nothing and keeps them. "parameters" is refused: readings do not give those (Unsupported). Errors: those of
/// leastSquares(), and of Correction::make().
[[nodiscard]] Expected<CorrectionSpec> refit(const CorrectionSpec& correction, const std::string& kind,
                                             Quantity quantity);

}  // namespace fg
