#include "handover/code_text.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace fg {
namespace {

struct Spelling {
    std::string_view letter, spelled;
};
constexpr std::array kSpellings{
    Spelling{"ä", "ae"},    Spelling{"ö", "oe"},    Spelling{"ü", "ue"},     Spelling{"Ä", "Ae"},
    Spelling{"Ö", "Oe"},    Spelling{"Ü", "Ue"},    Spelling{"ß", "ss"},     Spelling{"é", "e"},
    Spelling{"è", "e"},     Spelling{"ê", "e"},     Spelling{"á", "a"},      Spelling{"à", "a"},
    Spelling{"ó", "o"},     Spelling{"ñ", "n"},     Spelling{"ç", "c"},      Spelling{"å", "a"},
    Spelling{"ø", "o"},     Spelling{"Ω", "ohm"},   Spelling{"α", "alpha"},  Spelling{"β", "beta"},
    Spelling{"γ", "gamma"}, Spelling{"δ", "delta"}, Spelling{"Δ", "delta_"}, Spelling{"θ", "theta"},
    Spelling{"ϑ", "theta"}, Spelling{"η", "eta"},   Spelling{"λ", "lambda"}, Spelling{"µ", "u"},
    Spelling{"μ", "u"},     Spelling{"π", "pi"},    Spelling{"ρ", "rho"},    Spelling{"σ", "sigma"},
    Spelling{"τ", "tau"},   Spelling{"φ", "phi"},   Spelling{"₀", "0"},      Spelling{"₁", "1"},
    Spelling{"₂", "2"},     Spelling{"₃", "3"},     Spelling{"′", "_"},      Spelling{"°", "deg"},
    Spelling{"½", "half"}};

/// Words that mean something in C or Python, or in what the written files bring.
const std::set<std::string>& reserved() {
    static const std::set<std::string> kWords{
        "auto",     "break",  "case",     "char",   "const",   "continue", "default", "do",     "double",   "else",
        "enum",     "extern", "float",    "for",    "goto",    "if",       "inline",  "int",    "long",     "register",
        "restrict", "return", "short",    "signed", "sizeof",  "static",   "struct",  "switch", "typedef",  "union",
        "unsigned", "void",   "volatile", "while",  "and",     "as",       "assert",  "async",  "await",    "class",
        "def",      "del",    "elif",     "except", "finally", "from",     "global",  "import", "in",       "is",
        "lambda",   "not",    "or",       "pass",   "raise",   "try",      "with",    "yield",  "None",     "True",
        "False",    "math",   "main",     "exp",    "log",     "pow",      "sqrt",    "floor",  "nonlocal", "nan",
        "bool",     "true",   "false",    "gamma",  "y0",      "y1",       "yn",      "j0",     "j1",       "jn",
        "round",    "time",   "print",    "index",  "div",     "abs",      "signal",  "min",    "max",      "value",
        "raw",      "word",   "asm",      "NULL",   "errno",   "code"};
    return kWords;
}

}  // namespace

std::string identifierOf(std::string_view text) {
    std::string id;
    for (std::size_t i = 0; i < text.size();) {
        const auto byte = static_cast<unsigned char>(text[i]);
        if (byte < 0x80) {
            const bool isWord =
                (byte >= '0' && byte <= '9') || (byte >= 'a' && byte <= 'z') || (byte >= 'A' && byte <= 'Z');
            id += isWord ? static_cast<char>(byte) : '_';
            ++i;
            continue;
        }
        const auto spelled = std::find_if(kSpellings.begin(), kSpellings.end(),
                                          [&](const Spelling& one) { return text.substr(i).starts_with(one.letter); });
        if (spelled != kSpellings.end()) {
            id += spelled->spelled;
            i += spelled->letter.size();
            continue;
        }
        id += '_';
        for (++i; i < text.size() && (static_cast<unsigned char>(text[i]) & 0xC0U) == 0x80; ++i) {
        }
    }
    // No two underscores in a row, none at either end: those belong to the compiler.
    std::string tidy;
    for (const char c : id)
        if (c != '_' || (!tidy.empty() && tidy.back() != '_')) tidy += c;
    constexpr std::size_t kLongest = 40;
    if (tidy.size() > kLongest) tidy.resize(kLongest);
    while (!tidy.empty() && tidy.back() == '_') tidy.pop_back();
    if (tidy.empty()) tidy = "gauge";
    if (tidy.front() >= '0' && tidy.front() <= '9') tidy = "n" + tidy;
    return reserved().contains(tidy) ? tidy + "_" : tidy;
}

