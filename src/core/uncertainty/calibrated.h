#pragma once

#include "path/correction.h"
#include "uncertainty/budget.h"

#include <functional>
#include <optional>

namespace fg {

/// What a calibration leaves of a gauge's contributions at one reading. Internal to the room.
///
/// To first order a contribution is an error e(x) of the reading that this piece has at every reading alike. A fit
/// takes off what it saw of it: left is e(x) − Σ wⱼ·e(xⱼ), with the weights wⱼ of the fit at x for its points xⱼ. So an
/// offset takes off only what is an offset there, and a line what is a line; the rest stays. Outside its points a
/// fitted curve promises nothing, and the whole contribution comes back. Source: JCGM 100:2008, 5.1.2 and F.1.2.3
/// (inputs that act at several places alike are one input).
class Calibrated {
  public:
    /// At the corrected reading `world`; nothing without points. `errorsAt`: the contributions without calibration at
    /// an uncorrected reading.
    [[nodiscard]] static std::optional<Calibrated> of(
        const GaugeSpec& spec, const Correction& correction, double world,
        const std::function<std::vector<Contribution>(double reading)>& errorsAt);
    /// `span`: of the gauge, canonical.
    Calibrated(CalibrationPull pull, bool isOffset, Interval span,
               const std::function<std::vector<Contribution>(double reading)>& errorsAt);

    /// Whether the contribution is the same at every reading of this piece, so that a comparison sees it.
    [[nodiscard]] static bool isSystematic(const Contribution& line);

    /// What is left of it, as a standard uncertainty.
    [[nodiscard]] double left(const Contribution& line) const;
    /// Puts what is left in place of the contributions, and adds the fit's own.
    void apply(std::vector<Contribution>& lines) const;

    [[nodiscard]] const std::vector<double>& places() const { return m_places; }
    [[nodiscard]] const std::vector<double>& weights() const { return m_weights; }
    /// Whether it takes anything off here.
    [[nodiscard]] bool holds() const { return m_pull.isInside || m_isOffset; }
    [[nodiscard]] const CalibrationPull& pull() const { return m_pull; }

  private:
    CalibrationPull m_pull;
    bool m_isOffset;
    double m_reach;  // how far from the points a part's accuracy is back in full
    std::vector<double> m_places, m_weights;
    std::vector<std::vector<Contribution>> m_errors;  // at the places
};

}  // namespace fg
