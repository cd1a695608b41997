// Gauges of digital parts: the path both ways, its budget, its findings, and the simulated bench through the line
// protocol.

#include "path/digital_path.h"
#include "acquisition/line_reader.h"
#include "findings/finding.h"
#include "simulation/register_bus.h"
#include "simulation/virtual_board.h"
#include "support.h"

#include "bytes/dump_text.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace fg {
namespace {

GaugeSpec demo(const std::string& name) {
    return readGaugeFile((test::dataFolder() / "demo" / (name + ".json")).string()).value();
}

DigitalPath digital(const GaugeSpec& spec) {
    auto path = DigitalPath::build(spec, test::catalogue());
    if (!path) throw std::runtime_error(path.error().message());
    return *path;
}

Evaluation fromBytes(const DigitalPath& path, const std::string& dump) {
    return path.evaluate({Stage::Converter, 0, std::make_shared<const RawData>(readDump(dump).value())}).value();
}

bool has(const std::vector<Finding>& findings, const std::string& id) {
    return std::any_of(findings.begin(), findings.end(), [&](const Finding& one) { return one.id == id; });
}

TEST(DigitalPath, BytesToReading) {
    GaugeSpec spec = defaultDeviceGauge(*test::catalogue().findDevicePart("dht22"), "humidity");
    spec.correction = {"offset", -1.2, 0, 0.5};
    const Evaluation evaluation = fromBytes(digital(spec), "02 8C 01 5F EE");
    EXPECT_EQ(evaluation.at(Stage::Converter).text, "02 8C 01 5F EE");
    EXPECT_NEAR(evaluation.at(Stage::Formula).value, 65.2, 1e-12);
    EXPECT_NEAR(evaluation.reading(), 64.0, 1e-12);
    EXPECT_NEAR(evaluation.at(Stage::Correction).amount, -1.2, 1e-12);
    const auto trace = digital(spec).trace(evaluation);
    EXPECT_EQ(trace.back().name, "corrected");
    // The same bytes feed the other gauge.
    EXPECT_NEAR(fromBytes(digital(defaultDeviceGauge(*test::catalogue().findDevicePart("dht22"), "temperature")),
                          "02 8C 01 5F EE")
                    .reading(),
                35.1, 1e-12);
}

TEST(DigitalPath, AValueBecomesTheBytesThatSayIt) {
    const DigitalPath tray = digital(demo("soaking-tray"));
    const Evaluation evaluation = tray.evaluate({Stage::World, 25.07}).value();
    EXPECT_EQ(evaluation.at(Stage::Converter).text.substr(0, 5), "91 01");  // the data sheet's 25.0625 °C
    EXPECT_EQ(evaluation.reading(), 25.0625);
    EXPECT_EQ(evaluation.at(Stage::World).value, 25.07);
    EXPECT_EQ(tray.evaluate({Stage::World, 200}).error().code, ErrorCode::Range);
    EXPECT_EQ(tray.evaluate({Stage::Converter, 401}).error().code, ErrorCode::Unsupported);
}

TEST(DigitalPath, CalibrationOfTheGaugeOrOfTheBytes) {
    const DigitalPath own = digital(demo("barometer"));
    EXPECT_TRUE(own.hasOwnCalibration());
    const Evaluation evaluation = own.evaluate({Stage::World, 100472}).value();
    EXPECT_NEAR(evaluation.reading(), 100472, 0.5);
    // The data sheet's example brings its own coefficients: they win over the gauge's.
    const auto example =
        fromBytes(own,
                  "88: 70 6B 43 67 18 FC 7D 8E 43 D6 D0 0B 27 0B 8C 00 F9 FF 8C 3C F8 C6 70 17; F7: 65 5A C0 7E ED 00");
    EXPECT_NEAR(example.reading(), 100653.27, 0.005);
    const auto plain = fromBytes(own, "65 5A C0 7E ED 00");  // a live frame: measured bytes alone
    EXPECT_FALSE(std::isnan(plain.reading()));
    EXPECT_GT(std::abs(plain.reading() - 100653.27), 1);
}

TEST(DigitalPath, WhatDoesNotFitNamesItsField) {
    const auto where = [](const GaugeSpec& spec) { return DigitalPath::build(spec, test::catalogue()).error().where; };
    GaugeSpec spec = demo("varnish-cabinet");
    spec.sensor.parameters.set("gain", std::string("17"));
    EXPECT_EQ(where(spec), "sensor.parameters: option gain");
    spec = demo("barometer");
    spec.wiring.parameters.set("address", 80.0);
    EXPECT_EQ(where(spec), "wiring.address");
    spec = demo("barometer");
    spec.quantity = Quantity::Illuminance;
    spec.reading.unit = "lx";
    EXPECT_EQ(where(spec), "sensor.parameters.reading");
    spec = demo("barometer");
    spec.sensor.parameters.set("calibration", std::string("88: 7G"));
    EXPECT_EQ(where(spec).substr(0, 29), "sensor.parameters.calibration");
}

TEST(DigitalPath, BudgetOfAStatedAccuracy) {
    GaugeSpec spec = demo("wood-store");
    spec.correction = {"offset", 0.4, 0, 0.6};
    const Budget budget = budgetAt(spec, test::catalogue(), 50).value();
    // ± 2 %RH stated: 2/√3; the step 100/65535 %RH; U = 0.6 of the correction.
    EXPECT_NEAR(budget.standard, std::sqrt(4.0 / 3 + std::pow(100.0 / 65535, 2) / 12 + 0.09), 1e-9);
    EXPECT_TRUE(budget.sensorStated);
    EXPECT_FALSE(budgetAt(demo("varnish-cabinet"), test::catalogue(), 500)->sensorStated);
}

TEST(DigitalPath, FindingsSayWhatTheDeviceSays) {
    const auto check = [](const GaugeSpec& spec, const Evaluation* now) {
        const auto budget = now && !std::isnan(now->at(Stage::World).value)
                                ? budgetAt(spec, test::catalogue(), now->at(Stage::World).value)
                                : Expected<Budget>(tl::unexpected(Error{}));
        return findingsForDevice(spec, digital(spec), test::catalogue(), now, budget ? &*budget : nullptr);
    };
    const GaugeSpec tray = demo("soaking-tray");
    const Evaluation powerOn = fromBytes(digital(tray), "50 05 4B 46 7F FF 0C 10 1C");
    EXPECT_TRUE(has(check(tray, &powerOn), "power-on"));
    EXPECT_TRUE(has(check(tray, &powerOn), "care-water"));
    const Evaluation fine = digital(tray).evaluate({Stage::World, 40}).value();
    EXPECT_FALSE(has(check(tray, &fine), "power-on"));
    const GaugeSpec cabinet = demo("varnish-cabinet");
    const Evaluation noon = fromBytes(digital(cabinet), "FF FF 12 34");
    EXPECT_EQ(noon.at(Stage::Reading).clip, Clip::AtLeast);
    EXPECT_TRUE(has(check(cabinet, &noon), "saturated"));
    GaugeSpec barometer = demo("barometer");
    EXPECT_FALSE(has(check(barometer, nullptr), "absolute-as-gauge"));
    EXPECT_FALSE(has(check(barometer, nullptr), "example-calibration"));
    barometer.reading.span = {0, 1000};
    EXPECT_TRUE(has(check(barometer, nullptr), "absolute-as-gauge"));
    EXPECT_TRUE(has(check(barometer, nullptr), "span-beyond-range"));
    barometer.sensor.parameters.remove("calibration");
    EXPECT_TRUE(has(check(barometer, nullptr), "example-calibration"));
    const Budget unknown = budgetAt(cabinet, test::catalogue(), 500).value();
    EXPECT_TRUE(
        has(findingsForDevice(cabinet, digital(cabinet), test::catalogue(), nullptr, &unknown), "accuracy-unknown"));
}

// The virtual board's digital parts, read from its lines as a real board's would be.
TEST(VirtualBoard, DigitalPartsGoOverTheLineAndBack) {
    const auto parts = readVirtualBoard((test::dataFolder() / "demo").string(), test::catalogue());
    ASSERT_TRUE(parts) << parts.error().message();
    VirtualBoard board(*parts, test::catalogue());
    (void)board.measure(0);  // before the first conversions are finished
    LineReader reader;
    const std::map<std::string, std::string> gauges{{"barometer", "air_pressure"},
                                                    {"wood-store", "store_humidity"},
                                                    {"store-warmth", "store_temperature"},
                                                    {"soaking-tray", "tray"},
                                                    {"varnish-cabinet", "cabinet_light"}};
    const std::map<std::string, double> within{
        {"barometer", 10}, {"wood-store", 0.3}, {"store-warmth", 0.15}, {"soaking-tray", 0.15}};
    int saturated = 0;
    for (int i = 0; i < 360; ++i) {
        const auto frames = reader.feed(board.measure(60));
        ASSERT_EQ(frames.size(), 1u);
        for (const auto& [name, world] : gauges) {
            const GaugeSpec spec = demo(name);
            const auto sample = std::find_if(frames[0].samples.begin(), frames[0].samples.end(),
                                             [&](const RawSample& one) { return one.channel == spec.channel; });
            ASSERT_NE(sample, frames[0].samples.end()) << spec.channel;
            const DigitalPath path = digital(spec);
            const auto blocks = path.blocksOf(std::get<std::vector<std::uint8_t>>(sample->raw));
            ASSERT_TRUE(blocks) << blocks.error().message();
            const auto evaluation = path.evaluate({Stage::Converter, 0, std::make_shared<const RawData>(*blocks)});
            ASSERT_TRUE(evaluation) << name << ": " << evaluation.error().message();
            const double truth = board.workshop().value(world);
            if (evaluation->at(Stage::Reading).clip == Clip::AtLeast) {
                ++saturated;
                EXPECT_EQ(name, "varnish-cabinet");
                EXPECT_GE(truth, evaluation->reading() - 10);
            } else {
                EXPECT_NEAR(evaluation->reading(), truth, within.count(name) ? within.at(name) : 15 + 0.001 * truth)
                    << name << " " << i;
            }
        }
    }
    EXPECT_EQ(reader.junkCount(), 0u);
    EXPECT_GT(saturated, 5);    // the noon sun
    EXPECT_LT(saturated, 200);  // and only then
}

// A value that is tried stands in an ordinary room: 20 °C beside the humidity of the wood store.
TEST(DigitalPath, WhatIsNotAskedForIsAnOrdinaryRoom) {
    const auto evaluation = digital(demo("wood-store")).evaluate({Stage::World, 48}).value();
    EXPECT_NEAR(evaluation.reading(), 48, 0.01);
    EXPECT_NEAR(evaluation.device->decoded.find("temperature")->value, 20, 0.01);
}

RegisterDevice deviceOf(const std::string& id, std::vector<VirtualDevice::Sense> senses) {
    const DevicePart& part = *test::catalogue().findDevicePart(id);
    return RegisterDevice({id, part.device, part.options, part.device->specimen ? part.device->specimen() : RawData(),
                           std::move(senses)},
                          part, test::catalogue().findRegisterMap(id));
}

double decodedAt(RegisterDevice& device, const std::string& id, const std::string& reading) {
    const DevicePart& part = *test::catalogue().findDevicePart(id);
    RawData raw;
    for (const BlockSpec& block : part.device->blocks(part.options.completed(part.device->options()).value())) {
        if (block.isOptional) continue;
        const auto bytes = block.address ? device.read(*block.address, block.size) : device.readBlock(block.name);
        if (!bytes) return std::nan("");
        raw.add({block.address ? "" : block.name, block.address, *bytes});
    }
    const auto decoded = decode(*part.device, raw, part.options);
    return decoded && decoded->find(reading) ? decoded->find(reading)->value : std::nan("");
}

// A barometer at register level: asleep after power-on, one forced conversion, then continuous.
TEST(RegisterDevice, BarometerSleepsMeasuresOnceAndRuns) {
    Workshop workshop;
    RegisterDevice device =
        deviceOf("bme280",
                 {{"temperature", "air", 0}, {"pressure", "air_pressure", 0}, {"humidity", "store_humidity", 0}});
    EXPECT_EQ(device.read(0xD0, 1).value(), (std::vector<std::uint8_t>{0x60}));
    device.advance(10, workshop);
    EXPECT_TRUE(std::isnan(decodedAt(device, "bme280", "pressure")));  // asleep: 0x80000
    ASSERT_TRUE(device.write(0xF2, std::vector<std::uint8_t>{0x01}));
    ASSERT_TRUE(device.write(0xF4, std::vector<std::uint8_t>{0x25}));  // ×1, ×1, forced
    EXPECT_NEAR(device.conversion_s(), 8e-3, 1e-9);
    device.advance(0.004, workshop);
    EXPECT_TRUE(device.isConverting());
    EXPECT_TRUE(std::isnan(decodedAt(device, "bme280", "pressure")));
    device.advance(0.005, workshop);
    EXPECT_NEAR(decodedAt(device, "bme280", "pressure"), workshop.air_Pa(), 0.5);
    EXPECT_NEAR(decodedAt(device, "bme280", "humidity"), workshop.storeHumidity_percent(), 0.05);
    EXPECT_EQ(device.read(0xF4, 1).value(), (std::vector<std::uint8_t>{0x24}));  // back to sleep
    const double before = decodedAt(device, "bme280", "temperature");
    workshop.advance(1800);
    device.advance(1800, workshop);
    EXPECT_EQ(decodedAt(device, "bme280", "temperature"), before);  // nothing is measured asleep
    ASSERT_TRUE(device.write(0xF4, std::vector<std::uint8_t>{0x27}));
    device.advance(1, workshop);
    EXPECT_NEAR(decodedAt(device, "bme280", "temperature"), workshop.air_degC(), 0.02);
    EXPECT_EQ(device.write(0x88, std::vector<std::uint8_t>{0}).error().code, ErrorCode::ReadOnly);
    device.powerOn();
    EXPECT_TRUE(std::isnan(decodedAt(device, "bme280", "pressure")));
}

TEST(RegisterDevice, ProbesAndCommandedParts) {
    Workshop workshop;
    RegisterDevice probe = deviceOf("ds18b20", {{"temperature", "tray", 0}});
    EXPECT_EQ(decodedAt(probe, "ds18b20", "temperature"), 85);  // power-on
    RegisterDevice commanded =
        deviceOf("sht31", {{"temperature", "store_temperature", 0}, {"humidity", "store_humidity", 0}});
    EXPECT_EQ(commanded.readBlock("frame").error().code, ErrorCode::Busy);
    ASSERT_TRUE(commanded.write(0x24, std::vector<std::uint8_t>{0x00}));
    commanded.advance(0.005, workshop);
    EXPECT_EQ(commanded.readBlock("frame").error().code, ErrorCode::Busy);
    commanded.advance(0.02, workshop);
    EXPECT_NEAR(decodedAt(commanded, "sht31", "humidity"), workshop.storeHumidity_percent(), 0.01);
    RegisterDevice thermometer = deviceOf("tmp117", {{"temperature", "air", 0}});
    EXPECT_TRUE(std::isnan(decodedAt(thermometer, "tmp117", "temperature")));
    thermometer.advance(1.1, workshop);
    EXPECT_NEAR(decodedAt(thermometer, "tmp117", "temperature"), workshop.air_degC(), 0.008);
    ASSERT_TRUE(thermometer.write(0x02, std::vector<std::uint8_t>{0x0F, 0x80}));
    EXPECT_EQ(thermometer.read(0x02, 2).value(), (std::vector<std::uint8_t>{0x0F, 0x80}));
    EXPECT_EQ(thermometer.read(0x0F, 2).value(), (std::vector<std::uint8_t>{0x01, 0x17}));
    EXPECT_EQ(thermometer.write(0x01, std::vector<std::uint8_t>{0x02}).error().code, ErrorCode::Range);
}

TEST(RegisterBus, AnswersRequestsOfABoard) {
    const auto parts = readVirtualBoard((test::dataFolder() / "demo").string(), test::catalogue()).value();
    RegisterBus bus(parts.devices, test::catalogue());
    EXPECT_EQ(bus.answer("r 76 D0 1"), "58");
    EXPECT_EQ(bus.answer("r 76 F7 6"), "80 00 00 80 00 00");
    EXPECT_EQ(bus.answer("w 76 F4 27"), "ok");
    EXPECT_EQ(bus.answer("t 1"), "ok");
    const auto path = digital(demo("barometer"));
    const auto evaluation = fromBytes(path, bus.answer("r 76 F7 6"));
    EXPECT_NEAR(evaluation.reading(), bus.workshop().air_Pa(), 8);
    EXPECT_EQ(bus.answer("b tray scratchpad"), "50 05 4B 46 7F FF 0C 10 1C");
    EXPECT_EQ(bus.answer("c tray"), "ok");
    EXPECT_EQ(bus.answer("t 0.8"), "ok");
    EXPECT_NEAR(fromBytes(digital(demo("soaking-tray")), bus.answer("b tray scratchpad")).reading(),
                bus.workshop().tray_degC(), 0.15);
    EXPECT_TRUE(bus.answer("b store frame").starts_with("nak"));
    EXPECT_NE(bus.answer("r 50 00 1").find("no device acknowledges"), std::string::npos);
    for (const char* wrong : {"", "x", "r", "r 76 F7", "r 76 F7 0", "r 76 F7 999", "w 76 F4 1FF", "w 76 88 00", "t -1",
                              "b nobody frame", "r 7G 00 1"})
        EXPECT_TRUE(bus.answer(wrong).starts_with("nak")) << wrong;
}

}  // namespace
}  // namespace fg
