// Type K thermocouple to 12 bits.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"word", {}, 2, false, false}}; }

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& options) {
    Tracer t("MAX6675 data sheet, SO output: temperature reading", options);
    const auto word = raw.block("word", 2);
    if (!word) return tl::unexpected(word.error());
    const int joined = word->be16(0);
    t.word("word", joined, *word, 0, 2, "first bit sent highest");
    const bool isIdentityClear = t.expectClear(*word, 0, {7}) && t.expectClear(*word, 1, {1});
    if (!isIdentityClear)
        return fail(ErrorCode::Range, "word", filled("0x{:04X}", joined),
                    "bit 15 and bit 1 (device identity) 0: nothing drives the line, or another part does");
    const int code = joined >> 3;
    const Recorded counted = t.word("code", code, *word, 0, 2, "bits 14:3");
    const Recorded value = t.step("T", counted * 0.25, "degC");
    if (!t.expectClear(*word, 1, {2})) {
        t.fault("open", "bit 2 is set: the thermocouple is open, or its minus wire is not grounded");
        t.reading("temperature", Quantity::Temperature, kNoValue, 0.25);
        return t.decoded;
    }
    if (!t.expect(counted < 4095.0)) t.fault("clipped", "full scale: at least 1023.75 °C");
    t.reading("temperature", Quantity::Temperature, value, 0.25, code == 0xFFF ? Bound::AtLeast : Bound::None);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"temperature", 0, 4095}}; }
RawData compose(std::span<const std::int64_t> values, const DeviceOptions&, const RawData&) {
    return RawData({{"word", {}, bytesBe(static_cast<std::uint64_t>(values[0] << 3), 2)}});
}

}  // namespace

const Device device_rows::kMax6675{
    .id = "max6675",
    .title = "Thermocouple to digital, 12 bits",
    .source = "MAX6675 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
