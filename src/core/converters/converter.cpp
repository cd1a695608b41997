#include "converters/converter.h"

#include "units/number_format.h"
#include "units/unit.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {

constexpr int kMostBits = 32;
constexpr int kSpreadBits = 16;

/// The error at a code: straight between the points, constant beyond their ends.
double errorAt(const std::vector<Point>& points, double code) {
    if (code <= points.front()[0]) return points.front()[1];
    for (std::size_t i = 1; i < points.size(); ++i)
        if (code <= points[i][0])
            return points[i - 1][1] +
                   (points[i][1] - points[i - 1][1]) * (code - points[i - 1][0]) / (points[i][0] - points[i - 1][0]);
    return points.back()[1];
}

Expected<void> checkNonlinearity(const std::vector<Point>& points) {
    for (std::size_t i = 1; i < points.size(); ++i) {
        const double step = points[i][0] - points[i - 1][0];
        if (!(step > 0) || !(points[i][1] - points[i - 1][1] < step))
            return fail(ErrorCode::Range, "converter.nonlinearity_code_LSB",
                        fmt::format("[{}, {}] after [{}, {}]", plainNumber(points[i][0]), plainNumber(points[i][1]),
                                    plainNumber(points[i - 1][0]), plainNumber(points[i - 1][1])),
                        "ascending codes, and errors that grow by less than the code does");
    }
    return {};
}

}  // namespace

Clip flipped(Clip clip) {
    if (clip == Clip::AtLeast) return Clip::AtMost;
    return clip == Clip::AtMost ? Clip::AtLeast : Clip::None;
}

std::string_view clipText(Clip clip) {
    if (clip == Clip::AtLeast) return "at least";
    return clip == Clip::AtMost ? "at most" : "";
}

Expected<Converter> Converter::makeAdc(const AdcDesign& design) {
    if (design.bits < 1 || design.bits > kMostBits || (design.polarity == Polarity::Bipolar && design.bits < 2))
        return fail(ErrorCode::Range, "converter.bits", fmt::format("{}", design.bits),
                    design.polarity == Polarity::Bipolar ? "2 to 32 bits" : "1 to 32 bits");
    if (!(design.reference_V > 0) || !std::isfinite(design.reference_V))
        return fail(ErrorCode::Range, "converter.reference_V", plainNumber(design.reference_V),
                    "a reference voltage above 0 V");
    if (!(design.gain > 0) || !std::isfinite(design.gain))
        return fail(ErrorCode::Range, "converter.gain", plainNumber(design.gain), "a gain above 0");
    if (!(design.referenceFraction > 0) || !std::isfinite(design.referenceFraction))
        return fail(ErrorCode::Range, "converter.full_scale_of_reference", plainNumber(design.referenceFraction),
                    "a factor above 0");
    if (design.word == WordFormat::ScaledUp && (design.bits > kSpreadBits || design.polarity == Polarity::Bipolar))
        return fail(ErrorCode::Range, "converter.word", "“scaled-up”", "a unipolar converter of at most 16 bits");
    if (const auto fine = checkNonlinearity(design.nonlinearity); !fine) return tl::unexpected(fine.error());
    Converter converter;
    converter.m_design = design;
    const bool bipolar = design.polarity == Polarity::Bipolar;
    const std::int64_t steps = std::int64_t{1} << (bipolar ? design.bits - 1 : design.bits);
    converter.m_minCode = bipolar ? -steps : 0;
    converter.m_maxCode = steps - 1;
    converter.m_fullScale = design.reference_V * design.referenceFraction / design.gain;
    converter.m_lsb =
        converter.m_fullScale / static_cast<double>(design.law == CodeLaw::PowerOfTwo ? steps : steps - 1);
    converter.m_codeOffset = design.rounding == Rounding::Down ? 0.5 : 0.0;
    if (!design.nonlinearity.empty())
        converter.m_nonlinearity = std::make_shared<const std::vector<Point>>(design.nonlinearity);
    return converter;
}

Expected<Converter> Converter::make(int bits, double reference_V, CodeLaw law, Rounding rounding) {
    AdcDesign design;
    design.bits = bits;
    design.reference_V = reference_V;
    design.law = law;
    design.rounding = rounding;
    return makeAdc(design);
}

Expected<Converter> Converter::makeCounter(int bits, double step, Quantity input, Rounding rounding,
                                           const std::string& field) {
    if (!(step > 0) || !std::isfinite(step))
        return fail(ErrorCode::Range, "converter." + field, plainNumber(step), "a value above 0");
    AdcDesign design;
    design.bits = bits;
    design.reference_V = 1;
    design.rounding = rounding;
    auto counter = makeAdc(design);
    if (!counter) return counter;
    counter->m_design.reference_V = 0;
    counter->m_input = input;
    counter->m_lsb = step;
    counter->m_fullScale = step * counter->codeCount();
    return counter;
}

