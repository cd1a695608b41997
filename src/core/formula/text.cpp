#include "formula/text.h"

#include "units/unit.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// How tightly a piece of text holds together; what is looser than its place needs brackets.
enum Binding { kCondition = 0, kShift = 1, kSum = 2, kSign = 3, kProduct = 4, kPower = 5, kWhole = 6 };

struct Piece {
    std::string text;
    int binding;
};

class Printer {
  public:
    Printer(const Recording& recording, Named named) : m_recording(recording), m_named(named) {}

    /// The text behind a name: a step is printed by what it is made of, not by itself.
    [[nodiscard]] std::string definition(std::int32_t index) {
        const Node& node = m_recording.at(index);
        const bool isNamed = node.op == Op::Step || node.op == Op::Aside;
        return pieceOf(isNamed ? node.operands[0] : index).text;
    }

  private:
    [[nodiscard]] static Piece wholePiece(std::int64_t whole) {
        if (whole >= 0) return {fmt::format("{}", whole), kWhole};
        return {"−" + fmt::format("{}", whole).substr(1), kSign};
    }

    [[nodiscard]] Piece numberPiece(const Node& node, int significant) const {
        if (node.bits != 0) return wholePiece(node.whole);
        const NumberText text = valueText(node.value, node.unit, significant);
        // A negative number stands in brackets but at the start; "V/°C" is a quotient.
        if (node.value < 0) return {text.joined(), kSign};
        return {text.joined(), text.unit.find('/') != std::string_view::npos ? kProduct : kWhole};
    }

    [[nodiscard]] Piece named(const Node& node) const {
        constexpr int kParameter = 10, kValue = 8;
        // What is solved for has no number yet.
        const bool isWritten = node.op == Op::Constant && !node.name.empty();  // "2^12"
        if (isWritten || node.op == Op::Unknown || (m_named == Named::Symbols && !node.name.empty()))
            return {std::string(node.name), isWritten ? kPower : kWhole};
        return numberPiece(node, node.op == Op::Parameter || node.op == Op::Constant ? kParameter : kValue);
    }

    [[nodiscard]] std::string inside(std::int32_t index, int needed) {
        const Piece piece = pieceOf(index);
        return piece.binding < needed ? "(" + piece.text + ")" : piece.text;
    }

    [[nodiscard]] Piece call(std::string_view name, const Node& node) {
        return {fmt::format("{}({})", name, pieceOf(node.operands[0]).text), kWhole};
    }

    [[nodiscard]] Piece pieceOf(std::int32_t index) {
        const Node& node = m_recording.at(index);
        const Piece piece = operationOf(node);
        // What did not fit its width is said; the number alone could not be checked.
        return node.wraps ? Piece{fmt::format("wrap{}({})", std::abs(node.bits), piece.text), kWhole} : piece;
    }

    [[nodiscard]] Piece operationOf(const Node& node) {
        const auto [a, b, c] = node.operands;
        switch (node.op) {
            case Op::Constant:
            case Op::Input:
            case Op::Parameter:
            case Op::Unknown:
                return named(node);
            case Op::Step:
            case Op::Aside:
                // Inside an equation that is solved a step has no number of its own.
                return m_isInEquation ? pieceOf(a) : named(node);
            case Op::Negate:
                return {"−" + inside(a, kProduct), kSign};
            case Op::Add:
                return {fmt::format("{} + {}", inside(a, kSum), inside(b, kProduct)), kSum};
            case Op::Subtract:
                return {fmt::format("{} − {}", inside(a, kSum), inside(b, kProduct)), kSum};
            case Op::Multiply:
                return {fmt::format("{} × {}", inside(a, kProduct), inside(b, kPower)), kProduct};
            case Op::Divide:
                if (node.bits != 0)
                    return {fmt::format("trunc({}/{})", inside(a, kProduct), inside(b, kPower)), kWhole};
                return {fmt::format("{}/{}", inside(a, kProduct), inside(b, kPower)), kProduct};
            case Op::Power:
                return {fmt::format("{}^{}", inside(a, kWhole), inside(b, kWhole)), kPower};
            case Op::Exp:
                return call("exp", node);
            case Op::Log:
                return call("ln", node);
            case Op::Sqrt:
                return call("√", node);
            case Op::Sinh:
                return call("sinh", node);
            case Op::Asinh:
                return call("asinh", node);
            case Op::Floor:
                return call("floor", node);
            case Op::Round:
                return call("round", node);
            case Op::Min:
            case Op::Max:
                return {fmt::format("{}({}, {})", node.op == Op::Min ? "min" : "max", pieceOf(a).text, pieceOf(b).text),
                        kWhole};
            case Op::Select:
            case Op::Refuse:
                return pieceOf(node.isTaken ? a : b);
            case Op::Solve: {
                m_isInEquation = true;
                const std::string left = pieceOf(a).text;
                m_isInEquation = false;
                return {fmt::format("solve {} = {}", left, pieceOf(b).text), kSum};
            }
            case Op::Table:
                return pieceOf(b);
            case Op::Call:
                return call(node.name, node);
            case Op::ShiftLeft:
            case Op::ShiftRight:
                // More brackets than the order needs: few know where a shift stands in it.
                return {fmt::format("{} {} {}", inside(a, kWhole), node.op == Op::ShiftLeft ? "<<" : ">>",
                                    inside(b, kWhole)),
                        kShift};
            case Op::Convert:
                return pieceOf(a);
            case Op::Less:
                return {fmt::format("{} < {}", inside(a, kSum), inside(b, kSum)), kCondition};
            case Op::LessEqual:
                return {fmt::format("{} <= {}", inside(a, kSum), inside(b, kSum)), kCondition};
            case Op::Differs:
                return {fmt::format("{} ≠ {}", inside(a, kSum), inside(b, kSum)), kCondition};
            case Op::And:
                return {fmt::format("{} and {}", pieceOf(a).text, pieceOf(b).text), kCondition};
            case Op::IsInfinite:
                return call("infinite", node);
        }
        return {};
    }

