#include "handover/law_code.h"

#include "handover/fixed_point.h"
#include "handover/formula_runner.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <functional>
#include <random>

namespace fg {
namespace {

constexpr int kProofSets = 100'000;

/// Where a law states no end of its range, a proof has to stop somewhere.
Interval bounded(Interval range) {
    constexpr double kFar = 1e6;
    return {std::isfinite(range.low) ? range.low : -kFar, std::isfinite(range.high) ? range.high : kFar};
}

/// What is handed over: a law, or what stands behind the window of a running value.
struct Rule {
    std::vector<LawInput> inputs;
    std::function<double(std::span<const double>)> reading;  ///< canonical
    std::function<Recorded(Recording&, std::span<const Recorded>)> record;
};

Rule ruleOf(const DerivedPath& path, const GaugeSpec& spec) {
    Rule rule;
    if (const Law* law = path.law()) {
        rule.inputs.assign(law->inputs().begin(), law->inputs().end());
        rule.reading = [&path](std::span<const double> inputs) { return path.readingOf(inputs); };
        rule.record = [&path, law, &spec](Recording& in, std::span<const Recorded> inputs) {
            return path.correction().record(in, law->value(inputs), spec.quantity);
        };
        return rule;
    }
    rule.inputs = {{"reading", "Reading", "value", spec.quantity, spec.spanCanonical()}};
    rule.reading = [&path](std::span<const double> inputs) { return path.corrected(inputs[0]); };
    rule.record = [&path, &spec](Recording& in, std::span<const Recorded> inputs) {
        return path.correction().record(in, inputs[0], spec.quantity);
    };
    return rule;
}

/// Runs the formula over readings within the law's ranges, their ends among them, against the path itself.
class LawProof {
  public:
    LawProof(const Rule& rule, const std::vector<double>& inputs, const GaugeSpec& spec, const Unit& unit,
             LawCode& code)
        : m_rule(rule),
          m_spec(spec),
          m_unit(unit),
          m_code(code),
          m_exactly(*code.formula),
          m_readings(inputs),
          m_nodes(code.formula->recording().size()) {}

    /// `formula` in real numbers.
    Expected<void> run(bool isFloat) {
        FormulaRunner<float> shortly(*m_code.formula);
        return overSets([&](double exact, double mine) {
            // At the very edge single precision may refuse.
            return std::abs((isFloat ? shortly(m_nodes) : mine) - exact);
        });
    }

    /// `fixed` over readings in whole steps, where the value lies in the span.
    Expected<void> run(const FixedPoint& fixed) {
        FormulaRunner<double> runner(*fixed.formula);
        std::vector<double> steps(fixed.formula->recording().size());
        const Interval span = m_spec.spanCanonical();
        const double low = m_unit.fromCanonical(span.low), high = m_unit.fromCanonical(span.high);
        int atEdges = 0;
        bool hasWrapped = false;
        const auto done = overSets([&](double exact, double) {
            if (!(exact >= low && exact <= high)) return std::nan("");
            for (const FixedPoint::Input& one : fixed.inputs)
                steps[static_cast<std::size_t>(one.whole)] =
                    std::nearbyint(m_nodes[static_cast<std::size_t>(one.real)] / one.step);
            const double value = runner(steps);
            hasWrapped = hasWrapped || runner.hasWrapped();
            if (std::isnan(value)) ++atEdges;
            return std::abs(value - exact);
        });
        if (!done) return done;
        if (hasWrapped || atEdges > kProofSets / 1000)
            return fail(ErrorCode::Unsupported, "“" + m_spec.name + "”",
                        fmt::format("a law that in fixed point {}",
                                    hasWrapped ? "overflows" : "has no value where it has"),
                        "a wider integer, float or double");
        return {};
    }

