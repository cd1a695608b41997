#include "path/correction.h"

#include "formula/text.h"
#include "units/number_format.h"

#include <cmath>

namespace fg {

Expected<Correction> Correction::make(const CorrectionSpec& spec) {
    Correction correction;
    if (spec.kind == "none") return correction;
    if (spec.kind != "offset" && spec.kind != "line")
        return fail(ErrorCode::Unknown, "correction.kind", "“" + spec.kind + "”", "“none”, “offset” or “line”");
    if (!std::isfinite(spec.offset))
        return fail(ErrorCode::Range, "correction.offset", plainNumber(spec.offset), "a number");
    if (!(spec.slope > -1) || !std::isfinite(spec.slope))
        return fail(ErrorCode::Range, "correction.slope", plainNumber(spec.slope),
                    "a slope above −1; it is added to the reading's own slope of 1");
    correction.m_formula.offset = spec.offset;
    correction.m_formula.isLine = spec.kind == "line";
    correction.m_formula.slope = correction.m_formula.isLine ? spec.slope : 0;
    return correction;
}

Dual Correction::apply(const Dual& value) const {
    return CorrectionFormula<Dual>{m_formula.offset, m_formula.slope, m_formula.isLine}.apply(value);
}

std::vector<TraceLine> Correction::explain(double value, Quantity quantity) const {
    if (isNone()) return {};
    Recording recording;
    const auto [id, name, unit] = symbolOf(quantity);
    const auto leaf = [&](Op op, std::string_view symbol, std::string_view unitId, double number) {
        return Recorded::leaf(recording, op, symbol, unitId, number);
    };
    const CorrectionFormula<Recorded> formula{leaf(Op::Parameter, "a", unit, m_formula.offset),
                                              leaf(Op::Parameter, "b", "", m_formula.slope), m_formula.isLine};
    const Recorded corrected = formula.apply(leaf(Op::Input, name, unit, value));
    return linesOf(step("corrected", unit, "this gauge's calibration", corrected));
}

}  // namespace fg
