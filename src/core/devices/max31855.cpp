// Thermocouple to 14 bits, with its cold junction and what is wrong with the wires.

#include "devices/device_rows.h"
#include "devices/tracer.h"

namespace fg {
namespace {

constexpr int kLeast = -270 * 4, kMost = 1800 * 4;

std::vector<BlockSpec> blocks(const DeviceOptions&) { return {{"word", {}, 4, false, false}}; }

Expected<Decoded> decodeWord(const RawData& raw, const DeviceOptions& options) {
    Tracer t("MAX31855 data sheet, tables 2 to 5", options);
    const auto word = raw.block("word", 4);
    if (!word) return tl::unexpected(word.error());
    const std::uint32_t joined = word->be32(0);
    t.word("word", joined, *word, 0, 4, "first bit sent highest");
    const bool isReservedClear = t.expectClear(*word, 1, {1}) && t.expectClear(*word, 3, {3});
    if (!isReservedClear)
        return fail(ErrorCode::Range, "word", filled("0x{:08X}", joined),
                    "the reserved bits 17 and 3 to be 0: nothing drives the line");
    const int code = signExtend(joined >> 18, 14);
    const Recorded hot = t.word("code", code, *word, 0, 2, "bits 31:18, two's complement");
    const Recorded inside =
        t.word("code_internal", signExtend(joined >> 4 & 0xFFF, 12), *word, 2, 2, "bits 15:4, two's complement");
    Recorded value = t.step("T", hot * 0.25, "degC");
    const Recorded internal = t.step("T cold", inside * 0.0625, "degC");
    if (joined & 1) t.fault("open", "OC is set: the thermocouple is open");
    if (joined & 2) t.fault("short-ground", "SCG is set: the thermocouple touches ground");
    if (joined & 4) t.fault("short-supply", "SCV is set: the thermocouple touches the supply");
    const Recorded fault = t.bit("fault", *word, 1, 0),
                   any = most(most(t.bit("OC", *word, 3, 0), t.bit("SCG", *word, 3, 1)), t.bit("SCV", *word, 3, 2));
    if (!t.expect(fault <= any && any <= fault))
        return fail(ErrorCode::Range, "word", filled("0x{:08X}", joined),
                    "the fault bit 16 set exactly when one of bits 2:0 is");
    {
        // The chip's own temperature does not rest on the thermocouple.
        const Tracer::OwnConditions own(t);
        const bool isPossible = t.expect(static_cast<double>(kLeast) <= hot && hot <= static_cast<double>(kMost));
        if (!(joined & 7) && !isPossible)
            return fail(ErrorCode::Range, "word", filled("0x{:08X}, which is {} °C", joined, num(value.value())),
                        "−270 to 1800 °C, all that thermocouples say");
        t.expectClear(*word, 3, {0, 1, 2});
        if (joined & 7) value = kNoValue;
        t.reading("temperature", Quantity::Temperature, value, 0.25);
    }
    t.reading("internal", Quantity::Temperature, internal, 0.0625);
    return t.decoded;
}

std::vector<RawVariable> variables(const DeviceOptions&) {
    return {{"temperature", kLeast, kMost}, {"internal", -55 * 16, 127 * 16}};
}
RawData compose(std::span<const std::int64_t> values, const DeviceOptions&, const RawData&) {
    const auto word =
        (static_cast<std::uint64_t>(values[0]) & 0x3FFF) << 18 | (static_cast<std::uint64_t>(values[1]) & 0xFFF) << 4;
    return RawData({{"word", {}, bytesBe(word, 4)}});
}

}  // namespace

const Device device_rows::kMax31855{
    .id = "max31855",
    .title = "Thermocouple to digital, 14 bits",
    .source = "MAX31855 data sheet",
    .options = noOptions,
    .blocks = blocks,
    .decode = decodeWord,
    .variables = variables,
    .compose = compose,
};

}  // namespace fg
