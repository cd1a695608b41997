// Values of the last while as code: compiled and run over readings with pauses and a clock that wraps, against sums
// over the readings themselves, and bit for bit against the window of the gauge.

#include "handover/gauge_code.h"
#include "handover/whole_slope.h"
#include "path/derived_path.h"
#include "process.h"
#include "support.h"

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <unistd.h>
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <random>
#include <sstream>

namespace fg {
namespace {

constexpr double kWindow_s = 60;

struct Taken {
    std::int64_t at_ms;  ///< since the first
    double value;
};

/// Every 0.1 s or so in steps of a hundredth; then a pause in which all of them leave the window; some are none.
std::vector<Taken> someReadings() {
    std::mt19937 random(11);
    std::vector<Taken> readings;
    std::int64_t at_ms = 0;
    double value = 20;
    for (int i = 0; i < 1600; ++i) {
        value = std::clamp(value + std::uniform_real_distribution<double>(-0.3, 0.33)(random), 0.0, 39.0);
        readings.push_back({at_ms, i % 97 == 50 ? std::nan("") : std::nearbyint(value * 100) / 100});
        at_ms += i == 900 ? 200'000 : std::uniform_int_distribution<int>(1, 200)(random);
    }
    return readings;
}

/// By the definition: over all readings of the pieces that the window holds.
double byDefinition(Over over, std::span<const Taken> readings) {
    constexpr std::int64_t kPieces = 240;
    const auto pieceOf = [](std::int64_t at_ms) { return at_ms * kPieces / std::int64_t{1000 * 60}; };
    long double n = 0, t = 0, v = 0;
    double least = HUGE_VAL, most = -HUGE_VAL;
    std::int64_t newest = 0;
    for (const Taken& one : readings)
        if (!std::isnan(one.value)) newest = pieceOf(one.at_ms);
    std::vector<Taken> held;
    for (const Taken& one : readings)
        if (!std::isnan(one.value) && pieceOf(one.at_ms) > newest - kPieces) held.push_back(one);
    for (const Taken& one : held) {
        n += 1;
        t += static_cast<long double>(one.at_ms) / 1000;
        v += one.value;
        least = std::min(least, one.value);
        most = std::max(most, one.value);
    }
    if (over == Over::Least || over == Over::Most) return over == Over::Least ? least : most;
    if (over == Over::Mean) return static_cast<double>(v / n);
    long double tv = 0, tt = 0;
    for (const Taken& one : held) {
        const long double apart = static_cast<long double>(one.at_ms) / 1000 - t / n;
        tv += apart * (one.value - v / n);
        tt += apart * apart;
    }
    return static_cast<double>(tv / tt * 3600);
}

class RunningCodeOf : public ::testing::Test {
  protected:
    void SetUp() override {
        m_folder = std::filesystem::temp_directory_path() / fmt::format("fg-running-{}", ::getpid());
        std::filesystem::create_directories(m_folder);
    }
    void TearDown() override { std::filesystem::remove_all(m_folder); }
    /// What a program prints, a number a line.
    std::vector<double> numbers(const test::Finished& ran) {
        EXPECT_EQ(ran.exitCode, 0) << ran.err;
        std::vector<double> values;
        std::istringstream lines(ran.out);
        for (std::string line; std::getline(lines, line);) values.push_back(test::number(line));
        return values;
    }
    std::filesystem::path m_folder;
};

/// A mean in °F with a correction behind it, a rate, the least and the most, each in every arithmetic that holds it.
TEST_F(RunningCodeOf, GivesWhatTheGaugesWindowGives) {
    const std::vector<Taken> readings = someReadings();
    int written = 0;
    for (const RunningKind& kind : runningKinds())
        for (const CodeArithmetic arithmetic : kCodeArithmetics) {
            const std::string what = fmt::format("{} {}", kind.id, arithmeticName(arithmetic));
            GaugeSpec spec = *defaultDerivedGauge(kind.id);
            spec.name = "while " + what;
            spec.sensor.parameters.set("window_s", kWindow_s);
            if (kind.over == Over::Mean) {
                spec.reading.unit = "degF";
                spec.reading.span = {0, 120};
                spec.correction.kind = "offset";
                spec.correction.offset = 0.25;
            } else if (kind.over == Over::Rate) {
                spec.reading.span = {-40'000, 40'000};
                spec.reading.wanted = 10;
            }
            const auto gauge = Gauge::make(spec, test::catalogue());
            ASSERT_TRUE(gauge) << what << gauge.error().message();
            const CodeWish wish{.arithmetic = arithmetic, .shape = CodeShape::Program};
            const auto code = writeCode(*gauge, wish);
            const bool isReal = arithmetic == CodeArithmetic::Float || arithmetic == CodeArithmetic::Double;
            if (!code) {
                // A table, or sums in 16 bits.
                EXPECT_EQ(code.error().code, ErrorCode::Unsupported) << what;
                EXPECT_TRUE(
                    arithmetic == CodeArithmetic::Table ||
                    ((kind.over == Over::Mean || kind.over == Over::Rate) && arithmetic == CodeArithmetic::Int16))
                    << what << ": " << code.error().message();
                continue;
            }
            ++written;
            EXPECT_TRUE(code->holds()) << what << code->error.worst;
            ASSERT_EQ(code->takes.size(), 2u);
            EXPECT_TRUE(code->takes[0].isClock);
            EXPECT_EQ(code->takes[1].unit, "degC");
            CodeWish pythons = wish;
            pythons.language = CodeLanguage::MicroPython;
            const auto python = writeCode(*gauge, pythons);
            ASSERT_TRUE(python);
            const double scale = static_cast<double>(code->takes[1].scale);
            std::string data, script = fmt::format("import {0}\nfor t, v in (", python->header);
            for (const Taken& one : readings) {
                if (!isReal && std::isnan(one.value)) continue;
                const std::string value = std::isnan(one.value) ? "NAN" : fmt::format("{:.17g}", one.value * scale);
                // The clocks wrap within the first minute: one of 32 bits, one of 30.
                data += fmt::format("    {{{}u, {}}},\n", static_cast<std::uint32_t>(one.at_ms - 30'000),
                                    isReal ? value : std::to_string(std::llround(one.value * scale)));
                script += fmt::format("({}, {}), ", (one.at_ms - 30'000) & 0x3FFFFFFF,
                                      std::isnan(one.value) ? "None"
                                      : isReal              ? value
                                                            : std::to_string(std::llround(one.value * scale)));
            }
            script += fmt::format("):\n    s, v = {0}.{1}(t, v)\n    print(repr(v / {2}) if s == 0 else 'nan')\n",
                                  python->header, python->function, code->scale);
            std::vector<std::string> arguments{"-std=c99",  "-Wall",
                                               "-Wextra",   "-Wconversion",
                                               "-pedantic", "-Werror",
                                               "-O1",       "-fsanitize=undefined",
                                               "-o",        (m_folder / "run").string()};
            for (const auto* files : {&code->files, &python->files})
                for (const CodeFile& file : *files) {
                    test::writeText(m_folder / file.name, file.text);
                    if (file.name.ends_with("_main.c")) {
                        const auto main =
                            test::run("/usr/bin/gcc", {"-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Werror",
                                                       "-fsyntax-only", (m_folder / file.name).string()});
                        EXPECT_EQ(main.exitCode, 0) << main.err << file.text;
                    } else if (file.name.ends_with(".c")) {
                        arguments.push_back((m_folder / file.name).string());
                    }
                }
            test::writeText(
                m_folder / "run_it.c",
                fmt::format("#include \"{0}\"\n#include <stdio.h>\n#include <math.h>\n"
                            "static const struct {{ uint32_t at; {1} value; }} readings[] = {{\n{2}}};\n"
                            "int main(void)\n{{\n    for (unsigned i = 0; i < sizeof readings / sizeof *readings; ++i) "
                            "{{\n        {3} value = 0;\n"
                            "        if ({4}(readings[i].at, readings[i].value, &value) != FG_OK) puts(\"nan\");\n"
                            "        else printf(\"%.17g\\n\", (double)value / {5});\n    }}\n    return 0;\n}}\n",
                            code->header, code->takes[1].type, data, code->gives, code->function, code->scale));
            arguments.push_back((m_folder / "run_it.c").string());
            arguments.push_back("-lm");
            if (arithmetic == CodeArithmetic::Float) std::erase(arguments, "-Wconversion");
            const auto compiled = test::run("/usr/bin/gcc", arguments);
            ASSERT_EQ(compiled.exitCode, 0) << what << compiled.err;
            test::writeText(m_folder / "run_it.py", script);
            const auto fromC = numbers(test::run((m_folder / "run").string(), {})),
                       fromPython =
                           numbers(test::run("/usr/bin/env", {"-C", m_folder.string(), "python3", "run_it.py"}));

            // What the written code of a rate in integers is proven as: number for number what it gives.
            const WholeSlope slope(std::llround(kWindow_s * 1000), code->takes[1].scale, code->scale);
            std::vector<WholeSlope::Piece> pieces;
            int alike = 0;
            RunningWindow window(kind.over, kWindow_s);
            std::size_t at = 0, values = 0;
            double off = 0;
            for (std::size_t i = 0; i < readings.size(); ++i) {
                window.add(static_cast<double>(readings[i].at_ms) / 1000, readings[i].value);
                if (!isReal && std::isnan(readings[i].value)) continue;
                ASSERT_LT(at, fromC.size()) << what;
                ASSERT_LT(at, fromPython.size()) << what;
                const double c = fromC[at], p = fromPython[at];
                ++at;
                const double core = gauge->unit().fromCanonical(gauge->derived()->corrected(window.value()));
                if (arithmetic == CodeArithmetic::Double) {
                    ASSERT_TRUE(c == core || (std::isnan(c) && std::isnan(core))) << what << i << ": " << c << core;
                }
                if (arithmetic == CodeArithmetic::Double) {
                    ASSERT_TRUE(p == core || (std::isnan(p) && std::isnan(core))) << what << i << ": " << p << core;
                }
                if (!isReal) {
                    ASSERT_TRUE(c == p || (std::isnan(c) && std::isnan(p))) << what << i << ": " << c << p;
                }
                if (!isReal && kind.over == Over::Rate) {
                    const std::int64_t at_ms = readings[i].at_ms,
                                       whole = std::llround(readings[i].value * static_cast<double>(scale));
                    const auto pieceOf = [](std::int64_t ms) { return ms * 240 / std::llround(kWindow_s * 1000); };
                    while (!pieces.empty() && pieceOf(pieces.front().first_ms) <= pieceOf(at_ms) - 240)
                        pieces.erase(pieces.begin());
                    if (pieces.empty() || pieceOf(pieces.back().first_ms) != pieceOf(at_ms))
                        pieces.push_back({at_ms, whole});
                    slope.add(pieces.back(), at_ms, whole);
                    std::int64_t given = 0;
                    const bool hasValue = slope.of(pieces, given);
                    if (std::isnan(c)) {
                        ASSERT_TRUE(!hasValue || std::abs(given) > code->range.last) << what << i;
                    } else {
                        ASSERT_TRUE(hasValue) << what << i;
                        ASSERT_EQ(std::llround(c * static_cast<double>(code->scale)), given) << what << i;
                        ++alike;
                    }
                }
                if (std::isnan(c)) continue;
                ++values;
                const double defined = gauge->unit().fromCanonical(
                    byDefinition(kind.over, std::span(readings).first(i + 1)) + spec.correction.offset);
                if (i % 20 == 0) off = std::max(off, std::abs(c - defined));
            }
            EXPECT_EQ(at, fromC.size()) << what;
            if (!isReal && kind.over == Over::Rate) {
                EXPECT_GT(alike, 1300) << what;
            }
            EXPECT_GT(values, 1300u) << what;
            EXPECT_LE(off, arithmetic == CodeArithmetic::Double ? 1e-8 : code->wanted) << what;
        }
    EXPECT_EQ(written, 4 * 2 + 2 * 3 + 2 * 2);
}

/// Readings from end to end of what is taken, few and very many, in windows of 0.1 s to 12 days: no sum overflows, and
/// the slope is that of the definition.
TEST(WholeSlope, HoldsAtTheEndsOfItsNumbers) {
    std::mt19937 random(5);
    const auto between = [&](std::int64_t low, std::int64_t high) {
        return std::uniform_int_distribution<std::int64_t>(low, high)(random);
    };
    constexpr std::int64_t kMost = WholeSlope::kMostReading;
    for (const std::int64_t window_ms : {std::int64_t{100}, std::int64_t{7'000}, std::int64_t{1'073'741'823}})
        for (const int count : {40, 300'000}) {
            // So that a slope from end to end of the readings is a value of a few million.
            constexpr std::int64_t kValueScale = 1000;
            const double hours = static_cast<double>(window_ms) / 3.6e6;
            const std::int64_t readingScale = std::llround(2.0 * kMost * kValueScale / hours / 4e6);
            const WholeSlope slope(window_ms, readingScale, kValueScale);
            std::vector<WholeSlope::Piece> pieces;
            std::vector<std::pair<std::int64_t, std::int64_t>> readings;
            for (int i = 0; i < count; ++i) {
                const std::int64_t at_ms = i * (window_ms - 1) / (count - 1);
                const bool isHigh = between(0, count) < i;
                const std::int64_t value = between(0, 3) > 0 ? (isHigh ? kMost : -kMost) : between(-kMost, kMost);
                readings.emplace_back(at_ms, value);
                if (pieces.empty() || at_ms * 240 / window_ms != pieces.back().first_ms * 240 / window_ms)
                    pieces.push_back({at_ms, value});
                slope.add(pieces.back(), at_ms, value);
            }
            long double t = 0, v = 0, products = 0, squares = 0;
            for (const auto& [at, value] : readings) {
                t += at;
                v += value;
            }
            t /= count;
            v /= count;
            for (const auto& [at, value] : readings) {
                products += (at - t) * (value - v);
                squares += (at - t) * (at - t);
            }
            const auto defined = static_cast<double>(products / squares / readingScale * 3.6e6L * kValueScale);
            std::int64_t value = 0;
            ASSERT_TRUE(slope.of(pieces, value)) << window_ms;
            EXPECT_GT(std::abs(defined), 1e6);
            EXPECT_NEAR(static_cast<double>(value), defined, 2e-3 * std::abs(defined)) << window_ms << " " << count;
        }
}

TEST_F(RunningCodeOf, SaysWhyThereIsNone) {
    GaugeSpec spec = *defaultDerivedGauge("running-mean");
    spec.sensor.parameters.set("window_s", 3e6);
    const auto code = writeCode(*Gauge::make(spec, test::catalogue()), {});
    ASSERT_FALSE(code);
    EXPECT_EQ(code.error().code, ErrorCode::Range);
    EXPECT_NE(code.error().message().find("window_s"), std::string::npos) << code.error().message();

    // Compressed air of 16 bar is read in pascals in 32 bits, not in 16; what 32 do not hold is told.
    spec = *defaultDerivedGauge("running-mean", Quantity::Pressure);
    spec.reading.unit = "Pa";
    spec.reading.span = {0, 1.6e6};
    const auto least = writeCode(*Gauge::make(spec, test::catalogue()), {.arithmetic = CodeArithmetic::Int32});
    ASSERT_TRUE(least) << least.error().message();
    EXPECT_NE(least->files[1].text.find("reading > INT32_C(1600000)"), std::string::npos) << least->files[1].text;
    spec.reading.span = {0, 1e10};
    const auto huge = writeCode(*Gauge::make(spec, test::catalogue()), {.arithmetic = CodeArithmetic::Int32});
    ASSERT_FALSE(huge);
    EXPECT_NE(huge.error().message().find("0 to 1e+10"), std::string::npos) << huge.error().message();
}

}  // namespace
}  // namespace fg
