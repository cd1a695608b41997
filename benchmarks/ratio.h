// Two pieces of work in turn, as a ratio: the other core's noise falls on both.
#pragma once

#include <algorithm>
#include <chrono>
#include <functional>
#include <vector>

namespace fg::bench {

inline double seconds(const std::function<void()>& work) {
    const auto begin = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
}

/// Median ratio of two pieces of work done in turn.
inline double ratio(const std::function<void()>& a, const std::function<void()>& b, int rounds) {
    std::vector<double> ratios;
    for (int i = 0; i < rounds; ++i) {
        const double of = seconds(a);
        ratios.push_back(of / seconds(b));
    }
    std::nth_element(ratios.begin(), ratios.begin() + rounds / 2, ratios.end());
    return ratios[static_cast<std::size_t>(rounds / 2)];
}

}  // namespace fg::bench
