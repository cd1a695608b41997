#include "gauge/csv_records.h"

#include <algorithm>
#include <array>
#include <cstring>
#include <utility>

namespace fg::csv {
namespace {

constexpr std::size_t kReadAtOnce = 1 << 16, kLongestRecord = 1 << 20;

std::string_view withoutReturn(std::string_view line) {
    if (line.ends_with('\r')) line.remove_suffix(1);
    return line;
}

/// Fields are short: stepping through them is quicker than a search for each.
void plainFieldsOf(std::string_view text, char separator, std::vector<std::string_view>& fields, std::size_t most) {
    fields.clear();
    const char* at = text.data();
    const char* const end = at + text.size();
    while (fields.size() < most) {
        const char* const begin = at;
        while (at != end && *at != separator) ++at;
        fields.push_back(trimmed({begin, static_cast<std::size_t>(at - begin)}));
        if (at == end) return;
        ++at;
    }
}

std::string_view unquoted(std::string_view text) {
    text = trimmed(text);
    const bool inQuotes = text.size() >= 2 && text.front() == '"' && text.back() == '"';
    return inQuotes ? trimmed(text.substr(1, text.size() - 2)) : text;
}

/// Where a quoted field that begins at `at` (its quote) ends: behind the closing quote, which a separator, a line end
/// or the end of the text must follow. Nothing for one that is not closed so.
std::optional<std::size_t> endOfQuoted(std::string_view text, std::size_t at, char separator) {
    for (std::size_t i = at + 1; i < text.size(); ++i) {
        if (text[i] != '"') continue;
        if (i + 1 < text.size() && text[i + 1] == '"') {
            ++i;
            continue;
        }
        std::size_t next = i + 1;
        while (next < text.size() && (text[next] == ' ' || text[next] == '\r')) ++next;
        if (next == text.size() || text[next] == separator || text[next] == '\n') return i + 1;
        return std::nullopt;
    }
    return std::nullopt;
}

/// The record that begins the text, whose first quote is at `quote`, and its length; `isAll`: nothing follows the text.
/// Nothing when its end is not there yet.
std::optional<std::pair<Record, std::size_t>> recordOf(std::string_view text, char separator, bool isAll,
                                                       std::size_t quote) {
    const std::size_t line = std::min(text.find('\n'), text.size());
    if (line == text.size() && !isAll) return std::nullopt;
    Record record;
    std::size_t end = line;
    record.isQuoted = quote < line;
    if (record.isQuoted) {
        bool atStart = true;
        for (std::size_t i = 0; i < end; ++i) {
            const char c = text[i];
            if (c == '"' && atStart) {
                const auto close = endOfQuoted(text, i, separator);
                if (!close && !isAll && text.size() <= kLongestRecord) return std::nullopt;
                if (!close || *close > kLongestRecord) {
                    record.isStray = true;
                    end = line;
                    break;
                }
                i = *close - 1;
                end = std::min(text.find('\n', *close), text.size());
                if (end == text.size() && !isAll) return std::nullopt;
                atStart = false;
            } else {
                atStart = c == separator || (atStart && c == ' ');
            }
        }
    }
    record.text = text.substr(0, end);
    if (record.isQuoted && !record.isStray)  // a quoted field may hold line ends
        record.lines = 1 + static_cast<int>(std::count(record.text.begin(), record.text.end(), '\n'));
    record.text = withoutReturn(record.text);
    return std::pair(record, std::min(end + 1, text.size()));
}

}  // namespace

std::vector<std::string_view> fieldsOf(const Record& record, char separator) {
    std::vector<std::string_view> fields;
    fieldsOf(record, separator, fields);
    return fields;
}

void fieldsOf(const Record& record, char separator, std::vector<std::string_view>& fields, std::size_t most) {
    if (!record.isQuoted) return plainFieldsOf(record.text, separator, fields, most);
    fields.clear();
    const std::string_view text = record.text;
    for (std::size_t begin = 0; begin <= text.size() && fields.size() < most;) {
        std::size_t at = begin;
        while (at < text.size() && text[at] == ' ') ++at;
        if (at < text.size() && text[at] == '"' && !record.isStray)
            if (const auto close = endOfQuoted(text, at, separator)) at = *close;
        const std::size_t end = std::min(text.find(separator, at), text.size());
        fields.push_back(unquoted(text.substr(begin, end - begin)));
        begin = end + 1;
    }
}

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

char separatorOf(std::string_view text) {
    constexpr int kLines = 20;
    constexpr std::array candidates{'\t', ';', ','};
    std::array<std::size_t, candidates.size()> agreeing{};
    for (std::size_t c = 0; c < candidates.size(); ++c) {
        std::string_view rest = text;
        std::optional<std::size_t> fields;
        for (int line = 0; line < kLines && !rest.empty(); ++line) {
            const auto found = recordOf(rest, candidates[c], true, rest.find('"'));
            const bool isCut = rest.find('\n') == std::string_view::npos && line > 0;
            rest.remove_prefix(found->second);
            // The last one may not be whole yet.
            if (isCut || found->first.isStray || found->first.text.empty() || found->first.text.front() == '#')
                continue;
            const std::size_t here = fieldsOf(found->first, candidates[c]).size();
            if (!fields) fields = here;
            if (here == *fields && here > 1) ++agreeing[c];
            if (here != *fields) agreeing[c] -= std::min<std::size_t>(agreeing[c], 1);
        }
    }
    const auto best = std::max_element(agreeing.begin(), agreeing.end());
    return *best == 0 ? ',' : candidates[static_cast<std::size_t>(best - agreeing.begin())];
}

// Most files have no quote: one search a block instead of one a line.
std::size_t Records::quoteAhead() {
    if (!m_quote || *m_quote < m_begin) m_quote = m_begin + std::min(ahead().find('"'), m_end - m_begin);
    return *m_quote - m_begin;
}

Expected<void> Records::more() {
    m_quote.reset();
    if (m_begin > 0)
        std::copy(m_bytes.begin() + static_cast<std::ptrdiff_t>(m_begin),
                  m_bytes.begin() + static_cast<std::ptrdiff_t>(m_end), m_bytes.begin());
    m_end -= std::exchange(m_begin, 0);
    if (m_bytes.size() < m_end + kReadAtOnce) m_bytes.resize(m_end + kReadAtOnce);
    const auto got = m_read(m_bytes.data() + m_end, kReadAtOnce);
    if (!got) return tl::unexpected(got.error());
    m_end += *got;
    m_isAll = *got == 0;
    return {};
}

Expected<void> Records::fillLine() {
    while (!m_isAll && ahead().find('\n') == std::string_view::npos && ahead().size() <= kLongestRecord)
        if (const auto read = more(); !read) return read;
    return {};
}

std::string_view Records::plainLines() {
    const std::string_view plain = ahead().substr(0, quoteAhead());
    return plain.substr(0, plain.rfind('\n') + 1);
}

Expected<std::optional<Record>> Records::next(char separator) {
    while (true) {
        if (m_begin < m_end) {
            const auto found = recordOf(ahead(), separator, m_isAll, quoteAhead());
            if (found) {
                m_begin += found->second;
                return std::optional(found->first);
            }
            if (ahead().size() > 2 * kLongestRecord)
                return fail(ErrorCode::Range, "input", "a line of more than 1 MiB", "rows of a CSV file");
        } else if (m_isAll) {
            return std::optional<Record>();
        }
        if (const auto read = more(); !read) return tl::unexpected(read.error());
    }
}

}  // namespace fg::csv
