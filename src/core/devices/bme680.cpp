// Barometer with humidity and the resistance of a gas sensor.

#include "devices/device_rows.h"
#include "devices/tracer.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"calibration", 0x89, 25, true, false, WordReading::LowFirst},
            {"calibration", 0xE1, 16, true, false, WordReading::LowFirst},
            {"range switching error", 0x04, 1, true, true},
            {"data", 0x1D, 15, false, false}};
}

struct Coefficients {
    Recorded t1, t2, t3, p1, p2, p3, p4, p5, p6, p7, p8, p9, p10, h1, h2, h3, h4, h5, h6, h7;
};

Expected<Coefficients> readCoefficients(const RawData& raw, Tracer& t) {
    const auto a = raw.registers(0x89, 25), b = raw.registers(0xE1, 16);
    if (!a) return tl::unexpected(a.error());
    if (!b) return tl::unexpected(b.error());
    const auto same = [&](std::uint8_t value) {
        return std::all_of(a->data().begin(), a->data().end(), [&](std::uint8_t byte) { return byte == value; });
    };
    if (same(0x00) || same(0xFF))
        return fail(ErrorCode::Damaged, "register 0x89", a->hex(0, 4) + " …",
                    "calibration words that are not all alike: nothing answered");
    const auto u16 = [&](const char* name, const Bytes& c, std::size_t i) {
        return t.word(name, c.le16(i), c, i, 2, "low byte first, unsigned");
    };
    const auto s16 = [&](const char* name, const Bytes& c, std::size_t i) {
        return t.word(name, c.sle16(i), c, i, 2, "low byte first, signed");
    };
    const auto s8 = [&](const char* name, const Bytes& c, std::size_t i) {
        return t.word(name, c.s8(i), c, i, 1, "signed");
    };
    const auto u8 = [&](const char* name, const Bytes& c, std::size_t i) {
        return t.word(name, c.u8(i), c, i, 1, "unsigned");
    };
    Coefficients c{};
    c.t1 = u16("par_t1", *b, 8);
    c.t2 = s16("par_t2", *a, 1);
    c.t3 = s8("par_t3", *a, 3);
    c.p1 = u16("par_p1", *a, 5);
    c.p2 = s16("par_p2", *a, 7);
    c.p3 = s8("par_p3", *a, 9);
    c.p4 = s16("par_p4", *a, 11);
    c.p5 = s16("par_p5", *a, 13);
    c.p7 = s8("par_p7", *a, 15);
    c.p6 = s8("par_p6", *a, 16);
    c.p8 = s16("par_p8", *a, 19);
    c.p9 = s16("par_p9", *a, 21);
    c.p10 = u8("par_p10", *a, 23);
    // Two twelve-bit words share the byte at E2.
    c.h2 = t.word("par_h2", b->u8(0) << 4 | b->u8(1) >> 4, *b, 0, 2, "E1 and the upper half of E2");
    c.h1 = t.word("par_h1", b->u8(2) << 4 | (b->u8(1) & 0x0F), *b, 1, 2, "E3 and the lower half of E2");
    c.h3 = s8("par_h3", *b, 3);
    c.h4 = s8("par_h4", *b, 4);
    c.h5 = s8("par_h5", *b, 5);
    c.h6 = u8("par_h6", *b, 6);
    c.h7 = s8("par_h7", *b, 7);
    return c;
}

Recorded fineOf(const Coefficients& c, const Recorded& raw, Tracer& t) {
    const Recorded var1 = t.step("var1", (raw / 16384.0 - c.t1 / 1024.0) * c.t2);
    const Recorded d = raw / 131072.0 - c.t1 / 8192.0;
    const Recorded var2 = t.step("var2", d * d * c.t3 * 16.0);
    return t.step("t_fine", var1 + var2);
}

