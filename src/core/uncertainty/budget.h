// Room `uncertainty`: how far a reading can be trusted, and why.
#pragma once

#include "catalogue/catalogue.h"
#include "path/analog_path.h"
#include "path/derived_path.h"
#include "path/digital_path.h"
#include "path/gauge_spec.h"
#include "path/said_path.h"
#include "sensors/family.h"

#include <string>
#include <vector>

namespace fg {

/// How a contribution is distributed, which decides the standard uncertainty that its limits stand for (JCGM
/// 100:2008, 4.3.7, 4.4.5).
enum class Distribution {
    Rectangular,  ///< anywhere within ± a: u = a/√3
    Normal        ///< stated as expanded uncertainty with k = 2: u = U/2
};

/// Where a contribution comes from.
enum class Cause {
    Tolerance,       ///< of a parameter
    SensorAccuracy,  ///< the part's own statement
    SelfHeating,
    ConverterError,
    Noise,  ///< differs from one reading to the next; a mean of n makes it √n times smaller
    Quantisation,
    Correction
};

/// One line of the budget, everything in the canonical unit of the measurand.
struct Contribution {
    Stage stage = Stage::Sensor;
    std::string label;  ///< "B 3950 K ± 1 %"
    double limit = 0;   ///< ± a as it shows in the reading; 2u of a normal one
    Distribution distribution = Distribution::Rectangular;
    double standard = 0;    ///< u
    double share = 0;       ///< of the variance, 0 … 1
    std::string parameter;  ///< field whose tolerance it is, "wiring.fixed_ohm"; empty when none
    Cause cause = Cause::Tolerance;
    ParameterSpec spec = {};  ///< of that field, where it is a parameter with a tolerance
    double effect = 0;        ///< u with the sign in which the reading moves when the parameter is larger
    /// What of it other lines or other gauges may have in common with it. Empty: nothing.
    std::vector<SharedPart> parts = {};
};

/// A cause that several lines have in common: their effects are added with their signs (JCGM 100:2008, 5.2.2).
struct CommonCause {
    std::string label;
    std::size_t lines = 0;
    double variance = 0;  ///< what it adds to Σu², or takes off
};

/// The uncertainty budget of a gauge at one value of the measurand.
///
/// Combined standard uncertainty u = √Σuᵢ² (JCGM 100:2008, 5.1.2), and with common causes 5.2.2. Expanded U: half the
/// interval that holds 95 % of the combined distribution (coverage.h), so k = U/u follows from the shape: 1.65 for one
/// dominating rectangle, 2 for many alike. Sensitivities are found on the path itself: a parameter of the hardware is
/// moved by ± its own standard uncertainty, the formula keeps its nominal one, and half the change of the reading is
/// that contribution (5.1.3, note 2). What cancels in the circuit so cancels here. A calibration whose points are known
/// takes off what it saw (calibrated.h).
struct Budget {
    double at = 0;                            ///< canonical value of the measurand
    std::vector<Contribution> contributions;  ///< in path order
    double standard = 0;
    double expanded = 0;
    std::vector<CommonCause> common = {};  ///< none: the lines are independent
    /// What U is of u: U = k·u. 2 when there is nothing to combine.
    [[nodiscard]] double coverage() const { return standard > 0 ? expanded / standard : 2; }
    bool sensorStated = false;  ///< false: nobody said how accurate the sensor is, so the budget lacks its largest part
};

/// The budget at `world` (canonical). Errors: those of AnalogPath::build; Domain where the path has no value at
/// `world`.
[[nodiscard]] Expected<Budget> budgetAt(const GaugeSpec& spec, const Catalogue& catalogue, double world);

/// The same of a path that stands already. `spec` is what it was built from.
[[nodiscard]] Expected<Budget> budgetOf(const GaugeSpec& spec, const Catalogue& catalogue, const AnalogPath& path,
                                        double world);

/// Of a digital part: its stated accuracy, its own step as the decoding of its bytes knows it, and the correction;
/// nothing else in its path is analog. `step` canonical, 0 when unknown.
[[nodiscard]] Budget budgetOf(const GaugeSpec& spec, const DigitalPath& path, double world, double step);

/// Of a gauge without a sensor of its own: what its inputs are uncertain by, and its law. `scatter`: of a rate, the
/// standard uncertainty that its readings show.
[[nodiscard]] Expected<Budget> budgetOf(const GaugeSpec& spec, const DerivedPath& path, double reading,
                                        std::optional<double> scatter = {});

/// Of what the board says: its accuracy where somebody stated it.
[[nodiscard]] Budget budgetOf(const GaugeSpec& spec, const SaidPath& path, double reading);

/// What a gauge lends beside its reading: every line of its budget, told apart by `lender`, its id on the bench.
[[nodiscard]] Lent lentOf(const Budget& budget, std::int64_t lender);

/// U of these contributions, and of them without the one at `leftOut` (their count: none left out).
[[nodiscard]] double expandedOf(const std::vector<Contribution>& contributions, std::size_t leftOut);

}  // namespace fg
