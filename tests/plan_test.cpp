// The whole bench laid out: places, supplies, one round, cables, parts; the numbers worked out by hand.

#include "planning/plan.h"
#include "bench/board.h"
#include "bytes/dump_text.h"
#include "findings/finding.h"
#include "path/default_gauge.h"
#include "path/digital_path.h"
#include "planning/bus_findings.h"
#include "support.h"

#include <algorithm>
#include <set>

namespace fg {
namespace {

GaugeSpec device(const std::string& part, const std::string& reading, const std::string& name) {
    GaugeSpec spec = defaultDeviceGauge(*test::catalogue().findDevicePart(part), reading);
    spec.name = name;
    spec.channel = name;
    return spec;
}

GaugeSpec analog(const std::string& part, const std::string& name, const std::string& converter = "adc-10bit-supply") {
    GaugeSpec spec = defaultGauge(*test::catalogue().findPart(part));
    spec.name = name;
    spec.converter = {"adc", converter, {}};
    return spec;
}

BenchPlan plan(const Bench& bench) { return planOf(bench, test::catalogue()); }

std::optional<Finding> finding(const BenchPlan& of, const std::string& id) {
    const auto it =
        std::find_if(of.findings.begin(), of.findings.end(), [&](const Finding& one) { return one.id == id; });
    return it == of.findings.end() ? std::nullopt : std::optional(*it);
}

const PlanGroup& group(const BenchPlan& of, const std::string& line) {
    return *std::find_if(of.groups.begin(), of.groups.end(), [&](const PlanGroup& one) { return one.line == line; });
}

// DS18B20 data sheet: 93.75 ms at 9 bits, 750 ms at 12. Five probes told to convert together, then read one after the
// other.
TEST(Plan, SettingsDecideHowLongAConversionTakes) {
    const auto probes = [](const std::string& resolution) {
        Bench bench;
        for (int i = 0; i < 5; ++i) {
            GaugeSpec spec = device("ds18b20", "temperature", "Probe " + std::to_string(i));
            if (!resolution.empty()) spec.sensor.parameters.set("resolution", resolution);
            bench.add(spec);
        }
        return plan(bench).schedule.fastest_s;
    };
    EXPECT_NEAR(probes("12") - probes("9"), 0.75 - 0.09375, 1e-9);
    EXPECT_EQ(probes(""), probes("12"));
    Bench bench;
    GaugeSpec barometer = device("bmp280", "pressure", "Barometer");
    barometer.sensor.parameters.set("settings", std::string("osrs_t=x1,osrs_p=x1,mode=normal,standby=1000ms"));
    bench.add(barometer);
    EXPECT_GT(plan(bench).schedule.rows[0].least_s, 1.0);
    barometer.sensor.parameters.set("settings", std::string("standby=7s"));
    EXPECT_EQ(DigitalPath::build(barometer, test::catalogue()).error().where, "sensor.parameters.settings: standby");
}

TEST(Plan, GaugesTakeFreePinsAndSaidOnesAreKept) {
    Bench bench;
    const auto air = bench.add(analog("tmp36", "Air")), light = bench.add(analog("photoresistor", "Light"));
    bench.board.places[light].line = "A0";
    const BenchPlan laid = plan(bench);
    const PlanGroup& pins = group(laid, "adc-10bit-supply");
    ASSERT_EQ(pins.places.size(), 6u);
    EXPECT_EQ(pins.places[0].gauges, std::vector<std::int64_t>{light});
    EXPECT_EQ(pins.places[1].gauges, std::vector<std::int64_t>{air});
    EXPECT_TRUE(pins.places[2].isFree());
    EXPECT_FALSE(finding(laid, "pin-twice"));
    const auto places = placesFor(bench, laid, air, test::catalogue());
    EXPECT_EQ(places, (std::vector<std::string>{"A1", "A2", "A3", "A4", "A5"}));
    bench.board.places[air].line = "A0";
    EXPECT_TRUE(finding(plan(bench), "pin-twice"));
    EXPECT_FALSE(finding(plan(bench), "no-such-pin"));
    bench.board.places[air].line = "A9";
    const BenchPlan beyond = plan(bench);
    ASSERT_TRUE(finding(beyond, "no-such-pin"));
    EXPECT_NE(finding(beyond, "no-such-pin")->detail.find("A9 is none of them: “Air”"), std::string::npos)
        << finding(beyond, "no-such-pin")->detail;
}

TEST(Plan, MoreGaugesThanPins) {
    Bench bench;
    for (int i = 0; i < 7; ++i) bench.add(analog("tmp36", "Air " + std::to_string(i)));
    const BenchPlan laid = plan(bench);
    const auto shortage = finding(laid, "pins-short");
    ASSERT_TRUE(shortage);
    EXPECT_NE(shortage->detail.find("7 gauges on"), std::string::npos) << shortage->detail;
    bench.remove(bench.gauges.back().id);
    EXPECT_FALSE(finding(plan(bench), "pins-short"));
}

TEST(Plan, TwoAtOneAddressUntilOneMovesToASecondBus) {
    Bench bench;
    const auto first = bench.add(device("bmp280", "pressure", "Barometer")),
               second = bench.add(device("bmp280", "pressure", "Other"));
    EXPECT_TRUE(finding(plan(bench), "address-taken"));
    EXPECT_EQ(placesFor(bench, plan(bench), second, test::catalogue()), (std::vector<std::string>{"bus 1", "bus 2"}));
    EXPECT_EQ(placesOnBus(bench, *bench.find(first), test::catalogue()).size(), 2u);
    bench.board.places[second].line = "bus 2";
    const BenchPlan apart = plan(bench);
    EXPECT_FALSE(finding(apart, "address-taken"));
    EXPECT_EQ(group(apart, "bus 2").places.front().gauges.front(), second);
    EXPECT_EQ(placesOnBus(bench, *bench.find(first), test::catalogue()).size(), 1u);
}

TEST(Plan, EachTakenAddressIsAFindingOfItsOwn) {
    Bench bench;
    for (const char* name : {"Barometer", "Second"}) bench.add(device("bmp280", "pressure", name));
    for (const char* name : {"Store", "Cellar"}) bench.add(device("sht31", "humidity", name));
    std::vector<std::string> details;
    for (const Finding& one : plan(bench).findings)
        if (one.id == "address-taken") details.push_back(one.detail);
    ASSERT_EQ(details.size(), 2u);
    EXPECT_TRUE(details[0].starts_with("0x44 on bus 1: “Store”, “Cellar”.")) << details[0];
    EXPECT_TRUE(details[1].starts_with("0x76 on bus 1: “Barometer”, “Second”.")) << details[1];
}

TEST(Plan, PullUpsInThePartsList) {
    Bench bench;
    GaugeSpec spec = device("sht31", "humidity", "Store");
    const auto pullUps = [&] {
        std::string found;
        bench.gauges.clear();
        bench.add(spec);
        for (const PartsLine& line : plan(bench).parts)
            if (line.where.find("pull-up") != std::string::npos)
                found += std::to_string(line.count) + " x " + line.value;
        return found;
    };
    // Nothing said: 300 ns/(0.8473 · 30 pF) = 11.8 kΩ and (3.3 V − 0.4 V)/3 mA = 967 Ω, geometric middle 3.38 kΩ.
    EXPECT_EQ(pullUps(), "2 x 3.3 kΩ");
    spec.wiring.parameters.set("pullup_ohm", 4700.0);
    EXPECT_EQ(pullUps(), "2 x 4.7 kΩ");
    spec.wiring.parameters.set("modules", 1.0);
    spec.wiring.parameters.set("module_ohm", 10000.0);
    EXPECT_EQ(pullUps(), "2 x 4.7 kΩ");  // the maker's own stays on the list beside a module's
    spec.wiring.parameters.remove("pullup_ohm");
    EXPECT_EQ(pullUps(), "");  // the module brings them
}

TEST(Plan, GaugesOfOneDeviceHangThereOnce) {
    Bench bench;
    GaugeSpec humidity = device("sht31", "humidity", "store"), warmth = device("sht31", "temperature", "warmth");
    warmth.channel = humidity.channel;
    bench.add(humidity);
    bench.add(warmth);
    const BenchPlan laid = plan(bench);
    ASSERT_EQ(group(laid, "bus 1").places.size(), 1u);
    EXPECT_EQ(group(laid, "bus 1").places[0].gauges.size(), 2u);
    EXPECT_EQ(laid.schedule.rows.size(), 1u);
    EXPECT_EQ(laid.parts.front().count, 1);
}

// bmp280: 1.12 mA for 6.4 ms of every 10 s, 0.3 µA in between: 1.0166 µA. ds18b20: 1.5 mA for 750 ms, 1 µA: 113.425 µA.
TEST(Plan, RailsAddUpAndCellsLast) {
    Bench bench;
    bench.add(device("bmp280", "pressure", "Barometer"));
    bench.add(device("ds18b20", "temperature", "Tray"));
    bench.board.rails = {{"cells", 3.3, 0.002, 2.0}};
    bench.board.cycle_s = 10;
    const BenchPlan laid = plan(bench);
    ASSERT_EQ(laid.rails.size(), 1u);
    EXPECT_NEAR(laid.rails[0].peak_A, 2.62e-3, 1e-9);
    EXPECT_NEAR(laid.rails[0].average_A, 1.0166e-6 + 113.425e-6, 1e-9);
    EXPECT_NEAR(laid.rails[0].life_h, 2.0 / 114.4416e-6, 1);
    EXPECT_NEAR(laid.rails[0].constantLife_h, 2.0 / 2.62e-3, 1);
    EXPECT_TRUE(finding(laid, "rail-overloaded"));
    bench.board.rails[0].limit_A = 0.003;
    EXPECT_FALSE(finding(plan(bench), "rail-overloaded"));
    bench.board.awake_A = 0.02;
    bench.board.asleep_A = 1e-4;
    const double busy = plan(bench).schedule.busy_s;
    EXPECT_NEAR(plan(bench).rails[0].average_A, 114.4416e-6 + (0.02 * busy + 1e-4 * (10 - busy)) / 10, 1e-9);
}

TEST(Plan, LifeIsToldAsPeopleSayIt) {
    EXPECT_EQ(lifeText(11), "11 h");
    EXPECT_EQ(lifeText(912), "38 days");
    EXPECT_EQ(lifeText(20200), "2.3 years");
}

TEST(Plan, SuppliesThatDoNotSuit) {
    Bench bench;
    const auto barometer = bench.add(device("bmp280", "pressure", "Barometer"));
    const auto store = bench.add(device("sht31", "humidity", "Store"));
    bench.board.rails = {{"5 V", 5, 0, 0}};
    EXPECT_TRUE(finding(plan(bench), "no-rail"));
    bench.board.rails.push_back({"3.3 V", 3.3, 0, 0});
    EXPECT_FALSE(finding(plan(bench), "no-rail"));
    bench.board.places[barometer].rail = "5 V";
    EXPECT_TRUE(finding(plan(bench), "supply-unsuitable"));
    bench.board.places[barometer].rail = "";
    bench.board.places[store].rail = "5 V";  // allowed for the part, but not on a line of 3.3 V
    const auto levels = finding(plan(bench), "bus-levels");
    ASSERT_TRUE(levels);
    EXPECT_NE(levels->detail.find("level shifter"), std::string::npos);
}

// What a board's pins stand, what an open-drain output and a single-bus line need, how long a cable may be.
TEST(Plan, WhatTheBoardsPinsMeet) {
    Bench bench;
    bench.add(device("dht22", "humidity", "Cellar"));
    GaugeSpec alarm = device("tmp102", "temperature", "Alarm");
    alarm.sensor.parameters.set("settings", std::string("high_limit=40,low_limit=35"));
    const auto id = bench.add(alarm);
    bench.add(analog("lm35", "Oven"));
    bench.board.rails = {{"5 V", 5, 0, 0}, {"3.3 V", 3.3, 0, 0}};
    bench.board.places[bench.gauges[0].id].rail = "5 V";
    EXPECT_FALSE(finding(plan(bench), "board-pin"));  // nobody says what the board stands
    bench.board.pin_V = 3.3;
    ASSERT_TRUE(finding(plan(bench), "board-pin"));  // 5 V against 3.6 V
    EXPECT_EQ(finding(plan(bench), "board-pin")->severity, Severity::Doubt);
    bench.board.pinsStand_V = 3.6;
    EXPECT_EQ(finding(plan(bench), "board-pin")->severity, Severity::Fault);
    EXPECT_NE(finding(plan(bench), "board-pin")->detail.find("Cellar"), std::string::npos);
    bench.board.pinsStand_V = 5.5;
    EXPECT_FALSE(finding(plan(bench), "board-pin"));
    EXPECT_EQ(readBoard(writeBoard(bench.board), "board").value(), bench.board);
    EXPECT_TRUE(finding(plan(bench), "open-drain"));
    const auto hasPart = [&](const std::string& where) {
        const auto parts = plan(bench).parts;
        return std::any_of(parts.begin(), parts.end(),
                           [&](const PartsLine& line) { return line.where.find(where) != std::string::npos; });
    };
    EXPECT_TRUE(hasPart("Alarm: pull-up of ALERT"));
    EXPECT_TRUE(hasPart("Cellar: pull-up"));
    bench.find(id)->spec.sensor.parameters = {};
    EXPECT_FALSE(finding(plan(bench), "open-drain"));
    EXPECT_FALSE(hasPart("Alarm: pull-up of ALERT"));
    // A part of one's own whose document allows 2 m.
    std::string json = test::readText(test::dataFolder() / "parts/lm35.json");
    json.replace(json.find("\"lm35\""), 6, "\"short\"");
    json.insert(json.rfind("\"source\""), "\"cable_max_m\": 2,");
    Catalogue own = test::catalogue();
    ASSERT_TRUE(own.addPart(json, "short.json"));
    Bench alone;
    GaugeSpec spec = analog("lm35", "Far");
    spec.sensor.part = "short";
    const auto far = alone.add(spec);
    const auto isTooLong = [&](double metres) {
        alone.board.places[far].cable_m = metres;
        return finding(planOf(alone, own), "cable-too-long").has_value();
    };
    EXPECT_TRUE(isTooLong(5));
    EXPECT_FALSE(isTooLong(2));
}

// A 1-wire line with codes: each probe once, and the bytes of another one are told apart.
TEST(Plan, ProbesByTheirCodes) {
    const std::string own = "28 FF 64 1E 0F 6A 3C 94", other = "28 FF 64 1E 0F 6A 3D CA";
    Bench bench;
    bench.add(device("ds18b20", "temperature", "Tray"));
    bench.add(device("ds18b20", "temperature", "Lid"));
    bench.gauges[0].spec.wiring.parameters.set("rom", own);
    bench.gauges[1].spec.wiring.parameters.set("rom", other);
    EXPECT_FALSE(finding(plan(bench), "probe-twice"));
    bench.gauges[1].spec.wiring.parameters.set("rom", own);
    EXPECT_TRUE(finding(plan(bench), "probe-twice"));
    const auto path = DigitalPath::build(bench.gauges[0].spec, test::catalogue()).value();
    const auto findingsOf = [&](const std::string& rom) {
        // 85 °C after power-on, the data sheet's own scratchpad.
        const auto raw = readDump("rom: " + rom + "; scratchpad: 50 05 4B 46 7F FF 0C 10 1C").value();
        const auto now = path.evaluate({Stage::Converter, 0, std::make_shared<const RawData>(raw)}).value();
        const auto list = findingsForDevice(bench.gauges[0].spec, path, test::catalogue(), &now, nullptr);
        return std::count_if(list.begin(), list.end(), [](const Finding& f) { return f.id == "another-probe"; });
    };
    EXPECT_EQ(findingsOf(own), 0);
    EXPECT_EQ(findingsOf(other), 1);
    for (const char* bad : {"28 FF 64", "28 FF 64 1E 0F 6A 3C 00", "10 FF 64 1E 0F 6A 3C 5D", "hello"}) {
        GaugeSpec spec = bench.gauges[0].spec;
        spec.wiring.parameters.set("rom", std::string(bad));
        EXPECT_FALSE(DigitalPath::build(spec, test::catalogue())) << bad;
    }
}

// One line, one word about it: a gauge's findings and the plan's say the same, cables of the others counted.
TEST(Plan, SaysOfALineWhatItsGaugesSay) {
    Bench bench;
    const auto barometer = bench.add(device("bmp280", "pressure", "Barometer"));
    const auto store = bench.add(device("sht31", "humidity", "Store"));
    bench.gauges[0].spec.wiring.parameters.set("pullup_ohm", 4700.0);
    bench.board.places[store].cable_m = 2.5;
    bench.board.places[barometer].cable_m = 0.5;
    const auto planned = finding(plan(bench), "pull-up-too-weak");  // 3 m are 300 pF: 4.7 kΩ rises in 1.4 µs
    ASSERT_TRUE(planned);
    for (const BenchGauge& gauge : bench.gauges) {
        const auto own = busFindings(bench, gauge, test::catalogue());
        const auto same =
            std::find_if(own.begin(), own.end(), [](const Finding& f) { return f.id == "pull-up-too-weak"; });
        ASSERT_NE(same, own.end()) << gauge.spec.name;
        EXPECT_EQ(same->severity, planned->severity);
        EXPECT_EQ(same->detail, finding(plan(bench), "pull-up-too-weak")->detail);
    }
}

TEST(Plan, DevicesThatAreNoGaugesTakeTheirAddress) {
    Bench bench;
    bench.add(device("bmp280", "pressure", "Barometer"));
    bench.board.others = readOtherDevices("oled display 0x3C; expander 0x76 on bus 2").value();
    EXPECT_EQ(bench.board.others[0], (OtherDevice{"oled display", 0x3C, "bus 1"}));
    EXPECT_EQ(readBoard(writeBoard(bench.board), "board").value(), bench.board);
    EXPECT_FALSE(finding(plan(bench), "address-taken"));
    bench.board.others[1].line = "bus 1";
    ASSERT_TRUE(finding(plan(bench), "address-taken"));
    EXPECT_NE(finding(plan(bench), "address-taken")->detail.find("“expander”"), std::string::npos);
    bool gaugeSaysIt = false;
    for (const Finding& one : busFindings(bench, bench.gauges[0], test::catalogue()))
        gaugeSaysIt = gaugeSaysIt || one.id == "address-taken";
    EXPECT_TRUE(gaugeSaysIt);
    for (const char* bad : {"display", "display 60", "display 0x80", "display 0x3C on wire 1"})
        EXPECT_FALSE(readOtherDevices(bad)) << bad;
}

// At 400 kHz a command of three bytes is 29 clocks, reading six bytes 83 (9 a byte and 2): 72.5 and 207.5 µs around 6.4
// ms.
TEST(Plan, OneRoundOfReadings) {
    Bench bench;
    bench.add(device("bmp280", "pressure", "Barometer"));
    const PlanSchedule alone = plan(bench).schedule;
    EXPECT_NEAR(alone.busy_s, 72.5e-6 + 6.4e-3 + 207.5e-6, 1e-9);
    ASSERT_EQ(alone.rows[0].segments.size(), 3u);
    bench.add(device("dht22", "humidity", "Cellar"));
    const PlanSchedule both = plan(bench).schedule;
    EXPECT_EQ(both.fastest_s, 2);
    EXPECT_EQ(both.slowest, "Cellar");
    // The processor does one thing at a time.
    std::vector<PlanSegment> talking;
    for (const PlanRow& row : both.rows)
        for (const PlanSegment& segment : row.segments)
            if (segment.kind != PlanSegment::Kind::Convert) talking.push_back(segment);
    std::sort(talking.begin(), talking.end(),
              [](const PlanSegment& a, const PlanSegment& b) { return a.from_s < b.from_s; });
    for (std::size_t i = 1; i < talking.size(); ++i) EXPECT_GE(talking[i].from_s, talking[i - 1].to_s - 1e-12);
    bench.board.cycle_s = 1;
    EXPECT_TRUE(finding(plan(bench), "round-too-fast"));
    bench.board.cycle_s = 2;
    EXPECT_FALSE(finding(plan(bench), "round-too-fast"));
}

TEST(Plan, CablesDropAndAddUp) {
    Bench bench;
    const auto tray = bench.add(device("ds18b20", "temperature", "Tray")),
               vat = bench.add(device("ds18b20", "temperature", "Vat"));
    bench.board.places[tray].cable_m = 10;
    bench.board.places[vat].cable_m = 20;
    const BenchPlan laid = plan(bench);
    EXPECT_EQ(laid.oneWire_m, 30);
    EXPECT_EQ(group(laid, "wire 1").cable_m, 30);
    EXPECT_NEAR(laid.cables[0].drop_V, 2 * 10 * 0.0784 * 1.5e-3, 1e-9);
    EXPECT_NEAR(laid.cables[1].capacitance_F, 2e-9, 1e-15);
    EXPECT_EQ(laid.cables[0].marks, "1 supply, 2 ground, 3 data");
    EXPECT_FALSE(finding(laid, "cable-drop"));
    bench.board.places[vat].cable_m = 400;  // 94 mV of 3.3 V
    EXPECT_TRUE(finding(plan(bench), "cable-drop"));
}

TEST(Plan, PartsListNamesStandardValues) {
    Bench bench;
    GaugeSpec pot = test::gluePot();
    bench.add(pot);
    pot.name = "Pot, \"second\"";
    bench.add(pot);
    const std::vector<PartsLine> parts = plan(bench).parts;
    const auto resistor =
        std::find_if(parts.begin(), parts.end(), [](const PartsLine& line) { return line.value == "2.2 kΩ"; });
    ASSERT_NE(resistor, parts.end());
    EXPECT_EQ(resistor->count, 2);
    EXPECT_EQ(resistor->what, "resistor, E3");  // IEC 60063: E3 is 10, 22, 47
    EXPECT_EQ(resistor->tolerance, "1 %");
    const std::string csv = partsCsv(parts);
    EXPECT_TRUE(csv.starts_with("count,value,what,tolerance,where\r\n"));
    EXPECT_NE(csv.find("2,2.2 kΩ,\"resistor, E3\",1 %,\"Glue pot: R1; Pot, \"\"second\"\": R1\"\r\n"),
              std::string::npos)
        << csv;
}

TEST(Plan, CautionsNameTheirGauges) {
    Bench bench;
    bench.add(test::gluePot());
    GaugeSpec iron = test::gluePot();
    iron.name = "Bending iron";
    bench.add(iron);
    const BenchPlan laid = plan(bench);
    const auto heat = std::find_if(laid.cautions.begin(), laid.cautions.end(),
                                   [](const Finding& one) { return one.id == "care-heat"; });
    ASSERT_NE(heat, laid.cautions.end());
    EXPECT_NE(heat->title.find("Glue pot, Bending iron"), std::string::npos) << heat->title;
}

TEST(Plan, OfAnEmptyBenchIsEmpty) {
    const BenchPlan laid = plan({});
    EXPECT_TRUE(laid.groups.empty() && laid.rails.empty() && laid.findings.empty() && laid.parts.empty());
    EXPECT_EQ(laid.schedule.busy_s, 0);
}

TEST(Board, GoesOutAndInAndRefusesWhatCannotBe) {
    Board board;
    board.rails = {{"cells", 3, 0.2, 2.2}};
    board.cycle_s = 60;
    board.asleep_A = 1e-5;
    board.places[4] = {"A3", "cells", 1.5};
    EXPECT_EQ(readBoard(writeBoard(board), "b").value(), board);
    EXPECT_EQ(readBoard(writeBoard({}), "b").value(), Board{});
    EXPECT_NE(readBoard(R"({"rails":[{"name":"x","voltage_V":0}]})", "b").error().message().find("voltage_V"),
              std::string::npos);
    EXPECT_NE(readBoard(R"({"cycle_s":-1})", "b").error().message().find("cycle_s"), std::string::npos);
    EXPECT_NE(readBoard(R"({"places":{"pot":{}}})", "b").error().message().find("“pot”"), std::string::npos);
}

// The catalogue's validator: every entry, every field that a plan or a choice relies on.
TEST(CatalogueValidator, EveryEntryCanBeReliedOn) {
    const Catalogue& catalogue = test::catalogue();
    const auto stated = [](const auto& list) {
        return static_cast<std::size_t>(
            std::count_if(list.begin(), list.end(), [](const auto& part) { return !part.accuracy.empty(); }));
    };
    EXPECT_GE(stated(catalogue.parts()) + stated(catalogue.devices()), 90u);
    const std::set<std::string> interfaces{"i2c", "1-wire", "single-bus", "spi", "two-wire clocked"};
    const auto supply = [](const std::string& id, Interval volts, double measuring, double resting) {
        EXPECT_TRUE(volts.high == 0 || (volts.low > 0 && volts.low < volts.high && volts.high <= 40)) << id;
        EXPECT_TRUE(measuring >= 0 && measuring <= 0.05) << id;
        EXPECT_TRUE(resting >= 0 && resting <= measuring) << id;
    };
    // A narrower statement that is worse than a wider one around it would never be used: one of the two is wrong.
    const auto bands = [](const std::string& id, const std::vector<AccuracyBand>& list) {
        for (const AccuracyBand& inner : list) {
            EXPECT_LE(inner.span.low, inner.span.high) << id;
            EXPECT_GT(inner.limit + inner.perUnit, 0) << id;
            for (const AccuracyBand& outer : list)
                if (&inner != &outer && outer.span.low <= inner.span.low && outer.span.high >= inner.span.high) {
                    EXPECT_LE(inner.limitAt(inner.span.low), outer.limitAt(inner.span.low)) << id;
                }
        }
    };
    for (const Part& part : catalogue.parts()) {
        EXPECT_TRUE(isMeasurand(part.quantity)) << part.id;
        EXPECT_TRUE(part.range.low < part.range.high) << part.id;
        EXPECT_FALSE(part.source.empty()) << part.id;
        EXPECT_GE(part.minimumInterval_s, 0) << part.id;
        supply(part.id, part.supply_V, part.supply_A, 0);
        bands(part.id, part.accuracy);
        if (!part.body.empty()) {
            EXPECT_TRUE(catalogue.bodies().contains(part.body)) << part.id;
        }
    }
    for (const DevicePart& part : catalogue.devices()) {
        EXPECT_TRUE(part.device) << part.id;
        EXPECT_TRUE(interfaces.contains(part.interface)) << part.id << " " << part.interface;
        EXPECT_GT(part.minimumInterval_s, 0) << part.id;
        EXPECT_TRUE(catalogue.bodies().contains(part.body)) << part.id;
        EXPECT_FALSE(part.source.empty()) << part.id;
        supply(part.id, part.supply_V, std::max(part.supply_A, part.average_A), part.standby_A);
        EXPECT_GT(part.supply_V.high, 0) << part.id;
        std::set<unsigned> addresses;
        for (const BusAddress& one : part.addresses) {
            EXPECT_TRUE(one.address >= 0x08 && one.address <= 0x77)
                << part.id;  // UM10204, 3.1.12: the rest is reserved
            EXPECT_TRUE(addresses.insert(one.address).second) << part.id << " twice at one address";
        }
        EXPECT_EQ(part.interface == "i2c", !addresses.empty()) << part.id;
        for (const auto& [reading, range] : part.ranges) EXPECT_LT(range.low, range.high) << part.id << " " << reading;
        for (const Quantity quantity :
             {Quantity::Temperature, Quantity::RelativeHumidity, Quantity::Pressure, Quantity::Illuminance}) {
            std::vector<AccuracyBand> list;
            for (const DeviceAccuracy& one : part.accuracy)
                if (one.quantity == quantity) list.push_back(one.band);
            bands(part.id, list);
        }
    }
    for (const ConverterPart& converter : catalogue.converters()) EXPECT_GE(converter.channels, 1) << converter.id;
}

}  // namespace
}  // namespace fg
