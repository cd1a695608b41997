#include "calibration/fit.h"

#include "numeric/least_squares.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

constexpr double kKelvin = 273.15, kT25 = 298.15;
constexpr double kNone = std::numeric_limits<double>::quiet_NaN();

struct Name {
    FitKind kind;
    std::string_view name;
    std::size_t count;
};
constexpr std::array<Name, 7> kNames{{{FitKind::Offset, "offset", 1},
                                      {FitKind::Line, "line", 2},
                                      {FitKind::Quadratic, "quadratic", 3},
                                      {FitKind::Cubic, "cubic", 4},
                                      {FitKind::SteinhartHart, "steinhart-hart", 3},
                                      {FitKind::Beta, "beta", 2},
                                      {FitKind::Callendar, "callendar", 3}}};
const Name& nameOf(FitKind kind) {
    return *std::find_if(kNames.begin(), kNames.end(), [&](const Name& one) { return one.kind == kind; });
}

/// A comparison as the linear fit sees it: y ≈ row · c, and how far y moves when the reference moves by one.
struct Row {
    Eigen::RowVectorXd row;
    double y = 0;
    double perReference = 1;
};

Row rowOf(FitKind kind, double x, double reference, double centre, bool isOfCorrection) {
    const auto count = static_cast<Eigen::Index>(coefficientsOf(kind));
    Row made;
    made.row.resize(count);
    const double celsius = reference, kelvin = celsius + kKelvin, lnR = std::log(x);
    switch (kind) {
        case FitKind::Offset:
        case FitKind::Line:
        case FitKind::Quadratic:
        case FitKind::Cubic: {
            double power = 1;
            for (double& one : made.row) {
                one = power;
                power *= x - centre;
            }
            // An offset is the one curve that always goes on top of the reading.
            made.y = isOfCorrection || kind == FitKind::Offset ? reference - x : reference;
            return made;
        }
        case FitKind::SteinhartHart:
            made.row << 1, lnR, lnR * lnR * lnR;
            break;
        case FitKind::Beta:
            made.row << 1, lnR;
            break;
        case FitKind::Callendar:
            // Here the reference is on the other side: R over t.
            made.row << 1, celsius, celsius * celsius;
            made.y = x;
            return made;
    }
    made.y = 1 / kelvin;
    made.perReference = 1 / (kelvin * kelvin);
    return made;
}

/// °C at which a temperature curve has that resistance.
double temperatureAt(const CurveFit& fit, double ohm) {
    if (fit.kind == FitKind::Callendar) {
        const double a = fit.raw[2], b = fit.raw[1], c = fit.raw[0] - ohm;
        if (std::abs(a) < 1e-15) return -c / b;
        const double root = b * b - 4 * a * c;
        return root < 0 ? kNone : (-b + std::sqrt(root)) / (2 * a);
    }
    const double lnR = std::log(ohm);
    const double inverse =
        fit.raw[0] + fit.raw[1] * lnR + (fit.kind == FitKind::SteinhartHart ? fit.raw[2] * lnR * lnR * lnR : 0);
    return 1 / inverse - kKelvin;
}

double powersAt(const CurveFit& fit, double x) {
    double sum = 0, power = 1;
    for (const double one : fit.raw) {
        sum += one * power;
        power *= x - fit.centre;
    }
    return fit.kind == FitKind::Offset && !fit.isOfCorrection ? x + sum : sum;
}

/// How the value at x moves with each raw coefficient.
Eigen::RowVectorXd slopesAt(const CurveFit& fit, double x) {
    if (!isRefit(fit.kind)) return rowOf(fit.kind, x, 0, fit.centre, fit.isOfCorrection).row;
    const double celsius = temperatureAt(fit, x);
    const Row row = rowOf(fit.kind, x, celsius, 0, false);
    if (fit.kind == FitKind::Callendar) return -row.row / (fit.raw[1] + 2 * fit.raw[2] * celsius);
    return -row.row * (celsius + kKelvin) * (celsius + kKelvin);
}

