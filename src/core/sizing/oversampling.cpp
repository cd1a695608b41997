#include "sizing/solver_rows.h"

namespace fg::solving {
namespace {

std::vector<ParameterSpec> inputs() {
    return {ratio("bits", "Bits of the converter", 10.0),
            ratio("wanted_bits", "Bits wanted"),
            {"rate_Hz", "Samples it takes in a second", Quantity::Frequency, "", 10e3},
            ratio("noise_LSB", "Noise of one sample, rms, in LSB", 0.5)};
}

// 4^k samples added up and shifted right by k give k bits more, if noise spreads them over neighbouring codes.
Options run(const Parameters& in, Series) {
    constexpr double kMostExtra = 12, kNoiseNeeded_LSB = 0.5;
    const double bits = in.numberOr("bits", 0), wanted = in.numberOr("wanted_bits", 0),
                 rate = in.numberOr("rate_Hz", 0), noise = in.numberOr("noise_LSB", 0);
    const double extra = std::ceil(wanted - bits);
    if (!(extra >= 1) || extra > kMostExtra)
        return fail(ErrorCode::Range, "wanted_bits", plainNumber(wanted),
                    fmt::format("{} to {} bits", bits + 1, bits + kMostExtra));
    if (!(rate > 0)) return fail(ErrorCode::Range, "rate_Hz", plainNumber(rate), "a rate above 0");
    std::vector<SizingOption> options;
    for (double k = 1; k <= std::min(extra + 1, kMostExtra); ++k) {
        SizingOption option;
        const double samples = std::exp2(2 * k), left = noise * std::exp2(k) / std::sqrt(samples);
        option.values = {{"samples", samples}, {"shift_bits", k}};
        option.nominal = {{"bits", bits + k}, {"rate_Hz", rate / samples}, {"sum_bits", bits + 2 * k}};
        option.worst = {{"noise_LSB_after", left}, {"time_s", samples / rate}};
        const bool enough = k >= extra, dithers = noise >= kNoiseNeeded_LSB;
        option.fits = enough && dithers;
        option.merit = enough ? -k : k - kMostExtra;
        option.why = fmt::format(
            "add {} samples, shift right by {}: {} bits, {} readings a second; the sum needs {} bits, so {}{}",
            fixedDigits(samples, 0), fixedDigits(k, 0), fixedDigits(bits + k, 0), significantDigits(rate / samples, 3),
            fixedDigits(bits + 2 * k, 0),
            bits + 2 * k <= 16 ? "16 bits hold it" : (bits + 2 * k <= 32 ? "use 32 bits" : "use 64 bits"),
            !dithers ? "; the signal is too quiet for it: below half an LSB of noise the samples are all the same, add "
                       "dither"
                     : (enough ? "" : "; fewer bits than wanted"));
        options.push_back(std::move(option));
    }
    return options;
}

}  // namespace

const Solver kOversampling{
    "oversampling", "Oversample and decimate",
    "How many samples give the bits wanted, what rate is left, and whether there is noise enough.", inputs, run};

}  // namespace fg::solving
