#include "converters/converter.h"

#include "formula/text.h"
#include "units/number_format.h"
#include "units/unit.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {

constexpr int kMostBits = 32;
constexpr int kSpreadBits = 16;

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

std::shared_ptr<const Nonlinearity> nonlinearityOf(const std::vector<Point>& points) {
    if (points.empty()) return nullptr;
    Nonlinearity known{points.front(), points.back(), nullptr, nullptr};
    if (points.size() > 1) {
        std::vector<Point> codes;
        for (const auto& [code, error] : points) codes.push_back({code - error, code});
        known.errorOverCode = std::make_shared<const Polyline>(points);
        known.codeOverLinear = std::make_shared<const Polyline>(std::move(codes));
    }
    return std::make_shared<const Nonlinearity>(std::move(known));
}

std::string_view sourceOf(StepKind kind, double codeOffset) {
    switch (kind) {
        case StepKind::Adc:
            return codeOffset == 0 ? "code k stands for k·LSB ± ½ LSB" : "truncating converter: cell k … k + 1";
        case StepKind::Gate:
            return "counts over the gate time";
        case StepKind::Clock:
            return "ticks of the timer's clock";
        case StepKind::One:
            return "pulses counted";
    }
    return "";
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
    converter.m_law.fixed.codeOffset = design.rounding == Rounding::Down ? 0.5 : 0.0;
    converter.m_law.fixed.nonlinearity = nonlinearityOf(design.nonlinearity);
    StepFormula<double> size;
    size.reference = design.reference_V;
    size.fraction = design.referenceFraction;
    size.gain = design.gain;
    size.fixed.exponent = bipolar ? design.bits - 1 : design.bits;
    size.fixed.isMinusOne = design.law == CodeLaw::PowerOfTwoMinusOne;
    size.fixed.referenceId = design.isMeasured ? "reference_measured_V" : "reference_V";
    converter.setStep(size);
    converter.m_fullScale = size.fullScale();
    return converter;
}

void Converter::setStep(StepFormula<double> size) {
    m_step = size;
    m_law.size = size.size();
    m_law.fixed.input = symbolOf(m_input);
    m_law.fixed.source = sourceOf(size.fixed.kind, m_law.fixed.codeOffset);
}

Expected<Converter> Converter::make(int bits, double reference_V, CodeLaw law, Rounding rounding) {
    AdcDesign design;
    design.bits = bits;
    design.reference_V = reference_V;
    design.law = law;
    design.rounding = rounding;
    return makeAdc(design);
}

Expected<Converter> Converter::makeCounter(const CounterDesign& counter) {
    StepFormula<double> size;
    size.fixed.kind = counter.kind;
    size.gate = counter.gate_s;
    size.clock = counter.clock_Hz;
    size.periods = counter.periods;
    if (!(size.size() > 0) || !std::isfinite(size.size()))
        return fail(ErrorCode::Range, counter.kind == StepKind::Gate ? "converter.gate_s" : "converter.clock_Hz",
                    plainNumber(counter.kind == StepKind::Gate ? counter.gate_s : counter.clock_Hz), "a value above 0");
    AdcDesign design;
    design.bits = counter.bits;
    design.reference_V = 1;
    auto made = makeAdc(design);
    if (!made) return made;
    made->m_design.reference_V = 0;
    made->m_input = counter.kind == StepKind::Gate    ? Quantity::Frequency
                    : counter.kind == StepKind::Clock ? Quantity::Time
                                                      : Quantity::Count;
    made->setStep(size);
    made->m_fullScale = made->lsb() * made->codeCount();
    return made;
}

std::vector<FormulaParameter> Converter::parameters() const {
    std::vector<FormulaParameter> all;
    m_step.each(m_step, [&](const Symbol& symbol, double value) { all.push_back({symbol.id, value}); });
    return all;
}

template <class N>
CodeLawFormula<N> Converter::lawWith(std::span<const N> parameters) const {
    std::size_t next = 0;
    StepFormula<N> size;
    size.fixed = m_step.fixed;
    size.each(size, [&](const Symbol&, N& value) { value = parameters[next++]; });
    return {size.size(), m_law.fixed};
}

double Converter::exactCodeWith(std::span<const double> parameters, double input) const {
    return lawWith(parameters).codeOf(input);
}
void Converter::exactCodesWith(std::span<const double* const> columns, std::span<double> values) const {
    StepFormula<double> moved = m_step;
    CodeLawFormula<double> law = m_law;
    for (std::size_t row = 0; row < values.size(); ++row) {
        std::size_t next = 0;
        moved.each(moved, [&](const Symbol&, double& value) {
            if (const double* column = columns[next++]) value = column[row];
        });
        law.size = moved.size();
        values[row] = law.codeOf(values[row]);
    }
}
Dual Converter::exactCodeWith(std::span<const Dual> parameters, const Dual& input) const {
    return lawWith(parameters).codeOf(input);
}
Dual Converter::inputOf(const Dual& code) const { return CodeLawFormula<Dual>{m_law.size, m_law.fixed}.inputOf(code); }

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

double Converter::clipBound(double code) const { return inputOf(innerCode(code)); }

double Converter::noiseFreeBits(double rms) const {
    constexpr double kPeakToPeak = 6.6;
    return rms > 0 ? std::min<double>(bits(), std::log2(codeCount() * lsb() / (kPeakToPeak * rms))) : bits();
}

