#pragma once

#include "numeric/inverse_table.h"
#include "numeric/transfer.h"
#include "units/error.h"

#include <memory>
#include <string_view>
#include <vector>

namespace fg {

/// A thermocouple against its cold junction: V = E(t) − E(t_cold).
///
/// E is the reference function of the type, polynomials piecewise in t (and a Gaussian for K above 0 °C). Units: °C, V.
/// Defined on K −270 … 1372, J −210 … 1200, T −270 … 400, N −270 … 1300, E −270 … 1000, S and R −50 … 1768.1, B 50 …
/// 1820 °C (B has its least voltage at 21 °C and is taken on the branch above it; its cold junction may be 0 … 50 °C).
/// Outside: NaN. The inverse solves the reference function itself (Newton within brackets), not the approximate inverse
/// polynomials; laid down once in a table a type (numeric/inverse_table.h), it agrees with it within 1e-9 °C. Source:
/// IEC 60584-1:2013, annex A = ITS-90 reference functions, NIST Monograph 175.
class Thermocouple {
  public:
    /// Types K J T N E S R B. Errors: Unknown type; Range when the cold junction lies outside −40 … 150 °C (B: 0 … 50
    /// °C).
    [[nodiscard]] static Expected<Thermocouple> make(std::string_view type, double coldJunction_degC);

    [[nodiscard]] double forward(double t_degC) const { return emf_V(t_degC) - m_cold_V; }
    [[nodiscard]] double inverse(double voltage_V) const { return temperature_degC(voltage_V + m_cold_V); }
    [[nodiscard]] Interval range() const;
    [[nodiscard]] bool isRising() const { return true; }
    [[nodiscard]] std::string title() const;
    [[nodiscard]] std::vector<TraceLine> explainInverse(double voltage_V) const;
    [[nodiscard]] std::vector<TraceLine> explainForward(double t_degC) const;

    /// The reference function: V against a junction at 0 °C. NaN outside the type's domain (for B from 0 °C).
    [[nodiscard]] double emf_V(double t_degC) const;

    /// Its inverse.
    [[nodiscard]] double temperature_degC(double emf_V) const;

    struct Type;  ///< coefficients of one type

  private:
    Thermocouple() = default;
    const Type* m_type = nullptr;
    const InverseTable* m_inverse = nullptr;
    double m_cold_degC = 0;
    double m_cold_V = 0;
};

}  // namespace fg
