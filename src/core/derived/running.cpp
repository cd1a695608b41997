#include "derived/running.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

constexpr double kSecondsAnHour = 3600;
constexpr double kLeastPartForRate = 0.1;

constexpr std::array kKinds{
    RunningKind{"running-mean", "Mean of the last while", Over::Mean, "arithmetic mean of the readings in the window"},
    RunningKind{"running-least", "Lowest of the last while", Over::Least, "least of the readings in the window"},
    RunningKind{"running-most", "Highest of the last while", Over::Most, "greatest of the readings in the window"},
    RunningKind{"rate-of-change", "Rate of change", Over::Rate,
                "slope of the line of least squares through the readings in the window"},
};

}  // namespace

std::span<const RunningKind> runningKinds() { return kKinds; }

const RunningKind* findRunningKind(std::string_view id) {
    const auto it = std::find_if(kKinds.begin(), kKinds.end(), [&](const RunningKind& kind) { return kind.id == id; });
    return it == kKinds.end() ? nullptr : &*it;
}

std::optional<Quantity> outputOf(const RunningKind& kind, Quantity of) {
    return kind.over == Over::Rate ? rateOf(of) : std::optional(of);
}

RunningWindow::RunningWindow(Over over, double window_s) : m_over(over), m_window_s(window_s) {}

void RunningWindow::add(double time_s, double value) {
    if (std::isnan(value) || std::isnan(time_s)) return;
    if (!m_start_s) m_start_s = time_s;
    const double at_s = time_s - *m_start_s;
    const auto number = static_cast<std::int64_t>(std::floor(at_s / m_window_s * kPieces));
    if (m_pieces.empty() || number > m_pieces.back().number) m_pieces.push_back({number, {}, value, value});
    Piece& piece = m_pieces.back();
    piece.moments.add({1, at_s, value});
    piece.least = std::min(piece.least, value), piece.most = std::max(piece.most, value);
    while (m_pieces.front().number <= number - kPieces) m_pieces.pop_front();
}

// Sums about the mean of two groups together: Chan, Golub, LeVeque, Updating formulae (1979).
void RunningWindow::Moments::add(const Moments& others) {
    const double both = count + others.count, weight = count * others.count / both;
    const double apart_s = others.time_s - time_s, apart = others.value - value;
    timeSquares += others.timeSquares + weight * apart_s * apart_s;
    products += others.products + weight * apart_s * apart;
    valueSquares += others.valueSquares + weight * apart * apart;
    time_s += apart_s * others.count / both;
    value += apart * others.count / both;
    count = both;
}

RunningWindow::Moments RunningWindow::all() const {
    Moments sum;
    for (const Piece& piece : m_pieces) sum.add(piece.moments);
    return sum;
}

bool RunningWindow::hasRate() const {
    if (m_pieces.empty()) return false;
    const double passed_s = m_pieces.back().moments.time_s - m_pieces.front().moments.time_s;
    return passed_s > 0 && passed_s >= kLeastPartForRate * m_window_s;
}

double RunningWindow::value() const {
    if (m_pieces.empty()) return std::nan("");
    switch (m_over) {
        case Over::Mean:
            return all().value;
        case Over::Least:
            return std::min_element(m_pieces.begin(), m_pieces.end(),
                                    [](const Piece& a, const Piece& b) { return a.least < b.least; })
                ->least;
        case Over::Most:
            return std::max_element(m_pieces.begin(), m_pieces.end(),
                                    [](const Piece& a, const Piece& b) { return a.most < b.most; })
                ->most;
        case Over::Rate: {
            const Moments line = all();
            return hasRate() ? kSecondsAnHour * line.products / line.timeSquares : std::nan("");
        }
    }
    return std::nan("");
}

std::optional<double> RunningWindow::standard() const {
    const Moments line = all();
    if (m_over != Over::Rate || !hasRate() || line.count < 3) return std::nullopt;
    const double left = std::max(0.0, line.valueSquares - line.products * line.products / line.timeSquares);
    return kSecondsAnHour * std::sqrt(left / (line.count - 2) / line.timeSquares);
}

}  // namespace fg
