// What a proof of written code says: the worst error over the codes it was run over, wherever in them it lies and
// however the codes were shared out, and no more of them than there is time for.

#include "handover/gauge_code.h"
#include "path/default_gauge.h"
#include "support.h"

#include <gtest/gtest.h>
#include <cmath>
#include <random>

namespace fg {
namespace {

using test::catalogue;

/// A part in a divider of 10 kΩ to ground, before a converter of the catalogue.
Gauge dividerBefore(const char* part, const char* converter) {
    GaugeSpec spec = defaultGauge(*catalogue().findPart(part));
    spec.examples.clear();
    spec.wiring.kind = "divider";
    spec.wiring.parameters.set("fixed_ohm", 10e3);
    spec.wiring.parameters.set("sensor_side", std::string("low"));
    spec.converter = {};
    spec.converter.part = converter;
    spec.name = part;
    auto gauge = Gauge::make(spec, catalogue());
    EXPECT_TRUE(gauge) << (gauge ? "" : gauge.error().message());
    return std::move(*gauge);
}

/// `errorAt` runs the code at one place: by it the proof is held against places drawn by chance, and its own worst.
void expectWorst(const GaugeCode& code, const std::string& what) {
    ASSERT_TRUE(code.errorAt) << what;
    EXPECT_NEAR(std::abs(code.errorAt(code.error.atCode)), code.error.worst, 1e-12 * (1 + code.error.worst)) << what;
    EXPECT_LE(code.error.mean, code.error.worst) << what;
    std::mt19937 random(3);
    std::uniform_int_distribution<std::int64_t> any(code.range.first, code.range.last);
    double sum = 0;
    constexpr int kPlaces = 4000;
    for (int i = 0; i < kPlaces; ++i) sum += std::abs(code.errorAt(any(random)));
    EXPECT_NEAR(sum / kPlaces, code.error.mean, 0.2 * code.error.mean + 1e-15) << what;
}

TEST(CodeProof, FindsTheWorstOfMillionsOfCodes) {
    const Gauge gauge = dividerBefore("ntc-10k-3950", "ads1220");
    for (const CodeArithmetic arithmetic : {CodeArithmetic::Float, CodeArithmetic::Int32, CodeArithmetic::Int64}) {
        const auto code = writeCode(gauge, {.arithmetic = arithmetic});
        const std::string what(arithmeticName(arithmetic));
        ASSERT_TRUE(code) << what << code.error().message();
        EXPECT_EQ(code->error.checked, code->range.size()) << what;
        expectWorst(*code, what);
        // Every code next to the worst is no worse.
        for (std::int64_t at = code->error.atCode - 2000; at <= code->error.atCode + 2000; ++at)
            if (at >= code->range.first && at <= code->range.last) {
                ASSERT_LE(std::abs(code->errorAt(at)), code->error.worst) << what << at;
            }
    }
}

/// Platinum is solved for: 54 halvings of its equation for each code. Of 16 million codes some are gone through.
TEST(CodeProof, GoesThroughSomeCodesOfWhatIsSolved) {
    const Gauge gauge = dividerBefore("pt100", "hx711");
    for (const CodeArithmetic arithmetic : {CodeArithmetic::Float, CodeArithmetic::Double}) {
        const auto code = writeCode(gauge, {.arithmetic = arithmetic});
        const std::string what(arithmeticName(arithmetic));
        ASSERT_TRUE(code) << what << code.error().message();
        EXPECT_GT(code->error.checked, 50'000) << what;
        EXPECT_LT(code->error.checked, 1'000'000) << what;
        expectWorst(*code, what);
        const int halvings = arithmetic == CodeArithmetic::Float ? 26 : 54;
        EXPECT_GT(code->operations, 4 * halvings) << what;
        EXPECT_LT(code->operations, 60 * halvings) << what;
    }
    // Of a converter with 12 bits it is every one.
    const Gauge small = dividerBefore("pt100", "adc-12bit-3v3");
    const auto code = writeCode(small, {.arithmetic = CodeArithmetic::Double});
    ASSERT_TRUE(code) << code.error().message();
    EXPECT_EQ(code->error.checked, code->range.size());
}

}  // namespace
}  // namespace fg
