#include "acquisition/said_line.h"

#include "units/letters.h"
#include "units/value_text.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace fg {
namespace {

constexpr std::string_view kBlank = " \t", kSeparators = " \t,;|";
constexpr std::size_t kLongestLabel = 64, kMostBare = 16, kLongestUnit = 8;

bool isDigit(char c) { return c >= '0' && c <= '9'; }
bool isLetter(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); }

/// Takes a decimal number off the front; a comma is a decimal one where digits stand on both sides of it.
std::optional<double> takeNumber(std::string_view& text, bool mayHaveComma) {
    std::size_t end = !text.empty() && (text[0] == '-' || text[0] == '+') ? 1 : 0;
    const std::size_t first = end;
    while (end < text.size() && isDigit(text[end])) ++end;
    if (end == first) return std::nullopt;
    const bool isPoint = end < text.size() && (text[end] == '.' || (mayHaveComma && text[end] == ','));
    std::string digits(text.substr(text[0] == '+' ? 1 : 0, end - (text[0] == '+' ? 1 : 0)));
    if (isPoint && end + 1 < text.size() && isDigit(text[end + 1])) {
        digits += '.';
        for (++end; end < text.size() && isDigit(text[end]); ++end) digits += text[end];
    } else if (isPoint && text[end] == '.') {
        ++end;  // "20." as some programs print it
    }
    double value = 0;
    const auto [stop, status] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (status != std::errc{} || stop != digits.data() + digits.size()) return std::nullopt;
    text.remove_prefix(end);
    return value;
}

/// A channel's name of what a program calls it. Brackets and what stands in them are no part of it.
std::string channelOf(std::string_view label) {
    label = trimmed(label.substr(0, label.find_first_of("([")));
    std::string name;
    for (const char c : label) {
        if (isLetter(c) || c == '_' || (!name.empty() && (isDigit(c) || c == '-' || c == '.')))
            name += c;
        else if (!name.empty() && name.back() != '_')
            name += '_';
    }
    while (!name.empty() && name.back() == '_') name.pop_back();
    return name;
}

/// What stands in brackets at the end of a label, where it is a unit.
std::string unitInBrackets(std::string_view label) {
    const std::size_t open = label.find_first_of("([");
    if (open == std::string_view::npos) return {};
    const std::size_t close = label.find_first_of(")]", open);
    if (close == std::string_view::npos) return {};
    const std::string_view unit = trimmed(label.substr(open + 1, close - open - 1));
    return isUnitText(unit) ? std::string(unit) : std::string();
}

/// What stands behind a number up to the next label: a unit, and where that label begins. Nothing for anything else.
std::optional<std::string> takeUnit(std::string_view& rest) {
    const std::size_t separator = std::min(rest.find_first_of(",;|"), rest.size());
    const std::string_view piece = rest.substr(0, separator);
    const std::size_t sign = piece.find_first_of("=:");
    if (sign == std::string_view::npos) {
        const std::string_view unit = trimmed(piece);
        if (!unit.empty() && !isUnitText(unit)) return std::nullopt;
        rest.remove_prefix(separator);
        return std::string(unit);
    }
    // "C   hum" before the sign: the first word is a unit where it is one, the others are the next label.
    const std::string_view before = trimmed(piece.substr(0, sign));
    if (before.empty()) return std::nullopt;
    const std::string_view word = before.substr(0, before.find_first_of(kBlank));
    const bool hasUnit = word.size() < before.size() && isUnitText(word);
    const bool isGlued = !rest.empty() && kBlank.find(rest.front()) == std::string_view::npos;
    if (isGlued && !hasUnit) return std::nullopt;
    rest.remove_prefix(static_cast<std::size_t>((hasUnit ? word.data() + word.size() : before.data()) - rest.data()));
    return hasUnit ? std::string(word) : std::string();
}

