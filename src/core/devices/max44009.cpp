// Lux as a four-bit exponent and an eight-bit mantissa in two registers: 2^E · M · 0.045.

#include "devices/device_rows.h"
#include "devices/tracer.h"

#include <cmath>

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"light", 0x03, 2, false, false}}; }

Expected<Decoded> decodeBytes(const RawData& raw, const DeviceOptions& options) {
    Tracer t("MAX44009 data sheet, lux high-byte and low-byte registers", options);
    const bool isPlain = raw.blocks().size() == 1 && !raw.blocks()[0].address;
    const bool isShort = isPlain ? raw.blocks()[0].bytes.size() == 1 : raw.hasRegister(0x03) && !raw.hasRegister(0x04);
    const std::size_t count = isShort ? 1 : 2;
    const auto bytes = isPlain ? raw.block("light", count) : raw.registers(0x03, count);
    if (!bytes) return tl::unexpected(bytes.error());
    const int power = bytes->u8(0) >> 4;
    const auto exponent = t.whole<std::int32_t>("E", power, *bytes, 0, 1, "bits 7:4");
    if (!isShort && !t.expectClear(*bytes, 1, {4, 5, 6, 7}))
        return fail(ErrorCode::Range, "register 0x04", bytes->hex(1, 1), "its upper four bits 0");
    const auto mantissa = isShort ? t.whole<std::int32_t>("M", (bytes->u8(0) & 0xF) << 4, *bytes, 0, 1,
                                                          "bits 3:0 as M7:M4: the high byte alone")
                                  : t.whole<std::int32_t>("M", (bytes->u8(0) & 0xF) << 4 | bytes->u8(1), *bytes, 0, 2,
                                                          "bits 3:0 of both");
    if (!t.expect(exponent.real() < 15.0)) {
        t.fault("saturated", "exponent 15 is overrange: more than 188 000 lx");
        t.reading("illuminance", Quantity::Illuminance, 188006, 0, Bound::AtLeast);
        return t.decoded;
    }
    const Recorded lux = t.step("E_v", (mantissa << exponent).real() * 0.045, "lx");
    t.reading("illuminance", Quantity::Illuminance, lux, std::ldexp(0.045, power) * (isShort ? 16 : 1));
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"illuminance", 0, 255 << 14}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    std::int64_t mantissa = v[0], exponent = 0;
    while (mantissa > 0xFF) {
        mantissa >>= 1;
        ++exponent;
    }
    return RawData(
        {{"",
          0x03,
          {static_cast<std::uint8_t>(exponent << 4 | mantissa >> 4), static_cast<std::uint8_t>(mantissa & 0xF)}}});
}

}  // namespace

const Device device_rows::kMax44009{
    .id = "max44009",
    .title = "Ambient light as exponent and mantissa in two registers",
    .source = "MAX44009 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeBytes,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
