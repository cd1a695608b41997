#pragma once

#include "gauge/gauge.h"

#include <cstdint>
#include <functional>
#include <string>
#include <string_view>

namespace fg {

/// What came of a conversion, row by row.
struct CsvReport {
    std::uint64_t rows = 0;       ///< data rows read
    std::uint64_t converted = 0;  ///< with a reading, clipped ones included
    std::uint64_t clipped = 0;    ///< whose reading is only a limit
    std::uint64_t refused = 0;    ///< kept in the output without a reading, with the reason
    std::string firstProblem;     ///< line and reason of the first refused row
    std::string note;             ///< what the words themselves tell of the converter; empty when nothing
};

/// Takes pieces of the output in order; false stops the conversion (disk full).
using CsvWriter = std::function<bool(std::string_view)>;

/// Converts one column of raw values of a CSV text: counts, words, or the bytes of a digital part (RFC 4180; `#`
/// comment lines; comma, semicolon or tab, told from the first line) to readings.
///
/// Every input line is passed on as it was, with two columns behind it: `reading_UNIT` (the gauge's unit, full double
/// precision) and `clipped` ("at least", "at most", or "refused: …" for a row whose raw value cannot be read; nothing
/// is dropped). Without a header line the columns are numbered from 1 and none is written.
///
/// `column` is a name or number; empty takes the gauge's channel, then raw, code, adc, counts, then the only column.
/// Errors: Unknown when there is no such column (naming those there are); Ambiguous when none was named and several
/// could be meant; Missing when there is no row at all; Io when the writer stopped.
[[nodiscard]] Expected<CsvReport> convertCsv(std::string_view input, const Gauge& gauge, const std::string& column,
                                             const CsvWriter& write);

}  // namespace fg
