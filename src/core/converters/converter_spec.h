#pragma once

#include "converters/adc.h"
#include "sensors/family.h"

namespace fg {

/// The parameters an ADC takes in converter and gauge files.
[[nodiscard]] std::vector<ParameterSpec> adcParameters();

/// Builds the converter from its parameters: bits, reference_V (nominal), reference_measured_V (wins when above 0), code_law
/// ("2^n" or "2^n-1"), rounding ("nearest" or "down"). Errors name the field below "converter".
[[nodiscard]] Expected<Adc> makeAdc(const Parameters& parameters);

/// The reference the formula should use: measured when there is one, else nominal. V.
[[nodiscard]] double effectiveReference_V(const Parameters& parameters);

/// Name of the law in files, "2^n" or "2^n-1".
[[nodiscard]] std::string_view codeLawName(CodeLaw law);

}  // namespace fg
