// Gauges without a sensor of their own: what follows from other gauges, and what the board says. Causes that two
// readings have in common are added with their signs.

#include "analysis/live_watch.h"
#include "analysis/look.h"
#include "bench/linked_inputs.h"
#include "engine/binding.h"
#include "engine/engine.h"
#include "gauge/gauge.h"
#include "path/default_gauge.h"
#include "recording/recorder.h"
#include "recording/track_reader.h"
#include "recording/worked_out.h"
#include "storage/bench_file.h"
#include "support.h"
#include "uncertainty/monte_carlo.h"

#include <fmt/format.h>
#include <cmath>
#include <cstdlib>
#include <fstream>

namespace fg {
namespace {

using test::catalogue;

GaugeSpec said(const std::string& name, const std::string& channel, const char* unit, Quantity quantity) {
    GaugeSpec spec = defaultSaidGauge(channel, **unitFromId(unit, quantity));
    spec.name = name;
    return spec;
}

GaugeSpec derivedOf(const char* law, std::initializer_list<std::pair<const char*, const char*>> inputs) {
    GaugeSpec spec = defaultDerivedGauge(law).value();
    spec.name = law;
    for (const auto& [field, gauge] : inputs) spec.inputs["sensor." + std::string(field)] = {0, gauge};
    return spec;
}

/// Warmth in °F and humidity as a board writes them, and the wood between.
Bench storeBench() {
    Bench bench;
    bench.add(derivedOf("wood-moisture", {{"temperature", "Warmth"}, {"humidity", "Air"}}));
    bench.add(said("Warmth", "warmth", "degF", Quantity::Temperature));
    bench.add(said("Air", "h", "percent", Quantity::RelativeHumidity));
    settleInputs(bench);
    return bench;
}

/// What each gauge read, in order.
std::map<std::int64_t, std::vector<std::pair<double, double>>> runBench(const Bench& bench, const std::string& lines,
                                                                        double step_s = 1) {
    Engine engine(catalogue());
    engine.setBench(bench);
    std::map<std::int64_t, std::vector<std::pair<double, double>>> got;
    engine.addListener([&](const GaugeBatch& batch) {
        for (std::size_t i = 0; i < batch.samples.size(); ++i)
            got[batch.gauge].emplace_back(batch.samples[i]->time_s, batch.readings[i].value);
    });
    std::istringstream text(lines);
    double now_s = 0;
    for (std::string line; std::getline(text, line); now_s += step_s) engine.take(line + "\n", now_s);
    return got;
}

// Wood Handbook, FPL-GTR-190, table 4-2, moisture at 70 °F: 9.2 % at 50 %RH, 11.0 % at 60 %RH; at 30 °F and 50 %RH 9.5
// %.
TEST(DerivedGauge, FollowsItsInputsAtEveryOneOfTheirSamples) {
    const auto got = runBench(storeBench(), "warmth=70\nh=50\nh=60\nwarmth=30 h=50\nh=120\nwarmth=70 h=50\n");
    const auto& wood = got.at(1);
    ASSERT_EQ(wood.size(), 6u);  // a line with both is one reading
    EXPECT_TRUE(std::isnan(wood[0].second));
    EXPECT_NEAR(wood[1].second, 9.2, 0.05);
    EXPECT_NEAR(wood[2].second, 11.0, 0.05);
    EXPECT_NEAR(wood[3].second, 9.5, 0.05);
    EXPECT_TRUE(std::isnan(wood[4].second)) << "beyond the law's range";
    EXPECT_NEAR(wood[5].second, 9.2, 0.05);
    EXPECT_EQ(wood[3].first, got.at(3)[2].first);
}

TEST(DerivedGauge, SaysWhatItNeedsAndWhatIsWrong) {
    Bench bench = storeBench();
    const auto filled = [&](double warmth, double air) {
        return withInputs(bench.gauges[0].spec, catalogue(), [&](const LinkedInput& input) {
            return std::optional(LinkedReading{input.name == "Warmth" ? warmth : air, 0.1});
        });
    };
    const auto good = Gauge::make(filled(21.1, 50).value(), catalogue());
    ASSERT_TRUE(good);
    const auto now = good->evaluate({Stage::Reading, std::nan("")});
    EXPECT_NEAR(now->reading(), 9.2, 0.05);
    EXPECT_GE(good->trace(*now).size(), 6u);
    EXPECT_FALSE(good->entryOfRaw("512"));
    // Outside the formula: no number, and the reason names the input.
    const auto wet = Gauge::make(filled(21.1, 99).value(), catalogue()).value();
    const auto none = wet.evaluate({Stage::Reading, std::nan("")}).value();
    EXPECT_TRUE(std::isnan(none.reading()));
    EXPECT_NE(none.at(Stage::Reading).problem.find("humidity"), std::string::npos);
    // Not linked: a fault that says which.
    GaugeSpec loose = bench.gauges[0].spec;
    loose.inputs.erase("sensor.humidity");
    const auto missing = Gauge::make(loose, catalogue()).value();
    const auto evaluated = missing.evaluate({Stage::Reading, std::nan("")}).value();
    const auto findings = missing.findings(&evaluated, nullptr);
    ASSERT_FALSE(findings.empty());
    EXPECT_EQ(findings[0].id, "input-missing");
    for (const auto& [part, quantity] : {std::pair{"dew-pint", Quantity::Temperature},
                                         {"dew-point", Quantity::Pressure},
                                         {"rate-of-change", Quantity::Temperature}}) {
        GaugeSpec wrong = bench.gauges[0].spec;
        wrong.sensor.part = part;
        wrong.quantity = quantity;
        wrong.reading.unit = canonicalUnit(quantity).id;
        EXPECT_FALSE(Gauge::make(wrong, catalogue())) << part;
    }
    const auto back = readGauge(writeGauge(bench.gauges[0].spec), "there and back");
    ASSERT_TRUE(back) << back.error().message();
    EXPECT_EQ(*back, bench.gauges[0].spec);
    std::string text = writeGauge(bench.gauges[0].spec);
    text.replace(text.find("\"reading\": {"), 12, "\"reading\": {\"filter\": {\"kind\": \"kalman\"},");
    ASSERT_FALSE(readGauge(text, "another filter"));
    EXPECT_NE(readGauge(text, "another filter").error().found.find("kalman"), std::string::npos);
}

// A straight line of 20 °C + 0.5 °C/h · t with a jump at the end; mean, extremes and slope over ten minutes.
TEST(DerivedGauge, RunningValuesOverTheLastWhile) {
    Bench bench;
    bench.add(said("Warmth", "warmth", "degC", Quantity::Temperature));
    for (const char* kind : {"rate-of-change", "running-mean", "running-least", "running-most"}) {
        GaugeSpec spec = derivedOf(kind, {{"reading", "Warmth"}});
        spec.sensor.parameters.set("window_s", 600.0);
        bench.add(spec);
    }
    settleInputs(bench);
    std::string lines;
    for (int i = 0; i < 3600; ++i) lines += fmt::format("warmth={:.9f}\n", 20 + 0.5 * i / 3600);
    const auto got = runBench(bench, lines);
    const auto at = [&](std::int64_t gauge, std::size_t i) { return got.at(gauge)[i].second; };
    EXPECT_TRUE(std::isnan(at(2, 50)));
    EXPECT_NEAR(at(2, 80), 0.5, 1e-6);
    EXPECT_NEAR(at(2, 3599), 0.5, 1e-6);
    // Pieces of 2.5 s: the window begins within one of them.
    EXPECT_NEAR(at(3, 3599), 20 + 0.5 * (3599 - 300) / 3600, 0.5 * 2.5 / 3600);
    EXPECT_NEAR(at(4, 3599), 20 + 0.5 * (3599 - 600) / 3600, 0.5 * 3.5 / 3600);
    EXPECT_NEAR(at(5, 3599), 20 + 0.5 * 3599 / 3600, 1e-9);
}

// Lines that come in one piece have one time: none of their readings may be left out of the extremes.
TEST(DerivedGauge, RunningValuesTakeEveryLineOfAPiece) {
    Bench bench;
    bench.add(said("Warmth", "warmth", "degC", Quantity::Temperature));
    for (const char* kind : {"running-mean", "running-least", "running-most"})
        bench.add(derivedOf(kind, {{"reading", "Warmth"}}));
    settleInputs(bench);
    Engine engine(catalogue());
    engine.setBench(bench);
    engine.take("warmth=20\nwarmth=35\nwarmth=5\nwarmth=20\n", 1);
    const auto read = [&](std::int64_t gauge) { return engine.last(gauge).value().reading.value; };
    EXPECT_NEAR(read(2), 20, 1e-9);
    EXPECT_EQ(read(3), 5);
    EXPECT_EQ(read(4), 35);
}

// And what follows from two readings has one for each line, of the values of that line.
TEST(DerivedGauge, EveryLineOfAPieceHasItsReading) {
    Bench bench;
    bench.add(said("Warmth", "warmth", "degC", Quantity::Temperature));
    bench.add(said("Damp", "damp", "percent", Quantity::RelativeHumidity));
    bench.add(derivedOf("dew-point", {{"temperature", "Warmth"}, {"humidity", "Damp"}}));
    settleInputs(bench);
    Engine engine(catalogue());
    engine.setBench(bench);
    std::vector<double> values;
    engine.addListener([&](const GaugeBatch& batch) {
        for (const Reading& reading : batch.readings)
            if (batch.gauge == 3) values.push_back(reading.value);
    });
    engine.take("warmth=20 damp=100\nwarmth=15 damp=100\nwarmth=25 damp=100\n", 1);
    // Air full of water has its dew point where it is.
    ASSERT_EQ(values.size(), 3u);
    EXPECT_NEAR(values[0], 20, 1e-6);
    EXPECT_NEAR(values[1], 15, 1e-6);
    EXPECT_NEAR(values[2], 25, 1e-6);
    // One of them alone: the other stays as it was last.
    engine.take("warmth=10\nwarmth=12\n", 2);
    ASSERT_EQ(values.size(), 5u);
    EXPECT_NEAR(values[3], 10, 1e-6);
    EXPECT_NEAR(values[4], 12, 1e-6);
}

// JCGM 100:2008, H.3: corrections of a thermometer over temperature; slope 0.002 18 with a standard uncertainty of
// 0.000 67.
TEST(DerivedGauge, ARateHasTheUncertaintyOfItsScatter) {
    constexpr double kOver[] = {21.521, 22.012, 22.512, 23.003, 23.507, 23.999, 24.513, 25.002, 25.503, 26.010, 26.511};
    constexpr double kReads[] = {-.171, -.169, -.166, -.159, -.164, -.165, -.156, -.157, -.159, -.161, -.160};
    RunningWindow window(Over::Rate, 10);
    for (std::size_t i = 0; i < std::size(kOver); ++i) {
        if (i < 3) {
            EXPECT_FALSE(window.standard()) << i;
        }
        window.add(kOver[i], kReads[i]);
    }
    EXPECT_NEAR(window.value() / 3600, 0.00218, 5e-6);
    EXPECT_NEAR(window.standard().value() / 3600, 0.00067, 5e-6);
    EXPECT_FALSE(RunningWindow(Over::Mean, 10).standard());

    // On the bench: readings ± 0.1 °C in turn about a line, seconds apart; the gauge's own ± and what is said of it.
    Bench bench;
    bench.add(said("Warmth", "warmth", "degC", Quantity::Temperature));
    GaugeSpec spec = derivedOf("rate-of-change", {{"reading", "Warmth"}});
    spec.sensor.parameters.set("window_s", 600.0);
    bench.add(spec);
    settleInputs(bench);
    Engine engine(catalogue());
    engine.setBench(bench);
    constexpr int kCount = 600;
    for (int i = 0; i < kCount; ++i) engine.take(fmt::format("warmth={:.3f}\n", 20 + (i % 2 ? 0.1 : -0.1)), i);
    const LastReading last = engine.last(2).value();
    // Residuals of 0.1 over equally spaced times: s/√(n (n² − 1)/12) a second.
    const double expected = 3600 * 0.1 / std::sqrt(kCount * (std::pow(kCount, 2) - 1) / 12);
    EXPECT_NEAR(last.standard.value(), expected, 0.01 * expected);
    const Gauge rate = Gauge::make(bench.gauges[1].spec, catalogue()).value();
    const auto evaluated = rate.evaluate({Stage::Reading, last.reading.value, {}, {}, last.standard}).value();
    const auto budget = rate.budgetOf(evaluated);
    ASSERT_TRUE(budget);
    EXPECT_TRUE(budget->sensorStated);
    EXPECT_NEAR(budget->expanded, 1.96 * expected, 0.05 * expected);
    const auto findings = rate.findings(&evaluated, &*budget);
    EXPECT_TRUE(
        std::any_of(findings.begin(), findings.end(), [](const Finding& one) { return one.id == "rate-by-scatter"; }));
    // Before that is known nothing is claimed.
    EXPECT_FALSE(rate.budgetOf(rate.evaluate({Stage::Reading, 0.3}).value())->sensorStated);
}

/// A pressure sensor of 1 V at 100 kPa, straight on one converter of 24 bits whose reference of 4 V is within 1 %.
GaugeSpec pressureGauge(const std::string& name) {
    GaugeSpec spec;
    spec.name = name;
    spec.quantity = Quantity::Pressure;
    spec.sensor = {"linear-voltage", {{"slope_V_per_Pa", 1e-5}, {"offset_V", 0.0}}};
    spec.converter = {"adc", "adc-12bit-3v3", {{"bits", 24.0}, {"reference_V", 4.0}, {"reference_tolerance", 0.01}}};
    spec.reading = {"Pa", {0, 300000}};
    return spec;
}

Lent lentBy(const GaugeSpec& spec, double world, std::int64_t id, double& standard) {
    const auto budget = budgetAt(spec, catalogue(), world);
    EXPECT_TRUE(budget) << budget.error().message();
    standard = budget->standard;
    return lentOf(*budget, id);
}

// The reference is off by δ: both pressures are off by p·δ, their difference by (p − p0)·δ. A rectangle of ± 1 kPa
// holds 95 % within ± 950 Pa. Two references would be √(200² + 100²)·10 Pa/√3 = 1291 Pa.
TEST(CommonCauses, OfTwoGaugesOnOneReferenceAreAddedWithTheirSigns) {
    const auto differenceOf = [&](const GaugeSpec& a, const GaugeSpec& b) {
        GaugeSpec spec = derivedOf("gauge-pressure", {{"pressure", "a"}, {"ambient", "b"}});
        const auto filled = withInputs(spec, catalogue(), [&](const LinkedInput& input) {
            const bool isFirst = input.name == "a";
            LinkedReading linked{isFirst ? 200000.0 : 100000.0};
            linked.lent = lentBy(isFirst ? a : b, linked.reading, isFirst ? 1 : 2, linked.standard);
            return std::optional(linked);
        });
        return budgetAt(filled.value(), catalogue(), 100000).value();
    };
    const Budget shared = differenceOf(pressureGauge("a"), pressureGauge("b"));
    EXPECT_NEAR(shared.standard, 1000 / std::sqrt(3.0), 1);
    EXPECT_NEAR(shared.expanded, 950, 5);
    ASSERT_EQ(shared.common.size(), 1u);
    double shares = 0;
    for (const Contribution& line : shared.contributions) shares += line.share;
    EXPECT_NEAR(shares, 1, 1e-9);
    GaugeSpec other = pressureGauge("b");
    other.converter.part = "adc-10bit-supply";
    EXPECT_NEAR(differenceOf(pressureGauge("a"), other).standard, 1291, 2);
    // One gauge lent twice: the same to the last digit, noise and step included.
    GaugeSpec twice = derivedOf("gauge-pressure", {{"pressure", "a"}, {"ambient", "a"}});
    const auto filled = withInputs(twice, catalogue(), [&](const LinkedInput&) {
        LinkedReading linked{100000};
        linked.lent = lentBy(pressureGauge("a"), 100000, 1, linked.standard);
        return std::optional(linked);
    });
    EXPECT_LT(budgetAt(filled.value(), catalogue(), 0)->standard, 1e-6);
}

// A thermocouple whose cold junction another gauge of the same converter reads: draws with the common reference agree
// with the budget, which without it would be another one.
TEST(CommonCauses, DrawsAgreeWithTheBudget) {
    GaugeSpec cold = test::directGauge("lm35", 16, 3.3);
    cold.converter.part = "adc-12bit-3v3";
    cold.converter.parameters.set("reference_tolerance", 0.03);
    GaugeSpec hot = defaultGauge(catalogue().partOrFamily("thermocouple-k", Quantity::Temperature).value());
    hot.wiring = {"amplifier", {{"gain", 60.0}}};
    hot.converter = cold.converter;
    hot.sensor.parameters.remove("cold_junction_tolerance_K");
    hot.inputs["sensor.cold_junction_degC"] = {7, "cold"};
    const auto filledWith = [&](bool isLent) {
        return withInputs(hot, catalogue(),
                          [&](const LinkedInput&) {
                              LinkedReading linked{60};
                              Lent lent = lentBy(cold, 60, 7, linked.standard);
                              if (isLent) linked.lent = lent;
                              return std::optional(linked);
                          })
            .value();
    };
    const GaugeSpec together = filledWith(true);
    const auto budget = budgetAt(together, catalogue(), 120);
    ASSERT_TRUE(budget) << budget.error().message();
    ASSERT_FALSE(budget->common.empty());
    const auto run = monteCarlo(together, catalogue(), 120, 400000, 5);
    ASSERT_TRUE(run) << run.error().message();
    EXPECT_NEAR(run->standard, budget->standard, 0.01 * budget->standard);
    const auto apart = budgetAt(filledWith(false), catalogue(), 120);
    EXPECT_GT(std::abs(apart->standard - budget->standard), 0.1 * budget->standard);
}

TEST(SaidGauge, TakesTheBoardsReadingInItsUnit) {
    GaugeSpec spec = said("Warmth", "warmth", "degF", Quantity::Temperature);
    spec.correction = {"offset", -0.5};
    spec.sensor.parameters.set("accuracy", 1.0);
    const auto gauge = Gauge::make(spec, catalogue()).value();
    EXPECT_NEAR(gauge.read(68.0).value, 19.5, 1e-12);
    const auto entry = gauge.entryOfRaw("68");
    ASSERT_TRUE(entry);
    const auto now = gauge.evaluate(*entry).value();
    EXPECT_NEAR(now.reading(), 19.5, 1e-12);
    EXPECT_EQ(now.at(Stage::Converter).text, "68");
    EXPECT_NEAR(gauge.budgetOf(now)->expanded, 0.95, 0.01);
    spec.converter.parameters.set("unit", std::string("furlong"));
    EXPECT_EQ(Gauge::make(spec, catalogue()).error().where, "converter.unit");
}

// LM35 at 10 mV/°C on 10 bits of 5 V: code 41 is 200.2 mV, 20.02 °C. The board says half a degree more, then 0.7 more.
TEST(SaidGauge, IsHeldAgainstTheGaugeBesideItOverARecording) {
    const test::TemporaryFolder folder;
    Bench bench;
    GaugeSpec own = test::directGauge("lm35", 10, 5);
    own.name = "Air";
    own.channel = "raw";
    own.reading.span = {0, 40};
    const auto ownId = bench.add(own);
    const auto saidId = addSaid(bench, "board", **unitFromId("degC", Quantity::Temperature), ownId);
    const auto file = BenchFile::create(folder / "air.fairgauge", bench).value();
    Engine engine(catalogue());
    engine.setBench(bench);
    const std::int64_t both[] = {ownId, saidId};
    auto recorder = Recorder::start(file->recordings(), bench, both, "Air", "test", {1'000'000'000'000'000, 0}).value();
    engine.addListener([&](const GaugeBatch& batch) { recorder->take(batch); });
    const double reads = 41 * 5.0 / 1024 / 0.01;
    for (int i = 0; i < 40; ++i) engine.take(fmt::format("raw=41 board={:.4f}\n", reads + (i < 20 ? 0.5 : 0.7)), i);
    ASSERT_TRUE(recorder->stop({1'000'000'040'000'000, 40}));
    const auto recording = file->recordings().recordings()->front();
    RecordingLook look(file->recordings(), catalogue());
    const auto differenceOf = [&](std::vector<std::int64_t> gauges) {
        LookWish wish{recording, bench, Conversion::AsRecorded, std::move(gauges), recording.span()};
        wish.cursor = recording.span().from_us + 5 * kMicrosASecond;
        wish.selection = recording.span();
        const std::vector<SeenTrack> all = look.look(wish).value();
        for (const SeenTrack& seen : all)
            if (seen.gauge == saidId) return seen.fromBeside;
        return std::optional<BesideDifference>();
    };
    for (const auto& order : {std::vector{ownId, saidId}, std::vector{saidId, ownId}}) {
        const auto difference = differenceOf(order);
        ASSERT_TRUE(difference);
        EXPECT_EQ(difference->name, "Air");
        EXPECT_NEAR(difference->atCursor.value(), 0.5, 1e-3);
        EXPECT_NEAR(difference->mean.value(), 0.6, 1e-3);
        // As a line of its own: half a degree in the first half of the time, 0.7 in the second.
        const auto& columns = difference->view.columns;
        ASSERT_EQ(columns.size(), 1000u);
        EXPECT_EQ(std::count_if(columns.begin(), columns.end(), [](const ViewColumn& one) { return one.count > 0; }),
                  40);
        for (std::size_t i = 0; i < columns.size(); ++i)
            if (columns[i].count > 0) {
                EXPECT_NEAR(columns[i].least, i < 500 ? 0.5 : 0.7, 1e-3) << i;
                EXPECT_EQ(columns[i].least, columns[i].most);
            }
    }
    EXPECT_FALSE(differenceOf({saidId}));
}

// What a derived gauge read is kept; put an input right and the derived recording follows.
TEST(DerivedGauge, ItsRecordingFollowsItsInputs) {
    const test::TemporaryFolder folder;
    Bench bench = storeBench();
    const auto file = BenchFile::create(folder / "store.fairgauge", bench).value();
    Engine engine(catalogue());
    engine.setBench(bench);
    const std::int64_t all[] = {1, 2, 3};
    auto recorder =
        Recorder::start(file->recordings(), bench, all, "Store", "test", {1'000'000'000'000'000, 0}).value();
    engine.addListener([&](const GaugeBatch& batch) { recorder->take(batch); });
    for (int i = 0; i < 50; ++i) engine.take(fmt::format("warmth=70 h={}\n", 40 + i / 5), i);
    ASSERT_TRUE(recorder->stop({1'000'000'050'000'000, 50}));
    const auto recording = file->recordings().recordings()->front();
    const auto readingsOf = [&](Conversion conversion) {
        auto reader = TrackReader::make(file->recordings(), recording, 1, conversion, bench, catalogue()).value();
        std::vector<double> values;
        EXPECT_TRUE(reader.read(recording.span(), [&](const SampleColumns&, std::span<const Reading> readings) {
            for (const Reading& one : readings) values.push_back(one.value);
            return true;
        }));
        return values;
    };
    const Law& law = *findLaw("wood-moisture");
    const auto then = readingsOf(Conversion::AsRecorded);
    ASSERT_EQ(then.size(), 50u);
    for (int i = 0; i < 50; ++i) {
        const double inputs[] = {(70 - 32) / 1.8, 40.0 + i / 5};
        EXPECT_NEAR(then[static_cast<std::size_t>(i)], law.value(inputs), 1e-9) << i;
    }
    bench.gauges[2].spec.correction = {"offset", 5};
    const auto now = readingsOf(Conversion::AsNow);
    const double moved[] = {(70 - 32) / 1.8, 45.0};
    EXPECT_NEAR(now.front(), law.value(moved), 1e-9);
}

// The gauge came onto the bench later: what it would have read follows from its inputs. Wood at 70 °F has 9.2 % at 50 %
// humidity, 11.0 % at 60 %.
TEST(DerivedGauge, IsWorkedOutOverARecordingThatItIsNotIn) {
    const test::TemporaryFolder folder;
    const Bench bench = storeBench();
    const auto file = BenchFile::create(folder / "store.fairgauge", bench).value();
    Engine engine(catalogue());
    engine.setBench(bench);
    const auto recorded = [&](const std::vector<std::int64_t>& gauges) {
        auto recorder =
            Recorder::start(file->recordings(), bench, gauges, "Store", "test", {1'000'000'000'000'000, 0}).value();
        const auto listener = engine.addListener([&](const GaugeBatch& batch) { recorder->take(batch); });
        for (int i = 0; i < 40; ++i) engine.take(fmt::format("warmth=70 h={}\n", i < 20 ? 50 : 60), i);
        EXPECT_TRUE(recorder->stop({1'000'000'040'000'000, 40}));
        engine.removeListener(listener);
        engine.restart();
        return file->recordings().recordings()->back();
    };
    const BenchRecording recording = recorded({2, 3});
    EXPECT_FALSE(recording.trackOf(1));
    const BenchRecording more = withWorkedOut(recording, bench);
    ASSERT_TRUE(more.trackOf(1));
    EXPECT_TRUE(more.trackOf(1)->isWorkedOut);
    EXPECT_EQ(more.samples(), recording.samples());
    auto reader = TrackReader::make(file->recordings(), more, 1, Conversion::AsRecorded, bench, catalogue()).value();
    std::vector<double> values;
    ASSERT_TRUE(reader.read(more.span(), [&](const SampleColumns& raw, std::span<const Reading> readings) {
        for (const Reading& one : readings) values.push_back(one.value);
        EXPECT_TRUE(std::all_of(raw.words.begin(), raw.words.end(), [](double word) { return std::isnan(word); }));
        return true;
    }));
    ASSERT_EQ(values.size(), 40u);
    for (std::size_t i = 0; i < 40; ++i) EXPECT_NEAR(values[i], i < 20 ? 9.2 : 11.0, 0.05) << i;
    // Beside the input whose times it has, each keeps its own picture.
    RecordingLook look(file->recordings(), catalogue());
    const auto seen = look.look({more, bench, Conversion::AsRecorded, {2, 1, 3}, more.span(), 2}).value();
    EXPECT_NEAR(seen[0].view.columns[0].least, (70 - 32) / 1.8, 1e-9);
    EXPECT_NEAR(seen[1].view.columns[0].least, 9.2, 0.05);
    EXPECT_NEAR(seen[1].view.columns[1].most, 11.0, 0.05);
    EXPECT_NEAR(seen[2].view.columns[1].most, 60, 1e-9);
    // Put an input right, and what is looked at follows: ten percent more humidity is 11.0 % from the start.
    const auto looked = [&](const Bench& now) {
        return look.look({more, now, Conversion::AsNow, {1}, more.span(), 2}).value()[0].view.columns[0].least;
    };
    EXPECT_NEAR(looked(bench), 9.2, 0.05);
    Bench moved = bench;
    moved.gauges[2].spec.correction = {"offset", 10};
    EXPECT_NEAR(looked(moved), 11.0, 0.05);
    // With one input alone there is nothing to work out.
    EXPECT_FALSE(withWorkedOut(recorded({2}), bench).trackOf(1));
}

double residentMegabytes() {
    std::ifstream statm("/proc/self/statm");
    double pages = 0, resident = 0;
    statm >> pages >> resident;
    return resident * static_cast<double>(::sysconf(_SC_PAGESIZE)) / 1e6;
}

// An hour of eight gauges at 100 readings a second, as fast as it goes, with everything that listens in the window:
// once all is warm, memory stays as it is. FAIRGAUGE_SOAK_HOURS makes it longer (scripts/soak).
TEST(Soak, AnHourOfEightGaugesLeavesMemoryAsItWas) {
    const char* wanted = std::getenv("FAIRGAUGE_SOAK_HOURS");
    const double hours = wanted ? test::number(wanted) : 1;
    ASSERT_GT(hours, 0);
    const test::TemporaryFolder folder;
    Bench bench;
    std::vector<std::int64_t> all;
    for (int i = 0; i < 6; ++i) {
        GaugeSpec spec = test::gluePot();
        spec.name = fmt::format("pot {}", i);
        spec.channel = fmt::format("pot{}", i);
        all.push_back(bench.add(spec));
    }
    for (const char* kind : {"running-mean", "rate-of-change"})
        all.push_back(bench.add(derivedOf(kind, {{"reading", "pot 0"}})));
    settleInputs(bench);
    const auto file = BenchFile::create(folder / "soak.fairgauge", bench).value();
    Engine engine(catalogue());
    engine.setBench(bench);
    constexpr Micros kStart_us = 1'000'000'000'000'000;
    auto recorder = Recorder::start(file->recordings(), bench, all, "Soak", "test", {kStart_us, 0}).value();
    std::map<std::int64_t, LiveWatch> watches;
    engine.addListener([&](const GaugeBatch& batch) {
        recorder->take(batch);
        for (std::size_t i = 0; i < batch.samples.size(); ++i)
            watches[batch.gauge].take(batch.samples[i]->time_s, batch.readings[i]);
    });
    constexpr int kLinesAtOnce = 1000;
    const int rounds = static_cast<int>(std::ceil(hours * 360));
    double warm = 0;
    for (int round = 0; round < rounds; ++round) {
        std::string lines;
        for (int i = 0; i < kLinesAtOnce; ++i) {
            const double time_s = 10.0 * round + 0.01 * i;
            lines += fmt::format("t={:.2f}", time_s);
            for (int k = 0; k < 6; ++k)
                lines += fmt::format(" pot{}={}", k, 2000 + (round * 31 + i * 7 + k * 13) % 200);
            lines += '\n';
            if (i % 50 != 49) continue;  // as a port gives them: some at once
            engine.take(lines, time_s + 0.01);
            lines.clear();
        }
        ASSERT_TRUE(recorder->flush({kStart_us + microsOf(10.0 * round + 10), 10.0 * round + 10}));
        if (round == rounds / 4) warm = residentMegabytes();
    }
    EXPECT_LT(residentMegabytes() - warm, 8) << "MB more after three quarters of the time";
    EXPECT_EQ(engine.last(1)->count, static_cast<std::uint64_t>(rounds) * kLinesAtOnce);
    EXPECT_EQ(recorder->status().lost, 0u);
    EXPECT_GE(recorder->status().samples, static_cast<std::uint64_t>(rounds) * kLinesAtOnce * 7);
    ASSERT_TRUE(recorder->stop({kStart_us + microsOf(10.0 * rounds), 10.0 * rounds}));
}

}  // namespace
}  // namespace fg
