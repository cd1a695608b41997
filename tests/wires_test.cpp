// Every wire from pin to pin: bodies, modules, where an analog network puts its ends, order and colours.

#include "path/default_gauge.h"
#include "planning/plan.h"
#include "support.h"
#include "wiring/kind.h"

#include <algorithm>
#include <set>

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
    bench.add(warmth), bench.add(damp), bench.add(deviceGauge("ds18b20"));
    const BenchPlan plan = planOf(bench, test::catalogue());
    ASSERT_EQ(plan.wires.size(), 2u);
    EXPECT_EQ(plan.wires[0].gauges.size(), 2u);
    std::set<std::string> marks;
    for (const PinWires& one : plan.wires)
        for (const Wire& wire : one.wires) EXPECT_TRUE(marks.insert(wire.mark).second) << wire.mark;
}

}  // namespace
}  // namespace fg
