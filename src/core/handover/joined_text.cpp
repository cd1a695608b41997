#include "handover/joined_text.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// Bits of one byte, moved together.
struct JoinTerm {
    std::size_t block, byte;
    int shift;
    bool isNegative;
    int mask;
};

std::vector<JoinTerm> termsOf(const JoinedInput& input, double step) {
    std::vector<JoinTerm> terms;
    for (const InputBit& bit : input.bits) {
        const int shift = static_cast<int>(std::lround(std::log2(std::abs(bit.weight) / step))) - bit.bit;
        const bool isNegative = bit.weight < 0;
        const auto known = std::find_if(terms.begin(), terms.end(), [&](const JoinTerm& one) {
            return one.block == bit.block && one.byte == bit.byte && one.shift == shift && one.isNegative == isNegative;
        });
        if (known != terms.end())
            known->mask |= 1 << bit.bit;
        else
            terms.push_back({bit.block, bit.byte, shift, isNegative, 1 << bit.bit});
    }
    return terms;
}

}  // namespace

std::string joinedLine(const JoinedInput& input, bool isWhole, const std::string& name,
                       const std::vector<std::string>& blocks, CodeLanguage language, CodeReal real) {
    const bool isC = language == CodeLanguage::C;
    // What one step of the number is worth; an integer keeps its own.
    double step = isWhole || input.bits.empty() ? 1 : HUGE_VAL, most = std::abs(input.rest);
    for (const InputBit& bit : input.bits) {
        if (!isWhole) step = std::min(step, std::abs(bit.weight));
        most += std::abs(bit.weight);
    }
    constexpr double kMost32 = 2147483647.0;
    const std::string wide = most / step < kMost32 ? "int32_t" : "int64_t";
    std::string sum;
    for (const JoinTerm& term : termsOf(input, step)) {
        const std::string byte = fmt::format("{}[{}]", blocks[term.block], term.byte);
        std::string text = term.mask == 0xFF ? byte : fmt::format("({} & 0x{:02X})", byte, term.mask);
        if (isC) text = fmt::format("({}){}", wide, text);
        if (term.shift > 0) text = fmt::format("({} << {})", text, term.shift);
        if (term.shift < 0) text = fmt::format("({} >> {})", text, -term.shift);
        sum += sum.empty() ? (term.isNegative ? "-" : "") + text : (term.isNegative ? " - " : " + ") + text;
    }
    if (sum.empty()) sum = "0";
    // What rests is a whole multiple of the step, left by bits that are always the same.
    const auto rest = static_cast<std::int64_t>(std::llround(input.rest / step));
    if (rest != 0) sum += rest < 0 ? fmt::format(" - {}", -rest) : fmt::format(" + {}", rest);
    const std::string factor = step == 1 ? "" : " * " + realText(step, language, real);
    if (!isC) return fmt::format("    {} = {}{}\n", name, factor.empty() ? sum : "(" + sum + ")", factor);
    if (isWhole) return fmt::format("    const {} {} = {};\n", wide, name, sum);
    const char* type = real == CodeReal::Float ? "float" : "double";
    return fmt::format("    const {0} {1} = ({0})({2}){3};\n", type, name, sum, factor);
}

}  // namespace fg
