#pragma once

#include <cstdint>

namespace fg {

/// Trimming coefficients of the twelve-coefficient barometers, and of those with humidity; the data sheet's dig_T1 …
/// dig_H6.
struct TrimmedCoefficients {
    std::uint16_t t1 = 0;
    std::int16_t t2 = 0, t3 = 0;
    std::uint16_t p1 = 0;
    std::int16_t p2 = 0, p3 = 0, p4 = 0, p5 = 0, p6 = 0, p7 = 0, p8 = 0, p9 = 0;
    std::uint8_t h1 = 0;
    std::int16_t h2 = 0;
    std::uint8_t h3 = 0;
    std::int16_t h4 = 0, h5 = 0;
    std::int8_t h6 = 0;
};

/// The three routines of the data sheets, bit for bit. Source: BMP280 data sheet, 3.11.3 and 8.1 (double), 8.2 (32
/// bit); BME280 data sheet, 4.2.3 and 8.1, 8.2. Raw numbers: 20 bits of temperature and pressure, 16 of humidity.
namespace trimmed {

struct FineDouble {
    double var1, var2, fine;
    [[nodiscard]] double celsius() const { return fine / 5120.0; }
};

/// °C = fine/5120.
[[nodiscard]] inline FineDouble fineOf(const TrimmedCoefficients& c, double raw) {
    const double var1 = (raw / 16384.0 - c.t1 / 1024.0) * c.t2;
    const double d = raw / 131072.0 - c.t1 / 8192.0;
    const double var2 = d * d * c.t3;
    return {var1, var2, var1 + var2};
}

/// Pa; 0 where the divisor would be 0.
[[nodiscard]] inline double pascalOf(const TrimmedCoefficients& c, double fine, double raw) {
    double var1 = fine / 2.0 - 64000.0;
    double var2 = var1 * var1 * c.p6 / 32768.0;
    var2 = var2 + var1 * c.p5 * 2.0;
    var2 = var2 / 4.0 + c.p4 * 65536.0;
    var1 = (c.p3 * var1 * var1 / 524288.0 + c.p2 * var1) / 524288.0;
    var1 = (1.0 + var1 / 32768.0) * c.p1;
    if (var1 == 0.0) return 0;
    double p = 1048576.0 - raw;
    p = (p - var2 / 4096.0) * 6250.0 / var1;
    var1 = c.p9 * p * p / 2147483648.0;
    var2 = p * c.p8 / 32768.0;
    return p + (var1 + var2 + c.p7) / 16.0;
}

/// %RH, cut to 0 … 100 as printed.
[[nodiscard]] inline double percentOf(const TrimmedCoefficients& c, double fine, double raw) {
    double h = fine - 76800.0;
    h = (raw - (c.h4 * 64.0 + c.h5 / 16384.0 * h)) *
        (c.h2 / 65536.0 * (1.0 + c.h6 / 67108864.0 * h * (1.0 + c.h3 / 67108864.0 * h)));
    h = h * (1.0 - c.h1 * h / 524288.0);
    return h > 100.0 ? 100.0 : h < 0.0 ? 0.0 : h;
}

/// °C = (5·fine + 128) >> 8, in hundredths.
[[nodiscard]] std::int32_t fineInt(const TrimmedCoefficients& c, std::int32_t raw);
/// Pa in 1/256.
[[nodiscard]] std::uint32_t pascalInt64(const TrimmedCoefficients& c, std::int32_t fine, std::int32_t raw);
/// Pa.
[[nodiscard]] std::uint32_t pascalInt32(const TrimmedCoefficients& c, std::int32_t fine, std::int32_t raw);
/// %RH in 1/1024.
[[nodiscard]] std::uint32_t percentInt32(const TrimmedCoefficients& c, std::int32_t fine, std::int32_t raw);

}  // namespace trimmed
}  // namespace fg
