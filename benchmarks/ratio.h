// Two pieces of work in turn, as a ratio: the other core's noise falls on both.
#pragma once

#include <sys/resource.h>
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

/// Processor time that this process has used, of all its threads.
inline double processor_s() {
    rusage usage{};
    ::getrusage(RUSAGE_SELF, &usage);
    const auto seconds = [](const timeval& t) {
        return static_cast<double>(t.tv_sec) + 1e-6 * static_cast<double>(t.tv_usec);
    };
    return seconds(usage.ru_utime) + seconds(usage.ru_stime);
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
