#include "uncertainty/budget.h"

#include "path/digital_path.h"

#include "uncertainty/influences.h"
#include "units/number_format.h"

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

std::string toleranceText(const ParameterSpec& spec, double value, double limit) {
    const std::string tolerance = spec.tolerance == ToleranceKind::Relative ? plainNumber(100 * limit / std::abs(value), 3) + " %"
                                                                            : shortEngineering(limit, spec.quantity).joined();
    return fmt::format("{} ± {}", spec.label, tolerance);
}

void addConverterLines(Budget& budget, const AnalogPath& path, double world, double error_LSB) {
    const double counts = path.countsPerUnit(world);
    if (!(counts > 0)) return;
    const double lsb = 1 / counts;
    if (error_LSB > 0)
        budget.contributions.push_back({Stage::Converter, fmt::format("Converter, {} LSB", plainNumber(error_LSB, 3)), error_LSB * lsb,
                                        Distribution::Rectangular, standardOf(error_LSB * lsb, Distribution::Rectangular), 0,
                                        "converter.error_LSB", Cause::ConverterError});
    // One code covers one LSB: ± LSB/2, rectangular, LSB/√12.
    budget.contributions.push_back({Stage::Converter, "Half a code", lsb / 2, Distribution::Rectangular, lsb / std::sqrt(12.0), 0,
                                    "converter.bits", Cause::Quantisation});
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

namespace {

/// A digital part brings its stated accuracy, the size of its own step and the correction; nothing else in its path is analog.
Expected<Budget> deviceBudget(const GaugeSpec& spec, const Catalogue& catalogue, double world) {
    const auto path = DigitalPath::build(spec, catalogue);
    if (!path) return tl::unexpected(path.error());
    const auto evaluation = path->evaluate({Stage::World, world});
    if (!evaluation) return tl::unexpected(evaluation.error());
    Budget budget;
    budget.at = world;
    const double sensed = path->correction().undo(world);
    const auto limit = path->reading() == quantityName(spec.quantity) ? path->part().accuracyAt(spec.quantity, sensed) : std::nullopt;
    budget.sensorStated = limit.has_value();
    if (limit)
        budget.contributions.push_back({Stage::Sensor, "Accuracy of " + path->part().id, *limit, Distribution::Rectangular,
                                        standardOf(*limit, Distribution::Rectangular), 0, "", Cause::SensorAccuracy});
    const DeviceReading* reading = evaluation->device->decoded.find(path->reading());
    if (reading && reading->step > 0)
        budget.contributions.push_back({Stage::Converter, "Half a raw step", reading->step / 2, Distribution::Rectangular,
                                        reading->step / std::sqrt(12.0), 0, "", Cause::Quantisation});
    if (spec.correction.kind != "none" && spec.correction.uncertainty > 0)
        budget.contributions.push_back({Stage::Correction, "Points and fit", spec.correction.uncertainty, Distribution::Normal,
                                        spec.correction.uncertainty / Budget::kCoverage, 0, "correction.uncertainty", Cause::Correction});
    double variance = 0;
    for (const Contribution& line : budget.contributions) variance += line.standard * line.standard;
    budget.standard = std::sqrt(variance);
    budget.expanded = Budget::kCoverage * budget.standard;
    for (Contribution& line : budget.contributions) line.share = variance > 0 ? line.standard * line.standard / variance : 0;
    return budget;
}

}  // namespace

Expected<Budget> budgetAt(const GaugeSpec& spec, const Catalogue& catalogue, double world) {
    if (DigitalPath::applies(spec, catalogue)) return deviceBudget(spec, catalogue, world);
    const auto nominal = AnalogPath::build(spec, catalogue);
    if (!nominal) return tl::unexpected(nominal.error());
    if (!std::isfinite(nominal->exactCode(world)))
        return fail(ErrorCode::Domain, "world", plainNumber(world, 7), "a value for which the path has a code");

    Budget budget;
    budget.at = world;
    const Influences influences = influencesAt(spec, *nominal, catalogue, world);
    budget.sensorStated = influences.sensorAccuracy.has_value();
    if (const auto limit = influences.sensorAccuracy)
        budget.contributions.push_back({Stage::Sensor, "Accuracy of " + nominal->part().id, *limit, Distribution::Rectangular,
                                        standardOf(*limit, Distribution::Rectangular), 0, "", Cause::SensorAccuracy});
    for (const Influence& influence : influences.parameters) {
        const double step = influence.limit / std::sqrt(3.0);
        std::array<double, 2> readings{};
        for (const int side : {0, 1}) {
            GaugeSpec moved = spec;
            parametersOf(moved, influence.stage).set(influence.spec.id, influence.value + (side == 0 ? -step : step));
            const auto hardware = AnalogPath::build(moved, catalogue);
            if (!hardware) return tl::unexpected(hardware.error());
            readings[static_cast<std::size_t>(side)] = nominal->reading(hardware->exactCode(world));
        }
        const double standard = std::abs(readings[1] - readings[0]) / 2;
        if (!std::isfinite(standard))
            return fail(ErrorCode::Domain, "world", plainNumber(world, 7),
                        "a value at which the path still answers when " + influence.spec.label + " is at its tolerance");
        budget.sensorStated = budget.sensorStated || influence.stage == Stage::Sensor;
        const bool cancels = standard < 1e-9 * (std::abs(world) + 1);
        const std::string label =
            cancels ? influence.spec.label + ": cancels" : toleranceText(influence.spec, influence.value, influence.limit);
        budget.contributions.push_back({influence.stage, label, limitOf(standard), Distribution::Rectangular, standard, 0,
                                        std::string(stageName(influence.stage)) + "." + influence.spec.id, Cause::Tolerance});
    }
    if (influences.selfHeating_K > 0)
        budget.contributions.push_back({Stage::Wiring, "Self-heating", influences.selfHeating_K, Distribution::OneSided,
                                        standardOf(influences.selfHeating_K, Distribution::OneSided), 0, "", Cause::SelfHeating});
    addConverterLines(budget, *nominal, world, influences.error_LSB);
    if (influences.correction > 0)
        budget.contributions.push_back({Stage::Correction, "Points and fit", influences.correction, Distribution::Normal,
                                        influences.correction / Budget::kCoverage, 0, "correction.uncertainty", Cause::Correction});

    double variance = 0;
    for (const Contribution& line : budget.contributions) variance += line.standard * line.standard;
    for (Contribution& line : budget.contributions) line.share = variance > 0 ? line.standard * line.standard / variance : 0;
    budget.standard = std::sqrt(variance);
    budget.expanded = Budget::kCoverage * budget.standard;
    return budget;
}

}  // namespace fg
