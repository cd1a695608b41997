#include "calibration/study.h"

#include "path/correction.h"
#include "path/correction_basis.h"
#include "units/number_format.h"
#include "units/value_text.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

constexpr std::array<const char*, 6> kFitKinds{"none", "offset", "line", "quadratic", "cubic", "table"};
constexpr int kBandPlaces = 40;

/// U over the span with that correction, at uncorrected readings.
std::vector<double> expandedOver(GaugeSpec spec, const CorrectionSpec& correction, const Catalogue& catalogue,
                                 const std::vector<double>& readings, bool* isSensorStated = nullptr) {
    spec.correction = correction;
    std::vector<double> expanded;
    const auto gauge = Gauge::make(spec, catalogue);
    const auto applied = Correction::make(correction, spec.quantity);
    for (const double reading : readings) {
        const auto budget =
            gauge && applied ? gauge->budgetAt(applied->apply(reading)) : Expected<Budget>(tl::unexpected(Error{}));
        expanded.push_back(budget ? budget->expanded : std::nan(""));
        if (isSensorStated && budget) *isSensorStated = *isSensorStated && budget->sensorStated;
    }
    return expanded;
}

/// "intercept −0.656 ± 0.12 °C, slope 0.0192 ± 0.002; correlation −0.93".
std::string coefficientsText(const CurveFit& fit, const Unit& unit) {
    std::string text;
    for (const FitCoefficient& one : fit.coefficients) {
        text += (text.empty() ? "" : ", ") + one.name + " " + significantDigits(one.value, 3);
        if (std::isfinite(one.standard)) text += " ± " + significantDigits(2 * one.standard, 2);
        std::string symbol = one.unit == "1" ? "" : one.unit;
        if (const std::size_t at = symbol.find(unit.id); at != std::string::npos)
            symbol.replace(at, unit.id.size(), unit.symbol);
        if (!symbol.empty()) text += " " + symbol;
    }
    if (fit.correlation.size() == 2 && std::isfinite(fit.correlation[0][1]))
        text += "; correlation " + fixedDigits(fit.correlation[0][1], 2);
    return text;
}

std::vector<double> placesOver(const GaugeSpec& spec) {
    const Interval span = spec.spanCanonical();
    std::vector<double> places;
    for (int i = 0; i <= kBandPlaces; ++i) places.push_back(span.low + span.width() * i / kBandPlaces);
    return places;
}

std::vector<Comparison> comparisonsOf(const CorrectionSpec& correction, const Unit& unit) {
    std::vector<Comparison> points;
    for (const CalibrationPoint& point : correction.points)
        points.push_back({unit.fromCanonical(point.reading), unit.fromCanonical(point.reference),
                          unit.differenceFromCanonical(point.u), point.setAside, 0});
    return points;
}

}  // namespace

Expected<double> uncorrectedReading(const Gauge& gauge, std::string_view text) {
    constexpr std::string_view kCode = "code";
    while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
    if (!text.starts_with(kCode)) {
        const auto value = readValue(text, gauge.spec().quantity, &gauge.unit());
        if (!value) return tl::unexpected(value.error().within("reading"));
        return value->canonical;
    }
    const auto entry = gauge.entryOfRaw(text.substr(kCode.size()));
    if (!entry) return tl::unexpected(entry.error().within("code"));
    const auto evaluation = gauge.evaluate(*entry);
    if (!evaluation) return tl::unexpected(evaluation.error().within("code"));
    const StageValue& reading = evaluation->at(Stage::Formula);
    if (!std::isfinite(reading.value) || reading.clip != Clip::None)
        return fail(ErrorCode::Domain, "code", std::string(text.substr(kCode.size())),
                    "a raw value with a reading that is no limit");
    return reading.value;
}

Expected<CorrectionSpec> refit(const CorrectionSpec& correction, const std::string& kind, Quantity quantity) {
    if (kind == "parameters")
        return fail(ErrorCode::Unsupported, "correction", "parameters of the sensor that points gave",
                    "a fit of readings; “fgauge calibrate” fits the sensor anew, from its resistances");
    CorrectionSpec changed = correction;
    changed.kind = kind;
    changed.offset = changed.slope = changed.quadratic = changed.cubic = 0;
    changed.parameters.clear();
    if (kind == "none") return changed;
    changed.uncertainty = 0;
    std::vector<CalibrationPoint> used;
    for (const CalibrationPoint& point : correction.points)
        if (point.setAside.empty()) used.push_back(point);
    const auto basis = CorrectionBasis::of(kind, correction.centre);
    if (basis && !basis->isTable) {
        const auto fit = basis->fit(used);
        if (!fit) return tl::unexpected(fit.error());
        const auto at = [&](Eigen::Index i) { return i < fit->coefficients.size() ? fit->coefficients(i) : 0; };
        changed.offset = at(0);
        changed.slope = at(1);
        changed.quadratic = at(2);
        changed.cubic = at(3);
    }
    const auto works = Correction::make(changed, quantity);
    if (!works) return tl::unexpected(works.error());
    return changed;
}

