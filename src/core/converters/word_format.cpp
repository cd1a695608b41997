#include "converters/word_format.h"

#include "units/number_format.h"
#include "units/value_text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <vector>

namespace fg {
namespace {

constexpr std::array<std::string_view, 3> kNames{"right-justified", "left-justified", "scaled-up"};

std::vector<std::string> piecesOf(std::string_view text) {
    std::vector<std::string> pieces;
    std::string piece;
    for (const char c : std::string(text) + " ") {
        const bool separates = c == ' ' || c == ',' || c == ';' || c == '\t';
        if (!separates) piece += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        if (!separates || piece.empty()) continue;
        pieces.push_back(piece);
        piece.clear();
    }
    return pieces;
}

Expected<double> readByte(const std::string& text) {
    const auto value = readValue(text, Quantity::Count);
    if (!value) return tl::unexpected(value.error());
    if (value->canonical < 0 || value->canonical > 255 || value->canonical != std::floor(value->canonical))
        return fail(ErrorCode::Range, "", "“" + text + "”", "one register, a byte of 0 to 255");
    return value->canonical;
}

}  // namespace

std::string_view wordFormatName(WordFormat format) { return kNames[static_cast<std::size_t>(format)]; }

Expected<WordFormat> wordFormatFromName(std::string_view name) {
    for (std::size_t i = 0; i < kNames.size(); ++i)
        if (kNames[i] == name) return static_cast<WordFormat>(i);
    return fail(ErrorCode::Unknown, "converter.word", "“" + std::string(name) + "”",
                "“right-justified”, “left-justified” or “scaled-up”");
}

std::uint32_t repeatedBits(std::uint32_t code, int bits) {
    std::uint32_t word = 0;
    for (int shift = 16 - bits; shift > -bits; shift -= bits) word |= shift >= 0 ? code << shift : code >> -shift;
    return word;
}

std::optional<std::uint32_t> spreadCode(std::uint32_t word, int bits) {
    const int shift = 16 - bits;
    const std::uint32_t code = word >> shift, most = (std::uint32_t{1} << bits) - 1;
    const std::uint64_t scaled = std::uint64_t{code} * 65535;
    const bool fits = word == repeatedBits(code, bits) || word == code << shift || word == scaled / most ||
                      word == (scaled + most / 2) / most;
    return fits ? std::optional(code) : std::nullopt;
}

void WordWidth::take(std::uint32_t word) {
    if (m_seen.size() < kEnough) m_seen.insert(word);
    for (int i = 0; i < 7; ++i)
        if (!spreadCode(word & 0xFFFF, 8 + i)) m_possible &= ~(1u << i);
}

std::optional<int> WordWidth::fewerBits() const {
    if (m_seen.size() < kEnough) return std::nullopt;
    for (int i = 0; i < 7; ++i)
        if (m_possible >> i & 1) return 8 + i;
    return std::nullopt;
}

int registerBits(int codeBits) { return codeBits <= 8 ? 8 : (codeBits <= 16 ? 16 : (codeBits <= 24 ? 24 : 32)); }

Expected<double> readRawWord(std::string_view text) {
    std::vector<std::string> pieces = piecesOf(text);
    // A decimal comma splits what is one number; two registers are never written with a single comma and no space.
    const bool isOneNumber = pieces.size() == 2 && text.find_first_of(" ;=\t") == std::string_view::npos;
    if (pieces.size() != 2 || isOneNumber) {
        const auto value = readValue(text, Quantity::Count);
        if (!value) return tl::unexpected(value.error());
        return value->canonical;
    }
    // "03 FF": letters in one make both hexadecimal, as registers are printed.
    const auto hasLetters = [](const std::string& piece) {
        return piece.size() <= 2 && piece.find_first_of("abcdef") != std::string::npos &&
               piece.find_first_not_of("0123456789abcdef") == std::string::npos;
    };
    if ((hasLetters(pieces[0]) || hasLetters(pieces[1])) && pieces[0].size() <= 2 && pieces[1].size() <= 2)
        for (std::string& piece : pieces) piece = "0x" + piece;
    std::array<std::optional<double>, 2> bytes;  // high, low
    for (std::size_t i = 0; i < 2; ++i) {
        std::string piece = pieces[i];
        std::size_t place = i;
        if (const std::size_t equals = piece.find_first_of("=:"); equals != std::string::npos) {
            const std::string name = piece.substr(0, equals);
            if (name == "high" || name == "h" || name == "hi" || name == "msb")
                place = 0;
            else if (name == "low" || name == "l" || name == "lo" || name == "lsb")
                place = 1;
            else
                return fail(ErrorCode::Unknown, "", "“" + name + "”", "high or low before a register's value");
            piece = piece.substr(equals + 1);
        }
        const auto byte = readByte(piece);
        if (!byte) return tl::unexpected(byte.error());
        if (bytes[place])
            return fail(ErrorCode::Syntax, "", "“" + std::string(text) + "”", "one high and one low register");
        bytes[place] = *byte;
    }
    return *bytes[0] * 256 + *bytes[1];
}

}  // namespace fg
