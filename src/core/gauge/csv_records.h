#pragma once

#include "gauge/csv_convert.h"
#include "units/letters.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fg::csv {

/// One record: a line, or several where a quoted field goes over its end.
struct Record {
    std::string_view text;  // without the line end
    bool isQuoted = false;
    bool isStray = false;  // a quote that belongs to no field
    int lines = 1;
};

/// Its fields, without the quotes around them.
[[nodiscard]] std::vector<std::string_view> fieldsOf(const Record& record, char separator);

/// The same into a list that is used again; no more than the first `most` of them.
void fieldsOf(const Record& record, char separator, std::vector<std::string_view>& fields,
              std::size_t most = std::string_view::npos);

/// Field number `index` of a record without quotes; empty when there are too few.
[[nodiscard]] std::string_view plainField(std::string_view text, std::size_t index, char separator);

/// The separator that gives the first lines the same number of fields, more than one. A semicolon or a tab goes before
/// a comma, which is a decimal one in such files.
[[nodiscard]] char separatorOf(std::string_view text);

/// The records of an input, read as they are needed.
class Records {
  public:
    explicit Records(const CsvReader& read) : m_read(read) {}

    /// Reads until a whole line is ahead, or all there is. Errors: the reader's.
    [[nodiscard]] Expected<void> fillLine();

    /// The next record; nothing at the end. It lives until the next call. Errors: the reader's; Range for a line of
    /// more than 1 MiB.
    [[nodiscard]] Expected<std::optional<Record>> next(char separator);

    /// Whole lines without quotes that are ahead, for a reader that takes many at once and skip()s what it took. Empty
    /// where a quote or the end of what has been read comes first: then next() takes the record.
    [[nodiscard]] std::string_view plainLines();

    /// What has been read and not taken, for a look ahead.
    [[nodiscard]] std::string_view ahead() const { return {m_bytes.data() + m_begin, m_end - m_begin}; }
    void skip(std::size_t count) { m_begin += count; }

  private:
    Expected<void> more();
    std::size_t quoteAhead();

    const CsvReader& m_read;
    std::vector<char> m_bytes;
    std::size_t m_begin = 0, m_end = 0;  // what of m_bytes is ahead
    std::optional<std::size_t> m_quote;  // the next one at or behind m_begin, m_end where there is none; or not known
    bool m_isAll = false;
};

}  // namespace fg::csv
