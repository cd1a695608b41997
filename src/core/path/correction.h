#pragma once

#include "numeric/formula_transfer.h"
#include "numeric/polyline.h"
#include "path/gauge_spec.h"
#include "units/error.h"

#include <array>
#include <memory>

namespace fg {

/// corrected = v + amount(v) with amount(v) = c₀ + c₁·x + c₂·x² + c₃·x³, x = v − centre; or amount by a table, straight
/// between its points. Where it is curved the amount stays what it is at the ends of its points beyond them.
template <class N>
struct CorrectionFormula {
    /// What a curved one knows besides numbers.
    struct Curve {
        Interval points;                     ///< between which it was found
        Interval amounts;                    ///< that it adds there, a little wider
        std::optional<Polyline> table = {};  ///< instead of powers
        std::string_view unit, amountUnit;
    };

    std::array<N, 4> c{};
    std::size_t count = 0;  ///< coefficients in use; 0: nothing is added
    N centre{};
    bool isCentred = false;
    std::shared_ptr<const Curve> curve = {};

    [[nodiscard]] N amount(const N& v) const {
        if (curve) return curvedAmount(v);
        if (count == 0) return N(0.0);
        return count == 1 ? c[0] : c[0] + c[1] * (isCentred ? v - centre : v);
    }
    [[nodiscard]] N apply(const N& v) const { return count == 0 && !curve ? v : v + amount(v); }
    [[nodiscard]] N undo(const N& corrected) const {
        if (curve)
            return solve(
                "v", curve->unit, corrected, [this](double wanted) { return nominalFormula().curvedUndo(wanted); },
                [this](const auto& v) {
                    return v + this->template lifted<std::decay_t<decltype(v)>>().curvedAmount(v);
                });
        if (count == 0) return corrected;
        if (count == 1) return corrected - c[0];
        return (isCentred ? corrected - c[0] + c[1] * centre : corrected - c[0]) / (1.0 + c[1]);
    }

    /// The same over another number type; every coefficient a number of the formula.
    template <class M>
    [[nodiscard]] CorrectionFormula<M> lifted() const {
        CorrectionFormula<M> other;
        for (std::size_t i = 0; i < c.size(); ++i) other.c[i] = M(nominal(c[i]));
        other.count = count;
        other.centre = M(nominal(centre));
        other.isCentred = isCentred;
        if (curve)
            other.curve = std::make_shared<typename CorrectionFormula<M>::Curve>(typename CorrectionFormula<M>::Curve{
                curve->points, curve->amounts, curve->table, curve->unit, curve->amountUnit});
        return other;
    }
    [[nodiscard]] CorrectionFormula<double> nominalFormula() const { return lifted<double>(); }

    [[nodiscard]] N curvedAmount(const N& v) const {
        const N held = least(most(v, N(curve->points.low)), N(curve->points.high));
        if (curve->table) return lookup(*curve->table, held, curve->unit, curve->amountUnit);
        const N x = isCentred ? held - centre : held;
        N sum = c[count - 1];
        for (std::size_t i = count - 1; i-- > 0;) sum = c[i] + x * sum;
        return sum;
    }
    /// The place whose correction gives `corrected`; there is one, since a correction rises.
    [[nodiscard]] double curvedUndo(double corrected) const;
};

template <>
[[nodiscard]] double CorrectionFormula<double>::curvedUndo(double corrected) const;

/// How a calibration pulls the readings of its gauge: what it takes away of an error and what it brings in.
struct CalibrationPull {
    std::vector<double> places;   ///< uncorrected readings at which it was compared, canonical
    std::vector<double> weights;  ///< how much of an error at each place is taken off here
    double random = 0;            ///< standard uncertainty of the fit from what scatters point by point, canonical
    double shared = 0;            ///< of the reference, the same at every point
    bool isInside = true;         ///< between its points
    double distance = 0;          ///< to the nearest of them when outside
};

/// The correction a calibration found, in canonical units.
class Correction {
  public:
    /// Errors: Unknown kind; Range for numbers that are none, a slope of −1 or less; Missing where a curved kind has no
    /// points; Domain where the corrected reading would not rise with the reading, naming the place.
    [[nodiscard]] static Expected<Correction> make(const CorrectionSpec& spec, Quantity quantity);

    [[nodiscard]] double amount(double value) const { return m_formula.amount(value); }
    [[nodiscard]] double apply(double value) const { return m_formula.apply(value); }
    [[nodiscard]] double undo(double corrected) const { return m_formula.undo(corrected); }
    [[nodiscard]] Dual apply(const Dual& value) const;
    [[nodiscard]] bool isNone() const;

    /// For kind "parameters": how the reading moves with each of the sensor's parameters that the points gave comes
    /// from the formula itself. Errors: Unknown for a name that is no parameter of it; those of leastSquares().
    [[nodiscard]] Expected<void> refitted(const CorrectionSpec& spec, std::shared_ptr<const Transfer> sensor);

    /// What the calibration does to an uncorrected reading; nothing where its points are not known. The weights follow
    /// from the fit (its projector), the random part from the points' own uncertainties or, where they have none, from
    /// the scatter about the fit.
    [[nodiscard]] std::optional<CalibrationPull> pullAt(double reading) const;

    /// In a few words: "offset, 4 points", "line", "none yet".
    [[nodiscard]] const std::string& note() const { return m_note; }

    /// apply() recorded behind a value; the value itself without a correction.
    [[nodiscard]] Recorded record(Recording& in, const Recorded& value, Quantity quantity) const;
    /// The line of the trace; none without a correction.
    [[nodiscard]] std::vector<TraceLine> explain(double value, Quantity quantity) const;

  private:
    struct Fit;
    CorrectionFormula<double> m_formula;
    std::shared_ptr<const Fit> m_fit;
    std::string m_note = "none yet";
};

}  // namespace fg
