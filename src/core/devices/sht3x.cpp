// Temperature and humidity as two checked words: T = −45 + 175·S/65535, RH = 100·S/65535.

#include "devices/word_crc.h"

namespace fg {
namespace {

Expected<Decoded> decodeFrame(const RawData& raw, const DeviceOptions& options) {
    Tracer t("SHT3x data sheet, 4.13 conversion of signal output", options);
    const auto pair = readWordPair(raw, t, "S_T", "S_RH");
    if (!pair) return tl::unexpected(pair.error());
    const Recorded value = t.step("ϑ", -45.0 + 175.0 * pair->first / 65535.0, "degC");
    const Recorded rh = t.step("RH", 100.0 * pair->second / 65535.0, "percent");
    t.reading("temperature", Quantity::Temperature, value, 175.0 / 65535);
    t.reading("humidity", Quantity::RelativeHumidity, rh, 100.0 / 65535);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"temperature", 0, 65535}, {"humidity", 0, 65535}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    return wordPairOf(static_cast<std::uint16_t>(v[0]), static_cast<std::uint16_t>(v[1]));
}

}  // namespace

const Device device_rows::kSht3x{
    .id = "sht3x",
    .title = "Two-wire humidity and temperature, checked words",
    .source = "SHT3x data sheet",
    .options = noOptions,
    .blocks = wordPairBlocks,
    .decode = decodeFrame,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
