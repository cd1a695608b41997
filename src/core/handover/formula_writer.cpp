#include "handover/formula_writer.h"

#include "devices/tracer.h"

#include <fmt/format.h>
#include <cmath>

namespace fg {
namespace {

/// How tightly a piece of text holds together, the same order in C and Python.
enum Tightness { kLoose = 0, kAnd = 1, kCompare = 2, kPlus = 3, kTimes = 4, kMinus = 5, kTight = 6 };

}  // namespace

FormulaWriter::FormulaWriter(const FormulaCode& code, CodeLanguage language, CodeReal real, std::string input,
                             Identifiers& names)
    : m_code(code), m_language(language), m_real(real), m_input(std::move(input)), m_names(names) {
    if (language == CodeLanguage::MicroPython) m_indent = "        ";
}

FormulaText FormulaWriter::write() {
    const Piece result = pieceOf(m_code.root());
    // The result has a name, since it is looked at before it is given.
    const bool isName = result.binding == kTight && identifierOf(result.text) == result.text;
    m_text.result = isName ? result.text : named(m_code.root(), "reading", result.text, "").text;
    m_text.body = std::move(m_out);
    return std::move(m_text);
}

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

void FormulaWriter::line(const std::string& text) { m_out += m_indent + text + "\n"; }

std::string FormulaWriter::function(std::string_view name) const {
    if (!isC()) return "math." + std::string(name);
    return std::string(name) + (m_real == CodeReal::Float ? "f" : "");
}

std::string FormulaWriter::parameterOf(const Node& node) {
    const auto key = std::pair(std::string(node.name), node.value);
    if (const auto known = m_parameters.find(key); known != m_parameters.end()) return known->second;
    const std::string name = m_names.fresh(node.name);
    const std::string unit = node.unit.empty() ? "" : commentText(node.unit);
    if (isC())
        m_text.constants += fmt::format("static const {} {} = {};{}\n", type(), name, literal(node.value),
                                        unit.empty() ? "" : " /* " + unit + " */");
    else
        m_text.constants += fmt::format("{} = {}{}\n", name, literal(node.value), unit.empty() ? "" : "  # " + unit);
    m_text.bytes += m_real == CodeReal::Float ? 4 : 8;
    return m_parameters[key] = name;
}

std::string FormulaWriter::typeOf(const Node& node) const {
    return node.bits == 0 ? type() : fmt::format("{}int{}_t", node.bits < 0 ? "u" : "", std::abs(node.bits));
}

FormulaWriter::Piece FormulaWriter::realOf(std::int32_t index) {
    const Piece piece = pieceOf(index);
    if (m_code.at(index).bits == 0 || !isC()) return piece;
    return {fmt::format("({}){}", type(), piece.binding < kTight ? "(" + piece.text + ")" : piece.text), kMinus};
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
    const auto two = [&](const char* sign, int left, int right, int binding) {
        std::string first = wholeInside(a, left), second = wholeInside(b, right);
        // Numbers that were read and constants stand there as narrow as they are: C would count them in an int.
        const auto isNarrow = [&](std::int32_t side) {
            return m_code.at(side).op == Op::Input || m_code.at(side).op == Op::Constant;
        };
        constexpr int kWide = 64;
        if (isC() && node.bits == kWide && isNarrow(a) && isNarrow(b)) first = fmt::format("({}){}", type, first);
        if (m_isWrapping && node.bits > 0 && node.op != Op::Divide) {
            if (!isC()) return Piece{wrapped(fmt::format("{} {} {}", first, sign, second), node.bits), kTight};
            for (std::string* side : {&first, &second}) *side = fmt::format("(u{})({})", type, *side);
        }
        return made(fmt::format("{} {} {}", first, sign, second), binding);
    };
    switch (node.op) {
        case Op::Add:
            return two("+", kPlus, kTimes, kPlus);
        case Op::Subtract:
            return two("-", kPlus, kTimes, kPlus);
        case Op::Multiply:
            return two("*", kTimes, kMinus, kTimes);
        case Op::Divide:
            // A routine looks before it divides; where it does so is not recorded.
            if (isC()) {
                if (m_code.at(b).op != Op::Constant)
                    line(fmt::format("if ({} == 0) {}", pieceOf(b).text,
                                     m_isNested ? "return NAN;" : "return FG_NO_VALUE;"));
                return two("/", kTimes, kMinus, kTimes);
            }
            // Among real numbers the division itself tells.
            if (m_isWhole && m_code.at(b).op != Op::Constant)
                line(fmt::format("if {} == 0: return (FG_NO_VALUE, None)", pieceOf(b).text));
            if (m_helpers.insert("divide").second)
                m_text.functions +=
                    "\ndef fg_divide(a, b):  # cut towards 0\n    q = abs(a) // abs(b)\n"
                    "    return q if (a < 0) == (b < 0) else -q\n\n";
            return {fmt::format("fg_divide({}, {})", pieceOf(a).text, pieceOf(b).text), kTight};
        case Op::ShiftLeft:
            // A product means the same, and is defined for negative numbers too.
            if (isC())
                return made(fmt::format("{} * ({})(1L << {})", wholeInside(a, kTimes), type, wholeInside(b, kTight)),
                            kTimes);
            return {fmt::format("({} << {})", wholeInside(a, kTight), wholeInside(b, kTight)), kTight};
        case Op::ShiftRight: {
            const std::string value = pieceOf(a).text, count = wholeInside(b, kTight);
            if (!isC()) return {fmt::format("({} >> {})", wholeInside(a, kTight), count), kTight};
            if (node.bits < 0) return made(fmt::format("({}) >> {}", value, count), kLoose);
            const std::string helper = fmt::format("fg_shift{}", static_cast<int>(node.bits));
            if (m_helpers.insert(helper).second)
                m_text.functions += fmt::format(
                    "/* Divided by 2^bits and rounded down, whatever the compiler does with negative numbers. */\n"
                    "static {0} {1}({0} value, int bits)\n{{\n    return value >= 0 ? value >> bits : -1 - ((-1 - "
                    "value) >> bits);\n}}\n\n",
                    type, helper);
            return {fmt::format("{}({}, (int){})", helper, value, count), kTight};
        }
        case Op::Select: {
            const std::string condition = pieceOf(node.operands[2]).text;
            const std::string first = pieceOf(a).text, second = pieceOf(b).text;
            return isC() ? made(fmt::format("({}) ? ({}) : ({})", condition, first, second), kLoose)
                         : Piece{fmt::format("({} if {} else {})", first, condition, second), kTight};
        }
        case Op::Convert: {
            const std::string text = pieceOf(a).text;
            if (isC() || node.bits < 0) return made(text, kLoose);
            return {wrapped(text, node.bits), kTight};
        }
        default:
            return pieceOf(index);
    }
}

std::string FormulaWriter::inside(std::int32_t index, int needed) {
    const Piece piece = realOf(index);
    return piece.binding < needed ? "(" + piece.text + ")" : piece.text;
}

FormulaWriter::Piece FormulaWriter::named(std::int32_t index, std::string_view name, const std::string& text,
                                          const std::string& remark) {
    const std::string id = m_names.fresh(name);
    if (isC())
        line(fmt::format("const {} {} = {};{}", typeOf(m_code.at(index)), id, text,
                         remark.empty() ? "" : " /* " + remark + " */"));
    else
        line(fmt::format("{} = {}{}", id, text, remark.empty() ? "" : "  # " + remark));
    m_scopes.back()[index] = id;
    return {id, kTight};
}

FormulaWriter::Piece FormulaWriter::pieceOf(std::int32_t index) {
    for (auto scope = m_scopes.rbegin(); scope != m_scopes.rend(); ++scope)
        if (const auto known = scope->find(index); known != scope->end()) return {known->second, kTight};
    const Node& node = m_code.at(index);
    switch (node.op) {
        case Op::Constant:
            if (node.bits != 0) return {wholeText(node.whole, m_language), node.whole < 0 ? kMinus : kTight};
            return {literal(node.value), node.value < 0 ? kMinus : kTight};
        case Op::Parameter:
            return {parameterOf(node), kTight};
        case Op::Input: {
            const auto known = m_inputNames.find(index);
            return {known == m_inputNames.end() ? m_input : known->second, kTight};
        }
        case Op::Unknown:
            return {m_unknown, kTight};
        case Op::Step:
        case Op::Aside: {
            const std::string text = (node.bits == 0 ? realOf(node.operands[0]) : pieceOf(node.operands[0])).text;
            std::string remark = commentText(node.unit == "1" ? "" : node.unit);
            if (!node.source.empty()) remark += (remark.empty() ? "" : "; ") + commentText(node.source);
            return named(index, node.name, text, remark);
        }
        default:
            break;
    }
    const bool isCondition = node.op == Op::Less || node.op == Op::Differs || node.op == Op::LessEqual ||
                             node.op == Op::And || node.op == Op::IsInfinite;
    if (m_isWhole && node.bits == 0 && !isCondition) m_text.hasReal = true;
    const Piece piece = node.bits != 0 ? wholeOperation(index, node) : operationOf(index, node);
    if (m_code.usesOf(index) < 2 || piece.binding == kTight || isCondition) return piece;
    return named(index, "part", piece.text, "");
}

FormulaWriter::Piece FormulaWriter::operationOf(std::int32_t index, const Node& node) {
    const std::int32_t a = node.operands[0], b = node.operands[1];
    const auto call = [&](std::string_view name) {
        return Piece{fmt::format("{}({})", function(name), realOf(a).text), kTight};
    };
    // The left side is written before the right one.
    const auto two = [&](const char* sign, int left, int right, int binding) {
        const std::string first = inside(a, left), second = inside(b, right);
        return Piece{fmt::format("{} {} {}", first, sign, second), binding};
    };
    const auto pair = [&](std::string_view c99, std::string_view python) {
        const std::string first = realOf(a).text, second = realOf(b).text;
        return Piece{fmt::format("{}({}, {})", isC() ? function(c99) : std::string(python), first, second), kTight};
    };
    switch (node.op) {
        case Op::Negate:
            return {"-" + inside(a, kTight), kMinus};
        case Op::Add:
            return two("+", kPlus, kTimes, kPlus);
        case Op::Subtract:
            return two("-", kPlus, kTimes, kPlus);
        case Op::Multiply:
            return two("*", kTimes, kMinus, kTimes);
        case Op::Divide:
            return two("/", kTimes, kMinus, kTimes);
        case Op::Power:
            return isC() ? pair("pow", "pow") : two("**", kTight, kTight, kTimes);
        case Op::Exp:
            return call("exp");
        case Op::Log:
            return call("log");
        case Op::Sqrt:
            return call("sqrt");
        case Op::Sinh:
            return call("sinh");
        case Op::Asinh:
            return call("asinh");
        case Op::Floor:
            return call("floor");
        case Op::Round:
            return {fmt::format("{}({} + {})", function("floor"), inside(a, kPlus), literal(0.5)), kTight};
        case Op::Min:
            return pair("fmin", "min");
        case Op::Max:
            return pair("fmax", "max");
        case Op::Less:
        case Op::LessEqual:
        case Op::Differs:
            return comparisonOf(node);
        case Op::And:
            return two(isC() ? "&&" : "and", kCompare, kCompare, kAnd);
        case Op::IsInfinite:
            return {fmt::format("{}({})", isC() ? "isinf" : "math.isinf", pieceOf(a).text), kTight};
        case Op::Select:
            return branchOf(node);
        case Op::Refuse:
            refuseUnless(node);
            return realOf(a);
        case Op::Solve:
            return solveOf(index, node);
        case Op::Call:
            return callOf(node);
        case Op::Table:
            return tableOf(node);
        default:
            return pieceOf(a);
    }
}

void FormulaWriter::refuseUnless(const Node& refusal) {
    const std::string condition = pieceOf(refusal.operands[2]).text;
    const std::string status = refusal.name == kNotReady ? "FG_BUSY" : "FG_NO_VALUE";
    const std::string back = isC() ? (m_isNested ? "return NAN;" : "return " + status + ";")
                                   : (m_isNested ? "return float('nan')" : "return (" + status + ", None)");
    line(isC() ? fmt::format("if (!({})) {}", condition, back) : fmt::format("if not ({}): {}", condition, back));
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

/// Both sides stand in blocks of their own, so that only the one that holds is computed.
FormulaWriter::Piece FormulaWriter::branchOf(const Node& node) {
    const auto [a, b, c] = node.operands;
    const std::string condition = pieceOf(c).text;
    const std::string outer = std::move(m_out);
    const std::string indent = m_indent;
    const auto side = [&](std::int32_t index) {
        m_out.clear();
        m_indent = indent + "    ";
        m_scopes.emplace_back();
        const std::string text = realOf(index).text;
        m_scopes.pop_back();
        return std::pair(std::move(m_out), text);
    };
    const auto [firstLines, first] = side(a);
    const auto [secondLines, second] = side(b);
    m_out = outer;
    m_indent = indent;
    const std::string id = m_names.fresh("side");
    if (isC()) {
        line(fmt::format("{} {};", type(), id));
        line(fmt::format("if ({}) {{", condition));
        m_out += firstLines;
        line(fmt::format("    {} = {};", id, first));
        line("} else {");
        m_out += secondLines;
        line(fmt::format("    {} = {};", id, second));
        line("}");
    } else {
        line(fmt::format("if {}:", condition));
        m_out += firstLines;
        line(fmt::format("    {} = {}", id, first));
        line("else:");
        m_out += secondLines;
        line(fmt::format("    {} = {}", id, second));
    }
    return {id, kTight};
}

template <class Write>
void FormulaWriter::function(const std::string& name, const std::string& argument, const Write& write) {
    const std::string out = std::move(m_out), indent = m_indent, unknown = m_unknown;
    auto scopes = std::move(m_scopes);
    const bool isNested = m_isNested;
    m_out.clear();
    m_scopes.assign(1, {});
    m_indent = "    ", m_isNested = true, m_unknown = argument;
    write();
    if (isC())
        m_text.functions += fmt::format("static {0} {1}({0} {2})\n{{\n{3}}}\n\n", type(), name, argument, m_out);
    else
        m_text.functions += fmt::format("\ndef {}({}):\n{}\n", name, argument, m_out);
    m_out = out, m_indent = indent, m_unknown = unknown, m_isNested = isNested;
    m_scopes = std::move(scopes);
}

FormulaWriter::Piece FormulaWriter::solveOf(std::int32_t index, const Node& node) {
    const std::int32_t left = node.operands[0], right = node.operands[1], unknown = node.operands[2];
    const std::string wanted = pieceOf(right).text;
    const SolveBracket& bracket = m_code.bracketOf(index);
    const std::string called = identifierOf(m_code.at(unknown).name),
                      function = m_names.freshExact("fg_left_" + called),
                      solver = m_names.freshExact("fg_solve_" + called), x = m_names.fresh(called);
    this->function(function, x, [&] {
        const std::string text = pieceOf(left).text;
        line(fmt::format("return {}{}", text, isC() ? ";" : ""));
    });
    const int halvings = m_real == CodeReal::Float ? kHalvings<float> : kHalvings<double>;
    const std::string y = m_names.fresh("wanted"), low = literal(bracket.low), high = literal(bracket.high);
    const auto below = [&](const std::string& at) {
        const std::string less = fmt::format("{}({}) < {}", function, at, y);
        return bracket.isRising ? less : (isC() ? "!(" : "not (") + less + ")";
    };
    // The halves of a bracket: no slope is needed, and it ends where the number type cannot tell the ends apart.
    this->function(solver, y, [&] {
        if (isC()) {
            line(fmt::format("{0} low = {1}, high = {2};", type(), low, high));
            line("int i;");
            line(fmt::format("if (!({}) || {}) return NAN;", below("low"), below("high")));
            line(fmt::format("for (i = 0; i < {}; ++i) {{", halvings));
            line(fmt::format("    const {} middle = (low + high) / {};", type(), literal(2)));
            line(fmt::format("    if ({}) low = middle;", below("middle")));
            line("    else high = middle;");
            line("}");
            line(fmt::format("return (low + high) / {};", literal(2)));
        } else {
            line(fmt::format("low, high = {}, {}", low, high));
            line(fmt::format("if not ({}) or {}: return float('nan')", below("low"), below("high")));
            line(fmt::format("for _ in range({}):", halvings));
            line("    middle = (low + high) / 2");
            line(fmt::format("    if {}: low = middle", below("middle")));
            line("    else: high = middle");
            line("return (low + high) / 2");
        }
    });
    return {fmt::format("{}({})", solver, wanted), kTight};
}

FormulaWriter::Piece FormulaWriter::callOf(const Node& node) {
    const std::int32_t argument = node.operands[0], body = node.operands[1];
    const std::string given = pieceOf(argument).text;
    const std::string name = m_names.freshExact("fg_" + identifierOf(node.name));
    this->function(name, m_names.fresh("x"), [&] {
        const std::string text = pieceOf(body).text;
        line(fmt::format("return {}{}", text, isC() ? ";" : ""));
    });
    return {fmt::format("{}({})", name, given), kTight};
}

FormulaWriter::Piece FormulaWriter::tableOf(const Node& node) {
    const std::string at = pieceOf(node.operands[0]).text;
    const auto& points = m_code.recording().tableAt(node.table);
    if (!m_hasTableFunction) {
        m_hasTableFunction = true;
        m_text.functions =
            (isC() ? fmt::format("/* Straight between the points; nothing outside them. */\n"
                                 "static {0} fg_between(const {0} *x, const {0} *y, int n, {0} at)\n"
                                 "{{\n"
                                 "    int i = 0;\n"
                                 "    if (!(at >= x[0] && at <= x[n - 1])) return NAN;\n"
                                 "    while (i + 2 < n && at >= x[i + 1]) ++i;\n"
                                 "    return y[i] + (at - x[i]) * ((y[i + 1] - y[i]) / (x[i + 1] - x[i]));\n"
                                 "}}\n\n",
                                 type())
                   : std::string("\ndef fg_between(x, y, at):\n"
                                 "    if not (x[0] <= at <= x[-1]): return float('nan')\n"
                                 "    i = 0\n"
                                 "    while i + 2 < len(x) and at >= x[i + 1]: i += 1\n"
                                 "    return y[i] + (at - x[i]) * ((y[i + 1] - y[i]) / (x[i + 1] - x[i]))\n\n")) +
            m_text.functions;
    }
    std::string& name = m_tables[node.table];
    if (name.empty()) {
        name = m_names.fresh("points");
        for (const std::size_t column : {0U, 1U}) {
            std::vector<std::string> numbers;
            for (const auto& point : points) numbers.push_back(literal(point[column]));
            const std::string list = listText(numbers, "    ");
            const char* axis = column == 0 ? "x" : "y";
            m_text.constants +=
                isC() ? fmt::format("static const {} {}_{}[{}] = {{\n{}}};\n", type(), name, axis, points.size(), list)
                      : fmt::format("{}_{} = (\n{})\n", name, axis, list);
            m_text.bytes += numbers.size() * (m_real == CodeReal::Float ? 4 : 8);
        }
    }
    return {isC() ? fmt::format("fg_between({0}_x, {0}_y, {1}, {2})", name, points.size(), at)
                  : fmt::format("fg_between({0}_x, {0}_y, {1})", name, at),
            kTight};
}

}  // namespace fg
