// Five million raw triples of the barometer with humidity: the bulk routine against a hand-written loop of the same
// double formulas, and against a loop that only widens the integers. Ratios of one run, and a check that no digit
// differs.

#include "devices/trimmed_bulk.h"
#include "ratio.h"

#include <cstdio>
#include <cstring>
#include <random>

namespace {

using namespace fg;

constexpr std::size_t kRows = 5'000'000;
const TrimmedCoefficients kWords{27504, 26435,  -1000, 36477, -10685, 3024, 2855, 140, -7,
                                 15500, -14600, 6000,  75,    370,    0,    313,  50,  30};

volatile double sink = 0;

/// The data sheet's formulas as anybody would write them into a loop.
void byHand(const std::vector<std::int32_t>& rt, const std::vector<std::int32_t>& rp,
            const std::vector<std::int32_t>& rh, std::vector<double>& t, std::vector<double>& p,
            std::vector<double>& h) {
    const TrimmedCoefficients& c = kWords;
    for (std::size_t i = 0; i < kRows; ++i) {
        const double v1 = (rt[i] / 16384.0 - c.t1 / 1024.0) * c.t2;
        const double d = rt[i] / 131072.0 - c.t1 / 8192.0;
        const double fine = v1 + d * d * c.t3;
        t[i] = fine / 5120.0;
        double a = fine / 2.0 - 64000.0;
        double b = a * a * c.p6 / 32768.0;
        b = b + a * c.p5 * 2.0;
        b = b / 4.0 + c.p4 * 65536.0;
        a = (c.p3 * a * a / 524288.0 + c.p2 * a) / 524288.0;
        a = (1.0 + a / 32768.0) * c.p1;
        double x = 1048576.0 - rp[i];
        x = (x - b / 4096.0) * 6250.0 / a;
        p[i] = x + (c.p9 * x * x / 2147483648.0 + x * c.p8 / 32768.0 + c.p7) / 16.0;
        double y = fine - 76800.0;
        y = (rh[i] - (c.h4 * 64.0 + c.h5 / 16384.0 * y)) *
            (c.h2 / 65536.0 * (1.0 + c.h6 / 67108864.0 * y * (1.0 + c.h3 / 67108864.0 * y)));
        y = y * (1.0 - c.h1 * y / 524288.0);
        h[i] = y > 100.0 ? 100.0 : y < 0.0 ? 0.0 : y;
    }
    sink = h[kRows / 2];
}

}  // namespace

int main() {
    std::mt19937 random(3);
    std::vector<std::int32_t> rt(kRows), rp(kRows), rh(kRows);
    for (std::size_t i = 0; i < kRows; ++i) {
        rt[i] = 480000 + static_cast<std::int32_t>(random() % 80000);
        rp[i] = 350000 + static_cast<std::int32_t>(random() % 120000);
        rh[i] = 22000 + static_cast<std::int32_t>(random() % 12000);
    }
    std::vector<double> t(kRows), p(kRows), h(kRows), t2(kRows), p2(kRows), h2(kRows);
    const auto bulk = [&] {
        compensateColumns(kWords, {rt, rp, rh}, {t, p, h});
        sink = h[kRows / 2];
    };
    const auto hand = [&] { byHand(rt, rp, rh, t2, p2, h2); };
    const auto widen = [&] {
        for (std::size_t i = 0; i < kRows; ++i) {
            t2[i] = rt[i];
            p2[i] = rp[i];
            h2[i] = rh[i];
        }
        sink = h2[kRows / 2];
    };
    bulk();
    hand();
    const bool same = std::memcmp(t.data(), t2.data(), kRows * sizeof(double)) == 0 &&
                      std::memcmp(p.data(), p2.data(), kRows * sizeof(double)) == 0 &&
                      std::memcmp(h.data(), h2.data(), kRows * sizeof(double)) == 0;
    std::printf("bulk decode, 5 M triples: %.2f x a hand-written loop (wanted: at most 1.2); digits %s\n",
                fg::bench::ratio(bulk, hand, 9), same ? "the same" : "DIFFER");
    std::printf("bulk decode, 5 M triples: %.2f x a loop that only widens (stretch: 2)\n",
                fg::bench::ratio(bulk, widen, 9));
    return same ? 0 : 1;
}
