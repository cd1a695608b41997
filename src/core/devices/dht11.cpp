// Single-bus pair of whole numbers.

#include "devices/single_bus.h"

namespace fg {
namespace {

// Humidity and temperature as integral and decimal bytes; newer ones give tenths, and bit 7 of the temperature's
// decimal byte as its sign.
Expected<Decoded> decodeFrame(const RawData& raw, const DeviceOptions& options) {
    Tracer t("DHT11 data sheet, communication format", options);
    const auto frame = readSingleBusFrame(raw, t);
    if (!frame) return tl::unexpected(frame.error());
    for (const std::size_t i : {std::size_t{1}, std::size_t{3}})
        if ((frame->u8(i) & 0x7F) > 9)
            return fail(ErrorCode::Range, filled("frame, byte {}", i), filled("{} tenths", frame->u8(i) & 0x7F),
                        "0 to 9 tenths: the frame may be that of a part with 16-bit values");
    const Recorded humidity = t.word("H", frame->u8(0), *frame, 0, 1, "%RH"),
                   tenthsH = t.word("H_10", frame->u8(1) & 0x7F, *frame, 1, 1, "");
    const Recorded whole = t.word("T", frame->u8(2), *frame, 2, 1, "°C"),
                   tenthsT = t.word("T_10", frame->u8(3) & 0x7F, *frame, 3, 1, "");
    const Recorded rh = t.step("RH", humidity + tenthsH / 10.0, "percent");
    const Recorded size = whole + tenthsT / 10.0;
    const RecordedCondition isNegative = differs(t.bit("sign", *frame, 3, 7), 0.0);
    const Recorded value = t.step("ϑ",
                                  choose(
                                      isNegative, [&] { return -size; }, [&] { return size; }),
                                  "degC", "bit 7 of byte 3 is the sign");
    t.expect(tenthsH <= 9.0 && tenthsT <= 9.0);
    if (!t.expect(rh <= 100.0))
        return fail(ErrorCode::Range, "frame, byte 0", num(rh.value()) + " %RH", "0 to 100 %RH");
    if (!t.expect(-40.0 <= value && value <= 80.0))
        return fail(ErrorCode::Range, "frame, byte 2", num(value.value()) + " °C",
                    "a temperature the part can measure");
    t.reading("humidity", Quantity::RelativeHumidity, rh, 1);
    t.reading("temperature", Quantity::Temperature, value, tenthsT.value() > 0 ? 0.1 : 1);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"humidity", 0, 100}, {"temperature", -20, 60}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    return singleBusFrameOf({static_cast<std::uint8_t>(v[0]), 0, static_cast<std::uint8_t>(v[1] < 0 ? -v[1] : v[1]),
                             static_cast<std::uint8_t>(v[1] < 0 ? 0x80 : 0)});
}

}  // namespace

const Device device_rows::kDht11{
    .id = "dht11",
    .title = "Single-bus humidity and temperature, whole numbers",
    .source = "DHT11 data sheet",
    .options = noOptions,
    .blocks = singleBusBlocks,
    .decode = decodeFrame,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
