// Room `calibration`: comparisons with something better, the curves fitted to them, and what they are worth.
#pragma once

#include "units/error.h"
#include "units/unit.h"

#include <cstddef>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace fg {

/// A curve that can be fitted to comparisons.
enum class FitKind {
    Offset,         ///< y = x + offset
    Line,           ///< y = intercept + slope · (x − centre)
    Quadratic,      ///< y = c0 + c1 · (x − centre) + c2 · (x − centre)²
    Cubic,          ///< one power more
    SteinhartHart,  ///< 1/T = A + B · ln R + C · (ln R)³
    Beta,           ///< 1/T = 1/T25 + (1/B) · ln(R/R25)
    Callendar       ///< R = R0 · (1 + A · t + B · t²)
};
[[nodiscard]] std::string_view fitName(FitKind kind);
/// "offset", "line", "quadratic", "cubic", "steinhart-hart", "beta", "callendar".
[[nodiscard]] std::optional<FitKind> fitFromName(std::string_view name);
/// Whether x is a resistance in Ω and the reference a temperature.
[[nodiscard]] bool isRefit(FitKind kind);
/// How many coefficients it has, and so how many points it needs.
[[nodiscard]] std::size_t coefficientsOf(FitKind kind);

/// One comparison: what the gauge said (or a resistance in Ω) and what the reference said.
struct Comparison {
    double x = 0;
    double reference = 0;
    double u = 0;               ///< standard uncertainty of the reference here; 0: not given
    std::string setAside = {};  ///< why the fit leaves it out; empty: it is used
    std::size_t line = 0;       ///< of the file it came from; 0: none
};

/// A coefficient of a fit.
struct FitCoefficient {
    std::string name;  ///< "slope", "beta_K"
    double value = 0;
    std::string unit;     ///< "degC", "1/degC", "ohm"; "1" for a ratio
    double standard = 0;  ///< NaN where nothing tells it: as many points as coefficients and no uncertainty given
};

/// What a fitted curve says at one place.
struct Prediction {
    double at = 0, value = 0;
    double standard = 0;  ///< of the curve there; NaN as above
};

/// A curve fitted to comparisons.
struct CurveFit {
    FitKind kind = FitKind::Line;
    double centre = 0;
    bool isOfCorrection = false;
    std::vector<FitCoefficient> coefficients;
    std::vector<std::vector<double>> correlation;
    /// √(Σr²/(n − p)), in the reference's unit; NaN with no freedom left.
    double scatter = 0;
    bool isWeighted = false;          ///< every point brought its own uncertainty
    std::vector<double> residuals;    ///< of every comparison, used or not, in their order: reference less curve
    std::vector<double> leaveOneOut;  ///< of the used ones: what they would be off if they had not been used
    double leaveOneOutRms = 0;        ///< NaN with as many points as coefficients

    /// At a reading (or a resistance). Of a correction: the amount to add.
    [[nodiscard]] Prediction at(double x) const;

    std::vector<double> raw;  ///< the coefficients as they are fitted: of powers, of ln R
    std::vector<std::vector<double>> rawCovariance;
};

/// Fits by weighted linear least squares; by the points' own uncertainties where every used one has one, else all
/// alike, and then the scatter about the curve gives the uncertainty (JCGM 100:2008, H.3). `unit` is that of reading
/// and reference, for the coefficients. Errors: Missing with fewer used points than coefficients; Domain for points
/// that cannot tell the coefficients apart; Range for a resistance or a temperature that cannot be.
[[nodiscard]] Expected<CurveFit> fitCurve(FitKind kind, std::span<const Comparison> points, double centre,
                                          bool isOfCorrection, const Unit& unit);

}  // namespace fg
