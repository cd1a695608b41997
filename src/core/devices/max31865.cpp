// Platinum element to a 15-bit ratio of its reference resistor.

#include "devices/device_rows.h"
#include "devices/tracer.h"
#include "sensors/platinum.h"

#include <cmath>

namespace fg {
namespace {

std::vector<OptionSpec> options() {
    return {{"rref_ohm", "Reference resistor, Ω", {}, "430"}, {"r0_ohm", "Element at 0 °C, Ω", {}, "100"}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"ratio", 0x01, 2, false, false}, {"fault", 0x07, 1, false, true}};
}

const char* const kFaults[] = {"",
                               "",
                               "supply beyond its limits",
                               "RTDIN− below 0.85 × VBIAS, FORCE− open",
                               "REFIN− below 0.85 × VBIAS, FORCE− open",
                               "REFIN− above 0.85 × VBIAS",
                               "below the low threshold: element shorted",
                               "above the high threshold: element open"};

Expected<Decoded> decodeRatio(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("MAX31865 data sheet, RTD data registers; IEC 60751, 5.1", chosen);
    const bool isPlain = raw.blocks().size() == 1 && !raw.blocks()[0].address;
    const auto word = isPlain ? raw.block("ratio", 2) : raw.registers(0x01, 2);
    if (!word) return tl::unexpected(word.error());
    PlatinumFormula<Recorded> element;
    element.r0 = t.option("R0", chosen.number("r0_ohm"), "ohm");
    const Recorded reference = t.option("Rref", chosen.number("rref_ohm"), "ohm");
    const int joined = word->be16(0), code = joined >> 1;
    const Recorded counted = t.word("code", code, *word, 0, 2, "high byte first, bits 15:1; bit 0 is the fault bit");
    const Recorded resistance = t.step("R", counted * reference / 32768.0, "ohm");
    Recorded value = element.inverse(resistance);
    bool faulty = !t.expectClear(*word, 1, {0});
    if (faulty) t.fault("fault", "the fault bit is set: read register 0x07 for what is wrong");
    if (raw.hasRegister(0x07)) {
        const Bytes status = raw.registers(0x07, 1).value();
        const int bits = status.u8(0);
        t.word("fault status", bits, status, 0, 1, "");
        for (int bit = 7; bit >= 2; --bit)
            if (bits >> bit & 1) {
                t.fault("fault-" + std::to_string(bit),
                        std::string("bit ") + std::to_string(bit) + ": " + kFaults[bit]);
                faulty = true;
            }
    }
    const bool isClipped = !t.expect(differs(counted, 0) && differs(counted, 0x7FFF));
    if (isClipped)
        t.fault("clipped", code == 0 ? "ratio 0: shorted, or not measured"
                                     : "full ratio: open, or a reference resistor too small");
    else if (!t.expect(-201.0 <= value &&
                       value <= 851.0))  // the last step beyond the standard's range is still its own
        return fail(ErrorCode::Range, "ratio", num(resistance.value()) + " Ω",
                    "a resistance of −200 to 850 °C with R0 " + num(element.r0.value()) + " Ω");
    if (faulty || isClipped) value = kNoValue;
    t.reading("temperature", Quantity::Temperature, value, reference.value() / 32768 / element.r0.value() / element.kA);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions& chosen) {
    const Platinum element{chosen.number("r0_ohm"), {}};
    const auto codeAt = [&](double t) { return element.forward(t) / chosen.number("rref_ohm") * 32768; };
    return {{"temperature", std::max<std::int64_t>(1, static_cast<std::int64_t>(std::ceil(codeAt(-200)))),
             std::min<std::int64_t>(32766, static_cast<std::int64_t>(std::floor(codeAt(850))))}};
}
RawData compose(std::span<const std::int64_t> values, const DeviceOptions&, const RawData&) {
    return RawData({{"", 0x01, bytesBe(static_cast<std::uint64_t>(values[0] << 1), 2)}});
}

}  // namespace

const Device device_rows::kMax31865{
    .id = "max31865",
    .title = "Platinum element to digital",
    .source = "MAX31865 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeRatio,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
