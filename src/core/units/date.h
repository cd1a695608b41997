#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace fg {

/// Days since 1970-01-01 of a date, or of a date and time, as ISO 8601 writes them: "2026-11-27",
/// "2026-11-27T17:55:58Z", "… +01:00"; without a zone as it stands. Nothing for a text that is none, or a day that no
/// month has.
[[nodiscard]] std::optional<double> daysOfTime(std::string_view text);

/// The same in microseconds since 1970-01-01T00:00:00Z, with fractions of a second; further digits are cut off.
[[nodiscard]] std::optional<std::int64_t> microsOfTime(std::string_view text);

/// "2026-11-27T17:55:58.250Z": with as many digits of the second as there are, in threes; none for whole seconds.
[[nodiscard]] std::string timeOfMicros(std::int64_t micros);

/// timeOfMicros() of many times that follow one another: what stays the same between them is written once.
class TimeWriter {
  public:
    void append(std::int64_t micros, std::string& text);

  private:
    std::int64_t m_second = -1;
    std::string m_shown;  ///< "2026-11-27T17:55:58"
};

/// microsOfTime() of many times that follow one another.
class TimeReader {
  public:
    [[nodiscard]] std::optional<std::int64_t> read(std::string_view text);
    /// The time that begins the text, taken off it: written as TimeWriter does, with a "Z" behind it. Nothing for any
    /// other, which read() may know; the text is as it was then.
    [[nodiscard]] std::optional<std::int64_t> take(std::string_view& text);

  private:
    static constexpr std::size_t kToTheSecond = 19;  // "2026-11-27T17:55:58"
    std::array<char, kToTheSecond> m_before{};       ///< as it was written last
    std::optional<std::int64_t> m_micros;            ///< nothing: none was read
};

/// "2026-11-27" of days since 1970-01-01.
[[nodiscard]] std::string dateOfDays(double days);

/// The year with its fraction, 2026.75, for an axis; days since 1970-01-01.
[[nodiscard]] double yearOfDays(double days);

}  // namespace fg
