// The two-wire cousin of the 16-bit single-bus pair, with a CRC as in Modbus.

#include "bytes/checksum.h"
#include "devices/device_rows.h"
#include "devices/single_bus.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"frame", {}, 8, false, false}}; }

Expected<Decoded> decodeFrame(const RawData& raw, const DeviceOptions& options) {
    Tracer t("AM2320 data sheet, I²C: function code 03", options);
    const auto frame = raw.block("frame", 8);
    if (!frame) return tl::unexpected(frame.error());
    const Recorded start = t.aside("start", frame->be16(0), *frame, 0, 2);
    if (!t.expect(0x0304 <= start && start <= 0x0304))
        return fail(ErrorCode::Range, "frame", frame->hex(0, 2),
                    "03 04: function code and four data bytes; an error code has bit 7 set");
    const std::uint16_t crc = crc16Modbus(std::span(frame->data()).first(6));
    if (crc != frame->le16(6) && !t.ignoresChecksums())
        return fail(ErrorCode::Damaged, "frame", filled("CRC 0x{:04X}", frame->le16(6)),
                    filled("0x{:04X}, low byte first", crc));
    t.word("CRC", crc, *frame, 6, 2, "low byte first, fits");
    const Recorded humidity = t.word("H", frame->be16(2), *frame, 2, 2, "high byte first");
    const Recorded size = t.word("T_15", frame->be16(4) & 0x7FFF, *frame, 4, 2, "high byte first, lower 15 bits");
    const RecordedCondition isNegative = differs(t.bit("sign", *frame, 4, 7), 0.0);
    const Recorded tenths = t.step("T",
                                   choose(
                                       isNegative, [&] { return -size; }, [&] { return size; }),
                                   "", "bit 15 is the sign");
    const Recorded rh = t.step("RH", humidity / 10.0, "percent");
    const Recorded value = t.step("ϑ", tenths / 10.0, "degC");
    if (!t.expect(rh <= 100.0)) return fail(ErrorCode::Range, "frame", num(rh.value()) + " %RH", "0 to 100 %RH");
    if (!t.expect(-40.05 <= value && value <= 125.0))
        return fail(ErrorCode::Range, "frame", num(value.value()) + " °C", "a temperature from −40 to 80 °C");
    t.note("interval",
           "measure at most every 2 s; it sleeps in between, and its first acknowledge is missing when it wakes");
    t.reading("humidity", Quantity::RelativeHumidity, rh, 0.1);
    t.reading("temperature", Quantity::Temperature, value, 0.1);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"humidity", 0, 1000}, {"temperature", -400, 800}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    std::vector<std::uint8_t> frame{0x03, 0x04};
    for (const std::uint8_t byte : bytesBe(static_cast<std::uint64_t>(v[0]), 2)) frame.push_back(byte);
    for (const std::uint8_t byte : bytesBe(static_cast<std::uint64_t>(v[1] < 0 ? 0x8000 | -v[1] : v[1]), 2))
        frame.push_back(byte);
    const std::uint16_t crc = crc16Modbus(frame);
    frame.push_back(static_cast<std::uint8_t>(crc));
    frame.push_back(static_cast<std::uint8_t>(crc >> 8));
    return RawData({{"frame", {}, frame}});
}

}  // namespace

const Device device_rows::kAm2320{
    .id = "am2320",
    .title = "Two-wire humidity and temperature, tenths",
    .source = "AM2320 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeFrame,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
