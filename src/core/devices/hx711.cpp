// The 24-bit bridge converters: a ratio of their supply or reference.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<OptionSpec> options() {
    return {{"gain", "Channel A with 128 or 64, channel B with 32", {"128", "64", "32"}, "128"},
            {"tare", "Counts at rest, taken off", {}, "0", -8388608, 8388607}};
}
std::vector<OptionSpec> options7802() {
    return {{"gain", "Gain", {"128", "64", "32", "16", "8", "4", "2", "1"}, "128"},
            {"tare", "Counts at rest, taken off", {}, "0", -8388608, 8388607}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"word", {}, 3, false, false}}; }
std::vector<BlockSpec> blocks7802(const DeviceOptions&) { return {{"word", 0x12, 3, false, false}}; }

Expected<Decoded> decodeBridge(const char* source, const Expected<Bytes>& word, const DeviceOptions& chosen) {
    Tracer t(source, chosen);
    if (!word) return tl::unexpected(word.error());
    const int code = signExtend(word->be24(0), 24);
    const Recorded counted = t.word("code", code, *word, 0, 3, "24 bits, two's complement");
    const Recorded gain = t.option("gain", chosen.number("gain")),
                   tare = chosen.number("tare") == 0 ? Recorded() : t.option("tare", chosen.number("tare"));
    const Recorded counts = tare.value() == 0 ? counted : t.step("tared", counted - tare);
    const Recorded ratio = t.step("ratio", counts / constant<Recorded>(8388608, "", "2^23") * 0.5 / gain, "", "U/Us");
    t.step("mV/V", ratio * 1000.0);
    if (!t.expect(differs(counted, 8388607.0) && differs(counted, -8388608.0))) {
        t.fault("saturated",
                code > 0 ? "7F FF FF: at or above full scale" : "80 00 00: at or below negative full scale");
    } else if (code == -1) {
        t.doubt("all-ones", "FF FF FF: a line that nothing drives, or a lucky −1");
    }
    t.reading("ratio", Quantity::Ratio, ratio, 0.5 / gain.value() / 8388608,
              code == 0x7FFFFF    ? Bound::AtLeast
              : code == -0x800000 ? Bound::AtMost
                                  : Bound::None);
    return t.decoded;
}

Expected<Decoded> decode711(const RawData& raw, const DeviceOptions& chosen) {
    return decodeBridge("HX711 data sheet, output data; full scale ± 0.5 · AVDD/gain", raw.block("word", 3), chosen);
}
Expected<Decoded> decode7802(const RawData& raw, const DeviceOptions& chosen) {
    const bool isPlain = raw.blocks().size() == 1 && !raw.blocks()[0].address;
    return decodeBridge("NAU7802 data sheet, ADCO registers; full scale ± 0.5 · Vref/gain",
                        isPlain ? raw.block("word", 3) : raw.registers(0x12, 3), chosen);
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"ratio", -0x7FFFFF, 0x7FFFFE}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    return RawData({{"word", {}, bytesBe(static_cast<std::uint64_t>(v[0]), 3)}});
}
RawData compose7802(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    return RawData({{"", 0x12, bytesBe(static_cast<std::uint64_t>(v[0]), 3)}});
}

}  // namespace

const Device device_rows::kHx711{
    .id = "hx711",
    .title = "Bridge converter, 24 bits",
    .source = "HX711 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decode711,
    .variables = variables,
    .compose = compose,
};
const Device device_rows::kNau7802{
    .id = "nau7802",
    .title = "Two-wire bridge converter, 24 bits",
    .source = "NAU7802 data sheet",
    .options = options7802,
    .blocks = blocks7802,
    .decode = decode7802,
    .variables = variables,
    .compose = compose7802,
};

}  // namespace fg
