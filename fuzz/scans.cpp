// Bus scans as programs print them, other devices as people write them, raw words.
#include "bench/board.h"
#include "converters/word_format.h"
#include "planning/addresses.h"
#include "target.h"

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::textOf(data, size);
    if (const auto addresses = readAddressScan(text))
        for (const unsigned address : *addresses) fuzz::expect(address <= 0x7F);
    (void)readRawWord(text);
    if (const auto others = readOtherDevices(text)) {
        const auto again = readOtherDevices(otherDevicesText(*others));
        fuzz::expect(again && *again == *others);
    }
    return 0;
}
