#pragma once

#include "formula/number.h"
#include "units/quantity.h"

#include <algorithm>
#include <cmath>
#include <concepts>
#include <cstdint>
#include <deque>
#include <limits>
#include <optional>
#include <span>
#include <string_view>

namespace fg {

/// What follows from one reading over a stretch of time that moves along.
enum class Over {
    Mean,   ///< of all readings in the window
    Least,  ///< the lowest of them
    Most,   ///< the highest
    Rate    ///< slope of the line of least squares through them, an hour
};

/// A kind of it, as gauge files name it.
struct RunningKind {
    std::string_view id;     ///< "running-mean"
    std::string_view title;  ///< "Mean of the last while"
    Over over;
    std::string_view source;
};

[[nodiscard]] std::span<const RunningKind> runningKinds();
/// Null where nobody knows it.
[[nodiscard]] const RunningKind* findRunningKind(std::string_view id);

/// What a kind gives of a reading of this quantity: the same, or its rate. Nothing where that has no unit here.
[[nodiscard]] std::optional<Quantity> outputOf(const RunningKind& kind, Quantity of);

/// A name that only the recorded formula keeps.
template <std::same_as<float> Real>
[[nodiscard]] Real step(std::string_view, std::string_view, std::string_view, Real x) {
    return x;
}

/// Moments of some readings: means, and sums of squares and products about them, so that a large value far from the
/// start keeps its digits.
template <class Number>
struct Moments {
    Number count{0}, time_s{0}, value{0}, timeSquares{0}, products{0}, valueSquares{0};

    /// Takes in others, whose times count from `shift_s` after ours on. Sums about the mean of two groups together:
    /// Chan, Golub, LeVeque, Updating formulae (1979).
    void add(const Moments& others, const Number& shift_s) {
        const Number both = step("both", "", "", count + others.count);
        const Number weight = step("weight", "", "", count * others.count / both);
        const Number apart_s = step("apart_s", "", "", others.time_s + shift_s - time_s);
        const Number apart = step("apart", "", "", others.value - value);
        timeSquares = timeSquares + (others.timeSquares + weight * apart_s * apart_s);
        products = products + (others.products + weight * apart_s * apart);
        valueSquares = valueSquares + (others.valueSquares + weight * apart * apart);
        time_s = time_s + apart_s * others.count / both;
        value = value + apart * others.count / both;
        count = both;
    }
    /// Slope of the line of least squares, an hour.
    [[nodiscard]] Number slope() const { return Number(3600) * products / timeSquares; }
};

/// The last so many seconds in pieces of time of which each holds sums alone: memory and work stay the same however
/// fast the readings come. A window of n pieces is true to 1/n of its length. Times are whole microseconds since the
/// first reading.
template <class Sums>
class WindowPieces {
  public:
    static constexpr int kPieces = 240;
    struct Piece {
        std::int64_t number, first_us;  ///< counted since the first reading; time of its own first one
        Sums sums{};
    };

    /// `window_s` above 0.
    explicit WindowPieces(double window_s) : m_window_us(std::max<std::int64_t>(1, microseconds(window_s))) {}
    /// The piece of a reading at a time that is not before the last one's. What has left the window goes.
    Piece& at(std::int64_t time_us) {
        // A rest first: the product of a century with the number of pieces is no 64-bit number.
        const std::int64_t number = time_us / m_window_us * kPieces + time_us % m_window_us * kPieces / m_window_us;
        while (!m_pieces.empty() && m_pieces.front().number <= number - kPieces) m_pieces.pop_front();
        if (m_pieces.empty() || number > m_pieces.back().number) m_pieces.push_back({number, time_us, {}});
        return m_pieces.back();
    }
    [[nodiscard]] const std::deque<Piece>& all() const { return m_pieces; }
    [[nodiscard]] static std::int64_t microseconds(double seconds) { return std::llround(seconds * 1e6); }

  private:
    std::int64_t m_window_us;
    std::deque<Piece> m_pieces;
};

/// The part of a window that has to have passed before there is a rate.
inline constexpr double kLeastPartForRate = 0.1;

/// The readings of the last so many seconds.
template <class Real>
class RunningWindowOf {
  public:
    /// `window_s` above 0.
    RunningWindowOf(Over over, double window_s) : m_over(over), m_window_s(Real(window_s)), m_pieces(window_s) {}
    /// One reading at a time that is not before the last one's; a NaN is passed over.
    void add(double time_s, Real value);
    /// Canonical; a rate in units an hour. NaN before the first reading; a rate also before a tenth of the window has
    /// passed.
    [[nodiscard]] Real value() const;
    /// What the scatter of the readings about their line leaves of a rate: its standard uncertainty (JCGM 100:2008,
    /// H.3; as if each reading scattered by itself). Nothing for what is no rate, and before there are three readings.
    [[nodiscard]] std::optional<double> standard() const;

  private:
    struct Sums {
        Moments<Real> moments;
        Real least = std::numeric_limits<Real>::infinity(), most = -std::numeric_limits<Real>::infinity();
    };
    [[nodiscard]] Moments<Real> all() const;
    [[nodiscard]] bool hasRate() const;

    Over m_over;
    Real m_window_s;
    std::optional<double> m_start_s;
    WindowPieces<Sums> m_pieces;
};

using RunningWindow = RunningWindowOf<double>;

}  // namespace fg
