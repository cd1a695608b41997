#include "converters/converter_spec.h"

#include "units/number_format.h"

namespace fg {
namespace {

Expected<std::string> textOf(const Parameters& parameters, const std::string& name, const std::string& otherwise) {
    const auto it = parameters.all().find(name);
    if (it == parameters.all().end()) return otherwise;
    if (const auto* text = std::get_if<std::string>(&it->second)) return *text;
    return fail(ErrorCode::Syntax, "converter." + name, "a number", "a text");
}

}  // namespace

std::vector<ParameterSpec> adcParameters() {
    return {{"bits", "Bits", Quantity::Count, "", {}},
            {"reference_V", "Vref, nominal", Quantity::Voltage, "", {}, "reference_tolerance", ToleranceKind::Relative},
            {"reference_measured_V", "Vref, measured", Quantity::Voltage, "", 0.0, "reference_measured_tolerance", ToleranceKind::Relative},
            {"input_max_V", "Most the pin may see", Quantity::Voltage, "", 0.0},
            {"error_LSB", "Total unadjusted error", Quantity::Ratio, "LSB", 0.0}};
}

double effectiveReference_V(const Parameters& parameters) {
    const double measured = parameters.numberOr("reference_measured_V", 0);
    return measured > 0 ? measured : parameters.numberOr("reference_V", 0);
}

std::string_view codeLawName(CodeLaw law) { return law == CodeLaw::PowerOfTwo ? "2^n" : "2^n-1"; }

Expected<Adc> makeAdc(const Parameters& parameters) {
    const auto bits = parameters.requireNumber("bits");
    if (!bits) return tl::unexpected(bits.error().within("converter"));
    if (*bits != std::floor(*bits) || !(std::abs(*bits) < 1000))
        return fail(ErrorCode::Range, "converter.bits", plainNumber(*bits), "a whole number, 1 to 24 bits");
    if (const double measured = parameters.numberOr("reference_measured_V", 0); measured < 0)
        return fail(ErrorCode::Range, "converter.reference_measured_V", plainNumber(measured),
                    "a voltage above 0 V, or 0 when nobody measured it");
    if (!(effectiveReference_V(parameters) > 0))
        if (const auto nominal = parameters.requireNumber("reference_V"); !nominal)
            return tl::unexpected(nominal.error().within("converter"));
    const auto law = textOf(parameters, "code_law", "2^n");
    if (!law) return tl::unexpected(law.error());
    if (*law != "2^n" && *law != "2^n-1") return fail(ErrorCode::Unknown, "converter.code_law", "“" + *law + "”", "“2^n” or “2^n-1”");
    const auto rounding = textOf(parameters, "rounding", "nearest");
    if (!rounding) return tl::unexpected(rounding.error());
    if (*rounding != "nearest" && *rounding != "down")
        return fail(ErrorCode::Unknown, "converter.rounding", "“" + *rounding + "”", "“nearest” or “down”");
    return Adc::make(static_cast<int>(*bits), effectiveReference_V(parameters),
                     *law == "2^n" ? CodeLaw::PowerOfTwo : CodeLaw::PowerOfTwoMinusOne,
                     *rounding == "nearest" ? Rounding::Nearest : Rounding::Down);
}

}  // namespace fg
