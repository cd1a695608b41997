// A clock that measures its crystal to a quarter of a degree.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"temperature", 0x11, 2, false, false}}; }

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& options) {
    Tracer t("DS3231 data sheet, temperature registers 11h and 12h", options);
    const bool isPlain = raw.blocks().size() == 1 && !raw.blocks()[0].address;
    const auto word = isPlain ? raw.block("temperature", 2) : raw.registers(0x11, 2);
    if (!word) return tl::unexpected(word.error());
    const Recorded code =
        t.word("code", asr(word->sbe16(0), 6), *word, 0, 2, "high byte first, two's complement, upper ten bits");
    if (word->u8(1) & 0x3F)
        return fail(ErrorCode::Range, "register 0x12", filled("0x{:02X}", word->u8(1)), "its lower six bits 0");
    const Recorded value = t.step("T", code / 4.0, "degC");
    t.note("interval", "measured every 64 s, or when CONV is set");
    t.note("chip", "this is the clock chip's own temperature");
    t.reading("temperature", Quantity::Temperature, value, 0.25);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"temperature", -512, 511}}; }
RawData compose(std::span<const std::int64_t> values, const DeviceOptions&, const RawData&) {
    return RawData({{"", 0x11, bytesBe(static_cast<std::uint64_t>(values[0] * 64), 2)}});
}

}  // namespace

const Device device_rows::kDs3231{
    .id = "ds3231",
    .title = "Real-time clock with a thermometer",
    .source = "DS3231 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
