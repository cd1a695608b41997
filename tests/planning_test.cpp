// Pull-ups, addresses and scans.

#include "planning/addresses.h"
#include "planning/bus_findings.h"
#include "planning/one_wire_time.h"
#include "planning/pull_up.h"
#include "support.h"

namespace fg {
namespace {

// UM10204, 7.1: with VDD 3.3 V, 3 mA at 0.4 V the least is 966.7 Ω; fast mode at 200 pF allows 300 ns/(0.8473 · 200 pF)
// = 1.77 kΩ.
TEST(PullUp, WindowOfTheSpecification) {
    PullUpQuestion question;
    question.capacitance_F = 200e-12;
    const PullUpAnswer answer = sizePullUp(question).value();
    EXPECT_NEAR(answer.least_ohm, 966.67, 0.01);
    EXPECT_NEAR(answer.most_ohm, 1770.3, 0.5);
    EXPECT_EQ(answer.fault, LineFault::Missing);
    EXPECT_EQ(answer.recommended_ohm, 1200);  // geometric middle 1308 Ω: 1.2 k is nearer than 1.5 k
    question.kind = LineKind::I2cStandard;
    EXPECT_NEAR(sizePullUp(question)->most_ohm, 5901, 1);
    question.supply_V = 1.8;
    EXPECT_NEAR(sizePullUp(question)->least_ohm, 720, 0.01);  // 0.2·VDD at 2 mA
}

TEST(PullUp, JudgesWhatIsThere) {
    PullUpQuestion question;
    question.capacitance_F = 100e-12;
    question.own_ohm = 4700;
    const PullUpAnswer weak = sizePullUp(question).value();
    EXPECT_EQ(weak.fault, LineFault::TooWeak);
    EXPECT_NEAR(weak.rise_s, std::log(0.7 / 0.3) * 4700 * 100e-12, 1e-15);
    question.own_ohm = 2200;
    EXPECT_EQ(sizePullUp(question)->fault, LineFault::None);
    question.own_ohm.reset();
    question.modules_ohm = {4700, 4700, 4700, 4700, 4700, 4700};  // 783 Ω together
    const PullUpAnswer strong = sizePullUp(question).value();
    EXPECT_EQ(strong.fault, LineFault::TooStrong);
    EXPECT_NEAR(strong.total_ohm, 783.3, 0.1);
    EXPECT_NEAR(strong.sink_A, 2.9 / 783.33, 1e-6);
    EXPECT_FALSE(strong.recommended_ohm);
    question.modules_ohm = {10000};
    question.tiedToGround = true;
    EXPECT_EQ(sizePullUp(question)->fault, LineFault::ToGround);
    question.tiedToGround = false;
    question.capacitance_F = 600e-12;
    EXPECT_EQ(sizePullUp(question)->fault, LineFault::NoWindow);
    question.supply_V = 12;
    EXPECT_EQ(sizePullUp(question).error().where, "supply");
}

TEST(PullUp, CableAndProbesOfTheOtherLines) {
    PullUpQuestion question;
    question.kind = LineKind::OneWire;
    question.supply_V = 5;
    question.cable_m = 3;
    question.devices = 4;
    const PullUpAnswer near = sizePullUp(question).value();
    EXPECT_TRUE(near.estimated);
    EXPECT_NEAR(near.capacitance_F, 360e-12, 1e-15);
    EXPECT_NEAR(near.least_ohm, 1150, 1e-9);                               // 4.6 V at 4 mA
    EXPECT_NEAR(near.most_ohm, 10e-6 / (std::log(5 / 2.8) * 360e-12), 1);  // 47.9 kΩ
    question.own_ohm = 4700;
    EXPECT_EQ(sizePullUp(question)->fault, LineFault::None);
    question.cable_m = 60;
    EXPECT_EQ(sizePullUp(question)->fault, LineFault::TooWeak);
}

TEST(OneWire, TimeOfALine) {
    // By hand: one probe at 12 bits: reset 0.96 ms, 16 slots of 70 µs, 750 ms; read: 0.96 ms and 152 slots.
    const OneWireTime one = oneWireTime(1, 12, false).value();
    EXPECT_NEAR(one.convert_s, 0.75208, 1e-9);
    EXPECT_NEAR(one.read_s, 0.0116, 1e-9);
    EXPECT_NEAR(oneWireTime(4, 12, false)->convert_s, one.convert_s, 1e-12);  // all at once
    EXPECT_NEAR(oneWireTime(4, 12, true)->convert_s, 4 * (0.75 + 0.00096 + 80 * 70e-6), 1e-9);
    EXPECT_EQ(oneWireTime(0, 12, false).error().where, "probes");
    EXPECT_EQ(oneWireTime(1, 13, false).error().where, "resolution");
}

TEST(Addresses, ScanAsGridOrList) {
    const char* const grid =
        "     0  1  2  3  4  5  6  7  8  9  a  b  c  d  e  f\n"
        "00:          -- -- -- -- -- -- -- -- -- -- -- -- --\n"
        "20: -- -- -- 23 -- -- -- -- -- -- -- -- -- -- -- --\n"
        "40: -- -- -- -- -- -- -- -- 48 -- -- -- -- -- -- --\n"
        "60: -- -- -- -- -- -- -- -- UU -- -- -- -- -- -- --\n"
        "70: -- -- -- -- -- -- 76 --\n";
    EXPECT_EQ(readAddressScan(grid).value(), (std::vector<unsigned>{0x23, 0x48, 0x68, 0x76}));
    EXPECT_EQ(readAddressScan("0x48, 76 0x23").value(), (std::vector<unsigned>{0x23, 0x48, 0x76}));
    const auto scanned = [](const char* text) { return readAddressScan(text).value_or(std::vector<unsigned>()); };
    EXPECT_EQ(scanned("[118]"), std::vector<unsigned>{0x76});
    EXPECT_EQ(scanned("[56, 104]"), (std::vector<unsigned>{0x38, 0x68}));
    EXPECT_EQ(scanned("Scanning...\nI2C device found at address 0x76  !\ndone"), std::vector<unsigned>{0x76});
    EXPECT_EQ(scanned("2 devices found\nat 60 and 118"), (std::vector<unsigned>{0x3C, 0x76}));
    EXPECT_EQ(scanned("3c 76"), (std::vector<unsigned>{0x3C, 0x76}));
    EXPECT_EQ(scanned("76"), std::vector<unsigned>{76});
    EXPECT_EQ(readAddressScan("[200]").error().code, ErrorCode::Range);
    EXPECT_EQ(readAddressScan("nothing").error().code, ErrorCode::Missing);
    EXPECT_EQ(readAddressScan("0x4G").error().code, ErrorCode::Syntax);
    EXPECT_EQ(readAddressScan("-- --").error().code, ErrorCode::Missing);
}

TEST(Addresses, CandidatesAndWhatTellsThemApart) {
    const auto at76 = candidatesAt(test::catalogue(), 0x76);
    const auto has = [&](const std::string& id) {
        return std::any_of(at76.begin(), at76.end(), [&](const AddressCandidate& one) { return one.part->id == id; });
    };
    EXPECT_TRUE(has("bmp280") && has("bme280") && has("ms5611") && has("dps310"));
    EXPECT_FALSE(has("bmp180"));
    EXPECT_NE(identityHint(at76).find("read 0xD0: 0x60 is bme280, 0x61 is bme680, 0x58 is bmp280"), std::string::npos)
        << identityHint(at76);
    EXPECT_TRUE(candidatesAt(test::catalogue(), 0x03).empty());
}

TEST(Addresses, ConflictsAndTheWaysOut) {
    const DevicePart* bme = test::catalogue().findDevicePart("bme280");
    const DevicePart* sht = test::catalogue().findDevicePart("sht31");
    const auto conflicts = conflictsOn({{"Barometer", bme, 0x76}, {"Loft", bme, 0x76}, {"Store", sht, 0x44}});
    ASSERT_EQ(conflicts.size(), 1u);
    EXPECT_EQ(conflicts[0].names, (std::vector<std::string>{"Barometer", "Loft"}));
    EXPECT_EQ(conflicts[0].waysOut.front(), "Barometer: SDO to supply makes it 0x77");
    EXPECT_TRUE(conflictsOn({{"Barometer", bme, 0x76}, {"Loft", bme, 0x77}}).empty());
}

TEST(BusFindings, PullUpsSupplyAddressAndPollingOfAGauge) {
    Bench bench;
    bench.add(readGaugeFile((test::dataFolder() / "demo/barometer.json").string()).value());
    const auto ids = [&](const Parameters& wiring) {
        Bench changed = bench;
        BenchGauge& gauge = changed.gauges[0];
        gauge.spec.wiring.parameters =
            wiring.over(Parameters{{"pullup_ohm", 4700.0}}).over(gauge.spec.wiring.parameters);
        std::string text;
        for (const Finding& finding : busFindings(changed, gauge, test::catalogue())) text += finding.id + " ";
        return text;
    };
    EXPECT_EQ(ids({}), "");
    EXPECT_EQ(busFindings(bench, bench.gauges[0], test::catalogue()).front().id, "pull-up-not-given");
    EXPECT_EQ(ids({{"pullup_ohm", 47000.0}}), "pull-up-too-weak ");
    EXPECT_EQ(ids({{"pullup_ohm", 330.0}}), "pull-up-too-strong ");
    EXPECT_EQ(ids({{"modules", 12.0}, {"module_ohm", 10000.0}}), "pull-up-too-strong ");
    EXPECT_EQ(ids({{"pullup_ohm", 4700.0}, {"pullups_to", std::string("ground")}}), "pull-up-to-ground ");
    EXPECT_EQ(ids({{"pullup_ohm", 0.0}, {"modules", 0.0}}), "pull-up-missing ");
    EXPECT_EQ(ids({{"supply_V", 5.0}}), "supply-unsuitable ");
    EXPECT_EQ(ids({{"interval_s", 0.002}}), "over-polled ");
    EXPECT_EQ(ids({{"interval_s", 1.0}}), "");
    GaugeSpec second = bench.gauges[0].spec;
    second.name = "Second";
    second.channel = "other";
    bench.add(second);
    EXPECT_EQ(ids({}), "address-taken ");
    bench.gauges[1].spec.channel = bench.gauges[0].spec.channel;  // one device, two readings
    EXPECT_EQ(ids({}), "");
    EXPECT_EQ(placesOnBus(bench, bench.gauges[0], test::catalogue()).size(), 1u);
    bench.gauges[1].spec.channel = "other";  // another device, at its other address
    bench.gauges[1].spec.wiring.parameters.set("address", 119.0);
    bench.gauges[1].spec.wiring.parameters.set("supply_V", 1.8);
    EXPECT_EQ(ids({{"supply_V", 3.3}}), "bus-levels ");
    EXPECT_EQ(ids({{"supply_V", 1.8}}), "");
    EXPECT_EQ(ids({}), "");  // nothing said here, nothing held against it
    // What hangs there counts for the line's capacitance: 20 pF of the board and 10 pF a device, unless the wiring says
    // how many.
    EXPECT_NEAR(sizePullUp(questionOf({}, "i2c", 3))->capacitance_F, 50e-12, 1e-18);
    EXPECT_NEAR(sizePullUp(questionOf({{"devices", 1.0}}, "i2c", 3))->capacitance_F, 30e-12, 1e-18);
}

}  // namespace
}  // namespace fg
