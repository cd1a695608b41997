// Choosing a part: every requirement met, left open and ruled out; the numbers from hand calculations.

#include "choosing/candidate.h"
#include "choosing/first_gauge.h"
#include "sizing/sensor_divider.h"
#include "support.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace fg {
namespace {

Need need(const std::string& json) {
    auto read = readNeed(json, "need.json");
    if (!read) throw std::runtime_error(read.error().message());
    return *read;
}

Candidate judged(const Need& of, const std::string& part) {
    if (const DevicePart* device = test::catalogue().findDevicePart(part)) return judge(of, *device, test::catalogue());
    return judge(of, *test::catalogue().findPart(part), test::catalogue());
}

struct Case {
    const char* name;
    const char* need;  // without the outer braces
    const char* part;
    const char* mark;
    Verdict verdict;
    const char* text;
};
std::ostream& operator<<(std::ostream& out, const Case& one) { return out << one.name; }

constexpr const char* kWarm = R"("wishes":[{"quantity":"temperature","span":[10,60],"accuracy":1,"resolution":0.1}])";

class Requirement : public testing::TestWithParam<Case> {};

TEST_P(Requirement, IsMetOpenOrRuledOutAndSaysWhy) {
    const Case& one = GetParam();
    const Candidate candidate = judged(need(std::string("{") + one.need + "}"), one.part);
    const Mark* mark = candidate.mark(one.mark);
    ASSERT_TRUE(mark) << one.mark;
    EXPECT_EQ(verdictName(mark->verdict), verdictName(one.verdict)) << mark->text;
    EXPECT_NE(mark->text.find(one.text), std::string::npos) << mark->text;
    EXPECT_EQ(candidate.isRuledOut(), one.verdict == Verdict::Ruled) << candidate.why;
    if (one.verdict != Verdict::Met) {
        EXPECT_NE(candidate.why.find(mark->text), std::string::npos) << candidate.why;
    }
}

INSTANTIATE_TEST_SUITE_P(
    Rules, Requirement,
    testing::Values(
        Case{"quantity",
             R"("wishes":[{"quantity":"temperature","span":[5,35]},{"quantity":"humidity","span":[30,70]}])", "ds18b20",
             "quantity", Verdict::Ruled, "does not measure humidity: it measures temperature"},
        Case{"chip", R"("wishes":[{"quantity":"temperature","span":[10,60]}])", "chip-points", "quantity",
             Verdict::Open, "the chip it sits in"},
        // With the air's own 870 … 1085 hPa an absolute part sees 820 … 1095 hPa of it.
        Case{"gauge_met", R"("wishes":[{"quantity":"pressure","span":[2000,8000],"pressure_kind":"gauge"}])", "mpx5010",
             "pressure-kind", Verdict::Met, "second port open to the air"},
        Case{"gauge_of_absolute", R"("wishes":[{"quantity":"pressure","span":[-5000,1000],"pressure_kind":"gauge"}])",
             "bmp280", "pressure-kind", Verdict::Open, "take the air's own off"},
        Case{"absolute", R"("wishes":[{"quantity":"pressure","span":[2000,8000],"pressure_kind":"absolute"}])",
             "mpx5010", "pressure-kind", Verdict::Ruled, "the air's own is not in its reading"},
        Case{"span", R"("wishes":[{"quantity":"temperature","span":[0,120]}])", "bmp280", "span", Verdict::Ruled,
             "works at −40 … 85 °C, 0 … 120 °C wanted"},
        Case{"span_met", kWarm, "ds18b20", "span", Verdict::Met, "−55 … 125 °C covers 10 … 60 °C"},
        // LM35 D grade: ± 2 °C; with its divider's share that is more than ± 2/√3 · 2.
        Case{"accuracy", R"("wishes":[{"quantity":"temperature","span":[10,60],"accuracy":0.5}])", "lm35", "accuracy",
             Verdict::Ruled, "(its document: ± 2.0 °C) against ± 0.50 °C wanted"},
        // ± 0.5 and half a step of ± 0.031: a trapezium, 0.531 − √(0.0455·4·0.5·0.03125) = 0.478.
        Case{"accuracy_met", kWarm, "ds18b20", "accuracy", Verdict::Met,
             "± 0.48 °C (its document: ± 0.50 °C), ± 1.0 °C wanted"},
        Case{"accuracy_unstated", R"("wishes":[{"quantity":"temperature","span":[10,60],"accuracy":5}])", "ntc",
             "accuracy", Verdict::Open, "depends on your part: R25, at 25 °C, Beta value B are not given"},
        Case{"resolution", R"("wishes":[{"quantity":"temperature","span":[10,40],"resolution":0.1}])", "dht11",
             "resolution", Verdict::Ruled, "steps of 1.0 °C, 0.10 °C wanted"},
        // 5 V/1024/10 mV = 0.49 °C a code.
        Case{"resolution_of_the_converter",
             R"("wishes":[{"quantity":"temperature","span":[10,40],"resolution":0.1}],"free":{"analog_pins":1,
                "converter":"adc-10bit-supply"})",
             "tmp36", "resolution", Verdict::Ruled, "steps of 0.49 °C with this converter"},
        Case{"interval", R"("wishes":[{"quantity":"humidity","span":[30,70]}],"interval_s":1)", "dht22", "interval",
             Verdict::Ruled, "one reading in 2.00 s, one in 1.00 s wanted"},
        Case{"interval_any", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"interval_s":0.01)", "tmp36",
             "interval", Verdict::Met, "as often as the converter asks"},
        Case{"liquid", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"medium":"liquid")", "sht31", "medium",
             Verdict::Ruled, "must stay dry"},
        Case{"liquid_with_care", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"medium":"liquid")", "pt100",
             "medium", Verdict::Open, "sealed in a sleeve"},
        Case{"surface_met", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"medium":"surface")",
             "thermocouple-k", "medium", Verdict::Met, "clamp or cement"},
        Case{"wall", R"("wishes":[{"quantity":"illuminance","span":[10,1000]}],"medium":"wall")", "bh1750", "medium",
             Verdict::Ruled, "through a wall: sees no light"},
        Case{"supply", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"supplies_V":[3.3])", "lm35", "supply",
             Verdict::Ruled, "needs 4 … 30 V, the board has 3.3 V"},
        Case{"supply_and_levels",
             R"("wishes":[{"quantity":"pressure","unit":"hPa","span":[950,1050]}],"supplies_V":[5,3.3])", "bmp280",
             "supply", Verdict::Met, "3.3 V will do (1.71 … 3.6 V); its lines must not be pulled up to 5 V"},
        Case{"supply_none", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"supplies_V":[3.3])", "pt100",
             "supply", Verdict::Met, "no supply of its own"},
        // 1.5 mA for 15.5 ms of each second, 2 µA in between: 25 µA.
        Case{"battery", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"battery":true,"interval_s":1)",
             "sht31", "battery", Verdict::Met, "about 25 µA on average"},
        Case{"battery_hungry", R"("wishes":[{"quantity":"pressure","span":[1000,8000]}],"battery":true)", "mpx5010",
             "battery", Verdict::Open, "7.0 mA all the time"},
        Case{"no_pin", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"free":{"i2c":true})", "tmp36",
             "connection", Verdict::Ruled, "needs 1 analog pin, 0 free"},
        Case{"no_bus", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"free":{"analog_pins":4})", "tmp117",
             "connection", Verdict::Ruled, "needs I²C, which is not free"},
        Case{"one_wire_on_a_pin", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"free":{"digital_pins":1})",
             "ds18b20", "connection", Verdict::Met, "1-wire"},
        Case{"two_pins", R"("wishes":[{"quantity":"temperature","span":[10,40]}],"free":{"digital_pins":1},"count":2)",
             "dht22", "connection", Verdict::Ruled, "needs 2 digital pins, 1 free"},
        Case{"bridge", R"("wishes":[{"quantity":"pressure","span":[1000,50000]}],"free":{"analog_pins":2})", "bridge",
             "connection", Verdict::Ruled, "too small for a pin"},
        // 100 kbit/s: 1000 ns/(0.8473 · C) must stay above 967 Ω, so at most 1.22 nF: 12 m of cable.
        Case{"cable_i2c", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"cable_m":15)", "tmp117", "cable",
             Verdict::Ruled, "no pull-up raises"},
        Case{"cable_i2c_met", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"cable_m":2)", "tmp117", "cable",
             Verdict::Met, "2 m with a pull-up"},
        // 2 · 5 m · 0.0784 Ω/m = 0.784 Ω; at 0.385 Ω/°C some 2 °C.
        Case{"cable_platinum", R"("wishes":[{"quantity":"temperature","span":[0,100],"accuracy":5}],"cable_m":5)",
             "pt100", "cable", Verdict::Open, "add 0.78 Ω"},
        Case{"cable_loop", R"("wishes":[{"quantity":"pressure","span":[1000,90000]}],"cable_m":80)", "pressure-4-20ma",
             "cable", Verdict::Met, "as it was sent"},
        Case{"cable_capacitive", R"("wishes":[{"quantity":"humidity","span":[30,70]}],"cable_m":1)", "hs1101", "cable",
             Verdict::Ruled, "100 pF"},
        Case{"cable_voltage", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"cable_m":10)", "tmp36", "cable",
             Verdict::Open, "hum"},
        Case{"hot", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"hot_degC":110)", "bmp280", "place",
             Verdict::Ruled, "works up to 85 °C, it gets 110 °C there"},
        Case{"wet", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"place":["wet"])", "ds18b20", "place",
             Verdict::Met, "as a sealed probe"},
        Case{"case", R"("wishes":[{"quantity":"humidity","span":[30,70]}],"place":["case"])", "sht31", "place",
             Verdict::Open, "needs an opening"},
        Case{"count", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"count":3)", "sht31", "count",
             Verdict::Open, "2 addresses for 3"},
        Case{"count_met", R"("wishes":[{"quantity":"temperature","span":[10,60]}],"count":3)", "ds18b20", "count",
             Verdict::Met, "each told by its own code"}),
    [](const auto& one) { return std::string(one.param.name); });

