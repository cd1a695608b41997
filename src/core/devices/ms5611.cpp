// Barometers with a PROM: the one for 10 to 1200 hPa, and its sibling of other scales.

#include "devices/prom_barometer.h"

#include <array>

namespace fg {
namespace {

using Int = PromFamily::Int;

// Below 20 °C, and once more below −15 °C.
std::optional<PromFamily::Second> second5611(const Int& dT, const Int& temp) {
    if (temp.value() >= 2000) return std::nullopt;
    const Int d = (temp - 2000) * (temp - 2000);
    PromFamily::Second more{(dT * dT) >> 31, 5 * d / 2, 5 * d / 4};
    if (temp.value() < -1500) {
        const Int e = (temp + 1500) * (temp + 1500);
        more.off = more.off + 7 * e, more.sens = more.sens + 11 * e / 2;
    }
    return more;
}

std::optional<PromFamily::Second> second5607(const Int& dT, const Int& temp) {
    if (temp.value() >= 2000) return std::nullopt;
    const Int d = (temp - 2000) * (temp - 2000);
    PromFamily::Second more{(dT * dT) >> 31, 61 * d / 16, 2 * d};
    if (temp.value() < -1500) {
        const Int e = (temp + 1500) * (temp + 1500);
        more.off = more.off + 15 * e, more.sens = more.sens + 8 * e;
    }
    return more;
}

const PromFamily k5611{"MS5611-01BA data sheet, pressure and temperature calculation",
                       65536,
                       128,
                       32768,
                       256,
                       32768,
                       1,
                       7,
                       1000,
                       130000,
                       second5611};
const PromFamily k5607{"MS5607-02BA data sheet, pressure and temperature calculation",
                       131072,
                       64,
                       65536,
                       128,
                       32768,
                       1,
                       7,
                       1000,
                       130000,
                       second5607};

Expected<Decoded> decode5611(const RawData& raw, const DeviceOptions& options) {
    return decodeProm(k5611, raw, options);
}
Expected<Decoded> decode5607(const RawData& raw, const DeviceOptions& options) {
    return decodeProm(k5607, raw, options);
}
// The data sheets' own examples.
RawData specimen5611() { return promOf(k5611, std::array{40127, 36924, 23317, 23282, 33464, 28312}); }
RawData specimen5607() { return promOf(k5607, std::array{46372, 43981, 29059, 27842, 31553, 28165}); }

}  // namespace

const Device device_rows::kMs5611 = promDevice("ms5611", "Barometer with a PROM, second-order compensation",
                                               "MS5611-01BA data sheet", decode5611, specimen5611);
const Device device_rows::kMs5607 = promDevice("ms5607", "Barometer with a PROM, second-order compensation",
                                               "MS5607-02BA data sheet", decode5607, specimen5607);

}  // namespace fg
