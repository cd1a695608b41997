#pragma once

#include "formula/bounds.h"
#include "formula/dual.h"
#include "formula/recorded.h"

#include <array>
#include <cmath>
#include <cstdint>
#include <optional>
#include <utility>
#include <vector>

namespace fg {

/// A function given by points, straight between them; found in constant time, unless very many points crowd together.
///
/// A grid of equal cells says in which segment each cell begins; from there it is a step or two. NaN outside the
/// points. A point itself gives its own value exactly.
class Polyline {
  public:
    using Point = std::array<double, 2>;

    /// At least two points, strictly ascending in x, finite.
    explicit Polyline(std::vector<Point> points);

    [[nodiscard]] double at(double x) const {
        if (!(x >= m_segments.front().x && x < m_last[0])) return x == m_last[0] ? m_last[1] : std::nan("");
        const Segment* segment = &m_segments[m_starts[static_cast<std::size_t>((x - m_segments.front().x) * m_scale)]];
        while (x >= segment->endX) ++segment;
        return segment->y + (x - segment->x) * segment->slope;
    }

    /// The two points between which x lies; nothing outside.
    [[nodiscard]] std::optional<std::pair<Point, Point>> segmentAt(double x) const;
    [[nodiscard]] std::vector<Point> points() const;

  private:
    struct Segment {
        double x, y, slope, endX;
    };
    [[nodiscard]] Point endOf(std::size_t segment) const;
    std::vector<Segment> m_segments;
    std::vector<std::uint32_t> m_starts;  // of each cell: the segment at its lower edge, or the one before
    Point m_last{};
    double m_scale = 0;  // cells per x
};

/// The table as a part of a formula. `xUnit` and `yUnit` are the ids of the units in which its numbers are printed.
[[nodiscard]] inline double lookup(const Polyline& table, double x, std::string_view, std::string_view) {
    return table.at(x);
}
[[nodiscard]] Dual lookup(const Polyline& table, const Dual& x, std::string_view xUnit, std::string_view yUnit);
/// For a table that only rises or only falls.
[[nodiscard]] Bounds lookup(const Polyline& table, const Bounds& x, std::string_view xUnit, std::string_view yUnit);
[[nodiscard]] Recorded lookup(const Polyline& table, const Recorded& x, std::string_view xUnit, std::string_view yUnit);

}  // namespace fg
