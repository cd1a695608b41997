#include "uncertainty/coverage.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <vector>

namespace fg {
namespace {

constexpr std::size_t kCells = 1024;
constexpr double kNormalReach = 6.5;
constexpr double kReach = 7;
constexpr double kNarrow = 0.02;
constexpr double kNothing = 1e-6;

/// The distribution function of a sum that is symmetric about zero, on an even grid from −reach to +reach.
class SymmetricSum {
  public:
    /// Begins with a normal distribution, or where there is none with a rectangle.
    SymmetricSum(double reach, double normal, double rectangle)
        : m_step(2 * reach / kCells), m_reach(reach), m_values(kCells + 1) {
        for (std::size_t i = kCells / 2; i <= kCells; ++i) {
            const double x = at(i);
            setBoth(i, normal > 0 ? 0.5 * std::erfc(-x / (normal * std::numbers::sqrt2))
                                  : std::clamp((x + rectangle) / (2 * rectangle), 0.0, 1.0));
        }
    }

    void addRectangle(double halfWidth) {
        integrate();
        // Both ends of a rectangle lie between the same places of the grid wherever its middle is.
        const double cells = halfWidth / m_step;
        const auto whole = static_cast<std::ptrdiff_t>(std::min(cells, 2.0 * kCells));
        const double part = cells - static_cast<double>(whole);
        std::vector<double> sum(kCells / 2 + 1);
        for (std::size_t i = kCells / 2; i <= kCells; ++i) {
            const auto middle = static_cast<std::ptrdiff_t>(i);
            const double right = integralAt(middle + whole, part), left = integralAt(middle - whole - 1, 1 - part);
            sum[i - kCells / 2] = (right - left) / (2 * halfWidth);
        }
        for (std::size_t i = kCells / 2; i <= kCells; ++i) setBoth(i, sum[i - kCells / 2]);
    }

    /// Where F reaches `share`.
    [[nodiscard]] double quantile(double share) const {
        const auto above = std::lower_bound(m_values.begin(), m_values.end(), share);
        if (above == m_values.begin()) return -m_reach;
        if (above == m_values.end()) return m_reach;
        const auto i = static_cast<std::size_t>(above - m_values.begin());
        return at(i - 1) + m_step * (share - m_values[i - 1]) / (m_values[i] - m_values[i - 1]);
    }

  private:
    [[nodiscard]] double at(std::size_t i) const { return -m_reach + static_cast<double>(i) * m_step; }

    /// F(−x) = 1 − F(x): one half tells the other.
    void setBoth(std::size_t i, double value) {
        m_values[kCells - i] = 1 - value;
        m_values[i] = value;
    }

    /// ∫F from the left end to each place of the grid, by the trapezium rule.
    void integrate() {
        m_integral.assign(kCells + 1, 0);
        for (std::size_t i = 1; i <= kCells; ++i)
            m_integral[i] = m_integral[i - 1] + m_step * (m_values[i - 1] + m_values[i]) / 2;
    }

    /// The integral between two places of the grid follows from F, which is taken as straight there; beyond the right
    /// end F is 1. `part` of the way from a place to the next.
    [[nodiscard]] double integralAt(std::ptrdiff_t place, double part) const {
        constexpr auto kLast = static_cast<std::ptrdiff_t>(kCells);
        if (place < 0) return 0;
        if (place >= kLast) return m_integral[kCells] + (static_cast<double>(place - kLast) + part) * m_step;
        const auto i = static_cast<std::size_t>(place);
        return m_integral[i] + m_step * part * (m_values[i] + part * (m_values[i + 1] - m_values[i]) / 2);
    }

    double m_step;
    double m_reach;
    std::vector<double> m_values;
    std::vector<double> m_integral;
};

}  // namespace

double coverageHalfWidth(std::span<const double> rectangles, double normal, double probability) {
    std::vector<double> widths;
    double variance = normal * normal;
    for (const double a : rectangles) {
        if (a > 0) widths.push_back(a);
        variance += a * a / 3;
    }
    if (!(variance > 0) || !std::isfinite(variance)) return variance;
    double spread = normal;
    // Nothing moves by these, and differences over such a width would be rounding alone.
    std::erase_if(widths, [&](double a) { return a < kNothing * std::sqrt(variance); });
    // Narrower than the grid could show: its shape no longer matters, only its size.
    if (spread > 0 && spread < kNarrow * std::sqrt(variance)) {
        widths.push_back(std::sqrt(3.0) * spread);
        spread = 0;
    }
    std::sort(widths.begin(), widths.end(), std::greater<>());
    const double high = (1 + probability) / 2;
    double reach = kNormalReach * spread;
    for (const double a : widths) reach += a;
    reach = std::min(reach, kReach * std::sqrt(variance));  // nothing worth the name lies beyond
    // Where nothing is normal the widest rectangle begins, so that one alone comes out exactly.
    SymmetricSum sum(reach, spread, widths.empty() ? 0 : widths.front());
    for (std::size_t i = spread > 0 ? 0 : 1; i < widths.size(); ++i) sum.addRectangle(widths[i]);
    return sum.quantile(high);
}

}  // namespace fg