std::string Identifiers::fresh(std::string_view text) { return freshExact(identifierOf(text)); }

std::string Identifiers::freshExact(const std::string& identifier) {
    std::string name = identifier;
    for (int number = 2; !m_taken.insert(name).second; ++number) name = fmt::format("{}_{}", identifier, number);
    return name;
}

std::string commentText(std::string_view text) {
    std::string line;
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        line += byte < 0x20 || byte == 0x7F ? ' ' : c;
        // Neither the end of a comment, nor one inside another, nor a line that goes on.
        if (line.ends_with("*/")) line.insert(line.size() - 1, " ");
        if (line.ends_with("/*")) line.insert(line.size() - 1, " ");
        if (line.ends_with("??")) line.insert(line.size() - 1, " ");
    }
    while (!line.empty() && (line.back() == '\\' || line.back() == ' ')) line.pop_back();
    return line;
}

std::string realText(double value, CodeLanguage language, CodeReal real) {
    if (std::isinf(value)) {
        const char* infinite = language == CodeLanguage::C ? "INFINITY" : "float('inf')";
        return (value < 0 ? "-" : "") + std::string(infinite);
    }
    const bool isFloat = real == CodeReal::Float;
    std::string text = isFloat ? fmt::format("{}", static_cast<float>(value)) : fmt::format("{}", value);
    if (text.find_first_of(".en") == std::string::npos) text += ".0";
    return language == CodeLanguage::C && isFloat ? text + "f" : text;
}

std::string wholeText(std::int64_t value, CodeLanguage language, bool isUnsigned) {
    if (language == CodeLanguage::MicroPython) return fmt::format("{}", value);
    if (isUnsigned) return value > 65535 ? fmt::format("UINT32_C({})", value) : fmt::format("{}u", value);
    constexpr std::int64_t kMost16 = 32767, kMost32 = 2147483647;
    if (value >= -kMost16 && value <= kMost16) return fmt::format("{}", value);
    if (value >= -kMost32 && value <= kMost32)
        return value < 0 ? fmt::format("-INT32_C({})", -value) : fmt::format("INT32_C({})", value);
    if (value == std::numeric_limits<std::int64_t>::min()) return "INT64_MIN";
    return value < 0 ? fmt::format("-INT64_C({})", -value) : fmt::format("INT64_C({})", value);
}

int integerBytes(std::int64_t low, std::int64_t high) {
    for (const int bytes : {1, 2, 4}) {
        const std::int64_t half = std::int64_t{1} << (8 * bytes - 1);
        if (low >= 0 ? high < 2 * half : (low >= -half && high < half)) return bytes;
    }
    return 8;
}

std::string integerType(std::int64_t low, std::int64_t high) {
    return fmt::format("{}int{}_t", low >= 0 ? "u" : "", 8 * integerBytes(low, high));
}

std::string listText(const std::vector<std::string>& numbers, const std::string& indent) {
    constexpr std::size_t kWidth = 76;
    std::string text, line = indent;
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        const std::string piece = numbers[i] + (i + 1 < numbers.size() ? "," : "");
        if (line.size() > indent.size() && line.size() + 1 + piece.size() > kWidth) {
            text += line + "\n";
            line = indent;
        }
        line += (line.size() > indent.size() ? " " : "") + piece;
    }
    return text + line + "\n";
}

}  // namespace fg
