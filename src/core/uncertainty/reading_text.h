#pragma once

#include "path/signal_path.h"
#include "units/number_format.h"

#include <optional>

namespace fg {

/// A reading as people see it: digits rounded to its uncertainty, unit, limit sign.
struct ReadingText {
    std::string sign;  ///< "≥ ", "≤ " or empty
    NumberText value;
    std::string uncertainty;  ///< "0.68", in the same unit; empty when unknown or clipped
    [[nodiscard]] std::string joined() const { return sign + value.joined(); }
};

/// `value` canonical, `expanded` canonical (not above zero: unknown; then three significant decimals of the unit are
/// given). `decimals`: what the gauge asks for instead of what its uncertainty deserves.
[[nodiscard]] ReadingText readingText(const StageValue& value, double expanded, const Unit& unit,
                                      std::optional<int> decimals = {});

/// Decimals for a reading whose accuracy nobody states: a hundredth of it, to two digits.
[[nodiscard]] int decimalsWhenUnstated(double canonical, const Unit& unit);

/// Any stage's value for a screen or a report: readings rounded to the uncertainty, signals in engineering notation,
/// codes whole (means with two decimals), corrections as a signed amount. "–" when there is none.
[[nodiscard]] ReadingText stageText(const StageValue& value, double expanded, const Unit& readingUnit,
                                    std::optional<int> decimals = {});

}  // namespace fg