TEST(Choose, EveryPartIsARowAndTheBestStandFirst) {
    const Need tray = need(
        std::string("{") + kWarm +
        R"(,"interval_s":2,"medium":"liquid","supplies_V":[3.3],"free":{"analog_pins":2,"converter":"adc-12bit-3v3",)"
        R"("digital_pins":2,"i2c":true,"one_wire":true},"cable_m":2,"place":["wet"],"count":2})");
    const auto all = choose(tray, test::catalogue()).value();
    std::set<std::string> ids;
    for (const Candidate& one : all) ids.insert(one.id);
    const std::size_t parts = test::catalogue().parts().size() + test::catalogue().devices().size();
    EXPECT_EQ(all.size(), parts);
    EXPECT_EQ(ids.size(), parts);
    EXPECT_EQ(all.front().id, "ds18b20");  // the only kind that needs nothing more for a wet place: its sibling follows
    EXPECT_EQ(all[1].id, "ds18s20");
    EXPECT_EQ(all.front().count(Verdict::Open), 0);
    bool wasRuled = false, wasOther = false;
    for (const Candidate& one : all) {
        EXPECT_FALSE(wasRuled && !one.isRuledOut()) << one.id << " after a part that is ruled out";
        const bool isOther = one.mark("quantity")->verdict == Verdict::Ruled;
        EXPECT_FALSE(wasOther && !isOther) << one.id << " after one for another quantity";
        wasRuled = one.isRuledOut();
        wasOther = isOther;
        EXPECT_FALSE(one.why.empty()) << one.id;
    }
}

