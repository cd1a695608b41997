#include "gauge/csv_convert.h"

#include "gauge/csv_records.h"
#include "units/number_format.h"
#include "units/text_file.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace fg {
namespace {

using namespace csv;

constexpr std::size_t kFlushAt = 1 << 20;

std::optional<double> readCode(std::string_view text) {
    text = trimmed(text);
    const bool hex = text.starts_with("0x") || text.starts_with("0X");
    const char* const end = text.data() + text.size();
    if (hex) {
        std::uint64_t code = 0;
        const auto [stop, status] = std::from_chars(text.data() + 2, end, code, 16);
        return status == std::errc{} && stop == end && text.size() > 2 ? std::optional(static_cast<double>(code))
                                                                       : std::nullopt;
    }
    double code = 0;
    const auto [stop, status] = std::from_chars(text.data(), end, code);
    return status == std::errc{} && stop == end && std::isfinite(code) ? std::optional(code) : std::nullopt;
}

/// Turns the raw text of a field into what is appended to its line. Whole codes of small converters are formatted once
/// each.
class RowConverter {
  public:
    RowConverter(const Gauge& gauge, char separator) : m_gauge(gauge), m_unit(gauge.unit()), m_separator(separator) {
        const AnalogPath* path = gauge.analog();
        if (!path || path->converter().bits() > 16) return;
        // Whole words of small converters are few: each is worked out once.
        m_tails.resize(std::size_t{1} << path->converter().wordBits());
        m_looksAtWidth = path->converter().bits() == 16;
    }

    std::string_view tailFor(std::string_view raw, CsvReport& report) {
        raw = trimmed(raw);
        std::uint32_t word = 0;
        const auto [stop, status] = std::from_chars(raw.data(), raw.data() + raw.size(), word);
        if (status == std::errc{} && stop == raw.data() + raw.size() && word < m_tails.size()) {
            Tail& tail = m_tails[word];
            if (m_looksAtWidth && tail.text.empty()) m_width.take(word);
            if (tail.text.empty()) tail = tailOf(raw);
            return counted(tail, report);
        }
        m_scratch = tailOf(raw);
        return counted(m_scratch, report);
    }

    /// A row that is not read at all.
    std::string_view refuseRow(const std::string& problem, CsvReport& report) {
        m_scratch = refused(problem);
        return counted(m_scratch, report);
    }

    /// What all the words together tell.
    [[nodiscard]] std::string note() const {
        const auto bits = m_width.fewerBits();
        return bits ? fmt::format(
                          "every word is one that {} bits spread over 16 give: set the converter to {} bits, word "
                          "scaled-up",
                          *bits, *bits)
                    : std::string();
    }

  private:
    struct Tail {
        std::string text;     ///< what is appended to the line
        std::string problem;  ///< why there is no reading
        bool isClipped = false;
    };

    std::string_view counted(const Tail& tail, CsvReport& report) {
        if (tail.problem.empty()) {
            ++report.converted;
            report.clipped += tail.isClipped ? 1 : 0;
        } else {
            ++report.refused;
            if (report.firstProblem.empty()) report.firstProblem = tail.problem;
        }
        return tail.text;
    }

    Tail tailOf(std::string_view raw) const {
        if (raw.empty()) return refused("nothing where a raw value was expected");
        const auto entry = m_gauge.entryOfRaw(raw);
        const auto evaluation = entry ? m_gauge.evaluate(*entry) : Expected<Evaluation>(tl::unexpected(entry.error()));
        if (!evaluation)
            return refused(
                fmt::format("{} where {} was expected", evaluation.error().found, evaluation.error().expected));
        const StageValue& reading = evaluation->at(Stage::Reading);
        if (std::isnan(reading.value)) return refused("no value: " + reading.problem);
        return {fmt::format("{}{}{}{}\n", m_separator, shortestText(m_unit.fromCanonical(reading.value)), m_separator,
                            clipText(reading.clip)),
                "", reading.clip != Clip::None};
    }

    Tail refused(std::string problem) const {
        std::replace(problem.begin(), problem.end(), '"', '\'');
        problem = inOneLine(problem);
        return {fmt::format("{}{}\"refused: {}\"\n", m_separator, m_separator, problem), problem, false};
    }

