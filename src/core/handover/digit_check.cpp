#include "handover/digit_check.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

constexpr std::int64_t kZero = 48;  ///< the character 0

/// What the character looks like on a display; a dot stands for what has no look.
std::string characterOf(std::int64_t code) {
    if (code == ' ') return "a space";
    return code > ' ' && code < 127 ? fmt::format("“{}”", static_cast<char>(code)) : "no character of ASCII";
}

std::int64_t powerOfTen(std::size_t exponent) {
    std::int64_t power = 1;
    while (exponent-- > 0) power *= 10;
    return power;
}

/// The digit that belongs at a place.
std::int64_t digitAt(std::int64_t value, std::size_t fromRight) {
    return (value < 0 ? -value : value) / powerOfTen(fromRight) % 10;
}

}  // namespace

Expected<std::vector<TypedLine>> readDigits(const std::string& text) {
    std::vector<TypedLine> places;
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find(',', at), text.size());
        std::string piece = text.substr(at, end - at);
        at = end + 1;
        for (std::size_t zero = 0; (zero = piece.find("'0'", zero)) != std::string::npos;) piece.replace(zero, 3, "48");
        auto line = TypedLine::read(piece);
        if (!line) return tl::unexpected(line.error().within("digits"));
        places.push_back(std::move(*line));
    }
    constexpr std::size_t kMostPlaces = 12;
    if (places.size() > kMostPlaces)
        return fail(ErrorCode::Range, "digits", fmt::format("{} places", places.size()), "at most 12");
    return places;
}

Expected<DigitCheck> checkDigits(const std::vector<TypedLine>& places, LineInt width, Interval span, double scale) {
    constexpr double kMost = 4e6;
    DigitCheck check;
    if (!(span.width() * scale <= kMost) || !(std::abs(span.low * scale) < 1e15))
        return fail(ErrorCode::Range, "digits", plainNumber(span.width() * scale, 6) + " numbers",
                    "at most four million: a smaller scale, or a narrower span");
    check.low = static_cast<std::int64_t>(std::floor(span.low * scale));
    check.high = static_cast<std::int64_t>(std::ceil(span.high * scale));
    // Characters where the expression of 0 is the character 0.
    std::vector<bool> areCharacters;
    for (const TypedLine& place : places) areCharacters.push_back(place.at(0, width).value == kZero);
    std::vector<std::array<bool, 2>> isTold(places.size());
    const auto run = [&](std::int64_t value) {
        bool isWrong = false;
        for (std::size_t i = 0; i < places.size(); ++i) {
            const LineValue line = places[i].at(value, width);
            const auto gives = static_cast<std::int64_t>(line.value);
            const std::int64_t digit = gives - (areCharacters[i] ? kZero : 0);
            const std::size_t fromRight = places.size() - 1 - i;
            // The leftmost place must hold all that is left of the number.
            const std::int64_t wanted =
                i == 0 ? (value < 0 ? -value : value) / powerOfTen(fromRight) : digitAt(value, fromRight);
            if (digit == wanted && digit <= 9 && line.overflow.empty() && !line.isNone) continue;
            isWrong = true;
            bool& told = isTold[i][value < 0 ? 0 : 1];
            if (told) continue;
            told = true;
            const std::string shown = characterOf(digit + kZero);
            const std::string from =
                value < 0 ? fmt::format("at {} and below", value) : fmt::format("from {} on", value);
            check.faults.push_back({i, value, gives,
                                    !line.overflow.empty()
                                        ? fmt::format("{} {} overflows {} bits", from, line.overflow, line.overflowBits)
                                    : digit < 0 || digit > 9
                                        ? fmt::format("{} place {} is {}, shown as {}", from, i + 1, digit, shown)
                                        : fmt::format("at {} place {} shows {} for {}", value, i + 1, digit, wanted)});
        }
        if (isWrong) ++check.wrong;
    };
    // From 0 outwards, so that the first of each side is the nearest.
    for (std::int64_t value = std::max<std::int64_t>(check.low, 0); value <= check.high; ++value) run(value);
    for (std::int64_t value = std::min<std::int64_t>(check.high, -1); value >= check.low; --value) run(value);
    if (check.low < 0)
        check.notes.push_back(
            "below 0 a sign has to be shown, which makes the text one character longer: clear the "
            "display's last place when it goes, and split the value without its sign");
    if (places.size() > 1 && check.low < powerOfTen(places.size() - 1))
        check.notes.push_back("small numbers keep leading zeros: each place is always written, so none is stale");
    return check;
}

}  // namespace fg
