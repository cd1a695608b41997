// Two 20-bit values in six bytes, with or without a CRC behind them.

#include "bytes/checksum.h"
#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

constexpr double kFull = 1 << 20;

std::vector<OptionSpec> options() { return {{"crc", "A CRC follows", {"0", "1"}, "0"}}; }
std::vector<BlockSpec> blocks(const DeviceOptions& chosen) {
    return {{"frame", {}, static_cast<std::size_t>(chosen.is("crc", "1") ? 7 : 6), false, false}};
}

Expected<Decoded> decodeFrame(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("AHT20 data sheet, 5.4 reading and 6 signal conversion", chosen);
    // Seven bytes are six and their CRC, whether that was asked for or not.
    const std::size_t size = raw.blockSize("frame") == 7 ? 7 : chosen.is("crc", "1") ? 7 : 6;
    const auto frame = raw.block("frame", size);
    if (!frame) return tl::unexpected(frame.error());
    if (size == 7) {
        const std::uint8_t crc = crc8Humidity(std::span(frame->data()).first(6), 0xFF);
        if (crc != frame->u8(6) && !t.ignoresChecksums())
            return fail(ErrorCode::Damaged, "frame", filled("CRC 0x{:02X}", frame->u8(6)),
                        filled("0x{:02X} for the six bytes before it", crc));
        t.word("CRC", crc, *frame, 6, 1, "fits");
    }
    const int state = frame->u8(0);
    t.word("status", state, *frame, 0, 1, "bit 7 busy, bit 3 calibrated");
    const Recorded humidity = t.word("S_RH", frame->be24(1) >> 4, *frame, 1, 3, "upper 20 bits");
    const Recorded temperature = t.word("S_T", frame->be24(3) & 0xFFFFF, *frame, 3, 3, "lower 20 bits");
    const auto full = constant<Recorded>(kFull, "", "2^20");
    Recorded rh = t.step("RH", humidity / full * 100.0, "percent");
    Recorded value = t.step("ϑ", temperature / full * 200.0 - 50.0, "degC");
    if (!t.expectReady(t.bit("busy", *frame, 0, 7) < 1.0)) {
        t.fault("not-ready", "the busy bit is set: a measurement takes 80 ms, these bytes are not its result");
        rh = value = kNoValue;
    } else if (!(state & 0x08)) {
        t.doubt("uncalibrated", "the calibrated bit is not set: send the initialisation command after power-on");
    }
    if (!t.expect(differs(humidity + temperature, 0.0))) {
        t.fault("power-on", "all zeros: no measurement was triggered since power-on");
        rh = value = kNoValue;
    }
    t.reading("humidity", Quantity::RelativeHumidity, rh, 100 / kFull);
    t.reading("temperature", Quantity::Temperature, value, 200 / kFull);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) {
    return {{"humidity", 0, (1 << 20) - 1}, {"temperature", 1, (1 << 20) - 1}};
}
RawData compose(std::span<const std::int64_t> v, const DeviceOptions& chosen, const RawData&) {
    auto bytes = bytesBe(static_cast<std::uint64_t>(0x18) << 40 | static_cast<std::uint64_t>(v[0]) << 20 |
                             static_cast<std::uint64_t>(v[1]),
                         6);
    if (chosen.is("crc", "1")) bytes.push_back(crc8Humidity(bytes, 0xFF));
    return RawData({{"frame", {}, bytes}});
}

}  // namespace

const Device device_rows::kAht20{
    .id = "aht20",
    .title = "Two-wire humidity and temperature, 20 bits",
    .source = "AHT20 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeFrame,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
