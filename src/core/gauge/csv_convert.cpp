#include "gauge/csv_convert.h"

#include "units/number_format.h"
#include "units/text_file.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstring>

namespace fg {
namespace {

constexpr std::size_t kFlushAt = 1 << 20;

/// One record: from the start of a line to its end, quoted line breaks included.
struct Record {
    std::string_view text;  // without the line end
    std::size_t next = 0;   // where the following record begins
    bool quoted = false;
};

Record recordAt(std::string_view input, std::size_t begin) {
    const auto find = [&](char wanted, std::size_t from) {
        const void* hit = from < input.size() ? std::memchr(input.data() + from, wanted, input.size() - from) : nullptr;
        return hit ? static_cast<std::size_t>(static_cast<const char*>(hit) - input.data()) : input.size();
    };
    std::size_t end = find('\n', begin);
    const bool quoted = std::memchr(input.data() + begin, '"', end - begin) != nullptr;
    if (quoted) {
        // A line break inside quotes belongs to the field: go on while the quotes do not pair.
        auto quotes = std::count(input.begin() + static_cast<std::ptrdiff_t>(begin),
                                 input.begin() + static_cast<std::ptrdiff_t>(end), '"');
        while (quotes % 2 != 0 && end < input.size()) {
            const std::size_t more = find('\n', end + 1);
            quotes += std::count(input.begin() + static_cast<std::ptrdiff_t>(end),
                                 input.begin() + static_cast<std::ptrdiff_t>(more), '"');
            end = more;
        }
    }
    Record record{input.substr(begin, end - begin), std::min(end + 1, input.size()), quoted};
    if (record.text.ends_with('\r')) record.text.remove_suffix(1);
    return record;
}

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
    return text;
}

std::string_view unquoted(std::string_view text) {
    text = trimmed(text);
    const bool inQuotes = text.size() >= 2 && text.front() == '"' && text.back() == '"';
    return inQuotes ? trimmed(text.substr(1, text.size() - 2)) : text;
}

std::vector<std::string_view> fieldsOf(const Record& record, char separator) {
    std::vector<std::string_view> fields;
    bool inQuotes = false;
    std::size_t begin = 0;
    for (std::size_t i = 0; i <= record.text.size(); ++i) {
        if (i < record.text.size() && record.text[i] == '"') inQuotes = !inQuotes;
        if (i < record.text.size() && (inQuotes || record.text[i] != separator)) continue;
        fields.push_back(unquoted(record.text.substr(begin, i - begin)));
        begin = i + 1;
    }
    return fields;
}

/// Field number `index` of an unquoted record; null data when there are too few.
std::string_view plainField(std::string_view text, std::size_t index, char separator) {
    const char* at = text.data();
    const char* const end = at + text.size();
    for (std::size_t i = 0; i < index; ++i) {
        at = static_cast<const char*>(std::memchr(at, separator, static_cast<std::size_t>(end - at)));
        if (!at) return {};
        ++at;
    }
    const void* stop = std::memchr(at, separator, static_cast<std::size_t>(end - at));
    return {at, static_cast<std::size_t>((stop ? static_cast<const char*>(stop) : end) - at)};
}

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

}  // namespace

Expected<CsvReport> convertCsv(std::string_view input, const Gauge& gauge, const std::string& column,
                               const CsvWriter& write) {
    CsvReport report;
    std::string out;
    out.reserve(kFlushAt + 65536);
    const auto flush = [&] {
        const bool written = write(out);
        out.clear();
        return written;
    };
    const auto stopped = [] {
        return fail(ErrorCode::Io, "output", "a write that failed", "room for the converted rows");
    };

    std::size_t at = input.starts_with("\xEF\xBB\xBF") ? 3 : 0;  // byte order mark
    while (at < input.size() && (input[at] == '#' || input[at] == '\n' || input[at] == '\r')) {
        const Record comment = recordAt(input, at);
        out.append(comment.text).push_back('\n');
        at = comment.next;
    }
    if (at >= input.size()) return fail(ErrorCode::Missing, "input", "no row", "CSV rows with a column of raw codes");

    const Record first = recordAt(input, at);
    constexpr std::array separators{',', ';', '\t'};
    const char separator = *std::max_element(separators.begin(), separators.end(), [&](char a, char b) {
        return std::count(first.text.begin(), first.text.end(), a) <
               std::count(first.text.begin(), first.text.end(), b);
    });
    const auto names = fieldsOf(first, separator);
    const bool hasHeader = std::none_of(names.begin(), names.end(), [&](std::string_view name) {
        return readCode(name) || (gauge.digital() && gauge.entryOfRaw(name));
    });
    const auto index = chooseColumn(names, hasHeader, column, gauge.spec().channel);
    if (!index) return tl::unexpected(index.error());
    if (hasHeader) {
        out.append(first.text);
        out += fmt::format("{}reading_{}{}clipped\n", separator, gauge.unit().id, separator);
        at = first.next;
    }

    RowConverter rows(gauge, separator);
    while (at < input.size()) {
        const Record record = recordAt(input, at);
        at = record.next;
        out.append(record.text);
        if (record.text.empty() || record.text.front() == '#') {
            out.push_back('\n');
            continue;
        }
        ++report.rows;
        std::string_view raw;
        if (record.quoted) {
            const auto fields = fieldsOf(record, separator);
            if (*index < fields.size()) raw = fields[*index];
        } else {
            raw = plainField(record.text, *index, separator);
        }
        out.append(rows.tailFor(raw, report));
        if (report.refused == 1 && !report.firstProblem.starts_with("row "))
            report.firstProblem = fmt::format("row {}: {}", report.rows, report.firstProblem);
        if (out.size() >= kFlushAt && !flush()) return stopped();
    }
    if (!flush()) return stopped();
    report.note = rows.note();
    return report;
}

}  // namespace fg
