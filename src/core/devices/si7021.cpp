// Humidity and temperature read one after the other: RH = 125·S/65536 − 6, T = 175.72·S/65536 − 46.85.

#include "bytes/checksum.h"
#include "devices/device_rows.h"
#include "devices/tracer.h"

#include <algorithm>

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"temperature", {}, 3, false, false}, {"humidity", {}, 3, false, false}};
}

/// A word with or without its CRC behind it; the lowest two bits are status: bit 1 says which of the two was measured.
Expected<std::optional<Recorded>> readWord(const RawData& raw, Tracer& t, const char* name, bool isHumidity) {
    if (!raw.hasBlock(name) || (raw.blocks().size() == 1 && raw.blocks()[0].name.empty() && isHumidity))
        return std::optional<Recorded>();
    const std::size_t size = raw.blockSize(name) == 2 ? 2 : 3;
    const auto word = raw.block(name, size);
    if (!word) return tl::unexpected(word.error());
    if (size == 3) {
        const std::uint8_t crc = crc8Humidity(std::span(word->data()).first(2), 0x00);
        if (crc != word->u8(2) && !t.ignoresChecksums())
            return fail(ErrorCode::Damaged, name, filled("CRC 0x{:02X}", word->u8(2)),
                        filled("0x{:02X} for {}", crc, word->hex(0, 2)));
        t.word("CRC", crc, *word, 2, 1, "fits");
    }
    return std::optional(t.word(isHumidity ? "S_RH" : "S_T", word->be16(0) & 0xFFFC, *word, 0, 2,
                                "high byte first, its two status bits as 0"));
}

Expected<Decoded> decodeWords(const RawData& raw, const DeviceOptions& options) {
    Tracer t("Si7021 data sheet, 5.1 issuing a measurement command; HTU21D data sheet, conversion of signal outputs",
             options);
    const auto temperature = readWord(raw, t, "temperature", false);
    if (!temperature) return tl::unexpected(temperature.error());
    const auto humidity = readWord(raw, t, "humidity", true);
    if (!humidity) return tl::unexpected(humidity.error());
    if (!*temperature && !*humidity)
        return fail(ErrorCode::Missing, "temperature", "nothing",
                    "a block “temperature” or “humidity” of 2 or 3 bytes");
    if (*temperature) {
        const Recorded value = t.step("ϑ", 175.72 * **temperature / 65536.0 - 46.85, "degC");
        t.reading("temperature", Quantity::Temperature, value, 175.72 * 4 / 65536);
    }
    if (*humidity) {
        const Recorded rh = t.cut(t.step("RH", 125.0 * **humidity / 65536.0 - 6.0, "percent"));
        t.reading("humidity", Quantity::RelativeHumidity, rh, 125.0 * 4 / 65536);
    }
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) {
    return {{"temperature", 0, 16383}, {"humidity", 787, 13893}};
}
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    RawData data;
    for (const bool isHumidity : {false, true}) {
        auto word = bytesBe(static_cast<std::uint64_t>(v[isHumidity ? 1 : 0] << 2 | (isHumidity ? 2 : 0)), 2);
        word.push_back(crc8Humidity(word, 0x00));
        data.add({isHumidity ? "humidity" : "temperature", {}, word});
    }
    return data;
}

}  // namespace

const Device device_rows::kSi7021{
    .id = "si7021",
    .title = "Two-wire humidity and temperature, read one after the other",
    .source = "Si7021 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeWords,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
