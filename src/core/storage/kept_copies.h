#pragma once

#include "bench/document.h"

#include <filesystem>
#include <vector>

namespace fg {

/// Keeps the gauges of a bench, as it was when it was last opened in order, in a small bench file of its own in
/// `folder` (the user's data): three copies a bench, the oldest goes. Nothing is done where the newest is the same.
[[nodiscard]] Expected<void> keepCopy(const Bench& bench, const std::filesystem::path& benchPath,
                                      const std::filesystem::path& folder);

/// The copies kept of a bench, newest first.
[[nodiscard]] std::vector<std::filesystem::path> keptCopies(const std::filesystem::path& benchPath,
                                                            const std::filesystem::path& folder);

}  // namespace fg
