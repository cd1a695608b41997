// Humidity and temperature on two straight lines, each through two points that the factory wrote into the part.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"calibration", 0x30, 16, true, false}, {"data", 0x28, 4, false, false}, {"status", 0x27, 1, false, true}};
}

/// A straight line through two points of the calibration.
struct Line {
    Recorded y0, y1, x0, x1;
    [[nodiscard]] Recorded at(const Recorded& x) const { return y0 + (y1 - y0) * (x - x0) / (x1 - x0); }
    [[nodiscard]] double step() const { return std::abs((y1.value() - y0.value()) / (x1.value() - x0.value())); }
    [[nodiscard]] RecordedCondition isLine() const { return differs(x0, x1) && differs(y0, y1); }
};

Expected<Decoded> decodeAll(const RawData& raw, const DeviceOptions& options) {
    Tracer t("HTS221 data sheet, 10 calibration, and its interpreting guide", options);
    const auto c = raw.registers(0x30, 16), data = raw.registers(0x28, 4);
    if (!c) return tl::unexpected(c.error());
    if (!data) return tl::unexpected(data.error());
    const unsigned upper = c->u8(5);
    t.word("T1/T0 msb", upper, *c, 5, 1, "bits 3:2 of T1, bits 1:0 of T0");
    const auto temperature = [&](const char* name, std::size_t at, unsigned high) {
        const Recorded value = t.word(name, (c->u8(at) | static_cast<int>(high) << 8) / 8.0, *c, at, 1,
                                      filled("with upper bits {}, in 1/8 °C", high));
        t.also(*c, 5, 1);
        return value;
    };
    Line humidity{t.word("H0", c->u8(0) / 2.0, *c, 0, 1, "in 1/2 %RH"),
                  t.word("H1", c->u8(1) / 2.0, *c, 1, 1, "in 1/2 %RH"),
                  t.word("H0_T0_OUT", c->sle16(6), *c, 6, 2, "low byte first, signed"),
                  t.word("H1_T0_OUT", c->sle16(10), *c, 10, 2, "low byte first, signed")};
    Line warmth{temperature("T0", 2, upper & 3), temperature("T1", 3, upper >> 2 & 3),
                t.word("T0_OUT", c->sle16(12), *c, 12, 2, "low byte first, signed"),
                t.word("T1_OUT", c->sle16(14), *c, 14, 2, "low byte first, signed")};
    if (!t.expect(humidity.isLine() && warmth.isLine()))
        return fail(ErrorCode::Damaged, "register 0x30", c->hex(0, 8) + " …",
                    "two different points for each line: nothing answered, or registers were read without the bit 0x80 "
                    "of the address that counts them up");
    const Recorded h = t.word("H_OUT", data->sle16(0), *data, 0, 2, "low byte first, signed"),
                   w = t.word("T_OUT", data->sle16(2), *data, 2, 2, "low byte first, signed");
    if (raw.hasRegister(0x27) && (raw.registers(0x27, 1)->u8(0) & 3) != 3)
        t.doubt("stale", "the status says that no new humidity and temperature are ready");
    const Recorded celsius = t.step("ϑ", warmth.at(w), "degC");
    const Recorded exact = t.step("RH", humidity.at(h), "percent");
    if (!t.expect(-60.0 <= celsius && celsius <= 140.0))
        return fail(ErrorCode::Range, "register 0x2A", num(celsius.value()) + " °C",
                    "a temperature the part works at, −40 to 120 °C");
    const Recorded rh = t.cut(exact);
    t.reading("temperature", Quantity::Temperature, celsius, warmth.step());
    t.reading("humidity", Quantity::RelativeHumidity, rh, humidity.step());
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) {
    return {{"temperature", -32768, 32767}, {"humidity", -32768, 32767}};
}
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    auto bytes = bytesLe(static_cast<std::uint64_t>(v[1]), 2);
    for (const std::uint8_t byte : bytesLe(static_cast<std::uint64_t>(v[0]), 2)) bytes.push_back(byte);
    return RawData({{"", 0x28, bytes}});
}

// Made up, of the size parts have: H0 33 %RH at 4250, H1 74 %RH at −5500, T0 20.5 °C at −10, T1 34.25 °C at 740.
RawData specimen() {
    return RawData({{"", 0x30, {66, 148, 164, 18, 0, 0x04, 0x9A, 0x10, 0, 0, 0x84, 0xEA, 0xF6, 0xFF, 0xE4, 0x02}}});
}

}  // namespace

const Device device_rows::kHts221{
    .id = "hts221",
    .title = "Two-wire humidity and temperature on factory lines",
    .source = "HTS221 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeAll,
    .variables = variables,
    .compose = compose,
    .specimen = specimen,
    .words = WordReading::LowFirst,
};

}  // namespace fg