    const Recording& m_recording;
    Named m_named;
    bool m_isInEquation = false;
};

/// Marks what a node rests on. The two sides of an equation that is solved are one step; only what is given to it
/// counts.
void mark(const Recording& recording, std::int32_t index, std::vector<bool>& used, std::int32_t from = 0) {
    if (index < from || used[static_cast<std::size_t>(index)]) return;
    used[static_cast<std::size_t>(index)] = true;
    const Node& node = recording.at(index);
    const auto [a, b, c] = node.operands;
    switch (node.op) {
        case Op::Select:
        case Op::Refuse:
            return mark(recording, node.isTaken ? a : b, used, from);
        case Op::Solve:
            return mark(recording, b, used, from);
        case Op::Call:
            return mark(recording, a, used, from);
        default:
            for (const std::int32_t operand : node.operands) mark(recording, operand, used, from);
    }
}

}  // namespace

NumberText valueText(double value, std::string_view unit, int significant) {
    constexpr double kSmall = 0.01, kLarge = 1e6;
    const double size = std::abs(value);
    for (const Unit& one : allUnits()) {
        if (one.id != unit || one.symbol.empty()) continue;
        const bool isCanonical = &one == &canonicalUnit(one.quantity);
        if (isCanonical && one.takesPrefix && size > 0 && (size < kSmall || size >= kLarge))
            return shortEngineering(value, one.quantity, significant);
        return {plainNumber(value, significant), std::string(one.symbol)};
    }
    // A unit made of several stands as it is written.
    return {plainNumber(value, significant), unit == "1" ? "" : std::string(unit)};
}

std::string formulaText(const Recording& recording, std::int32_t node, Named named) {
    return Printer(recording, named).definition(node);
}

TraceLine lineOf(const Recording& recording, std::int32_t step) {
    const Node& node = recording.at(step);
    return {std::string(node.name),   formulaText(recording, step, Named::Numbers), node.value, std::string(node.unit),
            std::string(node.source), formulaText(recording, step, Named::Symbols)};
}

std::vector<TraceLine> linesOf(const Recorded& result) {
    std::vector<TraceLine> lines;
    if (!result.in()) return lines;
    Recording& recording = *result.in();
    const std::int32_t last = result.indexIn(recording);
    std::vector<bool> used(recording.size());
    mark(recording, last, used);
    for (std::int32_t i = 0; i <= last; ++i) {
        const Node& node = recording.at(i);
        if (!used[static_cast<std::size_t>(i)] || node.op != Op::Step) continue;
        appendLines(lines, {lineOf(recording, i)});
    }
    return lines;
}

std::vector<TraceLine> linesSince(const Recording& recording, std::int32_t from) {
    const auto size = static_cast<std::int32_t>(recording.size());
    std::vector<bool> isOperand(recording.size()), used(recording.size());
    for (std::int32_t i = from; i < size; ++i)
        for (const std::int32_t operand : recording.at(i).operands)
            if (operand >= 0) isOperand[static_cast<std::size_t>(operand)] = true;
    // Sides of branches are operands of them, so that those not taken are reached by nothing.
    for (std::int32_t i = from; i < size; ++i)
        if (!isOperand[static_cast<std::size_t>(i)]) mark(recording, i, used, from);
    std::vector<TraceLine> lines;
    for (std::int32_t i = from; i < size; ++i)
        if (used[static_cast<std::size_t>(i)] && recording.at(i).op == Op::Step) lines.push_back(lineOf(recording, i));
    return lines;
}

void appendLines(std::vector<TraceLine>& trace, std::vector<TraceLine> more) {
    for (TraceLine& line : more) {
        const bool isThere = std::any_of(trace.begin(), trace.end(), [&](const TraceLine& one) {
            return one.name == line.name && one.formula == line.formula && one.source == line.source;
        });
        if (!isThere) trace.push_back(std::move(line));
    }
}

}  // namespace fg
