#pragma once

#include "handover/formula_code.h"

#include <cmath>
#include <limits>

namespace fg {

/// One operation of arithmetic or a function of real numbers, in a number type; `y` is looked at by those of two
/// operands only. NaN for any other node.
template <class Real>
[[nodiscard]] Real realOperation(Op op, Real x, Real y) {
    switch (op) {
        case Op::Negate:
            return -x;
        case Op::Add:
            return x + y;
        case Op::Subtract:
            return x - y;
        case Op::Multiply:
            return x * y;
        case Op::Divide:
            return x / y;
        case Op::Power:
            return std::pow(x, y);
        case Op::Exp:
            return std::exp(x);
        case Op::Log:
            return std::log(x);
        case Op::Sqrt:
            return std::sqrt(x);
        case Op::Sinh:
            return std::sinh(x);
        case Op::Asinh:
            return std::asinh(x);
        case Op::Floor:
            return std::floor(x);
        case Op::Round:
            return std::floor(x + Real(0.5));
        case Op::Min:
            return std::fmin(x, y);
        case Op::Max:
            return std::fmax(x, y);
        default:
            return std::numeric_limits<Real>::quiet_NaN();
    }
}

/// Straight between the points of a table; NaN outside them.
template <class Real>
[[nodiscard]] Real betweenPoints(const Recording::TablePoints& points, Real x) {
    if (!(x >= static_cast<Real>(points.front()[0]) && x <= static_cast<Real>(points.back()[0])))
        return std::numeric_limits<Real>::quiet_NaN();
    std::size_t i = 0;
    while (i + 2 < points.size() && x >= static_cast<Real>(points[i + 1][0])) ++i;
    const auto x0 = static_cast<Real>(points[i][0]), y0 = static_cast<Real>(points[i][1]),
               x1 = static_cast<Real>(points[i + 1][0]), y1 = static_cast<Real>(points[i + 1][1]);
    return y0 + (x - x0) * ((y1 - y0) / (x1 - x0));
}

}  // namespace fg
