#include "uncertainty/budget.h"

#include "converters/kind.h"
#include "sensors/family.h"
#include "units/number_format.h"
#include "wiring/kind.h"

#include <fmt/format.h>
#include <cmath>

namespace fg {
namespace {

double standardOf(double limit, Distribution distribution) {
    switch (distribution) {
        case Distribution::Rectangular:
            return limit / std::sqrt(3.0);
        case Distribution::OneSided:
            return limit / std::sqrt(12.0);
        case Distribution::Normal:
            return limit / Budget::kCoverage;
    }
    return limit;
}

double limitOf(double standard) { return standard * std::sqrt(3.0); }

/// A parameter of the gauge that has a tolerance, ready to be moved.
struct Influence {
    Stage stage;
    const ParameterSpec* spec;
    double value = 0;
    double limit = 0;  ///< in the parameter's own unit
};

Parameters& parametersOf(GaugeSpec& gauge, Stage stage) {
    if (stage == Stage::Sensor) return gauge.sensor.parameters;
    return stage == Stage::Wiring ? gauge.wiring.parameters : gauge.converter.parameters;
}

std::string toleranceText(const ParameterSpec& spec, double value, double limit) {
    const std::string tolerance = spec.tolerance == ToleranceKind::Relative ? plainNumber(100 * limit / std::abs(value), 3) + " %"
                                                                            : shortEngineering(limit, spec.quantity).joined();
    return fmt::format("{} ± {}", spec.label, tolerance);
}

/// Collects every parameter of one stage whose tolerance is stated, after defaults of part and converter.
void collect(std::vector<Influence>& influences, Stage stage, const std::vector<ParameterSpec>& specs, const Parameters& effective) {
    for (const ParameterSpec& spec : specs) {
        if (spec.tolerance == ToleranceKind::None) continue;
        const double value = effective.numberOr(spec.id, spec.defaultValue.value_or(0));
        const double tolerance = effective.numberOr(spec.toleranceId, 0);
        const double limit = spec.tolerance == ToleranceKind::Relative ? std::abs(value) * tolerance : tolerance;
        if (limit > 0) influences.push_back({stage, &spec, value, limit});
    }
}

void addConverterLines(Budget& budget, const AnalogPath& path, double world, double error_LSB) {
    const double counts = path.countsPerUnit(world);
    if (!(counts > 0)) return;
    const double lsb = 1 / counts;
    if (error_LSB > 0)
        budget.contributions.push_back({Stage::Converter, fmt::format("Converter, {} LSB", plainNumber(error_LSB, 3)), error_LSB * lsb,
                                        Distribution::Rectangular, standardOf(error_LSB * lsb, Distribution::Rectangular), 0,
                                        "converter.error_LSB"});
    // One code covers one LSB: ± LSB/2, rectangular, LSB/√12.
    budget.contributions.push_back(
        {Stage::Converter, "Half a code", lsb / 2, Distribution::Rectangular, lsb / std::sqrt(12.0), 0, "converter.bits"});
}

}  // namespace

std::optional<SelfHeating> selfHeatingAt(const GaugeSpec& spec, const AnalogPath& path, double world) {
    if (path.signalQuantity() != Quantity::Resistance || spec.wiring.kind != "divider") return std::nullopt;
    const double resistance_ohm = path.sensor().forward(path.correction().undo(world));
    const double fixed_ohm = spec.wiring.parameters.numberOr("fixed_ohm", 0);
    if (!(resistance_ohm >= 0) || !(fixed_ohm > 0)) return std::nullopt;
    SelfHeating heating;
    heating.current_A = path.source_V() / (resistance_ohm + fixed_ohm);
    heating.power_W = heating.current_A * heating.current_A * resistance_ohm;
    const double dissipation = spec.sensor.parameters.over(path.part().parameters).numberOr("dissipation_W_per_K", 0);
    heating.rise_K = dissipation > 0 ? heating.power_W / dissipation : 0;
    return heating;
}

Expected<Budget> budgetAt(const GaugeSpec& spec, const Catalogue& catalogue, double world) {
    const auto nominal = AnalogPath::build(spec, catalogue);
    if (!nominal) return tl::unexpected(nominal.error());
    if (!std::isfinite(nominal->exactCode(world)))
        return fail(ErrorCode::Domain, "world", plainNumber(world, 7), "a value for which the path has a code");

    Budget budget;
    budget.at = world;
    const Part& part = nominal->part();
    const Parameters sensor = spec.sensor.parameters.over(part.parameters);
    const ConverterPart* converterPart = spec.converter.part.empty() ? nullptr : catalogue.findConverter(spec.converter.part);
    const Parameters converter = converterPart ? spec.converter.parameters.over(converterPart->parameters) : spec.converter.parameters;

    const auto sensorSpecs = findSensorFamily(part.family)->parameters(spec.quantity);
    const auto wiringSpecs = findWiringKind(spec.wiring.kind)->parameters();
    const ConverterKind* converterKind = findConverterKind(spec.converter.kind);
    const auto adcSpecs = converterKind->parameters();
    std::vector<Influence> influences;
    collect(influences, Stage::Sensor, sensorSpecs, sensor);
    collect(influences, Stage::Wiring, wiringSpecs, spec.wiring.parameters);
    collect(influences, Stage::Converter, adcSpecs, converter);
    std::erase_if(influences, [&](const Influence& influence) {
        // A rail's tolerance counts only when the rail feeds the sensor; a nominal reference no longer counts once it has been measured.
        if (influence.spec->id == "source_V") return nominal->isRatiometric();
        if (influence.spec->id == "reference_V") return converter.numberOr("reference_measured_V", 0) > 0;
        return influence.spec->id == "reference_measured_V" && !(converter.numberOr("reference_measured_V", 0) > 0);
    });

    const auto addSensorAccuracy = [&] {
        const auto limit = part.accuracyAt(world);
        if (limit)
            budget.contributions.push_back({Stage::Sensor, "Accuracy of " + part.id, *limit, Distribution::Rectangular,
                                            standardOf(*limit, Distribution::Rectangular), 0, ""});
        budget.sensorStated = limit.has_value();
    };
    addSensorAccuracy();
    for (const Influence& influence : influences) {
        const double step = influence.limit / std::sqrt(3.0);
        std::array<double, 2> readings{};
        for (const int side : {0, 1}) {
            GaugeSpec moved = spec;
            parametersOf(moved, influence.stage).set(influence.spec->id, influence.value + (side == 0 ? -step : step));
            const auto hardware = AnalogPath::build(moved, catalogue);
            if (!hardware) return tl::unexpected(hardware.error());
            readings[static_cast<std::size_t>(side)] = nominal->reading(hardware->exactCode(world));
        }
        const double standard = std::abs(readings[1] - readings[0]) / 2;
        if (!std::isfinite(standard))
            return fail(ErrorCode::Domain, "world", plainNumber(world, 7),
                        "a value at which the path still answers when " + influence.spec->label + " is at its tolerance");
        budget.sensorStated = budget.sensorStated || influence.stage == Stage::Sensor;
        const bool cancels = standard < 1e-9 * (std::abs(world) + 1);
        const std::string label =
            cancels ? influence.spec->label + ": cancels" : toleranceText(*influence.spec, influence.value, influence.limit);
        budget.contributions.push_back({influence.stage, label, limitOf(standard), Distribution::Rectangular, standard, 0,
                                        std::string(stageName(influence.stage)) + "." + influence.spec->id});
    }
    if (const auto heating = selfHeatingAt(spec, *nominal, world); heating && heating->rise_K > 0)
        budget.contributions.push_back({Stage::Wiring, "Self-heating", heating->rise_K, Distribution::OneSided,
                                        standardOf(heating->rise_K, Distribution::OneSided), 0, ""});
    double error_LSB = converter.numberOr("error_LSB", 0);
    for (const ParameterSpec& one : adcSpecs)
        if (one.id == "error_LSB") error_LSB = converter.numberOr(one.id, one.defaultValue.value_or(0));
    addConverterLines(budget, *nominal, world, error_LSB);
    if (spec.correction.kind != "none" && spec.correction.uncertainty > 0)
        budget.contributions.push_back({Stage::Correction, "Points and fit", spec.correction.uncertainty, Distribution::Normal,
                                        spec.correction.uncertainty / Budget::kCoverage, 0, "correction.uncertainty"});

    double variance = 0;
    for (const Contribution& line : budget.contributions) variance += line.standard * line.standard;
    for (Contribution& line : budget.contributions) line.share = variance > 0 ? line.standard * line.standard / variance : 0;
    budget.standard = std::sqrt(variance);
    budget.expanded = Budget::kCoverage * budget.standard;
    return budget;
}

}  // namespace fg
