// Single-bus pair of 16-bit tenths.

#include "devices/single_bus.h"

namespace fg {
namespace {

Expected<Decoded> decodeFrame(const RawData& raw, const DeviceOptions& options) {
    Tracer t("AM2302 data sheet, single-bus data format", options);
    const auto frame = readSingleBusFrame(raw, t);
    if (!frame) return tl::unexpected(frame.error());
    const Recorded humidity = t.word("H", frame->be16(0), *frame, 0, 2, "high byte first");
    const Recorded size = t.word("T_15", frame->be16(2) & 0x7FFF, *frame, 2, 2, "high byte first, lower 15 bits");
    const RecordedCondition isNegative = differs(t.bit("sign", *frame, 2, 7), 0.0);
    const Recorded tenths = t.step("T",
                                   choose(
                                       isNegative, [&] { return -size; }, [&] { return size; }),
                                   "", "bit 15 is the sign");
    const Recorded rh = t.step("RH", humidity / 10.0, "percent");
    const Recorded value = t.step("ϑ", tenths / 10.0, "degC");
    if (!t.expect(rh <= 100.0))
        return fail(ErrorCode::Range, "frame", num(rh.value()) + " %RH",
                    "0 to 100 %RH: the frame may be that of a part with whole numbers");
    if (!t.expect(-40.05 <= value && value <= 125.0))
        return fail(ErrorCode::Range, "frame", num(value.value()) + " °C", "a temperature from −40 to 125 °C");
    t.note("interval", "measure at most every 2 s: what is read sooner is the value before");
    t.reading("humidity", Quantity::RelativeHumidity, rh, 0.1);
    t.reading("temperature", Quantity::Temperature, value, 0.1);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"humidity", 0, 1000}, {"temperature", -400, 800}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    const auto humidity = bytesBe(static_cast<std::uint64_t>(v[0]), 2);
    const auto temperature = bytesBe(static_cast<std::uint64_t>(v[1] < 0 ? 0x8000 | -v[1] : v[1]), 2);
    return singleBusFrameOf({humidity[0], humidity[1], temperature[0], temperature[1]});
}

}  // namespace

const Device device_rows::kDht22{
    .id = "dht22",
    .title = "Single-bus humidity and temperature, tenths",
    .source = "AM2302 data sheet",
    .options = noOptions,
    .blocks = singleBusBlocks,
    .decode = decodeFrame,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
