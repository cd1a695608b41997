// Temperature and humidity as two plain words: T = 165·S/65536 − 40, RH = 100·S/65536.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"frame", {}, 4, false, false}}; }

Expected<Decoded> decodeFrame(const RawData& raw, const DeviceOptions& options) {
    Tracer t("HDC1080 data sheet, 8.6.1 and 8.6.2", options);
    const auto frame = raw.block("frame", 4);
    if (!frame) return tl::unexpected(frame.error());
    const int wordT = frame->be16(0), wordH = frame->be16(2);
    const Recorded temperature = t.word("S_T", wordT, *frame, 0, 2, "high byte first");
    const Recorded humidity = t.word("S_RH", wordH, *frame, 2, 2, "high byte first");
    Recorded value = t.step("ϑ", temperature / 65536.0 * 165.0 - 40.0, "degC");
    Recorded rh = t.step("RH", humidity / 65536.0 * 100.0, "percent");
    const bool isFirstClear = t.expectClear(*frame, 1, {0, 1}), isSecondClear = t.expectClear(*frame, 3, {0, 1});
    if (wordT == 0xFFFF && wordH == 0xFFFF) {
        t.fault("not-ready", "all ones: nothing answered, or the conversion is not finished");
        value = rh = kNoValue;
    } else if (!isFirstClear || !isSecondClear) {
        return fail(ErrorCode::Range, "frame", frame->hex(0, 4), "the two lowest bits of each word 0");
    }
    t.reading("temperature", Quantity::Temperature, value, 165.0 * 4 / 65536);
    t.reading("humidity", Quantity::RelativeHumidity, rh, 100.0 * 4 / 65536);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) { return {{"temperature", 0, 16382}, {"humidity", 0, 16382}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    return RawData({{"frame",
                     {},
                     bytesBe(static_cast<std::uint64_t>(v[0] << 2) << 16 | static_cast<std::uint64_t>(v[1] << 2), 4)}});
}

}  // namespace

const Device device_rows::kHdc1080{
    .id = "hdc1080",
    .title = "Two-wire humidity and temperature, 14 bits",
    .source = "HDC1080 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeFrame,
    .variables = variables,
    .compose = compose,
    .words = WordReading::OfPointer,
    .isZeroAtPowerOn = true,
};

}  // namespace fg
