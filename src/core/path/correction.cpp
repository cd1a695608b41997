#include "path/correction.h"

#include "formula/text.h"
#include "numeric/least_squares.h"
#include "path/correction_basis.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>

namespace fg {
namespace {

constexpr int kChecks = 512;

/// The points that a fit uses, in ascending order of their readings.
std::vector<CalibrationPoint> usedPoints(const CorrectionSpec& spec) {
    std::vector<CalibrationPoint> used;
    for (const CalibrationPoint& point : spec.points)
        if (point.setAside.empty()) used.push_back(point);
    std::stable_sort(used.begin(), used.end(),
                     [](const CalibrationPoint& a, const CalibrationPoint& b) { return a.reading < b.reading; });
    return used;
}

}  // namespace

template <>
double CorrectionFormula<double>::curvedUndo(double corrected) const {
    const auto off = [&](double v) { return v + curvedAmount(v) - corrected; };
    const double low = corrected - curve->amounts.high, high = corrected - curve->amounts.low;
    if (!(off(low) < 0)) return low;
    if (!(off(high) > 0)) return high;
    std::uintmax_t most = 100;
    const auto [a, b] =
        boost::math::tools::toms748_solve(off, low, high, boost::math::tools::eps_tolerance<double>(52), most);
    return (a + b) / 2;
}

/// The fit behind a correction, ready to say how it pulls.
struct Correction::Fit {
    std::vector<CalibrationPoint> points;
    CorrectionBasis basis;
    std::function<Eigen::RowVectorXd(double)> rowAt;  // what the coefficients stand before
    Eigen::MatrixXd projector;
    Eigen::MatrixXd covariance;
    double shared = 0;

    void take(const LeastSquares& fitted) {
        projector = fitted.projector;
        const bool hasOwn = std::all_of(points.begin(), points.end(), [](const auto& point) { return point.u > 0; });
        const double scale = hasOwn ? 1 : (fitted.freedom() > 0 ? fitted.scatter() * fitted.scatter() : 0);
        covariance = fitted.covariance * scale;
    }

    [[nodiscard]] CalibrationPull at(double reading) const {
        CalibrationPull pull;
        pull.shared = shared;
        const double low = points.front().reading, high = points.back().reading;
        const double margin = 0.02 * (high - low);
        pull.isInside = reading >= low - margin && reading <= high + margin;
        pull.distance = pull.isInside ? 0 : std::max(low - reading, reading - high);
        for (const CalibrationPoint& point : points) pull.places.push_back(point.reading);
        if (basis.isTable) {
            pull.weights = tableWeights(std::clamp(reading, low, high));
            double variance = 0;
            for (std::size_t i = 0; i < points.size(); ++i)
                variance += pull.weights[i] * pull.weights[i] * points[i].u * points[i].u;
            pull.random = std::sqrt(variance);
            return pull;
        }
        // A curved one is held beyond its points: so is what it knows there.
        const Eigen::RowVectorXd row = rowAt(basis.isCurved() ? std::clamp(reading, low, high) : reading);
        const Eigen::RowVectorXd weights = row * projector;
        pull.weights.assign(weights.begin(), weights.end());
        pull.random = std::sqrt(std::max(0.0, (row * covariance * row.transpose())(0)));
        return pull;
    }