    /// Between which ends each value of the formula is, and how much a parameter moves the result, for nine sets of
    /// readings in ten at most: near a limit, as in air without water, there may be no end to it.
    void look(std::vector<Interval>& seen, std::vector<double>& slopes) {
        constexpr int kLooks = 2000;
        constexpr double kMove = 1e-4;
        seen.assign(m_nodes.size(), {HUGE_VAL, -HUGE_VAL});
        std::vector<std::vector<double>> all(m_code.parameters.size());
        for (int i = 0; i < kLooks; ++i) {
            (void)draw(i);
            for (std::size_t k = 0; k < all.size(); ++k) {
                const LawParameter& one = m_code.parameters[k];
                double& node = m_nodes[static_cast<std::size_t>(one.node)];
                const double here = node, move = kMove * bounded(one.range).width(), before = m_exactly(m_nodes);
                node = here < bounded(one.range).high - move ? here + move : here - move;
                const double slope = std::abs(m_exactly(m_nodes) - before) / move;
                if (std::isfinite(slope)) all[k].push_back(slope);
                node = here;
            }
            if (std::isnan(m_exactly(m_nodes))) continue;
            for (std::size_t node = 0; node < seen.size(); ++node) {
                const double value = m_exactly.valueAt(static_cast<std::int32_t>(node));
                if (!std::isnan(value))
                    seen[node] = {std::min(seen[node].low, value), std::max(seen[node].high, value)};
            }
        }
        slopes.clear();
        for (auto& of : all) {
            std::sort(of.begin(), of.end());
            slopes.push_back(of.empty() ? 0 : of[of.size() * 9 / 10]);
        }
    }

  private:
    /// A set of readings, in whole steps where the parameters have such; what they are as text.
    std::string draw(int number) {
        const auto& inputs = m_rule.inputs;
        std::string told;
        for (const LawParameter& one : m_code.parameters) {
            const Interval range = bounded(one.range);
            const double share = number < 4 ? number % 2 : std::uniform_real_distribution<double>(0, 1)(m_random);
            double value = range.low + share * range.width();
            if (one.scale > 0) {
                const auto scale = static_cast<double>(one.scale);
                value = std::clamp(std::nearbyint(value * scale), static_cast<double>(one.least),
                                   static_cast<double>(one.most)) /
                        scale;
            }
            m_nodes[static_cast<std::size_t>(one.node)] = value;
            for (std::size_t k = 0; k < inputs.size(); ++k)
                if (inputs[k].name == one.name) m_readings[k] = value;
            told += fmt::format("{}{} {}", told.empty() ? "" : ", ", one.name, plainNumber(value, 6));
        }
        return told;
    }

    /// `offOf`: how far the code is from the exact value; NaN: not counted.
    template <class OffOf>
    Expected<void> overSets(const OffOf& offOf) {
        m_code.error = {};
        double sum = 0;
        for (int i = 0; i < kProofSets; ++i) {
            const std::string told = draw(i);
            const double value = m_rule.reading(m_readings), mine = m_exactly(m_nodes);
            if (std::isnan(value) && std::isnan(mine)) continue;
            const double exact = m_unit.fromCanonical(value);
            if (std::isnan(value) != std::isnan(mine) || std::abs(mine - exact) > 1e-9 * (1 + std::abs(exact)))
                return fail(ErrorCode::Unsupported, "“" + m_spec.name + "”",
                            fmt::format("a law that says {} for {}, its formula {}", plainNumber(exact, 9), told,
                                        plainNumber(mine, 9)),
                            "a law whose formula is all there is to it");
            const double off = offOf(exact, mine);
            if (std::isnan(off)) continue;
            sum += off;
            if (off > m_code.error.worst || m_code.error.checked == 0) {
                m_code.error.worst = off;
                m_code.atInputs = told;
            }
            ++m_code.error.checked;
        }
        if (m_code.error.checked == 0)
            return fail(ErrorCode::Domain, "“" + m_spec.name + "”", "no readings whose value lies in the span",
                        "a span that the law comes to");
        m_code.error.mean = sum / static_cast<double>(m_code.error.checked);
        return {};
    }

