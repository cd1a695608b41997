#include "numeric/bracketed.h"

#include <fmt/format.h>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>
#include "units/number_format.h"

namespace fg {

Expected<Bracketed> Bracketed::make(std::function<double(double)> function, Interval range, const std::string& field) {
    if (!std::isfinite(range.low) || !std::isfinite(range.high) || !(range.low < range.high))
        return fail(ErrorCode::Range, field, fmt::format("a range of {} … {}", plainNumber(range.low), plainNumber(range.high)),
                    "a finite span, low end first");
    const auto at = [&](int i) { return range.low + range.width() * i / kChecks; };
    std::vector<double> values;
    for (int i = 0; i <= kChecks; ++i) {
        values.push_back(function(at(i)));
        if (!std::isfinite(values.back()))
            return fail(ErrorCode::Domain, field, fmt::format("no value at {}", plainNumber(at(i), 5)),
                        "a function with a value all over its range");
    }
    const bool rising = values[1] > values[0];
    for (int i = 1; i <= kChecks; ++i) {
        const double before = values[static_cast<std::size_t>(i) - 1], now = values[static_cast<std::size_t>(i)];
        if (now == before || (now > before) != rising)
            return fail(ErrorCode::Range, field, fmt::format("a function that turns back or stands still near {}", plainNumber(at(i), 5)),
                        "one that only rises or only falls over its range");
    }
    Bracketed bracketed;
    bracketed.m_function = std::make_shared<const std::function<double(double)>>(std::move(function));
    bracketed.m_range = range;
    bracketed.m_rising = rising;
    return bracketed;
}

double Bracketed::inverse(double y) const {
    const auto& f = *m_function;
    const double low = f(m_range.low) - y, high = f(m_range.high) - y;
    if (low == 0) return m_range.low;
    if (high == 0) return m_range.high;
    if (!(low * high < 0)) return std::nan("");
    std::uintmax_t steps = 100;
    const auto root = boost::math::tools::toms748_solve([&](double x) { return f(x) - y; }, m_range.low, m_range.high, low, high,
                                                        boost::math::tools::eps_tolerance<double>(52), steps);
    return (root.first + root.second) / 2;
}

}  // namespace fg