Expected<CalibrationStudy> studyOf(const GaugeSpec& whole, const Catalogue& catalogue) {
    const auto gauge = Gauge::make(whole, catalogue);
    if (!gauge) return tl::unexpected(gauge.error());
    const auto inForce = Correction::make(whole.correction, whole.quantity);
    if (!inForce) return tl::unexpected(inForce.error());
    // Points taken since are studied as a calibration of their own; what they find is held against the one in force.
    GaugeSpec spec = whole;
    const bool isCheck = !whole.correction.check.empty();
    if (isCheck) {
        spec.correction.points = std::move(spec.correction.check);
        spec.correction.check.clear();
        spec.correction.kind = "none";
    }
    const Unit& unit = spec.readingUnit();
    CalibrationStudy study;
    study.isCheck = isCheck;
    std::vector<const CalibrationPoint*> used;
    for (const CalibrationPoint& point : spec.correction.points) {
        study.points.push_back({point.reference - point.reading, point.reference - inForce->apply(point.reading)});
        if (point.setAside.empty()) used.push_back(&point);
    }
    const std::vector<double> places = placesOver(spec);
    for (const char* kind : kFitKinds) {
        StudiedFit fit;
        fit.kind = kind;
        auto made = refit(spec.correction, kind, spec.quantity);
        if (used.empty() && fit.kind != "none") made = fail(ErrorCode::Missing, "points", "none", "points to fit");
        if (!made) {
            fit.why = fmt::format("{}, expected {}", made.error().found, made.error().expected);
        } else {
            const auto applied = Correction::make(*made, spec.quantity).value();
            for (const CalibrationPoint* point : used)
                fit.worstLeft = std::max(fit.worstLeft, std::abs(point->reference - applied.apply(point->reading)));
            const auto over = expandedOver(spec, *made, catalogue, places, &fit.isSensorStated);
            for (std::size_t i = 0; i < places.size(); ++i)
                if (over[i] > fit.expanded) {
                    fit.expanded = over[i];
                    fit.expandedAt = places[i];
                }
            if (fit.kind == spec.correction.kind || (fit.kind == "none" && study.band.after.empty()))
                study.band.after = over;
            if (fit.kind == "none")
                study.band.before = isCheck ? expandedOver(whole, whole.correction, catalogue, places) : over;
            fit.spec = std::move(*made);
        }
        study.fits.push_back(std::move(fit));
    }
    // As many as the most certain of them deserves.
    double finest = INFINITY;
    for (const StudiedFit& fit : study.fits)
        if (fit.spec && fit.expanded > 0) finest = std::min(finest, fit.expanded);
    study.decimals = std::clamp(decimalsFor(std::isfinite(finest) ? unit.differenceFromCanonical(finest) : 0), 0, 6);
    study.band.reading = places;
    for (const double place : places) study.band.amount.push_back(inForce->amount(place));
    // A correction of another making: typed by hand, or parameters that were fitted.
    const bool isTyped = spec.correction.kind != "none" && (used.empty() || spec.correction.kind == "parameters");
    if (isTyped) study.band.after = expandedOver(spec, spec.correction, catalogue, places);
    if (used.empty()) return study;
    Interval between{INFINITY, -INFINITY};
    for (const CalibrationPoint* point : used)
        between = {std::min(between.low, point->reading), std::max(between.high, point->reading)};
    study.band.points = between;
    const auto comparisons = comparisonsOf(spec.correction, unit);
    const double centre = unit.fromCanonical(spec.correction.centre);
    if (const auto best = recommendedFit(comparisons, centre, true, unit)) {
        study.recommended = fitName(best->kind);
        study.why = best->why;
    }
    const auto kind = fitFromName(spec.correction.kind);
    const auto fit = fitCurve(kind.value_or(FitKind::Offset), comparisons, centre, true, unit);
    // A table goes through its points: without their uncertainties nothing tells what it is worth.
    const bool isBareTable = spec.correction.kind == "table" && spec.correction.reference <= 0 &&
                             std::any_of(used.begin(), used.end(), [](const auto* point) { return !(point->u > 0); });
    if (isBareTable)
        study.findings.push_back(
            {Severity::Doubt, Stage::Correction, "reference-not-given", "Uncertainty of the reference not given",
             "The table goes through every point, so nothing tells how far it may be off: U does not "
             "count it. Give each point its ±.",
             std::nullopt});
    if (!fit || (!kind && spec.correction.kind != "none")) return study;
    if (kind) study.coefficients = coefficientsText(*fit, unit);
    AdviceContext context;
    context.unit = &unit;
    const Interval span = spec.spanCanonical();
    context.span = Interval{unit.fromCanonical(span.low), unit.fromCanonical(span.high)};
    GaugeSpec bare = spec;
    bare.correction = {};
    const auto uncalibrated = Gauge::make(bare, catalogue);
    if (uncalibrated)
        context.expanded = [&unit, &uncalibrated](double reading) {
            const auto budget = uncalibrated->budgetAt(unit.toCanonical(reading));
            return budget ? unit.differenceFromCanonical(budget->expanded) : INFINITY;
        };
    study.findings = calibrationFindings(comparisons, *fit, context);
    const auto unchecked =
        std::count_if(used.begin(), used.end(), [](const auto* point) { return isUnchecked(*point); });
    if (unchecked > 0)
        study.findings.insert(
            study.findings.begin(),
            {Severity::Doubt, Stage::Correction, "reference-unchecked", "Nobody has checked the reference",
             fmt::format("Of {} point{}. Whatever it is off goes into the correction, and U does not count it.",
                         unchecked, unchecked == 1 ? "" : "s"),
             std::nullopt});
    return study;
}

}  // namespace fg