Recorded pressureOf(const Coefficients& c, const Recorded& fine, const Recorded& raw, Tracer& t) {
    Recorded var1 = t.step("var1", fine / 2.0 - 64000.0);
    const Recorded var2 = t.step("var2", (var1 * var1 * (c.p6 / 131072.0) + var1 * c.p5 * 2.0) / 4.0 + c.p4 * 65536.0);
    const Recorded slope = (c.p3 * var1 * var1 / 16384.0 + c.p2 * var1) / 524288.0;
    var1 = t.step("var1", (1.0 + slope / 32768.0) * c.p1);
    if (!t.expect(differs(var1, 0))) return kNoValue;
    const Recorded p0 = t.step("p0", (1048576.0 - raw - var2 / 4096.0) * 6250.0 / var1, "Pa");
    const Recorded cube = p0 / 256.0 * (p0 / 256.0) * (p0 / 256.0);
    const Recorded sum =
        c.p9 * p0 * p0 / 2147483648.0 + p0 * (c.p8 / 32768.0) + cube * (c.p10 / 131072.0) + c.p7 * 128.0;
    return t.step("p", p0 + sum / 16.0, "Pa");
}

Recorded humidityOf(const Coefficients& c, const Recorded& celsius, const Recorded& raw, Tracer& t) {
    const Recorded var1 = t.step("var1", raw - (c.h1 * 16.0 + c.h3 / 2.0 * celsius));
    const Recorded var2 =
        t.step("var2",
               var1 * (c.h2 / 262144.0 * (1.0 + c.h4 / 16384.0 * celsius + c.h5 / 1048576.0 * celsius * celsius)));
    return t.step("RH", var2 + (c.h6 / 16384.0 + c.h7 / 2097152.0 * celsius) * var2 * var2, "percent");
}

// Constants of the gas resistance, by range, in percent.
constexpr std::array<double, 16> kConst1{0, 0, 0, 0, 0, -1, 0, -0.8, 0, 0, -0.2, -0.5, 0, -1, 0, 0};
constexpr std::array<double, 16> kConst2{0, 0, 0, 0, 0.1, 0.7, 0, -0.8, -0.1, 0, 0, 0, 0, 0, 0, 0};

void gas(const RawData& raw, const Bytes& data, Tracer& t) {
    const int word = data.be16(13);
    t.word("gas word", word, data, 13, 2, "ten bits, valid, stable, range");
    const Recorded adc = t.word("adc_G", word >> 6, data, 13, 2, "upper ten bits");
    const auto range = static_cast<std::size_t>(word & 0x0F);
    if (!(word & 0x20))
        return t.note("gas-invalid",
                      "the gas measurement of these bytes is not valid (bit 5 of 0x2B): the heater was off or skipped");
    Recorded error = 0;
    if (raw.hasRegister(0x04)) {
        const Bytes byte = raw.registers(0x04, 1).value();
        error = t.word("range_sw_err", byte.s8(0) >> 4, byte, 0, 1, "upper half, signed");
    } else {
        t.doubt("range-error", "register 0x04 with the range switching error is missing: taken as 0");
    }
    const Recorded var1 = t.step("var1", (1340.0 + 5.0 * error) * (1.0 + kConst1[range] / 100));
    const double var2 = 1 + kConst2[range] / 100;
    const double scale = var2 * 1.25e-7 * std::ldexp(1, static_cast<int>(range));
    const Recorded ohm =
        t.step("R gas", 1.0 / (scale * ((adc - 512.0) / var1 + 1.0)), "ohm", filled("constants of range {}", range));
    if (!(word & 0x10))
        t.doubt("heater", "the heater did not reach its temperature (bit 4 of 0x2B): the gas resistance means little");
    t.reading("gas", Quantity::Resistance, ohm, 0);
}

