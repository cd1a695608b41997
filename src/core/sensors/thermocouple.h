#pragma once

#include "numeric/transfer.h"
#include "units/error.h"

#include <memory>
#include <string_view>

namespace fg {

/// A thermocouple against its cold junction: V = E(t) − E(t_cold).
///
/// E is the reference function of the type, polynomials piecewise in t (and a Gaussian for K above 0 °C). Units: °C, V.
/// Defined on K −270 … 1372, J −210 … 1200, T −270 … 400, N −270 … 1300, E −270 … 1000, S and R −50 … 1768.1, B 50 …
/// 1820 °C (B has its least voltage at 21 °C and is taken on the branch above it; its cold junction may be 0 … 50 °C).
/// Outside: NaN. The inverse solves the reference function itself (Newton within brackets), not the approximate inverse
/// polynomials; laid down once in a table a type (numeric/inverse_table.h), it agrees with it within 1e-9 °C. Source:
/// IEC 60584-1:2013, annex A = ITS-90 reference functions, NIST Monograph 175.
///
/// Types K J T N E S R B. Errors: Unknown type; Range when the cold junction lies outside −40 … 150 °C (B: 0 … 50 °C).
[[nodiscard]] Expected<std::unique_ptr<Transfer>> thermocouple(std::string_view type, double coldJunction_degC);

}  // namespace fg
