// The eleven-coefficient barometer.

#include "devices/device_rows.h"
#include "devices/tracer.h"

#include <array>

namespace fg {
namespace {

std::vector<OptionSpec> options() { return {{"oss", "Oversampling setting", {"0", "1", "2", "3"}, "0"}}; }
std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"calibration", 0xAA, 22, true, false},
            {"temperature", {}, 2, false, false},
            {"pressure", {}, 3, false, false}};
}

using Int = Whole<std::int32_t>;
using Uint = Whole<std::uint32_t>;

struct Words {
    Int ac1, ac2, ac3, ac4, ac5, ac6, b1, b2, mb, mc, md;
};

Expected<Words> readWords(const RawData& raw, Tracer& t) {
    const auto c = raw.registers(0xAA, 22);
    if (!c) return tl::unexpected(c.error());
    std::optional<std::size_t> empty;
    const auto kept = [&](const Int& word, std::size_t i, int allOnes) {
        if (!t.expect(differs(word.real(), 0) && differs(word.real(), allOnes)) && !empty) empty = i;
        return word;
    };
    const auto s = [&](const char* name, std::size_t i) {
        return kept(t.whole<std::int32_t>(name, c->sbe16(i), *c, i, 2, "signed"), i, -1);
    };
    const auto u = [&](const char* name, std::size_t i) {
        return kept(t.whole<std::int32_t>(name, c->be16(i), *c, i, 2, "unsigned"), i, 0xFFFF);
    };
    const Words words{s("AC1", 0), s("AC2", 2), s("AC3", 4), u("AC4", 6), u("AC5", 8), u("AC6", 10),
                      s("B1", 12), s("B2", 14), s("MB", 16), s("MC", 18), s("MD", 20)};
    if (empty)
        return fail(ErrorCode::Damaged, filled("register 0x{:02X}", 0xAA + *empty), c->hex(*empty, 2),
                    "a calibration word that is neither 0000 nor FFFF");
    return words;
}

// The integer routine as printed, its shifts arithmetic.
Expected<Recorded> temperatureOf(const Words& w, const Int& ut, Tracer& t, Int& b5) {
    const Int x1 = t.step("X1", ((ut - w.ac6) * w.ac5) >> 15);
    if (!t.expect(differs((x1 + w.md).real(), 0)) || x1.value() + w.md.value() == 0)
        return fail(ErrorCode::Domain, "temperature", std::to_string(ut.value()), "a UT for which X1 + MD is not 0");
    const Int x2 = t.step("X2", w.mc * 2048 / (x1 + w.md));
    b5 = t.step("B5", x1 + x2);
    const Int tenths = t.step("T", (b5 + 8) >> 4, "", "in 0.1 °C");
    return t.step("ϑ", tenths.real() / 10.0, "degC");
}

Expected<Recorded> pressureOf(const Words& w, const Int& up, int oss, const Int& b5, Tracer& t) {
    const Int b6 = t.step("B6", b5 - 4000);
    Int x1 = t.step("X1", (w.b2 * ((b6 * b6) >> 12)) >> 11);
    Int x2 = t.step("X2", (w.ac2 * b6) >> 11);
    Int x3 = t.step("X3", x1 + x2);
    const Int b3 = t.step("B3", (((w.ac1 * 4 + x3) << oss) + 2) / 4);
    x1 = t.step("X1", (w.ac3 * b6) >> 13);
    x2 = t.step("X2", (w.b1 * ((b6 * b6) >> 12)) >> 16);
    x3 = t.step("X3", (x1 + x2 + 2) >> 2);
    const Uint b4 = t.step("B4", (w.ac4.as<std::uint32_t>() * (x3 + 32768).as<std::uint32_t>()) >> 15);
    const Uint b7 = t.step("B7", (up.as<std::uint32_t>() - b3.as<std::uint32_t>()) * (Uint(50000) >> oss));
    if (!t.expect(differs(b4.real(), 0)) || b4.value() == 0)
        return fail(ErrorCode::Domain, "calibration", "B4 = 0", "coefficients with which the pressure can be computed");
    Int p = t.step("p", select(b7 < Uint(0x80000000U), b7 * 2 / b4, b7 / b4 * 2).as<std::int32_t>());
    x1 = t.step("X1", ((p >> 8) * (p >> 8) * 3038) >> 16);
    x2 = t.step("X2", (Int(-7357) * p) >> 16);
    p = t.step("p", p + ((x1 + x2 + 3791) >> 4), "Pa");
    return p.real();
}

