#include "devices/one_wire.h"

#include <algorithm>

namespace fg {
namespace {

/// What carries a family code on the line, by its data sheet.
std::string familyName(int family) {
    switch (family) {
        case 0x28:
            return "ds18b20";
        case 0x22:
            return "ds1822";
        case 0x10:
            return "ds18s20";
        default:
            return "another part";
    }
}

}  // namespace

Expected<void> readRomCode(const RawData& raw, Tracer& tracer, std::initializer_list<int> families) {
    const auto rom = raw.block("rom", 8);
    if (!rom) return tl::unexpected(rom.error());
    const std::uint8_t crc = crc8OneWire(std::span(rom->data()).first(7));
    if (crc != rom->u8(7))
        return fail(ErrorCode::Damaged, "rom", filled("CRC 0x{:02X}", rom->u8(7)),
                    filled("0x{:02X} for its seven bytes", crc));
    tracer.word("family", rom->u8(0), *rom, 0, 1, "family code of " + familyName(rom->u8(0)));
    // Sent from its lowest byte on: 48 bits, which a double holds exactly.
    double serial = 0;
    for (std::size_t i = 6; i >= 1; --i) serial = serial * 256 + rom->u8(i);
    tracer.word("serial", serial, *rom, 1, 6, "serial number, lowest byte first");
    if (std::find(families.begin(), families.end(), rom->u8(0)) == families.end())
        return fail(ErrorCode::Unknown, "rom",
                    filled("family code 0x{:02X}, of {}", rom->u8(0), familyName(rom->u8(0))),
                    filled("0x{:02X} for {}", *families.begin(), familyName(*families.begin())));
    return {};
}

Expected<Bytes> readScratchpad(const RawData& raw, Tracer& tracer, std::initializer_list<int> families) {
    const bool hasRom =
        std::any_of(raw.blocks().begin(), raw.blocks().end(), [](const RawBlock& b) { return b.name == "rom"; });
    if (hasRom)
        if (const auto checked = readRomCode(raw, tracer, families); !checked) return tl::unexpected(checked.error());
    auto pad = raw.block("scratchpad", 9);
    if (!pad) return pad;
    const auto all = [&](std::uint8_t value) {
        return std::all_of(pad->data().begin(), pad->data().end(), [&](std::uint8_t byte) { return byte == value; });
    };
    // Eight bytes of FF do not fit their CRC either: here it is said by name.
    if (all(0xFF) && !tracer.ignoresChecksums())
        return fail(ErrorCode::Missing, "scratchpad", "only FF", "a probe that answers: nothing pulls the line low");
    if (all(0x00))
        return fail(ErrorCode::Damaged, "scratchpad", "only 00, whose CRC fits by chance",
                    "a line that goes high: shorted, or no pull-up");
    const std::uint8_t crc = crc8OneWire(std::span(pad->data()).first(8));
    if (crc != pad->u8(8) && !tracer.ignoresChecksums())
        return fail(ErrorCode::Damaged, "scratchpad", filled("CRC 0x{:02X}", pad->u8(8)),
                    filled("0x{:02X} for the eight bytes before it", crc));
    tracer.word("CRC", crc, *pad, 8, 1, "fits");
    return pad;
}

RawData scratchpadOf(std::vector<std::uint8_t> eight) {
    eight.push_back(crc8OneWire(eight));
    return RawData({{"scratchpad", {}, std::move(eight)}});
}

}  // namespace fg