    const Rule& m_rule;
    const GaugeSpec& m_spec;
    const Unit& m_unit;
    LawCode& m_code;
    FormulaRunner<double> m_exactly;
    std::mt19937 m_random{20};
    std::vector<double> m_readings, m_nodes;
};

/// The law in fixed point, its parameters in whole steps.
Expected<void> takeFixedPoint(LawProof& proof, int width, const WholeLaw& whole, LawCode& code) {
    std::vector<Interval> seen;
    std::vector<double> slopes;
    proof.look(seen, slopes);
    std::vector<FixedInput> inputs;
    for (std::size_t i = 0; i < code.parameters.size(); ++i) {
        LawParameter& one = code.parameters[i];
        if (const auto taken = takeInSteps(one, slopes[i], whole.wanted, width); !taken) return taken;
        inputs.push_back({one.node, 1 / static_cast<double>(one.scale), one.least, one.most});
    }
    auto fixed = fixedPointOf(*code.formula, inputs, seen, width, whole.scale);
    if (!fixed) return tl::unexpected(fixed.error());
    if (const auto done = proof.run(*fixed); !done) return done;
    for (std::size_t i = 0; i < fixed->inputs.size(); ++i) code.parameters[i].node = fixed->inputs[i].whole;
    code.formula = fixed->formula;
    code.tail = WholeTail::of(*code.formula, code.formula->root());
    return {};
}

}  // namespace

Expected<void> takeInSteps(LawParameter& parameter, double slope, double wanted, int width) {
    const Interval range = bounded(parameter.range);
    const int bits = std::min(width, 32);
    // One less than there is, so that what lies beyond can be told.
    const double largest = std::max(std::abs(range.low), std::abs(range.high)), most = std::ldexp(1.0, bits - 1) - 2;
    if (!(largest <= most))
        return fail(ErrorCode::Unsupported, parameter.name,
                    fmt::format("readings from {} to {}", plainNumber(range.low, 6), plainNumber(range.high, 6)),
                    fmt::format("readings that {} bits hold{}; or float or double", bits,
                                width < 32 ? ", a wider integer" : ""));
    constexpr std::int64_t kMostScale = 1'000'000;
    parameter.scale = 1;
    while (parameter.scale < kMostScale && slope / static_cast<double>(parameter.scale) > wanted / 2 &&
           largest * 10 * static_cast<double>(parameter.scale) <= most)
        parameter.scale *= 10;
    const auto scale = static_cast<double>(parameter.scale);
    parameter.least = static_cast<std::int64_t>(std::ceil(range.low * scale));
    parameter.most = static_cast<std::int64_t>(std::floor(range.high * scale));
    return {};
}

Expected<LawCode> lawCodeOf(const DerivedPath& path, const GaugeSpec& spec, const Unit& unit, CodeArithmetic arithmetic,
                            const WholeLaw& whole) {
    const auto refuse = [&](const char* why, const char* expected) {
        return fail(ErrorCode::Unsupported, "“" + spec.name + "”", why, expected);
    };
    if (arithmetic == CodeArithmetic::Table)
        return refuse("a table over several readings", "int32, int64, float or double");
    const Rule rule = ruleOf(path, spec);
    const std::vector<LawInput>& inputs = rule.inputs;
    const std::vector<double> given = path.law() ? path.inputs() : std::vector<double>{std::nan("")};
    const auto recording = std::make_shared<Recording>();
    const bool isLinked = std::any_of(inputs.begin(), inputs.end(), [&](const LawInput& one) {
        return spec.inputs.contains("sensor." + std::string(one.name));
    });
    LawCode code;
    std::vector<Recorded> values;
    for (std::size_t i = 0; i < inputs.size(); ++i) {
        const LawInput& input = inputs[i];
        const std::string unitId =
            input.unit.empty() ? std::string(canonicalUnit(input.quantity).id) : std::string(input.unit);
        const double now = given[i];
        const bool isParameter =
            std::isnan(now) || !isLinked || spec.inputs.contains("sensor." + std::string(input.name));
        const double start = std::isnan(now) ? (bounded(input.range).low + bounded(input.range).high) / 2 : now;
        if (!isParameter) {
            values.push_back(
                Recorded::leaf(*recording, Op::Parameter, recording->keep(input.symbol), recording->keep(unitId), now));
            continue;
        }
        values.push_back(
            Recorded::leaf(*recording, Op::Input, recording->keep(input.symbol), recording->keep(unitId), start));
        code.parameters.push_back({values.back().indexIn(*recording), std::string(input.name), unitId, input.range});
    }
    const Recorded value = rule.record(*recording, values);
    auto formula = FormulaCode::ofRecording(recording, value.indexIn(*recording), unit);
    if (!formula) return tl::unexpected(formula.error());
    code.formula = std::make_shared<FormulaCode>(std::move(*formula));
    const bool isReal = arithmetic == CodeArithmetic::Float || arithmetic == CodeArithmetic::Double;
    LawProof proof(rule, given, spec, unit, code);
    const auto done = isReal ? proof.run(arithmetic == CodeArithmetic::Float)
                             : takeFixedPoint(proof, widthOf(arithmetic), whole, code);
    if (!done) return tl::unexpected(done.error());
    return code;
}

}  // namespace fg
