#include "devices/single_bus.h"

namespace fg {

Expected<Bytes> readSingleBusFrame(const RawData& raw, Tracer& t) {
    auto frame = raw.block("frame", 5);
    if (!frame) return frame;
    const unsigned sum = frame->u8(0) + frame->u8(1) + frame->u8(2) + frame->u8(3);
    if ((sum & 0xFF) != frame->u8(4) && !t.ignoresChecksums())
        return fail(ErrorCode::Damaged, "frame", filled("checksum 0x{:02X}", frame->u8(4)),
                    filled("0x{:02X}, the sum of the four bytes before it", sum & 0xFF));
    if (!t.expect(differs(t.aside("all", sum, *frame, 0, 4), 0.0)))
        return fail(ErrorCode::Missing, "frame", "only 00, whose sum fits by chance", "a part that answers");
    t.word("sum", sum & 0xFF, *frame, 4, 1, "fits");
    return frame;
}

RawData singleBusFrameOf(std::vector<std::uint8_t> four) {
    unsigned sum = 0;
    for (const std::uint8_t byte : four) sum += byte;
    four.push_back(static_cast<std::uint8_t>(sum));
    return RawData({{"frame", {}, std::move(four)}});
}

}  // namespace fg
