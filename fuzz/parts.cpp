// Files of the catalogue: a part, a digital part, a register map, a converter, bodies. The first byte chooses which.
#include "catalogue/catalogue.h"
#include "target.h"

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 1) return 0;
    Catalogue catalogue;
    const std::string text(fuzz::textOf(data + 1, size - 1));
    switch (data[0] % 5) {
        case 0:
            (void)catalogue.addPart(text, "part.json");
            break;
        case 1:
            (void)catalogue.addDevice(text, "device.json");
            break;
        case 2:
            (void)catalogue.addRegisterMap(text, "map.json");
            break;
        case 3:
            (void)catalogue.addConverter(text, "converter.json");
            break;
        default:
            (void)catalogue.addBodies(text, "bodies.json");
    }
    return 0;
}
