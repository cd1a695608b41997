// The common two-wire thermometer: a left-justified word of 9 to 12 bits at pointer 0.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<OptionSpec> options() { return {{"resolution", "Bits of the part", {"9", "10", "11", "12"}, "9"}}; }
std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"temperature", 0x00, 2, false, false}}; }

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("LM75 data sheet, temperature data format", chosen);
    const auto word = raw.word(0x00, 2, true);
    if (!word) return tl::unexpected(word.error());
    const int bits = static_cast<int>(chosen.number("resolution")), shift = 16 - bits;
    const double step = 0.5 / (1 << (bits - 9));
    const int all = word->sbe16(0);
    const auto joined = t.whole<std::int32_t>("word", all, *word, 0, 2, "high byte first, two's complement");
    const auto code = t.step("code", joined >> shift);
    const Recorded value = t.step("T", code.real() * step, "degC");
    if (!t.expect(-55.0 <= value && value <= 127.0))
        return fail(ErrorCode::Range, "word", num(value.value()) + " °C", "a temperature from −55 to 127 °C");
    if ((all & ((1 << shift) - 1)) != 0 && bits < 12)
        t.doubt("bits", filled("the {} bits below the {} used are not all 0: the part may have a finer resolution",
                               shift, bits));
    t.reading("temperature", Quantity::Temperature, value, step);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions& chosen) {
    const int perDegree = 2 << (static_cast<int>(chosen.number("resolution")) - 9);
    return {{"temperature", -55 * perDegree, 125 * perDegree}};
}

RawData compose(std::span<const std::int64_t> values, const DeviceOptions& chosen, const RawData&) {
    const int shift = 16 - static_cast<int>(chosen.number("resolution"));
    return RawData({{"", 0x00, bytesBe(static_cast<std::uint64_t>(values[0] * (1 << shift)), 2)}});
}

}  // namespace

const Device device_rows::kLm75{
    .id = "lm75",
    .title = "Two-wire thermometer, 9 to 12 bits",
    .source = "LM75 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
    .words = WordReading::OfPointer,
};

}  // namespace fg
