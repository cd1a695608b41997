// Platinum element to a 15-bit ratio of its reference resistor.

#include "devices/device_rows.h"
#include "devices/tracer.h"

#include <cmath>

namespace fg {
namespace {

// IEC 60751:2008, 5.1: R/R0 = 1 + A·t + B·t² above 0 °C, + C·(t − 100)·t³ below.
constexpr double kA = 3.9083e-3, kB = -5.775e-7, kC = -4.183e-12;

std::vector<OptionSpec> options() {
    return {{"rref_ohm", "Reference resistor, Ω", {}, "430"}, {"r0_ohm", "Element at 0 °C, Ω", {}, "100"}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"ratio", 0x01, 2, false, false}, {"fault", 0x07, 1, false, true}};
}

double ratioAt(double t) { return 1 + t * (kA + t * (kB + (t < 0 ? kC * (t - 100) * t : 0))); }

/// Inverse of ratioAt(): closed above 0 °C, Newton below.
double temperatureOf(double ratio) {
    double t = (-kA + std::sqrt(std::max(0.0, kA * kA - 4 * kB * (1 - ratio)))) / (2 * kB);
    if (ratio >= 1) return t;
    for (int i = 0; i < 12; ++i) {
        const double slope = kA + 2 * kB * t + kC * t * t * (4 * t - 300);
        t -= (ratioAt(t) - ratio) / slope;
    }
    return t;
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
    const double reference = chosen.number("rref_ohm"), r0 = chosen.number("r0_ohm");
    const auto joined = t.word("word", word->be16(0), *word, 0, 2, "high byte first");
    const int code = t.step("code", filled("{:#06x} >> 1, bit 0 is the fault bit", joined), joined >> 1);
    const double resistance =
        t.step("R", filled("{} × {}/32768", code, num(reference)), code * reference / 32768, "ohm");
    const double ratio = t.step("R/R0", filled("{}/{}", num(resistance), num(r0)), resistance / r0);
    double value =
        t.step("T", ratio >= 1 ? "(−A + √(A² − 4B(1 − R/R0)))/(2B)" : "from R/R0 = 1 + At + Bt² + C(t − 100)t³",
               temperatureOf(ratio), "degC");
    bool faulty = joined & 1;
    if (faulty) t.fault("fault", "the fault bit is set: read register 0x07 for what is wrong");
    if (raw.hasRegister(0x07)) {
        const Bytes status = raw.registers(0x07, 1).value();
        const auto bits = t.word("fault status", status.u8(0), status, 0, 1, "");
        for (int bit = 7; bit >= 2; --bit)
            if (bits >> bit & 1)
                t.fault("fault-" + std::to_string(bit),
                        std::string("bit ") + std::to_string(bit) + ": " + kFaults[bit]),
                    faulty = true;
    }
    if (code == 0 || code == 0x7FFF)
        t.fault("clipped", code == 0 ? "ratio 0: shorted, or not measured"
                                     : "full ratio: open, or a reference resistor too small");
    else if (value < -201 || value > 851)  // the last step beyond the standard's range is still its own
        return fail(ErrorCode::Range, "ratio", num(resistance) + " Ω",
                    "a resistance of −200 to 850 °C with R0 " + num(r0) + " Ω");
    if (faulty || code == 0 || code == 0x7FFF) value = kNoValue;
    t.reading("temperature", Quantity::Temperature, value, reference / 32768 / r0 / kA);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions& chosen) {
    const auto codeAt = [&](double t) {
        return ratioAt(t) * chosen.number("r0_ohm") / chosen.number("rref_ohm") * 32768;
    };
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
