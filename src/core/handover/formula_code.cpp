#include "handover/formula_code.h"

#include "handover/formula_runner.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// The Solves that a value rests on, through the sides of branches that were taken.
void solvesOf(const Recording& recording, std::int32_t index, std::vector<bool>& seen,
              std::vector<std::int32_t>& solves) {
    if (index < 0 || seen[static_cast<std::size_t>(index)]) return;
    seen[static_cast<std::size_t>(index)] = true;
    const Node& node = recording.at(index);
    const auto [a, b, c] = node.operands;
    if (node.op == Op::Select || node.op == Op::Refuse) {
        solvesOf(recording, node.isTaken ? a : b, seen, solves);
        return solvesOf(recording, c, seen, solves);
    }
    if (node.op == Op::Solve) solves.push_back(index);
    for (const std::int32_t operand : node.operands) solvesOf(recording, operand, seen, solves);
}

Recorded inUnit(Recording& in, const Recorded& canonical, const Unit& unit) {
    if (unit.scale == 1 && unit.offset == 0) return canonical;
    const auto number = [&](double value) { return constant<Recorded>(value, ""); };
    const Recorded shifted = unit.offset == 0 ? canonical : canonical - number(unit.offset);
    const Recorded value = unit.scale == 1 ? shifted : shifted / number(unit.scale);
    return step("reading", in.keep(unit.id), "in the unit of the reading", value);
}

}  // namespace

Expected<CodeRange> codeRangeOf(const AnalogPath& path, Interval limits) {
    const Converter& converter = path.converter();
    CodeRange range{converter.minCode(), converter.maxCode(), converter.minCode() + 1, converter.maxCode() - 1};
    if (range.first > range.last)
        return fail(ErrorCode::Domain, "converter.bits", std::to_string(converter.bits()),
                    "a converter with a code between its lowest and its highest");
    const double slack = 1e-9 * limits.width();
    const auto fits = [&](std::int64_t code) {
        const double value = path.reading(static_cast<double>(code));
        return value >= limits.low - slack && value <= limits.high + slack;
    };
    // From the ends of the limits inwards to the first code that is inside: a cell or two, or, where the formula has
    // no value at an end, a search.
    const auto endAt = [&](double world, bool isFirst) {
        const double exact = path.exactCode(world);
        const auto low = static_cast<double>(range.first), high = static_cast<double>(range.last);
        if (std::isnan(exact)) return isFirst ? range.first : range.last;
        return static_cast<std::int64_t>(std::clamp(isFirst ? std::floor(exact) : std::ceil(exact), low, high));
    };
    const bool isRising = path.isRising();
    std::int64_t first = endAt(isRising ? limits.low : limits.high, true),
                 last = endAt(isRising ? limits.high : limits.low, false);
    constexpr std::int64_t kMostSteps = 1 << 17;
    for (std::int64_t i = 0; first <= last && !fits(first) && i < kMostSteps; ++i) ++first;
    for (std::int64_t i = 0; last >= first && !fits(last) && i < kMostSteps; ++i) --last;
    if (first > last || !fits(first) || !fits(last))
        return fail(ErrorCode::Domain, "reading.span",
                    fmt::format("{} … {} {}", plainNumber(limits.low), plainNumber(limits.high),
                                canonicalUnit(path.quantity()).symbol),
                    "a span of which the converter can give a code");
    range.first = first;
    range.last = last;
    return range;
}

const SolveBracket& FormulaCode::bracketOf(std::int32_t solve) const {
    for (const auto& [node, bracket] : m_brackets)
        if (node == solve) return bracket;
    static const SolveBracket kNone;
    return kNone;
}

bool SolveLooks::look(const Recording& recording, std::int32_t root) {
    std::vector<bool> seen(recording.size());
    std::vector<std::int32_t> found;
    solvesOf(recording, root, seen, found);
    // Every recording has the same Solves in the same order, taken or not.
    std::size_t number = 0;
    for (std::int32_t i = 0; i <= root; ++i) {
        const Node& node = recording.at(i);
        if (node.op != Op::Solve) continue;
        if (m_solved.size() <= number) m_solved.resize(number + 1);
        Solved& here = m_solved[number++];
        if (std::find(found.begin(), found.end(), i) == found.end()) continue;
        const double left = recording.at(node.operands[0]).value;
        if (node.value < here.low) {
            here.low = node.value;
            here.lowLeft = left;
        }
        if (node.value > here.high) {
            here.high = node.value;
            here.highLeft = left;
        }
    }
    return number > 0;
}

std::optional<SolveBracket> SolveLooks::bracket(std::size_t number) const {
    if (number >= m_solved.size()) return std::nullopt;
    const Solved& one = m_solved[number];
    if (!(one.low <= one.high)) return std::nullopt;
    const double beyond = margin * (one.high - one.low) + 1e-9 * std::abs(one.high);
    return SolveBracket{one.low - beyond, one.high + beyond, one.lowLeft < one.highLeft};
}

/// What is on a side that was never taken keeps an empty bracket, in which nothing is found.
void FormulaCode::putBrackets(const SolveLooks& looks) {
    std::size_t number = 0;
    for (std::int32_t i = 0; i <= m_root; ++i) {
        if (at(i).op != Op::Solve) continue;
        if (const auto bracket = looks.bracket(number++)) m_brackets.push_back({i, *bracket});
    }
}

