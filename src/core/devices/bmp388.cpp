// The barometer compensated in floating point.

#include "devices/device_rows.h"
#include "devices/tracer.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"calibration", 0x31, 21, true, false}, {"status", 0x03, 1, false, true}, {"data", 0x04, 6, false, false}};
}

struct Coefficients {
    Recorded t1, t2, t3, p1, p2, p3, p4, p5, p6, p7, p8, p9, p10, p11;
};

/// "2^48", as long as the program lives.
std::string_view powerText(std::size_t power) {
    static const auto kTexts = [] {
        std::array<std::string, 66> texts;
        for (std::size_t i = 0; i < texts.size(); ++i) texts[i] = fmt::format("2^{}", i);
        return texts;
    }();
    return kTexts[power];
}

Expected<Coefficients> readCoefficients(const RawData& raw, Tracer& t) {
    const auto c = raw.registers(0x31, 21);
    if (!c) return tl::unexpected(c.error());
    // How far the words are from all clear and from all set bits, as sums of squares.
    Recorded fromZeros = 0, fromOnes = 0;
    // PAR_T1 is NVM_PAR_T1 scaled by a power of two; both are shown.
    const auto scaled = [&](std::string_view name, int word, std::size_t i, std::size_t n, std::string_view how,
                            int power, double offset = 0) {
        const Recorded read = t.word(name, word, *c, i, n, how);
        const double ones = how.find("unsigned") == std::string_view::npos ? -1 : 65535;
        fromZeros = fromZeros + read * read;
        fromOnes = fromOnes + (read - ones) * (read - ones);
        const Recorded shifted = offset == 0 ? read : read - offset;
        const auto size = static_cast<std::size_t>(std::abs(power));
        const auto written = constant<Recorded>(std::ldexp(1, std::abs(power)), "", powerText(size));
        return t.step(name.substr(std::string_view("NVM_").size()), power < 0 ? shifted * written : shifted / written);
    };
    const auto u16 = [&](const char* name, std::size_t i, int power) {
        return scaled(name, c->le16(i), i, 2, "low byte first, unsigned", power);
    };
    const auto s16 = [&](const char* name, std::size_t i, int power, double offset = 0) {
        return scaled(name, c->sle16(i), i, 2, "low byte first, signed", power, offset);
    };
    const auto s8 = [&](const char* name, std::size_t i, int power) {
        return scaled(name, c->s8(i), i, 1, "signed", power);
    };
    const Coefficients all{u16("NVM_PAR_T1", 0, -8),        u16("NVM_PAR_T2", 2, 30),        s8("NVM_PAR_T3", 4, 48),
                           s16("NVM_PAR_P1", 5, 20, 16384), s16("NVM_PAR_P2", 7, 29, 16384), s8("NVM_PAR_P3", 9, 32),
                           s8("NVM_PAR_P4", 10, 37),        u16("NVM_PAR_P5", 11, -3),       u16("NVM_PAR_P6", 13, 6),
                           s8("NVM_PAR_P7", 15, 8),         s8("NVM_PAR_P8", 16, 15),        s16("NVM_PAR_P9", 17, 48),
                           s8("NVM_PAR_P10", 19, 48),       s8("NVM_PAR_P11", 20, 65)};
    if (!t.expect(fromZeros > 0.0 && fromOnes > 0.0))
        return fail(ErrorCode::Damaged, "register 0x31", c->hex(0, 4) + " …",
                    "calibration words that are not all alike: nothing answered");
    return all;
}

Recorded pressureOf(const Coefficients& c, const Recorded& t, const Recorded& raw, Tracer& tracer) {
    const Recorded out1 = tracer.step("out1", c.p5 + c.p6 * t + c.p7 * t * t + c.p8 * t * t * t);
    const Recorded out2 = tracer.step("out2", raw * (c.p1 + c.p2 * t + c.p3 * t * t + c.p4 * t * t * t));
    const Recorded out3 = tracer.step("out3", raw * raw * (c.p9 + c.p10 * t) + raw * raw * raw * c.p11);
    return tracer.step("p", out1 + out2 + out3, "Pa");
}

