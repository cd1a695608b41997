// Counts with gain and integration time, and a polynomial for strong light.

#include "devices/veml7700.h"
#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<OptionSpec> options() {
    return {
        {"gain", "Gain", {"2", "1", "1/4", "1/8"}, "1"},
        {"integration_ms", "Integration time, ms", {"25", "50", "100", "200", "400", "800"}, "100"},
        {"base_lx",
         "One count at gain 2 and 800 ms, lx: 0.0036 in older, 0.0042 in newer editions of the data sheet",
         {"0.0036", "0.0042"},
         num(kVemlBase_lx)},
        {"correction", "Polynomial for strong light: for the small gains, always, never", {"auto", "1", "0"}, "auto"}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"light", 0x04, 2, false, false}}; }

double gainOf(const DeviceOptions& chosen) {
    const std::string gain = chosen.text("gain");
    return gain == "2" ? 2 : gain == "1" ? 1 : gain == "1/4" ? 0.25 : 0.125;
}

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("VEML7700 data sheet and its application note, designing into an application", chosen);
    const auto word = raw.word(0x04, 2, true, ByteOrder::LowFirst);
    if (!word) return tl::unexpected(word.error());
    const Recorded code = t.word("code", word->le16(0), *word, 0, 2, "low byte first");
    const double gain = gainOf(chosen);
    const Recorded step = t.step("step",
                                 vemlStep_lx(t.option("base", chosen.number("base_lx"), "lx"), t.option("gain", gain),
                                             t.option("t_int", chosen.number("integration_ms"))),
                                 "lx", "integration time in ms");
    Recorded lux = t.step("x", code * step, "lx");
    if (chosen.is("correction", "1") || (chosen.is("correction", "auto") && gain < 1))
        lux = t.step("E", (((6.0135e-13 * lux - 9.3924e-9) * lux + 8.1488e-5) * lux + 1.0023) * lux, "lx");
    const bool isFull = !t.expect(code < 65535.0);
    if (isFull)
        t.fault("saturated",
                "full scale: at least " + num(lux.value()) + " lx. Take a smaller gain or a shorter time.");
    t.reading("illuminance", Quantity::Illuminance, lux, step.value(), isFull ? Bound::AtLeast : Bound::None);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"illuminance", 0, 65534}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    return RawData({{"", 0x04, bytesLe(static_cast<std::uint64_t>(v[0]), 2)}});
}

}  // namespace

const Device device_rows::kVeml7700{
    .id = "veml7700",
    .title = "Ambient light with gain, time and a correction",
    .source = "VEML7700 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
    .words = WordReading::OfPointer,
};

}  // namespace fg
