// Pulse lengths of a single-bus line, and codes of 1-wire probes.
#include "bytes/pulse_text.h"
#include "devices/one_wire.h"
#include "devices/single_bus.h"
#include "target.h"

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    (void)readSingleBus(fuzz::textOf(data, size));
    return 0;
}
