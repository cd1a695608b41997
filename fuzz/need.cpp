// What is needed of a part.
#include "choosing/need.h"
#include "target.h"

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    (void)readNeed(std::string(fuzz::textOf(data, size)), "need.json");
    return 0;
}
