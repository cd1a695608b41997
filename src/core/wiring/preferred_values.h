#pragma once

#include <vector>
#include "numeric/transfer.h"

namespace fg {

/// The series of preferred numbers for resistors and capacitors.
enum class Series { E3 = 3, E6 = 6, E12 = 12, E24 = 24, E48 = 48, E96 = 96, E192 = 192 };

/// The mantissas of a series over one decade, 1.00 … < 10.00, ascending.
/// Source: IEC 60063:2015, tables 1 and 2. E3 … E24 are the rounded values printed there (2.7, 3.3, 4.7, 8.2 do not
/// follow from the rule); E48 … E192 are 10^(i/n) to three digits, but for 9.20 of E192.
[[nodiscard]] const std::vector<double>& mantissas(Series series);

/// All values of a series within the interval (both ends included, to rounding), ascending. Empty for an empty interval
/// or one not above zero.
[[nodiscard]] std::vector<double> preferredValues(Series series, Interval within);

}  // namespace fg