std::optional<Frame> readBare(std::string_view line) {
    Frame frame;
    std::vector<std::string_view> pieces;
    const bool hasCommasOnly = line.find_first_of(";\t") == std::string_view::npos;
    for (std::size_t at = 0; (at = line.find_first_not_of(kSeparators, at)) != std::string_view::npos;) {
        const std::size_t end = std::min(line.find_first_of(hasCommasOnly ? " ," : ";\t ", at), line.size());
        pieces.push_back(line.substr(at, end - at));
        at = end;
    }
    std::string unit;
    if (pieces.size() == 2 && isUnitText(pieces[1])) {
        unit = pieces[1];
        pieces.pop_back();
    }
    if (pieces.empty() || pieces.size() > kMostBare) return std::nullopt;
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        std::string_view piece = pieces[i];
        const auto value = takeNumber(piece, !hasCommasOnly);
        if (!value || (!piece.empty() && (pieces.size() > 1 || !isUnitText(piece)))) return std::nullopt;
        if (!piece.empty()) unit = piece;
        frame.samples.push_back({pieces.size() == 1 ? "value" : "value" + std::to_string(i + 1), Raw(*value), unit});
    }
    return frame;
}

}  // namespace

bool isUnitText(std::string_view text) {
    if (text.empty() || text.size() > kLongestUnit || isDigit(text.front())) return false;
    constexpr std::array kAsked{Quantity::Temperature, Quantity::RelativeHumidity, Quantity::Pressure,
                                Quantity::Illuminance, Quantity::Voltage,          Quantity::Current,
                                Quantity::Resistance,  Quantity::Frequency,        Quantity::Length};
    const std::string value = "1 " + std::string(text);
    return std::any_of(kAsked.begin(), kAsked.end(),
                       [&](Quantity quantity) { return readValue(value, quantity).has_value(); });
}

std::optional<Frame> readSaidLine(std::string_view line) {
    line = trimmed(line);
    if (line.empty()) return std::nullopt;
    if (isDigit(line.front()) || line.front() == '-' || line.front() == '+') return readBare(line);
    Frame frame;
    for (std::string_view rest = line; !rest.empty();) {
        const std::size_t begin = rest.find_first_not_of(kSeparators);
        if (begin == std::string_view::npos) break;
        rest.remove_prefix(begin);
        const std::size_t sign = rest.find_first_of("=:");
        if (sign == std::string_view::npos || sign > kLongestLabel) return std::nullopt;
        const std::string_view label = rest.substr(0, sign);
        const std::string channel = channelOf(label);
        if (channel.empty() || label.find_first_of(",;|") != std::string_view::npos) return std::nullopt;
        rest.remove_prefix(sign + 1);
        rest.remove_prefix(std::min(rest.find_first_not_of(" \t="), rest.size()));
        const std::string_view written = rest;
        const auto value = takeNumber(rest, true);
        if (!value) return std::nullopt;
        auto unit = takeUnit(rest);
        if (!unit) return std::nullopt;
        // Two digits of a hexadecimal number, "3F": nobody can tell it from three degrees.
        const std::size_t word = std::min(written.find_first_of(kSeparators), written.size());
        if (word == 2 && isDigit(written[0]) && isLetter(written[1]) && written[1] <= 'F') return std::nullopt;
        if (unit->empty()) unit = unitInBrackets(label);
        if (channel == "t" && unit->empty())
            frame.time_s = *value;
        else
            frame.samples.push_back({channel, Raw(*value), *unit});
    }
    return frame;
}

std::vector<SaidColumn> readSaidHeader(std::string_view line) {
    const std::size_t other = line.find_first_of(";\t");
    const char separator = other == std::string_view::npos ? ',' : line[other];
    std::vector<SaidColumn> columns;
    for (std::size_t begin = 0; begin <= line.size();) {
        const std::size_t end = std::min(line.find(separator, begin), line.size());
        const std::string_view field = trimmed(line.substr(begin, end - begin));
        const std::size_t open = field.find_first_of("([");
        const std::string_view name = trimmed(field.substr(0, open));
        const std::string unit = unitInBrackets(field);
        const bool isName = !name.empty() && name.find_first_of(" \t=:") == std::string_view::npos &&
                            (isLetter(name.front()) || name.front() == '_');
        if (!isName || (open != std::string_view::npos && unit.empty() && name != "t" && name != "time")) return {};
        columns.push_back({channelOf(name), unit});
        begin = end + 1;
    }
    return columns.size() >= 2 ? columns : std::vector<SaidColumn>();
}

}  // namespace fg
