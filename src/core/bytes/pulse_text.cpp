#include "bytes/pulse_text.h"

#include "bytes/dump_text.h"
#include "units/number_format.h"
#include "units/value_text.h"

#include <fmt/format.h>

namespace fg {
namespace {

constexpr std::size_t kBits = 40;
constexpr std::size_t kMost = kBits + 2;

std::vector<std::string_view> wordsIn(std::string_view text) {
    constexpr std::string_view kBetween = " \t\r\n,;";
    std::vector<std::string_view> words;
    while (true) {
        const std::size_t first = text.find_first_not_of(kBetween);
        if (first == std::string_view::npos) return words;
        text.remove_prefix(first);
        words.push_back(text.substr(0, text.find_first_of(kBetween)));
        text.remove_prefix(words.back().size());
    }
}

}  // namespace

Expected<RawBlock> singleBusFromPulses(std::span<const double> high_us) {
    constexpr double kShortest = 15, kShort = 40, kLong = 55, kLongest = 95;
    if (high_us.size() < kBits || high_us.size() > kMost)
        return fail(ErrorCode::Range, "pulses", fmt::format("{} high times", high_us.size()),
                    "40, or up to 42 with the answer before them");
    RawBlock block{"frame", {}, std::vector<std::uint8_t>(kBits / 8)};
    const std::size_t skipped = high_us.size() - kBits;
    for (std::size_t i = 0; i < kBits; ++i) {
        const double high = high_us[skipped + i];
        const bool zero = high >= kShortest && high <= kShort, one = high >= kLong && high <= kLongest;
        if (!zero && !one)
            return fail(ErrorCode::Range, fmt::format("pulses, bit {}", i + 1), plainNumber(high, 4) + " µs",
                        "some 27 µs for a 0 or 70 µs for a 1");
        block.bytes[i / 8] = static_cast<std::uint8_t>(block.bytes[i / 8] << 1 | (one ? 1 : 0));
    }
    return block;
}

Expected<RawData> readPulses(std::string_view text) {
    std::vector<double> high_us;
    for (const std::string_view word : wordsIn(text)) {
        const auto value = readValue(word, Quantity::Ratio);
        if (!value) return tl::unexpected(value.error().within("pulses"));
        high_us.push_back(value->canonical);
    }
    const auto block = singleBusFromPulses(high_us);
    if (!block) return tl::unexpected(block.error());
    return RawData({*block});
}

Expected<RawData> readSingleBus(std::string_view text) {
    const std::size_t count = wordsIn(text).size();
    return count >= kBits && count <= kMost && text.find(':') == std::string_view::npos ? readPulses(text)
                                                                                        : readDump(text);
}

}  // namespace fg
