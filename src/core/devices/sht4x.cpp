// As the checked words before it, but humidity runs from −6 to 119 %RH, so that both ends can be seen.

#include "devices/word_crc.h"

namespace fg {
namespace {

Expected<Decoded> decodeFrame(const RawData& raw, const DeviceOptions& options) {
    Tracer t("SHT4x data sheet, 4.6 conversion of signal output", options);
    const auto pair = readWordPair(raw, t, "S_T", "S_RH");
    if (!pair) return tl::unexpected(pair.error());
    const Recorded value = t.step("ϑ", -45.0 + 175.0 * pair->first / 65535.0, "degC");
    const Recorded rh = t.cut(t.step("RH", -6.0 + 125.0 * pair->second / 65535.0, "percent"));
    t.reading("temperature", Quantity::Temperature, value, 175.0 / 65535);
    t.reading("humidity", Quantity::RelativeHumidity, rh, 125.0 / 65535);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) {
    return {{"temperature", 0, 65535}, {"humidity", 3146, 55574}};
}
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    return wordPairOf(static_cast<std::uint16_t>(v[0]), static_cast<std::uint16_t>(v[1]));
}

}  // namespace

const Device device_rows::kSht4x{
    .id = "sht4x",
    .title = "Two-wire humidity and temperature, checked words of a wider range",
    .source = "SHT4x data sheet",
    .options = noOptions,
    .blocks = wordPairBlocks,
    .decode = decodeFrame,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
