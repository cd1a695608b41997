#pragma once

#include "acquisition/line_reader.h"

#include <string_view>

namespace fg {

/// What a program prints for people, read as well as it can be: labels with a number and perhaps a unit behind it,
/// "temp = 18.40 C   hum = 52.0 %", "T=21.5C,P=998.2hPa", or bare numbers (channels "value", or "value1", "value2", …).
/// Characters of a label that no channel has become "_"; a decimal comma is taken where it can be nothing else.
/// Nothing for a line that is something else.
[[nodiscard]] std::optional<Frame> readSaidLine(std::string_view line);

/// "time, temp (C), hum [%]": two or more names, with units in brackets where there are some. Separated by commas,
/// semicolons or tabs. Empty for a line that is no header.
[[nodiscard]] std::vector<SaidColumn> readSaidHeader(std::string_view line);

/// A unit as people write it, of anything that is measured: "C", "°F", "%", "hPa", "mV".
[[nodiscard]] bool isUnitText(std::string_view text);

}  // namespace fg
