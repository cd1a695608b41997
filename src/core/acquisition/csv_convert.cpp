#include "acquisition/csv_convert.h"

#include "units/number_format.h"

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
        auto quotes = std::count(input.begin() + static_cast<std::ptrdiff_t>(begin), input.begin() + static_cast<std::ptrdiff_t>(end), '"');
        while (quotes % 2 != 0 && end < input.size()) {
            const std::size_t more = find('\n', end + 1);
            quotes += std::count(input.begin() + static_cast<std::ptrdiff_t>(end), input.begin() + static_cast<std::ptrdiff_t>(more), '"');
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
        return status == std::errc{} && stop == end && text.size() > 2 ? std::optional(static_cast<double>(code)) : std::nullopt;
    }
    double code = 0;
    const auto [stop, status] = std::from_chars(text.data(), end, code);
    return status == std::errc{} && stop == end && std::isfinite(code) ? std::optional(code) : std::nullopt;
}

/// Turns the raw text of a field into what is appended to its line. Whole codes of small converters are formatted once each.
class RowConverter {
  public:
    RowConverter(const GaugeSpec& spec, const AnalogPath& path, char separator)
        : m_path(path), m_unit(spec.readingUnit()), m_separator(separator) {
        if (path.converter().bits() <= 16 && path.converter().wordsAreCodes())
            m_tails.resize(static_cast<std::size_t>(path.converter().maxCode()) + 1);
    }

    std::string_view tailFor(std::string_view raw, CsvReport& report) {
        raw = trimmed(raw);
        std::uint32_t code = 0;
        const auto [stop, status] = std::from_chars(raw.data(), raw.data() + raw.size(), code);
        if (status == std::errc{} && stop == raw.data() + raw.size() && code < m_tails.size()) {
            std::string& tail = m_tails[code];
            if (tail.empty()) tail = tailOf(code);
            ++report.converted;
            report.clipped += m_path.converter().clipOf(code) != Clip::None ? 1 : 0;
            return tail;
        }
        return slowTail(raw, report);
    }

  private:
    std::string_view slowTail(std::string_view raw, CsvReport& report) {
        const auto word = readCode(raw);
        std::string problem;
        if (raw.empty())
            problem = "nothing where a code was expected";
        else if (!word)
            problem = fmt::format("“{}” is no number", raw.substr(0, 40));
        const auto code = word ? m_path.converter().codeOfWord(*word) : Expected<double>(0.0);
        if (problem.empty() && !code) problem = fmt::format("{} where {} was expected", code.error().found, code.error().expected);
        if (problem.empty()) {
            m_scratch = tailOf(*code);
            ++report.converted;
            report.clipped += m_path.converter().clipOf(*code) != Clip::None ? 1 : 0;
            return m_scratch;
        }
        ++report.refused;
        std::replace(problem.begin(), problem.end(), '"', '\'');
        if (report.firstProblem.empty()) report.firstProblem = problem;
        m_scratch = fmt::format("{}{}\"refused: {}\"\n", m_separator, m_separator, problem);
        return m_scratch;
    }

    std::string tailOf(double code) const {
        const auto evaluation = m_path.evaluate({Stage::Converter, code});
        const StageValue& reading = evaluation->at(Stage::Reading);
        if (std::isnan(reading.value)) return fmt::format("{}{}\"refused: no value for this code\"\n", m_separator, m_separator);
        return fmt::format("{}{}{}{}\n", m_separator, shortestText(m_unit.fromCanonical(reading.value)), m_separator,
                           clipText(reading.clip));
    }

    const AnalogPath& m_path;
    const Unit& m_unit;
    char m_separator;
    std::vector<std::string> m_tails;
    std::string m_scratch;
};

Expected<std::size_t> chooseColumn(const std::vector<std::string_view>& names, bool hasHeader, const std::string& wanted,
                                   const std::string& channel) {
    std::string known;
    for (std::size_t i = 0; i < names.size(); ++i) known += (i ? ", " : "") + (hasHeader ? std::string(names[i]) : std::to_string(i + 1));
    const auto position = [&](std::string_view name) -> std::optional<std::size_t> {
        const auto it = std::find(names.begin(), names.end(), name);
        return hasHeader && it != names.end() ? std::optional(static_cast<std::size_t>(it - names.begin())) : std::nullopt;
    };
    if (!wanted.empty()) {
        if (const auto found = position(wanted)) return *found;
        std::size_t number = 0;
        const auto [end, status] = std::from_chars(wanted.data(), wanted.data() + wanted.size(), number);
        if (status == std::errc{} && end == wanted.data() + wanted.size() && number >= 1 && number <= names.size()) return number - 1;
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

Expected<CsvReport> convertCsv(std::string_view input, const GaugeSpec& spec, const AnalogPath& path, const std::string& column,
                               const CsvWriter& write) {
    CsvReport report;
    std::string out;
    out.reserve(kFlushAt + 65536);
    const auto flush = [&] {
        const bool written = write(out);
        out.clear();
        return written;
    };
    const auto stopped = [] { return fail(ErrorCode::Io, "output", "a write that failed", "room for the converted rows"); };

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
        return std::count(first.text.begin(), first.text.end(), a) < std::count(first.text.begin(), first.text.end(), b);
    });
    const auto names = fieldsOf(first, separator);
    const bool hasHeader = std::none_of(names.begin(), names.end(), [](std::string_view name) { return readCode(name).has_value(); });
    const auto index = chooseColumn(names, hasHeader, column, spec.channel);
    if (!index) return tl::unexpected(index.error());
    if (hasHeader) {
        out.append(first.text);
        out += fmt::format("{}reading_{}{}clipped\n", separator, spec.readingUnit().id, separator);
        at = first.next;
    }

    RowConverter rows(spec, path, separator);
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
    return report;
}

}  // namespace fg
