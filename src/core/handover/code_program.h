#pragma once

#include "handover/gauge_code.h"

namespace fg {

/// A small complete program around the handed-over function: a loop that reads, converts and prints, behind three
/// functions that the maker fills in. `base` is what the files are called, `call` the names of what the function takes.
[[nodiscard]] std::string loopProgram(const Gauge& gauge, const GaugeCode& code, const std::string& base,
                                      const std::string& call, CodeLanguage language);

}  // namespace fg
