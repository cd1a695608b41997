#pragma once

#include <array>
#include <cstdint>
#include <span>

namespace fg {

/// xoshiro256++: small, quick, and good enough for Monte Carlo (period 2^256 − 1). Seeded through splitmix64, so that
/// any seed will do. Source: Blackman, Vigna, "Scrambled linear pseudorandom number generators", ACM TOMS 47
/// (2021), 36. A UniformRandomBitGenerator.
class Xoshiro256 {
  public:
    using result_type = std::uint64_t;

    explicit Xoshiro256(std::uint64_t seed) {
        for (std::uint64_t& word : m_state) {
            seed += 0x9e3779b97f4a7c15u;
            std::uint64_t z = seed;
            z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9u;
            z = (z ^ (z >> 27)) * 0x94d049bb133111ebu;
            word = z ^ (z >> 31);
        }
    }

    static constexpr std::uint64_t min() { return 0; }
    static constexpr std::uint64_t max() { return ~std::uint64_t{0}; }

    std::uint64_t operator()() {
        const std::uint64_t result = rotated(m_state[0] + m_state[3], 23) + m_state[0];
        const std::uint64_t t = m_state[1] << 17;
        m_state[2] ^= m_state[0];
        m_state[3] ^= m_state[1];
        m_state[1] ^= m_state[2];
        m_state[0] ^= m_state[3];
        m_state[2] ^= t;
        m_state[3] = rotated(m_state[3], 45);
        return result;
    }

    /// Anywhere in −1 … 1, 53 bits.
    double symmetric() { return static_cast<double>(static_cast<std::int64_t>((*this)()) >> 10) * 0x1p-53; }

    /// As many of symmetric() as there is room for; the state stays in registers on the way.
    void fillSymmetric(std::span<double> room) {
        Xoshiro256 local = *this;
        for (double& value : room) value = local.symmetric();
        *this = local;
    }

  private:
    static std::uint64_t rotated(std::uint64_t x, int k) { return (x << k) | (x >> (64 - k)); }
    std::array<std::uint64_t, 4> m_state{};
};

}  // namespace fg
