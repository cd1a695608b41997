// Barometers with a PROM: the one for 10 to 1200 hPa, and its sibling of other scales.

#include "devices/prom_barometer.h"

#include <array>

namespace fg {
namespace {

using Int = PromFamily::Int;

// Below 20 °C, and once more below −15 °C.
PromFamily::Second second5611(const Int& dT, const Int& temp) {
    const auto isCold = temp < Int(2000), isVeryCold = temp < Int(-1500);
    const Int d = (temp - 2000) * (temp - 2000), e = (temp + 1500) * (temp + 1500);
    return {select(isCold, (dT * dT) >> 31, Int(0)),
            select(isCold, 5 * d / 2 + select(isVeryCold, 7 * e, Int(0)), Int(0)),
            select(isCold, 5 * d / 4 + select(isVeryCold, 11 * e / 2, Int(0)), Int(0))};
}

PromFamily::Second second5607(const Int& dT, const Int& temp) {
    const auto isCold = temp < Int(2000), isVeryCold = temp < Int(-1500);
    const Int d = (temp - 2000) * (temp - 2000), e = (temp + 1500) * (temp + 1500);
    return {select(isCold, (dT * dT) >> 31, Int(0)),
            select(isCold, 61 * d / 16 + select(isVeryCold, 15 * e, Int(0)), Int(0)),
            select(isCold, 2 * d + select(isVeryCold, 8 * e, Int(0)), Int(0))};
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
