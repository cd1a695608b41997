#include "recording/recording_csv.h"

#include "bench/gauge_json.h"
#include "gauge/csv_records.h"
#include "json/json_text.h"
#include "units/date.h"
#include "units/number_format.h"
#include "units/text_file.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <future>
#include <memory>
#include <nlohmann/json.hpp>

namespace fg {
namespace {

constexpr std::size_t kFlushAt = 1 << 16;

/// A field as RFC 4180 has it, in one line.
std::string field(const std::string& text) {
    const std::string line = inOneLine(text);
    if (line.find_first_of(",\";\t") == std::string::npos) return line;
    std::string quoted = "\"";
    for (const char c : line) quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
    return quoted + '"';
}

std::string comment(const std::string& key, const std::string& text) {
    return "# " + key + ": " + inOneLine(text) + "\n";
}

void appendRaw(std::string& text, const Raw& raw) {
    if (const double* word = std::get_if<double>(&raw)) {
        if (std::isnan(*word)) return;  // a derived gauge that has no reading yet
        constexpr double kWhole = 1e15;
        if (*word == std::floor(*word) && std::abs(*word) < kWhole && !(*word == 0 && std::signbit(*word)))
            fmt::format_to(std::back_inserter(text), "{}", static_cast<std::int64_t>(*word));
        else
            text += shortestText(*word);
        return;
    }
    bool isFirst = true;
    for (const std::uint8_t byte : std::get<std::vector<std::uint8_t>>(raw)) {
        fmt::format_to(std::back_inserter(text), "{}{:02X}", isFirst ? "" : " ", byte);
        isFirst = false;
    }
}

}  // namespace

std::string rawText(const Raw& raw) {
    std::string text;
    appendRaw(text, raw);
    return text;
}

namespace {

/// A code as most rows have it.
std::optional<std::uint32_t> wholeOfText(std::string_view text) {
    std::uint32_t whole = 0;
    const auto [end, status] = std::from_chars(text.data(), text.data() + text.size(), whole);
    return status == std::errc{} && end == text.data() + text.size() ? std::optional(whole) : std::nullopt;
}

}  // namespace

std::optional<Raw> rawOfText(std::string_view text) {
    text = trimmed(text);
    if (const auto code = wholeOfText(text)) return Raw(static_cast<double>(*code));
    if (text.starts_with("0x") || text.starts_with("0X")) {
        std::uint64_t word = 0;
        const auto [stop, status] = std::from_chars(text.data() + 2, text.data() + text.size(), word, 16);
        const bool isAll = status == std::errc{} && stop == text.data() + text.size() && text.size() > 2;
        return isAll ? std::optional<Raw>(static_cast<double>(word)) : std::nullopt;
    }
    double word = 0;
    const auto [stop, status] = std::from_chars(text.data(), text.data() + text.size(), word);
    if (status == std::errc{} && stop == text.data() + text.size() && std::isfinite(word)) return Raw(word);
    std::vector<std::uint8_t> bytes;
    for (std::size_t at = 0; at < text.size(); at += 3) {
        const std::string_view pair = text.substr(at, 2);
        unsigned byte = 0;
        const auto [pairEnd, read] = std::from_chars(pair.data(), pair.data() + pair.size(), byte, 16);
        if (pair.size() != 2 || read != std::errc{} || pairEnd != pair.data() + 2) return std::nullopt;
        if (at + 2 < text.size() && text[at + 2] != ' ') return std::nullopt;
        bytes.push_back(static_cast<std::uint8_t>(byte));
    }
    return bytes.size() >= 2 ? std::optional<Raw>(std::move(bytes)) : std::nullopt;
}

RecordingCsv::RecordingCsv(std::vector<Column> columns, CsvWriter write)
    : m_columns(std::move(columns)), m_write(std::move(write)), m_written(m_columns.size()) {
    for (const Column& column : m_columns) m_units.push_back(&column.spec.readingUnit());
}

bool RecordingCsv::begin(const std::string& name, const std::string& source, Micros started_us) {
    m_text += comment("fair gauge recording", name) + comment("source", source) +
              comment("started", timeOfMicros(started_us));
    for (const Column& column : m_columns)
        if (const auto json = parseJson(writeGauge(column.spec), "gauge"))
            m_text += std::string(kGaugeComment) + jsonText(*json) + "\n";
    m_text += "time";
    for (std::size_t i = 0; i < m_columns.size(); ++i) {
        const std::string& gauge = m_columns[i].spec.name;
        m_text += "," + field(gauge + " raw") + "," + field(fmt::format("{} {}", gauge, m_units[i]->symbol)) + "," +
                  field(gauge + " limit");
    }
    m_text += "\n";
    return flush();
}

void RecordingCsv::appendFields(std::size_t column, const Raw& raw, const Reading& reading) {
    appendRaw(m_fields, raw);
    m_fields += ',';
    if (!std::isnan(reading.value)) m_fields += shortestText(m_units[column]->fromCanonical(reading.value));
    m_fields += ',';
    if (reading.clip != Clip::None) m_fields += clipText(reading.clip);
}

void RecordingCsv::appendKnownFields(std::size_t column, const Raw& raw, const Reading& reading) {
    constexpr double kMost = 65535;
    const double* word = std::get_if<double>(&raw);
    const bool isCode = word && *word >= 0 && *word <= kMost && !std::signbit(*word) && *word == std::floor(*word);
    if (!isCode || std::isnan(reading.value)) return appendFields(column, raw, reading);
    std::vector<Written>& all = m_written[column];
    const auto at = static_cast<std::size_t>(*word);
    if (at >= all.size()) all.resize(std::max(at + 1, 2 * all.size()));
    Written& known = all[at];
    if (known.fields.empty() || known.value != reading.value || known.clip != reading.clip) {
        const std::size_t begin = m_fields.size();
        appendFields(column, raw, reading);
        known = {reading.value, reading.clip, m_fields.substr(begin)};
        return;
    }
    m_fields += known.fields;
}

void RecordingCsv::put(std::size_t column, Micros time_us, const Raw& raw, const Reading& reading) {
    const std::size_t at = m_fields.size();
    appendKnownFields(column, raw, reading);
    m_cells.push_back(
        {time_us, static_cast<std::uint32_t>(column), static_cast<std::uint32_t>(m_fields.size() - at), at});
}

bool RecordingCsv::writeUpTo(Micros time_us) {
    const auto isEarlier = [](const Cell& a, const Cell& b) { return a.time_us < b.time_us; };
    if (!std::is_sorted(m_cells.begin(), m_cells.end(), isEarlier))
        std::stable_sort(m_cells.begin(), m_cells.end(), isEarlier);
    std::size_t at = 0;
    std::vector<const Cell*> row(m_columns.size(), nullptr);
    while (at < m_cells.size() && m_cells[at].time_us <= time_us) {
        // A gauge that was heard twice at one time has two rows.
        std::fill(row.begin(), row.end(), nullptr);
        const Micros time = m_cells[at].time_us;
        for (; at < m_cells.size() && m_cells[at].time_us == time && !row[m_cells[at].column]; ++at)
            row[m_cells[at].column] = &m_cells[at];
        m_times.append(time, m_text);
        for (const Cell* cell : row) {
            m_text += ',';
            if (cell)
                m_text.append(m_fields, cell->at, cell->length);
            else
                m_text += ",,";
        }
        m_text += '\n';
        ++m_rows;
        if (m_text.size() >= kFlushAt && !flush()) return false;
    }
    if (at == m_cells.size()) {
        m_cells.clear();
        m_fields.clear();
    } else {
        m_cells.erase(m_cells.begin(), m_cells.begin() + static_cast<std::ptrdiff_t>(at));
    }
    return flush();
}

bool RecordingCsv::writeMark(const TimeMark& mark) {
    m_text += fmt::format("# {} {} … {}: {}\n", markKindName(mark.kind), timeOfMicros(mark.span.from_us),
                          timeOfMicros(mark.span.to_us), inOneLine(mark.text));
    return flush();
}

bool RecordingCsv::flush() {
    const bool isTaken = m_text.empty() || m_write(m_text);
    m_text.clear();
    return isTaken;
}

namespace {

/// Turns pieces of a recording into rows, one after the other.
class PieceWriter {
  public:
    static Expected<PieceWriter> make(const RecordingStore& store, const BenchRecording& recording,
                                      const CsvExport& what, const Bench& bench, const Catalogue& catalogue) {
        PieceWriter writer;
        for (const Track& track : recording.tracks) {
            const bool isWanted = what.gauges.empty() ||
                                  std::find(what.gauges.begin(), what.gauges.end(), track.gauge) != what.gauges.end();
            if (!isWanted) continue;
            auto reader = TrackReader::make(store, recording, track.gauge, what.conversion, bench, catalogue);
            if (!reader) return tl::unexpected(reader.error());
            writer.m_columns.push_back({track.gauge, reader->gaugeAt(what.span.to_us)});
            writer.m_readers.push_back(std::move(*reader));
            writer.m_samples += track.count;
        }
        writer.m_csv =
            std::make_unique<RecordingCsv>(writer.m_columns, [&text = *writer.m_text](std::string_view rows) {
                text += rows;
                return true;
            });
        return writer;
    }

