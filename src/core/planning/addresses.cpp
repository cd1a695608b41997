#include "planning/addresses.h"

#include <fmt/format.h>
#include <algorithm>
#include <cctype>
#include <charconv>
#include <map>
#include <set>

namespace fg {
namespace {

std::optional<unsigned> hexOf(std::string_view token) {
    if (token.starts_with("0x") || token.starts_with("0X")) token.remove_prefix(2);
    unsigned value = 0;
    const auto [end, status] = std::from_chars(token.data(), token.data() + token.size(), value, 16);
    return status == std::errc{} && end == token.data() + token.size() && !token.empty() ? std::optional(value) : std::nullopt;
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

Expected<std::vector<unsigned>> readAddressScan(std::string_view text) {
    std::set<unsigned> found;
    int number = 0;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        const std::string_view line = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        ++number;
        const std::size_t colon = line.find(':');
        const auto row = colon == std::string_view::npos
                             ? std::nullopt
                             : hexOf(tokensOf(line.substr(0, colon)).empty() ? "" : tokensOf(line.substr(0, colon)).back());
        const auto tokens = tokensOf(row ? line.substr(colon + 1) : line);
        if (!row && isHeader(tokens)) continue;
        // In a grid's first row the reserved addresses are left blank, so cells tell their own address; UU has to be counted from the right
        // end.
        for (std::size_t i = 0; i < tokens.size(); ++i) {
            const std::string_view token = tokens[i];
            if (token == "--" || token == ".." || token == "XX") continue;
            if (row && token == "UU") {
                found.insert(*row + 16 - static_cast<unsigned>(tokens.size() - i));
                continue;
            }
            const auto address = hexOf(token);
            if (!address || *address > 0x7F)
                return fail(ErrorCode::Syntax, fmt::format("line {}", number), "“" + std::string(token) + "”",
                            "a seven-bit address in hexadecimal, -- or UU");
            found.insert(*address);
        }
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
    for (const auto& [address, text] : byRegister) hint += fmt::format("{}read 0x{:02X}: {}", hint.empty() ? "" : "; ", address, text);
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
                    conflict.waysOut.push_back(fmt::format("{}: {} makes it 0x{:02X}", place->name, other.straps, other.address));
        }
        conflict.waysOut.emplace_back("a second bus for one of them");
        conflict.waysOut.emplace_back("a multiplexer before them");
        conflicts.push_back(std::move(conflict));
    }
    return conflicts;
}

}  // namespace fg
