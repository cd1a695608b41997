// The twelve-coefficient barometer, and the same with humidity.

#include "devices/device_rows.h"
#include "devices/tracer.h"
#include "devices/trimmed_compensation.h"

#include <algorithm>

namespace fg {
namespace {

constexpr std::uint32_t kSkipped = 0x80000, kSkippedHumidity = 0x8000;

std::vector<OptionSpec> options() {
    return {{"variant",
             "Routine that gives the reading; the others are shown beside it",
             {"double", "int64", "int32"},
             "double"}};
}
/// What the part can measure, with room: beyond it calibration and data do not belong together.
constexpr double kLeast_degC = -60, kMost_degC = 120;

std::vector<BlockSpec> pressureBlocks(const DeviceOptions&) {
    return {{"calibration", 0x88, 24, true, false, WordReading::LowFirst}, {"data", 0xF7, 6, false, false}};
}
std::vector<BlockSpec> humidityBlocks(const DeviceOptions&) {
    return {{"calibration", 0x88, 24, true, false, WordReading::LowFirst},
            {"calibration", 0xA1, 1, true, false},
            {"calibration", 0xE1, 7, true, false, WordReading::LowFirst},
            {"data", 0xF7, 8, false, false}};
}

Expected<void> readPressureWords(const RawData& raw, Tracer& t, trimmed::Words& c) {
    const auto bytes = raw.registers(0x88, 24);
    if (!bytes) return tl::unexpected(bytes.error());
    const auto same = [&](std::uint8_t value) {
        return std::all_of(bytes->data().begin(), bytes->data().end(), [&](std::uint8_t b) { return b == value; });
    };
    if (same(0x00) || same(0xFF))
        return fail(ErrorCode::Damaged, "register 0x88", bytes->hex(0, 4) + " …",
                    "calibration words that are not all alike: nothing answered");
    const auto s = [&](const char* name, std::size_t i) {
        return t.word(name, bytes->sle16(i), *bytes, i, 2, "low byte first, signed");
    };
    const auto u = [&](const char* name, std::size_t i) {
        return t.word(name, bytes->le16(i), *bytes, i, 2, "low byte first, unsigned");
    };
    c.t1 = u("dig_T1", 0);
    c.t2 = s("dig_T2", 2);
    c.t3 = s("dig_T3", 4);
    c.p1 = u("dig_P1", 6);
    c.p2 = s("dig_P2", 8);
    c.p3 = s("dig_P3", 10);
    c.p4 = s("dig_P4", 12);
    c.p5 = s("dig_P5", 14);
    c.p6 = s("dig_P6", 16);
    c.p7 = s("dig_P7", 18);
    c.p8 = s("dig_P8", 20);
    c.p9 = s("dig_P9", 22);
    return {};
}

// H4 and H5 share a byte, a nibble each.
Expected<void> readHumidityWords(const RawData& raw, Tracer& t, trimmed::Words& c) {
    const auto first = raw.registers(0xA1, 1), rest = raw.registers(0xE1, 7);
    if (!first) return tl::unexpected(first.error());
    if (!rest) return tl::unexpected(rest.error());
    c.h1 = t.word("dig_H1", first->u8(0), *first, 0, 1, "unsigned");
    c.h2 = t.word("dig_H2", rest->sle16(0), *rest, 0, 2, "low byte first, signed");
    c.h3 = t.word("dig_H3", rest->u8(2), *rest, 2, 1, "unsigned");
    c.h4 = t.word("dig_H4", rest->s8(3) * 16 + (rest->u8(4) & 0x0F), *rest, 3, 2,
                  "E4 and the lower half of E5, 12 bits signed");
    c.h5 = t.word("dig_H5", rest->s8(5) * 16 + (rest->u8(4) >> 4), *rest, 4, 2,
                  "the upper half of E5 and E6, 12 bits signed");
    c.h6 = t.word("dig_H6", rest->s8(6), *rest, 6, 1, "signed");
    return {};
}

struct Chosen {
    Recorded fine;             ///< t_fine of the double routine
    trimmed::Int32 fineWhole;  ///< of the integer ones
    bool isDouble, isInt64;
};

Chosen temperature(const trimmed::Words& c, const Recorded& raw, const DeviceOptions& options, Tracer& t) {
    const Chosen chosen{trimmed::fineOf(c, raw), trimmed::fineInt(c, raw), options.is("variant", "double"),
                        options.is("variant", "int64")};
    const Recorded exact = t.step("ϑ", chosen.fine / 5120.0, "degC");
    const auto hundredths = t.step("T", (chosen.fineWhole * 5 + 128) >> 8, "", "in 0.01 °C");
    const Recorded rounded = t.step("ϑ, integer", hundredths.real() / 100.0, "degC");
    const Recorded value = chosen.isDouble ? exact : rounded;
    t.expect(kLeast_degC <= value && value <= kMost_degC);
    t.reading("temperature", Quantity::Temperature, value,
              chosen.isDouble ? std::abs(c.t2.value() / 16384.0 / 5120.0) : 0.01);
    return chosen;
}

Expected<void> pressure(const trimmed::Words& c, const Recorded& raw, const Chosen& chosen, Tracer& t) {
    // All three are shown, one is taken.
    Recorded exact = kNoValue, by64 = kNoValue, by32 = kNoValue;
    const bool isAll = t.wantsLines(), isInt64 = !chosen.isDouble && chosen.isInt64;
    if (isAll || chosen.isDouble) exact = trimmed::pascalOf(c, chosen.fine, raw);
    if (isAll || isInt64)
        by64 = t.step("p, 64 bit", trimmed::pascalInt64(c, chosen.fineWhole, raw).real() / 256.0, "Pa");
    if (isAll || !(chosen.isDouble || isInt64)) by32 = trimmed::pascalInt32(c, chosen.fineWhole, raw).real();
    const Recorded value = chosen.isDouble ? exact : isInt64 ? by64 : by32;
    if (!t.expect(20000.0 <= value && value <= 125000.0))
        return fail(ErrorCode::Range, "register 0xF7", num(value.value() / 100) + " hPa",
                    "a pressure the part can measure, 300 to 1100 hPa: do calibration and data belong together?");
    t.reading("pressure", Quantity::Pressure, value, chosen.isDouble || chosen.isInt64 ? 0.18 : 1);
    return {};
}

void humidity(const trimmed::Words& c, const Recorded& raw, const Chosen& chosen, Tracer& t) {
    const Recorded uncut = trimmed::uncutPercentOf(c, chosen.fine, raw);
    const Recorded exact = t.cut(uncut);
    const Recorded by32 =
        t.step("RH, 32 bit", trimmed::percentInt32(c, chosen.fineWhole, raw).real() / 1024.0, "percent");
    t.reading("humidity", Quantity::RelativeHumidity, chosen.isDouble ? exact : by32, 0.01);
}

/// The temperature needs three of the words and three of the bytes.
Expected<Decoded> temperatureAlone(const RawData& raw, Tracer& t, const DeviceOptions& options) {
    const auto words = raw.registers(0x88, 6), data = raw.registers(0xFA, 3);
    if (!data) return tl::unexpected(data.error());
    trimmed::Words c;
    c.t1 = t.word("dig_T1", words->le16(0), *words, 0, 2, "low byte first, unsigned");
    c.t2 = t.word("dig_T2", words->sle16(2), *words, 2, 2, "low byte first, signed");
    c.t3 = t.word("dig_T3", words->sle16(4), *words, 4, 2, "low byte first, signed");
    const auto rawT = t.word("adc_T", data->be24(0) >> 4, *data, 0, 3, "high byte first, upper 20 bits");
    if (rawT.value() == kSkipped) {
        t.fault("not-ready", "adc_T is 0x80000, as after a reset or when it is skipped: nothing was measured");
        t.reading("temperature", Quantity::Temperature, kNoValue, 0);
        return t.decoded;
    }
    temperature(c, rawT, options, t);
    const double celsius = t.decoded.readings.back().value;
    if (!(celsius >= kLeast_degC && celsius <= kMost_degC))
        return fail(ErrorCode::Range, "register 0xFA", num(celsius) + " °C",
                    "a temperature the part can measure, −40 to 85 °C: do calibration and data belong together?");
    return t.decoded;
}

Expected<Decoded> decodeAll(const RawData& raw, const DeviceOptions& options, bool hasHumidity) {
    Tracer t(hasHumidity ? "BME280 data sheet, 4.2 and 8" : "BMP280 data sheet, 3.11 and 8", options);
    trimmed::Words c;
    if (!raw.hasRegister(0x8E) && !raw.hasRegister(0xF7) && raw.registers(0x88, 6))
        return temperatureAlone(raw, t, options);
    if (const auto read = readPressureWords(raw, t, c); !read) return tl::unexpected(read.error());
    if (hasHumidity)
        if (const auto read = readHumidityWords(raw, t, c); !read) return tl::unexpected(read.error());
    // Temperature and pressure may also have been read without the humidity behind them.
    const bool withHumidity = hasHumidity && raw.hasRegister(0xFE);
    const auto data = raw.registers(0xF7, withHumidity ? 8 : 6);
    if (!data) return tl::unexpected(data.error());
    const auto rawP = t.word("adc_P", data->be24(0) >> 4, *data, 0, 3, "high byte first, upper 20 bits");
    const auto rawT = t.word("adc_T", data->be24(3) >> 4, *data, 3, 3, "high byte first, upper 20 bits");
    if (!t.expectReady(differs(rawT, kSkipped))) {
        t.fault("not-ready",
                "adc_T is 0x80000, as after a reset or when it is skipped: nothing was measured, and the "
                "rest needs it");
        t.reading("temperature", Quantity::Temperature, kNoValue, 0);
        return t.decoded;
    }
    const Chosen chosen = temperature(c, rawT, options, t);
    const double celsius = t.decoded.readings.back().value;
    if (!(celsius >= kLeast_degC && celsius <= kMost_degC))
        return fail(ErrorCode::Range, "register 0xFA", num(celsius) + " °C",
                    "a temperature the part can measure, −40 to 85 °C: do calibration and data belong together?");
    if (const Tracer::OwnConditions own(t); !t.expect(differs(rawP, kSkipped))) {
        t.fault("pressure-skipped", "adc_P is 0x80000: its oversampling is set to skipped, or nothing was measured");
        t.reading("pressure", Quantity::Pressure, kNoValue, 0);
    } else if (const auto done = pressure(c, rawP, chosen, t); !done) {
        return tl::unexpected(done.error());
    }
    if (!withHumidity) return t.decoded;
    const auto rawH = t.word("adc_H", data->be16(6), *data, 6, 2, "high byte first");
    if (!t.expect(differs(rawH, kSkippedHumidity))) {
        t.fault("humidity-skipped", "adc_H is 0x8000: osrs_h is 0, or ctrl_meas was not written after ctrl_hum");
        t.reading("humidity", Quantity::RelativeHumidity, kNoValue, 0);
    } else {
        humidity(c, rawH, chosen, t);
    }
    return t.decoded;
}

Expected<Decoded> decodeBmp(const RawData& raw, const DeviceOptions& options) { return decodeAll(raw, options, false); }
Expected<Decoded> decodeBme(const RawData& raw, const DeviceOptions& options) { return decodeAll(raw, options, true); }

// Raw pressure falls as the pressure rises; ranges that hold −40 … 85 °C and 300 … 1100 hPa for any coefficients a part
// has.
std::vector<RawVariable> pressureVariables(const DeviceOptions&) {
    return {{"temperature", 0x40000, 0x9FFFF}, {"pressure", 0x20000, 0xBFFFF}};
}
std::vector<RawVariable> humidityVariables(const DeviceOptions&) {
    return {{"temperature", 0x40000, 0x9FFFF}, {"pressure", 0x20000, 0xBFFFF}, {"humidity", 0x2000, 0xDFFF}};
}

RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    std::vector<std::uint8_t> bytes = bytesBe(static_cast<std::uint64_t>(v[1]) << 4, 3);
    for (const std::uint8_t byte : bytesBe(static_cast<std::uint64_t>(v[0]) << 4, 3)) bytes.push_back(byte);
    if (v.size() > 2)
        for (const std::uint8_t byte : bytesBe(static_cast<std::uint64_t>(v[2]), 2)) bytes.push_back(byte);
    return RawData({{"", 0xF7, bytes}});
}

/// The data sheet's example coefficients.
RawBlock exampleWords() {
    RawBlock block{"", 0x88, {}};
    for (const int word : {27504, 26435, -1000, 36477, -10685, 3024, 2855, 140, -7, 15500, -14600, 6000})
        for (const std::uint8_t byte : bytesLe(static_cast<std::uint64_t>(word), 2)) block.bytes.push_back(byte);
    return block;
}
RawData pressureSpecimen() { return RawData({exampleWords()}); }
// Made up, of the size parts have: H1 75, H2 370, H3 0, H4 313, H5 50, H6 30.
RawData humiditySpecimen() {
    return RawData({exampleWords(), {"", 0xA1, {75}}, {"", 0xE1, {0x72, 0x01, 0x00, 0x13, 0x29, 0x03, 0x1E}}});
}

}  // namespace

const Device device_rows::kBmp280{
    .id = "bmp280",
    .title = "Barometer with twelve coefficients",
    .source = "BMP280 data sheet",
    .options = options,
    .blocks = pressureBlocks,
    .decode = decodeBmp,
    .variables = pressureVariables,
    .compose = compose,
    .specimen = pressureSpecimen,
};
const Device device_rows::kBme280{
    .id = "bme280",
    .title = "Barometer with humidity",
    .source = "BME280 data sheet",
    .options = options,
    .blocks = humidityBlocks,
    .decode = decodeBme,
    .variables = humidityVariables,
    .compose = compose,
    .specimen = humiditySpecimen,
};

}  // namespace fg
