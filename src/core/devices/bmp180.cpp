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

struct Words {
    std::int32_t ac1, ac2, ac3, ac4, ac5, ac6, b1, b2, mb, mc, md;
};

Expected<Words> readWords(const RawData& raw, Tracer& t) {
    const auto c = raw.registers(0xAA, 22);
    if (!c) return tl::unexpected(c.error());
    for (std::size_t i = 0; i < 22; i += 2)
        if (c->be16(i) == 0 || c->be16(i) == 0xFFFF)
            return fail(ErrorCode::Damaged, filled("register 0x{:02X}", 0xAA + i), c->hex(i, 2),
                        "a calibration word that is neither 0000 nor FFFF");
    const auto s = [&](const char* name, std::size_t i) {
        return std::int32_t{t.word(name, c->sbe16(i), *c, i, 2, "signed")};
    };
    const auto u = [&](const char* name, std::size_t i) {
        return std::int32_t{t.word(name, c->be16(i), *c, i, 2, "unsigned")};
    };
    return Words{s("AC1", 0), s("AC2", 2), s("AC3", 4), u("AC4", 6), u("AC5", 8), u("AC6", 10),
                 s("B1", 12), s("B2", 14), s("MB", 16), s("MC", 18), s("MD", 20)};
}

// The integer routine as printed, its shifts arithmetic.
Expected<double> temperatureOf(const Words& w, std::int32_t ut, Tracer& t, std::int32_t& b5) {
    const auto x1 = t.step("X1", filled("(UT − AC6) × AC5 >> 15, UT {}", ut),
                           static_cast<std::int32_t>(std::int64_t{ut - w.ac6} * w.ac5 >> 15));
    if (x1 + w.md == 0)
        return fail(ErrorCode::Domain, "temperature", std::to_string(ut), "a UT for which X1 + MD is not 0");
    const auto x2 = t.step("X2", "MC × 2¹¹/(X1 + MD)", w.mc * 2048 / (x1 + w.md));
    b5 = t.step("B5", "X1 + X2", x1 + x2);
    return t.step("T", "(B5 + 8) >> 4, in 0.1 °C", asr(b5 + 8, 4)) / 10.0;
}

Expected<double> pressureOf(const Words& w, std::int32_t up, int oss, std::int32_t b5, Tracer& t) {
    const auto b6 = t.step("B6", "B5 − 4000", b5 - 4000);
    auto x1 = t.step("X1", "B2 × (B6²>>12) >> 11", asr(wrapMul(w.b2, asr(wrapMul(b6, b6), 12)), 11));
    auto x2 = t.step("X2", "AC2 × B6 >> 11", asr(wrapMul(w.ac2, b6), 11));
    auto x3 = t.step("X3", "X1 + X2", x1 + x2);
    const auto b3 = t.step("B3", filled("(((AC1 × 4 + X3) << {}) + 2)/4", oss), (wrapShl(w.ac1 * 4 + x3, oss) + 2) / 4);
    x1 = t.step("X1", "AC3 × B6 >> 13", asr(wrapMul(w.ac3, b6), 13));
    x2 = t.step("X2", "B1 × (B6²>>12) >> 16", asr(wrapMul(w.b1, asr(wrapMul(b6, b6), 12)), 16));
    x3 = t.step("X3", "(X1 + X2 + 2) >> 2", asr(x1 + x2 + 2, 2));
    const auto b4 = t.step("B4", "AC4 × (X3 + 32768) >> 15",
                           static_cast<std::uint32_t>(w.ac4) * static_cast<std::uint32_t>(x3 + 32768) >> 15);
    const auto b7 = t.step("B7", filled("(UP − B3) × (50000 >> {}), UP {}", oss, up),
                           (static_cast<std::uint32_t>(up) - static_cast<std::uint32_t>(b3)) * (50000u >> oss));
    if (b4 == 0)
        return fail(ErrorCode::Domain, "calibration", "B4 = 0", "coefficients with which the pressure can be computed");
    auto p = t.step("p", "B7 < 2³¹: B7 × 2/B4, else B7/B4 × 2",
                    static_cast<std::int32_t>(b7 < 0x80000000u ? b7 * 2 / b4 : b7 / b4 * 2));
    x1 = t.step("X1", "(p >> 8)² × 3038 >> 16", asr(wrapMul(wrapMul(asr(p, 8), asr(p, 8)), 3038), 16));
    x2 = t.step("X2", "−7357 × p >> 16", asr(wrapMul(-7357, p), 16));
    p = t.step("p", "p + ((X1 + X2 + 3791) >> 4)", p + asr(x1 + x2 + 3791, 4), "Pa");
    return static_cast<double>(p);
}

Expected<Decoded> decodeBlocks(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("BMP180 data sheet, 3.5 calculating pressure and temperature", chosen);
    const int oss = static_cast<int>(chosen.number("oss"));
    const auto words = readWords(raw, t);
    if (!words) return tl::unexpected(words.error());
    const auto temperature = raw.block("temperature", 2);
    if (!temperature) return tl::unexpected(temperature.error());
    const std::int32_t ut = t.word("UT", temperature->be16(0), *temperature, 0, 2, "high byte first");
    std::int32_t b5 = 0;
    const auto value = temperatureOf(*words, ut, t, b5);
    if (!value) return tl::unexpected(value.error());
    if (*value < -60 || *value > 120)
        return fail(ErrorCode::Range, "temperature", num(*value) + " °C", "a temperature from −40 to 85 °C");
    t.reading("temperature", Quantity::Temperature, *value, 0.1);
    if (!raw.hasBlock("pressure")) return t.decoded;
    const auto pressure = raw.block("pressure", raw.blockSize("pressure") == 2 && oss == 0 ? 2 : 3);
    if (!pressure) return tl::unexpected(pressure.error());
    const bool isShort = pressure->size() == 2;
    const auto joined = isShort ? std::uint32_t{pressure->be16(0)} << 8 : pressure->be24(0);
    const auto up = t.word("UP", static_cast<std::int32_t>(joined >> (8 - oss)), *pressure, 0, pressure->size(),
                           filled("24 bits >> {}", 8 - oss));
    const auto p = pressureOf(*words, up, oss, b5, t);
    if (!p) return tl::unexpected(p.error());
    if (*p < 20000 || *p > 120000)
        return fail(ErrorCode::Range, "pressure", num(*p / 100) + " hPa",
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
