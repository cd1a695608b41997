// The waterproof ones with a PROM: to 30 bar, and to 2 bar with another scaling.

#include "devices/prom_barometer.h"

#include <array>

namespace fg {
namespace {

using Int = PromFamily::Int;

// On either side of 20 °C.
std::optional<PromFamily::Second> second(const Int& dT, const Int& temp) {
    const Int d = (temp - 2000) * (temp - 2000);
    if (temp.value() >= 2000) return PromFamily::Second{(2 * (dT * dT)) >> 37, d / 16, 0};
    PromFamily::Second more{(3 * (dT * dT)) >> 33, 3 * d / 2, 5 * d / 8};
    if (temp.value() < -1500) {
        const Int e = (temp + 1500) * (temp + 1500);
        more.off = more.off + 7 * e, more.sens = more.sens + 4 * e;
    }
    return more;
}

// Below 20 °C only.
std::optional<PromFamily::Second> second02(const Int& dT, const Int& temp) {
    if (temp.value() >= 2000) return std::nullopt;
    const Int d = (temp - 2000) * (temp - 2000);
    return PromFamily::Second{(11 * (dT * dT)) >> 35, 31 * d / 8, 63 * d / 32};
}

// Which sensor it is stands in bits 11:5 of the PROM's first word.
constexpr unsigned kType30 = 0x1A, kType02 = 0x15;

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
                         second};

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
                     second02};

/// Refuses a PROM that names the other one: its bytes would read as a twentieth or twenty times of the pressure.
Expected<void> checkType(const RawData& raw, unsigned other, const char* name) {
    const auto prom = raw.block("prom", raw.blockSize("prom"));
    if (!prom || prom->size() < 2) return {};
    const unsigned type = prom->be16(0) >> 5 & 0x7F;
    if (type != other) return {};
    return fail(ErrorCode::Range, "prom", fmt::format("sensor type 0x{:02X} in its first word", type),
                fmt::format("another type: this is the PROM of an {}", name));
}

Expected<Decoded> decode30(const RawData& raw, const DeviceOptions& options) {
    if (const auto type = checkType(raw, kType02, "ms5837-02"); !type) return tl::unexpected(type.error());
    return decodeProm(kFamily, raw, options);
}
Expected<Decoded> decode02(const RawData& raw, const DeviceOptions& options) {
    if (const auto type = checkType(raw, kType30, "ms5837 (30 bar)"); !type) return tl::unexpected(type.error());
    return decodeProm(k02, raw, options);
}
// The data sheets' own examples.
RawData specimen() { return promOf(kFamily, std::array{34982, 36352, 20328, 22354, 26646, 26146}); }
RawData specimen02() { return promOf(k02, std::array{46372, 43981, 29059, 27842, 31553, 28165}); }

}  // namespace

const Device device_rows::kMs5837 =
    promDevice("ms5837", "Waterproof pressure sensor with a PROM", "MS5837-30BA data sheet", decode30, specimen);
const Device device_rows::kMs583702 = promDevice("ms5837-02", "Waterproof pressure sensor with a PROM, to 2 bar",
                                                 "MS5837-02BA data sheet", decode02, specimen02);

}  // namespace fg
