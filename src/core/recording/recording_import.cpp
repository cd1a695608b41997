// The other way of recording_csv.cpp: rows of a CSV, the product's own or a foreign one, into a recording.

#include "bench/gauge_json.h"
#include "gauge/csv_records.h"
#include "recording/recording_csv.h"

#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>

namespace fg {
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

/// Rows as the product writes them itself, read in one pass: a time like that of the row before, and codes with nothing
/// around them. Any other row is for the reader that understands more.
class UsualRows {
  public:
    UsualRows(char separator, std::size_t timeAt, const std::vector<Taken>& taken) : m_separator(separator) {
        m_wanted.push_back({timeAt, kTime});
        for (std::size_t i = 0; i < taken.size(); ++i) m_wanted.push_back({taken[i].column, i});
        std::sort(m_wanted.begin(), m_wanted.end());
        const auto isSame = [](const auto& a, const auto& b) { return a.first == b.first; };
        m_isUsable = std::adjacent_find(m_wanted.begin(), m_wanted.end(), isSame) == m_wanted.end();
    }

    /// Takes the first of `lines`, each of which ends with its line end: its time and a code for each of `taken`, NaN
    /// for an empty field. False, with nothing taken, for a row that is not one of these.
    [[nodiscard]] bool take(std::string_view& lines, TimeReader& times, Micros& time_us,
                            std::span<double> codes) const {
        if (!m_isUsable || lines.empty() || lines.front() == '#') return false;
        const char* at = lines.data();
        const char* const end = at + lines.size();
        std::size_t column = 0;
        for (const auto& [position, index] : m_wanted) {
            for (; column < position; ++column) {
                // Fields are short: stepping through them is quicker than a search for each.
                while (*at != m_separator && *at != '\n') ++at;
                if (*at == '\n') return false;
                ++at;
            }
            if (index == kTime) {
                std::string_view rest(at, static_cast<std::size_t>(end - at));
                const auto time = times.take(rest);
                if (!time) return false;
                time_us = *time;
                at = rest.data();
            } else if (*at == m_separator || *at == '\n' || *at == '\r') {
                codes[index] = std::nan("");
            } else {
                std::uint32_t code = 0;
                const auto [stop, status] = std::from_chars(at, end, code);
                if (status != std::errc{}) return false;
                codes[index] = code;
                at = stop;
            }
            if (*at != m_separator && *at != '\n' && !(*at == '\r' && at[1] == '\n')) return false;
        }
        if (*at != '\n') at = static_cast<const char*>(std::memchr(at, '\n', static_cast<std::size_t>(end - at)));
        lines = {at + 1, static_cast<std::size_t>(end - at - 1)};
        return true;
    }

  private:
    static constexpr std::size_t kTime = std::string_view::npos;
    char m_separator;
    bool m_isUsable = false;
    std::vector<std::pair<std::size_t, std::size_t>> m_wanted;  // position in the row, and which of `taken` it is
};

/// Samples of one gauge on their way to the store, in a room that is used again and again.
class Waiting {
  public:
    void add(Micros time_us, double code) {
        RecordedSample& one = slot();
        one.time_us = time_us;
        one.raw = code;
    }
    void add(Micros time_us, Raw raw) {
        RecordedSample& one = slot();
        one.time_us = time_us;
        one.raw = std::move(raw);
    }
    [[nodiscard]] std::span<const RecordedSample> samples() const { return {m_samples.data(), m_count}; }
    void clear() { m_count = 0; }

  private:
    RecordedSample& slot() {
        if (m_count == m_samples.size()) m_samples.emplace_back();
        return m_samples[m_count++];
    }
    std::vector<RecordedSample> m_samples;
    std::size_t m_count = 0;
};

/// One import: the header, then row by row into the store.
class Import {
  public:
    Import(const CsvReader& read, const CsvImport& what, const Bench& bench, RecordingStore& store,
           const std::function<bool()>& goesOn)
        : m_records(read), m_what(what), m_bench(bench), m_store(store), m_goesOn(goesOn) {}

