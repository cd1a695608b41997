#pragma once

#include "handover/code_text.h"
#include "handover/device_code.h"

namespace fg {

/// A checksum as program text.
struct CheckText {
    std::string helper;     ///< the function that works it out
    std::string condition;  ///< true where it does not fit
};

/// `block` is what the bytes are called.
[[nodiscard]] CheckText checkText(const BlockCheck& check, const std::string& block, CodeLanguage language);

}  // namespace fg