Expected<Decoded> decodeAll(const RawData& raw, const DeviceOptions& options) {
    Tracer t("BME680 data sheet, 3.3 sensor measurement and compensation", options);
    const auto c = readCoefficients(raw, t);
    if (!c) return tl::unexpected(c.error());
    const auto data = raw.registers(0x1D, 15);
    if (!data) return tl::unexpected(data.error());
    const int state = data->u8(0);
    t.word("status", state, *data, 0, 1, "bit 7 new data");
    const Recorded rawP = t.word("adc_P", data->be24(2) >> 4, *data, 2, 3, "upper 20 bits"),
                   rawT = t.word("adc_T", data->be24(5) >> 4, *data, 5, 3, "upper 20 bits"),
                   rawH = t.word("adc_H", data->be16(8), *data, 8, 2, "high byte first");
    if (!t.expectReady(differs(rawT, 0x80000))) {
        t.fault("not-ready", "adc_T is 0x80000, as after a reset: nothing was measured");
        t.reading("temperature", Quantity::Temperature, kNoValue, 0);
        return t.decoded;
    }
    if (!(state & 0x80)) t.doubt("stale", "the new-data bit is not set: these bytes may have been read before");
    const Recorded fine = fineOf(*c, rawT, t);
    const Recorded celsius = t.step("ϑ", fine / 5120.0, "degC");
    if (!t.expect(-60.0 <= celsius && celsius <= 120.0))
        return fail(ErrorCode::Range, "register 0x22", num(celsius.value()) + " °C",
                    "a temperature the part can measure, −40 to 85 °C");
    t.reading("temperature", Quantity::Temperature, celsius, std::abs(c->t2.value() / 16384 / 5120));
    {
        const Tracer::OwnConditions own(t);
        const bool hasP = t.expect(differs(rawP, 0x80000));
        const Recorded p = hasP ? pressureOf(*c, fine, rawP, t) : Recorded(kNoValue);
        if (!hasP)
            t.fault("pressure-skipped", "adc_P is 0x80000: its oversampling is set to skipped");
        else if (!t.expect(20000.0 <= p && p <= 125000.0))
            return fail(ErrorCode::Range, "register 0x1F", num(p.value() / 100) + " hPa",
                        "a pressure the part can measure, 300 to 1100 hPa");
        t.reading("pressure", Quantity::Pressure, p, 0.18);
    }
    {
        const Tracer::OwnConditions own(t);
        const bool hasH = t.expect(differs(rawH, 0x8000));
        if (!hasH) t.fault("humidity-skipped", "adc_H is 0x8000: its oversampling is set to skipped");
        t.reading("humidity", Quantity::RelativeHumidity,
                  hasH ? t.cut(humidityOf(*c, celsius, rawH, t)) : Recorded(kNoValue), 0.01);
    }
    gas(raw, *data, t);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) {
    return {{"temperature", 0x40000, 0x9FFFF}, {"pressure", 0x20000, 0xBFFFF}, {"humidity", 0x2000, 0xDFFF}};
}
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    std::vector<std::uint8_t> bytes{0x80, 0x00};
    for (const std::size_t i : {std::size_t{1}, std::size_t{0}})
        for (const std::uint8_t byte : bytesBe(static_cast<std::uint64_t>(v[i]) << 4, 3)) bytes.push_back(byte);
    for (const std::uint8_t byte : bytesBe(static_cast<std::uint64_t>(v[2]), 2)) bytes.push_back(byte);
    bytes.resize(15);
    return RawData({{"", 0x1D, bytes}});
}

// Made up, of the size parts have.
RawData specimen() {
    RawBlock a{"", 0x89, std::vector<std::uint8_t>(25)}, b{"", 0xE1, std::vector<std::uint8_t>(16)};
    const auto put = [](RawBlock& block, std::size_t i, int value, std::size_t count) {
        for (const std::uint8_t byte : bytesLe(static_cast<std::uint64_t>(value), count)) block.bytes[i++] = byte;
    };
    put(a, 1, 26435, 2);
    put(a, 3, 3, 1);
    put(a, 5, 36477, 2);
    put(a, 7, -10415, 2);
    put(a, 9, 88, 1);
    put(a, 11, 7100, 2);
    put(a, 13, -120, 2);
    put(a, 15, 30, 1);
    put(a, 16, 30, 1);
    put(a, 19, -1200, 2);
    put(a, 21, -3000, 2);
    put(a, 23, 30, 1);
    put(b, 8, 26000, 2);
    b.bytes[0] = 0x3F;
    b.bytes[1] = 0x82;
    b.bytes[2] = 0x2D;  // h2 1016, h1 722
    put(b, 4, 45, 1);
    put(b, 5, 20, 1);
    put(b, 6, 120, 1);
    put(b, 7, -100, 1);
    return RawData({a, b, {"", 0x04, {0x00}}});
}

}  // namespace

const Device device_rows::kBme680{
    .id = "bme680",
    .title = "Barometer with humidity and gas resistance",
    .source = "BME680 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeAll,
    .variables = variables,
    .compose = compose,
    .specimen = specimen,
};

}  // namespace fg
