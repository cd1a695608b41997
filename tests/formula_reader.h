#pragma once

// Reads a printed formula back: units taken off, signs as a calculator has them, then the expression library.

#include "formula/trace_line.h"

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <muParser.h>
#include <cmath>
#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace fg::test {

class FormulaReader {
  public:
    /// Values of the names in the formula, and functions that are printed by name alone: E_K(x).
    std::map<std::string, double> values;
    std::map<std::string, std::function<double(double)>> functions;

    [[nodiscard]] double read(const std::string& text, int moved = -1) const {
        mu::Parser parser;
        parser.DefineFun("floor", [](double x) { return std::floor(x); });
        parser.DefineFun("round", [](double x) { return std::floor(x + 0.5); });
        parser.DefineFun("trunc", [](double x) { return std::trunc(x); });
        parser.DefineOprtChars("+-*/^<>=");
        parser.DefineOprt(
            ">>", [](double x, double bits) { return std::floor(std::ldexp(x, -static_cast<int>(bits))); }, mu::prCMP);
        parser.DefineOprt(
            "<<", [](double x, double bits) { return std::ldexp(x, static_cast<int>(bits)); }, mu::prCMP);
        for (const int bits : {32, 64})
            parser.DefineFun(bits == 32 ? "wrap32" : "wrap64", bits == 32 ? wrapped<32> : wrapped<64>);
        s_functions = &functions;
        parser.DefineFun("call", [](double which, double x) {
            return std::next(s_functions->begin(), static_cast<std::ptrdiff_t>(which))->second(x);
        });
        parser.SetExpr(plain(text, moved));
        return parser.Eval();
    }

    /// How far the result may be off because every number is printed to eight digits.
    [[nodiscard]] double reach(const std::string& text) const {
        const double middle = read(text);
        int count = 0;
        (void)plain(text, -1, &count);
        double sum = 0;
        for (int i = 0; i < count; ++i)
            if (const double off = std::abs(read(text, i) - middle); std::isfinite(off)) sum += off;
        return sum;
    }

    /// The text as a calculator has it; the number `moved` half a unit of its eighth digit further.
    [[nodiscard]] std::string plain(std::string_view text, int moved = -1, int* count = nullptr) const {
        std::string out;
        int numbers = 0;
        while (!text.empty()) {
            if (take(text, "×"))
                out += "*";
            else if (take(text, "−"))
                out += "-";
            else if (take(text, "√"))
                out += "sqrt";
            else if (take(text, "½"))
                out += "0.5";
            else if (std::isdigit(static_cast<unsigned char>(text[0])))
                out += number(text, numbers++ == moved);
            else if (isLetter(text[0]))
                out += name(text);
            else {
                out += text[0];
                text.remove_prefix(1);
            }
        }
        if (count) *count = numbers;
        return out;
    }

    /// A formula over integers: its numbers are printed in full.
    [[nodiscard]] static bool isOfIntegers(const std::string& text) {
        return text.find(">>") != std::string::npos || text.find("<<") != std::string::npos ||
               text.find("trunc(") != std::string::npos || text.find("wrap") != std::string::npos;
    }

  private:
    template <int Bits>
    static double wrapped(double x) {
        return x - std::ldexp(std::floor(std::ldexp(x, -Bits) + 0.5), Bits);
    }
    static inline const std::map<std::string, std::function<double(double)>>* s_functions = nullptr;

    static bool take(std::string_view& text, std::string_view what) {
        if (!text.starts_with(what)) return false;
        text.remove_prefix(what.size());
        return true;
    }
    static bool isLetter(char c) {  // and the Greek ones, two bytes beginning with 0xCE or 0xCF
        return std::isalpha(static_cast<unsigned char>(c)) || c == '\xCE' || c == '\xCF';
    }

