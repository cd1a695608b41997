#pragma once

#include <cmath>
#include <limits>
#include <string_view>
#include <type_traits>

namespace fg {

// What a formula template may use of a number type, here for double. The other types bring the same names.

[[nodiscard]] inline double exp(double x) { return std::exp(x); }
[[nodiscard]] inline double log(double x) { return std::log(x); }
[[nodiscard]] inline double sqrt(double x) { return std::sqrt(x); }
[[nodiscard]] inline double pow(double x, double y) { return std::pow(x, y); }
[[nodiscard]] inline double sinh(double x) { return std::sinh(x); }
[[nodiscard]] inline double asinh(double x) { return std::asinh(x); }
[[nodiscard]] inline double floor(double x) { return std::floor(x); }
/// Halves upwards, as an ideal converter does.
[[nodiscard]] inline double round(double x) { return std::floor(x + 0.5); }
[[nodiscard]] inline double least(double x, double y) { return std::fmin(x, y); }
[[nodiscard]] inline double most(double x, double y) { return std::fmax(x, y); }
[[nodiscard]] inline bool isInfinite(double x) { return std::isinf(x); }
[[nodiscard]] inline double nominal(double x) { return x; }

/// A line of the trace: `x` under a name, with the id of its unit and where the formula comes from. Gives `x` back.
[[nodiscard]] inline double step(std::string_view, std::string_view, std::string_view, double x) { return x; }

/// A named value that needs no line of its own.
[[nodiscard]] inline double aside(std::string_view, std::string_view, double x) { return x; }

/// A number of the formula with its unit, constant<N>(273.15, "K"), or as it is written: constant<N>(4096, "", "2^12").
template <class N>
[[nodiscard]] N constant(double value, std::string_view unit, std::string_view written = {});
template <>
[[nodiscard]] inline double constant<double>(double value, std::string_view, std::string_view) {
    return value;
}

/// A branch: `a()` where the condition holds, else `b()`. Recorded with both sides.
template <class A, class B>
[[nodiscard]] auto choose(bool condition, A a, B b) {
    using Result = std::common_type_t<std::invoke_result_t<A>, std::invoke_result_t<B>>;
    return condition ? Result(a()) : Result(b());
}

/// `a()` where the condition holds; no value (NaN) where the formula refuses.
template <class A>
[[nodiscard]] auto require(bool condition, A a) {
    using Result = std::invoke_result_t<A>;
    return condition ? a() : Result(std::numeric_limits<double>::quiet_NaN());
}

/// The x at which function(x) = y, for which there is no closed form. `inverse` finds it as a double; function is the
/// generic formula itself, from which slopes and the printed equation come.
template <class Inverse, class Function>
[[nodiscard]] double solve(std::string_view, std::string_view, double y, Inverse inverse, Function) {
    return inverse(y);
}

/// A function too long to be printed in place: shown as name(x). `function` is generic.
template <class Function>
[[nodiscard]] double call(std::string_view, double x, Function function) {
    return function(x);
}

}  // namespace fg
