#include "planning/addresses.h"

#include <fmt/format.h>
#include <algorithm>
#include <cctype>
#include <charconv>
#include <map>
#include <set>

namespace fg {
namespace {

constexpr unsigned kLowest = 0x08, kHighest = 0x7F;

std::optional<unsigned> hexOf(std::string_view token) {
    if (token.starts_with("0x") || token.starts_with("0X")) token.remove_prefix(2);
    unsigned value = 0;
    const auto [end, status] = std::from_chars(token.data(), token.data() + token.size(), value, 16);
    return status == std::errc{} && end == token.data() + token.size() && !token.empty() ? std::optional(value)
                                                                                         : std::nullopt;
}

std::vector<std::string_view> tokensOf(std::string_view line) {
    std::vector<std::string_view> tokens;
    for (std::size_t at = 0; at < line.size();) {
        const auto isGap = [](char c) { return std::isspace(static_cast<unsigned char>(c)) || c == ',' || c == ';'; };
        while (at < line.size() && isGap(line[at])) ++at;
        const std::size_t first = at;
        while (at < line.size() && !isGap(line[at])) ++at;
        if (at > first) tokens.push_back(line.substr(first, at - first));
    }
    return tokens;
}

/// A header counts its columns up from 0.
bool isHeader(const std::vector<std::string_view>& tokens) {
    if (tokens.size() < 8) return false;
    for (std::size_t i = 0; i < tokens.size(); ++i)
        if (hexOf(tokens[i]) != i) return false;
    return true;
}

}  // namespace

namespace {

/// One line of a grid, `70: -- 76`; in the first row the reserved addresses are left blank, so cells tell their own
/// address, and UU has to be counted from the right end.
Expected<void> readRow(std::set<unsigned>& found, unsigned row, const std::vector<std::string_view>& cells,
                       const std::string& where) {
    for (std::size_t i = 0; i < cells.size(); ++i) {
        const std::string_view cell = cells[i];
        if (cell == "--" || cell == ".." || cell == "XX") continue;
        if (cell == "UU") {
            found.insert(row + 16 - static_cast<unsigned>(cells.size() - i));
            continue;
        }
        const auto address = hexOf(cell);
        if (!address || *address > kHighest)
            return fail(ErrorCode::Syntax, where, "“" + std::string(cell) + "”",
                        "a seven-bit address in hexadecimal, -- or UU");
        found.insert(*address);
    }
    return {};
}

/// A list or a sentence as programs print it: "[118]", "device found at address 0x76". Numbers without 0x are decimal
/// unless the list says otherwise: others in it have 0x or hexadecimal letters.
Expected<void> readWords(std::set<unsigned>& found, std::string_view line, bool areLetters, const std::string& where) {
    const bool isMarkedList = line.find_first_not_of("0123456789abcdefABCDEFxX,; \t[]") == std::string_view::npos &&
                              (line.find("0x") != std::string_view::npos || line.find("0X") != std::string_view::npos);
    const bool isHex = areLetters || isMarkedList;
    std::vector<std::string> words;
    for (const char c : std::string(line) + " ") {
        const bool isPart = std::isalnum(static_cast<unsigned char>(c)) != 0;
        if (isPart && (words.empty() || words.back().ends_with(' '))) words.emplace_back();
        if (isPart)
            words.back() += c;
        else if (!words.empty() && !words.back().ends_with(' '))
            words.back() += ' ';
    }
    const auto isNumber = [&](const std::string& word) {
        const std::string_view digits = std::string_view(word).substr(0, word.size() - 1);
        if (digits.starts_with("0x") || digits.starts_with("0X")) return hexOf(digits).has_value();
        return isHex ? digits.size() <= 2 && hexOf(digits).has_value()
                     : !digits.empty() && digits.find_first_not_of("0123456789") == std::string_view::npos;
    };
    const bool isSentence =
        std::any_of(words.begin(), words.end(), [&](const std::string& word) { return !isNumber(word); });
    for (const std::string& word : words) {
        const std::string_view digits = std::string_view(word).substr(0, word.size() - 1);
        const bool isMarked = digits.starts_with("0x") || digits.starts_with("0X");
        if (!isNumber(word)) {
            // Between words a number is an address; what begins like one and is none is a slip.
            if (!std::isdigit(static_cast<unsigned char>(digits.front()))) continue;
            return fail(ErrorCode::Syntax, where, "“" + std::string(digits) + "”", "an address: 0x76, or decimal 118");
        }
        std::optional<unsigned> address;
        if (isMarked || isHex) {
            address = hexOf(digits);
        } else {
            unsigned value = 0;
            std::from_chars(digits.data(), digits.data() + digits.size(), value);
            address = value;
        }
        // "2 devices found" counts; no device answers below 8.
        if (isSentence && !isMarked && *address < kLowest) continue;
        if (*address > kHighest)
            return fail(ErrorCode::Range, where, "“" + std::string(digits) + "”",
                        "a seven-bit address, up to 0x7F or 127");
        found.insert(*address);
    }
    return {};
}

}  // namespace

Expected<std::vector<unsigned>> readAddressScan(std::string_view text) {
    std::set<unsigned> found;
    // Two-digit tokens with letters anywhere make the whole list hexadecimal: "3c 76".
    bool isHex = false;
    for (std::size_t at = 0; at + 1 < text.size(); ++at) {
        const bool isAlone = (at == 0 || !std::isalnum(static_cast<unsigned char>(text[at - 1]))) &&
                             (at + 2 >= text.size() || !std::isalnum(static_cast<unsigned char>(text[at + 2])));
        const bool hasBoth = std::isxdigit(static_cast<unsigned char>(text[at])) &&
                             std::isxdigit(static_cast<unsigned char>(text[at + 1])) &&
                             std::isdigit(static_cast<unsigned char>(text[at])) &&
                             !std::isdigit(static_cast<unsigned char>(text[at + 1]));
        isHex = isHex || (isAlone && hasBoth);
    }
    int number = 0;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        const std::string_view line = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        const std::string where = fmt::format("line {}", ++number);
        const std::size_t colon = line.find(':');
        const auto before =
            colon == std::string_view::npos ? std::vector<std::string_view>() : tokensOf(line.substr(0, colon));
        const auto row = before.size() == 1 ? hexOf(before.front()) : std::nullopt;
        if (!row && isHeader(tokensOf(line))) continue;
        const auto read = row && *row % 16 == 0 ? readRow(found, *row, tokensOf(line.substr(colon + 1)), where)
                                                : readWords(found, line, isHex, where);
        if (!read) return tl::unexpected(read.error());
    }
    if (found.empty()) return fail(ErrorCode::Missing, "scan", "no address", "at least one device that answered");
    return std::vector<unsigned>(found.begin(), found.end());
}

