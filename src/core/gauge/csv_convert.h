#pragma once

#include "gauge/gauge.h"

#include <cstdint>
#include <functional>
#include <string>
#include <string_view>

namespace fg {

/// What came of a conversion, row by row.
struct CsvReport {
    std::uint64_t rows = 0;          ///< data rows read
    std::uint64_t converted = 0;     ///< with a reading, clipped ones included
    std::uint64_t clipped = 0;       ///< whose reading is only a limit
    std::uint64_t refused = 0;       ///< kept in the output without a reading, with the reason
    std::string firstProblem;        ///< line and reason of the first refused row
    std::vector<std::string> notes;  ///< what the words tell of the converter, rows that go over several lines
};

/// Gives the next bytes of the input, up to the number asked for; 0 at its end.
using CsvReader = std::function<Expected<std::size_t>(char* bytes, std::size_t count)>;

/// Takes pieces of the output in order; false stops the conversion (disk full).
using CsvWriter = std::function<bool(std::string_view)>;

/// Converts one column of raw values of a CSV text: counts, words, or the bytes of a digital part (RFC 4180; `#`
/// comment lines; comma, semicolon or tab, told from the first lines: with semicolons and tabs, commas are decimal) to
/// readings.
///
/// Every input line is passed on as it was, with two columns behind it: `reading_UNIT` (the gauge's unit, full double
/// precision) and `clipped` ("at least", "at most", or "refused: …" for a row whose raw value cannot be read; nothing
/// is dropped). Without a header line the columns are numbered from 1 and none is written.
///
/// `column` is a name or number; empty takes the gauge's channel, then raw, code, adc, counts, then the only column.
/// Errors: Unknown when there is no such column (naming those there are); Ambiguous when none was named and several
/// could be meant; Missing when there is no row at all; Range for a line of more than 1 MiB; Io when the writer
/// stopped; the reader's own.
///
/// A quote opens a field only where the field begins. One that is not closed, or closed in the middle of a field, is
/// part of the text: its row is refused, and the next line is a row of its own.
[[nodiscard]] Expected<CsvReport> convertCsv(const CsvReader& read, const Gauge& gauge, const std::string& column,
                                             const CsvWriter& write);

/// The same for a text in memory.
[[nodiscard]] Expected<CsvReport> convertCsv(std::string_view input, const Gauge& gauge, const std::string& column,
                                             const CsvWriter& write);

}  // namespace fg
