// The part of the writer that deals with integers: operations of a stated width, and bounds on whole numbers.

#include "handover/formula_writer.h"

#include <fmt/format.h>
#include <cmath>

namespace fg {

FormulaText FormulaWriter::writeWhole(const WholeTail& tail) {
    m_isWhole = true;
    m_indent = "    ";
    refuseTail(m_code.root());
    const Piece result = pieceOf(tail.node());
    const bool isName = result.binding == kTight && identifierOf(result.text) == result.text;
    m_text.result = isName ? result.text : named(tail.node(), "whole", result.text, "").text;
    m_text.body = std::move(m_out);
    return std::move(m_text);
}

/// What the steps from a whole number to the reading refuse, as lines before the number is used.
void FormulaWriter::refuseTail(std::int32_t index) {
    const Node& node = m_code.at(index);
    if (node.bits != 0) return;
    if (node.op == Op::Refuse) refuseUnless(node);
    for (const std::size_t k : {0U, 1U})
        if (node.operands[k] >= 0 && !(node.op == Op::Refuse && k == 1)) refuseTail(node.operands[k]);
}

std::string FormulaWriter::wholeInside(std::int32_t index, int needed) {
    const Piece piece = pieceOf(index);
    return piece.binding < needed ? "(" + piece.text + ")" : piece.text;
}

/// A signed integer of Python cut to its width.
std::string FormulaWriter::wrapped(const std::string& text, int bits) {
    if (m_helpers.insert("signed").second)
        m_text.functions +=
            "\ndef fg_signed(x, bits):  # two's complement\n    x &= (1 << bits) - 1\n"
            "    return x - (1 << bits) if x >> (bits - 1) else x\n\n";
    return fmt::format("fg_signed({}, {})", text, bits);
}

/// Integers of stated width: cast back after every operation, so that no compiler's int decides.
FormulaWriter::Piece FormulaWriter::wholeOperation(std::int32_t index, const Node& node) {
    const std::int32_t a = node.operands[0], b = node.operands[1];
    const std::string type = typeOf(node);
    const auto made = [&](const std::string& text, int binding) {
        if (isC()) return Piece{fmt::format("({})({})", type, text), kMinus};
        // Python's integers have no width: an unsigned one wraps by hand.
        return node.bits < 0 ? Piece{fmt::format("(({}) & 0x{:X})", text, (std::uint64_t{1} << -node.bits) - 1), kTight}
                             : Piece{text, binding};
    };
    const auto two = [&] {
        const Infix is = infixOf(node.op);
        std::string first = wholeInside(a, is.left), second = wholeInside(b, is.right);
        // Numbers that were read and constants stand there as narrow as they are: C would count them in an int.
        const auto isNarrow = [&](std::int32_t side) {
            while (m_code.at(side).op == Op::Refuse) side = m_code.at(side).operands[0];
            return m_code.at(side).op == Op::Input || m_code.at(side).op == Op::Constant;
        };
        constexpr int kWide = 64;
        if (isC() && node.bits == kWide && isNarrow(a) && isNarrow(b)) first = fmt::format("({}){}", type, first);
        if (m_isWrapping && node.bits > 0 && node.op != Op::Divide) {
            if (!isC()) return Piece{wrapped(fmt::format("{} {} {}", first, is.sign, second), node.bits), kTight};
            for (std::string* side : {&first, &second}) *side = fmt::format("(u{})({})", type, *side);
        }
        const std::string text = fmt::format("{} {} {}", first, is.sign, second);
        // Where one side has the width, the whole has it.
        const auto isFull = [&](std::int32_t side) { return !isNarrow(side) && m_code.at(side).bits == node.bits; };
        constexpr int kInt = 32;
        const bool isOfWidth = !m_isWrapping && node.bits >= kInt && (isFull(a) || isFull(b));
        return isOfWidth ? Piece{text, is.binding} : made(text, is.binding);
    };
    switch (node.op) {
        case Op::Add:
        case Op::Subtract:
        case Op::Multiply:
            return two();
        case Op::Divide:
            // A routine looks before it divides; where it does so is not recorded. Among real numbers Python's division
            // itself tells.
            if (m_code.at(b).op != Op::Constant && (isC() || m_isWhole)) {
                const Piece by = pieceOf(b);
                const std::string name =
                    identifierOf(by.text) == by.text ? by.text : named(b, "divisor", by.text, "").text;
                line(isC() ? fmt::format("if ({} == 0) {}", name, m_isNested ? "return NAN;" : "return FG_NO_VALUE;")
                           : fmt::format("if {} == 0: return (FG_NO_VALUE, None)", name));
            }
            if (isC()) return two();
            if (m_helpers.insert("divide").second)
                m_text.functions +=
                    "\ndef fg_divide(a, b):  # cut towards 0\n    q = abs(a) // abs(b)\n"
                    "    return q if (a < 0) == (b < 0) else -q\n\n";
            return {fmt::format("fg_divide({}, {})", pieceOf(a).text, pieceOf(b).text), kTight};
        case Op::ShiftLeft: {
            // A product means the same, and is defined for negative numbers too. A long may have 32 bits.
            const std::string left = wholeInside(a, isC() ? kTimes : kTight), count = wholeInside(b, kTight);
            if (isC()) return made(fmt::format("{} * (({})1 << {})", left, type, count), kTimes);
            return {fmt::format("({} << {})", left, count), kTight};
        }
        case Op::ShiftRight: {
            if (!isC()) {
                const std::string left = wholeInside(a, kTight);
                return {fmt::format("({} >> {})", left, wholeInside(b, kTight)), kTight};
            }
            const std::string value = pieceOf(a).text, count = wholeInside(b, kTight);
            if (node.bits < 0) return made(fmt::format("({}) >> {}", value, count), kLoose);
            const std::string helper = fmt::format("fg_shift{}", static_cast<int>(node.bits));
            const bool isNarrow = node.bits < 32;  // what C computes in int
            if (m_helpers.insert(helper).second)
                m_text.functions += fmt::format(
                    "/* Divided by 2^bits and rounded down, whatever the compiler does with negative numbers. */\n"
                    "static {0} {1}({0} value, int bits)\n{{\n    return {2}value >= 0 ? value >> bits : -1 - ((-1 - "
                    "value) >> bits){3};\n}}\n\n",
                    type, helper, isNarrow ? fmt::format("({})(", type) : "", isNarrow ? ")" : "");
            const bool isNumber = m_code.at(b).op == Op::Constant;
            return {fmt::format("{}({}, {}{})", helper, value, isNumber ? "" : "(int)", count), kTight};
        }
        case Op::Select:
            return branchOf(index, node);
        case Op::Refuse:
            refuseUnless(node);
            return pieceOf(a);
        case Op::Convert: {
            const std::string text = pieceOf(a).text;
            if (isC() || node.bits < 0) return made(text, kLoose);
            return {wrapped(text, node.bits), kTight};
        }
        default:
            return pieceOf(index);
    }
}

std::optional<FormulaWriter::Piece> FormulaWriter::boundOf(std::int32_t whole, const char* sign, double bound) {
    constexpr double kExact = 9007199254740992.0;
    // C would turn a negative bound of an unsigned number into a large one.
    if (!(std::abs(bound) < kExact) || (isC() && m_code.at(whole).bits < 0 && bound < 0)) return std::nullopt;
    const bool isUnsigned = m_code.at(whole).bits < 0;
    return Piece{fmt::format("{} {} {}", wholeInside(whole, kPlus), sign,
                             wholeText(static_cast<std::int64_t>(bound), m_language, isUnsigned)),
                 kCompare};
}

/// Whole numbers are compared as what they are: a float would round them, and tell two apart that are not, or not two
/// that are.
FormulaWriter::Piece FormulaWriter::comparisonOf(const Node& node) {
    const std::int32_t a = node.operands[0], b = node.operands[1];
    const Node &left = m_code.at(a), &right = m_code.at(b);
    const bool isLess = node.op == Op::Less, isDiffering = node.op == Op::Differs;
    const char* sign = isLess ? "<" : isDiffering ? "!=" : "<=";
    const auto two = [&](const std::string& first, const std::string& second) {
        return Piece{fmt::format("{} {} {}", first, sign, second), kCompare};
    };
    if (left.bits != 0 && right.bits != 0) {
        const bool isMixed = isC() && (left.bits < 0) != (right.bits < 0);
        const std::string cast = isMixed ? "(int64_t)" : "";
        const int needed = isMixed ? kTight : kPlus;
        const std::string first = wholeInside(a, needed), second = wholeInside(b, needed);
        return two(cast + first, cast + second);
    }
    const auto isNumber = [](const Node& side) { return side.bits == 0 && side.op == Op::Constant; };
    if (isNumber(left) != isNumber(right)) {
        // The number to the right: "c <= x" is "x >= c".
        const bool isTurned = isNumber(left);
        const std::int32_t side = isTurned ? b : a;
        const double bound = (isTurned ? left : right).value;
        const auto tail = m_code.at(side).bits != 0 || m_isWhole ? WholeTail::of(m_code, side) : std::nullopt;
        std::optional<Piece> whole;
        if (tail && m_code.at(side).bits != 0) {
            const double below = std::floor(bound), above = std::ceil(bound);
            if (isDiffering && below == bound)
                whole = boundOf(side, "!=", bound);
            else if (!isDiffering && isTurned)
                whole = isLess ? boundOf(side, ">", below) : boundOf(side, ">=", above);
            else if (!isDiffering)
                whole = isLess ? boundOf(side, "<", above) : boundOf(side, "<=", below);
        } else if (tail && !isDiffering && tail->isRising()) {
            // "c <= x" holds from the first number on that is past c; "x <= c" before the first that is beyond it.
            const bool rises = *tail->isRising();
            const bool isFrom = isTurned == rises;
            const std::int64_t first = tail->firstPast(bound, isTurned == rises ? isLess : !isLess);
            whole = isFrom ? boundOf(tail->node(), ">=", static_cast<double>(first))
                           : boundOf(tail->node(), "<=", static_cast<double>(first - 1));
        }
        if (whole) return *whole;
    }
    if (m_isWhole) m_text.hasReal = true;
    const std::string first = inside(a, kPlus), second = inside(b, kPlus);
    return two(first, second);
}

}  // namespace fg
