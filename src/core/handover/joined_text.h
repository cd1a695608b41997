#pragma once

#include "handover/code_text.h"
#include "handover/device_code.h"

namespace fg {

/// The statement that joins a number from the bytes of its blocks, called as in `blocks`: bits of a byte that move by
/// as much are one term. An integer where the formula counts with one, else a real number.
[[nodiscard]] std::string joinedLine(const JoinedInput& input, bool isWhole, const std::string& name,
                                     const std::vector<std::string>& blocks, CodeLanguage language, CodeReal real);

}  // namespace fg
