#include "bytes/dump_text.h"

#include "units/letters.h"

#include <fmt/format.h>
#include <algorithm>
#include <cctype>
#include <charconv>

namespace fg {
namespace {

constexpr std::size_t kMostBytes = 65536;

bool isHex(char c) { return std::isxdigit(static_cast<unsigned char>(c)) != 0; }
bool isDigit(char c) { return c >= '0' && c <= '9'; }

std::vector<std::string_view> split(std::string_view text, std::string_view separators) {
    std::vector<std::string_view> parts;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find_first_of(separators), text.size());
        if (const std::string_view part = trimmed(text.substr(0, end)); !part.empty()) parts.push_back(part);
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return parts;
}

std::optional<std::uint64_t> number(std::string_view digits, int base) {
    std::uint64_t value = 0;
    const auto [end, status] = std::from_chars(digits.data(), digits.data() + digits.size(), value, base);
    return status == std::errc{} && end == digits.data() + digits.size() && !digits.empty() ? std::optional(value)
                                                                                            : std::nullopt;
}

/// One token of bytes: "8C", "0x8C", "0x8C70" or "8C70AA" as two or more bytes.
std::optional<std::vector<std::uint8_t>> hexBytes(std::string_view token) {
    if (token.starts_with("0x") || token.starts_with("0X")) token.remove_prefix(2);
    if (token.empty() || !std::all_of(token.begin(), token.end(), isHex) || (token.size() > 2 && token.size() % 2 == 1))
        return std::nullopt;
    std::vector<std::uint8_t> bytes;
    const std::size_t first = token.size() % 2;
    if (first) bytes.push_back(static_cast<std::uint8_t>(*number(token.substr(0, 1), 16)));
    for (std::size_t i = first; i < token.size(); i += 2)
        bytes.push_back(static_cast<std::uint8_t>(*number(token.substr(i, 2), 16)));
    return bytes;
}

RawBlock numberBlock(std::uint64_t value) {
    RawBlock block;
    block.isNumber = true;
    do {
        block.bytes.insert(block.bytes.begin(), static_cast<std::uint8_t>(value));
        value >>= 8;
    } while (value != 0);
    return block;
}

/// A lone token that is a number rather than bytes: 0x…, 0b… or decimal.
Expected<std::optional<RawBlock>> loneNumber(std::string_view token, const std::string& where) {
    const auto made = [](std::optional<std::uint64_t> value) {
        return value ? std::optional(numberBlock(*value)) : std::nullopt;
    };
    if (token.starts_with("0x") || token.starts_with("0X")) {
        const auto value = number(token.substr(2), 16);
        if (!value)
            return fail(ErrorCode::Syntax, where, "“" + std::string(token) + "”",
                        "hexadecimal digits of at most 64 bits");
        return made(value);
    }
    if (token.starts_with("0b") || token.starts_with("0B")) {
        std::string digits(token.substr(2));
        std::erase(digits, '_');
        const auto value = number(digits, 2);
        if (!value)
            return fail(ErrorCode::Syntax, where, "“" + std::string(token) + "”", "binary digits of at most 64 bits");
        return made(value);
    }
    if (!std::all_of(token.begin(), token.end(), isDigit) || token.size() == 2) return std::optional<RawBlock>();
    if (token.size() % 2 == 0 && token.size() >= 4)
        return fail(
            ErrorCode::Ambiguous, where, "“" + std::string(token) + "”",
            "bytes with a blank between them, or 0x before it, or a decimal number that cannot be taken for bytes");
    const auto value = number(token, 10);
    if (!value) return fail(ErrorCode::Syntax, where, "“" + std::string(token) + "”", "a number of at most 64 bits");
    return made(value);
}

/// "high=0x01 low=0x91" in any order, as one number.
std::optional<RawBlock> registersApart(std::string_view text) {
    std::optional<std::uint64_t> high, low;
    for (const std::string_view part : split(text, " ,;\t\n")) {
        const std::size_t equals = part.find('=');
        if (equals == std::string_view::npos) return std::nullopt;
        const std::string name = lowered(trimmed(part.substr(0, equals)));
        std::string_view digits = trimmed(part.substr(equals + 1));
        const bool isHexadecimal = digits.starts_with("0x") || digits.starts_with("0X");
        if (isHexadecimal) digits.remove_prefix(2);
        const auto value = number(digits, isHexadecimal ? 16 : 10);
        if (!value || *value > 255) return std::nullopt;
        if (name == "high" || name == "h" || name == "msb")
            high = value;
        else if (name == "low" || name == "l" || name == "lsb")
            low = value;
        else
            return std::nullopt;
    }
    if (!high || !low) return std::nullopt;
    RawBlock block{"", {}, {static_cast<std::uint8_t>(*high), static_cast<std::uint8_t>(*low)}};
    block.isNumber = true;
    return block;
}

/// The key before a colon or an equals sign: a register address in hexadecimal, or a name.
Expected<RawBlock> keyed(std::string_view key, const std::string& where) {
    RawBlock block;
    std::string_view digits = key;
    if (digits.starts_with("0x") || digits.starts_with("0X")) digits.remove_prefix(2);
    if (!digits.empty() && digits.size() <= 4 && std::all_of(digits.begin(), digits.end(), isHex)) {
        block.address = static_cast<unsigned>(*number(digits, 16));
        if (const std::string name = lowered(key); name == "d1" || name == "d2") block.name = name;
        return block;
    }
    const bool isName = !key.empty() && std::isalpha(static_cast<unsigned char>(key[0])) &&
                        std::all_of(key.begin(), key.end(), [](char c) {
                            return std::isalnum(static_cast<unsigned char>(c)) || c == '_' || c == ' ';
                        });
    if (!isName)
        return fail(ErrorCode::Syntax, where, "“" + std::string(key) + "”",
                    "a register address in hexadecimal, or the name of a block");
    block.name = lowered(key);
    return block;
}

Expected<void> fill(RawBlock& block, std::string_view text, const std::string& where) {
    const auto tokens = split(text, " ,\t{}[]|");
    if (tokens.size() == 1) {
        // A count is a decimal number, however many digits it has.
        const bool isCount =
            block.name == "pulses" || ((block.name == "ch0" || block.name == "ch1") && tokens[0].front() != '0');
        if (isCount)
            if (const auto count = number(tokens[0], 10)) {
                block.bytes = numberBlock(*count).bytes;
                block.isNumber = true;
                return {};
            }
        const bool isBinary = tokens[0].size() >= 4 && (tokens[0].starts_with("0b") || tokens[0].starts_with("0B")) &&
                              tokens[0].find_first_not_of("01_", 2) == std::string_view::npos;
        const auto lone = block.address && block.name.empty() && !isBinary
                              ? Expected<std::optional<RawBlock>>(std::optional<RawBlock>())
                              : loneNumber(tokens[0], where);
        if (!lone) return tl::unexpected(lone.error());
        if (*lone) {
            block.bytes = (*lone)->bytes;
            block.isNumber = true;
            return {};
        }
    }
    // Of a register: 0x6B70 is a word that was read as one number, 6B 70 are two bytes.
    const bool isRegister = block.address && block.name.empty();
    const auto isWord = [](std::string_view token) {
        return token.size() == 6 && (token.starts_with("0x") || token.starts_with("0X"));
    };
    const auto words = static_cast<std::size_t>(std::count_if(tokens.begin(), tokens.end(), isWord));
    block.isWords = isRegister && words > 0;
    if (block.isWords && words != tokens.size())
        return fail(ErrorCode::Ambiguous, where, "“" + std::string(trimmed(text)) + "”",
                    "all of it as words (0x6B70) or all as bytes (6B 70)");
    for (const std::string_view token : tokens) {
        const auto bytes = hexBytes(token);
        if (!bytes)
            return fail(ErrorCode::Syntax, where, "“" + std::string(token) + "”", "pairs of hexadecimal digits");
        block.bytes.insert(block.bytes.end(), bytes->begin(), bytes->end());
        if (block.bytes.size() > kMostBytes)
            return fail(ErrorCode::Range, where, "more than 65 536 bytes", "a dump of one device");
    }
    return {};
}

/// A header of column addresses: 0 1 2 … f, one digit or two, counting up from 0.
std::size_t headerColumns(std::string_view line) {
    const auto tokens = split(line, " \t:|");
    if (tokens.size() < 4) return 0;
    for (std::size_t i = 0; i < tokens.size() && i < 16; ++i) {
        const auto value = number(tokens[i], 16);
        if (!value || *value != i || tokens[i].size() > 2) return i >= 4 ? i : 0;
    }
    return std::min<std::size_t>(tokens.size(), 16);
}

/// One row under such a header; where nothing was read a new block begins.
Expected<void> tableRow(RawData& data, std::string_view line, std::size_t columns, const std::string& where) {
    const std::size_t colon = line.find(':');
    const auto cells = split(line.substr(colon == std::string_view::npos ? 0 : colon + 1), " \t|");
    const auto row = keyed(trimmed(line.substr(0, colon == std::string_view::npos ? 0 : colon)), where);
    if (!row) return tl::unexpected(row.error());
    if (!row->address) return fail(ErrorCode::Syntax, where, "“" + row->name + "”", "the row's address and a colon");
    RawBlock block;
    const auto flush = [&] {
        if (!block.bytes.empty()) data.add(block);
        block = {};
    };
    for (std::size_t i = 0; i < columns && i < cells.size(); ++i) {
        if (cells[i] == "XX" || cells[i] == "xx" || cells[i] == "--") {
            flush();
            continue;
        }
        const auto byte = cells[i].size() == 2 ? hexBytes(cells[i]) : std::nullopt;
        if (!byte)
            return fail(ErrorCode::Syntax, where, "“" + std::string(cells[i]) + "”",
                        "two hexadecimal digits, XX or --");
        if (block.bytes.empty()) block.address = *row->address + static_cast<unsigned>(i);
        block.bytes.push_back((*byte)[0]);
    }
    flush();
    return {};
}

std::string withoutComments(std::string_view text) {
    std::string clean;
    bool inComment = false;
    for (const char c : text) {
        if (c == '#') inComment = true;
        if (c == '\n') inComment = false;
        if (!inComment) clean += c;
    }
    return clean;
}

/// Address and value on each line, with or without a header.
bool isCsv(const std::vector<std::string_view>& lines) {
    std::size_t data = 0;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (std::count(lines[i].begin(), lines[i].end(), ',') != 1 ||
            lines[i].find_first_of(":=;{") != std::string_view::npos)
            return false;
        if (i > 0 ||
            (lowered(lines[0]).find("addr") == std::string::npos && lowered(lines[0]).find("reg") == std::string::npos))
            ++data;
    }
    return data > 1 || (data == 1 && lines.size() == 2);
}

