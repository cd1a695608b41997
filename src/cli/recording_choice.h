#pragma once

#include "recording/recording.h"
#include "units/error.h"

#include <string>
#include <vector>

namespace fg::cli {

/// By number or name; the newest where `wish` is empty. Errors: Missing where there is none at all; Unknown.
[[nodiscard]] Expected<BenchRecording> recordingOf(const std::vector<BenchRecording>& all, const std::string& wish);

}  // namespace fg::cli
