#include "calibration/advice.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

constexpr double kWorthwhile = 0.8;  // of the leave-one-out error: what one more power must bring it to
constexpr double kStandsOut = 2;     // standard uncertainties
constexpr double kOutlier = 3.5;     // of a residual against the scatter of the others
constexpr double kClose = 0.2;       // of the span
constexpr double kForeign = 3;       // times U of the gauge itself
constexpr int kPlaces = 256;

std::string number(double value, int digits = 3) {
    return std::isfinite(value) ? significantDigits(value, digits) : "unknown";
}

/// The comparison and how far it stands out when the others make the curve.
struct Outlier {
    const Comparison* point = nullptr;
    double off = 0, ratio = 0;
};
std::optional<Outlier> outlierOf(std::span<const Comparison> points, const CurveFit& fit) {
    if (fit.leaveOneOut.size() < coefficientsOf(fit.kind) + 3) return std::nullopt;
    double sum = 0;
    for (std::size_t i = 0; i < points.size(); ++i)
        if (points[i].setAside.empty()) sum += fit.residuals[i] * fit.residuals[i];
    const auto freedom = static_cast<double>(fit.leaveOneOut.size() - coefficientsOf(fit.kind));
    std::optional<Outlier> worst;
    for (std::size_t i = 0, used = 0; i < points.size(); ++i) {
        if (!points[i].setAside.empty()) continue;
        const double off = fit.leaveOneOut[used++], residual = fit.residuals[i];
        // The scatter of the others: what this one adds to the sum is residual · leave-one-out.
        const double others = std::sqrt(std::max(0.0, sum - residual * off) / std::max(1.0, freedom - 1));
        const double own = off == 0 ? 1 : std::sqrt(std::abs(residual / off));  // √(1 − leverage)
        const double ratio = others > 0 ? std::abs(residual) / (others * own) : 0;
        // What its own uncertainty explains does not stand out, however well the others happen to agree.
        const bool isExplained = points[i].u > 0 && std::abs(off) < kStandsOut * points[i].u;
        if (!isExplained && (!worst || ratio > worst->ratio)) worst = Outlier{&points[i], off, ratio};
    }
    return worst && worst->ratio > kOutlier ? worst : std::nullopt;
}

/// Every one of the used points is farther off than the gauge can be.
bool isForeign(std::span<const Comparison> points, const AdviceContext& context) {
    return std::all_of(points.begin(), points.end(), [&](const Comparison& point) {
        const double own = context.expanded(point.x);
        return !point.setAside.empty() ||
               (own > 0 && std::isfinite(own) && std::abs(point.reference - point.x) > kForeign * own + 2 * point.u);
    });
}

std::string placeOf(const Comparison& point) {
    return point.line > 0 ? fmt::format("line {}", point.line) : number(point.x, 5);
}

}  // namespace

Expected<Recommended> recommendedFit(std::span<const Comparison> points, double centre, bool isOfCorrection,
                                     const Unit& unit) {
    auto best = fitCurve(FitKind::Offset, points, centre, isOfCorrection, unit);
    if (!best) return tl::unexpected(best.error());
    Recommended choice{FitKind::Offset, ""};
    const auto used = best->leaveOneOut.size();
    const std::string symbol(unit.symbol);
    std::string rejected;
    for (const FitKind kind : {FitKind::Line, FitKind::Quadratic, FitKind::Cubic}) {
        if (used < coefficientsOf(kind) + (kind == FitKind::Line ? 0 : 2)) break;
        const auto next = fitCurve(kind, points, centre, isOfCorrection, unit);
        if (!next) break;
        const FitCoefficient& last = next->coefficients.back();
        const double value = kind == FitKind::Line && !isOfCorrection ? last.value - 1 : last.value;
        const bool hasFreedom = used > coefficientsOf(kind);
        const bool standsOut = !(last.standard > 0) || std::abs(value) > kStandsOut * last.standard;
        const bool isBetter = hasFreedom ? next->leaveOneOutRms < kWorthwhile * best->leaveOneOutRms : true;
        if (!isBetter || !standsOut) {
            if (rejected.empty())
                rejected = hasFreedom ? fmt::format("a {} would bring it to {} {} and its {} is {} ± {}", fitName(kind),
                                                    number(next->leaveOneOutRms), symbol, last.name, number(last.value),
                                                    number(2 * last.standard, 2))
                                      : "";
            continue;
        }
        best = next;
        choice.kind = kind;
        rejected.clear();
    }
    choice.why = std::isfinite(best->leaveOneOutRms)
                     ? fmt::format("“{}”: a point left out would be off by {} {}", fitName(choice.kind),
                                   number(best->leaveOneOutRms), symbol)
                     : fmt::format("“{}”: {} point(s) support no more", fitName(choice.kind), used);
    if (!rejected.empty()) choice.why += "; " + rejected;
    return choice;
}

