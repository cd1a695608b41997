#include "uncertainty/improvements.h"

#include "converters/kind.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

constexpr double kFine = 0.001;
constexpr double kWorthwhile = 0.95;
constexpr double kReferenceBetter = 5;

/// "wiring.fixed_ohm" as its stage's parameter, when it is of that stage.
std::string idOf(const Contribution& line) {
    const std::size_t dot = line.parameter.find('.');
    return dot == std::string::npos ? "" : line.parameter.substr(dot + 1);
}

std::optional<Improvement> byChange(const GaugeSpec& spec, const Catalogue& catalogue, const Contribution& line) {
    Improvement way;
    way.parameter = line.parameter;
    const std::string id = idOf(line);
    if (line.stage == Stage::Wiring && line.spec.quantity == Quantity::Resistance) {
        const std::string toleranceId = line.spec.toleranceId;
        if (spec.wiring.parameters.numberOr(toleranceId, 0) <= kFine) return std::nullopt;
        way.what = "A 0.1 % resistor: " + line.label;
        way.apply = [toleranceId](GaugeSpec& changed) { changed.wiring.parameters.set(toleranceId, kFine); };
    } else if (id == "reference_V") {
        const double volts = effectiveReference_V(effectiveConverter(spec, catalogue));
        way.what = "Measure the reference to ± 0.1 %";
        way.apply = [volts](GaugeSpec& changed) {
            changed.converter.parameters.set("reference_measured_V", volts);
            changed.converter.parameters.set("reference_measured_tolerance", kFine);
        };
    } else if (id == "bits") {
        const double bits = effectiveConverter(spec, catalogue).numberOr("bits", 0);
        if (bits > 22 || spec.converter.kind != "adc") return std::nullopt;
        way.what =
            fmt::format("{} bits instead of {}, or 16 samples added up", plainNumber(bits + 2), plainNumber(bits));
        // Finer codes do not make the converter truer: its error keeps its volts.
        const double error_LSB = effectiveConverter(spec, catalogue).numberOr("error_LSB", 0);
        way.apply = [bits, error_LSB](GaugeSpec& changed) {
            changed.converter.parameters.set("bits", bits + 2);
            changed.converter.parameters.set("error_LSB", 4 * error_LSB);
        };
    } else if (line.cause == Cause::SelfHeating) {
        way.what = "Feed the sensor only while it is read";
        way.apply = [](GaugeSpec& changed) { changed.sensor.parameters.set("dissipation_W_per_K", 0.0); };
    } else {
        return std::nullopt;
    }
    return way;
}

/// A calibration at one point, here, worked as the budget works every calibration.
std::optional<Improvement> byCalibration(const GaugeSpec& spec, const Catalogue& catalogue, const Budget& budget) {
    GaugeSpec calibrated = spec;
    calibrated.correction.kind = "offset";
    calibrated.correction.reference = budget.standard / kReferenceBetter;
    calibrated.correction.points = {{budget.at, budget.at}};
    const auto after = budgetAt(calibrated, catalogue, budget.at);
    if (!after) return std::nullopt;
    return Improvement{"Calibrate here, at one point, against something five times as certain",
                       after->expanded,
                       "correction.points",
                       {}};
}

}  // namespace

std::vector<Improvement> improvements(const GaugeSpec& spec, const Catalogue& catalogue, const Budget& budget) {
    std::vector<Improvement> ways;
    for (const Contribution& line : budget.contributions) {
        auto way = byChange(spec, catalogue, line);
        if (!way) continue;
        GaugeSpec changed = spec;
        way->apply(changed);
        if (line.cause == Cause::SelfHeating) way->apply = {};  // done at the supply, not in the gauge
        const auto after = budgetAt(changed, catalogue, budget.at);
        if (!after) continue;
        way->expanded = after->expanded;
        ways.push_back(std::move(*way));
    }
    if (spec.correction.kind == "none")
        if (auto way = byCalibration(spec, catalogue, budget)) ways.push_back(std::move(*way));
    std::erase_if(ways, [&](const Improvement& way) { return !(way.expanded < kWorthwhile * budget.expanded); });
    std::stable_sort(ways.begin(), ways.end(),
                     [](const Improvement& a, const Improvement& b) { return a.expanded < b.expanded; });
    return ways;
}

}  // namespace fg
