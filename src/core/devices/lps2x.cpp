// Barometers that give 1/4096 hPa plainly.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"data", 0x28, 5, false, false}, {"status", 0x27, 1, false, true}};
}

Expected<Decoded> decodePlain(const RawData& raw, const DeviceOptions& options, const char* source, double perDegree,
                              double offset_degC) {
    Tracer t(source, options);
    const bool isPlain = raw.blocks().size() == 1 && !raw.blocks()[0].address;
    const auto data = isPlain ? raw.block("data", 5) : raw.registers(0x28, 5);
    if (!data) return tl::unexpected(data.error());
    const Recorded rawP = t.word("PRESS_OUT", signExtend(data->le24(0), 24), *data, 0, 3, "low byte first, signed"),
                   rawT = t.word("TEMP_OUT", data->sle16(3), *data, 3, 2, "low byte first, signed");
    if (raw.hasRegister(0x27) && (raw.registers(0x27, 1)->u8(0) & 3) != 3)
        t.doubt(
            "stale",
            "the status says that no new pressure and temperature are ready: these bytes may have been read before");
    if (!t.expectReady(differs(rawP * rawP + rawT * rawT, 0.0))) {
        t.fault("not-ready", "all zeros: the part is powered down or has not measured yet");
        t.reading("pressure", Quantity::Pressure, kNoValue, 0);
        t.reading("temperature", Quantity::Temperature, kNoValue, 0);
        return t.decoded;
    }
    const Recorded hPa = t.step("p", rawP / 4096.0, "hPa");
    const Recorded celsius = t.step("ϑ", offset_degC == 0 ? rawT / perDegree : offset_degC + rawT / perDegree, "degC");
    if (!t.expect(200.0 <= hPa && hPa <= 1300.0))
        return fail(ErrorCode::Range, "register 0x28", num(hPa.value()) + " hPa",
                    "a pressure the part can measure, 260 to 1260 hPa");
    if (!t.expect(-60.0 <= celsius && celsius <= 120.0))
        return fail(ErrorCode::Range, "register 0x2B", num(celsius.value()) + " °C",
                    "a temperature the part can measure");
    t.reading("pressure", Quantity::Pressure, hPa * 100.0, 100 / 4096.0);
    t.reading("temperature", Quantity::Temperature, celsius, 1 / perDegree);
    return t.decoded;
}

Expected<Decoded> decode22(const RawData& raw, const DeviceOptions& options) {
    return decodePlain(raw, options, "LPS22HB data sheet, 9.18 to 9.22", 100, 0);
}
// 42.5 °C at 0, 480 steps a degree.
Expected<Decoded> decode25(const RawData& raw, const DeviceOptions& options) {
    return decodePlain(raw, options, "LPS25HB data sheet, 8.18 to 8.22", 480, 42.5);
}

std::vector<RawVariable> variables22(const DeviceOptions&) {
    return {{"pressure", 260 * 4096, 1260 * 4096}, {"temperature", -4000, 8500}};
}
std::vector<RawVariable> variables25(const DeviceOptions&) {
    return {{"pressure", 260 * 4096, 1260 * 4096}, {"temperature", -32768, 32767}};
}
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    auto bytes = bytesLe(static_cast<std::uint64_t>(v[0]), 3);
    for (const std::uint8_t byte : bytesLe(static_cast<std::uint64_t>(v[1]), 2)) bytes.push_back(byte);
    return RawData({{"", 0x28, bytes}});
}

}  // namespace

const Device device_rows::kLps22hb{
    .id = "lps22hb",
    .title = "Barometer of 1/4096 hPa",
    .source = "LPS22HB data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decode22,
    .variables = variables22,
    .compose = compose,
    .words = WordReading::LowFirst,
};
const Device device_rows::kLps25hb{
    .id = "lps25hb",
    .title = "Barometer of 1/4096 hPa",
    .source = "LPS25HB data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decode25,
    .variables = variables25,
    .compose = compose,
    .words = WordReading::LowFirst,
};

}  // namespace fg