/// What rests on an unknown, and how often everything is used.
void FormulaCode::look() {
    const std::size_t size = m_recording->size();
    m_isInside.assign(size, false);
    m_uses.assign(size, 0);
    for (std::size_t i = 0; i < size; ++i) {
        const Node& node = m_recording->at(static_cast<std::int32_t>(i));
        bool inside = node.op == Op::Unknown;
        const auto at = [&](std::int32_t operand) {
            return operand >= 0 && m_isInside[static_cast<std::size_t>(operand)];
        };
        if (node.op == Op::Solve)
            inside = at(node.operands[1]);
        else if (node.op == Op::Call)
            inside = at(node.operands[0]);
        else
            inside = inside || at(node.operands[0]) || at(node.operands[1]) || at(node.operands[2]);
        m_isInside[i] = inside;
    }
    m_uses[static_cast<std::size_t>(m_root)] = 1;
    std::vector<bool> isRepeated(size);
    for (std::int32_t i = m_root; i >= 0; --i) {
        if (usesOf(i) == 0) continue;
        const Node& node = at(i);
        const bool isCounted = node.op >= Op::Negate && node.op != Op::Refuse;
        const bool isInLoop = isRepeated[static_cast<std::size_t>(i)];
        (isInLoop ? m_repeated : m_operations) += isCounted ? 1 : 0;
        // Of a table only its argument is computed; its piece was recorded for one place.
        const std::size_t count = node.op == Op::Table ? 1 : node.operands.size();
        for (std::size_t k = 0; k < count; ++k)
            if (node.operands[k] >= 0 && !(node.op == Op::Refuse && k == 1)) {
                const auto operand = static_cast<std::size_t>(node.operands[k]);
                ++m_uses[operand];
                if (m_isInside[operand] && (isInLoop || (node.op == Op::Solve && k == 0))) isRepeated[operand] = true;
            }
    }
}

Expected<FormulaCode> FormulaCode::make(const AnalogPath& path, const GaugeSpec& spec, const Unit& unit) {
    const Interval span = spec.spanCanonical(), part = path.sensor().range();
    const auto corrected = [&](double value) { return path.correction().apply(value); };
    // A little beyond: a sensor at the end of its range gives codes on both sides of it.
    const double beyond = 0.02 * part.width();
    const auto range = codeRangeOf(path, {std::min(span.low, corrected(part.low) - beyond),
                                          std::max(span.high, corrected(part.high) + beyond)});
    if (!range) return tl::unexpected(range.error());

    FormulaCode code;
    code.m_range = *range;
    const auto record = [&](Recording& in, std::int64_t at) {
        return inUnit(in, path.recordReading(in, static_cast<double>(at)), unit);
    };
    const std::int64_t middle = range->first + (range->last - range->first) / 2;
    code.m_recording = std::make_shared<Recording>();
    code.m_root = record(*code.m_recording, middle).indexIn(*code.m_recording);
    code.look();
    for (std::int32_t i = 0; i <= code.m_root; ++i) {
        const Node& node = code.at(i);
        if (code.usesOf(i) > 0 && node.op == Op::Call && node.operands[1] < 0)
            return fail(ErrorCode::Unsupported, "arithmetic", "a formula of your own, which is known by its values",
                        "int16, int32, int64 or table for this gauge: they are made from its values");
    }

    // Where each unknown lies: between the ends of what it is over the codes.
    SolveLooks looks;
    constexpr std::int64_t kMostLooks = 4096;
    const std::int64_t stride = std::max<std::int64_t>(1, range->size() / kMostLooks);
    for (std::int64_t at = range->first;; at = std::min(at + stride, range->last)) {
        Recording here;
        const std::int32_t root = record(here, at).indexIn(here);
        if (!looks.look(here, root) || at == range->last) break;
    }
    code.putBrackets(looks);

    // The proof that what is written is what the gauge computes: nobody sees code that fails it.
    FormulaRunner<double> runner(code);
    const double allowed = 1e-7 * unit.differenceFromCanonical(span.width());
    for (std::int64_t at = range->first;; at = std::min(at + stride, range->last)) {
        const double mine = runner(static_cast<double>(at)),
                     exact = unit.fromCanonical(path.reading(static_cast<double>(at)));
        if (!(std::abs(mine - exact) <= allowed))
            return fail(ErrorCode::Unsupported, "arithmetic",
                        fmt::format("a formula that as written gives {} at code {} where the gauge reads {}",
                                    plainNumber(mine, 9), at, plainNumber(exact, 9)),
                        "int16, int32, int64 or table for this gauge: they are made from its values");
        if (at == range->last) break;
    }
    return code;
}

FormulaCode FormulaCode::ofExpression(std::shared_ptr<Recording> recording, std::int32_t root) {
    FormulaCode code;
    code.m_recording = std::move(recording);
    code.m_root = root;
    code.look();
    return code;
}

Expected<FormulaCode> FormulaCode::ofRecording(std::shared_ptr<Recording> recording, std::int32_t root,
                                               const Unit& unit, const SolveLooks* looks) {
    const std::int32_t inItsUnit = inUnit(*recording, Recorded(*recording, root), unit).indexIn(*recording);
    FormulaCode code = ofExpression(std::move(recording), inItsUnit);
    for (std::int32_t i = 0; i <= code.m_root; ++i) {
        const Node& node = code.at(i);
        const bool isByValues = node.op == Op::Call && node.operands[1] < 0;
        if (code.usesOf(i) > 0 && (isByValues || (node.op == Op::Solve && !looks)))
            return fail(ErrorCode::Unsupported, "sensor.part", "a formula that is solved, or known by its values alone",
                        "a formula of plain steps");
    }
    if (looks) code.putBrackets(*looks);
    return code;
}

}  // namespace fg
