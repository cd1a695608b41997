#include "units/date.h"

#include <fmt/format.h>
#include <array>
#include <charconv>
#include <chrono>
#include <cmath>
#include <cstring>

namespace fg {
namespace {

/// Reads a number of exactly `digits` digits off the front.
std::optional<int> take(std::string_view& text, std::size_t digits) {
    int value = 0;
    if (text.size() < digits || text.front() == '-') return {};
    const auto [end, error] = std::from_chars(text.data(), text.data() + digits, value);
    if (error != std::errc() || end != text.data() + digits) return {};
    text.remove_prefix(digits);
    return value;
}

bool takeSign(std::string_view& text, std::string_view signs) {
    if (text.empty() || signs.find(text.front()) == std::string_view::npos) return false;
    text.remove_prefix(1);
    return true;
}

/// "hh:mm", as minutes.
std::optional<int> takeMinutes(std::string_view& text) {
    const auto hours = take(text, 2);
    if (!hours) return {};
    takeSign(text, ":");
    const auto minutes = take(text, 2);
    if (!minutes || *hours > 24 || *minutes > 59) return {};
    return *hours * 60 + *minutes;
}

constexpr std::int64_t kMicros = 1'000'000, kMicrosAMinute = 60 * kMicros, kMicrosADay = 1440 * kMicrosAMinute;

/// Digits behind the point, as microseconds.
std::int64_t takeFraction(std::string_view& text) {
    std::int64_t micros = 0, place = kMicros;
    std::size_t digits = 0;
    for (; digits < text.size() && text[digits] >= '0' && text[digits] <= '9'; ++digits) {
        if (place == 1) continue;
        micros = 10 * micros + (text[digits] - '0');
        place /= 10;
    }
    text.remove_prefix(digits);
    return micros * place;
}

}  // namespace

std::optional<std::int64_t> microsOfTime(std::string_view text) {
    const auto year = take(text, 4);
    if (!year || !takeSign(text, "-")) return {};
    const auto month = take(text, 2);
    if (!month || !takeSign(text, "-")) return {};
    const auto day = take(text, 2);
    if (!day) return {};
    const std::chrono::year_month_day date{std::chrono::year(*year), std::chrono::month(static_cast<unsigned>(*month)),
                                           std::chrono::day(static_cast<unsigned>(*day))};
    if (!date.ok()) return {};
    std::int64_t micros = std::chrono::sys_days(date).time_since_epoch().count() * kMicrosADay;
    if (!takeSign(text, "T ")) return text.empty() ? std::optional(micros) : std::nullopt;
    const auto minutes = takeMinutes(text);
    if (!minutes) return {};
    micros += *minutes * kMicrosAMinute;
    if (takeSign(text, ":")) {
        const auto seconds = take(text, 2);
        if (!seconds || *seconds > 60) return {};
        micros += *seconds * kMicros;
        if (takeSign(text, ".,")) micros += takeFraction(text);
    }
    if (text.empty() || text == "Z") return micros;
    const bool isEast = text.front() == '+';
    if (!takeSign(text, "+-")) return {};
    const auto zone = takeMinutes(text);
    if (!zone || !text.empty()) return {};
    return micros - (isEast ? 1 : -1) * *zone * kMicrosAMinute;
}

std::optional<double> daysOfTime(std::string_view text) {
    const auto micros = microsOfTime(text);
    if (!micros) return {};
    return static_cast<double>(*micros) / static_cast<double>(kMicrosADay);
}

std::string timeOfMicros(std::int64_t micros) {
    using namespace std::chrono;
    const sys_time<microseconds> time{microseconds(micros)};
    const auto day = floor<days>(time);
    const hh_mm_ss clock(time - day);
    std::string text =
        dateOfDays(static_cast<double>(day.time_since_epoch().count())) +
        fmt::format("T{:02}:{:02}:{:02}", clock.hours().count(), clock.minutes().count(), clock.seconds().count());
    constexpr std::int64_t kThousand = 1000;
    const std::int64_t fraction = clock.subseconds().count();
    if (fraction % kThousand != 0)
        text += fmt::format(".{:06}", fraction);
    else if (fraction != 0)
        text += fmt::format(".{:03}", fraction / kThousand);
    return text + "Z";
}

void TimeWriter::append(std::int64_t micros, std::string& text) {
    const std::int64_t second = micros >= 0 ? micros / kMicros : -1;
    if (second < 0) {
        text += timeOfMicros(micros);
        return;
    }
    if (second != m_second) {
        m_shown = timeOfMicros(second * kMicros);
        m_shown.pop_back();  // the Z, which stands behind the fraction
        m_second = second;
    }
    text += m_shown;
    if (const std::int64_t fraction = micros - second * kMicros; fraction != 0) {
        constexpr std::int64_t kThousand = 1000;
        const bool isShort = fraction % kThousand == 0;
        std::array<char, 7> digits{'.'};
        std::int64_t rest = isShort ? fraction / kThousand : fraction;
        const std::size_t count = isShort ? 3 : 6;
        for (std::size_t i = count; i >= 1; --i, rest /= 10) digits[i] = static_cast<char>('0' + rest % 10);
        text.append(digits.data(), count + 1);
    }
    text += 'Z';
}

namespace {

/// A whole number of `Digits` digits at fixed places, as TimeWriter writes fractions; nothing for anything else.
template <int Digits>
std::optional<std::int64_t> digitsAt(const char* at) {
    std::int64_t number = 0;
    bool areDigits = true;
    for (int i = 0; i < Digits; ++i) {
        const int digit = at[i] - '0';
        areDigits &= digit >= 0 && digit <= 9;
        number = 10 * number + digit;
    }
    return areDigits ? std::optional(number) : std::nullopt;
}

/// memcmp() of all 19 characters as three of eight, which compilers write in place.
bool isSameSecond(const char* a, const char* b) {
    return std::memcmp(a, b, 8) == 0 && std::memcmp(a + 8, b + 8, 8) == 0 && std::memcmp(a + 11, b + 11, 8) == 0;
}

}  // namespace

std::optional<std::int64_t> TimeReader::take(std::string_view& text) {
    if (text.size() <= kToTheSecond) return {};
    if (!m_micros || !isSameSecond(text.data(), m_before.data())) {
        const std::string_view second = text.substr(0, kToTheSecond);
        const auto micros = second[kToTheSecond - 3] == ':' ? microsOfTime(second) : std::nullopt;
        if (!micros) return {};
        std::memcpy(m_before.data(), second.data(), kToTheSecond);
        m_micros = *micros;
    }
    constexpr std::size_t kThousandths = 3, kMillionths = 6;
    const std::string_view rest = text.substr(kToTheSecond);
    std::size_t length = 0;
    std::optional<std::int64_t> fraction = 0;
    if (rest.front() == '.') {
        const auto endsAt = [&](std::size_t digits) { return rest.size() > digits + 1 && rest[digits + 1] == 'Z'; };
        if (endsAt(kThousandths)) {
            length = kThousandths + 1;
            fraction = digitsAt<kThousandths>(rest.data() + 1);
            if (fraction) *fraction *= 1000;
        } else if (endsAt(kMillionths)) {
            length = kMillionths + 1;
            fraction = digitsAt<kMillionths>(rest.data() + 1);
        }
    }
    if (!fraction || rest[length] != 'Z') return {};
    text = rest.substr(length + 1);
    return *m_micros + *fraction;
}

std::optional<std::int64_t> TimeReader::read(std::string_view text) {
    std::string_view rest = text;
    const auto usual = take(rest);
    return usual && rest.empty() ? usual : microsOfTime(text);
}

std::string dateOfDays(double days) {
    const std::chrono::year_month_day date{
        std::chrono::sys_days(std::chrono::days(static_cast<long>(std::floor(days))))};
    return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(date.year()), static_cast<unsigned>(date.month()),
                       static_cast<unsigned>(date.day()));
}

double yearOfDays(double days) {
    constexpr double kEpoch = 1970, kDaysAYear = 365.2425;
    return kEpoch + days / kDaysAYear;
}

}  // namespace fg
