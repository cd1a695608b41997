// Four-channel converter with a programmable amplifier, 16 or 12 bits.

#include "devices/device_rows.h"
#include "devices/tracer.h"

#include <array>

namespace fg {
namespace {

constexpr std::array kFullScale_V{6.144, 4.096, 2.048, 1.024, 0.512, 0.256, 0.256, 0.256};

std::vector<OptionSpec> options() {
    return {{"fsr_V",
             "Full scale, V, where the configuration was not read",
             {"6.144", "4.096", "2.048", "1.024", "0.512", "0.256"},
             "2.048"},
            {"bits", "Bits", {"16", "12"}, "16"}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"conversion", 0x00, 2, false, false}, {"configuration", 0x01, 2, false, true}};
}

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("ADS1115 data sheet, conversion and config registers", chosen);
    const auto word = raw.word(0x00, 2, true);
    if (!word) return tl::unexpected(word.error());
    const bool isShort = chosen.is("bits", "12");
    Recorded fullScale = t.option("FS", chosen.number("fsr_V"), "V");
    if (raw.hasWord(0x01)) {
        const auto config = raw.word(0x01, 2, false);
        if (!config) return tl::unexpected(config.error());
        const int bits = config->be16(0);
        t.word("configuration", bits, *config, 0, 2, "high byte first");
        fullScale = t.looked("FS", "PGA, bits 11:9", kFullScale_V[static_cast<std::size_t>(bits >> 9 & 7)], "V");
        // In continuous mode a conversion is always going on.
        if (!(bits & 0x8000) && (bits & 0x0100))
            t.doubt("not-ready", "OS is 0: a conversion is going on, this is the result before it");
    }
    const auto joined = t.whole<std::int32_t>("word", word->sbe16(0), *word, 0, 2, "high byte first, two's complement");
    const auto code = isShort ? t.step("code", joined >> 4) : joined;
    if (isShort && !t.expectClear(*word, 1, {0, 1, 2, 3}))
        return fail(ErrorCode::Range, "conversion", word->hex(0, 2), "the lowest four bits 0 for 12 bits");
    const int full = isShort ? 2048 : 32768;
    const Recorded volt = t.step("U", code.real() * fullScale / double(full), "V");
    const bool isTop = code.value() == full - 1, isBottom = code.value() == -full;
    if (!t.expect(differs(code.real(), full - 1.0) && differs(code.real(), -double(full))))
        t.fault("clipped", isTop ? "full scale: at least this" : "negative full scale: at most this");
    t.reading("voltage", Quantity::Voltage, volt, fullScale.value() / full,
              isTop      ? Bound::AtLeast
              : isBottom ? Bound::AtMost
                         : Bound::None);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions& chosen) {
    const std::int64_t full = chosen.is("bits", "12") ? 2048 : 32768;
    return {{"voltage", -full, full - 1}};
}
RawData compose(std::span<const std::int64_t> v, const DeviceOptions& chosen, const RawData&) {
    return RawData({{"", 0x00, bytesBe(static_cast<std::uint64_t>(v[0] * (chosen.is("bits", "12") ? 16 : 1)), 2)}});
}

}  // namespace

const Device device_rows::kAds1115{
    .id = "ads1115",
    .title = "Converter with a programmable amplifier",
    .source = "ADS1115 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
    .words = WordReading::OfPointer,
};

}  // namespace fg
