// Lux as exponent and mantissa: 0.01 · 2^E · R.

#include "devices/device_rows.h"
#include "devices/tracer.h"

#include <cmath>

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"result", 0x00, 2, false, false}, {"configuration", 0x01, 2, false, true}};
}

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& options) {
    Tracer t("OPT3001 data sheet, result register", options);
    const auto word = raw.word(0x00, 2, true);
    if (!word) return tl::unexpected(word.error());
    const int joined = word->be16(0);
    t.word("word", joined, *word, 0, 2, "high byte first");
    const int power = joined >> 12;
    const auto exponent = t.whole<std::int32_t>("E", power, *word, 0, 1, "bits 15:12"),
               mantissa = t.whole<std::int32_t>("R", joined & 0xFFF, *word, 0, 2, "bits 11:0");
    if (!t.expect(exponent.real() <= 11.0))
        return fail(ErrorCode::Range, "result", filled("exponent {}", power), "an exponent from 0 to 11");
    const Recorded lux = t.step("E_v", 0.01 * (mantissa << exponent).real(), "lx");
    Bound bound = Bound::None;
    if (raw.hasWord(0x01)) {
        const auto config = raw.word(0x01, 2, false);
        if (!config) return tl::unexpected(config.error());
        const int bits = config->be16(0);
        t.word("configuration", bits, *config, 0, 2, "high byte first");
        if (bits & 0x0100) {
            t.fault("saturated", "OVF is set: at least this much light");
            bound = Bound::AtLeast;
        }
        if (!(bits & 0x0080)) t.doubt("stale", "CRF is not set: this result was read before, or none is finished");
    } else if (!t.expect(differs(mantissa.real() + exponent.real() * 4096.0, 0xBFFF))) {
        t.fault("saturated", "full scale: at least 83865.6 lx");
        bound = Bound::AtLeast;
    }
    t.reading("illuminance", Quantity::Illuminance, lux, 0.01 * std::ldexp(1, power), bound);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"illuminance", 0, (1 << 23) - 2049}}; }
// The finest exponent that holds it.
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    std::int64_t mantissa = v[0], exponent = 0;
    while (mantissa > 0xFFF) {
        mantissa >>= 1;
        ++exponent;
    }
    return RawData({{"", 0x00, bytesBe(static_cast<std::uint64_t>(exponent << 12 | mantissa), 2)}});
}

}  // namespace

const Device device_rows::kOpt3001{
    .id = "opt3001",
    .title = "Ambient light as exponent and mantissa",
    .source = "OPT3001 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
    .words = WordReading::OfPointer,
};

}  // namespace fg
