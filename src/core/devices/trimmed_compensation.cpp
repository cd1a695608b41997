#include "devices/trimmed_compensation.h"

namespace fg::trimmed {
namespace {

constexpr std::string_view kInt32 = "BMP280 data sheet, 8.2; BME280 data sheet, 4.2.3",
                           kInt64 = "BMP280 data sheet, 3.11.3";

Int32 n32(const Recorded& word) { return wholeOf<std::int32_t>(word); }
Int64 n64(const Recorded& word) { return wholeOf<std::int64_t>(word); }

template <class Rep>
Whole<Rep> named(std::string_view name, std::string_view source, const Whole<Rep>& x) {
    return step(name, "", source, x);
}

}  // namespace

Int32 fineInt(const Words& c, const Recorded& raw) {
    const Int32 t = n32(raw), t1 = n32(c.t1);
    const Int32 var1 = named("var1", kInt32, (((t >> 3) - (t1 << 1)) * n32(c.t2)) >> 11);
    const Int32 d = (t >> 4) - t1;
    const Int32 var2 = named("var2", kInt32, (((d * d) >> 12) * n32(c.t3)) >> 14);
    return named("t_fine32", kInt32, var1 + var2);
}

Int64 pascalInt64(const Words& c, const Int32& fine, const Recorded& raw) {
    const Int64 x = named("var1", kInt64, fine.as<std::int64_t>() - 128000);
    const Int64 y = named("var2", kInt64, x * x * n64(c.p6) + ((x * n64(c.p5)) << 17) + (n64(c.p4) << 35));
    const Int64 slope = ((x * x * n64(c.p3)) >> 8) + ((x * n64(c.p2)) << 12);
    const Int64 divisor = named("var1", kInt64, (((Int64(1) << 47) + slope) * n64(c.p1)) >> 33);
    // The quotient by −1 could not be held; no part has such coefficients.
    if (divisor.value() == 0 || divisor.value() == -1) return 0;
    const Int64 p = named("p0", kInt64, (((Int64(1048576) - n64(raw)) << 31) - y) * 3125 / divisor);
    const Int64 a = named("var1", kInt64, (n64(c.p9) * (p >> 13) * (p >> 13)) >> 25);
    const Int64 b = named("var2", kInt64, (n64(c.p8) * p) >> 19);
    return named("p64", kInt64, ((p + a + b) >> 8) + (n64(c.p7) << 4));
}

Uint32 pascalInt32(const Words& c, const Int32& fine, const Recorded& raw) {
    const Int32 x = named("var1", kInt32, (fine >> 1) - 64000);
    const Int32 square = (x >> 2) * (x >> 2);
    const Int32 y =
        named("var2", kInt32, (((square >> 11) * n32(c.p6) + ((x * n32(c.p5)) << 1)) >> 2) + (n32(c.p4) << 16));
    const Int32 slope = named("var1", kInt32, (((n32(c.p3) * (square >> 13)) >> 3) + ((n32(c.p2) * x) >> 1)) >> 18);
    const Int32 divisor = named("var1", kInt32, ((Int32(32768) + slope) * n32(c.p1)) >> 15);
    if (divisor.value() == 0) return 0;
    const Uint32 by = divisor.as<std::uint32_t>();
    const Uint32 start =
        named("p0", kInt32, ((Int32(1048576) - n32(raw)).as<std::uint32_t>() - (y >> 12).as<std::uint32_t>()) * 3125);
    const Uint32 p = named("p0", kInt32, select(start < Uint32(0x80000000U), (start << 1) / by, start / by * 2));
    const Int32 a = named("var1", kInt32, (n32(c.p9) * (((p >> 3) * (p >> 3)) >> 13).as<std::int32_t>()) >> 12);
    const Int32 b = named("var2", kInt32, ((p >> 2).as<std::int32_t>() * n32(c.p8)) >> 13);
    return named("p32", kInt32, (p.as<std::int32_t>() + ((a + b + n32(c.p7)) >> 4)).as<std::uint32_t>());
}

Int32 percentInt32(const Words& c, const Int32& fine, const Recorded& raw) {
    const Int32 v = named("v", kInt32, fine - 76800);
    const Int32 offset = named("offset", kInt32, ((n32(raw) << 14) - (n32(c.h4) << 20) - n32(c.h5) * v + 16384) >> 15);
    const Int32 bend = (((v * n32(c.h6)) >> 10) * (((v * n32(c.h3)) >> 11) + 32768)) >> 10;
    const Int32 slope = named("slope", kInt32, ((bend + 2097152) * n32(c.h2) + 8192) >> 14);
    const Int32 product = named("v", kInt32, offset * slope);
    const Int32 high = product >> 15;
    const Int32 h = named("v", kInt32, product - ((((high * high) >> 7) * n32(c.h1)) >> 4));
    const Int32 cut = select(h < Int32(0), Int32(0), select(h > Int32(419430400), Int32(419430400), h));
    return named("RH32", kInt32, cut >> 12);
}

}  // namespace fg::trimmed
