// Thermocouple to digital with linearisation on the chip: hot junction, cold junction and their difference.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

constexpr double kStep = 0.0625;

std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"hot junction", 0x00, 2, false, false},
            {"difference", 0x01, 2, false, true},
            {"cold junction", 0x02, 2, false, true},
            {"status", 0x04, 1, false, true}};
}

Expected<Decoded> decodeWords(const RawData& raw, const DeviceOptions& options) {
    Tracer t("MCP9600 data sheet, 5.1 temperature sensor registers", options);
    const auto hot = raw.word(0x00, 2, true);
    if (!hot) return tl::unexpected(hot.error());
    const int code = hot->sbe16(0);
    const Recorded counted = t.word("code", code, *hot, 0, 2, "high byte first, two's complement");
    Recorded value = t.step("T hot", counted * kStep, "degC");
    if (raw.hasWord(0x04)) {
        const auto status = raw.word(0x04, 1, false);
        if (!status) return tl::unexpected(status.error());
        const int bits = status->u8(0);
        t.word("status", bits, *status, 0, 1, "");
        if (bits & 0x10) {
            t.fault("beyond-range",
                    "bit 4 of the status is set: the thermocouple's voltage is beyond its type's range");
            value = kNoValue;
        }
        if (!(bits & 0x40)) t.doubt("stale", "bit 6 of the status is not set: no new result since the last reading");
    }
    if (!std::isnan(value.value()) && !t.expect(-270.0 <= value && value <= 1820.0))
        return fail(ErrorCode::Range, "register 0x00", num(value.value()) + " °C",
                    "−270 to 1820 °C, all that thermocouples say");
    t.reading("temperature", Quantity::Temperature, value, kStep);
    if (raw.hasWord(0x02)) {
        const auto cold = raw.word(0x02, 2, false);
        if (!cold) return tl::unexpected(cold.error());
        const int inside = cold->sbe16(0);
        const Recorded coldCode = t.word("code_cold", inside, *cold, 0, 2, "high byte first, two's complement");
        const Recorded celsius = t.step("T cold", coldCode * kStep, "degC");
        const Tracer::OwnConditions own(t);
        if (!t.expect(-60.0 <= celsius && celsius <= 150.0))
            return fail(ErrorCode::Range, "register 0x02", num(celsius.value()) + " °C",
                        "a temperature the chip works at, −40 to 125 °C");
        t.reading("internal", Quantity::Temperature, celsius, kStep);
        if (raw.hasWord(0x01)) {
            const auto difference = raw.word(0x01, 2, false);
            if (!difference) return tl::unexpected(difference.error());
            const int delta = difference->sbe16(0);
            t.word("difference", delta, *difference, 0, 2, "two's complement");
            // The chip adds the two; a reading in between can be one conversion apart.
            if (std::abs(delta + inside - code) > 16)
                t.doubt("sum", filled("difference + cold junction = {} °C is not the hot junction's {} °C: the "
                                      "words are of different readings",
                                      num((delta + inside) * kStep), num(code * kStep)));
        }
    }
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) {
    return {{"temperature", -200 * 16, 1800 * 16}, {"internal", -40 * 16, 125 * 16}};
}
RawData compose(std::span<const std::int64_t> values, const DeviceOptions&, const RawData&) {
    return RawData({{"", 0x00, bytesBe(static_cast<std::uint64_t>(values[0]), 2)},
                    {"", 0x02, bytesBe(static_cast<std::uint64_t>(values[1]), 2)}});
}

}  // namespace

const Device device_rows::kMcp9600{
    .id = "mcp9600",
    .title = "Thermocouple to digital, linearised",
    .source = "MCP9600 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeWords,
    .variables = variables,
    .compose = compose,
    .words = WordReading::OfPointer,
};

}  // namespace fg
