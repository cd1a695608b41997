#include "uncertainty/influences.h"

#include "converters/kind.h"
#include "uncertainty/budget.h"
#include "wiring/kind.h"

#include <cmath>

namespace fg {
namespace {

/// Every parameter of one stage whose tolerance is stated, after defaults of part and converter.
void collect(std::vector<Influence>& influences, Stage stage, const std::vector<ParameterSpec>& specs,
             const Parameters& effective) {
    for (const ParameterSpec& spec : specs) {
        if (spec.tolerance == ToleranceKind::None) continue;
        const double value = effective.numberOr(spec.id, spec.defaultValue.value_or(0));
        const double tolerance = effective.numberOr(spec.toleranceId, 0);
        const double limit = spec.tolerance == ToleranceKind::Relative ? std::abs(value) * tolerance : tolerance;
        if (limit > 0) influences.push_back({stage, spec, value, limit});
    }
}

}  // namespace

Influences influencesAt(const GaugeSpec& spec, const AnalogPath& nominal, const Catalogue& catalogue, double world) {
    const Part& part = nominal.part();
    const Parameters converter = effectiveConverter(spec, catalogue);
    const auto converterSpecs = findConverterKind(spec.converter.kind)->parameters();
    Influences influences;
    collect(influences.parameters, Stage::Sensor, findSensorFamily(part.family)->parameters(spec.quantity),
            spec.sensor.parameters.over(part.parameters));
    collect(influences.parameters, Stage::Wiring, findWiringKind(spec.wiring.kind)->parameters(),
            spec.wiring.parameters);
    collect(influences.parameters, Stage::Converter, converterSpecs, converter);
    const bool isMeasured = converter.numberOr("reference_measured_V", 0) > 0;
    std::erase_if(influences.parameters, [&](const Influence& influence) {
        // A rail's tolerance counts only when the rail feeds the sensor; a nominal reference no longer counts once it
        // has been measured.
        if (influence.spec.id == "source_V") return nominal.isRatiometric();
        if (influence.spec.id == "reference_V") return isMeasured;
        return influence.spec.id == "reference_measured_V" && !isMeasured;
    });
    influences.sensorAccuracy = part.accuracyAt(world);
    const std::string measurandUnit(canonicalUnit(spec.quantity).id),
        signalUnit(canonicalUnit(nominal.signalQuantity()).id);
    if (const double own = spec.sensor.parameters.numberOr("accuracy_" + measurandUnit, 0); own > 0)
        influences.sensorAccuracy = own;
    if (const double tolerance = spec.sensor.parameters.numberOr("signal_tolerance_" + signalUnit, 0); tolerance > 0) {
        const double signal = nominal.signalAt(world);
        const auto at = [&](double moved) { return nominal.correction().apply(nominal.sensor().inverse(moved)); };
        const double limit = std::abs(at(signal + tolerance) - at(signal - tolerance)) / 2;
        if (std::isfinite(limit)) influences.signalTolerance = limit;
    }
    for (const ParameterSpec& one : converterSpecs)
        if (one.id == "error_LSB") influences.error_LSB = converter.numberOr(one.id, one.defaultValue.value_or(0));
    if (const auto heating = nominal.heat().at(nominal.signalAt(world))) influences.selfHeating = *heating;
    influences.noise_LSB = nominal.converterNoise() / nominal.converter().lsb();
    if (spec.correction.kind != "none" && spec.correction.points.empty())
        influences.correction = std::max(0.0, spec.correction.uncertainty);
    return influences;
}

}  // namespace fg
