#include "uncertainty/budget.h"

#include "path/digital_path.h"

#include "uncertainty/calibrated.h"
#include "uncertainty/combine.h"
#include "uncertainty/hardware.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <cctype>
#include <cmath>

namespace fg {
namespace {

constexpr double kStatedCoverage = 2;  // of an uncertainty that somebody states without saying more

double standardOf(double limit, Distribution distribution) {
    switch (distribution) {
        case Distribution::Rectangular:
            return limit / std::sqrt(3.0);
        case Distribution::Normal:
            return limit / kStatedCoverage;
    }
    return limit;
}

double limitOf(double standard) { return standard * std::sqrt(3.0); }

/// A label behind a colon.
std::string lowered(std::string label) {
    if (label.size() > 1 && std::islower(static_cast<unsigned char>(label[1])))
        label[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(label[0])));
    return label;
}

std::string toleranceText(const ParameterSpec& spec, double value, double limit) {
    const std::string tolerance = spec.tolerance == ToleranceKind::Relative
                                      ? plainNumber(100 * limit / std::abs(value), 3) + " %"
                                      : shortEngineering(limit, spec.quantity).joined();
    return fmt::format("{} ± {}", spec.label, tolerance);
}

void addConverterLines(Budget& budget, const AnalogPath& path, double world, const Influences& influences) {
    const double counts = path.countsPerUnit(world);
    if (!(counts > 0)) return;
    const double lsb = 1 / counts, error_LSB = influences.error_LSB;
    if (influences.noise_LSB > 0)
        budget.contributions.push_back(
            {Stage::Converter,
             fmt::format(
                 "Noise of the converter, {} rms",
                 engineering(influences.noise_LSB * path.converter().lsb(), path.converter().input(), 3).joined()),
             kStatedCoverage * influences.noise_LSB * lsb, Distribution::Normal, influences.noise_LSB * lsb, 0,
             "converter.noise_V", Cause::Noise});
    if (error_LSB > 0)
        budget.contributions.push_back({Stage::Converter, fmt::format("Converter, {} LSB", plainNumber(error_LSB, 3)),
                                        error_LSB * lsb, Distribution::Rectangular,
                                        standardOf(error_LSB * lsb, Distribution::Rectangular), 0,
                                        "converter.error_LSB", Cause::ConverterError});
    // One code covers one LSB: ± LSB/2, rectangular, LSB/√12.
    budget.contributions.push_back({Stage::Converter, "Quantisation", lsb / 2, Distribution::Rectangular,
                                    lsb / std::sqrt(12.0), 0, "converter.bits", Cause::Quantisation});
}

Contribution accuracyOf(const std::string& part, double limit) {
    const double standard = standardOf(limit, Distribution::Rectangular);
    return {Stage::Sensor,
            "Accuracy of " + part,
            limit,
            Distribution::Rectangular,
            standard,
            0,
            "",
            Cause::SensorAccuracy,
            {},
            standard};
}

/// What the calibration takes off and brings in. `errorsAt`: the contributions without it at an uncorrected reading.
void correct(Budget& budget, const GaugeSpec& spec, const Correction& correction,
             const std::function<std::vector<Contribution>(double reading)>& errorsAt) {
    if (spec.correction.kind == "none") return;
    if (const auto calibrated = Calibrated::of(spec, correction, budget.at, errorsAt)) {
        calibrated->apply(budget.contributions);
        budget.sensorStated = budget.sensorStated || calibrated->pull().isInside;
    } else if (spec.correction.uncertainty > 0) {
        // Without its points nobody can say what it took off; its own uncertainty comes on top.
        budget.contributions.push_back(
            {Stage::Correction, "Correction, its points not given", spec.correction.uncertainty, Distribution::Normal,
             spec.correction.uncertainty / kStatedCoverage, 0, "correction.uncertainty", Cause::Correction});
    }
}

}  // namespace

Budget budgetOf(const GaugeSpec& spec, const DigitalPath& path, double world, double step) {
    Budget budget;
    budget.at = world;
    const auto accuracyAt = [&](double sensed) {
        std::vector<Contribution> lines;
        const auto limit = path.reading() == quantityName(spec.quantity) ? path.part().accuracyAt(spec.quantity, sensed)
                                                                         : std::nullopt;
        if (limit) lines.push_back(accuracyOf(path.part().id, *limit));
        return lines;
    };
    budget.contributions = accuracyAt(path.correction().undo(world));
    budget.sensorStated = !budget.contributions.empty();
    if (step > 0)
        budget.contributions.push_back({Stage::Converter, "Quantisation", step / 2, Distribution::Rectangular,
                                        step / std::sqrt(12.0), 0, "", Cause::Quantisation});
    correct(budget, spec, path.correction(), accuracyAt);
    combine(budget);
    return budget;
}