TEST(Choose, TheFirstGaugeIsSizedForTheSpan) {
    const Need pot = need(
        R"({"wishes":[{"quantity":"temperature","span":[20,90],"accuracy":2}],"free":{"analog_pins":1,
            "converter":"adc-12bit-3v3"}})");
    const Candidate ntc = judged(pot, "ntc");
    const GaugeSpec& spec = ntc.gauges.front();
    EXPECT_EQ(spec.converter.part, "adc-12bit-3v3");
    EXPECT_EQ(spec.reading.span.high, 90);
    EXPECT_EQ(spec.reading.wanted, 2);
    EXPECT_EQ(spec.wiring.parameters.number("fixed_ohm"),
              sizeSensorDivider(spec, test::catalogue(), {}).value().front().fixed_ohm);

    // 0.2 … 4.7 V of a 5 V part onto a pin of 3.3 V: a divider that never exceeds it, with both resistors at their
    // worst.
    const Need pressure = need(
        R"({"wishes":[{"quantity":"pressure","unit":"kPa","span":[0,10]}],"supplies_V":[5],"free":{"analog_pins":1,
            "converter":"adc-12bit-3v3"}})");
    const GaugeSpec divided = judged(pressure, "mpx5010").gauges.front();
    ASSERT_EQ(divided.wiring.kind, "attenuator");
    const double top = divided.wiring.parameters.number("top_ohm").value(),
                 bottom = divided.wiring.parameters.number("bottom_ohm").value();
    EXPECT_LE(4.7 * bottom * 1.01 / (top * 0.99 + bottom * 1.01), 3.3);
    EXPECT_GT(4.7 * bottom / (top + bottom), 2.5);
    EXPECT_TRUE(AnalogPath::build(divided, test::catalogue()));
}

