// Two channels, visible with infrared and infrared alone, and a piecewise lux out of both.

#include "devices/device_rows.h"
#include "devices/tracer.h"

#include <array>
#include <cmath>

namespace fg {
namespace {

std::vector<OptionSpec> options() {
    return {{"package", "Package: T, FN and CL, or CS", {"T", "FN", "CL", "CS"}, "T"},
            {"gain", "Gain", {"1", "16"}, "1"},
            {"integration_ms", "Integration time, ms", {"13.7", "101", "402"}, "402"},
            {"variant", "Routine that gives the reading", {"double", "integer"}, "double"}};
}
std::vector<BlockSpec> blocks(const DeviceOptions&) {
    return {{"ch0", {}, 2, false, false}, {"ch1", {}, 2, false, false}};
}

/// Lux = a·ch0 − b·ch1, or a·ch0 − b·ch0·(ch1/ch0)^1.4 for the first piece, up to a ratio.
struct Piece {
    double ratio, a, b;
};
constexpr std::array<Piece, 4> kTPackage{
    {{0.50, 0.0304, 0.062}, {0.61, 0.0224, 0.031}, {0.80, 0.0128, 0.0153}, {1.30, 0.00146, 0.00112}}};
constexpr std::array<Piece, 4> kCsPackage{
    {{0.52, 0.0315, 0.0593}, {0.65, 0.0229, 0.0291}, {0.80, 0.0157, 0.0180}, {1.30, 0.00338, 0.00260}}};

/// The same as integers: up to ratio k/2⁹, lux = (ch0·b − ch1·m) >> 14.
struct IntegerPiece {
    std::uint32_t k, b, m;
};
constexpr std::array<IntegerPiece, 8> kTInteger{{{0x40, 0x1F2, 0x1BE},
                                                 {0x80, 0x214, 0x2D1},
                                                 {0xC0, 0x23F, 0x37B},
                                                 {0x100, 0x270, 0x3FE},
                                                 {0x138, 0x16F, 0x1FC},
                                                 {0x19A, 0xD2, 0xFB},
                                                 {0x29A, 0x18, 0x12},
                                                 {0xFFFFFFFFu, 0, 0}}};
constexpr std::array<IntegerPiece, 8> kCsInteger{{{0x43, 0x204, 0x1AD},
                                                  {0x85, 0x228, 0x2C1},
                                                  {0xC8, 0x253, 0x363},
                                                  {0x10A, 0x282, 0x3DF},
                                                  {0x14D, 0x177, 0x1DD},
                                                  {0x19A, 0x101, 0x127},
                                                  {0x29A, 0x37, 0x2B},
                                                  {0xFFFFFFFFu, 0, 0}}};

/// Full count of a channel by integration time, data sheet's "ADC count value" at saturation.
int fullCount(const DeviceOptions& chosen) {
    return chosen.is("integration_ms", "13.7") ? 5047 : chosen.is("integration_ms", "101") ? 37177 : 65535;
}

/// The piece that holds for the ratio, as a chain of choices.
Recorded luxOf(const Recorded& ch0, const Recorded& ch1, std::span<const Piece> pieces, bool isFirst,
               const Recorded& ratio) {
    if (pieces.empty()) return 0;
    const Piece& piece = pieces.front();
    return choose(
        ratio <= Recorded(piece.ratio),
        [&] { return piece.a * ch0 - (isFirst ? piece.b * ch0 * pow(ratio, Recorded(1.4)) : piece.b * ch1); },
        [&] { return luxOf(ch0, ch1, pieces.subspan(1), false, ratio); });
}

using Int = Whole<std::int64_t>;

/// Of the first piece whose ratio is not exceeded.
Int integerSum(const Int& channel0, const Int& channel1, const Int& ratio, std::span<const IntegerPiece> pieces) {
    const IntegerPiece& piece = pieces.front();
    const Int here = channel0 * std::int64_t{piece.b} - channel1 * std::int64_t{piece.m};
    if (pieces.size() == 1) return here;
    return select(Int(std::int64_t{piece.k}) < ratio, integerSum(channel0, channel1, ratio, pieces.subspan(1)), here);
}

Whole<std::int64_t> integerLux(const Recorded& ch0, const Recorded& ch1, const DeviceOptions& chosen,
                               std::span<const IntegerPiece> pieces, Tracer& t) {
    Int scale = chosen.is("integration_ms", "13.7") ? 0x7517 : chosen.is("integration_ms", "101") ? 0x0FE7 : 1 << 10;
    if (chosen.is("gain", "1")) scale = scale << 4;
    const Int channel0 = t.step("channel0", (wholeOf<std::int64_t>(ch0) * scale) >> 10),
              channel1 = t.step("channel1", (wholeOf<std::int64_t>(ch1) * scale) >> 10);
    // In the dark nothing is divided: the ratio is 0.
    const RecordedCondition isDark = channel0 < Int(1);
    const Int ratio =
        t.step("ratio1", select(isDark, Int(0), ((channel1 << 10) / select(isDark, Int(1), channel0) + 1) >> 1), "",
               "in 1/512");
    const Int sum = integerSum(channel0, channel1, ratio, pieces);
    return t.step("E, integer", (select(sum < Int(0), Int(0), sum) + (1 << 13)) >> 14, "lx",
                  "as printed, scaled by 2^14");
}

Expected<Recorded> channel(const RawData& raw, Tracer& t, std::size_t index) {
    const std::string name = "ch" + std::to_string(index);
    const auto joined = [&](const Bytes& word) { return t.word(name, word.le16(0), word, 0, 2, "low byte first"); };
    // Both channels in one run, as a block read of four gives them.
    if (raw.blocks().size() == 1 && !raw.blocks()[0].address && raw.blocks()[0].bytes.size() == 4) {
        const auto four = raw.block("both", 4);
        if (!four) return tl::unexpected(four.error());
        return joined(four->part(2 * index, 2));
    }
    // The registers are named with the command bit in front, 0x8C, or without, 0x0C.
    const unsigned address = 0x0C + 2 * static_cast<unsigned>(index);
    for (const unsigned first : {address, address | 0x80})
        if (raw.hasRegister(first)) {
            const auto word = raw.registers(first, 2);
            if (!word) return tl::unexpected(word.error());
            return joined(*word);
        }
    const auto word = raw.block(name, 2, ByteOrder::LowFirst);
    if (!word) return tl::unexpected(word.error());
    return joined(*word);
}

Expected<Decoded> decodeChannels(const RawData& raw, const DeviceOptions& chosen) {
    Tracer t("TSL2561 data sheet, calculating lux", chosen);
    const auto first = channel(raw, t, 0);
    if (!first) return tl::unexpected(first.error());
    const auto second = channel(raw, t, 1);
    if (!second) return tl::unexpected(second.error());
    const int ch0 = static_cast<int>(first->value()), ch1 = static_cast<int>(second->value());
    const int full = fullCount(chosen);
    if (full < 65535 && !t.expect(*first <= double(full) && *second <= double(full)))
        return fail(ErrorCode::Range, ch0 > full ? "ch0" : "ch1", std::to_string(std::max(ch0, ch1)),
                    filled("at most {} in {} ms: is the integration time the one that was measured with?", full,
                           chosen.text("integration_ms")));
    const double times = 402 / chosen.number("integration_ms") * (chosen.is("gain", "1") ? 16 : 1);
    const std::string remark = "to 402 ms and gain 16";
    const Recorded n0 = t.step("n0", *first * times, "", remark), n1 = t.step("n1", *second * times, "", remark);
    const bool isCs = chosen.is("package", "CS");
    Recorded lux = 0;
    if (ch0 > 0) {
        const Recorded ratio = t.step("ratio", n1 / n0);
        lux = t.step("E", luxOf(n0, n1, isCs ? kCsPackage : kTPackage, true, ratio), "lx");
    }
    const Recorded whole =
        integerLux(*first, *second, chosen, isCs ? std::span(kCsInteger) : std::span(kTInteger), t).real();
    if (chosen.is("variant", "integer")) lux = whole;
    if (ch0 == 0 && ch1 == 0)
        t.doubt("zero",
                "both channels are 0: darkness, a part that is powered down and one that has measured nothing yet read "
                "alike. Read "
                "the control register: 03 says that it measures; then it is dark.");
    else if (ch1 > ch0 * (isCs ? kCsPackage : kTPackage).back().ratio && ch0 < full && ch1 < full)
        t.doubt(
            "ratio",
            filled("channel 1 is {} times channel 0, which sees all that channel 1 sees and more: the channels or the "
                   "bytes of "
                   "one are swapped, or both were not read from one measurement. The formula ends at {} and says 0.",
                   ch0 > 0 ? std::string(num(std::round(100.0 * ch1 / ch0) / 100)) : "many",
                   num((isCs ? kCsPackage : kTPackage).back().ratio)));
    // More of channel 0 at the same channel 1 is more light: with channel 0 alone at its end the lux is a lower bound.
    const bool isBound = ch0 == full && ch1 < full;
    if (!t.expect(*first < double(full) && *second < double(full))) {
        t.fault("saturated",
                filled("{} at the full count of {}: {}. Use gain 1 or a shorter time.",
                       ch1 == full ? "Both channels are" : "Channel 0 is", full,
                       isBound ? "at least this much light" : "the ratio that the lux comes from is lost"));
        if (!isBound) lux = kNoValue;
    } else if (ch0 > 0.9 * full) {
        t.doubt("near-saturation",
                filled("channel 0 is at {} % of its full count", num(std::round(100.0 * ch0 / full))));
    }
    t.reading("illuminance", Quantity::Illuminance, lux, (isCs ? 0.0315 : 0.0304) * times,
              isBound ? Bound::AtLeast : Bound::None);
    return t.decoded;
}

// Daylight: infrared a fifth of the whole.
std::vector<RawVariable> variables(const DeviceOptions& chosen) { return {{"illuminance", 0, fullCount(chosen) - 1}}; }
RawData compose(std::span<const std::int64_t> v, const DeviceOptions&, const RawData&) {
    return RawData({{"ch0", {}, bytesLe(static_cast<std::uint64_t>(v[0]), 2)},
                    {"ch1", {}, bytesLe(static_cast<std::uint64_t>(v[0] / 5), 2)}});
}

}  // namespace

const Device device_rows::kTsl2561{
    .id = "tsl2561",
    .title = "Ambient light from two channels",
    .source = "TSL2561 data sheet",
    .options = options,
    .blocks = blocks,
    .decode = decodeChannels,
    .variables = variables,
    .compose = compose,
    .words = WordReading::LowFirst,
};

}  // namespace fg
