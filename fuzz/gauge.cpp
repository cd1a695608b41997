// A gauge file: read, written, read again it is the same; and the gauge answers or says why not.
#include "gauge/gauge.h"
#include "bench/gauge_json.h"
#include "target.h"

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto spec = readGauge(std::string(fuzz::textOf(data, size)), "gauge");
    if (!spec) return 0;
    const auto again = readGauge(writeGauge(*spec), "again");
    fuzz::expect(!again || *again == *spec);
    const auto gauge = Gauge::make(*spec, fuzz::catalogue());
    if (!gauge) return 0;
    for (const char* raw : {"0", "512", "70 6B 43"})
        if (const auto entry = gauge->entryOfRaw(raw)) (void)gauge->evaluate(*entry);
    return 0;
}
