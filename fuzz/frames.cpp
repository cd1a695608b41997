// A live frame of bytes, to every decoder with its specimen: the first byte chooses which.
#include "devices/device.h"
#include "target.h"

#include <cmath>

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 1) return 0;
    const Device& device = *devices()[data[0] % devices().size()];
    const auto options = DeviceOptions().completed(device.options());
    if (!options) return 0;
    auto raw = blocksOfFrame(device, *options, {data + 1, size - 1});
    if (!raw) return 0;
    if (device.specimen) raw->add(device.specimen());
    if (const auto decoded = decode(device, *raw, *options))
        for (const DeviceReading& reading : decoded->readings) fuzz::expect(!std::isinf(reading.value));
    return 0;
}