    const Gauge& m_gauge;
    const Unit& m_unit;
    char m_separator;
    std::vector<Tail> m_tails;
    bool m_looksAtWidth = false;
    WordWidth m_width;
    Tail m_scratch;
};

Expected<std::size_t> chooseColumn(const std::vector<std::string_view>& names, bool hasHeader,
                                   const std::string& wanted, const std::string& channel) {
    std::string known;
    for (std::size_t i = 0; i < names.size(); ++i)
        known += (i ? ", " : "") + (hasHeader ? std::string(names[i]) : std::to_string(i + 1));
    const auto position = [&](std::string_view name) -> std::optional<std::size_t> {
        const auto it = std::find(names.begin(), names.end(), name);
        return hasHeader && it != names.end() ? std::optional(static_cast<std::size_t>(it - names.begin()))
                                              : std::nullopt;
    };
    if (!wanted.empty()) {
        if (const auto found = position(wanted)) return *found;
        std::size_t number = 0;
        const auto [end, status] = std::from_chars(wanted.data(), wanted.data() + wanted.size(), number);
        if (status == std::errc{} && end == wanted.data() + wanted.size() && number >= 1 && number <= names.size())
            return number - 1;
        return fail(ErrorCode::Unknown, "--column", "“" + wanted + "”", "one of the columns " + known);
    }
    for (const std::string_view guess : {std::string_view(channel), std::string_view("raw"), std::string_view("code"),
                                         std::string_view("adc"), std::string_view("counts")})
        if (const auto found = guess.empty() ? std::nullopt : position(guess)) return *found;
    if (names.size() == 1) return 0;
    return fail(ErrorCode::Ambiguous, "--column", "no name and " + std::to_string(names.size()) + " columns",
                "--column with one of " + known);
}

/// What is converted, and where it goes.
struct Conversion {
    const Gauge& gauge;
    const std::string& column;
    const CsvWriter& write;
    CsvReport report;
    std::string out;

    bool flush() {
        const bool written = write(out);
        out.clear();
        return written;
    }
};

tl::unexpected<Error> stopped() {
    return fail(ErrorCode::Io, "output", "a write that failed", "room for the converted rows");
}

/// Everything from the first row that is no comment.
Expected<void> convertRows(const Record& first, char separator, Records& records, Conversion& to) {
    const Gauge& gauge = to.gauge;
    const auto names = fieldsOf(first, separator);
    const auto isRaw = [&](std::string_view text) {
        std::string plain(text);
        if (separator != ',') std::replace(plain.begin(), plain.end(), ',', '.');
        return readCode(plain) || (gauge.digital() && gauge.entryOfRaw(text));
    };
    const bool hasHeader = std::none_of(names.begin(), names.end(), isRaw);
    const auto index = chooseColumn(names, hasHeader, to.column, gauge.spec().channel);
    if (!index) return tl::unexpected(index.error());

    RowConverter rows(gauge, separator);
    CsvReport& report = to.report;
    std::string& out = to.out;
    const auto convert = [&](const Record& record) {
        out.append(record.text);
        if (record.text.empty() || record.text.front() == '#') {
            out.push_back('\n');
            return;
        }
        ++report.rows;
        if (record.lines > 1 && report.notes.empty())
            report.notes.push_back(
                fmt::format("row {} goes over {} lines within its quotes", report.rows, record.lines));
        std::string_view raw;
        if (record.isStray) {
            out.append(rows.refuseRow("a quote that is not closed in its field", report));
        } else if (record.isQuoted) {
            const auto fields = fieldsOf(record, separator);
            if (*index < fields.size()) raw = fields[*index];
            out.append(rows.tailFor(raw, report));
        } else {
            out.append(rows.tailFor(plainField(record.text, *index, separator), report));
        }
        if (report.refused == 1 && !report.firstProblem.starts_with("row "))
            report.firstProblem = fmt::format("row {}: {}", report.rows, report.firstProblem);
    };
    if (hasHeader) {
        out.append(first.text);
        out += fmt::format("{}reading_{}{}clipped\n", separator, gauge.unit().id, separator);
    } else {
        convert(first);
    }
    while (true) {
        const auto record = records.next(separator);
        if (!record) return tl::unexpected(record.error());
        if (!*record) break;
        convert(**record);
        if (out.size() >= kFlushAt && !to.flush()) return stopped();
    }
    if (!to.flush()) return stopped();
    if (auto note = rows.note(); !note.empty()) report.notes.push_back(std::move(note));
    return {};
}

}  // namespace

Expected<CsvReport> convertCsv(const CsvReader& read, const Gauge& gauge, const std::string& column,
                               const CsvWriter& write) {
    Conversion to{gauge, column, write, {}, {}};
    to.out.reserve(kFlushAt + 65536);
    Records records(read);
    if (const auto begun = records.fillLine(); !begun) return tl::unexpected(begun.error());
    if (records.ahead().starts_with("\xEF\xBB\xBF")) records.skip(3);  // byte order mark
    while (true) {
        if (const auto line = records.fillLine(); !line) return tl::unexpected(line.error());
        const bool isComment =
            records.ahead().starts_with('#') || records.ahead().starts_with('\n') || records.ahead().starts_with('\r');
        const char separator = isComment ? '\0' : separatorOf(records.ahead());
        const auto record = records.next(separator);
        if (!record) return tl::unexpected(record.error());
        if (!*record) return fail(ErrorCode::Missing, "input", "no row", "CSV rows with a column of raw codes");
        if (isComment || (*record)->text.empty()) {
            to.out.append((*record)->text).push_back('\n');
            continue;
        }
        if (const auto done = convertRows(**record, separator, records, to); !done) return tl::unexpected(done.error());
        return std::move(to.report);
    }
}

Expected<CsvReport> convertCsv(std::string_view input, const Gauge& gauge, const std::string& column,
                               const CsvWriter& write) {
    return convertCsv(
        [&](char* bytes, std::size_t count) -> Expected<std::size_t> {
            const std::size_t got = input.copy(bytes, count);
            input.remove_prefix(got);
            return got;
        },
        gauge, column, write);
}

}  // namespace fg
