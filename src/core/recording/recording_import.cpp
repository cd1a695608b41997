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

using csv::trimmed;

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

    /// The time and a code for each of `taken`, NaN for an empty field; false for a row that is not one of these.
    [[nodiscard]] bool read(std::string_view row, TimeReader& times, Micros& time_us, std::span<double> codes) const {
        if (!m_isUsable || row.starts_with('#')) return false;
        const char* at = row.data();
        const char* const end = at + row.size();
        std::size_t column = 0;
        for (const auto& [position, index] : m_wanted) {
            for (; column < position; ++column) {
                at = static_cast<const char*>(std::memchr(at, m_separator, static_cast<std::size_t>(end - at)));
                if (!at) return false;
                ++at;
            }
            if (index == kTime) {
                std::string_view rest(at, static_cast<std::size_t>(end - at));
                const auto time = times.take(rest);
                if (!time) return false;
                time_us = *time;
                at = rest.data();
            } else if (at == end || *at == m_separator) {
                codes[index] = std::nan("");
            } else {
                std::uint32_t code = 0;
                const auto [stop, status] = std::from_chars(at, end, code);
                if (status != std::errc{}) return false;
                codes[index] = code;
                at = stop;
            }
            if (at != end && *at != m_separator) return false;
        }
        return true;
    }

  private:
    static constexpr std::size_t kTime = std::string_view::npos;
    char m_separator;
    bool m_isUsable = false;
    std::vector<std::pair<std::size_t, std::size_t>> m_wanted;  // position in the row, and which of `taken` it is
};

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
    constexpr std::uint64_t kAtOnce = 250'000;
    for (auto& samples : waiting) samples.reserve(kAtOnce / waiting.size());
    const auto beginAt = [&](Micros time_us) -> Expected<void> {
        BenchRecording wanted{0, what.name.empty() ? preamble.name : what.name,
                              preamble.source.empty() ? what.source : preamble.source, time_us};
        wanted.marks = preamble.marks;
        if (wanted.name.empty()) wanted.name = what.source;
        for (const Taken& one : *taken) wanted.tracks.push_back({0, one.gauge, {{time_us, one.spec}}});
        auto kept = store.begin(wanted);
        if (!kept) return tl::unexpected(kept.error());
        begun = std::move(*kept);
        return {};
    };
    std::string decimal;
    // Where semicolons or tabs separate, a comma is a decimal one.
    const auto plain = [&](std::string_view text) -> std::string_view {
        if (separator == ',' || text.find(',') == std::string_view::npos) return text;
        decimal = text;
        std::replace(decimal.begin(), decimal.end(), ',', '.');
        return decimal;
    };
    std::vector<std::string_view> fields;
    TimeReader times;
    std::size_t needed = timeAt + 1;
    for (const Taken& one : *taken) needed = std::max(needed, one.column + 1);
    const UsualRows usual(separator, timeAt, *taken);
    std::vector<double> codes(taken->size());
    for (csv::Record record;;) {
        bool isUsual = false;
        Micros time_us = 0;
        if (records.nextPlain(record)) {
            isUsual = usual.read(record.text, times, time_us, codes);
        } else {
            auto next = records.next(separator);
            if (!next) return undone(next.error());
            if (!*next) break;
            record = **next;
        }
        line += static_cast<std::uint64_t>(record.lines);
        if (!isUsual) {
            if (record.text.starts_with('#') || trimmed(record.text).empty()) continue;
            csv::fieldsOf(record, separator, fields, needed);
            const auto time =
                timeAt < fields.size() ? timeOfText(plain(fields[timeAt]), what.start_us, times) : std::nullopt;
            if (!time) {
                ++report.rows;
                refuse(fmt::format("“{}” where a time was expected (ISO 8601 or seconds)",
                                   timeAt < fields.size() ? std::string(fields[timeAt]) : ""));
                continue;
            }
            time_us = *time;
        }
        ++report.rows;
        if (!begun)
            if (const auto kept = beginAt(time_us); !kept) return tl::unexpected(kept.error());
        last_us = std::max(last_us, time_us);
        for (std::size_t i = 0; i < taken->size(); ++i) {
            if (isUsual) {
                if (std::isnan(codes[i])) continue;  // nothing new of this gauge
                waiting[i].push_back({time_us, codes[i]});
            } else {
                const std::size_t at = (*taken)[i].column;
                if (at >= fields.size() || trimmed(fields[at]).empty()) continue;
                auto raw = rawOfText(plain(fields[at]));
                if (!raw) {
                    refuse(fmt::format("“{}” where a raw value was expected", std::string(fields[at])));
                    continue;
                }
                waiting[i].push_back({time_us, std::move(*raw)});
            }
            ++report.samples;
        }
        if (report.rows % kAtOnce == 0 && goesOn && !goesOn())
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