double Converter::straightened(double code) const { return code - errorAt(*m_nonlinearity, code); }

double Converter::bent(double linearCode) const {
    // code − error(code) is piecewise straight and rising (checked), so the piece is found by its ends.
    const std::vector<Point>& points = *m_nonlinearity;
    const auto linearAt = [&](std::size_t i) { return points[i][0] - points[i][1]; };
    if (linearCode <= linearAt(0)) return linearCode + points.front()[1];
    for (std::size_t i = 1; i < points.size(); ++i)
        if (linearCode <= linearAt(i))
            return points[i - 1][0] +
                   (points[i][0] - points[i - 1][0]) * (linearCode - linearAt(i - 1)) / (linearAt(i) - linearAt(i - 1));
    return linearCode + points.back()[1];
}

Code Converter::quantise(double input) const {
    Code code;
    code.exact = exactCode(input);
    // Nearest code of the cell scale: for a truncating converter exact is already half an LSB down, so both round the
    // same way.
    const double nearest = std::floor(code.exact + 0.5);
    code.value = static_cast<std::int64_t>(
        std::fmin(std::fmax(nearest, static_cast<double>(m_minCode)), static_cast<double>(m_maxCode)));
    code.clip = clipOf(static_cast<double>(code.value));
    return code;
}

Clip Converter::clipOf(double code) const {
    if (code >= static_cast<double>(m_maxCode)) return Clip::AtLeast;
    return code <= static_cast<double>(m_minCode) ? Clip::AtMost : Clip::None;
}

double Converter::clipBound(double code) const {
    const double inwards = code <= static_cast<double>(m_minCode) ? 0.5 : -0.5;
    return inputOf(code + inwards);
}

double Converter::noiseFreeBits(double rms) const {
    constexpr double kPeakToPeak = 6.6;
    return rms > 0 ? std::min<double>(bits(), std::log2(codeCount() * m_lsb / (kPeakToPeak * rms))) : bits();
}

int Converter::wordBits() const { return m_design.word == WordFormat::ScaledUp ? kSpreadBits : registerBits(bits()); }

Expected<double> Converter::codeOfWord(double word) const {
    const int wide = wordBits();
    const auto refuse = [&](const std::string& expected) -> Expected<double> {
        return fail(ErrorCode::Range, "converter", plainNumber(word), expected);
    };
    const double shift = std::ldexp(1.0, wide - bits());
    const bool whole = word == std::floor(word);
    // Two registers added instead of joined: no more than 255 + 255.
    const std::string added =
        wide == 16 && whole && word >= 0 && word <= 510
            ? fmt::format("; a number up to 510 may be two registers added: join them as high × 256 + low, “{}”",
                          "0x03 0xFF")
            : "";
    if (word >= std::ldexp(1.0, wide)) return refuse(fmt::format("a word of {} bits", wide));
    double code = word;
    switch (word < 0 ? WordFormat::RightJustified : m_design.word) {  // a signed number has been unpacked already
        case WordFormat::RightJustified:
            if (m_design.polarity == Polarity::Bipolar && word > static_cast<double>(m_maxCode)) {
                // Two's complement of the code's own bits, or extended over the register.
                const double ofBits = word - std::ldexp(1.0, bits()), ofRegister = word - std::ldexp(1.0, wide);
                code = canGive(ofBits) ? ofBits : ofRegister;
            }
            break;
        case WordFormat::LeftJustified:
            if (whole && std::fmod(word, shift) != 0)
                return refuse(
                    fmt::format("a left-justified {}-bit result, whose lowest {} bits are 0; is it right-justified?{}",
                                bits(), wide - bits(), added));
            code = word / shift;
            if (m_design.polarity == Polarity::Bipolar && code > static_cast<double>(m_maxCode))
                code -= std::ldexp(1.0, bits());
            break;
        case WordFormat::ScaledUp:
            // A word that no code makes is the mean of several: the code between.
            code = word * static_cast<double>(m_maxCode) / (std::ldexp(1.0, kSpreadBits) - 1);
            if (whole)
                if (const auto exact = spreadCode(static_cast<std::uint32_t>(word), bits())) code = *exact;
            break;
    }
    if (!canGive(code))
        return refuse(
            m_minCode < 0
                ? fmt::format("a code the {}-bit converter can give, {} to {}", bits(), m_minCode, m_maxCode)
                : fmt::format("a code the {}-bit converter can give, 0 to {}", bits(), wordOfCode(m_maxCode)));
    return code;
}

