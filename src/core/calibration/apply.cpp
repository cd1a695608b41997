#include "calibration/apply.h"

#include "calibration/study.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

Expected<GaugeSpec> refitted(const GaugeSpec& spec, const Catalogue& catalogue, FitKind kind,
                             const PointsFile& points) {
    const auto fit = fitCurve(kind, points.points, 0, false, *points.unit);
    if (!fit) return tl::unexpected(fit.error());
    const auto part = catalogue.partOrFamily(spec.sensor.part, spec.quantity);
    if (!part) return tl::unexpected(part.error());
    std::vector<std::string> names;
    for (const FitCoefficient& one : fit->coefficients) {
        std::string name = one.name;
        if (kind == FitKind::SteinhartHart) name = std::string(1, static_cast<char>(one.name[0] + ('a' - 'A')));
        names.push_back(name);
    }
    const auto specs = findSensorFamily(part->family)->parameters(spec.quantity);
    const bool fits = std::all_of(names.begin(), names.end(), [&](const std::string& name) {
        return std::any_of(specs.begin(), specs.end(), [&](const ParameterSpec& one) { return one.id == name; });
    });
    if (!fits)
        return fail(
            ErrorCode::Unsupported, "--fit", std::string(fitName(kind)),
            fmt::format("a curve that “{}” computes with; “beta” needs an NTC by R25 and B, “steinhart-hart” one "
                        "by its coefficients",
                        findSensorFamily(part->family)->title));
    GaugeSpec changed = spec;
    changed.correction = {};
    changed.correction.kind = "parameters";
    for (std::size_t i = 0; i < names.size(); ++i) {
        changed.sensor.parameters.set(names[i], fit->coefficients[i].value);
        changed.examples.erase("sensor." + names[i]);
        changed.correction.parameters.push_back(names[i]);
    }
    for (std::size_t i = 0; i < points.points.size(); ++i) {
        const Comparison& point = points.points[i];
        changed.correction.points.push_back({points.unit->toCanonical(point.reference - fit->residuals[i]),
                                             points.unit->toCanonical(point.reference),
                                             points.unit->differenceToCanonical(point.u), point.setAside});
    }
    return changed;
}

}  // namespace

Expected<GaugeSpec> calibrated(const GaugeSpec& spec, const Catalogue& catalogue, FitKind kind,
                               const PointsFile& points, double centre, const CalibrationNotes& notes) {
    if (isRefit(kind) != points.isResistance)
        return fail(ErrorCode::Range, "--fit", std::string(fitName(kind)),
                    points.isResistance ? "“beta”, “steinhart-hart” or “callendar” for resistances"
                                        : "“offset”, “line”, “quadratic” or “cubic” for readings");
    GaugeSpec changed = spec;
    if (isRefit(kind)) {
        auto made = refitted(spec, catalogue, kind, points);
        if (!made) return made;
        changed = std::move(*made);
    } else {
        CorrectionSpec correction;
        correction.centre = kind == FitKind::Offset ? 0 : points.unit->toCanonical(centre);
        correction.points = calibrationPoints(points);
        auto fitted = refit(correction, std::string(fitName(kind)), spec.quantity);
        if (!fitted) return tl::unexpected(fitted.error());
        changed.correction = std::move(*fitted);
    }
    changed.correction.reference = points.unit->differenceToCanonical(notes.shared);
    changed.correction.with = notes.with;
    changed.correction.time = notes.time;
    const auto works = Gauge::make(changed, catalogue);
    if (!works) return tl::unexpected(works.error());
    return changed;
}

Expected<GaugeSpec> refitSensor(const GaugeSpec& spec, const Catalogue& catalogue,
                                const std::vector<CalibrationPoint>& points, const CalibrationNotes& notes) {
    GaugeSpec bare = spec;
    bare.correction = {};
    const auto gauge = Gauge::make(bare, catalogue);
    if (!gauge) return tl::unexpected(gauge.error());
    if (gauge->quantityAt(Stage::Sensor) != Quantity::Resistance || spec.quantity != Quantity::Temperature)
        return fail(ErrorCode::Unsupported, "“" + spec.name + "”", "a sensor that is no resistance",
                    "a thermistor or a platinum element");
    PointsFile file;
    file.unit = &canonicalUnit(Quantity::Temperature);
    file.isResistance = true;
    for (const CalibrationPoint& point : points) {
        const auto evaluation = gauge->evaluate({Stage::World, point.reading});
        const double ohm = evaluation ? evaluation->at(Stage::Sensor).value : std::nan("");
        if (!std::isfinite(ohm))
            return fail(ErrorCode::Domain, "points", "a reading without a resistance", "readings of this gauge");
        file.points.push_back({ohm, point.reference, point.u, point.setAside, 0});
    }
    for (const FitKind kind : {FitKind::SteinhartHart, FitKind::Beta, FitKind::Callendar}) {
        auto changed = calibrated(bare, catalogue, kind, file, 0, notes);
        if (!changed && changed.error().code == ErrorCode::Unsupported) continue;
        if (changed) changed->correction.repeat_days = spec.correction.repeat_days;
        return changed;
    }
    return fail(ErrorCode::Unsupported, "“" + spec.name + "”", "“" + spec.sensor.part + "”",
                "a sensor that computes by Beta, Steinhart–Hart or Callendar–Van Dusen");
}

}  // namespace fg