Expected<void> csvRow(RawData& data, std::string_view line, const std::string& where) {
    const auto fields = split(line, ",");
    if (fields.size() != 2)
        return fail(ErrorCode::Syntax, where, "“" + std::string(line) + "”", "an address and a value");
    auto block = keyed(fields[0], where);
    if (!block) return tl::unexpected(block.error());
    if (const auto filled = fill(*block, fields[1], where); !filled) return filled;
    data.add(*block);
    return {};
}

Expected<void> readPiece(RawData& data, std::string_view piece, const std::string& where) {
    const std::size_t at = piece.find_first_of(":=");
    RawBlock block;
    if (at != std::string_view::npos) {
        auto key = keyed(trimmed(piece.substr(0, at)), where);
        if (!key) return tl::unexpected(key.error());
        block = std::move(*key);
        piece.remove_prefix(at + 1);
    }
    // "F4=27 F5=A0": several on one line.
    if (const std::size_t next = piece.find_first_of(":=");
        next != std::string_view::npos && at != std::string_view::npos) {
        const std::size_t blank = piece.find_last_of(" \t,", next);
        if (blank == std::string_view::npos)
            return fail(ErrorCode::Syntax, where, "“" + std::string(piece) + "”", "bytes before the next address");
        if (const auto filled = fill(block, piece.substr(0, blank), where); !filled) return filled;
        data.add(block);
        return readPiece(data, trimmed(piece.substr(blank + 1)), where);
    }
    if (const auto filled = fill(block, piece, where); !filled) return filled;
    if (block.bytes.empty()) return fail(ErrorCode::Missing, where, "no bytes", "pairs of hexadecimal digits");
    data.add(block);
    return {};
}

}  // namespace

