#include "findings/finding.h"

#include "findings/rules.h"

#include <algorithm>
#include <array>

namespace fg {

std::string_view severityName(Severity severity) {
    constexpr std::array<std::string_view, 4> names{"fault", "doubt", "hint", "care"};
    return names[static_cast<std::size_t>(severity)];
}

std::vector<Finding> findingsFor(const GaugeSpec& spec, const AnalogPath& path, const Catalogue& catalogue,
                                 const Evaluation* now, const Budget* budget, const MonteCarlo* run) {
    constexpr std::array all{rules::examples,       rules::referenceFeed,   rules::currentLoop, rules::remarks,
                             rules::converterTraps, rules::setupWords,      rules::clipped,     rules::pinOvervoltage,
                             rules::sensorSupply,   rules::reference,       rules::rangeUsed,   rules::sensorRange,
                             rules::selfHeating,    rules::accuracy,        rules::resolution,  rules::sourceImpedance,
                             rules::pressureKind,   rules::chipSensor,      rules::cable,       rules::percentOfWhat,
                             rules::codeLaw,        rules::supplyReference, rules::decimals,    rules::monteCarlo,
                             rules::cautions};
    const ConverterPart* part = spec.converter.part.empty() ? nullptr : catalogue.findConverter(spec.converter.part);
    const FindingContext context{spec, path, catalogue, now, budget, run, effectiveConverter(spec, catalogue), part};
    std::vector<Finding> findings;
    for (const auto rule : all) rule(context, findings);
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
    return findings;
}

Finding findingFromError(const Error& error) {
    Stage stage = Stage::World;
    for (const Stage candidate : kStages)
        if (error.where.find(stageName(candidate)) == 0) stage = candidate;
    return {Severity::Fault, stage, "cannot-build", "This gauge has no value yet", error.message(), {}};
}

}  // namespace fg
