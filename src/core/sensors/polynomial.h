#pragma once

#include "numeric/bracketed.h"
#include "numeric/formula_transfer.h"

#include <memory>

namespace fg {

/// What the formula below knows besides numbers.
struct PolynomialFixed {
    std::shared_ptr<const Bracketed> inverse;
    std::size_t count = 0;                  ///< of coefficients used
    std::array<std::string_view, 6> ids{};  ///< of the coefficients as parameters
    std::string_view nominalId, title, source;
    bool hasNominal = false;
    Symbol argument, result;
};

/// y = y0 · (c0 + c1·x + … + c5·x⁵): a curve stated relative to the part's own nominal value, or with y0 left out one
/// of the user's own.
///
/// x in the measurand's canonical unit, y and y0 in that of the output. Must rise or fall throughout the (finite)
/// range; the inverse is found by bracketing (numeric/bracketed.h), NaN outside the range. Source: the part's data
/// sheet, such as the capacitance and the frequency of humidity parts over %RH.
template <class N>
struct PolynomialFormula {
    N nominalValue{};
    std::array<N, 6> c{};
    PolynomialFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        static constexpr std::array<std::string_view, 6> kNames{"c0", "c1", "c2", "c3", "c4", "c5"};
        const auto& f = self.fixed;
        visit(Symbol{f.nominalId, "y0", f.result.unit}, self.nominalValue);
        for (std::size_t i = 0; i < kNames.size(); ++i) visit(Symbol{f.ids[i], kNames[i], ""}, self.c[i]);
    }

    [[nodiscard]] N forward(const N& x) const {
        const auto [id, name, unit] = fixed.result;
        return step(name, unit, fixed.source, curve(x));
    }
    [[nodiscard]] N inverse(const N& y) const {
        const auto [id, name, unit] = fixed.argument;
        const Bracketed& bracketed = *fixed.inverse;
        return step(name, unit, fixed.source,
                    solve(
                        name, unit, y, [&](double value) { return bracketed.inverse(value); },
                        [&](const N& x) { return curve(x); }));
    }

    /// Horner's scheme.
    [[nodiscard]] N curve(const N& x) const {
        N sum = c[fixed.count - 1];
        for (std::size_t i = fixed.count - 1; i-- > 0;) sum = sum * x + c[i];
        return fixed.hasNominal ? nominalValue * sum : sum;
    }

    [[nodiscard]] Interval range() const { return fixed.inverse->range(); }
    [[nodiscard]] bool isRising() const { return fixed.inverse->isRising(); }
    [[nodiscard]] std::string title() const { return std::string(fixed.title); }
    [[nodiscard]] Symbol argument() const { return fixed.argument; }
    [[nodiscard]] Symbol result() const { return fixed.result; }
};

/// The formula with its inverse; `field` names what is wrong where it has none. Errors: Range or Domain when the curve
/// turns back, has no value, or the range is not finite.
[[nodiscard]] Expected<PolynomialFormula<double>> invertible(PolynomialFormula<double> formula, Interval range,
                                                             const std::string& field);

}  // namespace fg
