// 16 bits of 7.8125 m°C.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

constexpr double kStep = 7.8125e-3;
constexpr std::int16_t kNothingYet = std::int16_t(-32768);

std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"temperature", 0x00, 2, false, false}, {"configuration", 0x01, 2, false, true}};
}

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& options) {
    Tracer t("TMP117 data sheet, temperature register", options);
    const auto word = raw.word(0x00, 2, true);
    if (!word) return tl::unexpected(word.error());
    const int code = word->sbe16(0);
    const Recorded counted = t.word("code", code, *word, 0, 2, "high byte first, two's complement");
    const Recorded value = t.step("T", counted * kStep, "degC");
    if (raw.hasWord(0x01)) {
        const auto config = raw.word(0x01, 2, false);
        if (!config) return tl::unexpected(config.error());
        const int bits = config->be16(0);
        t.word("configuration", bits, *config, 0, 2, "high byte first");
        if (bits & 0x8000) t.note("high-alert", "HIGH_Alert is set: the high limit was passed");
        if (bits & 0x4000) t.note("low-alert", "LOW_Alert is set: the low limit was passed");
        if (!(bits & 0x2000))
            t.doubt("stale", "Data_Ready is not set: this result was read before, or none is finished");
    }
    if (!t.expectReady(differs(counted, kNothingYet))) {
        t.fault("not-ready", "0x8000 (−256 °C) is what the register holds until the first conversion is finished");
        t.reading("temperature", Quantity::Temperature, kNoValue, kStep);
        return t.decoded;
    }
    if (!t.expect(-64.0 <= value && value <= 160.0))
        return fail(ErrorCode::Range, "word", num(value.value()) + " °C",
                    "a temperature the part works at, −55 to 150 °C");
    t.reading("temperature", Quantity::Temperature, value, kStep);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"temperature", -55 * 128, 150 * 128}}; }
RawData compose(std::span<const std::int64_t> values, const DeviceOptions&, const RawData&) {
    return RawData({{"", 0x00, bytesBe(static_cast<std::uint64_t>(values[0]), 2)}});
}

}  // namespace

const Device device_rows::kTmp117{
    .id = "tmp117",
    .title = "Two-wire thermometer, 16 bits",
    .source = "TMP117 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
    .words = WordReading::OfPointer,
};

}  // namespace fg
