// Room `derived`: what follows from one reading or several by one formula each: the boiling point at a pressure, the
// humidity over a salt, dew point, altitude, the moisture of wood. Every formula is written once (derived/*.cpp) and
// runs over numbers, slopes and recorded expressions.
#pragma once

#include "formula/dual.h"
#include "formula/text.h"
#include "numeric/transfer.h"
#include "units/error.h"
#include "units/quantity.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace fg {

/// One thing that a law needs.
struct LawInput {
    std::string_view name;    ///< as an option: "temperature"
    std::string_view label;   ///< "Pressure of the air"
    std::string_view symbol;  ///< in the formula: "p"
    Quantity quantity = Quantity::Ratio;
    Interval range{};                      ///< where the formula holds, canonical
    std::optional<double> otherwise = {};  ///< what holds when nobody gives it, canonical; the result says so
    std::string_view unit = {};            ///< where the quantity has none of its own: "kg/m³", "m/s²"
};

/// What a law gives.
struct LawOutput {
    std::string_view symbol;  ///< "td"
    Quantity quantity;
    std::string_view unit;  ///< id of the canonical unit
};

/// A formula of several inputs. Values are canonical.
class Law {
  public:
    virtual ~Law() = default;
    [[nodiscard]] virtual std::string_view id() const = 0;
    [[nodiscard]] virtual std::string_view title() const = 0;
    [[nodiscard]] virtual std::span<const LawInput> inputs() const = 0;
    [[nodiscard]] virtual LawOutput output() const = 0;
    [[nodiscard]] virtual std::string_view source() const = 0;
    /// Half-width of the 95 % interval of the formula itself, in the output's unit; 0: not known or far below its use.
    [[nodiscard]] virtual double expanded() const = 0;
    [[nodiscard]] virtual double value(std::span<const double> inputs) const = 0;
    [[nodiscard]] virtual Dual value(std::span<const Dual> inputs) const = 0;
    [[nodiscard]] virtual Recorded value(std::span<const Recorded> inputs) const = 0;
};

/// Every law, in the order in which a list shows them.
[[nodiscard]] const std::vector<const Law*>& laws();
/// Null where nobody knows it.
[[nodiscard]] const Law* findLaw(std::string_view id);

/// A value that goes into a law.
struct LawValue {
    double value = 0;
    double u = 0;  ///< standard uncertainty; 0: not given
};

/// What came out of it.
struct Derived {
    double value = 0;
    double u = 0;                  ///< standard uncertainty from those of the inputs and of the formula
    std::vector<double> slopes;    ///< ∂value/∂input
    std::vector<TraceLine> trace;  ///< every step, with its numbers
};

/// Values in the order of the law's inputs. `correlation`: of every pair, as many rows as inputs; empty: independent.
/// u² = Σᵢⱼ sᵢ·sⱼ·uᵢ·uⱼ·rᵢⱼ (JCGM 100:2008, 5.2.2). Errors: Range for an input outside the formula, naming it; Domain
/// where the formula has no value there.
[[nodiscard]] Expected<Derived> derive(const Law& law, std::span<const LawValue> values,
                                       const std::vector<std::vector<double>>& correlation = {});

}  // namespace fg
