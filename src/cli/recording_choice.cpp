#include "recording_choice.h"

#include <charconv>

namespace fg::cli {

Expected<BenchRecording> recordingOf(const std::vector<BenchRecording>& all, const std::string& wish) {
    if (all.empty()) return fail(ErrorCode::Missing, "bench", "no recordings", "one: fgauge log --into records");
    if (wish.empty()) return all.back();
    std::int64_t number = 0;
    const auto [stop, status] = std::from_chars(wish.data(), wish.data() + wish.size(), number);
    const bool isNumber = status == std::errc{} && stop == wish.data() + wish.size();
    for (auto it = all.rbegin(); it != all.rend(); ++it)
        if ((isNumber && it->id == number) || it->name == wish) return *it;
    return fail(ErrorCode::Unknown, "--recording", "“" + wish + "”", "a number or a name that --list shows");
}

}  // namespace fg::cli