Expected<Decoded> decodeBlocks(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("BMP180 data sheet, 3.5 calculating pressure and temperature", chosen);
    const int oss = static_cast<int>(chosen.number("oss"));
    const auto words = readWords(raw, t);
    if (!words) return tl::unexpected(words.error());
    const auto temperature = raw.block("temperature", 2);
    if (!temperature) return tl::unexpected(temperature.error());
    const Int ut = t.whole<std::int32_t>("UT", temperature->be16(0), *temperature, 0, 2, "high byte first");
    Int b5;
    const auto value = temperatureOf(*words, ut, t, b5);
    if (!value) return tl::unexpected(value.error());
    if (!t.expect(-60.0 <= *value && *value <= 120.0))
        return fail(ErrorCode::Range, "temperature", num(value->value()) + " °C", "a temperature from −40 to 85 °C");
    t.reading("temperature", Quantity::Temperature, *value, 0.1);
    if (!raw.hasBlock("pressure")) return t.decoded;
    const auto pressure = raw.block("pressure", raw.blockSize("pressure") == 2 && oss == 0 ? 2 : 3);
    if (!pressure) return tl::unexpected(pressure.error());
    const bool isShort = pressure->size() == 2;
    const auto joined = isShort ? std::uint32_t{pressure->be16(0)} << 8 : pressure->be24(0);
    const Int up = t.whole<std::int32_t>("UP", static_cast<std::int32_t>(joined >> (8 - oss)), *pressure, 0,
                                         pressure->size(), filled("24 bits >> {}", 8 - oss));
    const auto p = pressureOf(*words, up, oss, b5, t);
    if (!p) return tl::unexpected(p.error());
    if (!t.expect(20000.0 <= *p && *p <= 120000.0))
        return fail(ErrorCode::Range, "pressure", num(p->value() / 100) + " hPa",
                    "a pressure from 300 to 1100 hPa: is oss the one that was measured with?");
    t.reading("pressure", Quantity::Pressure, *p, 1);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions& chosen) {
    const int oss = static_cast<int>(chosen.number("oss"));
    return {{"temperature", 10000, 45000}, {"pressure", std::int64_t{10000} << oss, std::int64_t{52000} << oss}};
}

RawData compose(std::span<const std::int64_t> v, const DeviceOptions& chosen, const RawData&) {
    const int oss = static_cast<int>(chosen.number("oss"));
    return RawData({{"temperature", {}, bytesBe(static_cast<std::uint64_t>(v[0]), 2)},
                    {"pressure", {}, bytesBe(static_cast<std::uint64_t>(v[1]) << (8 - oss), 3)}});
}

// The data sheet's own example.
RawData specimen() {
    RawBlock block{"", 0xAA, {}};
    for (const int word : {408, -72, -14383, 32741, 32757, 23153, 6190, 4, -32768, -8711, 2868})
        for (const std::uint8_t byte : bytesBe(static_cast<std::uint64_t>(word), 2)) block.bytes.push_back(byte);
    return RawData({block});
}

}  // namespace

const Device device_rows::kBmp180{
    .id = "bmp180",
    .title = "Barometer with eleven coefficients",
    .source = "BMP180 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeBlocks,
    .variables = variables,
    .compose = compose,
    .specimen = specimen,
};

}  // namespace fg