Expected<Budget> budgetAt(const GaugeSpec& spec, const Catalogue& catalogue, double world) {
    if (DerivedPath::applies(spec)) {
        const auto path = DerivedPath::build(spec);
        return path ? budgetOf(spec, *path, world) : tl::unexpected(path.error());
    }
    if (SaidPath::applies(spec)) {
        const auto path = SaidPath::build(spec);
        return path ? Expected<Budget>(budgetOf(spec, *path, world)) : tl::unexpected(path.error());
    }
    if (!DigitalPath::applies(spec, catalogue)) {
        const auto path = AnalogPath::build(spec, catalogue);
        return path ? budgetOf(spec, catalogue, *path, world) : tl::unexpected(path.error());
    }
    const auto path = DigitalPath::build(spec, catalogue);
    if (!path) return tl::unexpected(path.error());
    const auto evaluation = path->evaluate({Stage::World, world});
    if (!evaluation) return tl::unexpected(evaluation.error());
    const DeviceReading* reading = evaluation->device->decoded.find(path->reading());
    return budgetOf(spec, *path, world, reading ? reading->step : 0);
}

Expected<Budget> budgetOf(const GaugeSpec& spec, const DerivedPath& path, double reading,
                          std::optional<double> scatter) {
    Budget budget;
    budget.at = reading;
    budget.sensorStated = true;
    const auto parameters = derivedParameters(spec);
    std::vector<double> slopes{1};
    const bool isRate = path.running() && path.running()->over == Over::Rate;
    if (path.law()) {
        for (std::size_t i = 0; i < path.inputs().size(); ++i)
            if (std::isnan(path.inputs()[i]))
                return fail(ErrorCode::Missing, "sensor.parameters." + parameters[i].id,
                            parameters[i].label + " not given", "a value, or the bench with the gauge that reads it");
        std::vector<LawValue> values;
        for (const double input : path.inputs()) values.push_back({input});
        const auto derived = derive(*path.law(), values);
        if (!derived) return tl::unexpected(derived.error());
        slopes = derived->slopes;
    } else if (isRate) {
        // What is the same at every reading does not move a slope; what grows with the reading is not known here.
        slopes = {0};
        budget.sensorStated = scatter.has_value();
        if (scatter)
            budget.contributions.push_back({Stage::Formula, "Scatter of the readings",
                                            kStatedCoverage * *scatter, Distribution::Normal, *scatter, 0, "",
                                            Cause::Noise});
    }
    for (std::size_t i = 0; i < slopes.size(); ++i) {
        const ParameterSpec& taken = parameters[i];
        const std::string field = "sensor." + taken.id;
        const double limit = spec.sensor.parameters.numberOr(taken.toleranceId, 0);
        const double effect = slopes[i] * standardOf(limit, Distribution::Rectangular);
        Contribution line{Stage::Sensor,
                          taken.label,
                          limitOf(std::abs(effect)),
                          Distribution::Rectangular,
                          std::abs(effect),
                          0,
                          field,
                          Cause::Tolerance,
                          taken,
                          effect};
        if (const auto input = spec.inputs.find(field); input != spec.inputs.end()) {
            line.label = fmt::format("{}: {}", input->second.name,
                                     isRate ? "constant error" : lowered(taken.label));
            line.distribution = Distribution::Normal;
            line.limit = kStatedCoverage * line.standard;
            if (const auto lent = spec.lent.find(field); lent != spec.lent.end()) {
                takeOver(line, lent->second, slopes[i]);
                budget.sensorStated = budget.sensorStated && (isRate || lent->second.isStated);
            }
        } else {
            line.label = limit > 0 ? toleranceText(taken, path.inputs()[i], limit) : taken.label + ", no ± given";
            const bool isTaken = taken.defaultValue && !spec.sensor.parameters.has(taken.id);
            if (!(limit > 0) && !isTaken) budget.sensorStated = false;
            if (!(limit > 0) && isTaken) continue;
        }
        budget.contributions.push_back(std::move(line));
    }
    if (path.law() && path.law()->expanded() > 0)
        budget.contributions.push_back({Stage::Formula, "The formula itself", path.law()->expanded(),
                                        Distribution::Normal, path.law()->expanded() / kStatedCoverage, 0, "",
                                        Cause::SensorAccuracy});
    correct(budget, spec, path.correction(), [&](double) { return budget.contributions; });
    combine(budget);
    return budget;
}

