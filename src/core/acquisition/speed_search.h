#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace fg {

/// The speeds at which boards usually speak, likeliest first; baud.
[[nodiscard]] std::span<const int> usualSpeeds();

/// Finds the speed of a serial line on which only junk came: one after the other is listened to for a while. Decides;
/// what sets the line does what it says.
class SpeedSearch {
  public:
    /// `given`: the speed at which junk came.
    explicit SpeedSearch(int given);

    enum class State { Searching, Found, Failed };
    /// What the line reader has counted since it was set to speed(), and for how long. Moves on to the next speed, or
    /// ends.
    void listen(std::uint64_t frames, std::uint64_t junk, double seconds);
    [[nodiscard]] State state() const { return m_state; }
    /// To listen at now; once found that one, once failed the given one again.
    [[nodiscard]] int speed() const;
    [[nodiscard]] int given() const { return m_given; }

    static constexpr std::uint64_t kEnoughLines = 4;
    static constexpr double kListen_s = 2.5;

  private:
    int m_given;
    std::vector<int> m_left;  // the next one last
    State m_state = State::Searching;
};

}  // namespace fg
