#pragma once

#include <future>
#include <vector>

namespace fg {

/// Into how many parts a long proof is shared out among the machine's cores. The same everywhere, and with it every
/// figure.
inline constexpr int kProofParts = 4;

/// What `run` gives for each part, in their order. `run` is called from several threads at once.
template <class Run>
[[nodiscard]] auto inParts(int parts, const Run& run) {
    std::vector<std::future<decltype(run(0))>> running;
    for (int part = 1; part < parts; ++part)
        // Where there is no thread to be had it is run in this one.
        running.push_back(std::async(std::launch::async | std::launch::deferred, [&run, part] { return run(part); }));
    std::vector<decltype(run(0))> results;
    results.push_back(run(0));
    for (auto& one : running) results.push_back(one.get());
    return results;
}

}  // namespace fg
