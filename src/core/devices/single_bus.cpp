#include "devices/single_bus.h"

namespace fg {

Expected<Bytes> readSingleBusFrame(const RawData& raw, Tracer& t) {
    auto frame = raw.block("frame", 5);
    if (!frame) return frame;
    const unsigned sum = frame->u8(0) + frame->u8(1) + frame->u8(2) + frame->u8(3);
    if ((sum & 0xFF) != frame->u8(4))
        return fail(ErrorCode::Damaged, "frame", fmt::format("checksum 0x{:02X}", frame->u8(4)),
                    fmt::format("0x{:02X}, the sum of the four bytes before it", sum & 0xFF));
    if (sum == 0) return fail(ErrorCode::Missing, "frame", "only 00, whose sum fits by chance", "a part that answers");
    t.word("sum", sum & 0xFF, *frame, 4, 1, "fits");
    return frame;
}

RawData singleBusFrameOf(std::vector<std::uint8_t> four) {
    unsigned sum = 0;
    for (const std::uint8_t byte : four) sum += byte;
    four.push_back(static_cast<std::uint8_t>(sum));
    return RawData({{"frame", {}, std::move(four)}});
}

Expected<RawBlock> singleBusFromPulses(std::span<const double> high_us) {
    constexpr double kShortest = 15, kShort = 40, kLong = 55, kLongest = 95;
    constexpr std::size_t kBits = 40;
    if (high_us.size() < kBits || high_us.size() > kBits + 2)
        return fail(ErrorCode::Range, "pulses", fmt::format("{} high times", high_us.size()), "40, or up to 42 with the answer before them");
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

}  // namespace fg
