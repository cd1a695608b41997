#include "devices/prom_barometer.h"

#include "bytes/checksum.h"

#include <array>

namespace fg {
namespace {

using Words = std::array<std::uint16_t, 8>;
using Int = PromFamily::Int;

/// The CRC computed with the family's place for it.
std::uint8_t crcOf(const PromFamily& family, Words words) {
    if (family.crcWord == 0) {
        words[0] &= 0x0FFF;
        words[7] = 0;
    }
    return crc4Prom(words);
}

/// C1 … C6 at their numbers.
Expected<std::array<Int, 7>> readProm(const PromFamily& family, const RawData& raw, Tracer& t) {
    const std::size_t size = raw.blockSize("prom");
    const bool hasSeven = size == 14;
    const auto prom = raw.block("prom", hasSeven ? 14 : 16);
    if (!prom) return tl::unexpected(prom.error());
    Words words{};
    bool allSame = true;
    for (std::size_t i = 0; i < size / 2; ++i) {
        words[i] = prom->be16(2 * i);
        allSame = allSame && words[i] == words[0];
    }
    if (allSame && (words[0] == 0 || words[0] == 0xFFFF))
        return fail(ErrorCode::Missing, "prom", prom->hex(0, 4) + " …",
                    "words that are not all alike: nothing answered");
    if (family.crcWord == 7 && hasSeven) {
        t.doubt("no-crc", "the eighth word with the CRC is missing: the coefficients are not checked");
    } else {
        const std::uint8_t stored = family.crcWord == 7 ? words[7] & 0xF : static_cast<std::uint8_t>(words[0] >> 12);
        const std::uint8_t crc = crcOf(family, words);
        if (crc != stored && !t.ignoresChecksums())
            return fail(ErrorCode::Damaged, "prom", filled("CRC {:X}", stored), filled("{:X} for its words", crc));
        t.word("CRC", crc, *prom, family.crcWord == 7 ? 14 : 0, 2, "four bits, fits");
    }
    if (family.otherType != 0) {
        const Recorded type = t.word("type", words[0] >> 5 & 0x7F, *prom, 0, 2, "bits 11:5 of the first word");
        if (!t.expect(differs(type, family.otherType)))
            return fail(ErrorCode::Range, "prom", filled("sensor type 0x{:02X} in its first word", family.otherType),
                        filled("another type: this is the PROM of an {}", family.otherName));
    }
    std::array<Int, 7> coefficients;
    for (std::size_t i = 1; i <= 6; ++i)
        coefficients[i] = t.whole<std::int64_t>(std::string(filled("C{}", i)), words[i], *prom, 2 * i, 2,
                                                "high byte first, unsigned");
    return coefficients;
}

}  // namespace

std::vector<BlockSpec> promBlocks(const DeviceOptions&) {
    return {{"prom", {}, 16, true, false}, {"d1", {}, 3, false, false}, {"d2", {}, 3, false, false}};
}

Expected<Decoded> decodeProm(const PromFamily& family, const RawData& raw, const DeviceOptions& options) {
    Tracer t(family.source, options);
    const auto c = readProm(family, raw, t);
    if (!c) return tl::unexpected(c.error());
    // The calibration block is named; a single nameless one would stand for any name.
    const bool hasFirst = raw.blockSize("d1") > 0, hasSecond = raw.blockSize("d2") > 0;
    if (hasFirst != hasSecond)
        return fail(
            ErrorCode::Missing, hasFirst ? "d2" : "d1", "nothing",
            "the 3 bytes of the other conversion: pressure (d1) and temperature (d2) are converted one after the "
            "other, and one reading needs both");
    const auto first = raw.block("d1", 3), second = raw.block("d2", 3);
    if (!first) return tl::unexpected(first.error());
    if (!second) return tl::unexpected(second.error());
    const Int d1 = t.whole<std::int64_t>("D1", first->be24(0), *first, 0, 3, "pressure, high byte first");
    const Int d2 = t.whole<std::int64_t>("D2", second->be24(0), *second, 0, 3, "temperature, high byte first");
    if (!t.expectReady(differs(d1.real(), 0) && differs(d2.real(), 0))) {
        t.fault("not-ready", std::string(d1.value() == 0 ? "D1" : "D2") +
                                 " is 0: the ADC was read before its conversion was finished, or without one");
        t.reading("temperature", Quantity::Temperature, kNoValue, 0);
        t.reading("pressure", Quantity::Pressure, kNoValue, 0);
        return t.decoded;
    }
    const auto& [none, c1, c2, c3, c4, c5, c6] = *c;
    const Int dT = t.step("dT", d2 - c5 * 256);
    Int temp = t.step("TEMP", 2000 + ((dT * c6) >> 23), "", "in 0.01 °C");
    Int off = t.step("OFF", c2 * family.offsetScale + c4 * dT / family.offsetSlope);
    Int sens = t.step("SENS", c1 * family.sensitivityScale + c3 * dT / family.sensitivitySlope);
    const auto pressureOf = [&](std::string_view name, std::string_view remark) {
        return t.step(name, (((d1 * sens) >> 21) - off) / family.pressureDivisor, "", remark);
    };
    Int p = pressureOf("P", "first order");
    const PromFamily::Second more = family.second(dT, temp);
    const Int t2 = t.step("T2", more.t), off2 = t.step("OFF2", more.off), sens2 = t.step("SENS2", more.sens);
    temp = t.step("TEMP", temp - t2, "", "in 0.01 °C");
    off = t.step("OFF", off - off2);
    sens = t.step("SENS", sens - sens2);
    const Int plain = p;
    p = pressureOf("P", "second order");
    if (p.value() != plain.value())
        t.note("second-order", filled("the second order moves the pressure by {} Pa",
                                      num(static_cast<double>(p.value() - plain.value()) * family.pascalPerStep)));
    const Recorded celsius = t.step("ϑ", temp.real() / 100.0, "degC");
    const Recorded pascal = t.step("p", family.pascalPerStep == 1 ? p.real() : p.real() * family.pascalPerStep, "Pa");
    if (!t.expect(-60.0 <= celsius && celsius <= 120.0))
        return fail(ErrorCode::Range, "d2", num(celsius.value()) + " °C",
                    "a temperature the part can measure, −40 to 85 °C");
    if (!t.expect(family.lowest_Pa <= pascal && pascal <= family.highest_Pa))
        return fail(ErrorCode::Range, "d1", num(pascal.value() / 100) + " hPa",
                    filled("a pressure from {} to {} hPa", num(family.lowest_Pa / 100), num(family.highest_Pa / 100)));
    t.reading("temperature", Quantity::Temperature, celsius, 0.01);
    t.reading("pressure", Quantity::Pressure, pascal, family.pascalPerStep);
    return t.decoded;
}

std::vector<RawVariable> promVariables(const DeviceOptions&) {
    return {{"temperature", 0x400000, 0xDFFFFF}, {"pressure", 0x100000, 0xBFFFFF}};
}

RawData promCompose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    return RawData({{"d1", {}, bytesBe(static_cast<std::uint64_t>(v[1]), 3)},
                    {"d2", {}, bytesBe(static_cast<std::uint64_t>(v[0]), 3)}});
}

RawData promOf(const PromFamily& family, std::span<const int> six) {
    Words words{};
    for (std::size_t i = 0; i < 6; ++i) words[i + 1] = static_cast<std::uint16_t>(six[i]);
    words[0] = 0x0042;
    const std::uint8_t crc = crcOf(family, words);
    if (family.crcWord == 7)
        words[7] = crc;
    else
        words[0] = static_cast<std::uint16_t>(words[0] | crc << 12);
    RawBlock block{"prom", {}, {}};
    for (const std::uint16_t word : words)
        for (const std::uint8_t byte : bytesBe(word, 2)) block.bytes.push_back(byte);
    return RawData({block});
}

}  // namespace fg