    Expected<ImportReport> run() {
        if (const auto begun = readHeader(); !begun) return tl::unexpected(begun.error());
        if (const auto rows = readRows(); !rows) {
            if (m_begun) (void)m_store.remove(m_begun->id);
            return tl::unexpected(rows.error());
        }
        m_report.recording = m_begun->id;
        for (const Taken& one : m_taken) m_report.columns.push_back(one.name);
        return m_report;
    }

  private:
    Expected<void> readHeader() {
        if (const auto filled = m_records.fillLine(); !filled) return filled;
        m_separator = csv::separatorOf(m_records.ahead());
        std::vector<std::string> header;
        while (header.empty()) {
            const auto record = m_records.next(m_separator);
            if (!record) return tl::unexpected(record.error());
            if (!*record)
                return fail(ErrorCode::Missing, m_what.source, "no header line", "one that names the columns");
            m_line += static_cast<std::uint64_t>((*record)->lines);
            if ((*record)->text.starts_with('#'))
                m_preamble.take((*record)->text);
            else if (!trimmed((*record)->text).empty())
                for (const std::string_view name : csv::fieldsOf(**record, m_separator)) header.emplace_back(name);
        }
        const std::vector<std::string_view> names(header.begin(), header.end());
        m_timeAt = names.size();
        for (const std::string_view wish :
             {std::string_view(m_what.timeColumn), std::string_view("time"), std::string_view("t")})
            if (m_timeAt == names.size() && !wish.empty())
                m_timeAt = static_cast<std::size_t>(std::find(names.begin(), names.end(), wish) - names.begin());
        if (m_timeAt == names.size() && !m_what.timeColumn.empty())
            return fail(ErrorCode::Unknown, "time column", "“" + m_what.timeColumn + "”",
                        "one of the columns of the file");
        if (m_timeAt == names.size()) m_timeAt = 0;
        auto taken = chooseColumns(names, m_what, m_bench, m_preamble);
        if (!taken) return tl::unexpected(taken.error());
        m_taken = std::move(*taken);
        m_waiting.resize(m_taken.size());
        return {};
    }

    Expected<void> readRows() {
        const UsualRows usual(m_separator, m_timeAt, m_taken);
        std::vector<double> codes(m_taken.size());
        for (std::string_view lines;;) {
            Micros time_us = 0;
            while (usual.take(lines, m_times, time_us, codes)) {
                ++m_line;
                if (const auto begun = beginRow(time_us); !begun) return begun;
                for (std::size_t i = 0; i < codes.size(); ++i)
                    if (!std::isnan(codes[i])) {
                        m_waiting[i].add(time_us, codes[i]);
                        ++m_report.samples;
                    }
                if (const auto ended = endRow(); !ended) return ended;
            }
            // The lines before this one have been taken.
            if (lines.data()) m_records.skip(static_cast<std::size_t>(lines.data() - m_records.ahead().data()));
            const auto next = m_records.next(m_separator);
            if (!next) return tl::unexpected(next.error());
            if (!*next) break;
            if (const auto taken = takeRow(**next); !taken) return taken;
            lines = m_records.plainLines();
        }
        if (!m_begun)
            return fail(ErrorCode::Missing, m_what.source,
                        m_report.firstProblem.empty() ? "no row" : m_report.firstProblem,
                        "rows with a time and raw values");
        return storeWaiting(true);
    }

    /// A row of any kind.
    Expected<void> takeRow(const csv::Record& record) {
        m_line += static_cast<std::uint64_t>(record.lines);
        if (record.text.starts_with('#') || trimmed(record.text).empty()) return {};
        std::size_t needed = m_timeAt + 1;
        for (const Taken& one : m_taken) needed = std::max(needed, one.column + 1);
        csv::fieldsOf(record, m_separator, m_fields, needed);
        const auto time =
            m_timeAt < m_fields.size() ? timeOfText(plain(m_fields[m_timeAt]), m_what.start_us, m_times) : std::nullopt;
        if (!time) {
            refuse(fmt::format("“{}” where a time was expected (ISO 8601 or seconds)",
                               m_timeAt < m_fields.size() ? std::string(m_fields[m_timeAt]) : ""));
            return endRow();
        }
        if (const auto begun = beginRow(*time); !begun) return begun;
        for (std::size_t i = 0; i < m_taken.size(); ++i) {
            const std::size_t at = m_taken[i].column;
            if (at >= m_fields.size() || trimmed(m_fields[at]).empty()) continue;  // nothing new of this gauge
            if (auto raw = rawOfText(plain(m_fields[at]))) {
                m_waiting[i].add(*time, std::move(*raw));
                ++m_report.samples;
            } else
                refuse(fmt::format("“{}” where a raw value was expected", std::string(m_fields[at])));
        }
        return endRow();
    }