Budget budgetOf(const GaugeSpec& spec, const SaidPath& path, double reading) {
    Budget budget;
    budget.at = reading;
    const double limit = spec.sensor.parameters.numberOr("accuracy", 0);
    const auto accuracyAt = [&](double) {
        std::vector<Contribution> lines;
        if (limit > 0) lines.push_back(accuracyOf("what the board says", limit));
        return lines;
    };
    budget.contributions = accuracyAt(reading);
    budget.sensorStated = limit > 0;
    correct(budget, spec, path.correction(), accuracyAt);
    combine(budget);
    return budget;
}

namespace {

/// Everything but the calibration.
Expected<Budget> uncalibrated(const GaugeSpec& spec, const Catalogue& catalogue, const AnalogPath& path, double world) {
    const AnalogPath* const nominal = &path;
    if (!std::isfinite(nominal->exactCode(world)))
        return fail(ErrorCode::Domain, "world", plainNumber(world, 7), "a value for which the path has a code");

    Budget budget;
    budget.at = world;
    const Influences influences = influencesAt(spec, *nominal, catalogue, world);
    budget.sensorStated = influences.sensorAccuracy.has_value();
    if (const auto limit = influences.sensorAccuracy)
        budget.contributions.push_back(accuracyOf(nominal->part().id, *limit));
    const Hardware hardware(*nominal, influences.parameters);
    for (std::size_t i = 0; i < influences.parameters.size(); ++i) {
        const Influence& influence = influences.parameters[i];
        const double step = influence.limit / std::sqrt(3.0);
        const auto readingAt = [&](double value) { return nominal->reading(hardware.exactCodeAt(i, value, world)); };
        const double effect = (readingAt(influence.value + step) - readingAt(influence.value - step)) / 2;
        const double standard = std::abs(effect);
        if (!std::isfinite(standard))
            return fail(ErrorCode::Domain, "world", plainNumber(world, 7),
                        "a value at which the path still answers when " + influence.spec.label +
                            " is at its tolerance");
        budget.sensorStated = budget.sensorStated || influence.stage == Stage::Sensor;
        const bool cancels = standard < 1e-9 * (std::abs(world) + 1);
        const std::string label = cancels ? influence.spec.label + ": cancels"
                                          : toleranceText(influence.spec, influence.value, influence.limit);
        const std::string field = std::string(stageName(influence.stage)) + "." + influence.spec.id;
        Contribution line{
            influence.stage, label, limitOf(standard), Distribution::Rectangular, standard, 0, field, Cause::Tolerance,
            influence.spec,  effect};
        if (const auto lent = spec.lent.find(field); lent != spec.lent.end()) {
            takeOver(line, lent->second, effect / step);
            if (const auto input = spec.inputs.find(field); input != spec.inputs.end())
                line.label = fmt::format("{}: {}", input->second.name, lowered(influence.spec.label));
        } else if (const std::string origin = originOf(spec, influence); !origin.empty()) {
            line.parts = {{origin, label, effect, true}};
        }
        budget.contributions.push_back(std::move(line));
    }
    if (influences.signalTolerance > 0) {
        const double limit = influences.signalTolerance;
        Contribution line = accuracyOf("", limit);
        line.label = "Points and table";
        line.parameter = "sensor.signal_tolerance";
        budget.contributions.push_back(std::move(line));
        budget.sensorStated = true;
    }
    if (const SelfHeating& heating = influences.selfHeating; heating.uncertainty_K > 0)
        budget.contributions.push_back(
            {Stage::Wiring,
             fmt::format("Self-heating, {} K taken off{}", significantDigits(heating.rise_K, 2),
                         heating.isToleranceTaken
                             ? fmt::format(", ± {} % taken", plainNumber(100 * kUsualDissipationTolerance))
                             : ""),
             heating.uncertainty_K, Distribution::Rectangular,
             standardOf(heating.uncertainty_K, Distribution::Rectangular), 0, "sensor.dissipation_W_per_K",
             Cause::SelfHeating});
    addConverterLines(budget, *nominal, world, influences);
    return budget;
}

}  // namespace

Expected<Budget> budgetOf(const GaugeSpec& spec, const Catalogue& catalogue, const AnalogPath& path, double world) {
    auto budget = uncalibrated(spec, catalogue, path, world);
    if (!budget) return budget;
    correct(*budget, spec, path.correction(), [&](double reading) {
        const auto there = uncalibrated(spec, catalogue, path, path.correction().apply(reading));
        return there ? there->contributions : std::vector<Contribution>();
    });
    combine(*budget);
    return budget;
}

}  // namespace fg
