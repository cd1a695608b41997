#pragma once

#include "handover/integer_form.h"

#include <span>

namespace fg {

/// Exact readings of codes, in the unit of the result, one for each code. Copies share nothing that changes.
using ReadCodes = std::function<void(std::span<const double> codes, std::span<double> readings)>;

/// The reading of one code after the other, read a batch ahead: what is quick for many codes at once makes all codes of
/// a converter a matter of a second. A copy of it reads ahead by itself. `last`: the greatest code that there is.
[[nodiscard]] ReadingOfCode readingsAhead(ReadCodes read, std::int64_t last);

}  // namespace fg
