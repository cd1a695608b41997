#include "calibration/apply.h"

#include "calibration/study.h"

#include <fmt/format.h>
#include <algorithm>

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
        for (const Comparison& point : points.points)
            correction.points.push_back({points.unit->toCanonical(point.x), points.unit->toCanonical(point.reference),
                                         points.unit->differenceToCanonical(point.u), point.setAside});
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

}  // namespace fg