int Converter::wordBits() const { return m_design.word == WordFormat::ScaledUp ? kSpreadBits : registerBits(bits()); }

Expected<Unpacking> Converter::unpackingOf(double word) const {
    const int wide = wordBits();
    const auto refuse = [&](const std::string& expected) -> Expected<Unpacking> {
        return fail(ErrorCode::Range, "converter", plainNumber(word), expected);
    };
    const bool whole = word == std::floor(word);
    // Two registers added instead of joined: no more than 255 + 255.
    const std::string added =
        wide == 16 && whole && word >= 0 && word <= 510
            ? fmt::format("; a number up to 510 may be two registers added: join them as high × 256 + low, “{}”",
                          "0x03 0xFF")
            : "";
    if (word >= std::ldexp(1.0, wide)) return refuse(fmt::format("a word of {} bits", wide));
    Unpacking how;
    switch (word < 0 ? WordFormat::RightJustified : m_design.word) {  // a signed number has been unpacked already
        case WordFormat::RightJustified:
            // Two's complement of the code's own bits, or extended over the register.
            if (m_design.polarity == Polarity::Bipolar && word > static_cast<double>(m_maxCode))
                how.wrap = canGive(word - std::ldexp(1.0, bits())) ? bits() : wide;
            break;
        case WordFormat::LeftJustified:
            how.shift = wide - bits();
            if (whole && std::fmod(word, std::ldexp(1.0, how.shift)) != 0)
                return refuse(
                    fmt::format("a left-justified {}-bit result, whose lowest {} bits are 0; is it right-justified?{}",
                                bits(), wide - bits(), added));
            if (m_design.polarity == Polarity::Bipolar && unpacked(word, how) > static_cast<double>(m_maxCode))
                how.wrap = bits();
            break;
        case WordFormat::ScaledUp:
            // A word that no code makes is the mean of several: the code between.
            how.isScaled = true;
            how.most = static_cast<double>(m_maxCode);
            if (whole && spreadCode(static_cast<std::uint32_t>(word), bits()))
                how = {.shift = kSpreadBits - bits(), .isFloored = true};
            break;
    }
    if (!canGive(unpacked(word, how)))
        return refuse(
            m_minCode < 0
                ? fmt::format("a code the {}-bit converter can give, {} to {}", bits(), m_minCode, m_maxCode)
                : fmt::format("a code the {}-bit converter can give, 0 to {}", bits(), wordOfCode(m_maxCode)));
    return how;
}

Expected<double> Converter::codeOfWord(double word) const {
    return unpackingOf(word).map([&](const Unpacking& how) { return unpacked(word, how); });
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

CodeLawFormula<Recorded> Converter::recordedLaw(Recording& in) const {
    const auto size = lifted<Recorded, StepFormula>(m_step, [&](const Symbol& symbol, double value) {
        return Recorded::leaf(in, Op::Parameter, symbol.name, symbol.unit, value);
    });
    return {size.size(), m_law.fixed};
}

std::vector<TraceLine> Converter::explainWord(double word) const {
    const auto how = unpackingOf(word);
    if (wordsAreCodes() || !how) return {};
    Recording recording;
    std::string source = fmt::format("the word's format: {}", wordFormatName(m_design.word));
    if (how->isScaled)
        source =
            fmt::format("no code of {} bits makes this word: a mean of several, taken as a code between two", bits());
    const Recorded input = Recorded::leaf(recording, Op::Input, "word", "", word);
    auto lines = linesOf(step("code", "1", source, unpacked(input, *how)));
    if (m_design.word != WordFormat::ScaledUp) return lines;
    // What a program that works with the word itself may take it for.
    const Recorded asMost =
        step("U_word", "V", "as a program has it that takes 65535 for full scale: the law 2^n − 1",
             input / constant<Recorded>(65535, "") * Recorded::leaf(recording, Op::Parameter, "UFS", "V", m_fullScale));
    lines.push_back(linesOf(asMost).back());
    return lines;
}

std::vector<TraceLine> Converter::explainInput(double code) const {
    Recording recording;
    const Recorded input = Recorded::leaf(recording, Op::Input, "code", "", code);
    return linesOf(recordedLaw(recording).inputOf(input));
}

TraceLine Converter::explainClipBound(double code) const {
    TraceLine line = explainInput(innerCode(code)).back();
    line.name = "U_limit";
    line.source = fmt::format("clipped code: a limit, not a value; ½ LSB in from code {}", plainNumber(code));
    return line;
}

std::vector<TraceLine> Converter::explainCode(double input) const {
    Recording recording;
    const auto [id, name, unit] = symbolOf(m_input);
    const auto law = recordedLaw(recording);
    const Recorded exact = step("exact", "1", isAdc() ? "code before rounding" : "counts before rounding",
                                law.codeOf(Recorded::leaf(recording, Op::Input, name, unit, input)));
    const Recorded nearest = round(exact);
    const Recorded most = static_cast<double>(m_maxCode), least = static_cast<double>(m_minCode);
    const Code code = quantise(input);
    if (code.clip == Clip::None) return linesOf(step("code", "1", "rounded to the nearest code", nearest));
    const std::string note = fmt::format("limited to {} … {}: a clipped code", m_minCode, m_maxCode);
    return linesOf(
        step("code", "1", note, code.clip == Clip::AtLeast ? fg::least(nearest, most) : fg::most(nearest, least)));
}

}  // namespace fg
