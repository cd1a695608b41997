// Room `bench`: the maker's document. A bench has gauges; gauges go in and out as JSON.
#pragma once

#include "path/gauge_spec.h"
#include "units/error.h"

#include <nlohmann/json_fwd.hpp>
#include <string>

namespace fg {

/// Version number in the "fairgauge" field of a gauge file.
inline constexpr int kGaugeFileVersion = 1;

/// Reads a gauge file (data/schema/gauge.schema.json). Errors name file, field, what was found and what was expected;
/// unknown fields are errors, so that a typing mistake is not ignored. `file` is only used in messages.
[[nodiscard]] Expected<GaugeSpec> readGauge(const std::string& json, const std::string& file);

/// Writes it; readGauge() of the result gives an equal spec. Indented by two.
[[nodiscard]] std::string writeGauge(const GaugeSpec& spec);

/// readGauge() of a file on disk.
[[nodiscard]] Expected<GaugeSpec> readGaugeFile(const std::string& path);

}  // namespace fg
