// The waterproof one with a PROM, to 30 bar.

#include "devices/prom_barometer.h"

#include <array>

namespace fg {
namespace {

// On either side of 20 °C.
PromFamily::Second second(std::int64_t dT, std::int64_t temp) {
    const std::int64_t d = (temp - 2000) * (temp - 2000);
    if (temp >= 2000) return {2 * (dT * dT) >> 37, d / 16, 0};
    PromFamily::Second more{3 * (dT * dT) >> 33, 3 * d / 2, 5 * d / 8};
    if (temp < -1500) {
        const std::int64_t e = (temp + 1500) * (temp + 1500);
        more.off += 7 * e, more.sens += 4 * e;
    }
    return more;
}

const PromFamily kFamily{
    "MS5837-30BA data sheet, pressure and temperature calculation", 65536, 128, 32768, 256, 8192, 10, 0, 0, 3.1e6, second};

Expected<Decoded> decodeAll(const RawData& raw, const DeviceOptions&) { return decodeProm(kFamily, raw); }
// The data sheet's own example.
RawData specimen() { return promOf(kFamily, std::array{34982, 36352, 20328, 22354, 26646, 26146}); }

}  // namespace

const Device device_rows::kMs5837{"ms5837",
                                  "Waterproof pressure sensor with a PROM",
                                  "MS5837-30BA data sheet",
                                  noOptions,
                                  promBlocks,
                                  decodeAll,
                                  promVariables,
                                  promCompose,
                                  specimen};

}  // namespace fg
