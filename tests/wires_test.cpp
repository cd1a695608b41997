// Every wire from pin to pin: bodies, modules, where an analog network puts its ends, order and colours.

#include "path/default_gauge.h"
#include "planning/plan.h"
#include "support.h"
#include "wiring/kind.h"

#include <fmt/format.h>
#include <algorithm>
#include <set>
#include <tuple>

namespace fg {
namespace {

GaugeSpec deviceGauge(const std::string& part) {
    const DevicePart& known = *test::catalogue().findDevicePart(part);
    GaugeSpec spec = defaultDeviceGauge(known, known.readings.front());
    spec.name = part;
    spec.channel = part;
    return spec;
}

PinWires wiresOf(const GaugeSpec& spec, const GaugePlace& place = {}) {
    Bench bench;
    const auto id = bench.add(spec);
    bench.board.places[id] = place;
    return planOf(bench, test::catalogue()).wires.at(0);
}

/// "conductor: pin > to" of every wire.
std::vector<std::string> linesOf(const PinWires& wires) {
    std::vector<std::string> lines;
    for (const Wire& one : wires.wires) lines.push_back(one.conductor + ": " + one.pin + " > " + one.to);
    return lines;
}

using Lines = std::vector<std::string>;

// Pin numbers as the parts' data sheets give them.
TEST(Wires, RunFromThePinsOfTheDataSheet) {
    EXPECT_EQ(linesOf(wiresOf(deviceGauge("ds18b20"))),
              (Lines{"supply: 3 VDD > 3.3 V", "ground: 1 GND > ground", "data: 2 DQ > wire 1"}));
    EXPECT_EQ(linesOf(wiresOf(deviceGauge("am2320"))),
              (Lines{"supply: 1 VDD > 3.3 V", "ground: 3 GND > ground", "data (SDA): 2 SDA > SDA of bus 1",
                     "clock (SCL): 4 SCL > SCL of bus 1"}));
    // Read only: it has no pin for data in.
    EXPECT_EQ(linesOf(wiresOf(deviceGauge("max6675"))),
              (Lines{"supply: 4 VCC > 3.3 V", "ground: 1 GND > ground", "clock: 5 SCK > clock of the four-wire bus",
                     "data out: 7 SO > data in of the board", "select: 6 CS > D2"}));
    GaugeSpec air = defaultGauge(*test::catalogue().findPart("tmp36"));
    air.converter = {"adc", "adc-10bit-supply", {}};
    EXPECT_EQ(linesOf(wiresOf(air)), (Lines{"supply: 1 +VS > 3.3 V", "ground: 3 GND > ground", "signal: 2 VOUT > A0"}));
}

/// A voltage on a channel of a stand-alone converter.
GaugeSpec gaugeOn(const std::string& converter, const std::string& name) {
    GaugeSpec spec = defaultGauge(*test::catalogue().findPart("tmp36"));
    spec.name = name;
    spec.channel = name;
    spec.converter = {"adc", converter, {}};
    return spec;
}

// Pin numbers as the converters' data sheets give them.
TEST(Wires, OfAConverterThatStandsByItself) {
    Bench bench;
    bench.add(gaugeOn("mcp3008", "Air"));
    bench.add(gaugeOn("mcp3008", "Shop"));
    const auto wires = planOf(bench, test::catalogue()).wires;
    ASSERT_EQ(wires.size(), 3u);
    EXPECT_EQ(linesOf(wires[1]).back(), "signal: 2 VOUT > A1 (CH1 of mcp3008)");
    EXPECT_EQ(wires[2].converter, "mcp3008");
    EXPECT_EQ(wires[2].cable, 3);
    EXPECT_EQ(linesOf(wires[2]),
              (Lines{"supply: 16 VDD > 3.3 V", "ground: 9 DGND, 14 AGND > ground",
                     "reference: 15 VREF > the supply, which it counts against",
                     "clock: 13 CLK > clock of the four-wire bus", "data out: 12 DOUT > data in of the board",
                     "data in: 11 DIN > data out of the board", "select: 10 CS/SHDN > a digital pin of the board",
                     "input A0: 1 CH0 > cable 1, Air", "input A1: 2 CH1 > cable 2, Shop"}));
    EXPECT_EQ(wires[2].problem, "");
    EXPECT_TRUE(std::count(wires[2].beside.begin(), wires[2].beside.end(),
                           "Inputs that are free: CH2, CH3, CH4, CH5, CH6, CH7."));

    // The reference is what the gauges count with.
    for (const std::int64_t id : {1, 2}) {
        Parameters& counts = bench.find(id)->spec.converter.parameters;
        counts.set("reference_kind", "external");
        counts.set("reference_V", 4.096);
    }
    EXPECT_EQ(linesOf(planOf(bench, test::catalogue()).wires[2])[2],
              "reference: 15 VREF > the reference, 4.096 V as the gauges count");

    // On a module: its own words, in which A0 is an input and no address; the choice survives the bench file's text.
    bench = {};
    bench.add(gaugeOn("ads1115", "Air"));
    GaugePlace& place = bench.board.converters["ads1115"];
    place.body = "module";
    place.strip = {"VDD", "GND", "SCL", "SDA", "ADDR", "ALRT", "A0", "A1", "A2", "A3"};
    place.colours["supply"] = "red";
    EXPECT_EQ(readBoard(writeBoard(bench.board), "board").value(), bench.board);
    const PinWires module = planOf(bench, test::catalogue()).wires.at(1);
    EXPECT_EQ(linesOf(module),
              (Lines{"supply: 1 VDD > 3.3 V", "ground: 2 GND > ground", "data (SDA): 4 SDA > SDA of the two-wire bus",
                     "clock (SCL): 3 SCL > SCL of the two-wire bus", "input A0: 7 A0 > cable 1, Air"}));
    EXPECT_EQ(module.wires[0].colour, "red");
    EXPECT_TRUE(std::count(module.beside.begin(), module.beside.end(), "The address is set by: 5 ADDR."));
    EXPECT_EQ(module.problem, "");
}

// HX711 data sheet: gain 128 and 64 on channel A, 32 on channel B.
TEST(Wires, AGainOfOneInputAloneDecidesWhereAGaugeHangs) {
    for (const auto& [gain, place, pins] :
         {std::tuple(128.0, "A0", "8 INA+"), {64.0, "A0", "8 INA+"}, {32.0, "A1", "10 INB+"}}) {
        Bench bench;
        GaugeSpec spec = gaugeOn("hx711", "Air");
        spec.converter.parameters.set("gain", gain);
        const auto id = bench.add(spec);
        const auto plan = planOf(bench, test::catalogue());
        EXPECT_EQ(linesOf(plan.wires.at(1))[4], fmt::format("input {} +: {} > cable 1, Air", place, pins));
        bench.board.places[id].line = gain == 32 ? "A0" : "A1";
        const auto moved = planOf(bench, test::catalogue()).findings;
        EXPECT_TRUE(std::any_of(moved.begin(), moved.end(), [](const Finding& one) {
            return one.id == "gain-elsewhere";
        })) << gain;
        EXPECT_FALSE(std::any_of(plan.findings.begin(), plan.findings.end(),
                                 [](const Finding& one) { return one.id == "gain-elsewhere"; }));
    }
}

TEST(Wires, EveryConverterWhosePinsAreKnownHasAPinForEveryWire) {
    int converters = 0;
    for (const ConverterPart& part : test::catalogue().converters()) {
        if (part.pinouts.empty()) continue;
        ++converters;
        Bench bench;
        bench.add(gaugeOn(part.id, "Air"));
        const PinWires wires = planOf(bench, test::catalogue()).wires.at(1);
        EXPECT_EQ(wires.problem, "") << part.id;
        EXPECT_EQ(wires.body, part.pinouts.front().outline) << part.id;
        EXPECT_FALSE(part.interface.empty()) << part.id;
        ASSERT_EQ(wires.drawings.size(), 1u) << part.id;
        const Outline& outline = test::catalogue().outlines().at(wires.body);
        EXPECT_EQ(static_cast<int>(part.pinouts.front().pins.size()), outline.pins()) << part.id;
        EXPECT_TRUE(std::any_of(wires.wires.begin(), wires.wires.end(), [](const Wire& one) {
            return one.to == "cable 1, Air";
        })) << part.id;
    }
    EXPECT_GE(converters, 13);
}

TEST(Wires, EveryPartWhosePinsAreKnownHasAPinForEveryWire) {
    int parts = 0;
    const auto check = [&](GaugeSpec spec, const PartFacts& part) {
        for (const Pinout& one : part.pinouts) {
            GaugePlace place;
            place.body = one.outline;
            const PinWires wires = wiresOf(spec, place);
            EXPECT_EQ(wires.problem, "") << part.id << " " << one.outline;
            EXPECT_EQ(wires.body, one.outline) << part.id;
            EXPECT_GE(wires.wires.size(), 3u) << part.id;
            ASSERT_EQ(wires.drawings.size(), 1u) << part.id;
            EXPECT_FALSE(wires.source.empty()) << part.id;
            ++parts;
        }
    };
    for (const DevicePart& part : test::catalogue().devices()) check(deviceGauge(part.id), part);
    for (const Part& part : test::catalogue().parts()) {
        if (part.pinouts.empty() || part.id == "lm335") continue;  // two wires: fed through its resistor
        check(defaultGauge(part), part);
    }
    EXPECT_GE(parts, 50);
}

TEST(Wires, NoTwoWordsOfADrawingOverlapAndNoneRunsOutOfIt) {
    constexpr double kCharacter = 7.2, kLine = 12;
    int drawings = 0;
    for (const DevicePart& part : test::catalogue().devices()) {
        const PinWires wires = wiresOf(deviceGauge(part.id));
        for (const Drawing& drawing : wires.drawings) {
            ++drawings;
            struct Box {
                double left, right, top, bottom;
                std::string text;
            };
            std::vector<Box> boxes;
            for (const Drawing::Label& label : drawing.labels) {
                const auto characters =
                    std::count_if(label.text.begin(), label.text.end(), [](char c) { return (c & 0xC0) != 0x80; });
                const double length = kCharacter * static_cast<double>(characters);
                const double left = label.side == Drawing::Label::Side::Left     ? label.at.x
                                    : label.side == Drawing::Label::Side::Middle ? label.at.x - length / 2
                                                                                 : label.at.x - length;
                boxes.push_back({left, left + length, label.at.y - kLine, label.at.y, label.text});
                EXPECT_GE(left, 0) << part.id << " " << label.text;
                EXPECT_LE(left + length, drawing.width) << part.id << " " << label.text;
                EXPECT_LE(label.at.y, drawing.height) << part.id;
            }
            for (std::size_t i = 0; i < boxes.size(); ++i)
                for (std::size_t k = 0; k < i; ++k)
                    EXPECT_FALSE(boxes[i].left < boxes[k].right && boxes[k].left < boxes[i].right &&
                                 boxes[i].top < boxes[k].bottom && boxes[k].top < boxes[i].bottom)
                        << part.id << ": " << boxes[i].text << " on " << boxes[k].text;
        }
    }
    EXPECT_GE(drawings, 30);
}

// A divider with the thermistor below: the pin sees the node between R1 and the thermistor (Ohm's law gives
// V = Vref * R / (R1 + R)); above, the other way round.
TEST(Wires, AnalogEndsGoWhereTheNetworkHasThem) {
    GaugeSpec pot = test::gluePot();
    PinWires wires = wiresOf(pot);
    EXPECT_EQ(linesOf(wires), (Lines{"sensor: either way round > A0", "sensor, other end: either way round > ground"}));
    ASSERT_EQ(wires.beside.size(), 2u);
    EXPECT_NE(wires.beside[0].find("2.2 kΩ) between the converter's reference (3.3 V) and A0"), std::string::npos)
        << wires.beside[0];
    EXPECT_EQ(wires.beside[1], "100 nF between A0 and ground, close to the pin.");
    EXPECT_EQ(wires.problem, "");
    EXPECT_TRUE(wires.drawings.empty());
    pot.wiring.parameters.set("sensor_side", std::string("high"));
    wires = wiresOf(pot);
    EXPECT_EQ(wires.wires[0].to, "the converter's reference (3.3 V)");
    EXPECT_EQ(wires.wires[1].to, "A0");
    EXPECT_NE(wires.beside[0].find("between A0 and ground"), std::string::npos);
    for (const WiringKind& kind : wiringKinds()) {
        ASSERT_TRUE(kind.hookup) << kind.id;
        EXPECT_FALSE(kind.hookup({}).first.empty()) << kind.id;
    }
}

TEST(Wires, AModuleIsReadFromItsStrip) {
    GaugePlace place;
    place.body = "module";
    place.strip = readStrip(" VIN, 3Vo GND  SCK SDO SDI CS ");
    ASSERT_EQ(place.strip.size(), 7u);
    PinWires wires = wiresOf(deviceGauge("bmp280"), place);
    EXPECT_EQ(linesOf(wires), (Lines{"supply: 1 VIN > 3.3 V", "ground: 3 GND > ground",
                                     "data (SDA): 6 SDI > SDA of bus 1", "clock (SCL): 4 SCK > SCL of bus 1"}));
    EXPECT_EQ(wires.problem, "");
    EXPECT_TRUE(std::count(wires.beside.begin(), wires.beside.end(), "The address is set by: 5 SDO."));
    EXPECT_TRUE(
        std::count(wires.beside.begin(), wires.beside.end(), "Not in the table, see the data sheet: 2 3Vo, 7 CS."));
    // The same letters on a single bus mean something else; three pins, out of order.
    place.strip = readStrip("out|vcc|gnd");
    wires = wiresOf(deviceGauge("dht22"), place);
    EXPECT_EQ(linesOf(wires), (Lines{"supply: 2 vcc > 3.3 V", "ground: 3 gnd > ground", "data: 1 out > D2"}));
    // What is not on the strip is said, not made up.
    place.strip = readStrip("SCL SDA VCC");
    EXPECT_EQ(wiresOf(deviceGauge("sht31"), place).problem,
              "No pin is known for: ground. Is the strip typed as it is printed?");
    place.strip = {};
    EXPECT_EQ(wiresOf(deviceGauge("sht31"), place).problem,
              "Type what is printed beside the module's pins, from left to right.");
    EXPECT_NE(wiresOf(deviceGauge("bmp280")).problem, "");
    place.body = "so-99";
    EXPECT_EQ(wiresOf(deviceGauge("sht31"), place).problem, "“so-99” is not a body that sht31 has here.");
}

TEST(Wires, OrderAndColoursAreTheMakersAndGoIntoTheFile) {
    GaugePlace place;
    place.colours = {{"supply", "red"}, {"ground", "black"}, {"data", "yellow, \"thin\""}};
    PinWires wires = wiresOf(deviceGauge("ds18b20"), place);
    EXPECT_EQ(wires.wires[0].mark, "1.1");
    place.order = movedWire(wires, 2, -1);
    EXPECT_EQ(place.order, (Lines{"supply", "data", "ground"}));
    EXPECT_EQ(movedWire(wires, 0, -1), (Lines{"supply", "ground", "data"}));
    wires = wiresOf(deviceGauge("ds18b20"), place);
    EXPECT_EQ(wires.wires[1].conductor, "data");
    EXPECT_EQ(wires.wires[1].mark, "1.2");
    EXPECT_EQ(wires.wires[1].colour, "yellow, \"thin\"");
    EXPECT_EQ(wires.problem, "");
    EXPECT_NE(wiresCsv({wires}).find("1.2,ds18b20,ds18b20,data,2 DQ,wire 1,\"yellow, \"\"thin\"\"\"\r\n"),
              std::string::npos);
    Board board;
    place.strip = {"VCC", "GND"};
    place.body = "module";
    board.places[7] = place;
    const auto read = readBoard(writeBoard(board), "board");
    ASSERT_TRUE(read) << read.error().message();
    EXPECT_EQ(*read, board);
    EXPECT_FALSE(readBoard(R"({"places": {"7": {"colours": {"supply": 3}}}})", "board"));
    place.colours["ground"] = "red";
    place.body = "";
    place.order.clear();
    EXPECT_EQ(wiresOf(deviceGauge("ds18b20"), place).problem, "supply and ground are both red.");
}

// A device with two readings is one thing with one cable.
TEST(Wires, OneCableForAllGaugesOfAPart) {
    Bench bench;
    GaugeSpec warmth = deviceGauge("sht31");
    GaugeSpec damp = defaultDeviceGauge(*test::catalogue().findDevicePart("sht31"), "humidity");
    damp.channel = warmth.channel;
    bench.add(warmth);
    bench.add(damp);
    bench.add(deviceGauge("ds18b20"));
    const BenchPlan plan = planOf(bench, test::catalogue());
    ASSERT_EQ(plan.wires.size(), 2u);
    EXPECT_EQ(plan.wires[0].gauges.size(), 2u);
    std::set<std::string> marks;
    for (const PinWires& one : plan.wires)
        for (const Wire& wire : one.wires) EXPECT_TRUE(marks.insert(wire.mark).second) << wire.mark;
}

}  // namespace
}  // namespace fg
