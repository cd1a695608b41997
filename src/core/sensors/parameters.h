// Room `sensors`: analog transfer functions, one family of formulas a file, each forwards and inverse.
#pragma once

#include "units/error.h"

#include <array>
#include <map>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace fg {

/// A pair such as (temperature in °C, resistance in Ω) of a table or a three-point fit.
using Point = std::array<double, 2>;

using ParameterValue = std::variant<double, std::string, std::vector<Point>>;

/// The named parameters of a sensor, a wiring or a converter as they stand in a part or gauge file. Names end in their
/// unit
/// ("r25_ohm"), values are in that unit.
class Parameters {
  public:
    Parameters() = default;
    Parameters(std::initializer_list<std::pair<const std::string, ParameterValue>> values) : m_values(values) {}

    [[nodiscard]] bool has(const std::string& name) const { return m_values.count(name) > 0; }
    [[nodiscard]] const std::map<std::string, ParameterValue>& all() const { return m_values; }
    void set(const std::string& name, ParameterValue value) { m_values[name] = std::move(value); }
    void remove(const std::string& name) { m_values.erase(name); }

    /// The number under this name; nothing when absent or no number.
    [[nodiscard]] std::optional<double> number(const std::string& name) const;
    [[nodiscard]] double numberOr(const std::string& name, double otherwise) const {
        return number(name).value_or(otherwise);
    }

    /// The text under this name; nothing when absent or no text.
    [[nodiscard]] std::optional<std::string> text(const std::string& name) const;
    [[nodiscard]] std::string textOr(const std::string& name, const std::string& otherwise) const {
        return text(name).value_or(otherwise);
    }

    /// Like number(), but absence or a wrong type is an error that names the field.
    [[nodiscard]] Expected<double> requireNumber(const std::string& name) const;
    [[nodiscard]] Expected<std::vector<Point>> requirePoints(const std::string& name) const;

    /// These values over `defaults`: what a gauge says wins over what its part says.
    [[nodiscard]] Parameters over(const Parameters& defaults) const;

    bool operator==(const Parameters&) const = default;

  private:
    std::map<std::string, ParameterValue> m_values;
};

}  // namespace fg
