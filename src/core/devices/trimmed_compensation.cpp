#include "devices/trimmed_compensation.h"

#include "devices/tracer.h"

namespace fg::trimmed {

std::int32_t fineInt(const TrimmedCoefficients& c, std::int32_t raw) {
    const std::int32_t var1 = asr(wrapMul(asr(raw, 3) - (std::int32_t{c.t1} << 1), c.t2), 11);
    const std::int32_t d = asr(raw, 4) - c.t1;
    const std::int32_t var2 = asr(wrapMul(asr(wrapMul(d, d), 12), c.t3), 14);
    return wrapAdd(var1, var2);
}

namespace {

/// 64-bit arithmetic that wraps: with coefficients no part has, the printed routine would overflow.
std::int64_t mul(std::int64_t a, std::int64_t b) {
    return static_cast<std::int64_t>(static_cast<std::uint64_t>(a) * static_cast<std::uint64_t>(b));
}
std::int64_t add(std::int64_t a, std::int64_t b) {
    return static_cast<std::int64_t>(static_cast<std::uint64_t>(a) + static_cast<std::uint64_t>(b));
}
std::int64_t shl(std::int64_t a, int bits) { return static_cast<std::int64_t>(static_cast<std::uint64_t>(a) << bits); }

}  // namespace

std::uint32_t pascalInt64(const TrimmedCoefficients& c, std::int32_t fine, std::int32_t raw) {
    std::int64_t var1 = std::int64_t{fine} - 128000;
    std::int64_t var2 = mul(mul(var1, var1), c.p6);
    var2 = add(var2, shl(mul(var1, c.p5), 17));
    var2 = add(var2, shl(c.p4, 35));
    var1 = add(mul(mul(var1, var1), c.p3) >> 8, shl(mul(var1, c.p2), 12));
    var1 = mul(add(std::int64_t{1} << 47, var1), c.p1) >> 33;
    if (var1 == 0) return 0;
    std::int64_t p = 1048576 - raw;
    const std::int64_t numerator = mul(add(shl(p, 31), -var2), 3125);
    if (var1 == -1) return 0;  // the quotient could not be held; no part has such coefficients
    p = numerator / var1;
    var1 = mul(mul(c.p9, p >> 13), p >> 13) >> 25;
    var2 = mul(c.p8, p) >> 19;
    p = add(add(add(p, var1), var2) >> 8, shl(c.p7, 4));
    return static_cast<std::uint32_t>(p);
}

std::uint32_t pascalInt32(const TrimmedCoefficients& c, std::int32_t fine, std::int32_t raw) {
    std::int32_t var1 = wrapSub(asr(fine, 1), 64000);
    const std::int32_t quarter = asr(var1, 2), square = wrapMul(quarter, quarter);
    std::int32_t var2 = wrapMul(asr(square, 11), c.p6);
    var2 = wrapAdd(var2, wrapShl(wrapMul(var1, c.p5), 1));
    var2 = wrapAdd(asr(var2, 2), wrapShl(c.p4, 16));
    var1 = asr(wrapAdd(asr(wrapMul(c.p3, asr(square, 13)), 3), asr(wrapMul(c.p2, var1), 1)), 18);
    var1 = asr(wrapMul(wrapAdd(32768, var1), c.p1), 15);
    if (var1 == 0) return 0;
    std::uint32_t p = (static_cast<std::uint32_t>(1048576 - raw) - static_cast<std::uint32_t>(asr(var2, 12))) * 3125u;
    p = p < 0x80000000u ? (p << 1) / static_cast<std::uint32_t>(var1) : p / static_cast<std::uint32_t>(var1) * 2;
    var1 = asr(wrapMul(c.p9, static_cast<std::int32_t>(((p >> 3) * (p >> 3)) >> 13)), 12);
    var2 = asr(wrapMul(static_cast<std::int32_t>(p >> 2), c.p8), 13);
    return static_cast<std::uint32_t>(
        wrapAdd(static_cast<std::int32_t>(p), asr(wrapAdd(wrapAdd(var1, var2), c.p7), 4)));
}

std::uint32_t percentInt32(const TrimmedCoefficients& c, std::int32_t fine, std::int32_t raw) {
    std::int32_t v = wrapSub(fine, 76800);
    const std::int32_t offset =
        asr(wrapAdd(wrapSub(wrapSub(wrapShl(raw, 14), wrapShl(c.h4, 20)), wrapMul(c.h5, v)), 16384), 15);
    const std::int32_t bend = asr(wrapMul(asr(wrapMul(v, c.h6), 10), wrapAdd(asr(wrapMul(v, c.h3), 11), 32768)), 10);
    const std::int32_t slope = asr(wrapAdd(wrapMul(wrapAdd(bend, 2097152), c.h2), 8192), 14);
    v = wrapMul(offset, slope);
    v = wrapSub(v, asr(wrapMul(asr(wrapMul(asr(v, 15), asr(v, 15)), 7), c.h1), 4));
    v = v < 0 ? 0 : v > 419430400 ? 419430400 : v;
    return static_cast<std::uint32_t>(v >> 12);
}

}  // namespace fg::trimmed
