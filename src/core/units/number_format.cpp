#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace fg {
namespace {

constexpr const char* kNoValue = "–";

/// Text of a printed number with the true minus, and no minus at all in front of a zero ("-0.00" is 0.00).
std::string withTrueMinus(std::string text) {
    if (text.empty() || text[0] != '-') return text;
    text.erase(0, 1);
    return text.find_first_of("123456789") == std::string::npos ? text : "−" + text;
}

}  // namespace

std::string NumberText::joined() const { return unit.empty() ? digits : digits + " " + unit; }

std::string fixedDigits(double value, int decimals) {
    if (std::isnan(value)) return kNoValue;
    if (std::isinf(value)) return value > 0 ? "∞" : "−∞";
    return withTrueMinus(fmt::format("{:.{}f}", value, std::clamp(decimals, 0, 15)));
}

std::string signedDigits(double value, int decimals) {
    const std::string digits = fixedDigits(value, decimals);
    return value > 0 && digits.find_first_of("123456789") != std::string::npos ? "+" + digits : digits;
}

std::string significantDigits(double value, int significant) {
    if (std::isnan(value)) return kNoValue;
    if (std::isinf(value)) return value > 0 ? "∞" : "−∞";
    if (value == 0) return fixedDigits(0, std::max(0, significant - 1));
    significant = std::clamp(significant, 1, 17);
    // The exponent after rounding decides: 9.996 to three digits is 10.0, not 10.00.
    const std::string scientific = fmt::format("{:.{}e}", value, significant - 1);
    const int exponent = std::stoi(scientific.substr(scientific.find('e') + 1));
    if (exponent < -5 || exponent >= 15) return withTrueMinus(scientific);
    return withTrueMinus(fmt::format("{:.{}f}", value, std::max(0, significant - 1 - exponent)));
}

NumberText engineering(double canonical, Quantity quantity, int significant) {
    const Unit& unit = canonicalUnit(quantity);
    const std::string symbol(unit.symbol);
    if (!unit.takesPrefix || canonical == 0 || !std::isfinite(canonical))
        return {significantDigits(canonical, significant), symbol};
    constexpr std::array<const char*, 8> prefixes{"p", "n", "µ", "m", "", "k", "M", "G"};
    const std::string scientific = fmt::format("{:.{}e}", canonical, std::clamp(significant, 1, 17) - 1);
    const int exponent = std::stoi(scientific.substr(scientific.find('e') + 1));
    const int group = std::clamp(static_cast<int>(std::floor(exponent / 3.0)), -4, 3);
    return {significantDigits(canonical / std::pow(10.0, 3 * group), significant),
            prefixes[static_cast<std::size_t>(group + 4)] + symbol};
}

NumberText shortEngineering(double canonical, Quantity quantity, int significant) {
    NumberText text = engineering(canonical, quantity, significant);
    if (text.digits.find('.') == std::string::npos || text.digits.find('e') != std::string::npos) return text;
    text.digits.erase(text.digits.find_last_not_of('0') + 1);
    if (text.digits.back() == '.') text.digits.pop_back();
    return text;
}

int decimalsFor(double uncertainty) {
    if (!(uncertainty > 0) || !std::isfinite(uncertainty)) return 3;
    const std::string twoDigits = fmt::format("{:.1e}", uncertainty);
    const int exponent = std::stoi(twoDigits.substr(twoDigits.find('e') + 1));
    return std::clamp(1 - exponent, 0, 12);
}

RoundedReading roundedReading(double canonical, double uncertaintyCanonical, const Unit& unit) {
    const double uncertainty = std::abs(unit.differenceFromCanonical(uncertaintyCanonical));
    const bool known = uncertainty > 0 && std::isfinite(uncertainty);
    RoundedReading rounded;
    rounded.decimals = decimalsFor(known ? uncertainty : 0);
    rounded.value = {fixedDigits(unit.fromCanonical(canonical), rounded.decimals), std::string(unit.symbol)};
    if (known) rounded.uncertainty = fixedDigits(uncertainty, rounded.decimals);
    return rounded;
}

std::string shortestText(double value) {
    std::array<char, 32> buffer{};
    const auto result = std::to_chars(buffer.data(), buffer.data() + buffer.size(), value);
    return {buffer.data(), result.ptr};
}

std::string plainNumber(double value, int significant) {
    if (!std::isfinite(value)) return significantDigits(value, significant);
    return withTrueMinus(fmt::format("{:.{}g}", value, significant));
}

std::string term(double value, int significant) {
    const std::string text = plainNumber(value, significant);
    return value < 0 ? "(" + text + ")" : text;
}

}  // namespace fg