Eigen::MatrixXd matrixOf(const std::vector<std::vector<double>>& rows) {
    const auto size = static_cast<Eigen::Index>(rows.size());
    Eigen::MatrixXd matrix(size, size);
    for (Eigen::Index i = 0; i < size; ++i)
        for (Eigen::Index j = 0; j < size; ++j)
            matrix(i, j) = rows[static_cast<std::size_t>(i)][static_cast<std::size_t>(j)];
    return matrix;
}

/// The coefficients as people know them, and how they move with the fitted ones.
void name(CurveFit& fit, const Unit& unit) {
    const std::size_t count = fit.raw.size();
    Eigen::MatrixXd moves =
        Eigen::MatrixXd::Identity(static_cast<Eigen::Index>(count), static_cast<Eigen::Index>(count));
    std::vector<std::string> names, units;
    std::vector<double> values = fit.raw;
    const std::string id(unit.id);
    switch (fit.kind) {
        case FitKind::Offset:
            names = {"offset"}, units = {id};
            break;
        case FitKind::Line:
            names = {"intercept", "slope"}, units = {id, "1"};
            break;
        case FitKind::Quadratic:
        case FitKind::Cubic:
            names = {"c0", "c1", "c2", "c3"}, units = {id, "1", "1/" + id, "1/" + id + "^2"};
            names.resize(count);
            units.resize(count);
            break;
        case FitKind::SteinhartHart:
            names = {"A", "B", "C"}, units = {"1/K", "1/K", "1/K"};
            break;
        case FitKind::Beta: {
            names = {"r25_ohm", "beta_K"};
            units = {"ohm", "K"};
            const double a = fit.raw[0], b = fit.raw[1], r25 = std::exp((1 / kT25 - a) / b);
            values = {r25, 1 / b};
            moves << -r25 / b, -r25 * (1 / kT25 - a) / (b * b), 0, -1 / (b * b);
            break;
        }
        case FitKind::Callendar: {
            names = {"R0", "A", "B"};
            units = {"ohm", "1/degC", "1/degC^2"};
            const double r0 = fit.raw[0];
            values = {r0, fit.raw[1] / r0, fit.raw[2] / r0};
            moves << 1, 0, 0, -values[1] / r0, 1 / r0, 0, -values[2] / r0, 0, 1 / r0;
            break;
        }
    }
    const Eigen::MatrixXd covariance = moves * matrixOf(fit.rawCovariance) * moves.transpose();
    for (std::size_t i = 0; i < count; ++i) {
        const auto row = static_cast<Eigen::Index>(i);
        fit.coefficients.push_back({names[i], values[i], units[i], std::sqrt(covariance(row, row))});
        std::vector<double> line;
        for (Eigen::Index j = 0; j < covariance.cols(); ++j)
            line.push_back(covariance(row, j) / std::sqrt(covariance(row, row) * covariance(j, j)));
        fit.correlation.push_back(std::move(line));
    }
}

}  // namespace

std::string_view fitName(FitKind kind) { return nameOf(kind).name; }
std::optional<FitKind> fitFromName(std::string_view name) {
    for (const Name& one : kNames)
        if (one.name == name) return one.kind;
    return std::nullopt;
}
bool isRefit(FitKind kind) {
    return kind == FitKind::SteinhartHart || kind == FitKind::Beta || kind == FitKind::Callendar;
}
std::size_t coefficientsOf(FitKind kind) { return nameOf(kind).count; }

Prediction CurveFit::at(double x) const {
    const double value = isRefit(kind) ? temperatureAt(*this, x) : powersAt(*this, x);
    const Eigen::RowVectorXd slopes = slopesAt(*this, x);
    return {x, value, std::sqrt((slopes * matrixOf(rawCovariance) * slopes.transpose())(0))};
}

