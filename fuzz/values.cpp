// Values as makers write them.
#include "target.h"
#include "units/value_text.h"

#include <cmath>

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 1) return 0;
    const auto quantity = static_cast<Quantity>(data[0] % (static_cast<int>(Quantity::Length) + 1));
    if (const auto value = readValue(fuzz::textOf(data + 1, size - 1), quantity))
        fuzz::expect(std::isfinite(value->canonical));
    (void)readDifference(fuzz::textOf(data + 1, size - 1), quantity);
    return 0;
}
