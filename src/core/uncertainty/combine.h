#pragma once

#include "uncertainty/budget.h"
#include "uncertainty/influences.h"

namespace fg {

/// Shares, standard and expanded uncertainty of a budget whose lines stand. Internal to the room.
void combine(Budget& budget);

/// The cause behind an influence where other gauges of the same bench have it too: what belongs to the converter, which
/// one board has once. Empty where it is this gauge's own. Gauges whose converters are the same part with the same
/// value and tolerance are taken to share it.
[[nodiscard]] std::string originOf(const GaugeSpec& spec, const Influence& influence);

/// Makes a line of a linked input out of what was lent: `slope` is by how much the reading moves with it.
void takeOver(Contribution& line, const Lent& lent, double slope);

}  // namespace fg
