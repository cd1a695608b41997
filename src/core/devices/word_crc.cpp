#include "devices/word_crc.h"

namespace fg {

Expected<WordPair> readWordPair(const RawData& raw, Tracer& t, const char* firstName, const char* secondName) {
    const auto frame = raw.block("frame", 6);
    if (!frame) return tl::unexpected(frame.error());
    for (const std::size_t i : {std::size_t{0}, std::size_t{3}}) {
        const std::uint8_t crc = crc8Humidity(std::span(frame->data()).subspan(i, 2), 0xFF);
        if (crc != frame->u8(i + 2) && !t.ignoresChecksums())
            return fail(ErrorCode::Damaged, filled("frame, byte {}", i + 2), filled("CRC 0x{:02X}", frame->u8(i + 2)),
                        filled("0x{:02X} for {}", crc, frame->hex(i, 2)));
        t.word("CRC", crc, *frame, i + 2, 1, "fits");
    }
    WordPair pair;
    pair.first = t.word(firstName, frame->be16(0), *frame, 0, 2, "high byte first");
    pair.second = t.word(secondName, frame->be16(3), *frame, 3, 2, "high byte first");
    return pair;
}

RawData wordPairOf(std::uint16_t first, std::uint16_t second) {
    std::vector<std::uint8_t> bytes;
    for (const std::uint16_t word : {first, second}) {
        const auto two = bytesBe(word, 2);
        bytes.insert(bytes.end(), two.begin(), two.end());
        bytes.push_back(crc8Humidity(two, 0xFF));
    }
    return RawData({{"frame", {}, bytes}});
}

}  // namespace fg
