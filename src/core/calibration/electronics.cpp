#include "calibration/electronics.h"

#include "numeric/least_squares.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

constexpr int kMostSteps = 30;
constexpr double kSmallStep = 1e-4;    // of the reference, for its slope
constexpr double kSettled = 1e-12;     // of the reference
constexpr double kLeastEffect = 1e-9;  // of the span for 1 % of the reference: less is a reference that cancels

struct CodePoint {
    double code = 0, reference = 0, u = 0;
};

Expected<Gauge> bareGauge(GaugeSpec spec, const Catalogue& catalogue) {
    spec.correction = {};
    auto gauge = Gauge::make(std::move(spec), catalogue);
    if (gauge && !gauge->analog())
        return fail(ErrorCode::Unsupported, "“" + gauge->spec().name + "”", "a digital part",
                    "a gauge with an analog-to-digital converter");
    return gauge;
}

double codeAt(const Gauge& gauge, double world) {
    const auto evaluation = gauge.evaluate({Stage::World, world});
    return evaluation ? evaluation->at(Stage::Converter).exact : std::nan("");
}

double readingAt(const Gauge& gauge, double code) {
    const auto evaluation = gauge.evaluate({Stage::Converter, code});
    return evaluation ? evaluation->at(Stage::Formula).value : std::nan("");
}

/// The codes behind the readings of the points in use.
Expected<std::vector<CodePoint>> codesOf(const Gauge& gauge, const std::vector<CalibrationPoint>& points,
                                         std::size_t fewest) {
    std::vector<CodePoint> codes;
    for (const CalibrationPoint& point : points)
        if (point.setAside.empty()) codes.push_back({codeAt(gauge, point.reading), point.reference, point.u});
    if (codes.size() < fewest)
        return fail(ErrorCode::Missing, "points", fmt::format("{} in use", codes.size()),
                    fmt::format("{} or more", fewest));
    for (const CodePoint& one : codes)
        if (!std::isfinite(one.code))
            return fail(ErrorCode::Domain, "points", "a reading that no code gives", "readings of this gauge");
    return codes;
}

double worstOf(const Gauge& gauge, const std::vector<CodePoint>& codes) {
    double worst = 0;
    for (const CodePoint& one : codes) worst = std::max(worst, std::abs(readingAt(gauge, one.code) - one.reference));
    return worst;
}

/// The points as the gauge reads them now: their codes are what came.
void keepPoints(GaugeSpec& changed, const CorrectionSpec& old, const std::vector<CalibrationPoint>& points,
                const Gauge& before, const Gauge& now) {
    changed.correction = {};
    changed.correction.with = old.with;
    changed.correction.time = old.time;
    changed.correction.reference = old.reference;
    changed.correction.repeat_days = old.repeat_days;
    changed.correction.points = points;
    for (CalibrationPoint& point : changed.correction.points) {
        const double reading = readingAt(now, codeAt(before, point.reading));
        if (std::isfinite(reading)) point.reading = reading;
    }
}

bool areWeighted(const std::vector<CodePoint>& codes) {
    return std::all_of(codes.begin(), codes.end(), [](const CodePoint& one) { return one.u > 0; });
}

GaugeSpec withReference(const GaugeSpec& spec, double reference_V) {
    GaugeSpec changed = spec;
    changed.converter.parameters.set("reference_measured_V", reference_V);
    changed.correction = {};
    return changed;
}

}  // namespace

