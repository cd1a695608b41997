#pragma once

#include "units/quantity.h"

#include <cstdint>
#include <deque>
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

/// The readings of the last so many seconds, in pieces of time of which each holds sums alone: memory and work stay the
/// same however fast the readings come. A window of n pieces is true to 1/n of its length.
class RunningWindow {
  public:
    /// `window_s` above 0.
    RunningWindow(Over over, double window_s);
    /// One reading at a time that is not before the last one's; a NaN is passed over.
    void add(double time_s, double value);
    /// Canonical; a rate in units an hour. NaN before the first reading; a rate also before a tenth of the window has
    /// passed.
    [[nodiscard]] double value() const;
    /// What the scatter of the readings about their line leaves of a rate: its standard uncertainty (JCGM 100:2008,
    /// H.3; as if each reading scattered by itself). Nothing for what is no rate, and before there are three readings.
    [[nodiscard]] std::optional<double> standard() const;

    static constexpr int kPieces = 240;

  private:
    /// Moments of some readings: means, and sums of squares and products about them, so that a large value far from
    /// the start keeps its digits. Times count from the window's first reading on.
    struct Moments {
        double count = 0, time_s = 0, value = 0, timeSquares = 0, products = 0, valueSquares = 0;
        void add(const Moments& others);
    };
    struct Piece {
        std::int64_t number = 0;
        Moments moments;
        double least = 0, most = 0;
    };
    [[nodiscard]] Moments all() const;
    [[nodiscard]] bool hasRate() const;

    Over m_over;
    double m_window_s;
    std::optional<double> m_start_s;
    std::deque<Piece> m_pieces;
};

}  // namespace fg
