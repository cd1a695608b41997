#include "handover/law_code.h"

#include "handover/formula_runner.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <random>

namespace fg {
namespace {

constexpr int kProofSets = 100'000;

/// Where a law states no end of its range, a proof has to stop somewhere.
Interval bounded(Interval range) {
    constexpr double kFar = 1e6;
    return {std::max(range.low, -kFar), std::min(range.high, kFar)};
}

/// Runs the formula over readings within the law's ranges, their ends among them, against the path itself.
Expected<void> prove(const DerivedPath& path, const GaugeSpec& spec, const Unit& unit, bool isFloat, LawCode& code) {
    const auto inputs = path.law()->inputs();
    FormulaRunner<double> exactly(*code.formula);
    FormulaRunner<float> shortly(*code.formula);
    std::mt19937 random(20);
    std::vector<double> readings = path.inputs(), nodes(code.formula->recording().size());
    double sum = 0;
    for (int i = 0; i < kProofSets; ++i) {
        std::string told;
        for (const LawParameter& one : code.parameters) {
            const Interval range = bounded(one.range);
            const double share = i < 4 ? i % 2 : std::uniform_real_distribution<double>(0, 1)(random);
            const double value = range.low + share * range.width();
            nodes[static_cast<std::size_t>(one.node)] = value;
            for (std::size_t k = 0; k < inputs.size(); ++k)
                if (inputs[k].name == one.name) readings[k] = value;
            told += fmt::format("{}{} {}", told.empty() ? "" : ", ", one.name, plainNumber(value, 6));
        }
        const double value = path.readingOf(readings);
        const double mine = exactly(nodes);
        if (std::isnan(value) && std::isnan(mine)) continue;
        const double exact = unit.fromCanonical(value);
        if (std::isnan(value) != std::isnan(mine) || std::abs(mine - exact) > 1e-9 * (1 + std::abs(exact)))
            return fail(ErrorCode::Unsupported, "“" + spec.name + "”",
                        fmt::format("a law that says {} for {}, its formula {}", plainNumber(exact, 9), told,
                                    plainNumber(mine, 9)),
                        "a law whose formula is all there is to it");
        const double off = isFloat ? std::abs(shortly(nodes) - exact) : std::abs(mine - exact);
        if (std::isnan(off)) continue;  // at the very edge single precision may refuse
        sum += off;
        if (off > code.error.worst || code.error.checked == 0) code.error.worst = off, code.atInputs = told;
        ++code.error.checked;
    }
    if (code.error.checked == 0)
        return fail(ErrorCode::Domain, "“" + spec.name + "”", "no readings with a value", "a law that has one");
    code.error.mean = sum / static_cast<double>(code.error.checked);
    return {};
}

}  // namespace

Expected<LawCode> lawCodeOf(const DerivedPath& path, const GaugeSpec& spec, const Unit& unit,
                            CodeArithmetic arithmetic) {
    const auto refuse = [&](const char* why, const char* expected) {
        return fail(ErrorCode::Unsupported, "“" + spec.name + "”", why, expected);
    };
    if (!path.law())
        return refuse("a value of the last while, which rests on what came before",
                      "a gauge whose reading follows from readings of one moment");
    if (arithmetic != CodeArithmetic::Float && arithmetic != CodeArithmetic::Double)
        return refuse("a law in whole numbers", "float or double");
    const auto inputs = path.law()->inputs();
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
        const double now = path.inputs()[i];
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
    const Recorded value =
        path.correction().record(*recording, path.law()->value(std::span<const Recorded>(values)), spec.quantity);
    auto formula = FormulaCode::ofRecording(recording, value.indexIn(*recording), unit);
    if (!formula) return tl::unexpected(formula.error());
    code.formula = std::make_shared<FormulaCode>(std::move(*formula));
    if (const auto done = prove(path, spec, unit, arithmetic == CodeArithmetic::Float, code); !done)
        return tl::unexpected(done.error());
    return code;
}

}  // namespace fg
