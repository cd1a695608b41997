// Properties that hold for every input, tried on many: fixed seeds, no expected values from the code under test.

#include "support.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <random>

#include "bench/document.h"
#include "findings/finding.h"
#include "gauge/csv_convert.h"
#include "path/default_gauge.h"
#include "storage/bench_file.h"
#include "units/number_format.h"
#include "units/value_text.h"

namespace fg {
namespace {

TEST(EveryAdc, GivesBackItsOwnCodesAndMonotonicOnes) {
    for (const CodeLaw law : {CodeLaw::PowerOfTwo, CodeLaw::PowerOfTwoMinusOne})
        for (const Rounding rounding : {Rounding::Nearest, Rounding::Down})
            for (int bits = 1; bits <= 24; ++bits) {
                const Converter adc = Converter::make(bits, 2.048, law, rounding).value();
                const std::int64_t step = std::max<std::int64_t>(1, adc.maxCode() / 97);
                double before = -1;
                for (std::int64_t code = 0; code <= adc.maxCode(); code += step) {
                    const double volt = adc.inputOf(static_cast<double>(code));
                    EXPECT_EQ(adc.quantise(volt).value, code) << bits;
                    EXPECT_GT(volt, before);
                    before = volt;
                    // Just inside the cell's edges it is still the same code; the cell is one LSB wide.
                    EXPECT_EQ(adc.quantise(volt + 0.49 * adc.lsb()).value, std::min(code, adc.maxCode()));
                    EXPECT_EQ(adc.quantise(volt - 0.49 * adc.lsb()).value, code);
                }
                EXPECT_EQ(adc.quantise(1e9).value, adc.maxCode());
                EXPECT_EQ(adc.quantise(-1e9).value, 0);
            }
}

TEST(EveryText, IsReadOrRefusedAndWhatIsWrittenReadsBack) {
    std::mt19937 random(11);
    const std::string alphabet = "0123456789.,-+eEkKmMunpGVAΩRF°C%xb hs/;\xC2\xB5";
    constexpr Quantity all[] = {Quantity::Temperature, Quantity::RelativeHumidity,
                                Quantity::Pressure,    Quantity::Illuminance,
                                Quantity::Voltage,     Quantity::Current,
                                Quantity::Resistance,  Quantity::Capacitance,
                                Quantity::Frequency,   Quantity::Time,
                                Quantity::Ratio,       Quantity::Count};
    int accepted = 0;
    for (int i = 0; i < 20000; ++i) {
        std::string text;
        for (std::size_t n = random() % 8; n > 0; --n) text += alphabet[random() % alphabet.size()];
        const Quantity quantity = all[random() % std::size(all)];
        const auto value = readValue(text, quantity);
        if (!value) {
            EXPECT_FALSE(value.error().expected.empty()) << text;
            continue;
        }
        ++accepted;
        EXPECT_TRUE(std::isfinite(value->canonical)) << text;
    }
    EXPECT_GT(accepted, 500);
    // What the program shows, it takes.
    std::uniform_real_distribution<double> exponent(-11, 8);
    for (int i = 0; i < 2000; ++i) {
        const double value = std::pow(10.0, exponent(random));
        for (const Quantity quantity :
             {Quantity::Voltage, Quantity::Current, Quantity::Resistance, Quantity::Capacitance}) {
            const std::string shown = shortEngineering(value, quantity).joined();
            const auto read = readValue(shown, quantity);
            ASSERT_TRUE(read) << shown << ": " << read.error().message();
            EXPECT_NEAR(read->canonical, value, 1e-5 * value) << shown;  // six digits are shown
        }
    }
}

TEST(EveryGauge, AnswersFromEveryStageTheSame) {
    for (const Part& part : test::catalogue().parts()) {
        const GaugeSpec spec = defaultGauge(part);
        const AnalogPath path = test::pathOf(spec);
        const Interval span = spec.spanCanonical();
        const double middle = (span.low + span.high) / 2;
        const Evaluation from = path.evaluate({Stage::World, middle}).value();
        if (std::isnan(from.at(Stage::Wiring).value) || from.at(Stage::Converter).clip != Clip::None) continue;
        for (const Stage stage : {Stage::Sensor, Stage::Wiring, Stage::Formula, Stage::Correction, Stage::Reading}) {
            const Evaluation again = path.evaluate({stage, from.at(stage).exact}).value();
            EXPECT_NEAR(again.at(Stage::World).value, middle, 1e-8 * (span.width() + std::abs(middle)))
                << part.id << " from " << stageName(stage);
            EXPECT_EQ(again.at(Stage::Converter).value, from.at(Stage::Converter).value)
                << part.id << " from " << stageName(stage);
        }
        // The rounded code is never further off than half a code.
        const double half = 0.5 / path.countsPerUnit(middle);
        EXPECT_NEAR(from.reading(), middle, 1.05 * half) << part.id;
        EXPECT_NEAR(from.reading(), path.reading(from.at(Stage::Converter).value), 1e-12 * (1 + std::abs(middle)))
            << part.id;
    }
}

TEST(EveryBudget, ScalesWithItsTolerancesAndNeverShrinksWithMore) {
    GaugeSpec spec = test::gluePot();
    const auto lineOf = [&](const char* parameter) {
        const Budget budget = budgetAt(spec, test::catalogue(), 50).value();
        for (const Contribution& line : budget.contributions)
            if (line.parameter == parameter) return line.standard;
        return 0.0;
    };
    const double one = lineOf("wiring.fixed_ohm");
    spec.wiring.parameters.set("fixed_tolerance", 0.001);
    EXPECT_NEAR(lineOf("wiring.fixed_ohm"), one / 10, 0.002 * one);
    const double before = budgetAt(spec, test::catalogue(), 50)->standard;
    spec.correction = {"offset", 0, 0, 0.3};
    const double after = budgetAt(spec, test::catalogue(), 50)->standard;
    EXPECT_NEAR(after, std::sqrt(before * before + 0.0225), 1e-9);  // in quadrature
    // On the other side of the divider the same resistors weigh the same: only the ratio counts.
    GaugeSpec high = test::gluePot();
    high.wiring.parameters.set("sensor_side", std::string("high"));
    EXPECT_NEAR(budgetAt(high, test::catalogue(), 50)->standard,
                budgetAt(test::gluePot(), test::catalogue(), 50)->standard, 2e-3);
}

TEST(EveryShippedGauge, HasNoFaultAndSurvivesItsFile) {
    for (const char* name :
         {"glue-pot", "workshop-air", "drying-cupboard", "bending-iron", "vacuum-clamp", "window-light"}) {
        const GaugeSpec spec =
            readGaugeFile((test::dataFolder() / "demo" / (std::string(name) + ".json")).string()).value();
        const AnalogPath path = test::pathOf(spec);
        for (const Finding& finding : findingsFor(spec, path, test::catalogue(), nullptr, nullptr))
            EXPECT_NE(finding.severity, Severity::Fault) << name << ": " << finding.title;
        EXPECT_EQ(readGauge(writeGauge(spec), name).value(), spec);
    }
}

/// Any finite double there is, every size of it.
double anyNumber(std::mt19937_64& random) {
    for (double value = 0;;) {
        const std::uint64_t bits = random();
        std::memcpy(&value, &bits, sizeof value);
        if (std::isfinite(value)) return value;
    }
}

std::string anyName(std::mt19937_64& random) {
    constexpr std::array pieces{"Topf", "°",  "“",    "\\", "\"", "\n", "\x1b[31m",
                                "<b>",  "漆", "\x7f", " ",  "0",  "\t", "\u0080"};
    std::string name;
    for (std::size_t n = random() % 12; n > 0; --n) name += pieces[random() % pieces.size()];
    return name;
}

// Written, read, equal: any name, any finite number, in a gauge file and in a bench.
TEST(EveryRandomGauge, IsTheSameAfterItsFile) {
    std::mt19937_64 random(20261127);
    const auto& parts = test::catalogue().parts();
    Bench bench;
    for (int round = 0; round < 3000; ++round) {
        GaugeSpec spec = defaultGauge(parts[random() % parts.size()]);
        spec.name = anyName(random);
        spec.note = anyName(random);
        spec.channel = anyName(random);
        const double a = anyNumber(random), b = anyNumber(random);
        spec.reading.span = {std::min(a, b), std::max(a, b)};
        spec.reading.wanted = std::abs(anyNumber(random));
        if (random() % 2) spec.reading.decimals = static_cast<int>(random() % 7);
        for (Parameters* parameters : {&spec.sensor.parameters, &spec.wiring.parameters, &spec.converter.parameters})
            for (const Parameters before = *parameters; const auto& [name, value] : before.all())
                if (std::holds_alternative<double>(value)) parameters->set(name, anyNumber(random));
        if (random() % 3 == 0)
            spec.sensor.parameters.set("points", std::vector<Point>{{anyNumber(random), anyNumber(random)},
                                                                    {anyNumber(random), anyNumber(random)}});
        if (random() % 3 == 0) spec.correction = {"line", anyNumber(random), 0.25, std::abs(anyNumber(random))};
        const auto again = readGauge(writeGauge(spec), "again");
        ASSERT_TRUE(again) << again.error().message();
        ASSERT_EQ(*again, spec) << writeGauge(spec);
        if (round < 200) bench.add(spec);
    }
    const test::TemporaryFolder folder;
    ASSERT_TRUE(BenchFile::create(folder / "a.fairgauge", bench));
    EXPECT_EQ(BenchFile::look(folder / "a.fairgauge")->bench, bench);
}

TEST(EverySpoiltGaugeFile, IsRefusedOrReadButNeverCrashes) {
    const std::string good = writeGauge(test::gluePot());
    std::mt19937 random(5);
    int refused = 0;
    for (int i = 0; i < 3000; ++i) {
        std::string text = good;
        for (std::size_t n = 1 + random() % 3; n > 0; --n) {
            const std::size_t at = random() % text.size();
            switch (random() % 3) {
                case 0:
                    text[at] = static_cast<char>(random() % 128);
                    break;
                case 1:
                    text.erase(at, 1 + random() % 20);
                    break;
                default:
                    text.insert(at, 1, "{}[],:\"0-e"[random() % 10]);
            }
            if (text.empty()) break;
        }
        const auto spec = readGauge(text, "spoilt.json");
        if (!spec) {
            ++refused;
            EXPECT_EQ(spec.error().where.rfind("spoilt.json", 0), 0u) << spec.error().message();
            continue;
        }
        if (const auto path = AnalogPath::build(*spec, test::catalogue()))
            for (const double code : {0.0, 1.0, 100.0}) (void)path->evaluate({Stage::Converter, code});
    }
    EXPECT_GT(refused, 1000);
}

TEST(EverySpoiltBench, IsRefusedUntouchedOrOpensWhole) {
    const test::TemporaryFolder folder;
    {
        const auto file = BenchFile::create(folder / "good.fairgauge").value();
        Bench bench;
        for (int i = 0; i < 20; ++i) bench.add(test::gluePot());
        ASSERT_TRUE(file->write({}, bench));
    }
    const std::string good = test::readText(folder / "good.fairgauge");
    std::mt19937 random(3);
    int refused = 0;
    for (int i = 0; i < 60; ++i) {
        std::string bytes = good;
        for (std::size_t n = 1 + random() % 40; n > 0; --n)
            bytes[random() % bytes.size()] = static_cast<char>(random());
        if (i % 5 == 0) bytes.resize(random() % bytes.size());
        const auto path = folder / ("spoilt" + std::to_string(i));
        test::writeText(path, bytes);
        const auto file = BenchFile::open(path);
        if (file) {
            EXPECT_LE((*file)->read()->gauges.size(), 20u);
            continue;
        }
        ++refused;
        EXPECT_EQ(test::readText(path), bytes) << file.error().message();
    }
    EXPECT_GT(refused, 20);
}

TEST(EveryCsv, ComesOutWithAsManyRowsAsWentIn) {
    std::mt19937 random(9);
    const GaugeSpec spec = test::gluePot();
    const AnalogPath path = test::pathOf(spec);
    for (int round = 0; round < 200; ++round) {
        std::string input = "time,pot,note\n";
        const int rows = static_cast<int>(random() % 40);
        for (int i = 0; i < rows; ++i) {
            const char* raws[] = {"2155", "0",   "4095", "4096", "-1",     "12.5",
                                  "",     "abc", "0x10", " 77 ", "\"88\"", "1e3"};
            const char* notes[] = {"plain", "\"quoted, comma\"", "\"two\nlines\"", "\"with \"\" quote\"", ""};
            input += std::to_string(i) + "," + raws[random() % std::size(raws)] + "," +
                     notes[random() % std::size(notes)] + "\n";
        }
        std::string out;
        const auto report =
            convertCsv(input, Gauge::make(spec, test::catalogue()).value(), "pot", [&](std::string_view piece) {
                out.append(piece);
                return true;
            });
        ASSERT_TRUE(report);
        EXPECT_EQ(report->rows, static_cast<std::uint64_t>(rows));
        EXPECT_EQ(report->converted + report->refused, report->rows);
        EXPECT_EQ(std::count(out.begin(), out.end(), '\n'), std::count(input.begin(), input.end(), '\n'));
        // Whatever stood in the input stands in the output, in order.
        std::size_t at = 0;
        for (std::size_t begin = 0; begin < input.size();) {
            const std::size_t end = input.find('\n', begin);
            at = out.find(input.substr(begin, end - begin), at);
            ASSERT_NE(at, std::string::npos);
            begin = end + 1;
        }
    }
}

TEST(EveryHistory, UndoesToTheStartAndRedoesToTheEnd) {
    std::mt19937 random(17);
    for (int round = 0; round < 20; ++round) {
        Document document;
        std::vector<Bench> states{document.bench()};
        for (int i = 0; i < 40; ++i) {
            const auto edit = [&](Bench& bench) {
                if (bench.gauges.empty() || random() % 3 == 0) {
                    bench.add(test::gluePot());
                } else if (random() % 4 == 0) {
                    bench.remove(bench.gauges[random() % bench.gauges.size()].id);
                } else {
                    bench.gauges[random() % bench.gauges.size()].spec.wiring.parameters.set(
                        "fixed_ohm", 100.0 + static_cast<double>(random() % 10000));
                }
            };
            ASSERT_TRUE(document.change("step", edit));
            states.push_back(document.bench());
        }
        for (std::size_t i = states.size() - 1; i > 0; --i) {
            EXPECT_EQ(document.bench(), states[i]);
            ASSERT_TRUE(document.undo());
        }
        EXPECT_EQ(document.bench(), states[0]);
        EXPECT_FALSE(document.canUndo());
        while (document.canRedo()) ASSERT_TRUE(document.redo());
        EXPECT_EQ(document.bench(), states.back());
    }
}

}  // namespace
}  // namespace fg
