// A transfer function of one's own.
#include "sensors/family.h"
#include "target.h"

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const SensorFamily* family = findSensorFamily("expression-voltage");
    if (!family) std::abort();
    const Parameters parameters{{"expression", std::string(fuzz::textOf(data, size))}};
    if (const auto made = family->make(parameters, {Quantity::Temperature, {0, 100}, 5})) (void)(*made)->forward(25);
    return 0;
}
