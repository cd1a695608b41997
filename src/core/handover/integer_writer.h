#pragma once

#include "handover/code_text.h"
#include "handover/integer_form.h"

namespace fg {

/// The pieces of an integer form as program text.
struct IntegerText {
    std::string constants;
    std::string functions;  ///< that the body calls
    std::string body;       ///< statements, indented
    std::string result;
};

/// Writes an integer form as statements. `code` is what the raw code is called, an integer of C's type `codeType`.
[[nodiscard]] IntegerText integerText(const IntegerForm& form, CodeLanguage language, const std::string& code,
                                      const std::string& codeType, const std::string& resultType);

}  // namespace fg
