#include "numeric/bracketed.h"

#include <fmt/format.h>
#include <algorithm>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>
#include "units/number_format.h"

namespace fg {

Expected<Bracketed> Bracketed::make(std::function<double(double)> function, Interval range, const std::string& field) {
    if (!std::isfinite(range.low) || !std::isfinite(range.high) || !(range.low < range.high))
        return fail(ErrorCode::Range, field,
                    fmt::format("a range of {} … {}", plainNumber(range.low), plainNumber(range.high)),
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
            return fail(ErrorCode::Range, field,
                        fmt::format("a function that turns back or stands still near {}", plainNumber(at(i), 5)),
                        "one that only rises or only falls over its range");
    }
    Bracketed bracketed;
    bracketed.m_function = std::make_shared<const std::function<double(double)>>(std::move(function));
    bracketed.m_range = range;
    bracketed.m_rising = rising;
    bracketed.m_lazy = std::make_shared<Lazy>();
    return bracketed;
}

double Bracketed::solve(const std::function<double(double)>& function, Interval range, double y) {
    const double low = function(range.low) - y, high = function(range.high) - y;
    if (low == 0) return range.low;
    if (high == 0) return range.high;
    if (!(low * high < 0)) return std::nan("");
    std::uintmax_t steps = 100;
    const auto root =
        boost::math::tools::toms748_solve([&](double x) { return function(x) - y; }, range.low, range.high, low, high,
                                          boost::math::tools::eps_tolerance<double>(52), steps);
    return (root.first + root.second) / 2;
}

const InverseTable& Bracketed::makeTable() const {
    std::call_once(m_lazy->once, [this] {
        const double low = (*m_function)(m_range.low), high = (*m_function)(m_range.high);
        m_lazy->table.emplace([function = m_function, range = m_range](double y) { return solve(*function, range, y); },
                              std::min(low, high), std::max(low, high));
        m_lazy->ready.store(&*m_lazy->table, std::memory_order_release);
    });
    return *m_lazy->table;
}

}  // namespace fg
