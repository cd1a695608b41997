#include "numeric/polyline.h"

#include <algorithm>

namespace fg {
namespace {
constexpr std::size_t kCellsPerSegment = 4, kLeastCells = 64, kMostCells = 65536;
}

Polyline::Polyline(std::vector<Point> points) : m_last(points.back()) {
    for (std::size_t i = 0; i + 1 < points.size(); ++i) {
        const auto [x, y] = points[i];
        const auto [nextX, nextY] = points[i + 1];
        m_segments.push_back({x, y, (nextY - y) / (nextX - x), nextX});
    }
    const std::size_t cells = std::clamp(kCellsPerSegment * m_segments.size(), kLeastCells, kMostCells);
    const double from = points.front()[0];
    m_scale = static_cast<double>(cells) / (m_last[0] - from);
    std::size_t segment = 0;
    // One cell more than asked for: the product that finds a cell may round up to the end.
    for (std::size_t cell = 0; cell <= cells; ++cell) {
        // A hair below the cell's edge, for the same rounding.
        const double edge = from + (static_cast<double>(cell) - 1e-6) / m_scale;
        while (segment + 1 < m_segments.size() && m_segments[segment].endX <= edge) ++segment;
        m_starts.push_back(static_cast<std::uint32_t>(segment));
    }
}

Polyline::Point Polyline::endOf(std::size_t segment) const {
    return segment + 1 < m_segments.size() ? Point{m_segments[segment + 1].x, m_segments[segment + 1].y} : m_last;
}

std::vector<Polyline::Point> Polyline::points() const {
    std::vector<Point> all;
    for (const Segment& one : m_segments) all.push_back({one.x, one.y});
    all.push_back(m_last);
    return all;
}

std::optional<std::pair<Polyline::Point, Polyline::Point>> Polyline::segmentAt(double x) const {
    if (!(x >= m_segments.front().x && x <= m_last[0])) return std::nullopt;
    std::size_t index = 0;
    while (index + 1 < m_segments.size() && x >= m_segments[index].endX) ++index;
    return std::pair{Point{m_segments[index].x, m_segments[index].y}, endOf(index)};
}

namespace {

/// y0 + (x − x0) · (y1 − y0)/(x1 − x0), as Polyline::at() computes it.
template <class N>
N between(const std::pair<Polyline::Point, Polyline::Point>& ends, const N& x, std::string_view xUnit,
          std::string_view yUnit) {
    const auto at = [](double value, std::string_view unit) { return constant<N>(value, unit); };
    const auto& [from, to] = ends;
    return at(from[1], yUnit) + (x - at(from[0], xUnit)) *
                                    ((at(to[1], yUnit) - at(from[1], yUnit)) / (at(to[0], xUnit) - at(from[0], xUnit)));
}

}  // namespace

Dual lookup(const Polyline& table, const Dual& x, std::string_view xUnit, std::string_view yUnit) {
    const auto ends = table.segmentAt(x.value);
    return ends ? between(*ends, x, xUnit, yUnit) : Dual(std::nan(""));
}

Bounds lookup(const Polyline& table, const Bounds& x, std::string_view, std::string_view) {
    return Bounds::outwards(table.at(x.low), table.at(x.high));
}

Recorded lookup(const Polyline& table, const Recorded& x, std::string_view xUnit, std::string_view yUnit) {
    if (!x.in()) return table.at(x.value());
    Recording& in = *x.in();
    const auto ends = table.segmentAt(x.value());
    // Constants keep no text of their own: a unit lives in the recording.
    const Recorded piece = ends ? between(*ends, x, in.keep(xUnit), in.keep(yUnit)) : Recorded(std::nan(""));
    return {in, in.add({.op = Op::Table,
                        .operands = {x.indexIn(in), piece.indexIn(in), -1},
                        .value = table.at(x.value()),
                        .table = in.addTable(table.points())})};
}

}  // namespace fg
