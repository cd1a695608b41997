#pragma once

#include "handover/code_text.h"
#include "handover/running_code.h"

namespace fg {

/// The window of a running value as program text.
struct RunningText {
    std::string functions;   ///< with the variables that stay between two calls
    std::string body;        ///< takes in a reading; returns FG_NO_VALUE where the window has none yet
    std::string value;       ///< what the window is then called
    std::size_t memory = 0;  ///< bytes of those variables; 0: not known, in Python
    int operations = 0;      ///< estimated, of one reading when the window is full
};

/// `type` of the readings; `clock` and `reading` are what the code is given.
[[nodiscard]] RunningText runningText(const RunningCode& running, CodeLanguage language, const std::string& type,
                                      Identifiers& names, const std::string& clock, const std::string& reading);

}  // namespace fg