std::vector<AddressCandidate> candidatesAt(const Catalogue& catalogue, unsigned address) {
    std::vector<AddressCandidate> candidates;
    for (const DevicePart& part : catalogue.devices())
        for (const BusAddress& one : part.addresses)
            if (one.address == address) candidates.push_back({&part, one.straps});
    return candidates;
}

std::string identityHint(const std::vector<AddressCandidate>& candidates) {
    std::map<unsigned, std::string> byRegister;
    for (const AddressCandidate& one : candidates)
        if (one.part->identity) {
            std::string& text = byRegister[one.part->identity->registerAddress];
            text += fmt::format("{}0x{:02X} is {}", text.empty() ? "" : ", ", one.part->identity->value, one.part->id);
        }
    std::string hint;
    for (const auto& [address, text] : byRegister)
        hint += fmt::format("{}read 0x{:02X}: {}", hint.empty() ? "" : "; ", address, text);
    return hint;
}

std::vector<AddressConflict> conflictsOn(const std::vector<BusPlace>& places) {
    std::vector<AddressConflict> conflicts;
    std::map<unsigned, std::vector<const BusPlace*>> byAddress;
    for (const BusPlace& place : places) byAddress[place.address].push_back(&place);
    for (const auto& [address, here] : byAddress) {
        if (here.size() < 2) continue;
        AddressConflict conflict;
        conflict.address = address;
        for (const BusPlace* place : here) {
            conflict.names.push_back(place->name);
            if (!place->part) continue;
            for (const BusAddress& other : place->part->addresses)
                if (!byAddress.count(other.address))
                    conflict.waysOut.push_back(
                        fmt::format("{}: {} makes it 0x{:02X}", place->name, other.straps, other.address));
        }
        conflict.waysOut.emplace_back("a second bus for one of them");
        conflict.waysOut.emplace_back("a multiplexer before them");
        conflicts.push_back(std::move(conflict));
    }
    return conflicts;
}

}  // namespace fg
