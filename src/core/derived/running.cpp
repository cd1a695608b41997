#include "derived/running.h"

#include <array>

namespace fg {
namespace {

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

template <class Real>
void RunningWindowOf<Real>::add(double time_s, Real value) {
    if (std::isnan(value) || std::isnan(time_s)) return;
    if (!m_start_s) m_start_s = time_s;
    const std::int64_t at_us = m_pieces.microseconds(time_s - *m_start_s);
    auto& [number, first_us, sums] = m_pieces.at(at_us);
    sums.moments.add({1, 0, value}, Real(static_cast<double>(at_us - first_us) / 1e6));
    sums.least = std::min(sums.least, value);
    sums.most = std::max(sums.most, value);
}

template <class Real>
Moments<Real> RunningWindowOf<Real>::all() const {
    Moments<Real> sum;
    for (const auto& piece : m_pieces.all())
        sum.add(piece.sums.moments, Real(static_cast<double>(piece.first_us - m_pieces.all().front().first_us) / 1e6));
    return sum;
}

template <class Real>
bool RunningWindowOf<Real>::hasRate() const {
    if (m_pieces.all().empty()) return false;
    const auto &first = m_pieces.all().front(), &last = m_pieces.all().back();
    const Real apart_s = Real(static_cast<double>(last.first_us - first.first_us) / 1e6);
    const Real passed_s = last.sums.moments.time_s + apart_s - first.sums.moments.time_s;
    return passed_s > 0 && passed_s >= Real(kLeastPartForRate) * m_window_s;
}

template <class Real>
Real RunningWindowOf<Real>::value() const {
    constexpr Real kNone = std::numeric_limits<Real>::quiet_NaN();
    const auto& pieces = m_pieces.all();
    if (pieces.empty()) return kNone;
    Real value = pieces.front().sums.least;
    switch (m_over) {
        case Over::Mean:
            return all().value;
        case Over::Least:
            for (const auto& piece : pieces) value = std::min(value, piece.sums.least);
            return value;
        case Over::Most:
            for (const auto& piece : pieces) value = std::max(value, piece.sums.most);
            return value;
        case Over::Rate:
            return hasRate() ? all().slope() : kNone;
    }
    return kNone;
}

template <class Real>
std::optional<double> RunningWindowOf<Real>::standard() const {
    const Moments<Real> line = all();
    if (m_over != Over::Rate || !hasRate() || line.count < 3) return std::nullopt;
    const double left = std::max(0.0, double(line.valueSquares - line.products * line.products / line.timeSquares));
    constexpr double kSecondsAnHour = 3600;
    return kSecondsAnHour * std::sqrt(left / (double(line.count) - 2) / double(line.timeSquares));
}

template class RunningWindowOf<double>;
template class RunningWindowOf<float>;

}  // namespace fg