Expected<CurveFit> fitCurve(FitKind kind, std::span<const Comparison> points, double centre, bool isOfCorrection,
                            const Unit& unit) {
    std::vector<const Comparison*> used;
    for (const Comparison& point : points)
        if (point.setAside.empty()) used.push_back(&point);
    if (used.size() < coefficientsOf(kind))
        return fail(ErrorCode::Missing, "points", fmt::format("{} to use", used.size()),
                    fmt::format("at least {} for “{}”, which has as many coefficients", coefficientsOf(kind),
                                fitName(kind)));
    const auto size = static_cast<Eigen::Index>(used.size());
    Eigen::MatrixXd design(size, static_cast<Eigen::Index>(coefficientsOf(kind)));
    Eigen::VectorXd y(size), u(size);
    const bool isWeighted = std::all_of(used.begin(), used.end(), [](const Comparison* point) { return point->u > 0; });
    for (Eigen::Index i = 0; i < size; ++i) {
        const Comparison& point = *used[static_cast<std::size_t>(i)];
        if (isRefit(kind) && (!(point.x > 0) || !(point.reference > -kKelvin)))
            return fail(ErrorCode::Range, fmt::format("line {}", point.line),
                        fmt::format("{} Ω at {} °C", plainNumber(point.x), plainNumber(point.reference)),
                        "a resistance above 0 and a temperature above −273.15 °C");
        const Row row = rowOf(kind, point.x, point.reference, centre, isOfCorrection);
        design.row(i) = row.row;
        y(i) = row.y;
        u(i) = (isWeighted ? point.u : 1) * row.perReference;
    }
    if (kind == FitKind::Callendar) {
        // An uncertainty of the temperature is one of R by the slope of the curve, which a first fit tells.
        const auto first = leastSquares(design, y);
        if (!first) return tl::unexpected(first.error());
        for (Eigen::Index i = 0; i < size; ++i)
            u(i) *= std::abs(first->coefficients(1) + 2 * first->coefficients(2) * design(i, 1));
        if (!(u.minCoeff() > 0))
            return fail(ErrorCode::Domain, "points", "a resistance that does not change with the temperature",
                        "points of a platinum element");
    }
    const auto fitted = leastSquares(design, y, u);
    if (!fitted) return tl::unexpected(fitted.error());
    CurveFit fit;
    fit.kind = kind;
    fit.centre = isRefit(kind) ? 0 : centre;
    fit.isOfCorrection = isOfCorrection;
    fit.isWeighted = isWeighted;
    fit.raw.assign(fitted->coefficients.begin(), fitted->coefficients.end());
    const double variance = isWeighted ? 1 : fitted->scatter() * fitted->scatter();
    for (Eigen::Index i = 0; i < fitted->covariance.rows(); ++i) {
        std::vector<double> line;
        for (Eigen::Index j = 0; j < fitted->covariance.cols(); ++j)
            line.push_back(variance * fitted->covariance(i, j));
        fit.rawCovariance.push_back(std::move(line));
    }
    if (kind == FitKind::Beta && fit.raw[1] == 0)
        return fail(ErrorCode::Domain, "points", "a resistance that does not change with the temperature",
                    "points of a thermistor");
    name(fit, unit);
    // In the unit of the reference, whatever is fitted.
    double squares = 0, left = 0;
    for (const Comparison& point : points) {
        const double curve = isRefit(kind)    ? temperatureAt(fit, point.x)
                             : isOfCorrection ? point.x + powersAt(fit, point.x)
                                              : powersAt(fit, point.x);
        fit.residuals.push_back(point.reference - curve);
        if (point.setAside.empty()) squares += fit.residuals.back() * fit.residuals.back();
    }
    std::size_t next = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (!points[i].setAside.empty()) continue;
        const double rest = 1 - fitted->leverage(static_cast<Eigen::Index>(next++));
        fit.leaveOneOut.push_back(rest > 1e-9 ? fit.residuals[i] / rest : kNone);
        left += fit.leaveOneOut.back() * fit.leaveOneOut.back();
    }
    const auto freedom = static_cast<double>(fitted->freedom());
    fit.scatter = freedom > 0 ? std::sqrt(squares / freedom) : kNone;
    fit.leaveOneOutRms = std::sqrt(left / static_cast<double>(used.size()));
    return fit;
}

}  // namespace fg
