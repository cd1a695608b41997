// 0.0625 °C with three flags and the sign in one word.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"temperature", 0x05, 2, false, false}, {"resolution", 0x08, 1, false, true}};
}

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& options) {
    Tracer t("MCP9808 data sheet, ambient temperature register", options);
    const auto word = raw.word(0x05, 2, true);
    if (!word) return tl::unexpected(word.error());
    const int joined = word->be16(0);
    t.word("word", joined, *word, 0, 2, "high byte first");
    const Recorded code = t.word("code", signExtend(word->be16(0), 13), *word, 0, 2, "bits 12:0, two's complement");
    const Recorded value = t.step("T", code / 16.0, "degC");
    if (joined & 0x8000) t.note("critical", "at or above the critical limit");
    if (joined & 0x4000) t.note("upper", "above the upper limit");
    if (joined & 0x2000) t.note("lower", "below the lower limit");
    double step = 0.0625;
    if (raw.hasWord(0x08)) {
        const auto resolution = raw.word(0x08, 1, false);
        if (!resolution) return tl::unexpected(resolution.error());
        step = t.word("resolution", 0.5 / (1 << (resolution->u8(0) & 3)), *resolution, 0, 1, "0.5 °C/2^(bits 1:0)")
                   .value();
    }
    if (!t.expect(-40.0 <= value && value <= 125.0))
        return fail(ErrorCode::Range, "word", num(value.value()) + " °C", "a temperature from −40 to 125 °C");
    t.reading("temperature", Quantity::Temperature, value, step);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"temperature", -40 * 16, 125 * 16}}; }
RawData compose(std::span<const std::int64_t> values, const DeviceOptions&, const RawData&) {
    return RawData({{"", 0x05, bytesBe(static_cast<std::uint64_t>(values[0]) & 0x1FFF, 2)}});
}

}  // namespace

const Device device_rows::kMcp9808{
    .id = "mcp9808",
    .title = "Two-wire thermometer with flags",
    .source = "MCP9808 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
    .words = WordReading::OfPointer,
    .isZeroAtPowerOn = true,
};

}  // namespace fg