// A part that follows its supply, on a converter whose reference is that supply: what the supply does cancels. U is
// then that of the part's ± 1500 Pa and the converter's 2 codes of 4.88 mV over 45 µV/Pa, ± 217 Pa: a trapezium, 1717 −
// √(0.0455·4·1500·217) = 1474 Pa.
TEST(Choose, ASupplyThatIsTheReferenceCancels) {
    const Need clamp =
        need(R"({"wishes":[{"quantity":"pressure","unit":"kPa","span":[20,101],"accuracy":2}],"supplies_V":[5],)"
             R"("free":{"analog_pins":1,"converter":"adc-10bit-supply"}})");
    const Candidate part = judged(clamp, "mpx4115a");
    EXPECT_FALSE(part.isRuledOut()) << part.why;
    EXPECT_NEAR(part.trust[0].expanded, 1474, 6);
    // Fed from another supply than the reference nothing cancels, and 5 % of the reference rule it out.
    Need apart = clamp;
    apart.supplies_V = {5.2};
    EXPECT_EQ(judged(apart, "mpx4115a").mark("accuracy")->verdict, Verdict::Ruled);
}

TEST(Choose, TwoWishesMakeTwoGaugesOfOnePart) {
    const Need store = need(
        R"({"wishes":[{"quantity":"temperature","span":[5,35],"accuracy":0.6},{"quantity":"humidity","span":[30,70],
            "accuracy":4}]})");
    const Candidate sht = judged(store, "sht31");
    ASSERT_EQ(sht.gauges.size(), 2u);
    EXPECT_EQ(sht.gauges[1].quantity, Quantity::RelativeHumidity);
    // ± 2 %RH and a step of 100/65535: 95.45 % of a rectangle.
    EXPECT_NEAR(sht.trust[1].expanded, 0.9545 * 2, 1e-3);
    EXPECT_NEAR(sht.tightest()->margin, 4 / 1.909, 2e-3);
}

TEST(Need, ErrorsNameTheFieldAndWhatWasExpected) {
    const auto refused = [](const std::string& json) {
        const auto read = readNeed(json, "n.json");
        return read ? std::string("read") : read.error().message();
    };
    EXPECT_NE(refused("{}").find("wishes: found nothing"), std::string::npos);
    EXPECT_NE(refused(R"({"wishes":[]})").find("nothing to measure"), std::string::npos);
    EXPECT_NE(refused(R"({"wishes":[{"quantity":"temperature","span":[60,10]}]})").find("span"), std::string::npos);
    EXPECT_NE(refused(R"({"wishes":[{"quantity":"warmth","span":[1,2]}]})").find("warmth"), std::string::npos);
    EXPECT_NE(refused(R"({"wishes":[{"quantity":"pressure","unit":"degC","span":[1,2]}]})").find("unit"),
              std::string::npos);
    EXPECT_NE(refused(R"({"wishes":[{"quantity":"temperature","span":[1,2]}],"medium":"soup"})").find("“soup”"),
              std::string::npos);
    EXPECT_NE(refused(R"({"wishes":[{"quantity":"temperature","span":[1,2]}],"voltage":3})").find("not known here"),
              std::string::npos);
    EXPECT_NE(
        refused(R"({"wishes":[{"quantity":"temperature","span":[1,2]}],"supplies_V":[-5]})").find("voltages above 0 V"),
        std::string::npos);
    EXPECT_NE(refused(R"({"wishes":[{"quantity":"temperature","span":[1,2]}],"count":0})").find("at least 1"),
              std::string::npos);
    EXPECT_NE(refused(R"({"wishes":[{"quantity":"temperature","span":[1,2]},{"quantity":"temperature","span":[1,2]}]})")
                  .find("a second time"),
              std::string::npos);
    Need unknown = need(R"({"wishes":[{"quantity":"temperature","span":[1,2]}]})");
    unknown.free = FreePlaces{1, "adc-99bit", 0, false, false, false};
    EXPECT_EQ(choose(unknown, test::catalogue()).error().where, "free.converter");
    const Need fahrenheit =
        need(R"({"wishes":[{"quantity":"temperature","unit":"degF","span":[32,212],"accuracy":1.8}]})");
    EXPECT_NEAR(fahrenheit.wishes[0].span.high, 100, 1e-9);
    EXPECT_NEAR(fahrenheit.wishes[0].accuracy, 1, 1e-9);
}

}  // namespace
}  // namespace fg
