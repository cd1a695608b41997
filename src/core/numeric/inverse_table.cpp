#include "numeric/inverse_table.h"

#include <Eigen/LU>

namespace fg {
namespace {

constexpr int kPoints = 6;
using Matrix = Eigen::Matrix<double, kPoints, kPoints>;
using Vector = Eigen::Matrix<double, kPoints, 1>;

/// From values at t = 0, 1/5 … 1 to the coefficients of the polynomial through them.
const Matrix& toCoefficients() {
    static const Matrix inverse = [] {
        Matrix powers;
        for (int row = 0; row < kPoints; ++row)
            for (int column = 0; column < kPoints; ++column) powers(row, column) = std::pow(row / 5.0, column);
        return Matrix(powers.inverse());
    }();
    return inverse;
}

}  // namespace

InverseTable::InverseTable(Solve solve, double from, double to)
    : m_solve(std::move(solve)), m_from(from), m_to(to), m_scale(kCells / (to - from)), m_cells(kCells) {
    const double width = std::abs(m_solve(to) - m_solve(from)), step = (to - from) / kCells;
    for (std::size_t index = 0; index < kCells; ++index) {
        Cell& cell = m_cells[index];
        const double start = from + static_cast<double>(index) * step;
        const auto solved = [&](double t) { return m_solve(std::min(start + t * step, to)); };
        const double first = solved(0);
        Vector values;
        for (int i = 0; i < kPoints; ++i)
            values[i] = solved(i / 5.0) - first;  // differences: the digits stay where they are needed
        const Vector c = toCoefficients() * values;
        for (std::size_t i = 0; i < kPoints; ++i) cell.c[i] = c[static_cast<Eigen::Index>(i)];
        cell.c[0] += first;
        cell.isGood = true;
        for (const double t : {0.1, 0.5, 0.9})
            cell.isGood = cell.isGood && std::abs(at(start + t * step) - solved(t)) <= 1e-13 * width;
    }
}

}  // namespace fg
