// The barometer of four coefficients and ten bits.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"calibration", 0x04, 8, true, false}, {"data", 0x00, 4, false, false}};
}

Expected<Decoded> decodeAll(const RawData& raw, const DeviceOptions& options) {
    Tracer t("MPL115A2 data sheet, 3.1 pressure, temperature and coefficient formats", options);
    const auto c = raw.registers(0x04, 8), data = raw.registers(0x00, 4);
    if (!c) return tl::unexpected(c.error());
    if (!data) return tl::unexpected(data.error());
    const Recorded a0 = t.word("a0", c->sbe16(0) / 8.0, *c, 0, 2, "signed, 3 bits behind the point");
    const Recorded b1 = t.word("b1", c->sbe16(2) / 8192.0, *c, 2, 2, "signed, 13 bits behind the point");
    // All bits clear are 0 and 0, all of them set −1/8 and −1/8192.
    const Recorded ones = (a0 + 0.125) * (a0 + 0.125) + (b1 + 1 / 8192.0) * (b1 + 1 / 8192.0);
    if (!t.expect(a0 * a0 + b1 * b1 > 0.0 && ones > 0.0))
        return fail(ErrorCode::Damaged, "register 0x04", c->hex(0, 4),
                    "coefficients that are not all alike: nothing answered");
    const Recorded b2 = t.word("b2", c->sbe16(4) / 16384.0, *c, 4, 2, "signed, 14 bits behind the point");
    const Recorded c12 =
        t.word("c12", asr(c->sbe16(6), 2) / 4194304.0, *c, 6, 2, "14 bits signed, 22 bits behind the point");
    const Recorded padc = t.word("Padc", data->be16(0) >> 6, *data, 0, 2, "upper ten bits"),
                   tadc = t.word("Tadc", data->be16(2) >> 6, *data, 2, 2, "upper ten bits");
    if (!t.expectReady(padc + tadc > 0.0)) {
        t.fault("not-ready", "both words are 0: no conversion was started, or it was not waited for (3 ms)");
        t.reading("pressure", Quantity::Pressure, kNoValue, 0);
        return t.decoded;
    }
    const Recorded slope = t.step("c12x2", b1 + c12 * tadc);
    const Recorded compensated = t.step("Pcomp", a0 + slope * padc + b2 * tadc);
    const Recorded kPa = t.step("p", compensated * 65.0 / 1023.0 + 50.0, "kPa");
    if (!t.expect(-60.0 <= compensated && compensated <= 1090.0))
        return fail(ErrorCode::Range, "data", num(kPa.value()) + " kPa",
                    "a pressure the part can measure, 50 to 115 kPa");
    t.reading("pressure", Quantity::Pressure, 1000.0 * kPa, std::abs(slope.value()) * 65000 / 1023);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"pressure", 1, 1023}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    constexpr std::uint64_t kMild = 498 << 6;  // some 20 °C
    return RawData({{"", 0x00, bytesBe(static_cast<std::uint64_t>(v[0]) << 22 | kMild, 4)}});
}
// The data sheet's own example.
RawData specimen() { return RawData({{"", 0x04, {0x3E, 0xCE, 0xB3, 0xF9, 0xC5, 0x17, 0x33, 0xC8}}}); }

}  // namespace

const Device device_rows::kMpl115a2{
    .id = "mpl115a2",
    .title = "Barometer with four coefficients",
    .source = "MPL115A2 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeAll,
    .variables = variables,
    .compose = compose,
    .specimen = specimen,
};

}  // namespace fg
