#include "acquisition/speed_search.h"

#include <array>

namespace fg {

std::span<const int> usualSpeeds() {
    static constexpr std::array kSpeeds{115200, 9600,   57600,  38400,   19200,   74880, 230400, 250000,
                                        460800, 500000, 921600, 1000000, 2000000, 4800,  2400,   1200};
    return kSpeeds;
}

SpeedSearch::SpeedSearch(int given) : m_given(given) {
    const auto speeds = usualSpeeds();
    for (auto it = speeds.rbegin(); it != speeds.rend(); ++it)
        if (*it != given) m_left.push_back(*it);
}

int SpeedSearch::speed() const { return m_state == State::Failed ? m_given : m_left.back(); }

void SpeedSearch::listen(std::uint64_t frames, std::uint64_t junk, double seconds) {
    if (m_state != State::Searching) return;
    // The first line may have begun before the line was set: one piece of junk says nothing.
    if (frames >= kEnoughLines && frames >= 4 * (junk > 1 ? junk - 1 : 0)) {
        m_state = State::Found;
        return;
    }
    const bool isJunk = junk >= 2 * kEnoughLines && frames * 4 < junk;
    if (!isJunk && seconds < kListen_s) return;
    // A slow board gives few lines: what came understood and clean is worth a longer look.
    if (!isJunk && frames > 0 && junk <= 1 && seconds < 4 * kListen_s) return;
    m_left.pop_back();
    if (m_left.empty()) m_state = State::Failed;
}

}  // namespace fg
