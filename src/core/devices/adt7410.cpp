// 13 bits with three flags below them, or 16 bits.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<OptionSpec> options() {
    return {{"resolution", "Bits, where register 0x03 was not read", {"13", "16"}, "13"}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"temperature", 0x00, 2, false, false},
            {"status", 0x02, 1, false, true},
            {"configuration", 0x03, 1, false, true}};
}

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("ADT7410 data sheet, temperature value register and data format", chosen);
    const bool isPlain = raw.blocks().size() == 1 && !raw.blocks()[0].address;
    const auto word = isPlain ? raw.word(0x00, 2, true) : raw.registers(0x00, 2);
    if (!word) return tl::unexpected(word.error());
    bool fine = chosen.is("resolution", "16");
    if (raw.hasRegister(0x03)) {
        const Bytes config = raw.registers(0x03, 1).value();
        t.word("configuration", config.u8(0), config, 0, 1, "bit 7: 16 bits");
        fine = config.u8(0) & 0x80;
    }
    const int flags = word->sbe16(0);
    const auto joined = t.whole<std::int32_t>("word", flags, *word, 0, 2, "high byte first, two's complement");
    const auto code = fine ? joined : t.step("code", joined >> 3, "", "below it three flags");
    const double step = fine ? 1.0 / 128 : 1.0 / 16;
    const Recorded value = t.step("T", code.real() / (fine ? 128.0 : 16.0), "degC");
    if (!fine) {
        if (flags & 4) t.note("critical", "T_CRIT was passed");
        if (flags & 2) t.note("high", "T_HIGH was passed");
        if (flags & 1) t.note("low", "T_LOW was passed");
    }
    if (raw.hasRegister(0x02) && raw.registers(0x02, 1)->u8(0) & 0x80)
        t.doubt("stale", "the status register says that no new result is ready: this one was read before");
    if (!t.expect(-55.0 <= value && value <= 150.0))
        return fail(ErrorCode::Range, "word", num(value.value()) + " °C", "a temperature from −55 to 150 °C");
    t.reading("temperature", Quantity::Temperature, value, step);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions& chosen) {
    const int perDegree = chosen.is("resolution", "16") ? 128 : 16;
    return {{"temperature", -55 * perDegree, 150 * perDegree}};
}
RawData compose(std::span<const std::int64_t> values, const DeviceOptions& chosen, const RawData&) {
    return RawData(
        {{"", 0x00, bytesBe(static_cast<std::uint64_t>(values[0] * (chosen.is("resolution", "16") ? 1 : 8)), 2)}});
}

}  // namespace

const Device device_rows::kAdt7410{
    .id = "adt7410",
    .title = "Two-wire thermometer, 13 or 16 bits",
    .source = "ADT7410 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
