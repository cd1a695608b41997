#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// What a derived gauge still needs, and what of it holds without anybody having said so.
void derivedInputs(const GaugeSpec& spec, const Evaluation* now, std::vector<Finding>& findings) {
    std::string elsewhere;
    for (const auto& [field, input] : spec.inputs)
        if (!now && spec.lent.count(field) == 0) elsewhere += (elsewhere.empty() ? "“" : ", “") + input.name + "”";
    if (!elsewhere.empty())
        findings.push_back({Severity::Hint,
                            Stage::Sensor,
                            "inputs-elsewhere",
                            "It takes readings of other gauges",
                            "It can be read on the bench that has " + elsewhere + ".",
                            {}});
    for (const ParameterSpec& one : derivedParameters(spec)) {
        if (one.tolerance == ToleranceKind::None) continue;
        const bool isGiven = spec.inputs.count("sensor." + one.id) > 0 || spec.sensor.parameters.has(one.id);
        if (isGiven) continue;
        const std::string unit(one.unitSuffix.empty() ? std::string(canonicalUnit(one.quantity).symbol)
                                                      : one.unitSuffix);
        if (one.defaultValue)
            findings.push_back({Severity::Hint,
                                Stage::Sensor,
                                "usual-value",
                                one.label + " not given",
                                fmt::format("Taken: {} {}.", plainNumber(*one.defaultValue, 7), unit),
                                {}});
        else
            findings.push_back({Severity::Fault,
                                Stage::Sensor,
                                "input-missing",
                                one.label + " not given",
                                "Choose the gauge that reads it on the Inputs sheet, or type a value there.",
                                {}});
    }
    if (now && std::isnan(now->reading()) && !now->at(Stage::Reading).problem.empty() &&
        std::none_of(findings.begin(), findings.end(), [](const Finding& one) { return one.id == "input-missing"; }))
        findings.push_back({Severity::Fault,
                            Stage::Formula,
                            "no-value",
                            "No value from these readings",
                            now->at(Stage::Reading).problem,
                            {}});
}

/// Where two inputs have a cause in common, what that does.
void commonCauses(const Budget& budget, const Unit& unit, std::vector<Finding>& findings) {
    for (const CommonCause& one : budget.common) {
        const double apart = std::sqrt(std::max(0.0, budget.standard * budget.standard - one.variance));
        if (std::abs(apart - budget.standard) < 0.02 * budget.standard) continue;
        findings.push_back(
            {Severity::Hint,
             Stage::Sensor,
             "common-cause",
             "Two inputs share a cause",
             fmt::format("{}: it is in {} of them and is added with its signs. u is {} {}; taken apart it would be {}.",
                         one.label, one.lines, significantDigits(unit.differenceFromCanonical(budget.standard), 2),
                         unit.symbol, significantDigits(unit.differenceFromCanonical(apart), 2)),
             {}});
    }
}

void rateByScatter(const GaugeSpec& spec, const Budget& budget, std::vector<Finding>& findings) {
    const RunningKind* const kind = findRunningKind(spec.sensor.part);
    if (!kind || kind->over != Over::Rate || !budget.sensorStated) return;
    findings.push_back({Severity::Hint,
                        Stage::Formula,
                        "rate-by-scatter",
                        "The ± of a rate is its scatter",
                        "It follows from how the readings lie about their line. An error that is the same at every "
                        "reading drops out. One that grows with the reading is not in it: a sensor that reads 1 % too "
                        "much makes the rate 1 % too large.",
                        {}});
}

}  // namespace

std::vector<Finding> findingsWithoutSensor(const GaugeSpec& spec, const Catalogue& catalogue, const Evaluation* now,
                                           const Budget* budget) {
    const Unit& unit = spec.readingUnit();
    std::vector<Finding> findings;
    rules::examplesOf(spec, catalogue, findings);
    derivedInputs(spec, now, findings);
    if (budget) {
        commonCauses(*budget, unit, findings);
        rateByScatter(spec, *budget, findings);
        if (!budget->sensorStated)
            findings.push_back({Severity::Doubt,
                                Stage::Sensor,
                                "accuracy-unknown",
                                "Accuracy not given",
                                DerivedPath::applies(spec)
                                    ? "Not every reading behind it has an accuracy that somebody stated: what stands "
                                      "behind the ± leaves that out."
                                    : "Nobody said how accurate what the board says is. Enter it on the Converter "
                                      "sheet, or compare it with something better.",
                                {}});
        rules::accuracyWanted(spec, *budget, findings);
    }
    rules::cautionsOf(spec.cautions, {}, findings);
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
    return findings;
}

}  // namespace fg
