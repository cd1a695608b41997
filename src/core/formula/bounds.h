#pragma once

#include "formula/number.h"

#include <algorithm>

namespace fg {

/// Everything a value can be while what it is made of lies within its own bounds: interval arithmetic, each end rounded
/// outwards by one place. NaN at both ends where somewhere inside the formula has no value. Source: IEEE Std 1788-2015,
/// clause 9 (the arithmetic), with every result widened instead of directed rounding.
struct Bounds {
    double low = 0;
    double high = 0;

    Bounds() = default;
    Bounds(double exact) : low(exact), high(exact) {}  // numbers of the formula stand as they are written
    Bounds(double from, double to) : low(from), high(to) {}

    [[nodiscard]] bool contains(double x) const { return x >= low && x <= high; }
    [[nodiscard]] double middle() const { return low / 2 + high / 2; }

    /// The same, a last place wider at both ends.
    [[nodiscard]] static Bounds outwards(double a, double b) {
        if (std::isnan(a) || std::isnan(b)) return none();
        constexpr double infinite = std::numeric_limits<double>::infinity();
        return {std::nextafter(std::min(a, b), -infinite), std::nextafter(std::max(a, b), infinite)};
    }
    [[nodiscard]] static Bounds none() {
        constexpr double nan = std::numeric_limits<double>::quiet_NaN();
        return {nan, nan};
    }
    [[nodiscard]] static Bounds hull(const Bounds& a, const Bounds& b) {
        if (std::isnan(a.low) || std::isnan(b.low)) return none();
        return {std::min(a.low, b.low), std::max(a.high, b.high)};
    }

    friend Bounds operator-(const Bounds& a) { return {-a.high, -a.low}; }
    friend Bounds operator+(const Bounds& a, const Bounds& b) { return outwards(a.low + b.low, a.high + b.high); }
    friend Bounds operator-(const Bounds& a, const Bounds& b) { return outwards(a.low - b.high, a.high - b.low); }
    friend Bounds operator*(const Bounds& a, const Bounds& b) {
        const auto ends = std::minmax({a.low * b.low, a.low * b.high, a.high * b.low, a.high * b.high});
        return outwards(ends.first, ends.second);
    }
    friend Bounds operator/(const Bounds& a, const Bounds& b) {
        constexpr double infinite = std::numeric_limits<double>::infinity();
        if (b.contains(0)) return std::isnan(a.low) ? none() : Bounds{-infinite, infinite};
        const auto ends = std::minmax({a.low / b.low, a.low / b.high, a.high / b.low, a.high / b.high});
        return outwards(ends.first, ends.second);
    }
};

/// A comparison of bounds may hold, or not, or hold for some of the values.
enum class Holds { No, Sometimes, Yes };

[[nodiscard]] inline Holds operator<(const Bounds& a, const Bounds& b) {
    return a.high < b.low ? Holds::Yes
                          : (a.low >= b.high || std::isnan(a.low) || std::isnan(b.low) ? Holds::No : Holds::Sometimes);
}
[[nodiscard]] inline Holds operator<=(const Bounds& a, const Bounds& b) {
    return a.high <= b.low ? Holds::Yes
                           : (a.low > b.high || std::isnan(a.low) || std::isnan(b.low) ? Holds::No : Holds::Sometimes);
}
[[nodiscard]] inline Holds operator>(const Bounds& a, const Bounds& b) { return b < a; }
[[nodiscard]] inline Holds operator>=(const Bounds& a, const Bounds& b) { return b <= a; }
[[nodiscard]] inline Holds operator&&(Holds a, Holds b) { return std::min(a, b); }

namespace detail {
/// A function that rises.
template <class F>
Bounds rising(const Bounds& x, F f) {
    // Two places: the library's functions may be off by one.
    const Bounds once = Bounds::outwards(f(x.low), f(x.high));
    return Bounds::outwards(once.low, once.high);
}
}  // namespace detail

[[nodiscard]] inline Bounds exp(const Bounds& x) {
    return detail::rising(x, [](double v) { return std::exp(v); });
}
[[nodiscard]] inline Bounds log(const Bounds& x) {
    return detail::rising(x, [](double v) { return std::log(v); });
}
[[nodiscard]] inline Bounds sqrt(const Bounds& x) {
    return detail::rising(x, [](double v) { return std::sqrt(v); });
}
[[nodiscard]] inline Bounds sinh(const Bounds& x) {
    return detail::rising(x, [](double v) { return std::sinh(v); });
}
[[nodiscard]] inline Bounds asinh(const Bounds& x) {
    return detail::rising(x, [](double v) { return std::asinh(v); });
}
[[nodiscard]] inline Bounds floor(const Bounds& x) { return {std::floor(x.low), std::floor(x.high)}; }
[[nodiscard]] inline Bounds round(const Bounds& x) { return {round(x.low), round(x.high)}; }
[[nodiscard]] inline Bounds least(const Bounds& x, const Bounds& y) {
    return {std::min(x.low, y.low), std::min(x.high, y.high)};
}
[[nodiscard]] inline Bounds most(const Bounds& x, const Bounds& y) {
    return {std::max(x.low, y.low), std::max(x.high, y.high)};
}
/// For a base above 0, monotonic in base and exponent: the ends are at the corners.
[[nodiscard]] inline Bounds pow(const Bounds& x, const Bounds& y) {
    const auto [low, high] = std::minmax(
        {std::pow(x.low, y.low), std::pow(x.low, y.high), std::pow(x.high, y.low), std::pow(x.high, y.high)});
    const Bounds once = Bounds::outwards(low, high);
    return Bounds::outwards(once.low, once.high);
}
[[nodiscard]] inline Holds isInfinite(const Bounds& x) {
    return std::isinf(x.low) && std::isinf(x.high)
               ? Holds::Yes
               : (std::isinf(x.low) || std::isinf(x.high) ? Holds::Sometimes : Holds::No);
}
[[nodiscard]] inline double nominal(const Bounds& x) { return x.middle(); }
[[nodiscard]] inline Bounds step(std::string_view, std::string_view, std::string_view, const Bounds& x) { return x; }
[[nodiscard]] inline Bounds aside(std::string_view, std::string_view, const Bounds& x) { return x; }
template <>
[[nodiscard]] inline Bounds constant<Bounds>(double value, std::string_view, std::string_view) {
    return value;
}

template <class A, class B>
[[nodiscard]] Bounds choose(Holds condition, A a, B b) {
    if (condition == Holds::Yes) return a();
    return condition == Holds::No ? Bounds(b()) : Bounds::hull(a(), b());
}
template <class A>
[[nodiscard]] Bounds require(Holds condition, A a) {
    return condition == Holds::Yes ? Bounds(a()) : Bounds::none();
}

/// A monotonic inverse, its parameters taken as exact; widened by what its search leaves open.
template <class Inverse, class Function>
[[nodiscard]] Bounds solve(std::string_view, std::string_view, const Bounds& y, Inverse inverse, Function) {
    const double a = inverse(y.low), b = inverse(y.high), slack = 1e-9 * (1 + std::abs(b - a));
    return Bounds::outwards(std::min(a, b) - slack, std::max(a, b) + slack);
}

template <class Function>
[[nodiscard]] Bounds call(std::string_view, const Bounds& x, Function function) {
    return function(x);
}

}  // namespace fg
