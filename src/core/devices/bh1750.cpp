// Plain 16-bit lux with a settable measuring time.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<OptionSpec> options() {
    return {{"mtreg", "Measuring time register MTreg", {}, "69", 31, 254},
            {"mode", "Resolution mode: h 1 lx, h2 0.5 lx, l 4 lx", {"h", "h2", "l"}, "h"}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"word", {}, 2, false, false}}; }

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("BH1750FVI data sheet, measurement procedure and measuring time register", chosen);
    const auto word = raw.block("word", 2);
    if (!word) return tl::unexpected(word.error());
    const double mtreg = chosen.number("mtreg");
    const Recorded code = t.word("code", word->be16(0), *word, 0, 2, "high byte first");
    const double step = 1 / 1.2 * 69 / mtreg / (chosen.is("mode", "h2") ? 2 : 1);
    const Recorded each = code / 1.2 * 69.0 / t.option("MTreg", mtreg);
    const Recorded lux = t.step("E", chosen.is("mode", "h2") ? each / 2.0 : each, "lx");
    const bool isFull = !t.expect(code < 65535.0);
    if (isFull)
        t.fault("saturated",
                "full scale: at least " + num(lux.value()) + " lx; a shorter measuring time reaches further");
    if (code.value() == 0)
        t.doubt("dark",
                "0 is dark, but also what is read before the first measurement is finished (120 ms, up to 180 ms)");
    t.reading("illuminance", Quantity::Illuminance, lux, step, isFull ? Bound::AtLeast : Bound::None);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"illuminance", 0, 65535}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    return RawData({{"word", {}, bytesBe(static_cast<std::uint64_t>(v[0]), 2)}});
}

}  // namespace

const Device device_rows::kBh1750{
    .id = "bh1750",
    .title = "Ambient light, 16 bits",
    .source = "BH1750FVI data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
