// Humidity and temperature as 16 bits each, low byte first.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<OptionSpec> options() {
    return {{"offset_degC",
             "Taken off the temperature: 40 in older, 40.5 in newer editions of the data sheet, at 1.8 V",
             {"40", "40.5"},
             "40.5"}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"data", 0x00, 4, false, false}}; }

Expected<Decoded> decodeAll(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("HDC2080 data sheet, 7.6.1 to 7.6.4", chosen);
    const bool isPlain = raw.blocks().size() == 1 && !raw.blocks()[0].address;
    const auto data = isPlain ? raw.block("data", 4) : raw.registers(0x00, 4);
    if (!data) return tl::unexpected(data.error());
    const Recorded rawT = t.word("S_T", data->le16(0), *data, 0, 2, "low byte first"),
                   rawH = t.word("S_RH", data->le16(2), *data, 2, 2, "low byte first");
    if (!t.expectReady(0.0 < rawT + rawH)) {
        t.fault("not-ready", "both words are 0, as after power-on: nothing was measured yet, or a line is held low");
        t.reading("temperature", Quantity::Temperature, kNoValue, 0);
        t.reading("humidity", Quantity::RelativeHumidity, kNoValue, 0);
        return t.decoded;
    }
    const Recorded offset = t.option("ϑ0", chosen.number("offset_degC"), "degC"),
                   full = constant<Recorded>(65536, "", "2^16");
    const Recorded celsius = t.step("ϑ", rawT / full * 165.0 - offset, "degC");
    const Recorded percent = t.step("RH", rawH / full * 100.0, "percent");
    t.note("offset", "newer editions take off 0.08 °C more for each volt of supply above 1.8 V");
    t.reading("temperature", Quantity::Temperature, celsius, 165.0 / 16384);
    t.reading("humidity", Quantity::RelativeHumidity, percent, 100.0 / 16384);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"temperature", 1, 65535}, {"humidity", 0, 65535}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    auto bytes = bytesLe(static_cast<std::uint64_t>(v[0]), 2);
    for (const std::uint8_t byte : bytesLe(static_cast<std::uint64_t>(v[1]), 2)) bytes.push_back(byte);
    return RawData({{"", 0x00, bytes}});
}

}  // namespace

const Device device_rows::kHdc2080{
    .id = "hdc2080",
    .title = "Two-wire humidity and temperature, low byte first",
    .source = "HDC2080 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeAll,
    .variables = variables,
    .compose = compose,
    .words = WordReading::LowFirst,
};

}  // namespace fg