std::vector<Finding> calibrationFindings(std::span<const Comparison> points, const CurveFit& fit,
                                         const AdviceContext& context) {
    std::vector<Finding> findings;
    const std::string unit = context.unit ? " " + std::string(context.unit->symbol) : "";
    const auto add = [&](Severity severity, const char* id, const std::string& title, const std::string& detail) {
        findings.push_back({severity, Stage::Correction, id, title, detail, std::nullopt});
    };
    Interval between{INFINITY, -INFINITY};
    double largestU = 0;
    std::size_t used = 0;
    for (const Comparison& point : points) {
        if (!point.setAside.empty()) continue;
        ++used;
        between = {std::min(between.low, point.x), std::max(between.high, point.x)};
        largestU = std::max(largestU, point.u);
    }
    const std::size_t count = coefficientsOf(fit.kind);
    if (used == count && count > 1)
        add(Severity::Doubt, "no-freedom", "No point is left to check the fit",
            fmt::format(
                "{} points for {} coefficients: the curve goes through all of them, and nothing tells how far it "
                "can be trusted between them. One point more would.",
                used, count));
    if (!fit.isWeighted)
        add(Severity::Hint, "reference-not-given", "Uncertainty of the reference not given",
            "The scatter about the curve counts alone; what the reference is off at all points alike does not show in "
            "it. "
            "Give u_reference.");
    if (!isRefit(fit.kind) && count > 1 && context.span && between.high - between.low < kClose * context.span->width())
        add(Severity::Doubt, "points-close", "Points close together",
            fmt::format("They lie within {}{} of the {}{} that the gauge is for: the slope hangs on their scatter.",
                        number(between.high - between.low), unit, number(context.span->width()), unit));
    if (context.at && (*context.at < between.low || *context.at > between.high))
        add(Severity::Doubt, "extrapolation", "Outside the points",
            fmt::format("{}{} lies outside {} … {}{}: nothing was compared there.", number(*context.at, 5), unit,
                        number(between.low, 5), number(between.high, 5), unit));
    else if (!isRefit(fit.kind) && context.span && count > 1 &&
             (context.span->low < between.low - 0.1 * context.span->width() ||
              context.span->high > between.high + 0.1 * context.span->width()))
        add(Severity::Hint, "extrapolation", "The span goes beyond the points",
            fmt::format("The gauge is for {} … {}{}, compared was {} … {}{}: outside the old uncertainty holds.",
                        number(context.span->low, 4), number(context.span->high, 4), unit, number(between.low, 4),
                        number(between.high, 4), unit));
    if (const auto outlier = outlierOf(points, fit))
        add(Severity::Doubt, "outlier", "One point does not fit the others",
            fmt::format(
                "{}: {}{} from the curve of the others, {} times their scatter. Look at it; set it aside with the "
                "reason if there is one.",
                placeOf(*outlier->point), number(outlier->off), unit, number(outlier->ratio, 2)));
    if (context.expanded && used > 0 && isForeign(points, context))
        add(Severity::Doubt, "points-foreign", "Are these points of this gauge?",
            fmt::format("Every point is off by more than {} times what this gauge may be off there. Points of another "
                        "gauge, readings in another unit and swapped columns look like that.",
                        number(kForeign)));
    if (context.expanded && largestU > 0) {
        const double own = context.expanded((between.low + between.high) / 2);
        if (2 * largestU > own)
            add(Severity::Doubt, "reference-worse", "The reference is no better than the gauge",
                fmt::format(
                    "± {}{} (k = 2) against ± {}{} of the gauge itself: the correction would carry the error of "
                    "the reference into it.",
                    number(2 * largestU, 2), unit, number(own, 2), unit));
    }
    if (!isRefit(fit.kind)) {
        double before = -INFINITY, largest = 0, uncertainty = 0;
        for (int i = 0; i <= kPlaces; ++i) {
            const double x = between.low + (between.high - between.low) * i / kPlaces;
            const Prediction there = fit.at(x);
            const double corrected = fit.isOfCorrection ? x + there.value : there.value;
            if (between.high > between.low && !(corrected > before)) {
                add(Severity::Fault, "not-monotonic", "The corrected reading turns round",
                    fmt::format(
                        "At {}{} it falls while the reading rises: two readings would become one. Take a simpler "
                        "curve.",
                        number(x, 5), unit));
                break;
            }
            before = corrected;
            largest = std::max(largest, std::abs(corrected - x));
            uncertainty = std::max(uncertainty, 2 * there.standard);
        }
        if (std::isfinite(uncertainty) && uncertainty > 0 && largest < uncertainty)
            add(Severity::Hint, "no-help", "The correction does not help",
                fmt::format("It moves the reading by at most {}{}, less than its own uncertainty of ± {}{}.",
                            number(largest, 2), unit, number(uncertainty, 2), unit));
    }
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
    return findings;
}

}  // namespace fg