Expected<ElectronicsFit> refitReference(const GaugeSpec& spec, const Catalogue& catalogue,
                                        const std::vector<CalibrationPoint>& points) {
    const auto start = bareGauge(spec, catalogue);
    if (!start) return tl::unexpected(start.error());
    const double nominal_V = start->analog()->converter().reference_V();
    if (!(nominal_V > 0))
        return fail(ErrorCode::Unsupported, "“" + spec.name + "”", "a converter without a reference voltage",
                    "an analog-to-digital converter");
    const auto codes = codesOf(*start, points, 1);
    if (!codes) return tl::unexpected(codes.error());
    const bool isWeighted = areWeighted(*codes);
    const double span = spec.spanCanonical().width();
    double reference_V = nominal_V, information = 0;
    const auto residuals = [&](double volts) -> Expected<std::vector<double>> {
        const auto gauge = bareGauge(withReference(spec, volts), catalogue);
        if (!gauge) return tl::unexpected(gauge.error());
        std::vector<double> list;
        for (const CodePoint& one : *codes) list.push_back(readingAt(*gauge, one.code) - one.reference);
        return list;
    };
    for (int step = 0; step < kMostSteps; ++step) {
        const double h = kSmallStep * reference_V;
        const auto here = residuals(reference_V), above = residuals(reference_V + h),
                   below = residuals(reference_V - h);
        if (!here || !above || !below) return tl::unexpected((!here ? here : !above ? above : below).error());
        double gradient = 0, largest = 0;
        information = 0;
        for (std::size_t i = 0; i < codes->size(); ++i) {
            const double slope = ((*above)[i] - (*below)[i]) / (2 * h);
            const double weight = isWeighted ? 1 / ((*codes)[i].u * (*codes)[i].u) : 1;
            information += weight * slope * slope;
            gradient += weight * slope * (*here)[i];
            largest = std::max(largest, std::abs(slope) * reference_V / 100);
        }
        if (!std::isfinite(information) || !std::isfinite(gradient))
            return fail(ErrorCode::Domain, "points", "codes without a reading", "points within the converter's range");
        if (largest < kLeastEffect * span)
            return fail(ErrorCode::Domain, "reference voltage", "one that cancels in this circuit",
                        "a circuit that is not fed from the reference itself");
        const double move = std::clamp(-gradient / information, -0.2 * reference_V, 0.2 * reference_V);
        reference_V += move;
        if (std::abs(move) < kSettled * reference_V) break;
    }
    const auto left = residuals(reference_V);
    if (!left) return tl::unexpected(left.error());
    double squares = 0;
    for (const double one : *left) squares += one * one;
    const double freedom = static_cast<double>(codes->size()) - 1;
    const double standard = isWeighted    ? 1 / std::sqrt(information)
                            : freedom > 0 ? std::sqrt(squares / freedom / information)
                                          : std::nan("");
    ElectronicsFit fit{withReference(spec, reference_V), {{"reference_V", reference_V, "V", standard}}, 0, 0};
    // A tolerance is the half-width of a rectangle: √3 standard uncertainties.
    if (standard > 0)
        fit.spec.converter.parameters.set("reference_measured_tolerance", std::sqrt(3.0) * standard / reference_V);
    fit.before = worstOf(*start, *codes);
    const auto works = bareGauge(fit.spec, catalogue);
    if (!works) return tl::unexpected(works.error());
    keepPoints(fit.spec, spec.correction, points, *start, *works);
    for (const double one : *left) fit.after = std::max(fit.after, std::abs(one));
    return fit;
}

Expected<ElectronicsFit> refitCodes(const GaugeSpec& spec, const Catalogue& catalogue,
                                    const std::vector<CalibrationPoint>& points) {
    const auto gauge = bareGauge(spec, catalogue);
    if (!gauge) return tl::unexpected(gauge.error());
    if (!gauge->analog()->converter().straightOffset())
        return fail(ErrorCode::Unsupported, "“" + spec.name + "”", "a converter whose deviation is known already",
                    "one without");
    const auto codes = codesOf(*gauge, points, 2);
    if (!codes) return tl::unexpected(codes.error());
    // codes that came = ideal + offset + (gain − 1) · ideal
    const auto count = static_cast<Eigen::Index>(codes->size());
    Eigen::MatrixXd design(count, 2);
    Eigen::VectorXd off(count), u(count);
    const bool isWeighted = areWeighted(*codes);
    for (Eigen::Index i = 0; i < count; ++i) {
        const CodePoint& one = (*codes)[static_cast<std::size_t>(i)];
        const double wanted = codeAt(*gauge, one.reference);
        const double step = isWeighted ? std::abs(codeAt(*gauge, one.reference + one.u) - wanted) : 1;
        if (!std::isfinite(wanted) || !(step > 0))
            return fail(ErrorCode::Domain, "points", "a reference that no code stands for",
                        "references within the converter's range");
        design.row(i) << 1, wanted;
        off(i) = one.code - wanted;
        u(i) = step;
    }
    const auto line = leastSquares(design, off, isWeighted ? u : Eigen::VectorXd());
    if (!line) return tl::unexpected(line.error());
    const double scale = isWeighted ? 1 : line->scatter();
    const auto standard = [&](Eigen::Index i) { return scale * std::sqrt(line->covariance(i, i)); };
    const double offset = line->coefficients(0), slope = line->coefficients(1);
    ElectronicsFit fit{spec,
                       {{"offset_LSB", offset, "LSB", standard(0)}, {"gain", 1 + slope, "1", standard(1)}},
                       worstOf(*gauge, *codes),
                       0};
    const double last = gauge->analog()->converter().codeCount() - 1;
    fit.spec.correction = {};
    // The converter's table is over the codes that came: c − ideal with ideal = (c − offset)/gain.
    const auto deviation = [&](double code) { return code - (code - offset) / (1 + slope); };
    fit.spec.converter.parameters.set("nonlinearity_code_LSB",
                                      std::vector<std::array<double, 2>>{{0, deviation(0)}, {last, deviation(last)}});
    const auto works = bareGauge(fit.spec, catalogue);
    if (!works) return tl::unexpected(works.error());
    keepPoints(fit.spec, spec.correction, points, *gauge, *works);
    fit.after = worstOf(*works, *codes);
    return fit;
}

}  // namespace fg