    /// The recording is begun by the first row that has a time.
    Expected<void> beginRow(Micros time_us) {
        if (m_begun) {
            m_last_us = std::max(m_last_us, time_us);
            return {};
        }
        BenchRecording wanted{0, m_what.name.empty() ? m_preamble.name : m_what.name,
                              m_preamble.source.empty() ? m_what.source : m_preamble.source, time_us};
        wanted.marks = m_preamble.marks;
        if (wanted.name.empty()) wanted.name = m_what.source;
        for (const Taken& one : m_taken) wanted.tracks.push_back({0, one.gauge, {{time_us, one.spec}}});
        auto kept = m_store.begin(wanted);
        if (!kept) return tl::unexpected(kept.error());
        m_begun = std::move(*kept);
        m_last_us = time_us;
        return {};
    }

    Expected<void> endRow() {
        ++m_report.rows;
        m_fieldsRead += 1 + m_taken.size();
        // Each step is waited for until it is on the disk; nothing is lost by large ones, as what fails is removed.
        constexpr std::uint64_t kAtOnce = 250'000;
        if (m_fieldsRead < kAtOnce) return {};
        m_fieldsRead = 0;
        if (m_goesOn && !m_goesOn())
            return fail(ErrorCode::Busy, m_what.source, "a request to stop", "to go on to the end");
        return storeWaiting(false);
    }

    Expected<void> storeWaiting(bool isEnd) {
        if (!m_begun) return {};
        RecordingStep step;
        for (std::size_t i = 0; i < m_waiting.size(); ++i)
            if (const auto samples = m_waiting[i].samples(); !samples.empty())
                step.samples.push_back({m_begun->tracks[i].id, samples});
        if (isEnd) step.ended_us = m_last_us;
        auto done = m_store.append(m_begun->id, step);
        for (Waiting& of : m_waiting) of.clear();
        return done;
    }

    void refuse(const std::string& problem) {
        ++m_report.refused;
        if (m_report.firstProblem.empty()) m_report.firstProblem = fmt::format("line {}: {}", m_line, problem);
    }

    /// Where semicolons or tabs separate, a comma is a decimal one.
    std::string_view plain(std::string_view text) {
        if (m_separator == ',' || text.find(',') == std::string_view::npos) return text;
        m_decimal = text;
        std::replace(m_decimal.begin(), m_decimal.end(), ',', '.');
        return m_decimal;
    }

    csv::Records m_records;
    const CsvImport& m_what;
    const Bench& m_bench;
    RecordingStore& m_store;
    const std::function<bool()>& m_goesOn;

    char m_separator = ',';
    Preamble m_preamble;
    std::vector<Taken> m_taken;
    std::size_t m_timeAt = 0;

    ImportReport m_report;
    std::optional<BenchRecording> m_begun;
    std::vector<Waiting> m_waiting;              // as m_taken
    std::uint64_t m_line = 0, m_fieldsRead = 0;  // of the file; since the last step was stored
    Micros m_last_us = 0;
    TimeReader m_times;
    std::vector<std::string_view> m_fields;
    std::string m_decimal;
};

}  // namespace

Expected<ImportReport> importRecording(const CsvReader& read, const CsvImport& what, const Bench& bench,
                                       RecordingStore& store, const std::function<bool()>& goesOn) {
    return Import(read, what, bench, store, goesOn).run();
}

}  // namespace fg
