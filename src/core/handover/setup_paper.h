#pragma once

#include "gauge/gauge.h"
#include "papers/document.h"

namespace fg {

/// What has to be written to a gauge's part or to its converter, word by word in the order in which to write it, with
/// the reason of each; and the times to wait. No sections where nothing has to be written or nothing is known of it.
[[nodiscard]] std::vector<PaperSection> setupSections(const Gauge& gauge);

}  // namespace fg
