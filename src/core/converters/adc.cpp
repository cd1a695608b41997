#include "converters/adc.h"

#include "units/number_format.h"

#include <fmt/format.h>

namespace fg {

Clip flipped(Clip clip) {
    if (clip == Clip::AtLeast) return Clip::AtMost;
    return clip == Clip::AtMost ? Clip::AtLeast : Clip::None;
}

std::string_view clipText(Clip clip) {
    if (clip == Clip::AtLeast) return "at least";
    return clip == Clip::AtMost ? "at most" : "";
}

Expected<Adc> Adc::make(int bits, double reference_V, CodeLaw law, Rounding rounding) {
    if (bits < 1 || bits > 24) return fail(ErrorCode::Range, "converter.bits", fmt::format("{}", bits), "1 to 24 bits");
    if (!(reference_V > 0) || !std::isfinite(reference_V))
        return fail(ErrorCode::Range, "converter.reference_V", plainNumber(reference_V), "a reference voltage above 0 V");
    Adc adc;
    adc.m_bits = bits;
    adc.m_reference_V = reference_V;
    adc.m_law = law;
    adc.m_rounding = rounding;
    const double steps = law == CodeLaw::PowerOfTwo ? std::ldexp(1.0, bits) : std::ldexp(1.0, bits) - 1;
    adc.m_lsb_V = reference_V / steps;
    adc.m_codeOffset = rounding == Rounding::Down ? 0.5 : 0.0;
    return adc;
}

Code Adc::quantise(double pin_V) const {
    Code code;
    code.exact = exactCode(pin_V);
    // Nearest code of the cell scale: for a truncating converter exact is already half an LSB down, so both round the same way.
    const double nearest = std::floor(code.exact + 0.5);
    const auto highest = static_cast<double>(maxCode());
    code.value = static_cast<std::int64_t>(std::fmin(std::fmax(nearest, 0), highest));
    code.clip = clipOf(static_cast<double>(code.value));
    return code;
}

void Adc::voltages(std::span<double> codes) const {
    const double offset = m_codeOffset, lsb = m_lsb_V;
    for (double& code : codes) code = (code + offset) * lsb;
}

Clip Adc::clipOf(double code) const {
    if (code >= static_cast<double>(maxCode())) return Clip::AtLeast;
    return code <= 0 ? Clip::AtMost : Clip::None;
}

double Adc::clipBound_V(double code) const {
    const double inwards = code <= 0 ? 0.5 : -0.5;
    return voltage(code + inwards);
}

std::vector<TraceLine> Adc::explainVoltage(double code) const {
    const bool full = m_law == CodeLaw::PowerOfTwo;
    const std::string denominator = full ? fmt::format("2^{}", m_bits) : fmt::format("(2^{} − 1)", m_bits);
    const std::string codeText = m_codeOffset == 0 ? plainNumber(code) : fmt::format("({} + ½)", plainNumber(code));
    return {{"LSB", fmt::format("{} V/{}", plainNumber(m_reference_V), denominator), m_lsb_V, "V",
             full ? "code law 2^n" : "code law 2^n − 1"},
            {"U", fmt::format("{} × {} V/{}", codeText, plainNumber(m_reference_V), denominator), voltage(code), "V",
             m_codeOffset == 0 ? "code k stands for k·LSB ± ½ LSB" : "truncating converter: cell k … k + 1"}};
}

std::vector<TraceLine> Adc::explainCode(double pin_V) const {
    const Code code = quantise(pin_V);
    const std::string offset = m_codeOffset == 0 ? "" : " − ½";
    std::string note = "rounded to the nearest code";
    if (code.clip != Clip::None) note = fmt::format("limited to 0 … {}: a clipped code", maxCode());
    return {{"exact", fmt::format("{} V/{} V{}", plainNumber(pin_V, 7), plainNumber(m_lsb_V, 7), offset), code.exact, "1",
             m_law == CodeLaw::PowerOfTwo ? "code law 2^n" : "code law 2^n − 1"},
            {"code", fmt::format("round({})", plainNumber(code.exact, 7)), static_cast<double>(code.value), "1", note}};
}

}  // namespace fg
