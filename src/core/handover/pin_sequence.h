#pragma once

#include "catalogue/part.h"
#include "handover/code_text.h"

namespace fg {

/// One conversion of a converter that is read by its pins, as program text: `convert`, above the functions that the
/// maker fills in for pins and waiting. C: `static int convert(TYPE *raw)`, 0 when its ready line never came.
/// MicroPython: `convert()`, None then.
[[nodiscard]] std::string pinSequenceText(const ConverterPart& part, const std::string& type, CodeLanguage language);

}  // namespace fg
