// 12 bits of 0.0625 °C, 13 in extended mode; bit 0 of the word says which.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<OptionSpec> options() {
    return {{"extended", "Extended mode (EM), 13 bits, for sending", {"0", "1"}, "0"}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"temperature", 0x00, 2, false, false}}; }

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& options) {
    Tracer t("TMP102 data sheet, temperature register, 12- and 13-bit format", options);
    const auto word = raw.word(0x00, 2, true);
    if (!word) return tl::unexpected(word.error());
    const int all = word->sbe16(0);
    const auto joined = t.whole<std::int32_t>("word", all, *word, 0, 2, "high byte first, two's complement");
    const bool extended = all & 1;
    t.word("EM", all & 1, *word, 1, 1, "bit 0");
    const RecordedCondition isLong = differs(t.bit("EM", *word, 1, 0), 0.0);
    const auto code = t.step("code", select(isLong, joined >> 3, joined >> 4));
    const Recorded value = t.step("T", code.real() * 0.0625, "degC");
    const Recorded limit = choose(
        isLong, [] { return Recorded(150); }, [] { return Recorded(128); });
    const double highest = extended ? 150 : 128;
    const Recorded end = choose(
        isLong, [] { return Recorded(8192); }, [] { return Recorded(0x7FF); });
    const bool isEnd = !t.expect(code.real() < end);
    if (!t.expect(-55.0 <= value && value <= limit))
        return fail(ErrorCode::Range, "word", num(value.value()) + " °C",
                    "a temperature from −55 to " + num(highest) + " °C");
    if (isEnd) t.doubt("clipped", "12 bits end at 127.94 °C: at least that; extended mode reaches 150 °C");
    t.reading("temperature", Quantity::Temperature, value, 0.0625, isEnd ? Bound::AtLeast : Bound::None);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions& chosen) {
    return {{"temperature", -55 * 16, (chosen.is("extended", "1") ? 150 : 128) * 16 - 1}};
}

RawData compose(std::span<const std::int64_t> values, const DeviceOptions& chosen, const RawData&) {
    const bool extended = chosen.is("extended", "1");
    return RawData(
        {{"", 0x00, bytesBe(static_cast<std::uint64_t>(values[0] * (extended ? 8 : 16) + (extended ? 1 : 0)), 2)}});
}

}  // namespace

const Device device_rows::kTmp102{
    .id = "tmp102",
    .title = "Two-wire thermometer, 12 or 13 bits",
    .source = "TMP102 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
    .words = WordReading::OfPointer,
    .isZeroAtPowerOn = true,
};

}  // namespace fg
