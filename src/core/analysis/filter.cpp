#include "analysis/filter.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace fg {
namespace {

constexpr double kToDeviation = 1.482602218505602;  // of the median of a normal's absolute deviations
constexpr double kGateWidth = 3;
constexpr std::size_t kLeastForGate = 5;

/// Deviation of the median of n normal values, deviation 1 (exact for few; Kenney and Keeping, 1962, for many).
double medianShare(std::size_t n) {
    constexpr std::array kOfFew{1.0, 0.7071, 0.6698, 0.5461, 0.5356, 0.4634, 0.4587, 0.4101, 0.4075};
    if (n <= kOfFew.size()) return kOfFew[n - 1];
    return std::sqrt(std::numbers::pi / (2 * (static_cast<double>(n) + std::numbers::pi / 2 - 1)));
}

double medianOf(std::vector<double> values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    if (values.size() % 2 == 1) return *middle;
    return (*std::max_element(values.begin(), middle) + *middle) / 2;
}

}  // namespace

Expected<ReadingFilter> ReadingFilter::make(const FilterSpec& spec) {
    const bool takesCount = spec.kind == "mean" || spec.kind == "median" || spec.kind == "gate";
    if (!takesCount && spec.kind != "none" && spec.kind != "exponential")
        return fail(ErrorCode::Unknown, "reading.filter", "“" + spec.kind + "”",
                    "none, mean, median, exponential or gate");
    if (takesCount && (spec.count < 1 || spec.count > kMost))
        return fail(ErrorCode::Range, "reading.filter.count", fmt::format("{}", spec.count), "1 to 10 000 readings");
    if (spec.kind == "gate" && spec.count < kLeastForGate)
        return fail(ErrorCode::Range, "reading.filter.count", fmt::format("{}", spec.count),
                    "5 readings or more, to tell what is ordinary");
    if (spec.kind == "exponential" && !(spec.alpha > 0 && spec.alpha <= 1))
        return fail(ErrorCode::Range, "reading.filter.alpha", plainNumber(spec.alpha), "above 0, at most 1");
    return ReadingFilter(spec);
}

double ReadingFilter::take(double value) {
    if (std::isnan(value)) return value;
    if (m_spec.kind == "none") return value;
    if (m_spec.kind == "exponential") {
        m_state = m_state ? *m_state + m_spec.alpha * (value - *m_state) : value;
        return *m_state;
    }
    if (m_spec.kind == "gate") {
        double kept = value;
        if (m_last.size() >= kLeastForGate) {
            const double middle = medianOf({m_last.begin(), m_last.end()});
            std::vector<double> away;
            for (const double one : m_last) away.push_back(std::abs(one - middle));
            if (std::abs(value - middle) > kGateWidth * kToDeviation * medianOf(std::move(away))) {
                kept = middle;
                ++m_gated;
            }
        }
        m_last.push_back(value);  // as it came: a step is believed once half of the last are beyond it
        if (m_last.size() > m_spec.count) m_last.pop_front();
        return kept;
    }
    m_last.push_back(value);
    if (m_last.size() > m_spec.count) m_last.pop_front();
    if (m_spec.kind == "median") return medianOf({m_last.begin(), m_last.end()});
    double sum = 0;  // anew: a running sum would drift over days
    for (const double one : m_last) sum += one;
    return sum / static_cast<double>(m_last.size());
}

FilterEffect ReadingFilter::effect() const {
    const auto n = static_cast<double>(m_spec.count);
    if (m_spec.kind == "mean") return {1 / std::sqrt(n), (n - 1) / 2};
    if (m_spec.kind == "median") return {medianShare(m_spec.count), (n - 1) / 2};
    if (m_spec.kind == "exponential")
        return {std::sqrt(m_spec.alpha / (2 - m_spec.alpha)), (1 - m_spec.alpha) / m_spec.alpha};
    return {};
}

std::string filterText(const FilterSpec& spec) {
    if (spec.kind == "mean") return fmt::format("mean of {}", spec.count);
    if (spec.kind == "median") return fmt::format("median of {}", spec.count);
    if (spec.kind == "gate") return fmt::format("outlier gate over {}", spec.count);
    if (spec.kind == "exponential") return "exponential, α " + plainNumber(spec.alpha, 3);
    return "none";
}

}  // namespace fg
