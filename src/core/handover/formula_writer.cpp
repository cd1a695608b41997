#include "handover/formula_writer.h"

#include "devices/tracer.h"
#include "handover/fixed_point.h"

#include <fmt/format.h>
#include <cmath>

namespace fg {
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

FormulaText FormulaWriter::write(std::span<const std::int32_t> roots, std::vector<std::string>& results) {
    for (const std::int32_t root : roots) results.push_back(pieceOf(root).text);
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

std::string FormulaWriter::typeOf(const Node& node) const {
    return node.bits == 0 ? type() : fmt::format("{}int{}_t", node.bits < 0 ? "u" : "", std::abs(node.bits));
}

FormulaWriter::Piece FormulaWriter::realOf(std::int32_t index) {
    const Piece piece = pieceOf(index);
    if (m_code.at(index).bits == 0 || !isC()) return piece;
    return {fmt::format("({}){}", type(), piece.binding < kTight ? "(" + piece.text + ")" : piece.text), kMinus};
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
    // What is refused once need not be refused again.
    if (node.op == Op::Refuse && piece.binding == kTight) m_scopes.back()[index] = piece.text;
    const bool isName = identifierOf(piece.text) == piece.text;
    if (m_code.usesOf(index) < 2 || isName || isCondition) return piece;
    return named(index, "part", piece.text, "");
}

FormulaWriter::Piece FormulaWriter::operationOf(std::int32_t index, const Node& node) {
    const std::int32_t a = node.operands[0], b = node.operands[1];
    const auto call = [&](std::string_view name) {
        return Piece{fmt::format("{}({})", function(name), realOf(a).text), kTight};
    };
    // The left side is written before the right one.
    const auto two = [&](const Infix& is) {
        const std::string first = inside(a, is.left), second = inside(b, is.right);
        return Piece{fmt::format("{} {} {}", first, is.sign, second), is.binding};
    };
    const auto pair = [&](std::string_view c99, std::string_view python) {
        const std::string first = realOf(a).text, second = realOf(b).text;
        return Piece{fmt::format("{}({}, {})", isC() ? function(c99) : std::string(python), first, second), kTight};
    };
    switch (node.op) {
        case Op::Negate:
            return {"-" + inside(a, kTight), kMinus};
        case Op::Add:
        case Op::Subtract:
        case Op::Multiply:
        case Op::Divide:
            return two(infixOf(node.op));
        case Op::Power:
            return isC() ? pair("pow", "pow") : two({"**", kTight, kTight, kTimes});
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
            return two({isC() ? "&&" : "and", kCompare, kCompare, kAnd});
        case Op::IsInfinite:
            return {fmt::format("{}({})", isC() ? "isinf" : "math.isinf", pieceOf(a).text), kTight};
        case Op::Select:
            return branchOf(index, node);
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
    const std::string status = refusal.name == kNotReady           ? "FG_BUSY"
                               : refusal.name == kBeyondFixedPoint ? "FG_BEYOND"
                                                                   : "FG_NO_VALUE";
    const std::string back = isC() ? (m_isNested ? "return NAN;" : "return " + status + ";")
                                   : (m_isNested ? "return float('nan')" : "return (" + status + ", None)");
    line(isC() ? fmt::format("if (!({})) {}", condition, back) : fmt::format("if not ({}): {}", condition, back));
}

/// Both sides stand in blocks of their own, so that only the one that holds is computed.
FormulaWriter::Piece FormulaWriter::branchOf(std::int32_t index, const Node& node) {
    const auto [a, b, c] = node.operands;
    const std::string condition = pieceOf(c).text;
    const std::string outer = std::move(m_out);
    const std::string indent = m_indent;
    const auto written = [&](std::int32_t side) {
        m_out.clear();
        m_indent = indent + "    ";
        m_scopes.emplace_back();
        const std::string text = (node.bits == 0 ? realOf(side) : pieceOf(side)).text;
        m_scopes.pop_back();
        return std::pair(std::move(m_out), text);
    };
    const auto [firstLines, first] = written(a);
    const auto [secondLines, second] = written(b);
    m_out = outer;
    m_indent = indent;
    // Integers without lines of their own stand in place.
    if (node.bits != 0 && firstLines.empty() && secondLines.empty())
        return isC() ? Piece{fmt::format("({})(({}) ? ({}) : ({}))", typeOf(node), condition, first, second), kMinus}
                     : Piece{fmt::format("({} if {} else {})", first, condition, second), kTight};
    const std::string id = m_names.fresh("side");
    if (isC()) {
        line(fmt::format("{} {};", typeOf(m_code.at(index)), id));
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
    m_scopes.back()[index] = id;
    return {id, kTight};
}

}  // namespace fg
