#pragma once

#include "formula/whole.h"

#include <cstdint>

namespace fg {

/// Trimming coefficients of the twelve-coefficient barometers, and of those with humidity; the data sheet's dig_T1 …
/// dig_H6. `Number`: what they are computed with.
template <class Number>
struct Trimmed {
    Number t1 = 0, t2 = 0, t3 = 0;
    Number p1 = 0, p2 = 0, p3 = 0, p4 = 0, p5 = 0, p6 = 0, p7 = 0, p8 = 0, p9 = 0;
    Number h1 = 0, h2 = 0, h3 = 0, h4 = 0, h5 = 0, h6 = 0;
};

/// The coefficients as the part holds them.
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

    [[nodiscard]] Trimmed<double> asDoubles() const {
        return {double(t1), double(t2), double(t3), double(p1), double(p2), double(p3),
                double(p4), double(p5), double(p6), double(p7), double(p8), double(p9),
                double(h1), double(h2), double(h3), double(h4), double(h5), double(h6)};
    }
};

/// The three routines of the data sheets, bit for bit. Source: BMP280 data sheet, 3.11.3 and 8.1 (double), 8.2 (32
/// bit); BME280 data sheet, 4.2.3 and 8.1, 8.2. Raw numbers: 20 bits of temperature and pressure, 16 of humidity. `N`:
/// double or Recorded.
namespace trimmed {

inline constexpr std::string_view kDouble = "BMP280 data sheet, 8.1; BME280 data sheet, 8.1";

/// t_fine; °C = t_fine/5120.
template <class N>
[[nodiscard]] N fineOf(const Trimmed<N>& c, const N& raw) {
    const N var1 = step("var1", "", kDouble, (raw / 16384.0 - c.t1 / 1024.0) * c.t2);
    const N d = raw / 131072.0 - c.t1 / 8192.0;
    const N var2 = step("var2", "", kDouble, d * d * c.t3);
    return step("t_fine", "", kDouble, var1 + var2);
}

/// Pa; no value where the divisor would be 0.
template <class N>
[[nodiscard]] N pascalOf(const Trimmed<N>& c, const N& fine, const N& raw) {
    const N x = step("var1", "", kDouble, fine / 2.0 - 64000.0);
    const N y = step("var2", "", kDouble, (x * x * c.p6 / 32768.0 + x * c.p5 * 2.0) / 4.0 + c.p4 * 65536.0);
    const N slope = (c.p3 * x * x / 524288.0 + c.p2 * x) / 524288.0;
    const N divisor = step("var1", "", kDouble, (1.0 + slope / 32768.0) * c.p1);
    const N p = step("p0", "Pa", kDouble, (1048576.0 - raw - y / 4096.0) * 6250.0 / divisor);
    return step("p", "Pa", kDouble, p + (c.p9 * p * p / 2147483648.0 + p * c.p8 / 32768.0 + c.p7) / 16.0);
}

/// %RH before it is cut to 0 … 100.
template <class N>
[[nodiscard]] N uncutPercentOf(const Trimmed<N>& c, const N& fine, const N& raw) {
    const N h = step("h0", "", kDouble, fine - 76800.0);
    const N more = step("h1", "", kDouble,
                        (raw - (c.h4 * 64.0 + c.h5 / 16384.0 * h)) *
                            (c.h2 / 65536.0 * (1.0 + c.h6 / 67108864.0 * h * (1.0 + c.h3 / 67108864.0 * h))));
    return step("RH", "percent", kDouble, more * (1.0 - c.h1 * more / 524288.0));
}

/// %RH, cut to 0 … 100 as printed.
template <class N>
[[nodiscard]] N cutPercent(const N& h) {
    return choose(
        h > N(100.0), [] { return N(100.0); },
        [&] {
            return choose(
                h < N(0.0), [] { return N(0.0); }, [&] { return h; });
        });
}

using Int32 = Whole<std::int32_t>;
using Int64 = Whole<std::int64_t>;
using Uint32 = Whole<std::uint32_t>;
/// What the integer routines count with: words of the part, or numbers of a recording.
using Words = Trimmed<Recorded>;

/// t_fine of the integer routine; °C = (5·t_fine + 128) >> 8, in hundredths.
[[nodiscard]] Int32 fineInt(const Words& c, const Recorded& raw);
/// Pa in 1/256; 0 where the divisor would be 0.
[[nodiscard]] Int64 pascalInt64(const Words& c, const Int32& fine, const Recorded& raw);
/// Pa; 0 where the divisor would be 0.
[[nodiscard]] Uint32 pascalInt32(const Words& c, const Int32& fine, const Recorded& raw);
/// %RH in 1/1024.
[[nodiscard]] Int32 percentInt32(const Words& c, const Int32& fine, const Recorded& raw);

}  // namespace trimmed
}  // namespace fg
