// Rows of raw values: every line of the input is in the output.
#include "gauge/csv_convert.h"
#include "path/default_gauge.h"
#include "target.h"

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const Gauge gauge = [] {
        GaugeSpec spec = defaultGauge(*fuzz::catalogue().findPart("lm35"));
        return Gauge::make(spec, fuzz::catalogue()).value();
    }();
    std::string out;
    const auto report = convertCsv(fuzz::textOf(data, size), gauge, "",
                                   [&](std::string_view piece) { return out.append(piece), true; });
    if (report) fuzz::expect(report->rows == report->converted + report->refused);
    return 0;
}
