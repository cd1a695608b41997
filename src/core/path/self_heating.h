#pragma once

#include "numeric/formula_transfer.h"
#include "path/gauge_spec.h"

#include <functional>
#include <optional>

namespace fg {

/// What a resistive thermometer's own current does to it.
struct SelfHeating {
    double current_A = 0;
    double power_W = 0;
    double rise_K = 0;              ///< above what it is to measure; 0 when no dissipation constant is known
    double uncertainty_K = 0;       ///< ±, of the rise: from the tolerance of the dissipation constant
    bool isToleranceTaken = false;  ///< nobody gave that tolerance, kUsualDissipationTolerance stands for it
};

/// Data sheets state the dissipation constant for still air or a stirred liquid; where it is used lies somewhere about
/// it.
inline constexpr double kUsualDissipationTolerance = 0.5;

/// The power that a sensor's current turns to heat, and the rise of temperature that follows: rise = I²·R/δ, δ the
/// dissipation constant. A known bias is corrected, not called uncertainty (JCGM 100:2008, F.2.4.5); what remains is
/// the uncertainty of the correction. Source of the rise: IEC 60539-1, dissipation factor; the current: wiring/kind.h,
/// sensorCurrent_A().
template <class N>
struct HeatFormula {
    N dissipation{};  ///< δ, W/K
    [[nodiscard]] N power(const N& current, const N& r) const {
        return step("P", "W", "the sensor's own current", current * current * r);
    }
    [[nodiscard]] N rise(const N& power) const {
        return step("ΔT", "K", "dissipation constant of the sensor; IEC 60539-1", power / dissipation);
    }
};

/// What the sensor in its circuit does to itself, by the formula above.
class HeatModel {
  public:
    HeatModel() = default;
    /// `sensor` are the parameters over those of the part. None for sensors that are no resistance, and wirings without
    /// a stated current.
    [[nodiscard]] static HeatModel make(const WiringSpec& wiring, const Parameters& sensor, double source_V,
                                        Quantity measurand, Quantity signal);

    /// The same in a circuit with another value of one of its parameters, or another supply.
    [[nodiscard]] HeatModel withWiring(const std::string& id, double value) const;
    [[nodiscard]] HeatModel fedFrom(double source_V) const;

    /// Is there a rise to correct: a current and a dissipation constant known?
    [[nodiscard]] bool isNone() const { return m_dissipation_W_per_K <= 0; }
    [[nodiscard]] double rise_K(double sensor_ohm) const;
    /// The temperature that a sensor in `world` comes to: T = world + rise(R(T)), `resistance` its R(T). NaN where it
    /// finds no end.
    [[nodiscard]] double settledAt(double world, const std::function<double(double)>& resistance) const;
    /// The measurand read from the sensor with its rise taken off, recorded behind both; `measurand` itself without a
    /// dissipation constant.
    [[nodiscard]] Recorded recordCooled(Recording& in, const Recorded& sensor_ohm, const Recorded& measurand) const;
    /// The lines of the trace: how warm the sensor's current makes it, and the measurand `from` with that added or (to
    /// read it) taken off. None without a dissipation constant.
    [[nodiscard]] std::vector<TraceLine> explain(double sensor_ohm, double from, bool isTakenOff) const;
    /// Current and power also without a dissipation constant; nothing where the current is not known.
    [[nodiscard]] std::optional<SelfHeating> at(double sensor_ohm) const;

  private:
    WiringSpec m_wiring;
    double m_source_V = 0;
    double m_dissipation_W_per_K = 0;
    double m_tolerance = 0;
    bool m_hasCurrent = false;
};

}  // namespace fg
