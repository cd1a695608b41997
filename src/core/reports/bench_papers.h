// Room `reports`: a bench on paper: what hangs where, every gauge with its values, the calibrations.
#pragma once

#include "bench/document.h"
#include "catalogue/catalogue.h"
#include "papers/document.h"

namespace fg {

/// The bench as a whole: places and addresses, cables pin by pin, supplies, the parts list, what is wrong, cautions.
[[nodiscard]] Paper benchSheet(const Bench& bench, const Catalogue& catalogue, const std::string& name);

/// One gauge: its circuit with values and tolerances, its path at places of the span, the uncertainty budget, the
/// alarm's comparisons, findings and cautions. A gauge that cannot be computed says why.
[[nodiscard]] Paper gaugeSheet(const GaugeSpec& spec, const Catalogue& catalogue);

/// A paper with the name of its file, without an ending.
struct NamedPaper {
    std::string name;
    Paper paper;
};

/// The bench sheet, a sheet for each gauge and a record for each calibration. Every gauge with the readings of its
/// linked inputs at the middle of their spans.
[[nodiscard]] std::vector<NamedPaper> papersOf(const Bench& bench, const Catalogue& catalogue, const std::string& name);

/// Writes them into a folder, as HTML and as Markdown, with the gauge files and the parts list beside them and an
/// index; the names of the files that were written. The folder is made where it is not there. Errors: Io.
[[nodiscard]] Expected<std::vector<std::string>> writePapers(const Bench& bench, const Catalogue& catalogue,
                                                             const std::string& name, const std::string& folder);

}  // namespace fg