Expected<Decoded> decodeAll(const RawData& raw, const DeviceOptions& options) {
    Tracer t("BMP388 data sheet, 8 appendix: compensation in floating point", options);
    const auto c = readCoefficients(raw, t);
    if (!c) return tl::unexpected(c.error());
    const auto data = raw.registers(0x04, 6);
    if (!data) return tl::unexpected(data.error());
    const Recorded rawP = t.word("u_P", data->le24(0), *data, 0, 3, "low byte first"),
                   rawT = t.word("u_T", data->le24(3), *data, 3, 3, "low byte first");
    if (raw.hasRegister(0x03)) {
        const Bytes status = raw.registers(0x03, 1).value();
        const int bits = status.u8(0);
        t.word("status", bits, status, 0, 1, "bit 6 temperature ready, bit 5 pressure ready");
        if (!(bits & 0x40) || !(bits & 0x20))
            t.doubt("stale", "the status says that no new result is ready: these bytes may have been read before");
    }
    if (!t.expectReady(differs(rawT, 0x800000))) {
        t.fault("not-ready", "u_T is 0x800000, as after a reset: nothing was measured");
        t.reading("temperature", Quantity::Temperature, kNoValue, 0);
        return t.decoded;
    }
    const Recorded d = t.step("d", rawT - c->t1);
    const Recorded value = t.step("ϑ", d * c->t2 + d * d * c->t3, "degC");
    if (!t.expect(-60.0 <= value && value <= 120.0))
        return fail(ErrorCode::Range, "register 0x07", num(value.value()) + " °C",
                    "a temperature the part can measure, −40 to 85 °C");
    t.reading("temperature", Quantity::Temperature, value, c->t2.value());
    if (!t.expect(differs(rawP, 0x800000))) {
        t.fault("pressure-skipped", "u_P is 0x800000: it is not enabled, or nothing was measured");
        t.reading("pressure", Quantity::Pressure, kNoValue, 0);
        return t.decoded;
    }
    const Recorded p = pressureOf(*c, value, rawP, t);
    if (!t.expect(20000.0 <= p && p <= 130000.0))
        return fail(ErrorCode::Range, "register 0x04", num(p.value() / 100) + " hPa",
                    "a pressure the part can measure, 300 to 1250 hPa");
    t.reading("pressure", Quantity::Pressure, p, std::abs(c->p1.value()));
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) {
    return {{"temperature", 0x400000, 0xBFFFFF}, {"pressure", 0x200000, 0xDFFFFF}};
}
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    auto bytes = bytesLe(static_cast<std::uint64_t>(v[1]), 3);
    for (const std::uint8_t byte : bytesLe(static_cast<std::uint64_t>(v[0]), 3)) bytes.push_back(byte);
    return RawData({{"", 0x04, bytes}});
}

// Made up, of the size parts have.
RawData specimen() {
    RawBlock block{"", 0x31, {}};
    const auto add = [&](int value, std::size_t count) {
        for (const std::uint8_t byte : bytesLe(static_cast<std::uint64_t>(value), count)) block.bytes.push_back(byte);
    };
    add(27426, 2);
    add(18932, 2);
    add(-7, 1);
    add(2080, 2);
    add(-3210, 2);
    add(35, 1);
    add(0, 1);
    add(25159, 2);
    add(30514, 2);
    add(3, 1);
    add(-6, 1);
    add(3532, 2);
    add(11, 1);
    add(-60, 1);
    return RawData({block});
}

}  // namespace

const Device device_rows::kBmp388{
    .id = "bmp388",
    .title = "Barometer compensated in floating point",
    .source = "BMP388 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeAll,
    .variables = variables,
    .compose = compose,
    .specimen = specimen,
    .words = WordReading::LowFirst,
};

}  // namespace fg
