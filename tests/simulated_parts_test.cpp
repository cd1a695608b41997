// Every digital part of the catalogue, simulated at register level: it measures the workshop, obeys what its sheet
// proposes byte by byte, and survives whatever else comes over the bus.

#include "handover/measuring_sequence.h"
#include "registers/bus_transaction.h"
#include "registers_support.h"
#include "simulation/register_bus.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace fg {
namespace {

using Bytes = std::vector<std::uint8_t>;

/// What of the workshop a reading senses; empty for one that the workshop does not have.
std::string worldOf(const std::string& reading) {
    return reading == "temperature"   ? "air"
           : reading == "humidity"    ? "store_humidity"
           : reading == "pressure"    ? "air_pressure"
           : reading == "illuminance" ? "light"
                                      : "";
}

/// What one raw step and a quick routine may take from a reading, canonical: whole degrees and percents for the
/// coarsest parts.
double closeEnough(const std::string& reading, const std::string& part, double value) {
    if (reading == "temperature") return part == "dht11" ? 1 : part == "ds18s20" ? 0.51 : 0.3;
    if (reading == "humidity") return part == "dht11" ? 1 : 0.2;
    if (reading == "pressure") return 60;
    return std::max(0.1 * value, 5.0);
}

RegisterDevice deviceOf(const DevicePart& part) {
    VirtualDevice device{
        part.id, part.device, part.options, part.device->specimen ? part.device->specimen() : RawData(), {}};
    const DeviceOptions options = part.options.completed(part.device->options()).value();
    for (const RawVariable& variable : part.device->variables(options))
        if (!worldOf(variable.reading).empty())
            device.senses.push_back({variable.reading, worldOf(variable.reading), 0});
    return RegisterDevice(device, part, test::catalogue().findRegisterMap(part.id));
}

/// A gauge of the part's first reading, set up to measure where its power-on state leaves a reading out.
GaugeSpec firstGauge(const DevicePart& part) {
    GaugeSpec spec = defaultDeviceGauge(part, part.readings.front());
    std::string settings;
    if (const RegisterMap* map = test::catalogue().findRegisterMap(part.id))
        for (const FieldValue& value : map->all({}))
            if (value.text == "skipped") settings += (settings.empty() ? "" : ",") + value.field->id + "=x1";
    if (!settings.empty()) spec.sensor.parameters.set("settings", settings);
    return spec;
}

class EveryPart : public testing::TestWithParam<std::string> {
  protected:
    const DevicePart& part = *test::catalogue().findDevicePart(GetParam());
};

TEST_P(EveryPart, MeasuresTheWorkshop) {
    Workshop workshop;
    RegisterDevice device = deviceOf(part);
    device.command();
    device.advance(3, workshop);
    RawData raw;
    for (const BlockSpec& block : part.device->blocks(part.options.completed(part.device->options()).value())) {
        if (block.isOptional) continue;
        const auto bytes = block.address ? device.read(*block.address, block.size) : device.readBlock(block.name);
        ASSERT_TRUE(bytes) << block.name << ": " << bytes.error().message();
        raw.add({block.address ? "" : block.name, block.address, *bytes});
    }
    const auto decoded = decode(*part.device, raw, part.options);
    ASSERT_TRUE(decoded) << decoded.error().message();
    int compared = 0;
    for (const DeviceReading& reading : decoded->readings) {
        if (worldOf(reading.id).empty()) continue;
        const double truth = workshop.value(worldOf(reading.id));
        EXPECT_NEAR(reading.value, truth, closeEnough(reading.id, part.id, truth)) << reading.id;
        ++compared;
    }
    EXPECT_TRUE(compared > 0 || part.id == "hx711" || part.id == "ads1015" || part.id == "ads1115" ||
                part.id == "nau7802");
    EXPECT_EQ(std::count_if(decoded->status.begin(), decoded->status.end(),
                            [](const DeviceStatus& one) { return one.kind == StatusKind::Fault; }),
              0);
}

/// One transfer of a sequence with the simulated part, as a bus would make it.
Expected<Bytes> transfer(RegisterDevice& device, const DevicePart& part, const SequenceStep& step) {
    const RegisterMap* map = test::catalogue().findRegisterMap(part.id);
    const bool hasPointer = std::any_of(step.out.begin(), step.out.end(), [](std::uint8_t) { return true; });
    std::size_t pointerBytes = map && map->hasCommands() ? 1 : map ? map->registers.front().pointerBytes : 1;
    if (part.interface == "1-wire") {
        // Past the byte that skips the ROM code stands the function.
        if (step.out.at(1) == 0x44) device.command();
        return step.in > 0 ? device.readBlock(step.block) : Bytes();
    }
    if (!hasPointer) {
        if (step.in == 0) return Bytes();
        if (step.startLow_s > 0 || step.pulses > 0) return device.readBlock(step.block);
        return map && map->hasCommands() ? device.answer(step.in) : device.readBlock(step.block);
    }
    unsigned pointer = 0;
    for (std::size_t i = 0; i < pointerBytes; ++i) pointer = pointer << 8 | step.out[i];
    const Bytes rest(step.out.begin() + static_cast<std::ptrdiff_t>(pointerBytes), step.out.end());
    if (step.in == 0 || (map && map->hasCommands())) {
        const auto written = device.write(pointer, rest);
        if (!written) return tl::unexpected(written.error());
        return step.in == 0 ? Expected<Bytes>(Bytes()) : device.answer(step.in);
    }
    const auto& blocks = part.device->blocks(part.options.completed(part.device->options()).value());
    const bool isNamed = std::any_of(blocks.begin(), blocks.end(), [&](const BlockSpec& block) {
        return block.name == step.block && !block.address;
    });
    return isNamed ? device.readBlock(step.block) : device.read(pointer, step.in);
}

/// Transfer by transfer, with no more than the waits that the sequence states, the part gives what the workshop is
/// now, not what it was before, and not what its registers held after power-on.
TEST_P(EveryPart, IsMeasuredByItsSequence) {
    const GaugeSpec spec = firstGauge(part);
    const auto path = DigitalPath::build(spec, test::catalogue());
    ASSERT_TRUE(path) << path.error().message();
    const MeasuringSequence sequence = sequenceOf(*path, spec, test::catalogue());
    ASSERT_EQ(sequence.missing, "");
    // Its config stands at 0x8583 after a reset, a single conversion asked for: it has to be written to make one.
    if (part.id == "ads1115") {
        EXPECT_EQ(sequence.each.front().out, (Bytes{0x01, 0x85, 0x83}));
        EXPECT_GE(sequence.each.front().wait_s, 1 / 128.0);
    }
    Workshop workshop;
    RegisterDevice device = deviceOf(part);
    if (!test::catalogue().findRegisterMap(part.id)) device.command();  // what has nothing to set runs by itself
    const auto options = part.options.completed(part.device->options()).value();
    std::map<std::string, Bytes> read;
    const auto run = [&](const std::vector<SequenceStep>& steps) {
        for (const SequenceStep& step : steps) {
            const auto bytes = transfer(device, part, step);
            ASSERT_TRUE(bytes) << step.why << ": " << bytes.error().message();
            if (step.in > 0) {
                Bytes& block = read[step.block];
                block.resize(std::max(block.size(), step.at + step.in));
                ASSERT_EQ(bytes->size(), step.in) << step.why;
                std::copy(bytes->begin(), bytes->end(), block.begin() + static_cast<std::ptrdiff_t>(step.at));
            }
            workshop.advance(step.wait_s);
            device.advance(step.wait_s, workshop);
        }
    };
    run(sequence.once);
    for (int round = 0; round < 2 && !HasFatalFailure(); ++round) {
        run(sequence.each);
        RawData raw;
        std::map<std::string, std::size_t> taken;
        for (const BlockSpec& block : part.device->blocks(options)) {
            if (block.isOptional) continue;
            const Bytes& all = read[block.name];
            const std::size_t from = taken[block.name];
            ASSERT_GE(all.size(), from + block.size) << block.name;
            raw.add({block.address ? "" : block.name, block.address,
                     Bytes(all.begin() + static_cast<std::ptrdiff_t>(from),
                           all.begin() + static_cast<std::ptrdiff_t>(from + block.size))});
            taken[block.name] = from + block.size;
        }
        const auto decoded = decode(*part.device, raw, part.options);
        ASSERT_TRUE(decoded) << decoded.error().message();
        for (const DeviceReading& reading : decoded->readings) {
            const std::string world = worldOf(reading.id);
            if (world.empty()) continue;
            EXPECT_NEAR(reading.value, workshop.value(world), closeEnough(reading.id, part.id, workshop.value(world)))
                << reading.id << " in round " << round;
        }
        // A quarter of a day later the workshop is another one.
        workshop.advance(6 * 3600);
        if (!test::catalogue().findRegisterMap(part.id)) device.command();
        for (int i = 0; i < 4; ++i) device.advance(2, workshop);
    }
}

/// The master's bytes of a transaction after the address, and how many bytes it reads.
struct Master {
    Bytes sent, expected;
    std::vector<bool> isMeasured;
};
Master masterOf(const Transaction& transaction) {
    Master master;
    bool isAddress = false;
    for (const BusStep& step : transaction.steps) {
        if (step.kind == BusStep::Kind::Start || step.kind == BusStep::Kind::RepeatedStart) {
            isAddress = true;
            continue;
        }
        if (step.kind != BusStep::Kind::Byte) continue;
        if (!isAddress && step.byMaster) master.sent.push_back(step.byte);
        if (!step.byMaster) {
            master.expected.push_back(step.byte);
            master.isMeasured.push_back(step.isMeasured);
        }
        isAddress = false;
    }
    return master;
}

// What the sheet proposes, as a bus master would send it: the part takes it, and reads back what the sheet says.
class EverySheet : public EveryPart {};

TEST_P(EverySheet, IsObeyedOverTheBus) {
    const RegisterMap* map = test::catalogue().findRegisterMap(part.id);
    Workshop workshop;
    for (const Register& in : map->registers) {
        if (in.isReadOnly) continue;
        std::vector<std::uint32_t> trials{in.reset};
        for (const RegisterField& field : in.fields)
            if (!field.isReadOnly)
                for (const std::uint32_t code : {0U, 1U})
                    if (const auto other = in.with(field, in.reset, code); other && in.accepts(*other))
                        trials.push_back(*other);
        for (const std::uint32_t word : trials) {
            RegisterDevice device = deviceOf(part);
            for (const Transaction& one : transactionsOf({&in, word}, {BusKind::TwoWire, 0x40})) {
                const std::string where =
                    in.name + " " + RegisterWord{&in, word}.text() + ", " + transactionText(one.steps);
                const Master master = masterOf(one);
                if (master.expected.empty()) {
                    const auto written = device.write(master.sent.front(), std::span(master.sent).subspan(1));
                    EXPECT_TRUE(written) << where << ": " << written.error().message();
                    continue;
                }
                if (one.title == "answer") {
                    device.advance(3, workshop);
                    if (in.role != CommandRole::Measures) continue;  // it answers what was measured before
                    EXPECT_EQ(device.answer(master.expected.size())
                                  .map([](const Bytes& bytes) { return bytes.size(); })
                                  .value_or(0),
                              master.expected.size())
                        << where;
                    continue;
                }
                unsigned pointer = 0;
                for (const std::uint8_t byte : master.sent) pointer = pointer << 8 | byte;
                const auto bytes = device.read(pointer, master.expected.size());
                ASSERT_TRUE(bytes) << where << ": " << bytes.error().message();
                for (std::size_t i = 0; i < bytes->size(); ++i) {
                    if (!master.isMeasured[i]) {
                        EXPECT_EQ((*bytes)[i], master.expected[i]) << where;
                    }
                }
            }
        }
    }
}

// Anything may come over a wire. A part answers or refuses; afterwards it still measures.
TEST_P(EveryPart, SurvivesWhateverComes) {
    Workshop workshop;
    RegisterDevice device = deviceOf(part);
    std::mt19937 random(17);
    for (int i = 0; i < 400; ++i) {
        Bytes bytes(random() % 5);
        for (std::uint8_t& byte : bytes) byte = static_cast<std::uint8_t>(random());
        (void)device.write(static_cast<unsigned>(random() % (i % 2 ? 0x100 : 0x10000)), bytes);
        (void)device.read(static_cast<unsigned>(random() % 0x100), 1 + random() % 8);
        (void)device.answer(1 + random() % 8);
        if (i % 20 == 0) device.advance(0.2, workshop);
    }
    device.powerOn();
    device.command();
    device.advance(3, workshop);
    EXPECT_TRUE(device.frame()) << device.frame().error().message();
}

// Lines as a terminal sends them, whole, garbled and cut: each is answered in one line, with bytes, "ok" or the reason.
TEST(EveryRequest, IsAnsweredInOneLine) {
    const auto parts = readVirtualBoard((test::dataFolder() / "demo").string(), test::catalogue()).value();
    RegisterBus bus(parts.devices, test::catalogue());
    const std::vector<std::vector<std::string>> slots{
        {"w", "r", "r", "b", "c", "t", "q", ""},
        {"76", "76", "76", "44", "44", "39", "80", "tray", "0.1", "1e9", "°"},
        {"F4", "F7", "D0", "E000", "24", "6", "scratchpad", "frame", "zz", "\t"},
        {"00", "1", "6", "0", "257", "zz"},
        {"27", "100", "-"}};
    std::mt19937 random(5);
    int bytes = 0, done = 0, refused = 0;
    for (int i = 0; i < 4000; ++i) {
        std::string line;
        const std::size_t length = i % 5 == 0 ? random() % 6 : 3 + random() % 2;
        for (std::size_t slot = 0; slot < length; ++slot) line += slots[slot][random() % slots[slot].size()] + " ";
        const std::string answer = bus.answer(line);
        ASSERT_FALSE(answer.empty()) << line;
        EXPECT_EQ(answer.find('\n'), std::string::npos) << line;
        if (answer == "ok") {
            ++done;
        } else if (answer.starts_with("nak ")) {
            ++refused;
        } else {
            EXPECT_EQ(answer.find_first_not_of("0123456789ABCDEF "), std::string::npos) << line << ": " << answer;
            ++bytes;
        }
    }
    EXPECT_TRUE(bytes > 5 && done > 50 && refused > 1000) << bytes << " " << done << " " << refused;
    // Afterwards the board is as it was made.
    EXPECT_EQ(bus.answer("r 76 D0 1"), "58");
}

/// A test's name takes letters, digits and underscores only.
std::string nameOf(const testing::TestParamInfo<std::string>& one) {
    std::string name = one.param;
    std::replace(name.begin(), name.end(), '-', '_');
    return name;
}
std::vector<std::string> partsThat(bool (*are)(const DevicePart& part)) {
    std::vector<std::string> ids;
    for (const DevicePart& one : test::catalogue().devices())
        if (are(one)) ids.push_back(one.id);
    return ids;
}
INSTANTIATE_TEST_SUITE_P(Catalogue, EveryPart, testing::ValuesIn(partsThat([](const DevicePart&) { return true; })),
                         nameOf);
INSTANTIATE_TEST_SUITE_P(Catalogue, EverySheet, testing::ValuesIn(partsThat([](const DevicePart& part) {
                             return part.interface == "i2c" && test::catalogue().findRegisterMap(part.id);
                         })),
                         nameOf);

}  // namespace
}  // namespace fg
