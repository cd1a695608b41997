#pragma once

#include "handover/error_curve.h"
#include "handover/gauge_code.h"

namespace fg {

/// One way to compute a gauge: the code, or why there is none.
struct CodeChoice {
    CodeArithmetic arithmetic;
    Expected<GaugeCode> code;
    std::vector<CodeErrorBand> curve;
};

/// A gauge in the arithmetic of the wish, to be chosen from.
[[nodiscard]] CodeChoice codeChoice(const Gauge& gauge, const CodeWish& wish);

/// Files in a folder that is made where it is not there. Files of the same names are replaced, each only when it is
/// whole. Errors: Io.
[[nodiscard]] Expected<void> writeCodeFiles(const std::vector<CodeFile>& files, const std::string& folder);

/// The files of a hand-over, with what belongs to them: a README.md that says what they are worth, the words to write
/// before measuring (registers.md), a table over the span (table.csv) of an analog gauge, and the gauge itself
/// (gauge.json).
[[nodiscard]] std::vector<CodeFile> folderFiles(const Gauge& gauge, const GaugeCode& code);
/// All of them in a folder. Errors as above.
[[nodiscard]] Expected<void> writeCodeFolder(const Gauge& gauge, const GaugeCode& code, const std::string& folder);

/// What README.md says.
[[nodiscard]] std::string codeReadme(const Gauge& gauge, const GaugeCode& code);

}  // namespace fg
