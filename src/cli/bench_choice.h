#pragma once

#include "bench/document.h"
#include "units/error.h"

#include <string>
#include <vector>

namespace fg::cli {

/// The gauges of a bench file (empty: none), and those of gauge files behind them. What of the bench could not be read
/// is told on stderr. Errors: those of either file.
[[nodiscard]] Expected<Bench> benchOf(const std::string& bench, const std::vector<std::string>& gauges);

}  // namespace fg::cli
