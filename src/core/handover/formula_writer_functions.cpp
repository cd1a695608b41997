// The part of the writer that makes functions of their own: equations that are solved, calls, tables.

#include "handover/formula_writer.h"

#include <fmt/format.h>

namespace fg {

template <class Write>
void FormulaWriter::function(const std::string& name, const std::string& argument, const Write& write) {
    const std::string out = std::move(m_out), indent = m_indent, unknown = m_unknown;
    auto scopes = std::move(m_scopes);
    const bool isNested = m_isNested;
    m_out.clear();
    m_scopes.assign(1, {});
    m_indent = "    ";
    m_isNested = true;
    m_unknown = argument;
    write();
    if (isC())
        m_text.functions += fmt::format("static {0} {1}({0} {2})\n{{\n{3}}}\n\n", type(), name, argument, m_out);
    else
        m_text.functions += fmt::format("\ndef {}({}):\n{}\n", name, argument, m_out);
    m_out = out;
    m_indent = indent;
    m_unknown = unknown;
    m_isNested = isNested;
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
