// 1-wire temperature probe of 9 to 12 bits.

#include "devices/one_wire.h"

namespace fg {
namespace {

constexpr std::int64_t kPowerOn = 0x0550;  // 85 °C

std::vector<OptionSpec> options() {
    return {{"resolution", "Resolution where the bytes do not say it, bits", {"9", "10", "11", "12"}, "12"},
            {"family", "Family code of its eight-byte code, hexadecimal", {"28", "22"}, "28"}};
}

std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"scratchpad", {}, 9, false, false}, {"rom", {}, 8, false, true}};
}

/// The eight-byte code alone, as a search of the line gives it: no temperature, but whose it is. Nothing for other
/// bytes.
std::optional<Expected<Decoded>> decodeCodeAlone(const RawData& raw, int family, const DeviceOptions& chosen) {
    if (raw.blocks().size() != 1 || raw.blocks()[0].bytes.size() != 8 || raw.blocks()[0].isNumber) return std::nullopt;
    if (!raw.blocks()[0].name.empty() && raw.blocks()[0].name != "rom") return std::nullopt;
    // Without a name only what begins with a family code is one: the first eight bytes of a scratchpad are not.
    const std::uint8_t first = raw.blocks()[0].bytes[0];
    if (raw.blocks()[0].name.empty() && first != 0x28 && first != 0x22 && first != 0x10) return std::nullopt;
    Tracer t("DS18B20 data sheet, 64-bit ROM code", chosen);
    if (const auto checked = readRomCode(raw, t, {family}); !checked)
        return Expected<Decoded>(tl::unexpected(checked.error()));
    t.note("code", "the code of a probe, without its temperature: read the scratchpad for that");
    t.reading("temperature", Quantity::Temperature, kNoValue, 0);
    return Expected<Decoded>(std::move(t.decoded));
}

/// The two bytes of the temperature alone, low byte first, or their value as one number (0x0191): without CRC and
/// configuration.
std::optional<Expected<Decoded>> decodeWordAlone(const RawData& raw, const DeviceOptions& chosen) {
    if (raw.blocks().size() != 1 || raw.blocks()[0].address) return std::nullopt;
    const RawBlock& only = raw.blocks()[0];
    if ((!only.name.empty() && only.name != "scratchpad") || only.bytes.size() > 2 ||
        (!only.isNumber && only.bytes.size() != 2))
        return std::nullopt;
    Tracer t("DS18B20 data sheet, temperature register format", chosen);
    const auto pair = raw.block("scratchpad", 2, ByteOrder::LowFirst);
    if (!pair) return Expected<Decoded>(tl::unexpected(pair.error()));
    const int code = pair->sle16(0);
    const Recorded word = t.word("code", code, *pair, 0, 2, "low byte first, two's complement");
    const Recorded value = t.step("T", word / 16.0, "degC");
    if (value.value() < -55 || value.value() > 125)
        return Expected<Decoded>(fail(ErrorCode::Range, "scratchpad", num(value.value()) + " °C",
                                      "a temperature from −55 to 125 °C: low byte first?"));
    if (code == kPowerOn)
        t.doubt("power-on",
                "85 °C is also what the register holds after power-on: no conversion may have been made, or it was not "
                "waited for.");
    else
        t.note("unchecked", "two bytes alone have no checksum");
    t.reading("temperature", Quantity::Temperature, value,
              1.0 / (1 << (static_cast<int>(chosen.number("resolution")) - 8)));
    return Expected<Decoded>(std::move(t.decoded));
}

// T = int16/16; bits below the resolution are undefined (figures 3 and 4 of the data sheet) and are taken as 0.
Expected<Decoded> decodeProbe(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("DS18B20 data sheet, temperature register format and scratchpad", chosen);
    const int family = chosen.is("family", "22") ? 0x22 : 0x28;
    if (const auto alone = decodeCodeAlone(raw, family, chosen); alone) return *alone;
    if (const auto alone = decodeWordAlone(raw, chosen); alone) return *alone;
    const auto pad = readScratchpad(raw, t, {family});
    if (!pad) return tl::unexpected(pad.error());
    const std::uint8_t config = pad->u8(4);
    if ((config & 0x9F) != 0x1F)
        return fail(ErrorCode::Range, "scratchpad, byte 4", filled("0x{:02X}", config),
                    "0x1F, 0x3F, 0x5F or 0x7F as the configuration register has it");
    const int resolution = 9 + (config >> 5 & 3), hidden = 12 - resolution;
    const auto bits = t.whole<std::int32_t>("resolution", resolution, *pad, 4, 1, "bits 6:5 + 9");
    for (const int number : {0, 1, 2, 3, 4}) t.expect(differs(t.bit("config", *pad, 4, number), 0.0));
    t.expectClear(*pad, 4, {7});
    const int word = pad->sle16(0);
    auto code = t.whole<std::int32_t>("code", word, *pad, 0, 2, "low byte first, two's complement");
    const auto shift = Whole<std::int32_t>(12) - bits;
    if (asr(word, hidden) * (1 << hidden) != word)
        code = t.step("masked", (code >> shift) << shift, "",
                      filled("{} bits: the lowest {} undefined", resolution, hidden));
    else  // nothing to take off here, but in other frames there is
        code = select(differs(shift.real(), 0.0), (code >> shift) << shift, code);
    const Recorded value = t.step("T", code.real() / 16.0, "degC");
    if (!t.expect(-55.0 <= value && value <= 125.0))
        return fail(ErrorCode::Range, "scratchpad", num(value.value()) + " °C", "a temperature from −55 to 125 °C");
    t.word("TH", pad->s8(2), *pad, 2, 1, "alarm at or above, °C");
    t.word("TL", pad->s8(3), *pad, 3, 1, "alarm at or below, °C");
    if (word == kPowerOn)
        t.doubt("power-on",
                "85 °C is also what the register holds after power-on: no conversion may have been made, or it was not "
                "waited for.");
    else if (asr(word, 4) >= pad->s8(2) || asr(word, 4) <= pad->s8(3))
        t.note("alarm", filled("outside its alarm bytes TL {} °C and TH {} °C: it answers an alarm search", pad->s8(3),
                               pad->s8(2)));
    t.note("conversion",
           filled("{} bits take up to {} ms to convert", resolution, num(93.75 * (1 << (resolution - 9)))));
    t.reading("temperature", Quantity::Temperature, value, 1.0 / (1 << (resolution - 8)));
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions& chosen) {
    const std::int64_t step = std::int64_t{1} << (12 - static_cast<int>(chosen.number("resolution")));
    return {{"temperature", -55 * 16 / step, 125 * 16 / step}};
}

RawData compose(std::span<const std::int64_t> values, const DeviceOptions& chosen, const RawData&) {
    const int resolution = static_cast<int>(chosen.number("resolution"));
    const auto word = bytesLe(static_cast<std::uint64_t>(values[0] * (1 << (12 - resolution))), 2);
    return scratchpadOf(
        {word[0], word[1], 0x4B, 0x46, static_cast<std::uint8_t>((resolution - 9) << 5 | 0x1F), 0xFF, 0x0C, 0x10});
}

}  // namespace

const Device device_rows::kDs18b20{
    .id = "ds18b20",
    .title = "1-wire temperature probe, 9 to 12 bits",
    .source = "DS18B20 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeProbe,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
