#pragma once

#include "bench/board.h"
#include "catalogue/device_part.h"
#include "findings/finding.h"
#include "planning/pull_up.h"

namespace fg {

// What can be wrong with a line and what hangs on it, each rule once: a gauge's own findings and the plan of the bench
// say the same with the same severity.

/// A pull-up that is missing, not given, or outside its window; nothing where it fits. `isGiven`: the gauge says
/// something of it. Offers the recommended value.
[[nodiscard]] std::optional<Finding> pullUpFinding(const PullUpAnswer& answer, bool isGiven, const std::string& line);

/// Two devices answer at one address; `names` as a list in quotes.
[[nodiscard]] Finding addressTaken(unsigned address, const std::string& names, const std::string& line);

/// Two gauges that were given the code of one probe; `names` as a list in quotes.
[[nodiscard]] Finding probeTwice(const std::string& names, const std::string& line);

/// Parts of one line that are fed with other voltages than the line is pulled up to; `others` lists them.
[[nodiscard]] Finding levelsDiffer(double line_V, const std::string& others, const std::string& line);

/// The part does not work at this supply; nothing where it does.
[[nodiscard]] std::optional<Finding> supplyUnsuitable(double supply_V, const PartFacts& part,
                                                      const std::string& supply);

/// A high level of `level_V` at a pin of the board that does not stand it. A fault where the board says what its pins
/// stand, a doubt where it says only its own level (inputs commonly stand that + 0.3 V); nothing where it says neither.
[[nodiscard]] std::optional<Finding> pinLevel(double level_V, const Board& board, const std::string& what);

/// A cable longer than the part's document allows; nothing where it states none.
[[nodiscard]] std::optional<Finding> cableTooLong(double cable_m, const PartFacts& part);

inline constexpr double kOpenDrainPullUp_ohm = 10e3;  ///< usual for alert outputs, which are slow

/// An open-drain output that the settings use and that goes high by a resistor only.
[[nodiscard]] std::optional<Finding> openDrain(const DevicePart& part, std::span<const FieldValue> settings);

}  // namespace fg