    [[nodiscard]] const std::vector<RecordingCsv::Column>& columns() const { return m_columns; }
    [[nodiscard]] std::uint64_t samples() const { return m_samples; }
    [[nodiscard]] std::uint64_t rows() const { return m_csv->rows(); }
    [[nodiscard]] const std::string& text() const { return *m_text; }

    /// The rows of a piece into text().
    Expected<void> write(TimeSpan piece) {
        m_text->clear();
        for (std::size_t i = 0; i < m_readers.size(); ++i) {
            const auto read =
                m_readers[i].read(piece, [&](const SampleColumns& raw, std::span<const Reading> readings) {
                    for (std::size_t at = 0; at < raw.size(); ++at)
                        m_csv->put(i, raw.times[at], raw.sample(at).raw, readings[at]);
                    return true;
                });
            if (!read) return read;
        }
        (void)m_csv->writeUpTo(piece.to_us);  // its writer takes all
        return {};
    }

  private:
    std::vector<RecordingCsv::Column> m_columns;
    std::vector<TrackReader> m_readers;
    std::unique_ptr<std::string> m_text = std::make_unique<std::string>();
    std::unique_ptr<RecordingCsv> m_csv;
    std::uint64_t m_samples = 0;
};

}  // namespace

Expected<std::uint64_t> exportRecording(const RecordingStore& store, const BenchRecording& recording,
                                        const CsvExport& what, const Bench& bench, const Catalogue& catalogue,
                                        const CsvWriter& write, const TrackReader::Progress& goesOn) {
    constexpr std::uint64_t kAtOnce = 100'000;  // samples held at a time
    const auto make = [&] { return PieceWriter::make(store, recording, what, bench, catalogue); };
    auto first = make();
    if (!first) return tl::unexpected(first.error());
    const auto stopped = fail(ErrorCode::Io, "CSV", "an output that takes no more", "room for all of it");
    RecordingCsv head(first->columns(), write);
    if (!head.begin(recording.name, recording.source, recording.started_us)) return stopped;
    for (const TimeMark& mark : recording.marks)
        if (what.span.holds(mark.span.from_us) && !head.writeMark(mark)) return stopped;
    const TimeSpan whole = recording.span();
    const TimeSpan span{std::max(what.span.from_us, whole.from_us), std::min(what.span.to_us, whole.to_us)};
    const Micros length_us = std::max<Micros>(1, span.to_us - span.from_us);
    const Micros piece_us =
        std::max<Micros>(kMicrosASecond, length_us / static_cast<Micros>(first->samples() / kAtOnce + 1));

    // Two at work: while the rows of one piece go out, those of the next are made.
    std::vector<PieceWriter> writers;
    writers.push_back(std::move(*first));
    if (span.from_us + piece_us <= span.to_us) {
        auto second = make();
        if (!second) return tl::unexpected(second.error());
        writers.push_back(std::move(*second));
    }
    std::array<std::future<Expected<void>>, 2> made;
    Micros next_us = span.from_us;
    const auto startNext = [&](std::size_t which) {
        if (next_us > span.to_us) return;
        const TimeSpan piece{next_us, std::min(next_us + piece_us - 1, span.to_us)};
        next_us += piece_us;
        const auto policy = writers.size() > 1 ? std::launch::async | std::launch::deferred : std::launch::deferred;
        made[which] = std::async(policy, [&writer = writers[which], piece] { return writer.write(piece); });
    };
    for (std::size_t i = 0; i < writers.size(); ++i) startNext(i);
    Micros from_us = span.from_us;
    for (std::size_t which = 0; made[which].valid(); which = writers.size() - 1 - which, from_us += piece_us) {
        const double done = static_cast<double>(from_us - span.from_us) / static_cast<double>(length_us);
        if (goesOn && !goesOn(done)) return fail(ErrorCode::Busy, "CSV", "a request to stop", "to go on to the end");
        if (const auto rows = made[which].get(); !rows) return tl::unexpected(rows.error());
        const std::string& text = writers[which].text();
        if (!text.empty() && !write(text)) return stopped;
        startNext(which);
    }
    std::uint64_t rows = 0;
    for (const PieceWriter& writer : writers) rows += writer.rows();
    return rows;
}

}  // namespace fg
