#pragma once

#include <array>
#include <cmath>
#include <functional>
#include <vector>

namespace fg {

/// The inverse of a monotonic function whose inverse has to be searched for, laid down as pieces of fifth degree, so
/// that a whole recording is converted at the price of a polynomial.
///
/// 256 equal cells over the values from `from` to `to`; in each the polynomial through six solved points. A cell is
/// used only where the polynomial meets three more solved points within 1e-13 of the width of the results (the tests
/// find no place between them further off than twice that); elsewhere (a steep end) every value is solved for. NaN
/// outside. Source: Lagrange's interpolation polynomial, Abramowitz and Stegun 25.2.
class InverseTable {
  public:
    using Solve = std::function<double(double value)>;

    /// `from` < `to`; `solve` must have a value everywhere between, exact to rounding.
    InverseTable(Solve solve, double from, double to);

    [[nodiscard]] double at(double value) const {
        // The last bit of rounding at an end is not beyond it.
        const double slack = 1e-13 * (m_to - m_from);
        if (value > m_to && value <= m_to + slack) value = m_to;
        if (value < m_from && value >= m_from - slack) value = m_from;
        const double place = (value - m_from) * m_scale;
        if (!(place >= 0 && value <= m_to)) return std::nan("");
        const std::size_t index = place < kCells ? static_cast<std::size_t>(place) : kCells - 1;
        const Cell& cell = m_cells[index];
        if (!cell.isGood) return m_solve(value);
        const double t = place - static_cast<double>(index);
        const auto& c = cell.c;
        return c[0] + t * (c[1] + t * (c[2] + t * (c[3] + t * (c[4] + t * c[5]))));
    }

    static constexpr std::size_t kCells = 256;

  private:
    struct Cell {
        std::array<double, 6> c{};
        bool isGood = false;
    };
    Solve m_solve;
    double m_from, m_to, m_scale;
    std::vector<Cell> m_cells;
};

}  // namespace fg