std::int64_t Converter::wordOfCode(std::int64_t code) const {
    const int wide = wordBits();
    const std::int64_t registerMask = (std::int64_t{1} << wide) - 1;
    switch (m_design.word) {
        case WordFormat::RightJustified:
            return code < 0 ? code & registerMask : code;
        case WordFormat::LeftJustified:
            return (code * (std::int64_t{1} << (wide - bits()))) & registerMask;
        case WordFormat::ScaledUp:
            return repeatedBits(static_cast<std::uint32_t>(code), bits());
    }
    return code;
}

std::string Converter::lsbFormula() const {
    const bool bipolar = m_design.polarity == Polarity::Bipolar;
    const int exponent = bipolar ? bits() - 1 : bits();
    const std::string denominator =
        m_design.law == CodeLaw::PowerOfTwo ? fmt::format("2^{}", exponent) : fmt::format("(2^{} − 1)", exponent);
    std::string scale = plainNumber(m_design.reference_V) + " V";
    if (m_design.referenceFraction != 1) scale = plainNumber(m_design.referenceFraction) + " × " + scale;
    if (m_design.gain != 1) scale += "/" + plainNumber(m_design.gain);
    return scale + "/" + denominator;
}

std::vector<TraceLine> Converter::explainWord(double word) const {
    const auto code = codeOfWord(word);
    if (wordsAreCodes() || !code) return {};
    const std::string text = word == std::floor(word) && word >= 0
                                 ? fmt::format("0x{:X}", static_cast<std::int64_t>(word))
                                 : plainNumber(word);
    std::vector<TraceLine> lines{
        {"code", fmt::format("word {}, {}", text, wordFormatName(m_design.word)), *code, "1", "the register's format"}};
    if (m_design.word != WordFormat::ScaledUp) return lines;
    if (*code != std::floor(*code))
        lines.back().source =
            fmt::format("no code of {} bits makes this word: a mean of several, taken as a code between two", bits());
    // What a program that works with the word itself may take it for.
    const double share = word / (std::ldexp(1.0, kSpreadBits) - 1);
    lines.push_back({"U of the word", fmt::format("{}/65535 × {} V", text, plainNumber(m_fullScale)),
                     share * m_fullScale, "V", "as a program has it that takes 65535 for full scale: the law 2^n − 1"});
    return lines;
}

std::vector<TraceLine> Converter::explainInput(double code) const {
    const Unit& unit = canonicalUnit(m_input);
    std::vector<TraceLine> lines;
    double used = code;
    if (m_nonlinearity) {
        used = straightened(code);
        lines.push_back({"straightened", fmt::format("{} − {}", plainNumber(code), term(code - used, 5)), used, "1",
                         "the converter's known non-linearity"});
    }
    const std::string codeText = m_codeOffset == 0 ? plainNumber(used) : fmt::format("({} + ½)", plainNumber(used));
    if (!isAdc()) {
        lines.push_back({m_input == Quantity::Frequency ? "f" : (m_input == Quantity::Time ? "T" : "N"),
                         fmt::format("{} × {} {}", codeText, plainNumber(m_lsb, 7), unit.symbol), inputOf(code),
                         std::string(unit.id),
                         m_input == Quantity::Frequency
                             ? "counts over the gate time"
                             : (m_input == Quantity::Time ? "ticks of the timer's clock" : "pulses counted")});
        return lines;
    }
    lines.push_back(
        {"LSB", lsbFormula(), m_lsb, "V", m_design.law == CodeLaw::PowerOfTwo ? "code law 2^n" : "code law 2^n − 1"});
    lines.push_back({"U", fmt::format("{} × {}", codeText, lsbFormula()), inputOf(code), "V",
                     m_codeOffset == 0 ? "code k stands for k·LSB ± ½ LSB" : "truncating converter: cell k … k + 1"});
    return lines;
}

std::vector<TraceLine> Converter::explainCode(double input) const {
    const Code code = quantise(input);
    const std::string_view symbol = canonicalUnit(m_input).symbol;
    const std::string offset = m_codeOffset == 0 ? "" : " − ½";
    const std::string bend = m_nonlinearity ? " + known error" : "";
    std::string note = "rounded to the nearest code";
    if (code.clip != Clip::None) note = fmt::format("limited to {} … {}: a clipped code", m_minCode, m_maxCode);
    return {{"exact",
             fmt::format("{} {}/{} {}{}{}", plainNumber(input, 7), symbol, plainNumber(m_lsb, 7), symbol, offset, bend),
             code.exact, "1",
             !isAdc() ? "one count" : (m_design.law == CodeLaw::PowerOfTwo ? "code law 2^n" : "code law 2^n − 1")},
            {"code", fmt::format("round({})", plainNumber(code.exact, 7)), static_cast<double>(code.value), "1", note}};
}

}  // namespace fg
