#include "recording/recording_csv.h"

#include "bench/gauge_json.h"
#include "gauge/csv_records.h"
#include "json/json_text.h"
#include "units/date.h"
#include "units/number_format.h"
#include "units/text_file.h"

#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include <cmath>
#include <nlohmann/json.hpp>

namespace fg {
namespace {

using csv::trimmed;

constexpr std::size_t kFlushAt = 1 << 16;
constexpr std::string_view kGaugeComment = "# gauge: ";

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

Expected<std::uint64_t> exportRecording(const RecordingStore& store, const BenchRecording& recording,
                                        const CsvExport& what, const Bench& bench, const Catalogue& catalogue,
                                        const CsvWriter& write, const TrackReader::Progress& goesOn) {
    constexpr std::uint64_t kAtOnce = 100'000;  // samples held at a time
    std::vector<RecordingCsv::Column> columns;
    std::vector<TrackReader> readers;
    std::uint64_t count = 0;
    for (const Track& track : recording.tracks) {
        const bool isWanted =
            what.gauges.empty() || std::find(what.gauges.begin(), what.gauges.end(), track.gauge) != what.gauges.end();
        if (!isWanted) continue;
        auto reader = TrackReader::make(store, recording, track.gauge, what.conversion, bench, catalogue);
        if (!reader) return tl::unexpected(reader.error());
        columns.push_back({track.gauge, reader->gaugeAt(what.span.to_us)});
        readers.push_back(std::move(*reader));
        count += track.count;
    }
    const auto stopped = fail(ErrorCode::Io, "CSV", "an output that takes no more", "room for all of it");
    RecordingCsv csv(std::move(columns), write);
    if (!csv.begin(recording.name, recording.source, recording.started_us)) return stopped;
    for (const TimeMark& mark : recording.marks)
        if (what.span.holds(mark.span.from_us) && !csv.writeMark(mark)) return stopped;
    const TimeSpan whole = recording.span();
    const TimeSpan span{std::max(what.span.from_us, whole.from_us), std::min(what.span.to_us, whole.to_us)};
    const Micros length_us = std::max<Micros>(1, span.to_us - span.from_us);
    const Micros piece_us = std::max<Micros>(kMicrosASecond, length_us / static_cast<Micros>(count / kAtOnce + 1));
    for (Micros from_us = span.from_us; from_us <= span.to_us; from_us += piece_us) {
        const double done = static_cast<double>(from_us - span.from_us) / static_cast<double>(length_us);
        if (goesOn && !goesOn(done)) return fail(ErrorCode::Busy, "CSV", "a request to stop", "to go on to the end");
        const TimeSpan piece{from_us, std::min(from_us + piece_us - 1, span.to_us)};
        for (std::size_t i = 0; i < readers.size(); ++i) {
            const auto read = readers[i].read(piece, [&](const SampleColumns& raw, std::span<const Reading> readings) {
                for (std::size_t at = 0; at < raw.size(); ++at)
                    csv.put(i, raw.times[at], raw.sample(at).raw, readings[at]);
                return true;
            });
            if (!read) return tl::unexpected(read.error());
        }
        if (!csv.writeUpTo(piece.to_us)) return stopped;
    }
    return csv.rows();
}

namespace {

/// What stands in front of the header: descriptions of the gauges, by name.
struct Preamble {
    std::string name, source;
    std::map<std::string, GaugeSpec> gauges;
    std::vector<TimeMark> marks;
    /// "# marker FROM … TO: text".
    void takeMark(std::string_view line) {
        const std::size_t space = line.find(' ', 2), between = line.find(" … "), colon = line.find(": ");
        if (space > between || between > colon || colon == std::string_view::npos) return;
        const auto kind = markKindOf(line.substr(2, space - 2));
        const std::size_t behind = between + std::string_view(" … ").size();
        const auto from = microsOfTime(line.substr(space + 1, between - space - 1)),
                   to = microsOfTime(line.substr(behind, colon - behind));
        if (kind && from && to) marks.push_back({0, *kind, {*from, *to}, 0, std::string(line.substr(colon + 2))});
    }
    void take(std::string_view line) {
        constexpr std::string_view kSource = "# source: ";
        if (line.starts_with(kSource)) source = trimmed(line.substr(kSource.size()));
        takeMark(line);
        constexpr std::string_view kName = "# fair gauge recording: ";
        if (line.starts_with(kName)) name = trimmed(line.substr(kName.size()));
        if (!line.starts_with(kGaugeComment)) return;
        if (auto spec = readGauge(std::string(line.substr(kGaugeComment.size())), "gauge")) {
            const std::string called = spec->name;
            gauges.emplace(called, std::move(*spec));
        }
    }
};

/// One column of an import.
struct Taken {
    std::size_t column = 0;
    std::int64_t gauge = 0;
    GaugeSpec spec;
    std::string name;
};

std::optional<Micros> timeOfText(std::string_view text, Micros start_us, TimeReader& times) {
    text = trimmed(text);
    if (const auto micros = times.read(text)) return micros;
    double seconds = 0;
    const auto [stop, status] = std::from_chars(text.data(), text.data() + text.size(), seconds);
    if (status != std::errc{} || stop != text.data() + text.size() || !std::isfinite(seconds)) return std::nullopt;
    constexpr double kSinceEpoch_s = 1e8, kMost_s = 1e11;  // 1973 …: seconds since 1970, not since the start
    if (std::abs(seconds) > kMost_s) return std::nullopt;
    const auto micros = static_cast<Micros>(std::llround(seconds * static_cast<double>(kMicrosASecond)));
    return seconds > kSinceEpoch_s ? micros : start_us + micros;
}

Expected<std::vector<Taken>> chooseColumns(const std::vector<std::string_view>& names, const CsvImport& what,
                                           const Bench& bench, const Preamble& preamble) {
    std::vector<Taken> taken;
    std::string known;
    for (const std::string_view name : names) known += (known.empty() ? "" : ", ") + std::string(name);
    const auto add = [&](std::size_t column, const BenchGauge& gauge) {
        const auto then = preamble.gauges.find(gauge.spec.name);
        taken.push_back(
            {column, gauge.id, then == preamble.gauges.end() ? gauge.spec : then->second, std::string(names[column])});
    };
    for (const auto& [name, id] : what.columns) {
        const auto it = std::find(names.begin(), names.end(), name);
        const BenchGauge* gauge = bench.find(id);
        if (it == names.end() || !gauge)
            return fail(ErrorCode::Unknown, "column", "“" + name + "”", "one of the columns " + known);
        add(static_cast<std::size_t>(it - names.begin()), *gauge);
    }
    if (!what.columns.empty()) return taken;
    for (std::size_t i = 0; i < names.size(); ++i)
        for (const BenchGauge& gauge : bench.gauges) {
            const std::string& channel = gauge.spec.channel;
            const bool isNamed = names[i] == gauge.spec.name + " raw" ||
                                 (!channel.empty() && (names[i] == channel || names[i] == channel + " raw"));
            if (isNamed) add(i, gauge);
        }
    if (taken.empty())
        return fail(ErrorCode::Missing, "columns", known.empty() ? "none" : known,
                    "a column named like a gauge's channel, or its name and “raw” behind it; or say which column is "
                    "which gauge's");
    return taken;
}

}  // namespace

Expected<ImportReport> importRecording(const CsvReader& read, const CsvImport& what, const Bench& bench,
                                       RecordingStore& store, const std::function<bool()>& goesOn) {
    csv::Records records(read);
    if (const auto filled = records.fillLine(); !filled) return tl::unexpected(filled.error());
    const char separator = csv::separatorOf(records.ahead());
    Preamble preamble;
    std::uint64_t line = 0;
    std::vector<std::string> header;
    while (header.empty()) {
        auto record = records.next(separator);
        if (!record) return tl::unexpected(record.error());
        if (!*record) return fail(ErrorCode::Missing, what.source, "no header line", "one that names the columns");
        line += static_cast<std::uint64_t>((*record)->lines);
        if ((*record)->text.starts_with('#'))
            preamble.take((*record)->text);
        else if (!trimmed((*record)->text).empty())
            for (const std::string_view name : csv::fieldsOf(**record, separator)) header.emplace_back(name);
    }
    const std::vector<std::string_view> names(header.begin(), header.end());
    std::size_t timeAt = names.size();
    for (const std::string_view wish :
         {std::string_view(what.timeColumn), std::string_view("time"), std::string_view("t")})
        if (timeAt == names.size() && !wish.empty())
            timeAt = static_cast<std::size_t>(std::find(names.begin(), names.end(), wish) - names.begin());
    if (timeAt == names.size() && !what.timeColumn.empty())
        return fail(ErrorCode::Unknown, "time column", "“" + what.timeColumn + "”", "one of the columns of the file");
    if (timeAt == names.size()) timeAt = 0;
    const auto taken = chooseColumns(names, what, bench, preamble);
    if (!taken) return tl::unexpected(taken.error());

    ImportReport report;
    std::optional<BenchRecording> begun;
    std::vector<std::vector<RecordedSample>> waiting(taken->size());
    const auto refuse = [&](const std::string& problem) {
        ++report.refused;
        if (report.firstProblem.empty()) report.firstProblem = fmt::format("line {}: {}", line, problem);
    };
    const auto undone = [&](const Error& error) -> tl::unexpected<Error> {
        if (begun) (void)store.remove(begun->id);
        return tl::unexpected(error);
    };
    Micros last_us = 0;
    const auto storeWaiting = [&](bool isEnd) -> Expected<void> {
        RecordingStep step;
        for (std::size_t i = 0; i < waiting.size(); ++i)
            if (!waiting[i].empty()) step.samples.push_back({begun->tracks[i].id, waiting[i]});
        if (isEnd) step.ended_us = last_us;
        auto done = store.append(begun->id, step);
        for (auto& samples : waiting) samples.clear();
        return done;
    };
    // Each step is waited for until it is on the disk; nothing is lost by large ones, as what fails is removed.
    constexpr std::uint64_t kAtOnce = 250'000, kAsked = 50'000;
    std::string decimal;
    std::vector<std::string_view> fields;
    TimeReader times;
    std::size_t needed = timeAt + 1;
    for (const Taken& one : *taken) needed = std::max(needed, one.column + 1);
    for (csv::Record record;;) {
        if (!records.nextPlain(separator, needed, record, fields)) {
            auto next = records.next(separator);
            if (!next) return undone(next.error());
            if (!*next) break;
            record = **next;
            csv::fieldsOf(record, separator, fields, needed);
        }
        line += static_cast<std::uint64_t>(record.lines);
        if (record.text.starts_with('#') || trimmed(record.text).empty()) continue;
        ++report.rows;
        // Where semicolons or tabs separate, a comma is a decimal one.
        const auto plain = [&](std::string_view text) -> std::string_view {
            if (separator == ',' || text.find(',') == std::string_view::npos) return text;
            decimal = text;
            std::replace(decimal.begin(), decimal.end(), ',', '.');
            return decimal;
        };
        const auto time_us =
            timeAt < fields.size() ? timeOfText(plain(fields[timeAt]), what.start_us, times) : std::nullopt;
        if (!time_us) {
            refuse(fmt::format("“{}” where a time was expected (ISO 8601 or seconds)",
                               timeAt < fields.size() ? std::string(fields[timeAt]) : ""));
            continue;
        }
        if (!begun) {
            BenchRecording wanted{0, what.name.empty() ? preamble.name : what.name,
                                  preamble.source.empty() ? what.source : preamble.source, *time_us};
            wanted.marks = preamble.marks;
            if (wanted.name.empty()) wanted.name = what.source;
            for (const Taken& one : *taken) wanted.tracks.push_back({0, one.gauge, {{*time_us, one.spec}}});
            auto kept = store.begin(wanted);
            if (!kept) return tl::unexpected(kept.error());
            begun = std::move(*kept);
        }
        last_us = std::max(last_us, *time_us);
        for (std::size_t i = 0; i < taken->size(); ++i) {
            const std::size_t at = (*taken)[i].column;
            if (at >= fields.size() || trimmed(fields[at]).empty()) continue;  // nothing new of this gauge
            const std::string_view text = plain(fields[at]);
            if (const auto code = wholeOfText(text)) {
                waiting[i].push_back({*time_us, static_cast<double>(*code)});
            } else if (auto raw = rawOfText(text)) {
                waiting[i].push_back({*time_us, std::move(*raw)});
            } else {
                refuse(fmt::format("“{}” where a raw value was expected", std::string(fields[at])));
                continue;
            }
            ++report.samples;
        }
        if (report.rows % kAsked == 0 && goesOn && !goesOn())
            return undone({ErrorCode::Busy, what.source, "a request to stop", "to go on to the end"});
        if (report.rows % kAtOnce != 0) continue;
        if (const auto stored = storeWaiting(false); !stored) return undone(stored.error());
    }
    if (!begun)
        return fail(ErrorCode::Missing, what.source, report.firstProblem.empty() ? "no row" : report.firstProblem,
                    "rows with a time and raw values");
    if (const auto stored = storeWaiting(true); !stored) return undone(stored.error());
    report.recording = begun->id;
    for (const Taken& one : *taken) report.columns.push_back(one.name);
    return report;
}

}  // namespace fg
