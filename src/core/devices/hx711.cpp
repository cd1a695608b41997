// The 24-bit bridge converter: a ratio of its supply.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<OptionSpec> options() {
    return {{"gain", "Channel A with 128 or 64, channel B with 32", {"128", "64", "32"}, "128"},
            {"tare", "Counts at rest, taken off", {}, "0", -8388608, 8388607}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"word", {}, 3, false, false}}; }

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("HX711 data sheet, output data; full scale ± 0.5 · AVDD/gain");
    const auto word = raw.block("word", 3);
    if (!word) return tl::unexpected(word.error());
    const int code = t.word("code", signExtend(word->be24(0), 24), *word, 0, 3, "24 bits, two's complement");
    const double gain = chosen.number("gain"), tare = chosen.number("tare");
    const double counts = tare == 0 ? code : t.step("tared", fmt::format("{} − {}", code, term(tare)), code - tare);
    const double ratio = t.step("U/Us", fmt::format("{}/2²³ × 0.5/{}", num(counts), num(gain)), counts / 8388608 * 0.5 / gain);
    t.step("mV/V", "1000 × U/Us", 1000 * ratio);
    if (code == 0x7FFFFF || code == -0x800000) {
        t.fault("saturated", code > 0 ? "7F FF FF: at or above full scale" : "80 00 00: at or below negative full scale");
    } else if (code == -1) {
        t.doubt("all-ones", "FF FF FF: a line that nobody drives, or a lucky −1");
    }
    t.reading("ratio", Quantity::Ratio, ratio, 0.5 / gain / 8388608,
              code == 0x7FFFFF    ? Bound::AtLeast
              : code == -0x800000 ? Bound::AtMost
                                  : Bound::None);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"ratio", -0x7FFFFF, 0x7FFFFE}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    return RawData({{"word", {}, bytesBe(static_cast<std::uint64_t>(v[0]), 3)}});
}

}  // namespace

const Device device_rows::kHx711{"hx711", "Bridge converter, 24 bits", "HX711 data sheet", options, blocks, decodeWord, variables, compose};

}  // namespace fg
