#pragma once

#include "gauge/csv_convert.h"

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

/// The same into a list that is used again.
void fieldsOf(const Record& record, char separator, std::vector<std::string_view>& fields);

/// Field number `index` of a record without quotes; empty when there are too few.
[[nodiscard]] std::string_view plainField(std::string_view text, std::size_t index, char separator);

[[nodiscard]] std::string_view trimmed(std::string_view text);

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

    /// What has been read and not taken, for a look ahead.
    [[nodiscard]] std::string_view ahead() const { return std::string_view(m_bytes).substr(m_begin); }
    void skip(std::size_t count) { m_begin += count; }

  private:
    Expected<void> more();

    const CsvReader& m_read;
    std::string m_bytes;
    std::size_t m_begin = 0;
    bool m_isAll = false;
};

}  // namespace fg::csv
