#include "units/date.h"

#include <fmt/format.h>
#include <charconv>
#include <chrono>
#include <cmath>

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

constexpr double kMinutesADay = 1440, kSecondsADay = 86400;

}  // namespace

std::optional<double> daysOfTime(std::string_view text) {
    const auto year = take(text, 4);
    if (!year || !takeSign(text, "-")) return {};
    const auto month = take(text, 2);
    if (!month || !takeSign(text, "-")) return {};
    const auto day = take(text, 2);
    if (!day) return {};
    const std::chrono::year_month_day date{std::chrono::year(*year), std::chrono::month(static_cast<unsigned>(*month)),
                                           std::chrono::day(static_cast<unsigned>(*day))};
    if (!date.ok()) return {};
    double days = static_cast<double>(std::chrono::sys_days(date).time_since_epoch().count());
    if (!takeSign(text, "T ")) return text.empty() ? std::optional(days) : std::nullopt;
    const auto minutes = takeMinutes(text);
    if (!minutes) return {};
    days += *minutes / kMinutesADay;
    if (takeSign(text, ":")) {
        const auto seconds = take(text, 2);
        if (!seconds || *seconds > 60) return {};
        days += *seconds / kSecondsADay;
        if (takeSign(text, ".,"))
            while (!text.empty() && text.front() >= '0' && text.front() <= '9') text.remove_prefix(1);
    }
    if (text.empty() || text == "Z") return days;
    const bool isEast = text.front() == '+';
    if (!takeSign(text, "+-")) return {};
    const auto zone = takeMinutes(text);
    if (!zone || !text.empty()) return {};
    return days - (isEast ? 1 : -1) * *zone / kMinutesADay;
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
