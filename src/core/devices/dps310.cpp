// The barometer of scale factors and a polynomial in two variables.

#include "devices/device_rows.h"
#include "devices/tracer.h"

#include <array>

namespace fg {
namespace {

/// Scale factors by oversampling rate, 1 to 128 times (table 9 of the data sheet).
constexpr std::array kScale{524288.0, 1572864.0, 3670016.0, 7864320.0, 253952.0, 516096.0, 1040384.0, 2088960.0};

std::vector<OptionSpec> options() {
    const std::vector<std::string> rates{"1", "2", "4", "8", "16", "32", "64", "128"};
    return {{"osr_p", "Pressure oversampling, where register 0x06 was not read", rates, "1"},
            {"osr_t", "Temperature oversampling, where register 0x07 was not read", rates, "1"}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"calibration", 0x10, 18, true, false},
            {"data", 0x00, 6, false, false},
            {"configuration", 0x06, 2, false, true},
            {"coefficient source", 0x28, 1, true, true}};
}

Expected<Recorded> scaleOf(const RawData& raw, Tracer& t, unsigned address, const char* name, const std::string& rate) {
    std::size_t code = 0;
    if (raw.hasRegister(address)) {
        const Bytes byte = raw.registers(address, 1).value();
        code = byte.u8(0) & 0x0F;
        if (code > 7)
            return fail(ErrorCode::Range, filled("register 0x{:02X}", address), byte.hex(0, 1),
                        "an oversampling code from 0 to 7");
        return t.word(name, kScale[code], byte, 0, 1, filled("oversampling {} times", 1 << code));
    }
    while (code < 7 && std::to_string(1 << code) != rate) ++code;
    return t.looked(name, "oversampling " + rate + " times, as the option says", kScale[code]);
}

Expected<Decoded> decodeAll(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("DPS310 data sheet, 4.9 calculation of the compensated values; 8.11 coefficients", chosen);
    const auto c = raw.registers(0x10, 18), data = raw.registers(0x00, 6);
    if (!c) return tl::unexpected(c.error());
    if (!data) return tl::unexpected(data.error());
    const Recorded c0 = t.word("c0", signExtend(c->be16(0) >> 4, 12), *c, 0, 2, "upper 12 bits, signed"),
                   c1 = t.word("c1", signExtend(c->be16(1), 12), *c, 1, 2, "lower 12 bits, signed");
    if (!t.expect(c0 * c0 + c1 * c1 > 0.0 && (c0 + 1.0) * (c0 + 1.0) + (c1 + 1.0) * (c1 + 1.0) > 0.0))
        return fail(ErrorCode::Damaged, "register 0x10", c->hex(0, 4),
                    "coefficients that are not all alike: nothing answered, or COEF_RDY was not waited for");
    const Recorded c00 = t.word("c00", signExtend(c->be24(3) >> 4, 20), *c, 3, 3, "upper 20 bits, signed"),
                   c10 = t.word("c10", signExtend(c->be24(5), 20), *c, 5, 3, "lower 20 bits, signed");
    const auto s16 = [&](const char* name, std::size_t i) { return t.word(name, c->sbe16(i), *c, i, 2, "signed"); };
    const Recorded c01 = s16("c01", 8), c11 = s16("c11", 10), c20 = s16("c20", 12), c21 = s16("c21", 14),
                   c30 = s16("c30", 16);
    const auto kP = scaleOf(raw, t, 0x06, "kP", chosen.text("osr_p")),
               kT = scaleOf(raw, t, 0x07, "kT", chosen.text("osr_t"));
    if (!kP) return tl::unexpected(kP.error());
    if (!kT) return tl::unexpected(kT.error());
    if (raw.hasRegister(0x28) && raw.hasRegister(0x07)) {
        // 8.10, COEF_SRCE: the coefficients hold for the temperature element they were found with.
        const bool wasExternal = raw.registers(0x28, 1)->u8(0) & 0x80,
                   isExternal = raw.registers(0x07, 1)->u8(0) & 0x80;
        if (wasExternal != isExternal)
            t.doubt("coefficient-source",
                    filled("the coefficients are for the temperature of the {} (register 0x28), but that of the {} "
                           "is measured (register 0x07): set bit 7 of 0x07 to {}",
                           wasExternal ? "pressure element" : "circuit", isExternal ? "pressure element" : "circuit",
                           wasExternal ? 1 : 0));
    }
    const std::int32_t wordP = signExtend(data->be24(0), 24), wordT = signExtend(data->be24(3), 24);
    const Recorded rawP = t.word("Praw", wordP, *data, 0, 3, "24 bits, signed"),
                   rawT = t.word("Traw", wordT, *data, 3, 3, "24 bits, signed");
    if (!t.expectReady(differs(rawT, -0x800000) && differs(rawP, -0x800000) && rawT * rawT + rawP * rawP > 0.0)) {
        t.fault("not-ready",
                "both results are what the registers hold before anything was measured: nothing was, or a line is held "
                "low");
        t.reading("temperature", Quantity::Temperature, kNoValue, 0);
        t.reading("pressure", Quantity::Pressure, kNoValue, 0);
        return t.decoded;
    }
    const Recorded p = t.step("Praw_sc", rawP / *kP), x = t.step("Traw_sc", rawT / *kT);
    const Recorded celsius = t.step("ϑ", c0 * 0.5 + c1 * x, "degC");
    const Recorded pascal =
        t.step("p", c00 + p * (c10 + p * (c20 + p * c30)) + x * c01 + x * p * (c11 + p * c21), "Pa");
    if (!t.expect(-60.0 <= celsius && celsius <= 120.0))
        return fail(ErrorCode::Range, "register 0x03", num(celsius.value()) + " °C",
                    "a temperature the part can measure, −40 to 85 °C");
    if (!t.expect(20000.0 <= pascal && pascal <= 130000.0))
        return fail(ErrorCode::Range, "register 0x00", num(pascal.value() / 100) + " hPa",
                    "300 to 1200 hPa: is the oversampling the one that was measured with?");
    t.reading("temperature", Quantity::Temperature, celsius, std::abs(c1.value() / kT->value()));
    t.reading("pressure", Quantity::Pressure, pascal, std::abs(c10.value() / kP->value()));
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) {
    return {{"temperature", -0x7FFFFF, 0x7FFFFF}, {"pressure", -0x7FFFFF, 0x7FFFFF}};
}
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    auto bytes = bytesBe(static_cast<std::uint64_t>(v[1]), 3);
    for (const std::uint8_t byte : bytesBe(static_cast<std::uint64_t>(v[0]), 3)) bytes.push_back(byte);
    return RawData({{"", 0x00, bytes}});
}

// Made up, of the size parts have: c0 209, c1 −260, c00 79000, c10 −51000, c01 −2900, c11 1200, c20 −9400, c21 150, c30
// −1500.
RawData specimen() {
    RawBlock block{"", 0x10, bytesBe((209ull << 12 | (static_cast<std::uint64_t>(-260) & 0xFFF)), 3)};
    const auto add = [&](std::uint64_t value, std::size_t count) {
        for (const std::uint8_t byte : bytesBe(value, count)) block.bytes.push_back(byte);
    };
    add(79000ull << 20 | (static_cast<std::uint64_t>(-51000) & 0xFFFFF), 5);
    for (const int word : {-2900, 1200, -9400, 150, -1500}) add(static_cast<std::uint64_t>(word), 2);
    return RawData({block});
}

}  // namespace

const Device device_rows::kDps310{
    .id = "dps310",
    .title = "Barometer with scale factors and a polynomial",
    .source = "DPS310 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeAll,
    .variables = variables,
    .compose = compose,
    .specimen = specimen,
};

}  // namespace fg