Expected<RawData> readDump(std::string_view text) {
    const std::string clean = withoutComments(text);
    if (const auto apart = registersApart(trimmed(clean))) return RawData({*apart});
    const auto lines = split(clean, "\n\r");
    RawData data;
    const bool csv = isCsv(lines);
    std::size_t columns = 0;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const std::string where = lines.size() > 1 ? fmt::format("line {}", i + 1) : std::string("bytes");
        if (const std::size_t found = csv ? 0 : headerColumns(lines[i]);
            found > 0 && lines.size() > i + 1 && lines[i + 1].find(':') != std::string_view::npos) {
            columns = found;
            continue;
        }
        if (csv && i == 0)
            if (const auto fields = split(lines[0], ","); !fields.empty() && !hexBytes(fields.front()))
                continue;  // a header
        Expected<void> read;
        if (columns > 0)
            read = tableRow(data, lines[i], columns, where);
        else if (csv)
            read = csvRow(data, lines[i], where);
        else
            for (const std::string_view piece : split(lines[i], ";"))
                if (read = readPiece(data, piece, where); !read) break;
        if (!read) return tl::unexpected(read.error());
        std::size_t total = 0;
        for (const RawBlock& block : data.blocks()) total += block.bytes.size();
        if (total > kMostBytes) return fail(ErrorCode::Range, where, "more than 65 536 bytes", "a dump of one device");
    }
    if (data.blocks().empty()) return fail(ErrorCode::Missing, "bytes", "nothing", "bytes in hexadecimal");
    // Bytes over several lines without any address are one block.
    const bool allPlain = std::all_of(data.blocks().begin(), data.blocks().end(),
                                      [](const RawBlock& b) { return b.name.empty() && !b.address && !b.isNumber; });
    if (allPlain && data.blocks().size() > 1) {
        RawBlock joined;
        for (const RawBlock& block : data.blocks())
            joined.bytes.insert(joined.bytes.end(), block.bytes.begin(), block.bytes.end());
        return RawData({joined});
    }
    return data;
}

}  // namespace fg
