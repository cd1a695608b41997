#pragma once

#include "derived/law.h"

namespace fg {

/// Makes a Law of `Formula`, which has `kId`, `kTitle`, `kSource`, `kInputs` (a constexpr array), `kOutput`,
/// `kExpanded`, and `value(x)` written once for every number type.
template <class Formula>
class FormulaLaw final : public Law {
  public:
    [[nodiscard]] std::string_view id() const override { return Formula::kId; }
    [[nodiscard]] std::string_view title() const override { return Formula::kTitle; }
    [[nodiscard]] std::span<const LawInput> inputs() const override { return Formula::kInputs; }
    [[nodiscard]] LawOutput output() const override { return Formula::kOutput; }
    [[nodiscard]] std::string_view source() const override { return Formula::kSource; }
    [[nodiscard]] double expanded() const override { return Formula::kExpanded; }
    [[nodiscard]] double value(std::span<const double> inputs) const override { return Formula::value(inputs); }
    [[nodiscard]] Dual value(std::span<const Dual> inputs) const override { return Formula::value(inputs); }
    [[nodiscard]] Recorded value(std::span<const Recorded> inputs) const override { return Formula::value(inputs); }
};

template <class Formula>
[[nodiscard]] const Law& lawOf() {
    static const FormulaLaw<Formula> law;
    return law;
}

/// The laws of each file, in the order shown.
[[nodiscard]] std::vector<const Law*> waterLaws();
[[nodiscard]] std::vector<const Law*> saltLaws();
[[nodiscard]] std::vector<const Law*> atmosphereLaws();
[[nodiscard]] std::vector<const Law*> humidityLaws();
[[nodiscard]] std::vector<const Law*> comfortLaws();

}  // namespace fg
