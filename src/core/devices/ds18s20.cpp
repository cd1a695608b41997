// The older 1-wire probe: half degrees, and more from its counters.

#include "devices/one_wire.h"

namespace fg {
namespace {

constexpr std::int16_t kPowerOn = 0x00AA;  // 85 °C

std::vector<OptionSpec> options() { return {{"extended", "Take the counters into account", {"0", "1"}, "1"}}; }
std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"scratchpad", {}, 9, false, false}, {"rom", {}, 8, false, true}};
}

// T = TEMP_READ − 0.25 + (COUNT_PER_C − COUNT_REMAIN)/COUNT_PER_C, TEMP_READ being the register without its half
// degree.
Expected<Decoded> decodeProbe(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("DS18S20 data sheet, operation: measuring temperature", chosen);
    const auto pad = readScratchpad(raw, t, {0x10});
    if (!pad) return tl::unexpected(pad.error());
    const int word = pad->sle16(0);
    const auto code = t.whole<std::int32_t>("code", word, *pad, 0, 2, "low byte first, two's complement, half degrees");
    Recorded value;
    double step = 0.5;
    const Recorded remain = t.word("COUNT_REMAIN", pad->u8(6), *pad, 6, 1, ""),
                   per = t.word("COUNT_PER_C", pad->u8(7), *pad, 7, 1, "");
    if (chosen.is("extended", "1")) {
        if (!t.expect(per > 0.0))
            return fail(ErrorCode::Range, "scratchpad, byte 7", "0", "a COUNT_PER_C above 0 (it is 16)");
        const Recorded whole = t.step("TEMP_READ", code >> 1, "degC").real();
        value = t.step("T", whole - 0.25 + (per - remain) / per, "degC");
        step = 1.0 / per.value();
    } else {
        value = t.step("T", code.real() / 2.0, "degC");
    }
    if (!t.expect(-110.0 <= code.real() && code.real() <= 250.0))
        return fail(ErrorCode::Range, "scratchpad", num(value.value()) + " °C", "a temperature from −55 to 125 °C");
    if (word == kPowerOn && remain.value() == 0x0C)
        t.doubt("power-on", "85 °C with counters as after power-on: no conversion was made, or it was not waited for.");
    t.reading("temperature", Quantity::Temperature, value, step);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"temperature", -55 * 16, 125 * 16}}; }

RawData compose(std::span<const std::int64_t> values, const DeviceOptions&, const RawData&) {
    // Sixteenths of a degree above TEMP_READ − 0.25; the counter runs down from 16.
    const std::int64_t shifted = values[0] + 4, whole = shifted >> 4, rest = shifted & 15, remain = 16 - rest;
    const auto word = bytesLe(static_cast<std::uint64_t>(whole * 2 + (rest >= 12 ? 1 : 0)), 2);
    return scratchpadOf({word[0], word[1], 0x4B, 0x46, 0xFF, 0xFF, static_cast<std::uint8_t>(remain), 0x10});
}

}  // namespace

const Device device_rows::kDs18s20{
    .id = "ds18s20",
    .title = "1-wire temperature probe, 9 bits extended by counters",
    .source = "DS18S20 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeProbe,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
