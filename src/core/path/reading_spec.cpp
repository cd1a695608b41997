#include "path/reading_spec.h"

#include "units/number_format.h"

#include <fmt/format.h>

namespace fg {

Expected<void> checkReading(const GaugeSpec& spec) {
    if (const auto unit = unitFromId(spec.reading.unit, spec.quantity); !unit)
        return tl::unexpected(unit.error().within("reading.unit"));
    const Interval& span = spec.reading.span;
    if (!(span.low < span.high))
        return fail(ErrorCode::Range, "reading.span",
                    fmt::format("[{}, {}]", plainNumber(span.low), plainNumber(span.high)),
                    "a low end below the high end");
    return {};
}

}  // namespace fg
