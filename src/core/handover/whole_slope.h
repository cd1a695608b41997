#pragma once

#include <cstdint>
#include <span>

namespace fg {

/// Slope of the line of least squares through the readings of a window, in 64-bit whole numbers that no readings
/// overflow.
///
/// The bounds: a reading is below 2^30 steps from 0. A window is below 2^16 ticks, a piece of it below 2^9, with less
/// than 2^22 readings, so that its products stay below 2^(22 + 9 + 31). The weights of all pieces come to less than
/// 2^15, so that the sum of products stays below 2^(15 + 16 + 31).
class WholeSlope {
  public:
    static constexpr std::int64_t kMostReading = (std::int64_t{1} << 30) - 1;
    /// A piece takes no more: a thousand a second for an hour.
    static constexpr std::int64_t kMostCount = (std::int64_t{1} << 22) - 1;
    /// The counts of all pieces are halved until they come to no more; a piece then still counts as 1.
    static constexpr std::int64_t kMostWeights = (std::int64_t{1} << 14) - 1;
    /// What divides so that it rounds the same way below 0 as above: more than a reading is from another.
    static constexpr std::int64_t kBelow = std::int64_t{1} << 31;
    /// Larger slopes are given as this, which has to lie beyond every slope that is taken.
    static constexpr std::int64_t kMostValue = INT32_MAX;

    /// `readingScale`: steps in a unit of the readings; `valueScale`: steps in a unit an hour of the slope.
    WholeSlope(std::int64_t window_ms, std::int64_t readingScale, std::int64_t valueScale);

    /// Sums of a piece, about its first reading: times in ticks, readings in steps.
    struct Piece {
        std::int64_t first_ms, first;  ///< its first reading: time since any start, and value
        std::int64_t count = 0, times = 0, squares = 0, sum = 0, products = 0;
    };
    void add(Piece& piece, std::int64_t at_ms, std::int64_t reading) const;
    /// Whole steps; nothing (false) before a tenth of the window has passed.
    [[nodiscard]] bool of(std::span<const Piece> pieces, std::int64_t& value) const;

    /// A millisecond is 2 to this power ticks, which is negative for a long window.
    [[nodiscard]] int tickShift() const { return m_tickShift; }
    /// So many have to pass before there is a slope.
    [[nodiscard]] std::int64_t leastTicks() const { return m_leastTicks; }
    /// Steps a tick times factor / 2^factorShift are the value.
    [[nodiscard]] std::uint64_t factor() const { return m_factor; }
    [[nodiscard]] int factorShift() const { return m_factorShift; }

  private:
    [[nodiscard]] std::int64_t ticks(std::int64_t ms) const {
        return m_tickShift >= 0 ? ms << m_tickShift : ms >> -m_tickShift;
    }

    int m_tickShift = 0, m_factorShift = 0;
    std::int64_t m_leastTicks = 1;
    std::uint64_t m_factor = 0;
};

}  // namespace fg
