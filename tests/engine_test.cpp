// The feed keeps everything, in order and in time; the engine turns every sample into the reading that the gauge alone
// would give.

#include "engine/engine.h"
#include "bench/linked_inputs.h"
#include "engine/binding.h"
#include "path/default_gauge.h"
#include "simulation/virtual_board.h"
#include "support.h"

#include <fmt/format.h>
#include <cmath>
#include <random>
#include <thread>

namespace fg {
namespace {

TEST(Feed, EveryValueOfEveryLineComesOutOnce) {
    std::string text;
    for (int i = 0; i < 1000; ++i) text += fmt::format("t={}.{:03} pot={} air={}\n", i / 10, i % 10 * 100, i, 4095 - i);
    std::mt19937 random(3);
    Feed feed;
    std::vector<Sample> samples;
    for (std::size_t at = 0; at < text.size();) {  // cut anywhere
        const std::size_t size = std::min<std::size_t>(random() % 97, text.size() - at);
        for (Sample& one : feed.take(std::string_view(text).substr(at, size), 0.001 * static_cast<double>(at)))
            samples.push_back(std::move(one));
        at += size;
    }
    ASSERT_EQ(samples.size(), 2000u);
    EXPECT_EQ(feed.channelNames(), (std::vector<std::string>{"pot", "air"}));
    for (std::size_t i = 0; i < samples.size(); ++i) {
        EXPECT_EQ(samples[i].channel, i % 2);
        EXPECT_EQ(std::get<double>(samples[i].raw), static_cast<double>(i % 2 == 0 ? i / 2 : 4095 - i / 2));
        EXPECT_GE(samples[i].time_s, samples[i == 0 ? 0 : i - 1].time_s);
    }
}

// Made up: a board 40 ppm fast, lines up to 80 ms late, never early.
TEST(BoardClock, FindsOffsetAndDriftThroughLateLines) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> late(0.002, 0.08);
    BoardClock clock;
    double worst = 0;
    for (int i = 0; i < 6000; ++i) {
        const double true_s = 100 + 0.1 * i, board_s = (true_s - 37.5) * (1 + 40e-6);
        EXPECT_EQ(clock.take(board_s, true_s + late(random)), BoardClock::Event::None);
        if (i > 1000) worst = std::max(worst, std::abs(clock.measuredAt_s() - true_s));
    }
    EXPECT_LT(worst, 0.012);
    ASSERT_TRUE(clock.drift_ppm());
    EXPECT_NEAR(*clock.drift_ppm(), 40, 10);
}

TEST(BoardClock, TellsARestartFromACounterThatWentRound) {
    BoardClock clock;
    for (int i = 0; i < 100; ++i) EXPECT_EQ(clock.take(4294960 + 0.1 * i, 10 + 0.1 * i), BoardClock::Event::None);
    // Milliseconds in 32 bits: 4294967.295 s is followed by 0.
    EXPECT_EQ(clock.take(2.804, 20.1), BoardClock::Event::Wrap);
    EXPECT_NEAR(clock.measuredAt_s(), 20.1, 0.05);
    for (int i = 1; i < 100; ++i) EXPECT_EQ(clock.take(2.804 + 0.1 * i, 20.1 + 0.1 * i), BoardClock::Event::None);
    EXPECT_EQ(clock.take(0.5, 35), BoardClock::Event::Restart);
    EXPECT_NEAR(clock.measuredAt_s(), 35, 1e-9);
    EXPECT_EQ(clock.take(0.6, 35.1), BoardClock::Event::None);
}

Bench demoBench() {
    Bench bench;
    for (const auto& entry : std::filesystem::directory_iterator(test::dataFolder() / "demo")) {
        const std::string name = entry.path().filename().string();
        if (entry.path().extension() != ".json" || name == "bench.json" || name == "board.json" ||
            name == "journal.json")
            continue;
        bench.add(readGaugeFile(entry.path().string()).value());
    }
    return bench;
}

TEST(Engine, GivesForEverySampleWhatTheGaugeAloneGives) {
    const Bench bench = demoBench();
    VirtualBoard board(readVirtualBoard((test::dataFolder() / "demo").string(), test::catalogue()).value(),
                       test::catalogue());
    Engine engine(test::catalogue());
    engine.setBench(bench);
    std::map<std::int64_t, int> counts;
    std::size_t compared = 0;
    engine.addListener([&](const GaugeBatch& batch) {
        ASSERT_EQ(batch.samples.size(), batch.readings.size());
        const GaugeSpec& spec = bench.find(batch.gauge)->spec;
        const Gauge gauge = Gauge::make(spec, test::catalogue()).value();
        for (std::size_t i = 0; i < batch.samples.size(); ++i) {
            ++counts[batch.gauge];
            if (!spec.inputs.empty()) continue;
            const Reading& read = batch.readings[i];
            const Raw& raw = batch.samples[i]->raw;
            const auto* bytes = std::get_if<std::vector<std::uint8_t>>(&raw);
            const auto entry = bytes ? gauge.entryOf(*bytes) : gauge.entryOf(std::get<double>(raw));
            ASSERT_TRUE(entry) << spec.name;
            const auto whole = gauge.evaluate(*entry);
            ASSERT_TRUE(whole) << spec.name << whole.error().message();
            const StageValue& reading = whole->at(Stage::Reading);
            if (std::isnan(reading.value)) {
                EXPECT_TRUE(std::isnan(read.value)) << spec.name;
            } else {
                EXPECT_EQ(read.value, reading.value) << spec.name;
            }
            EXPECT_EQ(read.clip, reading.clip) << spec.name;
            ++compared;
        }
    });
    constexpr int kLines = 60;
    for (int i = 0; i < kLines; ++i) engine.take(board.measure(600), 0.25 * i);
    EXPECT_GT(compared, 400u);
    int bound = 0;
    for (const BenchGauge& gauge : bench.gauges) {
        if (gauge.spec.channel.empty()) continue;
        ++bound;
        EXPECT_GE(counts[gauge.id], kLines - 2) << gauge.spec.name;  // a part that was busy has no place in a line
        EXPECT_EQ(engine.last(gauge.id)->count, static_cast<std::uint64_t>(counts[gauge.id]));
    }
    EXPECT_GE(bound, 9);
    EXPECT_EQ(engine.status().frames, static_cast<std::uint64_t>(kLines));
}

// A thermocouple whose cold junction is read by a linear thermometer beside it: 10 mV a degree.
TEST(Engine, ABorrowerTakesWhatItsLenderReadBeforeItsOwnSample) {
    Bench bench;
    GaugeSpec hot = test::directGauge("thermocouple-k", 16, 0.064);
    hot.name = "Hot";
    hot.wiring.kind = "bridge";
    hot.channel = "hot";
    hot.inputs = {{"sensor.cold_junction_degC", {0, "Cold"}}};
    GaugeSpec cold = test::directGauge("lm35", 10, 1.024);
    cold.name = "Cold";
    cold.channel = "cold";
    const auto hotId = bench.add(hot);
    bench.add(cold);
    Engine engine(test::catalogue());
    engine.setBench(bench);
    std::vector<double> read;
    engine.addListener([&](const GaugeBatch& batch) {
        for (const Reading& one : batch.readings)
            if (batch.gauge == hotId) read.push_back(one.value);
    });
    // In one batch: no lender yet; 25 °C; then 30 °C, which the first two samples must not see.
    std::vector<Sample> samples{
        {0, 1, Raw(0.0)}, {1, 2, Raw(250.0)}, {0, 3, Raw(0.0)}, {1, 4, Raw(300.0)}, {0, 5, Raw(0.0)}};
    for (Sample& one : samples)
        if (one.channel == 0) one.raw = 1.0;  // 0 would be the end of the converter
    engine.take(samples, {"hot", "cold"});
    ASSERT_EQ(read.size(), 3u);
    EXPECT_TRUE(std::isnan(read[0]));
    // One code is 1 µV, a fortieth of a degree.
    EXPECT_NEAR(read[1], 25.0, 0.06);
    EXPECT_NEAR(read[2], 30.0, 0.06);
    engine.take(std::vector<Sample>{{0, 6, Raw(1.0)}}, {"hot", "cold"});
    EXPECT_NEAR(read[3], 30.0, 0.06);
    // The same numbers under other names are other channels.
    engine.take(std::vector<Sample>{{0, 7, Raw(200.0)}, {1, 8, Raw(1.0)}}, {"cold", "hot"});
    EXPECT_NEAR(read.back(), 20.0, 0.06);
}

TEST(Engine, IsAskedAndChangedWhileItTakes) {
    const Bench bench = demoBench();
    Engine engine(test::catalogue());
    engine.setBench(bench);
    const GaugeSpec pot = test::gluePot();
    std::thread board([&] {
        for (int i = 0; i < 3000; ++i)
            engine.take(fmt::format("t={} {}={}\n", 0.1 * i, pot.channel, 1000 + i), 0.1 * i);
    });
    Bench changed = bench;
    for (int i = 0; i < 200; ++i) {
        changed.gauges[0].spec.note = std::to_string(i);
        engine.setBench(changed);
        for (const BenchGauge& gauge : bench.gauges) (void)engine.last(gauge.id);
        (void)engine.status();
    }
    board.join();
    EXPECT_EQ(engine.status().samples, 3000u);
    EXPECT_EQ(std::get<double>(engine.lastRaw(pot.channel)->first), 3999);
}

// What speaks for a gauge: bytes that its part could have sent, a value inside its span, its name.
TEST(Binding, GuessesWithReasons) {
    Bench bench = demoBench();
    std::int64_t pot = 0, tray = 0;
    for (BenchGauge& gauge : bench.gauges) {
        if (gauge.spec.name == "Glue pot") pot = gauge.id;
        if (gauge.spec.name == "Soaking tray") tray = gauge.id;
        gauge.spec.channel.clear();
    }
    const auto ofPot = bindingGuesses("pot", Raw(2155.0), "", bench, test::catalogue());
    ASSERT_FALSE(ofPot.empty());
    EXPECT_EQ(ofPot[0].gauge, pot);
    EXPECT_NE(ofPot[0].reason.find("60."), std::string::npos) << ofPot[0].reason;
    EXPECT_NE(ofPot[0].reason.find("the name fits"), std::string::npos) << ofPot[0].reason;
    // Nine bytes with their CRC right are a 1-wire thermometer's, whatever the channel is called.
    const Raw scratchpad = std::vector<std::uint8_t>{0x91, 0x01, 0x4B, 0x46, 0x7F, 0xFF, 0x0F, 0x10, 0x25};
    const auto ofBytes = bindingGuesses("x", scratchpad, "", bench, test::catalogue());
    ASSERT_FALSE(ofBytes.empty());
    EXPECT_EQ(ofBytes[0].gauge, tray);
    for (const BindingGuess& guess : ofBytes) EXPECT_NE(guess.gauge, pot);
    EXPECT_TRUE(bindingGuesses("temp", Raw(19.4), "C", bench, test::catalogue()).empty());
    bench.find(pot)->spec.channel = "a0";
    EXPECT_NE(bindingGuesses("pot", Raw(2155.0), "", bench, test::catalogue())[0].reason.find("listens to “a0”"),
              std::string::npos);
}

// Two boards that use the same names, one at its own clock, cut in the middle of lines.
TEST(Engine, KeepsSeveralSourcesApart) {
    Bench bench;
    for (const char* channel : {"pot", "2:pot"}) {
        GaugeSpec spec = test::gluePot();
        spec.name = channel;
        spec.channel = channel;
        bench.add(spec);
    }
    Engine engine(test::catalogue());
    engine.setBench(bench);
    engine.take("pot=20", 1, 0);
    engine.take("pot=1", 1, 1);
    engine.take("00\n", 1, 0);
    engine.take("500 door=7\nair=3\n", 1, 1);
    EXPECT_EQ(std::get<double>(engine.last(1)->raw), 2000);
    EXPECT_EQ(std::get<double>(engine.last(2)->raw), 1500);
    EXPECT_EQ(engine.status().channels, (std::vector<std::string>{"2:air", "2:door", "2:pot", "pot"}));
    EXPECT_EQ(engine.lastLines().back().text, "2  air=3");
    // The second is unplugged within a line and comes anew: the first goes on with its half line.
    engine.take("pot=21", 2, 0);
    engine.take("pot=99", 2, 1);
    engine.restart(1);
    EXPECT_FALSE(engine.last(2));
    engine.take("pot=1600\n", 3, 1);
    engine.take("00\n", 3, 0);
    EXPECT_EQ(std::get<double>(engine.last(1)->raw), 2100);
    EXPECT_EQ(std::get<double>(engine.last(2)->raw), 1600);
}

// Two thermocouples that take each other's reading: neither has one, whatever order the batches come in.
TEST(Engine, ACircleOfLinksHasNoReading) {
    Bench bench;
    for (const char* channel : {"a", "b"}) {
        GaugeSpec spec = defaultGauge(test::catalogue().partOrFamily("thermocouple-k", Quantity::Temperature).value());
        spec.name = spec.channel = channel;
        spec.inputs["sensor.cold_junction_degC"] = {0, channel == std::string("a") ? "b" : "a"};
        bench.add(spec);
    }
    settleInputs(bench);
    Engine engine(test::catalogue());
    engine.setBench(bench);
    for (int size = 1; size <= 64; size *= 4) {
        std::string lines;
        for (int i = 0; i < size; ++i) lines += i % 2 == 0 ? "a=100\n" : "b=200 a=3\n";
        engine.take(lines, size);
        for (const std::int64_t id : {1, 2})
            if (const auto last = engine.last(id)) {
                EXPECT_TRUE(std::isnan(last->reading.value));
            }
    }
}

}  // namespace
}  // namespace fg
