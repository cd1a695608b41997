#include "path/correction.h"

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
    correction.m_offset = spec.offset;
    correction.m_slope = spec.kind == "line" ? spec.slope : 0;
    return correction;
}

}  // namespace fg