    [[nodiscard]] std::vector<double> tableWeights(double reading) const {
        std::vector<double> weights(points.size(), 0.0);
        std::size_t i = 0;
        while (i + 2 < points.size() && reading > points[i + 1].reading) ++i;
        if (points.size() == 1) return {1.0};
        const double width = points[i + 1].reading - points[i].reading;
        const double part = width > 0 ? (reading - points[i].reading) / width : 0.5;
        weights[i] = 1 - part;
        weights[i + 1] = part;
        return weights;
    }
};

Expected<Correction> Correction::make(const CorrectionSpec& spec, Quantity quantity) {
    Correction correction;
    if (spec.kind != "none") {
        const auto count = usedPoints(spec).size();
        correction.m_note = spec.kind == "parameters" ? "refitted" : spec.kind;
        if (count > 0) correction.m_note += fmt::format(", {} point{}", count, count == 1 ? "" : "s");
    }
    if (spec.kind == "none" || spec.kind == "parameters") return correction;
    const auto basis = CorrectionBasis::of(spec.kind, spec.centre);
    if (!basis)
        return fail(ErrorCode::Unknown, "correction.kind", "“" + spec.kind + "”",
                    "“none”, “offset”, “line”, “quadratic”, “cubic”, “table” or “parameters”");
    constexpr std::array kFields{"offset", "slope", "quadratic", "cubic"};
    for (std::size_t i = 0; i < kFields.size(); ++i)
        if (!std::isfinite(spec.coefficient(i)))
            return fail(ErrorCode::Range, std::string("correction.") + kFields[i], plainNumber(spec.coefficient(i)),
                        "a number");
    if (!(spec.reference >= 0))
        return fail(ErrorCode::Range, "correction.reference_uncertainty", plainNumber(spec.reference), "0 or more");
    if (!std::isfinite(spec.centre))
        return fail(ErrorCode::Range, "correction.centre", plainNumber(spec.centre), "a number");
    auto points = usedPoints(spec);
    auto& formula = correction.m_formula;
    formula.count = basis->isTable ? 0 : basis->count;
    formula.centre = spec.centre;
    formula.isCentred = spec.centre != 0;
    for (std::size_t i = 0; i < formula.count; ++i) formula.c[i] = spec.coefficient(i);
    if (basis->count == 2 && !(formula.c[1] > -1))
        return fail(ErrorCode::Range, "correction.slope", plainNumber(formula.c[1]),
                    "a slope above −1; it is added to the reading's own slope of 1");
    if (basis->isTable || basis->isCurved()) {
        if (points.size() < 2)
            return fail(ErrorCode::Missing, "correction.points", fmt::format("{}", points.size()),
                        "the points that a “" + spec.kind + "” was found at, at least two");
        const Interval between{points.front().reading, points.back().reading};
        CorrectionFormula<double>::Curve curve{between, {}, {}, symbolOf(quantity).unit, symbolOf(quantity).unit};
        if (basis->isTable) {
            std::vector<Polyline::Point> knots;
            for (const CalibrationPoint& point : points) {
                if (!knots.empty() && !(point.reading > knots.back()[0]))
                    return fail(ErrorCode::Domain, "correction.points", plainNumber(point.reading, 7) + " twice",
                                "one point for each reading of a table; a mean of several");
                knots.push_back({point.reading, point.reference - point.reading});
            }
            curve.table.emplace(std::move(knots));
        }
        if (!(between.high > between.low))
            return fail(ErrorCode::Domain, "correction.points", "one reading at all of them", "points apart");
        formula.curve = std::make_shared<const CorrectionFormula<double>::Curve>(curve);
        Interval amounts{INFINITY, -INFINITY};
        double before = -INFINITY;
        for (int i = 0; i <= kChecks; ++i) {
            const double v = between.low + between.width() * i / kChecks;
            const double amount = formula.curvedAmount(v);
            amounts = {std::min(amounts.low, amount), std::max(amounts.high, amount)};
            if (!(v + amount > before))
                return fail(ErrorCode::Domain, "correction",
                            fmt::format("a corrected reading that falls at {} {}", plainNumber(v, 5),
                                        canonicalUnit(quantity).symbol),
                            "one that rises with the reading everywhere between its points");
            before = v + amount;
        }
        const double slack = 0.01 * (amounts.high - amounts.low) + 1e-9 * (std::abs(amounts.high) + 1);
        curve.amounts = {amounts.low - slack, amounts.high + slack};
        formula.curve = std::make_shared<const CorrectionFormula<double>::Curve>(std::move(curve));
    }
    if (points.empty()) return correction;
    auto fit = std::make_shared<Fit>();
    fit->basis = *basis;
    fit->shared = spec.reference;
    fit->points = std::move(points);
    fit->rowAt = [basis = *basis](double reading) { return basis.rowAt(reading); };
    if (!basis->isTable) {
        const auto fitted = basis->fit(fit->points);
        if (!fitted) return tl::unexpected(fitted.error().within("correction"));
        fit->take(*fitted);
    }
    correction.m_fit = std::move(fit);
    return correction;
}

Expected<void> Correction::refitted(const CorrectionSpec& spec, std::shared_ptr<const Transfer> sensor) {
    auto fit = std::make_shared<Fit>();
    fit->points = usedPoints(spec);
    if (fit->points.empty()) return {};
    std::vector<std::size_t> indices;
    const auto parameters = sensor->parameters();
    for (const std::string& name : spec.parameters) {
        const auto it = std::find_if(parameters.begin(), parameters.end(),
                                     [&](const FormulaParameter& one) { return one.id == name; });
        if (it == parameters.end())
            return fail(ErrorCode::Unknown, "correction.parameters", "“" + name + "”", "a parameter of the sensor");
        indices.push_back(static_cast<std::size_t>(it - parameters.begin()));
    }
    if (indices.empty())
        return fail(ErrorCode::Missing, "correction.parameters", "none",
                    "the parameters of the sensor that the points gave");
    fit->shared = spec.reference;
    fit->basis.count = indices.size();
    fit->basis.isHeld = false;
    fit->rowAt = [sensor = std::move(sensor), indices](double reading) {
        Eigen::RowVectorXd slopes(static_cast<Eigen::Index>(indices.size()));
        const Dual signal(sensor->forward(reading));
        for (std::size_t i = 0; i < indices.size(); ++i) {
            auto moved = sensor->nominalParameters<Dual>();
            moved[indices[i]].slope = 1;
            slopes(static_cast<Eigen::Index>(i)) = sensor->inverseWith(moved, signal).slope;
        }
        return slopes;
    };
    const auto fitted = fitAmounts(fit->points, static_cast<Eigen::Index>(indices.size()), fit->rowAt);
    if (!fitted) return tl::unexpected(fitted.error().within("correction"));
    fit->take(*fitted);
    m_fit = std::move(fit);
    return {};
}

bool Correction::isNone() const {
    return !m_formula.curve && std::all_of(m_formula.c.begin(), m_formula.c.end(), [](double c) { return c == 0; });
}

std::optional<CalibrationPull> Correction::pullAt(double reading) const {
    return m_fit ? std::optional(m_fit->at(reading)) : std::nullopt;
}

Dual Correction::apply(const Dual& value) const { return m_formula.lifted<Dual>().apply(value); }

Recorded Correction::record(Recording& in, const Recorded& value, Quantity quantity) const {
    if (isNone()) return value;
    const auto [id, name, unit] = symbolOf(quantity);
    const auto parameter = [&](std::string_view symbol, std::string_view unitId, double number) {
        return Recorded::leaf(in, Op::Parameter, symbol, unitId, number);
    };
    auto formula = m_formula.lifted<Recorded>();
    constexpr std::array kNames{"a", "b", "c", "d"};
    for (std::size_t i = 0; i < formula.count; ++i)
        formula.c[i] = parameter(kNames[i], i == 0 ? unit : "", m_formula.c[i]);
    if (formula.isCentred) formula.centre = parameter("v0", unit, m_formula.centre);
    return step("corrected", unit, "this gauge's calibration", formula.apply(value));
}

std::vector<TraceLine> Correction::explain(double value, Quantity quantity) const {
    if (isNone()) return {};
    Recording recording;
    const auto [id, name, unit] = symbolOf(quantity);
    return linesOf(record(recording, Recorded::leaf(recording, Op::Input, name, unit, value), quantity));
}

}  // namespace fg
