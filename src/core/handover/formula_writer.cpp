#include "handover/formula_writer.h"

#include <fmt/format.h>

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

std::string FormulaWriter::inside(std::int32_t index, int needed) {
    const Piece piece = pieceOf(index);
    return piece.binding < needed ? "(" + piece.text + ")" : piece.text;
}

FormulaWriter::Piece FormulaWriter::named(std::int32_t index, std::string_view name, const std::string& text,
                                          const std::string& remark) {
    const std::string id = m_names.fresh(name);
    if (isC())
        line(fmt::format("const {} {} = {};{}", type(), id, text, remark.empty() ? "" : " /* " + remark + " */"));
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
            return {literal(node.value), node.value < 0 ? kMinus : kTight};
        case Op::Parameter:
            return {parameterOf(node), kTight};
        case Op::Input:
            return {m_input, kTight};
        case Op::Unknown:
            return {m_unknown, kTight};
        case Op::Step:
        case Op::Aside: {
            const std::string text = pieceOf(node.operands[0]).text;
            std::string remark = commentText(node.unit == "1" ? "" : node.unit);
            if (!node.source.empty()) remark += (remark.empty() ? "" : "; ") + commentText(node.source);
            return named(index, node.name, text, remark);
        }
        default:
            break;
    }
    const Piece piece = operationOf(index, node);
    const bool isCondition =
        node.op == Op::Less || node.op == Op::LessEqual || node.op == Op::And || node.op == Op::IsInfinite;
    if (m_code.usesOf(index) < 2 || piece.binding == kTight || isCondition) return piece;
    return named(index, "part", piece.text, "");
}

FormulaWriter::Piece FormulaWriter::operationOf(std::int32_t index, const Node& node) {
    const std::int32_t a = node.operands[0], b = node.operands[1], c = node.operands[2];
    const auto call = [&](std::string_view name) {
        return Piece{fmt::format("{}({})", function(name), pieceOf(a).text), kTight};
    };
    // The left side is written before the right one.
    const auto two = [&](const char* sign, int left, int right, int binding) {
        const std::string first = inside(a, left), second = inside(b, right);
        return Piece{fmt::format("{} {} {}", first, sign, second), binding};
    };
    const auto pair = [&](std::string_view c99, std::string_view python) {
        const std::string first = pieceOf(a).text, second = pieceOf(b).text;
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
            return two("<", kPlus, kPlus, kCompare);
        case Op::LessEqual:
            return two("<=", kPlus, kPlus, kCompare);
        case Op::And:
            return two(isC() ? "&&" : "and", kCompare, kCompare, kAnd);
        case Op::IsInfinite:
            return {fmt::format("{}({})", isC() ? "isinf" : "math.isinf", pieceOf(a).text), kTight};
        case Op::Select:
            return branchOf(node);
        case Op::Refuse: {
            const std::string condition = pieceOf(c).text;
            const char* refusal = isC() ? (m_isNested ? "return NAN;" : "return FG_NO_VALUE;")
                                        : (m_isNested ? "return float('nan')" : "return (FG_NO_VALUE, None)");
            if (isC())
                line(fmt::format("if (!({})) {}", condition, refusal));
            else
                line(fmt::format("if not ({}): {}", condition, refusal));
            return pieceOf(a);
        }
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
        const std::string text = pieceOf(index).text;
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
