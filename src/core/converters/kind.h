#pragma once

#include "converters/converter.h"
#include "sensors/family.h"

namespace fg {

/// A kind of converter in gauge and converter files. Adding one: a row in kind.cpp.
struct ConverterKind {
    std::string_view id;     ///< "adc", "counter", "timer", "pulses"
    std::string_view title;  ///< on screen
    Quantity input;          ///< what it takes
    std::vector<ParameterSpec> (*parameters)();
    std::vector<std::string> (*words)();  ///< names of its parameters that are texts or tables
    Expected<Converter> (*make)(const Parameters& parameters);
};

[[nodiscard]] std::span<const ConverterKind> converterKinds();
[[nodiscard]] const ConverterKind* findConverterKind(std::string_view id);

/// Builds an analog-to-digital converter from its parameters: bits, reference_V (nominal), reference_measured_V (wins
/// when above 0), full_scale_of_reference, gain, code_law ("2^n", "2^n-1"), rounding ("nearest", "down"), polarity
/// ("unipolar", "bipolar"), word (word_format.h), nonlinearity_code_LSB. Errors name the field below "converter".
[[nodiscard]] Expected<Converter> makeAdc(const Parameters& parameters);

/// Is the reference the supply of the board ("reference_kind": "supply" or "unregulated")?
[[nodiscard]] bool isReferenceSupply(const Parameters& parameters);

/// The capacitor at the pin from which a sampling capacitor takes its charge without moving it by ½ LSB: Cs ·
/// 2^(n + 1).
[[nodiscard]] double reservoir_F(double sample_F, double bits);

/// The sampling capacitor to reckon with where a converter's document states none.
inline constexpr double kUsualSample_F = 14e-12;

/// The reference the formula should use: measured when there is one, else nominal. V.
[[nodiscard]] double effectiveReference_V(const Parameters& parameters);

/// Name of the law in files, "2^n" or "2^n-1".
[[nodiscard]] std::string_view codeLawName(CodeLaw law);

}  // namespace fg
