#pragma once

#include "gauge/csv_convert.h"
#include "recording/track_reader.h"
#include "units/date.h"

#include <string>
#include <vector>

namespace fg {

/// What begins the comment line with the description of a gauge, as JSON.
inline constexpr std::string_view kGaugeComment = "# gauge: ";

/// A recording as CSV (docs/recording-csv.md): comment lines with what it is and the gauges' descriptions, a header,
/// one row for each time at which something was measured: the time, then for each gauge its raw value, its reading, and
/// "at least" or "at most" where that is only a limit.
class RecordingCsv {
  public:
    struct Column {
        std::int64_t gauge = 0;
        GaugeSpec spec;
    };
    RecordingCsv(std::vector<Column> columns, CsvWriter write);

    /// The comment lines and the header. False when the writer stopped, as all below.
    bool begin(const std::string& name, const std::string& source, Micros started_us);
    /// A value of a column, in any order within rows that are not written yet.
    void put(std::size_t column, Micros time_us, const Raw& raw, const Reading& reading);
    /// Writes the rows up to and with that time.
    bool writeUpTo(Micros time_us);
    bool writeMark(const TimeMark& mark);
    [[nodiscard]] std::uint64_t rows() const { return m_rows; }

  private:
    /// What stands in a row for a gauge: its three fields, in m_fields.
    struct Cell {
        Micros time_us;
        std::uint32_t column;
        std::uint32_t length;
        std::size_t at;
    };
    /// The fields of a code as they were written last: on a quiet gauge the same few come again and again.
    struct Written {
        double value = 0;
        Clip clip = Clip::None;
        std::string fields;  ///< empty: not yet
    };
    bool flush();
    void appendFields(std::size_t column, const Raw& raw, const Reading& reading);
    void appendKnownFields(std::size_t column, const Raw& raw, const Reading& reading);

    std::vector<Column> m_columns;
    std::vector<const Unit*> m_units;
    CsvWriter m_write;
    std::vector<std::vector<Written>> m_written;  // by column and code
    std::vector<Cell> m_cells;
    std::string m_fields;
    TimeWriter m_times;
    std::string m_text;
    std::uint64_t m_rows = 0;
};

/// Writes a recording, or the span of it. `goesOn` as of TrackReader::view(). Errors: those of TrackReader; Io where
/// the writer stopped; Busy where it was told to stop.
struct CsvExport {
    TimeSpan span;
    std::vector<std::int64_t> gauges = {};  ///< empty: all
    Conversion conversion = Conversion::AsRecorded;
};
[[nodiscard]] Expected<std::uint64_t> exportRecording(const RecordingStore& store, const BenchRecording& recording,
                                                      const CsvExport& what, const Bench& bench,
                                                      const Catalogue& catalogue, const CsvWriter& write,
                                                      const TrackReader::Progress& goesOn = {});

/// Which column of a foreign CSV is which gauge's raw value.
struct CsvImport {
    std::string name;                                                ///< empty: as the file says, or its name
    std::string source;                                              ///< the file's name
    std::string timeColumn;                                          ///< empty: "time", "t" or the first
    std::vector<std::pair<std::string, std::int64_t>> columns = {};  ///< by name; empty: as they are named on the bench
    Micros start_us = 0;                                             ///< where times are seconds from the start
};

struct ImportReport {
    std::int64_t recording = 0;
    std::uint64_t rows = 0, samples = 0, refused = 0;
    std::string firstProblem;  ///< line and reason of the first refused value
    std::vector<std::string> columns;
};

/// Takes a CSV into the store as a recording: one of exportRecording() with the descriptions that stand in it, for the
/// gauges of the bench by name; another by its columns ("pot", "pot raw", "Glue pot raw"). Times are ISO 8601 or
/// seconds. Nothing is left where it fails. Errors: Unknown for columns that are not there; Missing for none that is a
/// gauge's; the reader's, the store's; Busy where it was told to stop.
[[nodiscard]] Expected<ImportReport> importRecording(const CsvReader& read, const CsvImport& what, const Bench& bench,
                                                     RecordingStore& store, const std::function<bool()>& goesOn = {});

/// A raw value as CSV and lines have it: a number, or bytes in hexadecimal with a space between them; and back.
[[nodiscard]] std::string rawText(const Raw& raw);
[[nodiscard]] std::optional<Raw> rawOfText(std::string_view text);

}  // namespace fg
