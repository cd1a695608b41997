// A line of code as a maker typed it: read or refused, and run in C's arithmetic at every width.
#include "handover/typed_line.h"
#include "target.h"

#include <cmath>

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto line = TypedLine::read(fuzz::textOf(data, size));
    if (!line) {
        fuzz::expect(!line.error().expected.empty() && !line.error().found.empty());
        return 0;
    }
    for (const LineInt width : {LineInt::Int16, LineInt::Int32, LineInt::Int64})
        for (const std::int64_t code : {0L, 1L, 817L, 4095L, 65535L, -8388608L}) {
            const LineValue value = line->at(code, width);
            // A whole result fits the widest integer there is.
            fuzz::expect(value.isReal || value.isNone || std::abs(value.value) <= 1.9e19);
        }
    // With its own constants it is the same line.
    fuzz::expect(line->with(line->constants()).constants() == line->constants());
    (void)line->exactAt(817);
    return 0;
}
