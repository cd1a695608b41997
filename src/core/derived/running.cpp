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
    if (m_pieces.empty() || number > m_pieces.back().number) m_pieces.push_back({number, 0, 0, value, value, 0});
    Piece& piece = m_pieces.back();
    piece.times += at_s, piece.values += value, piece.count += 1;
    piece.least = std::min(piece.least, value), piece.most = std::max(piece.most, value);
    while (m_pieces.front().number <= number - kPieces) m_pieces.pop_front();
}

double RunningWindow::rate() const {
    // About the means, so that a large value far from the start keeps its digits.
    double count = 0, times = 0, values = 0;
    for (const Piece& piece : m_pieces) count += piece.count, times += piece.times, values += piece.values;
    const double middle_s = times / count, middle = values / count;
    double squares = 0, products = 0;
    for (const Piece& piece : m_pieces) {
        const double off_s = piece.times / piece.count - middle_s;
        squares += piece.count * off_s * off_s;
        products += piece.count * off_s * (piece.values / piece.count - middle);
    }
    return squares > 0 ? kSecondsAnHour * products / squares : std::nan("");
}

double RunningWindow::value() const {
    if (m_pieces.empty()) return std::nan("");
    switch (m_over) {
        case Over::Mean: {
            double count = 0, values = 0;
            for (const Piece& piece : m_pieces) count += piece.count, values += piece.values;
            return values / count;
        }
        case Over::Least:
            return std::min_element(m_pieces.begin(), m_pieces.end(),
                                    [](const Piece& a, const Piece& b) { return a.least < b.least; })
                ->least;
        case Over::Most:
            return std::max_element(m_pieces.begin(), m_pieces.end(),
                                    [](const Piece& a, const Piece& b) { return a.most < b.most; })
                ->most;
        case Over::Rate: {
            const Piece &first = m_pieces.front(), &last = m_pieces.back();
            const double passed_s = last.times / last.count - first.times / first.count;
            return passed_s >= kLeastPartForRate * m_window_s ? rate() : std::nan("");
        }
    }
    return std::nan("");
}

}  // namespace fg
