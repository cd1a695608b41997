#pragma once

#include "formula/number.h"

namespace fg {

/// A value and its slope to one thing: forward-mode differentiation. Every operation carries the exact derivative
/// along, so that a sensitivity costs one pass and has no step to be chosen. Source: the chain rule; Griewank and
/// Walther, Evaluating Derivatives, 2nd ed., chapter 3.
struct Dual {
    double value = 0;
    double slope = 0;

    Dual() = default;
    Dual(double constant) : value(constant) {}  // numbers of the formula stand as they are written
    Dual(double v, double d) : value(v), slope(d) {}

    friend Dual operator-(const Dual& a) { return {-a.value, -a.slope}; }
    friend Dual operator+(const Dual& a, const Dual& b) { return {a.value + b.value, a.slope + b.slope}; }
    friend Dual operator-(const Dual& a, const Dual& b) { return {a.value - b.value, a.slope - b.slope}; }
    friend Dual operator*(const Dual& a, const Dual& b) {
        return {a.value * b.value, a.slope * b.value + a.value * b.slope};
    }
    friend Dual operator/(const Dual& a, const Dual& b) {
        const double quotient = a.value / b.value;
        return {quotient, (a.slope - quotient * b.slope) / b.value};
    }
    friend bool operator<(const Dual& a, const Dual& b) { return a.value < b.value; }
    friend bool operator<=(const Dual& a, const Dual& b) { return a.value <= b.value; }
    friend bool operator>(const Dual& a, const Dual& b) { return a.value > b.value; }
    friend bool operator>=(const Dual& a, const Dual& b) { return a.value >= b.value; }
};

[[nodiscard]] inline Dual exp(const Dual& x) {
    const double e = std::exp(x.value);
    return {e, e * x.slope};
}
[[nodiscard]] inline Dual log(const Dual& x) { return {std::log(x.value), x.slope / x.value}; }
[[nodiscard]] inline Dual sqrt(const Dual& x) {
    const double root = std::sqrt(x.value);
    return {root, x.slope == 0 ? 0 : x.slope / (2 * root)};
}
[[nodiscard]] inline Dual pow(const Dual& x, const Dual& y) {
    const double power = std::pow(x.value, y.value);
    // A constant exponent needs no logarithm, which has no value for a base of 0 or below.
    const double ofExponent = y.slope == 0 ? 0 : power * std::log(x.value) * y.slope;
    return {power, y.value * std::pow(x.value, y.value - 1) * x.slope + ofExponent};
}
[[nodiscard]] inline Dual sinh(const Dual& x) { return {std::sinh(x.value), std::cosh(x.value) * x.slope}; }
[[nodiscard]] inline Dual asinh(const Dual& x) {
    return {std::asinh(x.value), x.slope / std::sqrt(x.value * x.value + 1)};
}
[[nodiscard]] inline Dual floor(const Dual& x) { return {std::floor(x.value), 0}; }
[[nodiscard]] inline Dual round(const Dual& x) { return {round(x.value), 0}; }
[[nodiscard]] inline Dual least(const Dual& x, const Dual& y) { return y < x ? y : x; }
[[nodiscard]] inline Dual most(const Dual& x, const Dual& y) { return x < y ? y : x; }
[[nodiscard]] inline bool isInfinite(const Dual& x) { return std::isinf(x.value); }
[[nodiscard]] inline double nominal(const Dual& x) { return x.value; }
[[nodiscard]] inline Dual step(std::string_view, std::string_view, std::string_view, const Dual& x) { return x; }
[[nodiscard]] inline Dual aside(std::string_view, std::string_view, const Dual& x) { return x; }
template <>
[[nodiscard]] inline Dual constant<Dual>(double value, std::string_view, std::string_view) {
    return value;
}

/// The slope of an inverse by the implicit function: f(x, p) = y gives dx = (dy − ∂f/∂p·dp)/(∂f/∂x).
template <class Inverse, class Function>
[[nodiscard]] Dual solve(std::string_view, std::string_view, const Dual& y, Inverse inverse, Function function) {
    const double x = inverse(y.value);
    const double ofParameters = function(Dual(x, 0)).slope;
    const double ofUnknown = function(Dual(x, 1)).slope - ofParameters;
    return {x, (y.slope - ofParameters) / ofUnknown};
}

template <class Function>
[[nodiscard]] Dual call(std::string_view, const Dual& x, Function function) {
    return function(x);
}

}  // namespace fg
