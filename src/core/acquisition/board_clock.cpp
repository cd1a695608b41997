#include "acquisition/board_clock.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

constexpr double kBucket_s = 10;
constexpr std::size_t kMostBuckets = 60, kLeastForDrift = 4;
/// Later than this a line is not counted as late, but the clock as another one.
constexpr double kJump_s = 2;

}  // namespace

void BoardClock::restart(double board_s, double arrived_s) {
    m_minima = {{board_s, arrived_s - board_s}};
    m_added_s = 0;
    m_isStarted = true;
    fit();
}

BoardClock::Event BoardClock::take(double board_s, double arrived_s) {
    Event event = Event::None;
    double now_s = board_s + m_added_s;
    if (!m_isStarted) {
        restart(board_s, arrived_s);
        now_s = board_s;
    } else if (now_s < m_before_s) {
        // A counter of 32 bits that went round comes back by its whole length, to within what passed meanwhile.
        event = Event::Restart;
        for (const double length_s : {4294967.296, 4294.967296}) {
            const double passed_s = now_s + length_s - m_before_s;
            if (passed_s < 0 || m_before_s - m_added_s < 0.9 * length_s || passed_s > 0.1 * length_s) continue;
            m_added_s += length_s;
            now_s += length_s;
            event = Event::Wrap;
            break;
        }
        if (event == Event::Restart) {
            restart(board_s, arrived_s);
            now_s = board_s;
        }
    }
    m_before_s = now_s;
    const double offset_s = arrived_s - now_s;
    Least& last = m_minima.back();
    if (now_s - m_minima.front().board_s < kBucket_s * static_cast<double>(m_minima.size())) {
        if (offset_s < last.offset_s) {
            last = {now_s, offset_s};
            fit();
        }
    } else {
        m_minima.push_back({now_s, offset_s});
        if (m_minima.size() > kMostBuckets) m_minima.pop_front();
        fit();
    }
    const double mapped_s = now_s + m_offset_s + m_slope * (now_s - m_origin_s);
    // A clock that jumped, or lines held up for long, are told by the arrival.
    const double measured_s = arrived_s - mapped_s > kJump_s ? arrived_s : std::min(mapped_s, arrived_s);
    m_measured_s = event == Event::Restart ? measured_s : std::max(m_measured_s, measured_s);
    return event;
}

void BoardClock::fit() {
    m_origin_s = m_minima.front().board_s;
    m_offset_s = m_minima.back().offset_s;
    m_slope = 0;
    if (m_minima.size() < kLeastForDrift) {
        for (const Least& one : m_minima) m_offset_s = std::min(m_offset_s, one.offset_s);
        return;
    }
    // The newest has seen few lines yet.
    const std::size_t count = m_minima.size() > kLeastForDrift ? m_minima.size() - 1 : m_minima.size();
    double sumX = 0, sumY = 0, sumXX = 0, sumXY = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const auto [board_s, offset_s] = m_minima[i];
        const double x = board_s - m_origin_s;
        sumX += x;
        sumY += offset_s;
        sumXX += x * x;
        sumXY += x * offset_s;
    }
    const auto n = static_cast<double>(count);
    m_slope = (n * sumXY - sumX * sumY) / (n * sumXX - sumX * sumX);
    m_offset_s = (sumY - m_slope * sumX) / n;
}

std::optional<double> BoardClock::drift_ppm() const {
    if (m_minima.size() < kLeastForDrift) return std::nullopt;
    return -1e6 * m_slope;
}

}  // namespace fg
