// Bytes as people paste them, to every decoder: the first byte chooses which.
#include "bytes/dump_text.h"
#include "devices/device.h"
#include "target.h"

#include <cmath>

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 1) return 0;
    const Device& device = *devices()[data[0] % devices().size()];
    const auto read = readDump(fuzz::textOf(data + 1, size - 1));
    if (!read) return 0;
    const auto options = DeviceOptions().completed(device.options());
    if (!options) return 0;
    const auto raw = laidOut(device, *options, *read);
    if (!raw) return 0;
    if (const auto decoded = decode(device, *raw, *options))
        for (const DeviceReading& reading : decoded->readings) fuzz::expect(!std::isinf(reading.value));
    return 0;
}
