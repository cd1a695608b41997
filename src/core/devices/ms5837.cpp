// The waterproof ones with a PROM: to 30 bar, and to 2 bar with another scaling.

#include "devices/prom_barometer.h"

#include <array>

namespace fg {
namespace {

using Int = PromFamily::Int;

// On either side of 20 °C.
PromFamily::Second second(const Int& dT, const Int& temp) {
    const auto isCold = temp < Int(2000), isVeryCold = temp < Int(-1500);
    const Int d = (temp - 2000) * (temp - 2000), e = (temp + 1500) * (temp + 1500);
    return {select(isCold, (3 * (dT * dT)) >> 33, (2 * (dT * dT)) >> 37),
            select(isCold, 3 * d / 2 + select(isVeryCold, 7 * e, Int(0)), d / 16),
            select(isCold, 5 * d / 8 + select(isVeryCold, 4 * e, Int(0)), Int(0))};
}

// Below 20 °C only.
PromFamily::Second second02(const Int& dT, const Int& temp) {
    const auto isCold = temp < Int(2000);
    const Int d = (temp - 2000) * (temp - 2000);
    return {select(isCold, (11 * (dT * dT)) >> 35, Int(0)), select(isCold, 31 * d / 8, Int(0)),
            select(isCold, 63 * d / 32, Int(0))};
}

// Which sensor it is stands in bits 11:5 of the PROM's first word.
constexpr int kType30 = 0x1A, kType02 = 0x15;

const PromFamily kFamily{"MS5837-30BA data sheet, pressure and temperature calculation",
                         65536,
                         128,
                         32768,
                         256,
                         8192,
                         10,
                         0,
                         0,
                         3.1e6,
                         second,
                         kType02,
                         "ms5837-02"};

const PromFamily k02{"MS5837-02BA data sheet, pressure and temperature calculation",
                     131072,
                     64,
                     65536,
                     128,
                     32768,
                     1,
                     0,
                     1000,
                     220000,
                     second02,
                     kType30,
                     "ms5837 (30 bar)"};

Expected<Decoded> decode30(const RawData& raw, const DeviceOptions& options) {
    return decodeProm(kFamily, raw, options);
}
Expected<Decoded> decode02(const RawData& raw, const DeviceOptions& options) { return decodeProm(k02, raw, options); }
// The data sheets' own examples.
RawData specimen() { return promOf(kFamily, std::array{34982, 36352, 20328, 22354, 26646, 26146}); }
RawData specimen02() { return promOf(k02, std::array{46372, 43981, 29059, 27842, 31553, 28165}); }

}  // namespace

const Device device_rows::kMs5837 =
    promDevice("ms5837", "Waterproof pressure sensor with a PROM", "MS5837-30BA data sheet", decode30, specimen);
const Device device_rows::kMs583702 = promDevice("ms5837-02", "Waterproof pressure sensor with a PROM, to 2 bar",
                                                 "MS5837-02BA data sheet", decode02, specimen02);

}  // namespace fg