    static std::string number(std::string_view& text, bool isMoved) {
        std::size_t size = 0;
        if (text.starts_with("0x")) {
            size = text.find_first_not_of("0123456789abcdefABCDEF", 2);
        } else {
            size = text.find_first_not_of("0123456789.");
            if (size != std::string_view::npos && text[size] == 'e') {
                size += text[size + 1] == '-' || text[size + 1] == '+' ? 2 : 1;
                size = text.find_first_not_of("0123456789", size);
            }
        }
        size = std::min(size, text.size());
        std::string digits(text.substr(0, size));
        text.remove_prefix(size);
        if (isMoved) digits = "(" + digits + "*1.00000005)";
        std::string_view rest = text;
        if (!take(rest, " ")) return digits;
        // The longest unit that fits; every one that a formula may print.
        static const std::vector<std::pair<std::string, double>> units = [] {
            std::vector<std::pair<std::string, double>> all{{"1/K²", 1},  {"1/K", 1}, {"V/°C²", 1}, {"1/°C", 1},
                                                            {"1/%RH", 1}, {"W/K", 1}, {"V/V", 1},   {"K", 1}};
            const std::vector<std::string> measurands{"°C", "%RH", "Pa", "lx"},
                signals{"V", "A", "Ω", "F", "Hz", "s", "1"};
            for (const std::string& signal : signals)
                for (const std::string& measurand : measurands) all.push_back({signal + "/" + measurand, 1});
            const std::vector<std::pair<std::string, double>> prefixes{{"", 1},     {"p", 1e-12}, {"n", 1e-9},
                                                                       {"µ", 1e-6}, {"m", 1e-3},  {"k", 1e3},
                                                                       {"M", 1e6},  {"G", 1e9}};
            for (const auto& [prefix, scale] : prefixes)
                for (const std::string unit : {"V", "A", "Ω", "F", "Hz", "s", "Pa", "lx", "W"})
                    all.push_back({prefix + unit, scale});
            for (const std::string& measurand : measurands) all.push_back({measurand, 1});
            std::sort(all.begin(), all.end(),
                      [](const auto& a, const auto& b) { return a.first.size() > b.first.size(); });
            return all;
        }();
        for (const auto& [unit, scale] : units) {
            std::string_view behind = rest;
            if (!take(behind, unit) || (!behind.empty() && isLetter(behind[0]))) continue;
            text = behind;
            return "(" + digits + (scale == 1 ? "" : "*1e" + std::to_string(std::lround(std::log10(scale)))) + ")";
        }
        return digits;
    }

    std::string name(std::string_view& text) const {
        std::size_t size = 0;
        while (size < text.size() && (isLetter(text[size]) || std::isdigit(static_cast<unsigned char>(text[size])) ||
                                      text[size] == '_' || static_cast<unsigned char>(text[size]) >= 0x80)) {
            // The minus, the times and the root are no letters.
            if (text.substr(size).starts_with("−") || text.substr(size).starts_with("×") ||
                text.substr(size).starts_with("√"))
                break;
            ++size;
        }
        const std::string word(text.substr(0, size));
        text.remove_prefix(size);
        if (const auto function = functions.find(word); function != functions.end() && text.starts_with("(")) {
            text.remove_prefix(1);
            return "call(" + std::to_string(std::distance(functions.begin(), function)) + ", ";
        }
        if (const auto it = values.find(word); it != values.end()) {
            return fmt::format("({:.17g})", it->second);  // a point, whatever the locale
        }
        return word;
    }
};

/// The line's text, with numbers or with names, read as a calculator reads it.
inline void expectReadsBack(FormulaReader& reader, const std::string& text, const TraceLine& line,
                            const std::string& where) {
    // Integers are printed in full; a double, which the reader counts with, holds those below 2^53.
    const bool isOfIntegers = FormulaReader::isOfIntegers(text);
    double digit = !isOfIntegers                ? 1e-9 * std::abs(line.value) + 1e-15
                   : std::abs(line.value) < 1e6 ? 0.01
                                                : 2 + 1e-12 * std::abs(line.value);
    const std::string at =
        where + ": " + line.name + " = " + text + " = " + std::to_string(line.value) + " [" + reader.plain(text) + "]";
    try {
        if (!text.starts_with("solve ")) {
            if (!isOfIntegers) digit += reader.reach(text);
            EXPECT_NEAR(reader.read(text), line.value, digit) << at;
            return;
        }
        // The equation holds between a digit below and a digit above the value.
        const std::size_t equals = text.find(" = ");
        const double right = reader.read(text.substr(equals + 3));
        digit = 1e-7 * std::abs(line.value) + 1e-9;
        const auto off = [&](double x) {
            const auto before = reader.values;
            reader.values[line.name] = x;
            const double left = reader.read(text.substr(6, equals - 6));
            reader.values = before;
            return left - right;
        };
        const double slope = (off(line.value + digit) - off(line.value - digit)) / (2 * digit);
        digit += reader.reach(text.substr(equals + 3)) / std::abs(slope);
        EXPECT_LE(off(line.value - digit) * off(line.value + digit), 0) << at;
    } catch (const mu::Parser::exception_type& error) {
        ADD_FAILURE() << at << ": " << error.GetMsg();
    }
}

}  // namespace fg::test
