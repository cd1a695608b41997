// What is handed over is compiled and run: over every code of the converter it gives what the gauge reads.
#include "acquisition/line_reader.h"
#include "handover/digit_check.h"
#include "handover/formula_check.h"
#include "handover/gauge_code.h"
#include "handover/measuring_sequence.h"
#include "handover/raw_sender.h"

#include "path/default_gauge.h"
#include "path/threshold.h"
#include "process.h"
#include "support.h"
#include "wiring/kind.h"

#include <fmt/format.h>
#include <cmath>
#include <cstring>
#include <random>
#include <set>

namespace fg {
namespace {

using test::catalogue;

struct Subject {
    std::string what;
    GaugeSpec spec;
    std::string unit = {};
};

/// Every family of the catalogue, and what stands around it.
std::vector<Subject> subjects() {
    std::vector<Subject> all;
    std::set<std::string> families;
    for (const Part& part : catalogue().parts()) {
        if (!findSensorFamily(part.family) || !families.insert(part.family).second) continue;
        GaugeSpec spec = defaultGauge(part);
        spec.examples.clear();
        all.push_back({part.id, spec});
    }
    for (const char* name : {"glue-pot", "bending-iron", "vacuum-clamp"})
        all.push_back(
            {name, readGaugeFile((test::dataFolder() / "demo" / (std::string(name) + ".json")).string()).value()});
    all.push_back({"warm", test::warmPot()});
    all.push_back({"fahrenheit", test::gluePot(), "degF"});
    GaugeSpec high = test::warmPot();
    high.wiring.parameters.set("sensor_side", std::string("high"));
    high.wiring.parameters.set("parallel_ohm", 22000.0);
    high.wiring.parameters.set("lead_ohm", 12.0);
    all.push_back({"high side, parallel, leads", high});
    for (const char* kind : {"offset", "line", "quadratic", "cubic", "table"}) {
        GaugeSpec spec = test::gluePot();
        spec.correction.kind = kind;
        spec.correction.offset = -0.4;
        spec.correction.slope = 0.01;
        spec.correction.centre = 50;
        spec.correction.quadratic = 1e-4;
        spec.correction.cubic = -1e-6;
        for (const double at : {30.0, 50.0, 70.0, 85.0})
            spec.correction.points.push_back({at, at - 0.4 + 0.01 * (at - 50), 0.1});
        all.push_back({std::string("correction ") + kind, spec});
    }
    for (const char* word : {"left-justified", "scaled-up"}) {
        GaugeSpec spec = test::gluePot();
        spec.converter.parameters.set("word", std::string(word));
        all.push_back({word, spec});
    }
    GaugeSpec bent = test::gluePot();
    bent.converter.parameters.set("nonlinearity_code_LSB", std::vector<Point>{{0, 0}, {2048, 6}, {4095, -2}});
    all.push_back({"non-linear converter", bent});
    GaugeSpec minusOne = test::gluePot();
    minusOne.converter.parameters.set("code_law", std::string("2^n-1"));
    minusOne.converter.parameters.set("rounding", std::string("down"));
    all.push_back({"2^n - 1, truncating", minusOne});
    GaugeSpec bipolar = test::directGauge("lm35", 12, 2.048);
    bipolar.converter.parameters.set("polarity", std::string("bipolar"));
    all.push_back({"bipolar in 16 bits", bipolar});
    bipolar.converter.parameters.set("word", std::string("left-justified"));
    all.push_back({"bipolar, left-justified", bipolar});
    GaugeSpec hostile = test::gluePot();
    hostile.name = "4*/ int \"Pot\" \\";
    hostile.note = "ä */ #error \n?\?/ /* \\";
    all.push_back({"hostile name", hostile});
    return all;
}

struct Written {
    Subject subject;
    GaugeCode code;
    std::vector<std::int64_t> codes;  ///< the words that are asked, as the converter gives them
};

std::vector<std::int64_t> askedCodes(const Converter& converter) {
    std::vector<std::int64_t> codes;
    const std::int64_t count = converter.maxCode() - converter.minCode() + 1;
    const std::int64_t stride = std::max<std::int64_t>(1, count / 65536 + (count > 65536 ? 1 : 0));
    for (std::int64_t code = converter.minCode(); code < converter.maxCode(); code += stride) codes.push_back(code);
    codes.push_back(converter.maxCode());
    return codes;
}

/// A word as the parameter's type takes it.
std::int64_t asParameter(const Converter& converter, const GaugeCode& code, std::int64_t at) {
    const std::int64_t word = converter.wordOfCode(at);
    const bool isSigned = code.takes[0].type.front() == 'i';
    const auto bits = static_cast<int>(8 * code.takes[0].bytes);
    return isSigned && word >= (std::int64_t{1} << (bits - 1)) ? word - (std::int64_t{1} << bits) : word;
}

class HandOver : public testing::Test {
  protected:
    void SetUp() override {
        m_folder = std::filesystem::temp_directory_path() / fmt::format("fg-handover-{}", ::getpid());
        std::filesystem::create_directories(m_folder);
    }
    void TearDown() override { std::filesystem::remove_all(m_folder); }
    std::filesystem::path m_folder;
};

TEST_F(HandOver, CompiledCodeGivesTheReadingOfEveryCodeOfEveryFamily) {
    std::vector<Written> all;
    std::vector<std::string> sources;
    std::string refused;
    for (Subject& subject : subjects())
        for (const CodeArithmetic arithmetic : kCodeArithmetics) {
            const std::string told = subject.what + " in " + std::string(arithmeticName(arithmetic));
            GaugeSpec spec = subject.spec;
            // One program holds them all, so each has a name of its own.
            spec.name += fmt::format(" {}", all.size());
            const auto gauge = Gauge::make(spec, catalogue());
            ASSERT_TRUE(gauge) << told << ": " << gauge.error().message();
            const bool isLong = gauge->analog()->converter().bits() > 16;
            if (isLong && arithmetic != CodeArithmetic::Float && arithmetic != CodeArithmetic::Int32) continue;
            CodeWish wish;
            wish.arithmetic = arithmetic;
            wish.unit = subject.unit;
            const auto code = writeCode(*gauge, wish);
            if (!code) {
                // A pressure in Pa does not fit 16 bits.
                if (code.error().code == ErrorCode::Range && arithmetic == CodeArithmetic::Int16) continue;
                refused += told + ": " + code.error().message() + "\n";
                continue;
            }
            for (const CodeFile& file : code->files) {
                test::writeText(m_folder / file.name, file.text);
                if (file.name.ends_with(".c")) sources.push_back((m_folder / file.name).string());
            }
            all.push_back({{subject.what, spec, subject.unit}, *code, askedCodes(gauge->analog()->converter())});
        }
    EXPECT_EQ(refused, "");

    std::string driver = "#include <stdio.h>\n#include <stdlib.h>\n";
    for (const Written& one : all) driver += fmt::format("#include \"{}\"\n", one.code.header);
    driver +=
        "static void out(int status, double value) { double both[2]; both[0] = status; both[1] = value;\n"
        "    if (fwrite(both, sizeof both, 1, stdout) != 1) exit(1); }\n"
        "int main(void)\n{\n    long long raw;\n";
    std::string input;
    for (const Written& one : all) {
        const Converter converter = test::pathOf(one.subject.spec).converter();
        driver += fmt::format(
            "    {{ size_t i; for (i = 0; i < {}; ++i) {{ {} value = 0;\n"
            "        if (fread(&raw, sizeof raw, 1, stdin) != 1) return 1;\n"
            "        {{ const int status = (int){}(({})raw, &value); out(status, (double)value); }} }} }}\n",
            one.codes.size(), one.code.gives, one.code.function, one.code.takes[0].type);
        for (const std::int64_t at : one.codes) {
            const std::int64_t word = asParameter(converter, one.code, at);
            input.append(reinterpret_cast<const char*>(&word), sizeof word);
        }
    }
    test::writeText(m_folder / "driver.c", driver + "    return 0;\n}\n");
    sources.push_back((m_folder / "driver.c").string());
    std::vector<std::string> arguments{"-std=c99",
                                       "-Wall",
                                       "-Wextra",
                                       "-Wconversion",
                                       "-Wshadow",
                                       "-pedantic",
                                       "-Werror",
                                       "-O1",
                                       "-ffp-contract=off",
                                       "-o",
                                       (m_folder / "all").string()};
    arguments.insert(arguments.end(), sources.begin(), sources.end());
    arguments.push_back("-lm");
    const auto compiled = test::run("/usr/bin/gcc", arguments);
    ASSERT_EQ(compiled.exitCode, 0) << compiled.err.substr(0, 4000);
    test::writeText(m_folder / "in", input);
    const auto ran = test::run("/bin/sh", {"-c", fmt::format("'{0}/all' < '{0}/in' > '{0}/out'", m_folder.string())});
    ASSERT_EQ(ran.exitCode, 0) << ran.err;
    const std::string output = test::readText(m_folder / "out");

    std::size_t at = 0;
    for (const Written& one : all) {
        const AnalogPath path = test::pathOf(one.subject.spec);
        const CodeRange& range = one.code.range;
        const std::string told = one.subject.what + ", " + one.code.function + ", " + one.code.method;
        double worst = 0;
        int wrongStatus = 0;
        for (const std::int64_t code : one.codes) {
            ASSERT_LE(at + 16, output.size());
            double both[2];
            std::memcpy(both, output.data() + at, sizeof both);
            at += sizeof both;
            const bool isClipped = code == range.min || code == range.max,
                       isInside = code >= range.first && code <= range.last;
            if (both[0] != (isClipped ? 1 : isInside ? 0 : 3)) ++wrongStatus;
            if (!isInside || both[0] != 0) continue;
            const double exact = one.code.unit->fromCanonical(path.reading(static_cast<double>(code)));
            worst = std::max(worst, std::abs(both[1] / static_cast<double>(one.code.scale) - exact));
        }
        EXPECT_EQ(wrongStatus, 0) << told;
        // What was told of the error is what the compiled code does; single precision may differ in the last place of a
        // logarithm.
        const double size =
            std::max(std::abs(one.subject.spec.reading.span.low), std::abs(one.subject.spec.reading.span.high));
        const double slack = one.code.gives == "float" ? 0.2 * one.code.error.worst + 2e-7 * size : 1e-9 * size;
        EXPECT_LE(worst, one.code.error.worst + slack) << told;
        if (one.code.error.checked > 65536) continue;
        EXPECT_GE(worst, one.code.error.worst * 0.8 - slack) << told;
    }
    EXPECT_EQ(at, output.size());
}

/// Every reading with every arithmetic.
template <class Ranges, class Arithmetics>
std::vector<std::pair<std::string, CodeArithmetic>> product(const Ranges& ranges, const Arithmetics& arithmetics) {
    std::vector<std::pair<std::string, CodeArithmetic>> all;
    for (const auto& [reading, range] : ranges)
        for (const CodeArithmetic arithmetic : arithmetics) all.emplace_back(reading, arithmetic);
    return all;
}

/// Digital parts: the code of every part that can be handed over, compiled, against its decoder, over frames that the
/// part could send (checksums included) and over the same with a byte damaged.
class HandOverParts : public HandOver, public testing::WithParamInterface<std::size_t> {
  public:
    static constexpr std::size_t kGroups = 4;
};
TEST_P(HandOverParts, CompiledCodeGivesWhatDecodersSay) {
    // Of one number, in whole ones as a converter's code is; opt3001 has an exponent beside it.
    const std::set<std::string> kWhole{"ds18b20",  "tmp117",  "sht3x", "mcp9808", "hdc1080",
                                       "max31865", "opt3001", "aht20", "dht22",   "lps22hb"};
    // Parts whose documents compute in integers, by the widths in which they do.
    const std::map<std::string, std::vector<CodeArithmetic>> kRoutines{
        {"bmp180", {CodeArithmetic::Int32, CodeArithmetic::Int64}},
        {"bmp280", {CodeArithmetic::Int32, CodeArithmetic::Int64}},
        {"bme280", {CodeArithmetic::Int32}},
        {"ms5611", {CodeArithmetic::Int64}},
        {"ms5837", {CodeArithmetic::Int64}}};
    // Parts whose readings follow from several numbers, with no routine in integers: in fixed point.
    const std::set<std::string> kFixed{"dps310", "bmp388", "bme680",  "hts221",   "mpl115a2",
                                       "dht11",  "dht22",  "opt3001", "max44009", "ds18s20"};
    // What Python is asked as well.
    const std::set<std::string> kPython{"bmp180", "bmp280", "bme280", "ms5611", "sht3x", "ds18b20", "hts221"};
    const std::set<std::string> kFixedPython{"bme680", "bmp388", "dht22"};
    struct Asked {
        std::string what, python;
        GaugeCode code;
        std::vector<double> expected;  ///< of each frame; NaN: no value
    };
    std::vector<Asked> all;
    std::vector<std::string> sources;
    std::set<std::string_view> seen;
    std::set<std::string> written, ofGroup;
    std::string input, driver = "#include <stdio.h>\n#include <stdlib.h>\n", calls;
    std::mt19937 random(7);
    for (const DevicePart& part : catalogue().devices()) {
        if (!seen.insert(part.device->id).second || seen.size() % kGroups != GetParam()) continue;
        ofGroup.insert(std::string(part.device->id));
        // In real numbers every part; in whole ones some, beside the routines of documents.
        std::vector<CodeArithmetic> wanted{CodeArithmetic::Double};
        if (kWhole.contains(std::string(part.device->id)))
            wanted.insert(wanted.end(), {CodeArithmetic::Int32, CodeArithmetic::Int16, CodeArithmetic::Table});
        if (kFixed.contains(std::string(part.device->id))) wanted.push_back(CodeArithmetic::Int64);
        if (kFixed.contains(std::string(part.device->id)) && !kWhole.contains(std::string(part.device->id)))
            wanted.push_back(CodeArithmetic::Int32);
        const auto routines = kRoutines.find(std::string(part.device->id));
        if (routines != kRoutines.end()) wanted.insert(wanted.end(), routines->second.begin(), routines->second.end());
        for (const auto& [reading, arithmetic] : product(part.ranges, wanted)) {
            GaugeSpec spec = defaultDeviceGauge(part, reading);
            spec.name = fmt::format("part {}", all.size());
            const auto gauge = Gauge::make(spec, catalogue());
            ASSERT_TRUE(gauge) << part.id << ": " << gauge.error().message();
            const auto code = writeCode(*gauge, {.arithmetic = arithmetic});
            if (!code) {
                EXPECT_EQ(code.error().code, ErrorCode::Unsupported) << part.id << ": " << code.error().message();
                EXPECT_NE(arithmetic, CodeArithmetic::Double) << part.id << ": " << code.error().message();
                continue;
            }
            // Integers are integers to the end.
            if (arithmetic != CodeArithmetic::Double) {
                // A long has 64 bits here, and 32 where the code will run.
                for (const CodeFile& file : code->files)
                    for (const char* other : {"double ", "double)", "float ", "float)", "1L", "long"})
                        EXPECT_EQ(file.text.find(other), std::string::npos) << part.id << ":\n" << file.text;
            }
            written.insert(std::string(part.device->id) + std::string(code->form ? " whole" : ""));
            // A double is what the decoder counts with.
            EXPECT_TRUE(code->form || code->error.worst < 1e-6) << part.id;
            for (const CodeFile& file : code->files) {
                test::writeText(m_folder / file.name, file.text);
                if (file.name.ends_with(".c")) sources.push_back((m_folder / file.name).string());
            }
            Asked asked{fmt::format("{} {} {}", part.id, reading, arithmeticName(arithmetic)), {}, *code, {}};
            const DigitalPath& path = *gauge->digital();
            DeviceOptions options = path.options();
            if (routines != kRoutines.end() && arithmetic != CodeArithmetic::Double && part.device->id != "bmp180" &&
                !part.device->id.starts_with("ms5"))
                options.set("variant", std::string(arithmeticName(arithmetic)));
            const bool isToPython =
                arithmetic == (routines != kRoutines.end() ? routines->second.front() : CodeArithmetic::Double);
            const bool isFixedToPython =
                arithmetic == CodeArithmetic::Int64 && kFixedPython.contains(std::string(part.device->id));
            if (isFixedToPython || (isToPython && kPython.contains(std::string(part.device->id)))) {
                const auto python =
                    writeCode(*gauge, {.language = CodeLanguage::MicroPython, .arithmetic = arithmetic});
                ASSERT_TRUE(python) << python.error().message();
                for (const CodeFile& file : python->files) test::writeText(m_folder / file.name, file.text);
                asked.python = python->header;
            }
            constexpr int kFrames = 200;
            for (int i = 0; i < kFrames; ++i) {
                std::vector<std::int64_t> values;
                for (const RawVariable& one : part.device->variables(path.options()))
                    values.push_back(std::uniform_int_distribution<std::int64_t>(one.low, one.high)(random));
                const RawData calibration = part.device->specimen ? part.device->specimen() : RawData();
                std::vector<RawBlock> made = part.device->compose(values, path.options(), calibration).blocks();
                RawBlock& last = made.back();
                if (i % 4 == 0)
                    last.bytes[random() % last.bytes.size()] ^= static_cast<std::uint8_t>(1U << random() % 8);
                std::vector<RawBlock> blocks = calibration.blocks();
                for (const RawBlock& one : made)
                    if (std::none_of(blocks.begin(), blocks.end(), [&](const RawBlock& b) { return b == one; }))
                        blocks.push_back(one);
                const auto decoded = part.device->decode(RawData(blocks), options);
                const DeviceReading* value = decoded ? decoded->find(reading) : nullptr;
                const bool isValue = value && std::isfinite(value->value) && value->bound == Bound::None;
                asked.expected.push_back(isValue ? code->unit->fromCanonical(value->value) : std::nan(""));
                // Whole numbers are made for the span alone.
                const Interval span = spec.spanCanonical();
                if (code->form && isValue && !span.contains(value->value)) asked.expected.back() = -HUGE_VAL;
                // At the very end of it rounding decides.
                const auto isNear = [&](double end) {
                    return code->form && isValue &&
                           std::abs(code->unit->fromCanonical(value->value) - code->unit->fromCanonical(end)) <=
                               code->error.worst;
                };
                if (isNear(span.low) || isNear(span.high)) asked.expected.back() = HUGE_VAL;
                // A frame refused for the sake of another reading says nothing of this one.
                if (!decoded && part.ranges.size() > 1 && decoded.error().code == ErrorCode::Range)
                    asked.expected.back() = HUGE_VAL;
                std::vector<bool> used(blocks.size());
                for (const CodeParameter& one : code->takes) {
                    std::size_t at = 0;
                    const auto isMeant = [&](const RawBlock& block) {
                        const std::vector<BlockSpec> known = part.device->blocks(options);
                        return block.bytes.size() == one.bytes &&
                               (!block.address || std::any_of(known.begin(), known.end(), [&](const BlockSpec& its) {
                                   return its.address == block.address && its.name == one.of;
                               }));
                    };
                    while (at < blocks.size() && (used[at] || !isMeant(blocks[at]))) ++at;
                    ASSERT_LT(at, blocks.size()) << part.id << ", block " << one.name;
                    used[at] = true;
                    input.append(blocks[at].bytes.begin(), blocks[at].bytes.end());
                }
            }
            driver += fmt::format("#include \"{}\"\n", code->header);
            calls += fmt::format("    for (i = 0; i < {}; ++i) {{\n        {} value = 0;\n        int status;\n",
                                 kFrames, code->gives);
            std::string names;
            for (const CodeParameter& one : code->takes) {
                calls += fmt::format("        uint8_t {}[{}];\n", one.name, one.bytes);
                names += one.name + ", ";
            }
            for (const CodeParameter& one : code->takes)
                calls += fmt::format("        if (fread({0}, {1}, 1, stdin) != 1) return 1;\n", one.name, one.bytes);
            calls += fmt::format("        status = (int){}({}&value);\n        out(status, (double)value);\n    }}\n",
                                 code->function, names);
            all.push_back(std::move(asked));
        }
    }
    EXPECT_GE(written.size(), 30u / kGroups);  // by decoder: several designations share one
    std::set<std::string> inIntegers = kWhole;
    inIntegers.insert(kFixed.begin(), kFixed.end());
    for (const auto& [id, widths] : kRoutines) inIntegers.insert(id);
    for (const std::string& id : inIntegers)
        EXPECT_TRUE(seen.contains(id) && (!ofGroup.contains(id) || written.contains(id + " whole"))) << id;
    test::writeText(
        m_folder / "driver.c",
        driver +
            "static void out(int status, double value) { double both[2]; both[0] = status; both[1] = value;\n"
            "    if (fwrite(both, sizeof both, 1, stdout) != 1) exit(1); }\n"
            "int main(void)\n{\n    int i;\n" +
            calls + "    return 0;\n}\n");
    sources.push_back((m_folder / "driver.c").string());
    std::vector<std::string> arguments{"-std=c99",
                                       "-Wall",
                                       "-Wextra",
                                       "-Wconversion",
                                       "-Wshadow",
                                       "-pedantic",
                                       "-Werror",
                                       "-O1",
                                       "-ffp-contract=off",
                                       "-fsanitize=undefined",
                                       "-fno-sanitize-recover=all",
                                       "-o",
                                       (m_folder / "all").string()};
    arguments.insert(arguments.end(), sources.begin(), sources.end());
    arguments.push_back("-lm");
    const auto compiled = test::run("/usr/bin/gcc", arguments);
    ASSERT_EQ(compiled.exitCode, 0) << compiled.err.substr(0, 4000);
    test::writeText(m_folder / "in", input);
    const auto ran = test::run("/bin/sh", {"-c", fmt::format("'{0}/all' < '{0}/in' > '{0}/out'", m_folder.string())});
    ASSERT_EQ(ran.exitCode, 0) << ran.err;
    const std::string output = test::readText(m_folder / "out");
    // The same bytes in Python: what the compiled code said.
    std::string script = "data = open('in', 'rb').read()\nat = 0\n";
    for (const Asked& one : all) {
        std::string sizes;
        std::size_t sum = 0;
        for (const CodeParameter& taken : one.code.takes) {
            sizes += std::to_string(taken.bytes) + ", ";
            sum += taken.bytes;
        }
        script += one.python.empty()
                      ? fmt::format("at += {}\n", one.expected.size() * sum)
                      : fmt::format(
                            "import {0}\nfor i in range({1}):\n    blocks = []\n    for size in ({2}):\n"
                            "        blocks.append(data[at:at + size])\n        at += size\n"
                            "    status, value = {0}.{3}(*blocks)\n    print(status, repr(value or 0))\n",
                            one.python, one.expected.size(), sizes, one.code.function);
    }
    test::writeText(m_folder / "ask.py", script);
    const auto asked = test::run("/bin/sh", {"-c", fmt::format("cd '{}' && python3 ask.py", m_folder.string())});
    ASSERT_EQ(asked.exitCode, 0) << asked.err;
    std::istringstream said(asked.out);
    std::size_t at = 0;
    int values = 0, pythons = 0;
    for (const Asked& one : all)
        for (const double expected : one.expected) {
            double both[2];
            ASSERT_LE(at + sizeof both, output.size());
            std::memcpy(both, output.data() + at, sizeof both);
            at += sizeof both;
            if (!one.python.empty()) {
                double status = -1, value = 0;
                said >> status >> value;
                ASSERT_EQ(status, both[0]) << one.what;
                if (status == 0) {
                    ASSERT_NEAR(value, both[1], one.code.form ? 0 : 1e-9 * (1 + std::abs(value))) << one.what;
                    ++pythons;
                }
            }
            ASSERT_TRUE(expected != -HUGE_VAL || both[0] == 3) << one.what;
            if (std::isinf(expected)) continue;
            ASSERT_EQ(both[0] == 0, std::isfinite(expected))
                << one.what << ": status " << both[0] << ", expected " << expected;
            if (!std::isfinite(expected)) continue;
            const double slack = 1e-7 * (1 + std::abs(expected)) + (one.code.form ? one.code.error.worst : 0);
            ASSERT_NEAR(both[1] / static_cast<double>(one.code.scale), expected, slack) << one.what;
            ++values;
        }
    EXPECT_GT(values, 1200);
    EXPECT_GT(pythons, 50);
}
INSTANTIATE_TEST_SUITE_P(Catalogue, HandOverParts, testing::Range(std::size_t{0}, HandOverParts::kGroups));

/// What a part holds until its first conversion, as its document says it: busy, which is not damaged and no value.
/// TMP117: 0x8000; BMP280: 0x80000 in both words; MS5611: D2 of 0.
TEST_F(HandOver, WhatIsNotMeasuredYetOrAtItsEndIsAStatus) {
    struct Case {
        const char *part, *reading, *bytes;
        int status;
    };
    std::string driver = "#include <stdio.h>\n", calls, expected;
    std::vector<std::string> sources;
    int number = 0;
    for (const Case& one :
         {Case{"tmp117", "temperature", "0x80, 0x00", 5}, Case{"bmp280", "pressure", "0x80, 0, 0, 0x80, 0, 0", 5},
          Case{"ms5611", "temperature", "0, 0, 0", 5}, Case{"hdc2080", "humidity", "0, 0, 0, 0", 5},
          // Full scale: at least so much light is no value.
          Case{"tsl2561", "illuminance", "0xFF, 0xFF", 2}, Case{"veml7700", "illuminance", "0xFF, 0xFF", 2},
          Case{"bh1750", "illuminance", "0xFF, 0xFF", 2},
          // The pressure is skipped, which the humidity does not rest on; then the humidity is.
          Case{"bme280", "humidity", "0x80, 0, 0, 0x7E, 0xED, 0x00, 0x60, 0x00", 0},
          Case{"bme280", "humidity", "0x65, 0x5A, 0xC0, 0x7E, 0xED, 0x00, 0x80, 0x00", 2}}) {
        GaugeSpec spec = defaultDeviceGauge(*catalogue().findDevicePart(one.part), one.reading);
        spec.name = fmt::format("busy {}", number++);
        const auto code = writeCode(*Gauge::make(spec, catalogue()), {.arithmetic = CodeArithmetic::Double});
        ASSERT_TRUE(code) << code.error().message();
        for (const CodeFile& file : code->files) {
            test::writeText(m_folder / file.name, file.text);
            if (file.name.ends_with(".c")) sources.push_back((m_folder / file.name).string());
        }
        const RawData calibration = findDevice(one.part)->specimen ? findDevice(one.part)->specimen() : RawData();
        driver += fmt::format("#include \"{}\"\n", code->header);
        calls += "    {\n        double value = 0;\n";
        std::string names;
        for (const CodeParameter& taken : code->takes) {
            std::string bytes = one.bytes;
            for (const RawBlock& block : calibration.blocks())
                if (block.bytes.size() == taken.bytes) {
                    bytes.clear();
                    for (const std::uint8_t byte : block.bytes) bytes += fmt::format("{}, ", byte);
                }
            calls += fmt::format("        const uint8_t {}[{}] = {{ {} }};\n", taken.name, taken.bytes, bytes);
            names += taken.name + ", ";
        }
        calls += fmt::format("        printf(\"%d \", (int){}({}&value));\n    }}\n", code->function, names);
        expected += fmt::format("{} ", one.status);
    }
    test::writeText(m_folder / "busy.c", driver + "int main(void)\n{\n" + calls + "    return 0;\n}\n");
    std::vector<std::string> arguments{
        "-std=c99", "-Wall", "-Werror", "-o", (m_folder / "busy").string(), (m_folder / "busy.c").string()};
    arguments.insert(arguments.end(), sources.begin(), sources.end());
    arguments.push_back("-lm");
    const auto compiled = test::run("/usr/bin/gcc", arguments);
    ASSERT_EQ(compiled.exitCode, 0) << compiled.err.substr(0, 2000);
    EXPECT_EQ(test::run((m_folder / "busy").string(), {}).out, expected);
}

/// Every law as code, in C and MicroPython, in real and in whole numbers, over readings within its ranges: what the law
/// says, and a status beyond them and for what is no number.
TEST_F(HandOver, LawsAreHandedOverAsFunctionsOfReadings) {
    std::mt19937 random(3);
    std::string includes = "#include <stdio.h>\n#include <math.h>\n", calls, script = "import math\n";
    std::vector<std::string> sources;
    struct Expected {
        double value, slack;
        bool isOpen = false;  ///< at an end of the span rounding decides
        std::string what = {};
    };
    std::vector<Expected> expected;
    std::map<CodeArithmetic, std::size_t> written;
    for (const Law* law : laws())
        for (const CodeArithmetic arithmetic : {CodeArithmetic::Double, CodeArithmetic::Int64, CodeArithmetic::Int32}) {
            const std::string what = fmt::format("{} {}", law->id(), arithmeticName(arithmetic));
            GaugeSpec spec = *defaultDerivedGauge(law->id());
            spec.name = "law " + what;
            // A salt's air is damper or drier than most spans.
            if (law->id().starts_with("salt")) spec.reading.span = {0, 100};
            const auto gauge = Gauge::make(spec, catalogue());
            ASSERT_TRUE(gauge) << what << gauge.error().message();
            const auto code = writeCode(*gauge, {.arithmetic = arithmetic, .shape = CodeShape::Program});
            if (!code) {
                EXPECT_EQ(code.error().code, ErrorCode::Unsupported) << what << code.error().message();
                continue;
            }
            const bool isWhole = code->form.has_value();
            ++written[arithmetic];
            EXPECT_LT(code->error.worst, isWhole ? spec.spanCanonical().width() / 10 : 1e-6) << what;
            const auto python = writeCode(*gauge, {.language = CodeLanguage::MicroPython, .arithmetic = arithmetic});
            ASSERT_TRUE(python);
            for (const auto* files : {&code->files, &python->files})
                for (const CodeFile& file : *files) {
                    test::writeText(m_folder / file.name, file.text);
                    if (file.name.ends_with(".c") && !file.name.ends_with("_main.c"))
                        sources.push_back((m_folder / file.name).string());
                    for (const char* real : {"double", "float", "math"})
                        EXPECT_TRUE(!isWhole || file.text.find(real) == std::string::npos) << what << file.text;
                }
            const std::string main = code->files.front().name.substr(0, code->files.front().name.find('.')) + "_main.c";
            const auto compiled = test::run("/usr/bin/gcc", {"-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Werror",
                                                             "-fsyntax-only", (m_folder / main).string()});
            EXPECT_EQ(compiled.exitCode, 0) << compiled.err;
            includes += fmt::format("#include \"{}\"\n", code->header);
            const std::string module = python->files.front().name.substr(0, python->files.front().name.find('.'));
            script += "import " + module + "\n";
            const auto inputs = law->inputs();
            ASSERT_EQ(code->takes.size(), inputs.size()) << what;
            const auto ask = [&](const std::string& arguments, const std::string& pythonArguments) {
                calls += fmt::format(
                    "    {{ {} value = 0; if ({}({}, &value) != FG_OK) puts(\"nan\"); else printf(\"%.17g\\n\", "
                    "(double)value / {}); }}\n",
                    code->gives, code->function, arguments, code->scale);
                script += fmt::format("s, v = {0}.{1}({2})\nprint(repr(v / {3}) if s == 0 else 'nan')\n", module,
                                      python->function, pythonArguments, code->scale);
            };
            for (int i = 0; i < 25; ++i) {
                std::vector<double> values;
                std::string arguments;
                for (std::size_t k = 0; k < inputs.size(); ++k) {
                    const Interval range{std::max(inputs[k].range.low, -1e6), std::min(inputs[k].range.high, 1e6)};
                    double value = std::uniform_real_distribution<double>(range.low, range.high)(random);
                    arguments += arguments.empty() ? "" : ", ";
                    if (isWhole) {
                        const double steps = std::nearbyint(value * static_cast<double>(code->takes[k].scale));
                        value = steps / static_cast<double>(code->takes[k].scale);
                        arguments += fmt::format("{}", static_cast<std::int64_t>(steps));
                    } else {
                        arguments += fmt::format("{:.17g}", value);
                    }
                    values.push_back(value);
                }
                const Unit& unit = gauge->unit();
                const double canonical = gauge->derived()->readingOf(values), exact = unit.fromCanonical(canonical);
                const Interval span = spec.spanCanonical();
                const double slack = isWhole ? code->error.worst * 1.01 + 1e-9 : 1e-9 * (1 + std::abs(exact));
                const auto isNear = [&](double end) { return std::abs(exact - unit.fromCanonical(end)) <= slack; };
                const bool isBeyond = isWhole && !span.contains(canonical);
                expected.push_back({isBeyond ? std::nan("") : exact, slack,
                                    isWhole && (isNear(span.low) || isNear(span.high)), what + " of " + arguments});
                ask(arguments, arguments);
            }
            // One reading that is none, and one far beyond.
            for (const char* wrong : {isWhole ? "INT32_MIN" : "NAN", isWhole ? "INT32_MAX" : "1e30"}) {
                std::string arguments, pythonArguments;
                const std::string_view text(wrong);
                for (std::size_t i = 0; i < inputs.size(); ++i) {
                    arguments += fmt::format("{}{}", i == 0 ? "" : ", ", text);
                    pythonArguments += fmt::format("{}{}", i == 0 ? "" : ", ",
                                                   text == "NAN"         ? "math.nan"
                                                   : text == "INT32_MIN" ? "-2147483648"
                                                   : text == "INT32_MAX" ? "2147483647"
                                                                         : text);
                }
                expected.push_back({std::nan(""), 0, false, what + " of what is none"});
                ask(arguments, pythonArguments);
            }
        }
    EXPECT_GE(written[CodeArithmetic::Double], 10u);
    EXPECT_EQ(written[CodeArithmetic::Int64], written[CodeArithmetic::Double]);
    test::writeText(m_folder / "laws.c", includes + "int main(void)\n{\n" + calls + "    return 0;\n}\n");
    std::vector<std::string> arguments{"-std=c99",
                                       "-Wall",
                                       "-Wextra",
                                       "-Wconversion",
                                       "-pedantic",
                                       "-Werror",
                                       "-fsanitize=undefined",
                                       "-o",
                                       (m_folder / "laws").string(),
                                       (m_folder / "laws.c").string()};
    arguments.insert(arguments.end(), sources.begin(), sources.end());
    arguments.push_back("-lm");
    const auto compiled = test::run("/usr/bin/gcc", arguments);
    ASSERT_EQ(compiled.exitCode, 0) << compiled.err;
    test::writeText(m_folder / "laws.py", script);
    for (const auto& ran : {test::run((m_folder / "laws").string(), {}),
                            test::run("/usr/bin/env", {"-C", m_folder.string(), "python3", "laws.py"})}) {
        ASSERT_EQ(ran.exitCode, 0) << ran.err;
        std::istringstream lines(ran.out);
        for (const Expected& one : expected) {
            std::string line;
            std::getline(lines, line);
            const double value = test::number(line);
            if (one.isOpen) continue;
            if (std::isnan(one.value))
                EXPECT_TRUE(std::isnan(value)) << one.what << ": " << line;
            else
                EXPECT_NEAR(value, one.value, one.slack) << one.what;
        }
    }
    // Linked readings are parameters, typed ones are constants.
    GaugeSpec wood = readGaugeFile((test::dataFolder() / "demo/wood-moisture.json").string()).value();
    const auto made = writeCode(*Gauge::make(wood, catalogue()), {});
    ASSERT_TRUE(made) << made.error().message();
    EXPECT_EQ(made->takes.size(), 2u);
    EXPECT_TRUE(std::none_of(made->findings.begin(), made->findings.end(),
                             [](const Finding& one) { return one.id == "code-input"; }));
}

/// The integer routine of a document as code, in integers to the end: bit for bit what the decoder gives, in the unit
/// of the result. Source of the numbers: BMP280 data sheet, 3.12 worked example (25.08 °C, 100653 Pa).
TEST_F(HandOver, TheIntegerRoutineOfADocumentIsHandedOver) {
    const DevicePart* part = catalogue().findDevicePart("bmp280");
    ASSERT_TRUE(part);
    struct Case {
        CodeArithmetic arithmetic;
        std::string unit;
        double pascal, perUnit;
    };
    for (const Case& one :
         {Case{CodeArithmetic::Int32, "Pa", 100656, 1}, Case{CodeArithmetic::Int64, "Pa", 100653.254, 1},
          Case{CodeArithmetic::Int32, "hPa", 100656, 100},
          Case{CodeArithmetic::Int64, "psi", 100653.254, 6894.757293}}) {
        const auto gauge = Gauge::make(defaultDeviceGauge(*part, "pressure"), catalogue());
        const auto code = writeCode(*gauge, {.arithmetic = one.arithmetic, .unit = one.unit});
        ASSERT_TRUE(code) << code.error().message();
        EXPECT_EQ(code->gives, std::string(arithmeticName(one.arithmetic)) + "_t");
        // What the integers lose against the real numbers is told: 100656 − 100653.27 Pa at the example in 32 bits,
        // less than 0.02 Pa there in 64 (rounding of the result apart).
        const bool isShort = one.arithmetic == CodeArithmetic::Int32;
        EXPECT_EQ(code->error.worst * one.perUnit >= 2.7, isShort) << code->error.worst;
        for (const CodeFile& file : code->files) test::writeText(m_folder / file.name, file.text);
        // The example's trimming words, low byte first, and its raw values 519888 and 415148.
        const std::string program = fmt::format(
            "#include <stdio.h>\n#include \"new_gauge.h\"\nint main(void)\n{{\n    static const uint8_t c[24] = "
            "{{0x70, "
            "0x6B, 0x43, 0x67, 0x18, 0xFC, 0x7D, 0x8E, 0x43, 0xD6, 0xD0, 0x0B, 0x27, 0x0B, 0x8C, 0x00, 0xF9, 0xFF, "
            "0x8C, 0x3C, 0xF8, 0xC6, 0x70, 0x17}};\n    static const uint8_t d[6] = {{0x65, 0x5A, 0xC0, 0x7E, 0xED, "
            "0x00}};\n    {} p = 0;\n    const int status = (int)new_gauge_read(c, d, &p);\n    printf(\"%d %lld\\n\", "
            "status, (long long)p);\n    return 0;\n}}\n",
            code->gives);
        test::writeText(m_folder / "say.c", program);
        const auto compiled =
            test::run("/usr/bin/gcc", {"-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Werror",
                                       "-fsanitize=undefined", "-o", (m_folder / "say").string(),
                                       (m_folder / "say.c").string(), (m_folder / "new_gauge.c").string()});
        ASSERT_EQ(compiled.exitCode, 0) << compiled.err;
        std::istringstream said(test::run((m_folder / "say").string(), {}).out);
        int status = -1;
        double value = 0;
        said >> status >> value;
        EXPECT_EQ(status, 0);
        EXPECT_NEAR(value / static_cast<double>(code->scale), one.pascal / one.perUnit,
                    0.51 / static_cast<double>(code->scale) + 0.001 / one.perUnit)
            << one.unit;
    }
    // 32 bits do not hold a routine that its document computes in 64.
    const auto refused =
        writeCode(*Gauge::make(defaultDeviceGauge(*catalogue().findDevicePart("ms5611"), "pressure"), catalogue()),
                  {.arithmetic = CodeArithmetic::Int32});
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().message().find("64 bits"), std::string::npos) << refused.error().message();
    // What is refused names the integers that there are.
    for (const char* id : {"bmp280", "bmp180"}) {
        const auto none =
            writeCode(*Gauge::make(defaultDeviceGauge(*catalogue().findDevicePart(id), "pressure"), catalogue()),
                      {.arithmetic = CodeArithmetic::Int16});
        ASSERT_FALSE(none);
        EXPECT_NE(none.error().message().find("int32, int64, float or double"), std::string::npos)
            << none.error().message();
    }
    // A correction and another unit behind the routine: T of 2508 is 25.08 °C, and 0.5 °C more in °F 78.044.
    GaugeSpec warm = defaultDeviceGauge(*part, "temperature");
    warm.correction = {.kind = "offset", .offset = 0.5};
    const auto code = writeCode(*Gauge::make(warm, catalogue()),
                                {.arithmetic = CodeArithmetic::Int32, .wantedError = 0.01, .unit = "degF"});
    ASSERT_TRUE(code) << code.error().message();
    double top = 0;
    EXPECT_NEAR(static_cast<double>(code->form->at(2508, top)) / static_cast<double>(code->scale), 78.044, 0.01);
}

/// A correction between points goes out with a digital part: behind its formula, in fixed point, and behind a
/// document's routine. By hand: at 20 °C +0.4, at 30 °C −0.2, so +0.4 − 0.06·(t − 20) between them and what they are
/// beyond.
TEST_F(HandOver, ACorrectionBetweenPointsIsHandedOver) {
    struct Case {
        const char* part;
        std::vector<CodeArithmetic> arithmetics;
        const char* blocks;  ///< as C
        double celsius;
    };
    const std::string example =
        "static const uint8_t c[24] = {0x70, 0x6B, 0x43, 0x67, 0x18, 0xFC, 0x7D, 0x8E, 0x43, 0xD6, 0xD0, 0x0B, 0x27, "
        "0x0B, 0x8C, 0x00, 0xF9, 0xFF, 0x8C, 0x3C, 0xF8, 0xC6, 0x70, 0x17}; static const uint8_t d[6] = {0x65, 0x5A, "
        "0xC0, 0x7E, 0xED, 0x00};";
    const std::vector<CodeArithmetic> all{CodeArithmetic::Double, CodeArithmetic::Int32, CodeArithmetic::Int64};
    const std::vector<Case> cases{
        {"dht22", all, "static const uint8_t a[5] = {0x02, 0x8C, 0x01, 0x0F, 0x9E};", 27.1 + 0.4 - 0.06 * 7.1},
        {"dht22", all, "static const uint8_t a[5] = {0x02, 0x8C, 0x01, 0x5E, 0xED};", 35.0 - 0.2},
        {"dht22", all, "static const uint8_t a[5] = {0x02, 0x8C, 0x00, 0x96, 0x24};", 15.0 + 0.4},
        {"bmp280", all, example.c_str(), 25.08 + 0.4 - 0.06 * 5.08}};
    for (const Case& one : cases)
        for (const CodeArithmetic arithmetic : one.arithmetics) {
            GaugeSpec spec = defaultDeviceGauge(*catalogue().findDevicePart(one.part), "temperature");
            spec.reading.span = {0, 50};
            spec.correction.kind = "table";
            for (const auto& [reading, reference] : {std::pair(20.0, 20.4), std::pair(30.0, 29.8)})
                spec.correction.points.push_back({reading, reference, 0.1});
            const auto gauge = Gauge::make(spec, catalogue());
            ASSERT_TRUE(gauge) << gauge.error().message();
            const auto code = writeCode(*gauge, {.arithmetic = arithmetic, .wantedError = 0.05});
            const std::string what = fmt::format("{} {}", one.part, arithmeticName(arithmetic));
            ASSERT_TRUE(code) << what << ": " << code.error().message();
            for (const CodeFile& file : code->files) test::writeText(m_folder / file.name, file.text);
            std::string given;
            for (const CodeParameter& taken : code->takes)
                given += taken.bytes == 5 ? "a, " : taken.bytes == 24 ? "c, " : "d, ";
            test::writeText(
                m_folder / "one.c",
                fmt::format("#include <stdio.h>\n#include \"{}\"\nint main(void)\n{{\n    {}\n    {} value = "
                            "0;\n    const int status = (int){}({}&value);\n    printf(\"%d %.9g\\n\", "
                            "status, (double)value / {});\n    return 0;\n}}\n",
                            code->header, one.blocks, code->gives, code->function, given, code->scale));
            const std::string source = code->files.back().name;
            const auto compiled = test::run("/usr/bin/gcc", {"-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Werror",
                                                             "-fsanitize=undefined", "-fno-sanitize-recover=all", "-o",
                                                             (m_folder / "one").string(), (m_folder / "one.c").string(),
                                                             (m_folder / source).string(), "-lm"});
            ASSERT_EQ(compiled.exitCode, 0) << what << compiled.err.substr(0, 2000);
            std::istringstream said(test::run((m_folder / "one").string(), {}).out);
            int status = -1;
            double value = 0;
            said >> status >> value;
            EXPECT_EQ(status, 0) << what;
            // The example's 25.08 °C is rounded; the integers of the document are a hundredth of a degree.
            EXPECT_NEAR(value, one.celsius, arithmetic == CodeArithmetic::Double ? 0.006 : 0.05) << what;
        }
}

/// The same as MicroPython, run by Python, over the codes of a few gauges; with the alarm's comparisons.
TEST_F(HandOver, MicroPythonGivesWhatTheGaugeReads) {
    GaugeSpec pot = test::gluePot();
    pot.alarm = AlarmRule{.high = 63.0, .low = 58.0, .band = 1.0};
    GaugeSpec warm = test::warmPot();
    warm.correction.kind = "quadratic";
    warm.correction.offset = 0.3;
    warm.correction.quadratic = 1e-4;
    for (const double at : {20.0, 40.0, 60.0, 80.0}) warm.correction.points.push_back({at, at + 0.3, 0.1});
    GaugeSpec iron = readGaugeFile((test::dataFolder() / "demo/bending-iron.json").string()).value();
    GaugeSpec negative = test::directGauge("lm35", 12, 2.048);
    negative.converter.parameters.set("polarity", std::string("bipolar"));
    negative.converter.parameters.set("word", std::string("left-justified"));
    negative.reading.span = {-20, 100};
    for (const GaugeSpec& spec : {pot, warm, iron, negative})
        for (const CodeArithmetic arithmetic : {CodeArithmetic::Double, CodeArithmetic::Int32, CodeArithmetic::Table}) {
            const auto gauge = Gauge::make(spec, catalogue());
            ASSERT_TRUE(gauge) << gauge.error().message();
            const auto code = writeCode(*gauge, {.language = CodeLanguage::MicroPython, .arithmetic = arithmetic});
            ASSERT_TRUE(code) << code.error().message();
            ASSERT_EQ(code->files.size(), 1U);
            test::writeText(m_folder / code->files[0].name, code->files[0].text);
            const Converter& converter = gauge->analog()->converter();
            std::string asked = "[", script = fmt::format("import {0}\nfor raw in ", code->header);
            std::vector<std::int64_t> codes;
            const std::int64_t stride = std::max<std::int64_t>(1, (converter.maxCode() - converter.minCode()) / 300);
            for (std::int64_t at = converter.minCode(); at <= converter.maxCode(); at += stride) codes.push_back(at);
            for (const std::int64_t at : codes) asked += fmt::format("{},", converter.wordOfCode(at));
            script += asked + fmt::format("]:\n    s, v = {}.{}(raw)\n    print(s, 'none' if v is None else repr(v))\n",
                                          code->header, code->function);
            const auto ran = test::run("/usr/bin/env", {"-C", m_folder.string(), "python3", "-c", script});
            ASSERT_EQ(ran.exitCode, 0) << ran.err;
            std::istringstream lines(ran.out);
            for (const std::int64_t at : codes) {
                int status = -1;
                std::string value;
                ASSERT_TRUE(lines >> status >> value);
                const bool isInside = at >= code->range.first && at <= code->range.last;
                ASSERT_EQ(status == 0, isInside) << at;
                if (!isInside) continue;
                const double exact = code->unit->fromCanonical(gauge->analog()->reading(static_cast<double>(at)));
                ASSERT_NEAR(test::number(value) / static_cast<double>(code->scale), exact, code->error.worst + 1e-7)
                    << at << " " << code->files[0].text;
            }
        }
}

/// Digits of a display: the rounding and the sign at the values where hand-written splitting goes wrong.
TEST_F(HandOver, TextOfAValueRoundsAndKeepsItsSign) {
    GaugeSpec spec = test::gluePot();
    spec.reading.span = {-20, 90};
    spec.reading.decimals = 1;
    const auto gauge = Gauge::make(spec, catalogue());
    const auto code = writeCode(*gauge, {.arithmetic = CodeArithmetic::Int32, .wantedError = 0.05});
    ASSERT_TRUE(code) << code.error().message();
    ASSERT_EQ(code->scale, 100);
    for (const CodeFile& file : code->files) test::writeText(m_folder / file.name, file.text);
    test::writeText(
        m_folder / "say.c",
        "#include <stdio.h>\n#include \"glue_pot.h\"\nint main(void)\n{\n    const int32_t all[] = {0, 4, 5, "
        "-4, -5, -50, -49, 994, 995, 999, -995, 6050, 2147483647, -2147483647 - 1};\n    size_t i;\n    char "
        "text[14];\n    for (i = 0; i < sizeof all / sizeof all[0]; ++i) { glue_pot_text(all[i], text); "
        "puts(text); }\n    return 0;\n}\n");
    const auto compiled =
        test::run("/usr/bin/gcc",
                  {"-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Werror", "-fsanitize=undefined", "-o",
                   (m_folder / "say").string(), (m_folder / "say.c").string(), (m_folder / "glue_pot.c").string()});
    ASSERT_EQ(compiled.exitCode, 0) << compiled.err;
    // Worked out by hand: hundredths to tenths, halves away from zero.
    EXPECT_EQ(test::run((m_folder / "say").string(), {}).out,
              "0.0\n0.0\n0.1\n0.0\n-0.1\n-0.5\n-0.5\n9.9\n10.0\n10.0\n-10.0\n60.5\n21474836.5\n-21474836.5\n");
}

/// The comparisons of the header are those of the alarm: on and off at the codes that thresholdPair() finds.
TEST_F(HandOver, TheAlarmIsHandedOverAsComparisonsOfCodes) {
    GaugeSpec spec = test::gluePot();
    spec.alarm = AlarmRule{.high = 63.0, .band = 1.0};
    const auto gauge = Gauge::make(spec, catalogue());
    const auto code = writeCode(*gauge, {.arithmetic = CodeArithmetic::Table});
    ASSERT_TRUE(code);
    const AnalogPath path = test::pathOf(spec);
    const auto pair = thresholdPair(path, 63, 1, true);
    ASSERT_TRUE(pair);
    // The code falls as the pot gets hotter.
    const std::string& header = code->files[0].text;
    EXPECT_NE(header.find(fmt::format("GLUE_POT_HIGH_ON(code) ((code) <= {}u)", pair->on.code)), std::string::npos)
        << header;
    EXPECT_NE(header.find(fmt::format("GLUE_POT_HIGH_OFF(code) ((code) >= {}u)", pair->off.code)), std::string::npos)
        << header;
    EXPECT_GE(path.reading(static_cast<double>(pair->on.code)), 63.0 - 0.02);
}

/// A whole program, with its loop, compiles as it is; what nobody can hold is said, not handed over in silence.
TEST_F(HandOver, ProgramsCompileAndWhatDoesNotHoldIsAFault) {
    const auto gauge = Gauge::make(test::gluePot(), catalogue());
    for (const CodeArithmetic arithmetic : kCodeArithmetics) {
        const auto code =
            writeCode(*gauge, {.arithmetic = arithmetic, .shape = CodeShape::Program, .wantedError = 0.05});
        ASSERT_TRUE(code);
        std::vector<std::string> arguments{"-std=c99",  "-Wall",   "-Wextra", "-Wconversion",
                                           "-pedantic", "-Werror", "-o",      (m_folder / "program").string()};
        for (const CodeFile& file : code->files) {
            test::writeText(m_folder / file.name, file.text);
            if (file.name.ends_with(".c")) arguments.push_back((m_folder / file.name).string());
        }
        arguments.push_back("-lm");
        const auto compiled = test::run("/usr/bin/gcc", arguments);
        EXPECT_EQ(compiled.exitCode, 0) << compiled.err;
        const bool isFault = !code->findings.empty() && code->findings.front().severity == Severity::Fault;
        EXPECT_EQ(isFault, arithmetic == CodeArithmetic::Int16);
        EXPECT_EQ(code->holds(), !isFault);
    }
}

/// What goes over the bus while a part is set up and measured once: what the part answers is taken from `blocks`.
struct BusTalk {
    std::vector<SequenceStep> steps;
    std::vector<std::vector<std::uint8_t>> answers;
};

BusTalk talkOf(const Gauge& gauge, const GaugeCode& code, const RawData& raw) {
    const DigitalPath& path = *gauge.digital();
    std::map<std::string, std::vector<std::uint8_t>> blocks;
    const auto specs = path.part().device->blocks(path.options());
    for (const BlockSpec& spec : specs)
        for (const RawBlock& block : raw.blocks())
            if (spec.address ? block.address == spec.address : block.name == spec.name)
                blocks[spec.name].insert(blocks[spec.name].end(), block.bytes.begin(), block.bytes.end());
    std::vector<std::string> wanted;
    for (const CodeParameter& one : code.takes) wanted.push_back(one.of);
    const MeasuringSequence sequence = sequenceOf(path, gauge.spec(), catalogue(), wanted);
    BusTalk talk;
    for (const auto* steps : {&sequence.once, &sequence.each})
        for (const SequenceStep& step : *steps) {
            if (step.out.empty() && step.in == 0 && !step.isUnanswered) continue;
            talk.steps.push_back(step);
            std::vector<std::uint8_t> answer(step.in);
            const auto& block = blocks[step.block];
            if (step.in > 0 && step.at + step.in <= block.size())
                std::copy_n(block.begin() + static_cast<std::ptrdiff_t>(step.at), step.in, answer.begin());
            talk.answers.push_back(std::move(answer));
        }
    return talk;
}

std::string replaced(std::string text, const std::string& what, const std::string& by) {
    const std::size_t at = text.find(what);
    EXPECT_NE(at, std::string::npos) << what << " in\n" << text;
    return at == std::string::npos ? text : text.replace(at, what.size(), by);
}

std::string bytesOf(const std::vector<std::uint8_t>& bytes, const char* form, const char* between) {
    std::string text;
    for (const std::uint8_t byte : bytes) text += (text.empty() ? "" : between) + fmt::format(fmt::runtime(form), byte);
    return text;
}

/// A bus in C that gives what a part would and stops where it is asked otherwise than the table has it.
std::string busInC(const std::string& table) {
    return "#include <stdio.h>\n#include <stdlib.h>\n#include <string.h>\n#include <stdint.h>\n"
           "static const struct { unsigned n; uint8_t out[16]; unsigned m; uint8_t in[64]; } steps[] = {\n" +
           table +
           "};\nenum { COUNT = sizeof steps / sizeof steps[0] };\nstatic unsigned at;\n"
           "static int bus(const uint8_t *out, unsigned n, uint8_t *in, unsigned m)\n{\n"
           "    if (at == COUNT || n != steps[at].n || m != steps[at].m) exit(2);\n"
           "    if (n > 0 && memcmp(out, steps[at].out, n) != 0) exit(3);\n"
           "    if (m > 0) memcpy(in, steps[at].in, m);\n    ++at;\n    return 1;\n}\n";
}

/// A step as a row of that table, or of the list that a program in Python goes by.
std::string rowOf(const SequenceStep& step, const std::vector<std::uint8_t>& answer, bool isC) {
    const auto list = [](const std::vector<std::uint8_t>& bytes) { return bytesOf(bytes, "{}", ", "); };
    if (!isC) return fmt::format("(bytes([{}]), bytes([{}])),\n", list(step.out), list(answer));
    return fmt::format("{{{}, {{{}}}, {}, {{{}}}}},\n", step.out.size(), step.out.empty() ? "0" : list(step.out),
                       step.in, answer.empty() ? "0" : list(answer));
}

/// The whole program on a converter that is read by its pins, which are filled in with a model of it: WR rising starts,
/// INTR falls 100 µs later, RD low puts the data out and takes INTR back. A converter that never gets ready is a
/// status.
TEST_F(HandOver, AParallelConverterIsStartedWaitedForAndRead) {
    GaugeSpec spec = test::directGauge("lm35", 8, 5);
    spec.name = "shelf";
    spec.reading.span = {0, 150};
    spec.converter.parameters = {};
    spec.converter.part = "adc0804";
    const auto gauge = Gauge::make(spec, catalogue());
    ASSERT_TRUE(gauge) << gauge.error().message();
    const auto code = writeCode(*gauge, {.arithmetic = CodeArithmetic::Double, .shape = CodeShape::Program});
    ASSERT_TRUE(code) << code.error().message();
    const auto filled = [](std::string text, const std::string& from, const std::string& to) {
        const std::size_t at = text.find(from);
        EXPECT_NE(at, std::string::npos) << from;
        return at == std::string::npos ? text : text.replace(at, from.size(), to);
    };
    for (const CodeFile& file : code->files) {
        std::string text = file.text;
        if (file.name.ends_with("_main.c")) {
            text =
                "#include <stdio.h>\n#include <stdlib.h>\nstatic int pins[12] = {1, 1, 1, 1}, waited, ready_in = -1, "
                "rounds;\n" +
                text;
            text = filled(text, "    (void)pin;\n    (void)level; /* fill in */\n",
                          "    if (pin == PIN_WR && level && !pins[PIN_WR] && rounds < 2) ready_in = 100;\n"
                          "    if (pin == PIN_RD && !level) pins[PIN_INTR] = 1;\n    pins[pin] = level;\n");
            text = filled(text, "    (void)pin;\n    return 0; /* fill in */\n",
                          "    if (pin == PIN_INTR) return pins[PIN_INTR];\n"
                          "    return pins[PIN_RD] || pins[PIN_CS] ? 0 : 53 >> (pin - PIN_DB0) & 1;\n");
            text = filled(text, "    (void)microseconds; /* fill in */\n",
                          "    waited += (int)microseconds;\n    ready_in -= ready_in > 0 ? (int)microseconds : 0;\n"
                          "    if (ready_in == 0) pins[PIN_INTR] = 0, ready_in = -1;\n");
            text = filled(text, "    (void)character; /* fill in */\n", "    putchar(character);\n");
            text = filled(text, "    (void)milliseconds; /* fill in */\n",
                          "    (void)milliseconds;\n    if (++rounds == 3) exit(waited < 600 ? 0 : 1);\n");
        }
        test::writeText(m_folder / file.name, text);
    }
    const auto compiled = test::run("/usr/bin/gcc", {"-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Werror", "-o",
                                                     (m_folder / "shelf").string(), (m_folder / "shelf.c").string(),
                                                     (m_folder / "shelf_main.c").string(), "-lm"});
    ASSERT_EQ(compiled.exitCode, 0) << compiled.err.substr(0, 2000);
    const auto ran = test::run((m_folder / "shelf").string(), {});
    EXPECT_EQ(ran.exitCode, 0);
    std::istringstream lines(ran.out);
    std::string first, second, third;
    std::getline(lines, first);
    std::getline(lines, second);
    std::getline(lines, third);
    // 53 of 256 steps of 5 V, 10 mV a degree.
    EXPECT_NEAR(test::number(first.substr(0, first.find(' '))), 53 * 5.0 / 256 / 0.01, 0.6) << ran.out;
    EXPECT_EQ(first, second);
    EXPECT_EQ(third, "damaged");
    const auto python = writeCode(*gauge, {.language = CodeLanguage::MicroPython,
                                           .arithmetic = CodeArithmetic::Double,
                                           .shape = CodeShape::Program});
    ASSERT_TRUE(python);
    for (const CodeFile& file : python->files) test::writeText(m_folder / file.name, file.text);
    const std::string script =
        "import shelf_main as m\npins = {m.PIN_INTR: 1}\n"
        "def put(pin, level):\n    pins[pin] = level\n    if pin == m.PIN_WR and level: pins[m.PIN_INTR] = 0\n"
        "m.port_set = put\nm.port_get = lambda pin: pins[pin] if pin == m.PIN_INTR else 53 >> (pin - m.PIN_DB0) & 1\n"
        "print(m.convert(), m.read()[0])\nput = None\nm.port_set = lambda pin, level: None\npins[m.PIN_INTR] = 1\n"
        "print(m.convert(), m.read()[0])\n";
    const auto said = test::run("/usr/bin/env", {"-C", m_folder.string(), "python3", "-c", script});
    EXPECT_EQ(said.out, "53 0\nNone 4\n") << said.err;
}

/// The whole program of a digital part, its three functions filled in with a bus that gives what the part would: it
/// writes its words, waits, reads, and prints the reading.
TEST_F(HandOver, ProgramsOfDigitalPartsSetThePartUpAndMeasure) {
    struct Case {
        const char *part, *reading, *settings;
        const char* written;  ///< among what goes over the bus, by hand from the part's document
    };
    for (const Case& one :
         {Case{"bme280", "humidity", "osrs_h=x1,osrs_t=x1,osrs_p=x1,mode=forced,filter=off",
               "F2 01|F5 00|88|A1|E1|F4 25|F7"},
          Case{"bmp280", "pressure", "osrs_t=x2,osrs_p=x16,mode=normal,filter=16", "F5 10|F4 57|88|F7"},
          Case{"sht31", "temperature", "repeatability=high", "24 00"},
          Case{"ds18b20", "temperature", "resolution=12", "CC 4E 4B 46 7F|CC 44|CC BE"},
          Case{"tmp117", "temperature", "mode=oneshot,conv=15.5ms,avg=none", "01 0C 00|00"},
          Case{"bh1750", "illuminance", "power=on,repeat=once,mode=h", "01|20"},
          Case{"aht20", "humidity", "", "BE 08 00|AC 33 00"},
          Case{"bmp180", "pressure", "oss=3", "AA|F4 2E|F6|F4 F4|F6"}, Case{"si7021", "humidity", "", "F3|F5"},
          Case{"max31855", "temperature", "", ""}}) {
        const DevicePart& part = *catalogue().findDevicePart(one.part);
        GaugeSpec spec = defaultDeviceGauge(part, one.reading);
        spec.name = fmt::format("probe {}", one.part);
        if (*one.settings) spec.sensor.parameters.set("settings", std::string(one.settings));
        const auto gauge = Gauge::make(spec, catalogue());
        ASSERT_TRUE(gauge) << one.part << ": " << gauge.error().message();
        const Interval span = spec.spanCanonical();
        const auto now = gauge->path().evaluate({Stage::World, (span.low + span.high) / 2});
        ASSERT_TRUE(now && now->device);
        const double expected = gauge->unit().fromCanonical(now->at(Stage::Reading).value);
        for (const CodeLanguage language : {CodeLanguage::C, CodeLanguage::MicroPython}) {
            const bool isC = language == CodeLanguage::C;
            const auto code =
                writeCode(*gauge,
                          {.language = language, .arithmetic = CodeArithmetic::Double, .shape = CodeShape::Program});
            ASSERT_TRUE(code) << one.part << ": " << code.error().message();
            const BusTalk talk = talkOf(*gauge, *code, now->device->raw);
            std::string written;
            for (const SequenceStep& step : talk.steps)
                if (!step.out.empty()) written += (written.empty() ? "" : "|") + bytesOf(step.out, "{:02X}", " ");
            EXPECT_EQ(written, one.written) << one.part;
            std::string table, printed;
            for (std::size_t i = 0; i < talk.steps.size(); ++i) {
                const auto& [step, answer] = std::pair(talk.steps[i], talk.answers[i]);
                table += rowOf(step, answer, isC);
            }
            for (const CodeFile& file : code->files) {
                std::string text = file.text;
                if (file.name.ends_with("_main.c")) {
                    text = replaced(text, "return 0; /* fill in, and return 1 */",
                                    "return bus(out, out_count, in, in_count);");
                    text = replaced(text, "(void)character; /* fill in */", "putchar(character);");
                    text = replaced(text, "(void)milliseconds; /* fill in */",
                                    "if (milliseconds == 1000u && at == COUNT) exit(0);");
                    text = busInC(table) + text;
                } else if (file.name.ends_with("_main.py")) {
                    text = replaced(text, "    raise OSError  # fill in",
                                    "    wanted, given = STEPS.pop(0)\n    assert bytes(out) == wanted, (out, wanted)\n"
                                    "    assert len(given) == count\n    return given");
                    text = replaced(text, "    pass  # fill in: time.sleep_ms(milliseconds)",
                                    "    if milliseconds == 1000 and not STEPS: raise SystemExit");
                    text = "STEPS = [" + table + "]\n" + text;
                }
                test::writeText(m_folder / file.name, text);
            }
            const std::string base = code->files.front().name.substr(0, code->files.front().name.find('.'));
            if (isC) {
                const auto compiled =
                    test::run("/usr/bin/gcc",
                              {"-std=c99", "-Wall", "-Wextra", "-Wconversion", "-pedantic", "-Werror",
                               "-fsanitize=address,undefined", "-o", (m_folder / "probe").string(),
                               (m_folder / (base + "_main.c")).string(), (m_folder / (base + ".c")).string(), "-lm"});
                ASSERT_EQ(compiled.exitCode, 0) << one.part << compiled.err;
                const auto ran = test::run((m_folder / "probe").string(), {});
                EXPECT_EQ(ran.exitCode, 0) << one.part << ran.err;
                printed = ran.out;
            } else {
                const auto ran = test::run("/usr/bin/env", {"-C", m_folder.string(), "python3", base + "_main.py"});
                EXPECT_EQ(ran.exitCode, 0) << one.part << ran.err;
                printed = ran.out;
            }
            // The barometer's ± 4 hPa deserve one decimal, the others two.
            const double rounded = std::string(one.part) == "bmp180" ? 0.051 : 0.006;
            EXPECT_NEAR(test::number(printed), expected, rounded) << one.part << ": " << printed;
        }
    }
}

/// Parts that are read by pulses, as their data sheets draw them: a dht22 whose line is high for a moment before its
/// answer, which one board sees and a slower one does not, and an hx711 that counts the pulses it is clocked with. Then
/// both fall silent.
TEST_F(HandOver, PartsReadByPulsesAreReadBitByBit) {
    struct Case {
        const char *part, *reading, *options;
        std::vector<std::uint8_t> bytes;  ///< that it sends
        double expected;
    };
    // 65.2 %RH and 35.1 °C, the example of the AM2302 data sheet: 02 8C 01 5F, sum EE. 0x123456 of ± 2^23 with gain 64.
    for (const Case& one : {Case{"dht22", "humidity", "", {0x02, 0x8C, 0x01, 0x5F, 0xEE}, 65.2},
                            Case{"hx711", "ratio", "64", {0x12, 0x34, 0x56}, 1193046.0 / 8388608 * 0.5 / 64}}) {
        GaugeSpec spec = defaultDeviceGauge(*catalogue().findDevicePart(one.part), one.reading);
        spec.name = "line";
        if (*one.options) spec.sensor.parameters.set("gain", std::string(one.options));
        const auto gauge = Gauge::make(spec, catalogue());
        ASSERT_TRUE(gauge) << gauge.error().message();
        const bool isClocked = std::string(one.part) == "hx711";
        const double expected = gauge->unit().fromCanonical(one.expected);
        const auto c = writeCode(*gauge, {.arithmetic = CodeArithmetic::Double, .shape = CodeShape::Program});
        ASSERT_TRUE(c) << c.error().message();
        for (const CodeFile& file : c->files) {
            std::string text = file.text;
            if (file.name == "line_main.c") {
                if (isClocked) {
                    text = replaced(text, "(void)level; /* fill in */", "clock_line(level);");
                    text = replaced(text, "return 1; /* fill in */", "return data_line();");
                } else {
                    text = replaced(text, "(void)microseconds; /* fill in */", "start(microseconds);");
                    text = replaced(text, "return 0; /* fill in */", "return high();");
                }
                text = replaced(text, "(void)character; /* fill in */", "putchar(character);");
                text = replaced(text, "(void)milliseconds; /* fill in */",
                                "now_ms += milliseconds;\n    if (milliseconds == 1000u && ++rounds == 3) exit(0);");
                text =
                    "#include <stdio.h>\n#include <stdlib.h>\n#include <stdint.h>\n"
                    "static const uint8_t sent[] = {" +
                    bytesOf(one.bytes, "{}", ", ") +
                    "};\n"
                    "static unsigned at, rounds, now_ms;\n" +
                    (isClocked ? "static unsigned gain_pulses = 25, ready_ms;\n"
                                 "static void clock_line(int level)\n{\n    if (level) ++at;\n}\n"
                                 "static int data_line(void)\n{\n"
                                 "    if (at >= 24 && now_ms >= ready_ms) {\n"
                                 "        if (at > 24) gain_pulses = at;\n        at = 0;\n    }\n"
                                 "    if (at == 0 && rounds == 2) return 1;\n    if (at == 0) {\n"
                                 "        ready_ms = now_ms + 100;\n        return 0;\n    }\n"
                                 "    return gain_pulses == 27 ? sent[(at - 1) / 8] >> (7 - (at - 1) % 8) & 1 : 0;\n}\n"
                               : "static unsigned asked, last_ms;\n"
                                 "static void start(unsigned us)\n{\n    if (us < 800 || us > 20000) exit(2);\n"
                                 "    if (now_ms - last_ms < 2000) exit(3);\n    last_ms = now_ms;\n"
                                 "    at = asked++ % 2;\n}\n"
                                 "static unsigned high(void)\n{\n    unsigned p = at++;\n"
                                 "    if (rounds == 2 || p >= 42) return 0;\n    if (p < 2) return p ? 80u : 25u;\n"
                                 "    p -= 2;\n    return sent[p / 8] >> (7 - p % 8) & 1 ? 70u : 26u;\n}\n") +
                    text;
            }
            test::writeText(m_folder / file.name, text);
        }
        const auto compiled =
            test::run("/usr/bin/gcc", {"-std=c99", "-Wall", "-Wextra", "-Wconversion", "-pedantic", "-Werror",
                                       "-fsanitize=address,undefined", "-o", (m_folder / "line").string(),
                                       (m_folder / "line_main.c").string(), (m_folder / "line.c").string(), "-lm"});
        ASSERT_EQ(compiled.exitCode, 0) << one.part << compiled.err;
        const auto ran = test::run((m_folder / "line").string(), {});
        EXPECT_EQ(ran.exitCode, 0) << one.part << ran.err;
        std::istringstream lines(ran.out);
        for (int i = 0; i < 2; ++i) {
            std::string line;
            std::getline(lines, line);
            EXPECT_NEAR(test::number(line.substr(0, line.find(' '))), expected, 0.006 * std::abs(expected))
                << one.part << ": " << ran.out;
        }
        EXPECT_TRUE(ran.out.ends_with("damaged\n")) << ran.out;

        const auto python = writeCode(*gauge, {.language = CodeLanguage::MicroPython,
                                               .arithmetic = CodeArithmetic::Double,
                                               .shape = CodeShape::Program});
        ASSERT_TRUE(python);
        for (const CodeFile& file : python->files) test::writeText(m_folder / file.name, file.text);
        const std::string model =
            isClocked ? "at = 0\ngain = 25\ndef clock(site, level):\n    global at\n    at += level\n"
                        "def data(site):\n    global at, gain\n    if at > 24: gain, at = at, 0\n"
                        "    if at == 0: return 1 if silent else 0\n"
                        "    return sent[(at - 1) // 8] >> 7 - (at - 1) % 8 & 1 if gain == 27 else 0\n"
                        "m.port_clock, m.port_data = clock, data\n"
                      : "at = asked = 0\ndef start(site, us):\n    global at, asked\n    assert 800 <= us <= 20000\n"
                        "    at, asked = asked % 2, asked + 1\n"
                        "def high(site):\n    global at\n    p, at = at, at + 1\n    if silent or p >= 42: return -1\n"
                        "    if p < 2: return 80 if p else 25\n"
                        "    return 70 if sent[(p - 2) // 8] >> 7 - (p - 2) % 8 & 1 else 26\n"
                        "m.port_hold_low, m.port_high_us = start, high\n";
        const auto said =
            test::run("/usr/bin/env", {"-C", m_folder.string(), "python3", "-c",
                                       "import line_main as m\nsilent = False\nsent = bytes([" +
                                           bytesOf(one.bytes, "{}", ", ") + "])\n" + model +
                                           "blocks = {}\nfirst, second = m.read(blocks), m.read(blocks)\n"
                                           "assert first == second and first[0] == 0, first\nprint(first[1])\n"
                                           "silent = True\nassert m.read(blocks)[0] == 4 and not blocks\n"});
        EXPECT_EQ(said.exitCode, 0) << one.part << said.err;
        EXPECT_NEAR(test::number(said.out), expected, 1e-9 * std::abs(expected)) << one.part;
    }
}

/// The sender of a whole bench, its functions filled in with a board that gives what the gauges expect at the middle of
/// their spans: the lines it prints are read by the product's own reader, and every channel is what it should be.
TEST_F(HandOver, TheRawSendersLinesAreReadAsTheRawValues) {
    std::vector<Gauge> gauges;
    for (const char* name : {"glue-pot", "barometer", "wood-store", "store-warmth", "soaking-tray", "bending-iron"}) {
        GaugeSpec spec = readGaugeFile((test::dataFolder() / "demo" / (std::string(name) + ".json")).string()).value();
        if (std::string(name) == "glue-pot")  // heard from a second source, with a name that would end a comment
        {
            spec.channel = "2:pot";
            spec.name = "Glue \"\"\" pot */ \\";
        }
        if (std::string(name) == "bending-iron") spec.channel = "no name";  // nothing a line can say
        gauges.push_back(Gauge::make(spec, catalogue()).value());
    }
    // One that does not answer is left out of the line.
    gauges.push_back(
        Gauge::make(defaultDeviceGauge(*catalogue().findDevicePart("dht22"), "humidity"), catalogue()).value());
    for (const CodeLanguage language : {CodeLanguage::C, CodeLanguage::MicroPython}) {
        const bool isC = language == CodeLanguage::C;
        const auto sender = rawSender(gauges, "workshop", language);
        ASSERT_TRUE(sender) << sender.error().message();
        EXPECT_EQ(sender->file.name, isC ? "workshop_sender.c" : "workshop_sender.py");
        EXPECT_EQ(sender->channels.at(5), "bending_iron");
        // What the board is asked for, in the order in which it is asked: set-ups first, then a measurement each.
        std::map<std::string, Raw> expected{{"pot", 2047.0}, {"bending_iron", 301.0}};
        std::vector<SequenceStep> once, each;
        std::vector<std::vector<std::uint8_t>> onceIn, eachIn;
        std::string coefficients;
        for (const std::size_t i : {1u, 2u, 4u}) {
            const DigitalPath& path = *gauges[i].digital();
            const Interval span = gauges[i].spec().spanCanonical();
            const auto now = path.evaluate({Stage::World, (span.low + span.high) / 2}).value();
            std::map<std::string, std::vector<std::uint8_t>> blocks;
            std::vector<std::uint8_t> frame;
            for (const BlockSpec& spec : path.part().device->blocks(path.options()))
                for (const RawBlock& block : now.device->raw.blocks())
                    if (spec.address ? block.address == spec.address : block.name == spec.name) {
                        blocks[spec.name] = block.bytes;
                        if (!spec.isCalibration && !spec.isOptional)
                            frame.insert(frame.end(), block.bytes.begin(), block.bytes.end());
                        else if (spec.isCalibration)
                            coefficients = "# baro 88: " + bytesOf(block.bytes, "{:02X}", " ");
                    }
            expected[gauges[i].spec().channel] = frame;
            const MeasuringSequence sequence = sequenceOf(path, gauges[i].spec(), catalogue());
            for (const auto& [steps, into, in] :
                 {std::tuple(&sequence.once, &once, &onceIn), std::tuple(&sequence.each, &each, &eachIn)})
                for (const SequenceStep& step : *steps) {
                    if (step.out.empty() && step.in == 0) continue;
                    into->push_back(step);
                    in->push_back(step.in > 0 ? blocks[step.block] : std::vector<std::uint8_t>());
                }
        }
        once.insert(once.end(), each.begin(), each.end());
        onceIn.insert(onceIn.end(), eachIn.begin(), eachIn.end());
        std::string table, text = sender->file.text;
        for (std::size_t i = 0; i < once.size(); ++i) table += rowOf(once[i], onceIn[i], isC);
        test::Finished ran;
        if (isC) {
            for (int i = 0; i < 2; ++i)  // two buses
                text = replaced(text, "(void)in_count;\n    return 0; /* fill in, and return 1 */",
                                "return bus(out, out_count, in, in_count);");
            text = replaced(text, "return 0; /* fill in */", "return channel == 0 ? 2047 : 301;");
            text = replaced(text, "return 0; /* fill in */", "return 0u;");  // no pulse of the dht22
            text = replaced(text, "(void)character; /* fill in */", "putchar(character);");
            text = replaced(text, "return 0; /* fill in */", "return 12345u;");
            text = replaced(text, "(void)milliseconds; /* fill in */",
                            "if (milliseconds == 1000u && at == COUNT) exit(0);");
            text = busInC(table) + text;
            test::writeText(m_folder / "sender.c", text);
            const auto compiled =
                test::run("/usr/bin/gcc", {"-std=c99", "-Wall", "-Wextra", "-Wconversion", "-pedantic", "-Werror",
                                           "-fsanitize=address,undefined", "-o", (m_folder / "sender").string(),
                                           (m_folder / "sender.c").string()});
            ASSERT_EQ(compiled.exitCode, 0) << compiled.err;
            ran = test::run((m_folder / "sender").string(), {});
        } else {
            for (int i = 0; i < 2; ++i)
                text = replaced(
                    text, "does not answer.\"\"\"\n    raise OSError  # fill in",
                    "does not answer.\"\"\"\n    wanted, given = STEPS.pop(0)\n"
                    "    assert bytes(out) == wanted and len(given) == count, (out, wanted)\n    return given");
            text = replaced(text, "return 0  # fill in\n", "return 2047 if channel == 0 else 301\n");
            text = replaced(text, "return 0  # fill in:", "return 12345  #");
            text = replaced(text, "    pass  # fill in: time.sleep_ms(milliseconds)",
                            "    if milliseconds == 1000 and not STEPS: raise SystemExit");
            test::writeText(m_folder / "sender.py", "STEPS = [" + table + "]\n" + text);
            ran = test::run("/usr/bin/env", {"-C", m_folder.string(), "python3", "sender.py"});
        }
        ASSERT_EQ(ran.exitCode, 0) << ran.err << ran.out;
        EXPECT_NE(ran.out.find(coefficients + "\n"), std::string::npos) << ran.out;
        LineReader reader;
        const auto frames = reader.feed(ran.out);
        ASSERT_EQ(frames.size(), 1u) << ran.out;
        EXPECT_EQ(frames[0].time_s, 12.345);
        std::map<std::string, Raw> sent;
        for (const RawSample& sample : frames[0].samples) sent[sample.channel] = sample.raw;
        EXPECT_EQ(sent, expected) << ran.out;
    }
    // Nothing to send is no program.
    const std::vector<Gauge> none;
    EXPECT_FALSE(rawSender(none, "empty", CodeLanguage::C));
}

// A line of a maker's own.

double lineAt(const char* text, std::int64_t code, LineInt width) {
    const auto line = TypedLine::read(text);
    EXPECT_TRUE(line) << text << ": " << line.error().message();
    return line ? line->at(code, width).value : std::nan("");
}

/// The arithmetic of C, worked out by hand and by its rules (C11 6.3.1.8, 6.5.5).
TEST(TypedLine, CountsAsCDoes) {
    EXPECT_EQ(lineAt("adc*61/128-40", 817, LineInt::Int32), 349);        // 49837/128 = 389.35, cut
    EXPECT_EQ(lineAt("(adc - 2000) / 16", 1985, LineInt::Int16), 0);     // −15/16 is cut towards 0
    EXPECT_EQ(lineAt("(adc - 2000) >> 4", 1985, LineInt::Int16), -1);    // a shift rounds down
    EXPECT_EQ(lineAt("-adc % 7", 10, LineInt::Int16), -3);               // the sign of the dividend
    EXPECT_EQ(lineAt("adc * 295", 2155, LineInt::Int16), -19635);        // 635725 − 10 · 65536
    EXPECT_EQ(lineAt("(long)adc * 295", 2155, LineInt::Int16), 635725);  // long has 32 bits
    EXPECT_EQ(lineAt("adc * 295L", 2155, LineInt::Int16), 635725);
    EXPECT_EQ(lineAt("(long)(adc * 295)", 2155, LineInt::Int16), -19635);  // too late
    EXPECT_EQ(lineAt("adc - 5u", 3, LineInt::Int16), 65534);               // unsigned wins
    EXPECT_EQ(lineAt("5 * adc / 2.0", 3, LineInt::Int16), 7.5);
    EXPECT_EQ(lineAt("adc / 1024 * 5000", 1000, LineInt::Int32), 0);  // divided first
    EXPECT_EQ(lineAt("int mV = adc * 5000L / 1024;", 512, LineInt::Int16), 2500);
    EXPECT_EQ(lineAt("(analogRead(A0) & 0x0F) << 2 | 1", 0x2A, LineInt::Int16), 41);
    EXPECT_EQ(lineAt("(uint8_t)(adc + 1)", 255, LineInt::Int16), 0);
    EXPECT_EQ(lineAt("adc + 010", 1, LineInt::Int16), 9);  // octal
    EXPECT_EQ(lineAt("adc + 0.10", 1, LineInt::Int16), 1.1);
    const std::vector<std::int64_t> beyondDoubles{3, 9223372036854775785};
    EXPECT_EQ(TypedLine::read("adc * 3 + 9223372036854775785")->constants(), beyondDoubles);
    for (const char* wrong :
         {"", "adc *", "adc * (3 + 4", "adc # 3", "adc x", "3 4", "adc * * 3", "0x", "adc*1e999x", "adc*08"})
        EXPECT_FALSE(TypedLine::read(wrong)) << wrong;
    EXPECT_EQ(TypedLine::read("adc * gain").error().code, ErrorCode::Unsupported);
    EXPECT_FALSE(TypedLine::read(std::string(390, '(') + "1"));
    EXPECT_TRUE(TypedLine::read("100 / (adc - 5)")->at(5, LineInt::Int16).isNone);
}

/// The design's own example: what the line is worth, where it wraps, and a better one.
TEST(TypedLine, IsComparedWithTheGaugeOverEveryCode) {
    const auto gauge = Gauge::make(test::gluePot(), catalogue());
    const auto line = TypedLine::read("124-adc*295/10000");
    const Unit& unit = gauge->unit();
    const auto wide = checkLine(*gauge, *line, LineInt::Int32, unit, 1);
    ASSERT_TRUE(wide);
    EXPECT_FALSE(wide->isOverflowing);
    // By hand at code 3484: 3484 · 295 = 1027780, 124 − 102 = 22; the Beta equation says 20.02 °C.
    EXPECT_EQ(wide->error.atCode, 3484);
    EXPECT_NEAR(wide->error.worst, 1.98, 0.005);
    const auto narrow = checkLine(*gauge, *line, LineInt::Int16, unit, 1);
    ASSERT_TRUE(narrow && narrow->isOverflowing);
    EXPECT_EQ(narrow->overflowCode, 112);  // 111 · 295 = 32745 still fits 32767
    EXPECT_EQ(narrow->overflow.overflow, "adc*295");
    EXPECT_EQ(narrow->overflow.overflowed, 33040);
    const auto better = betterLines(*gauge, *line, LineInt::Int16, unit, 1);
    ASSERT_FALSE(better.empty());
    const auto again = checkLine(*gauge, *TypedLine::read(better[0].text), LineInt::Int16, unit, better[0].scale);
    ASSERT_TRUE(again);
    EXPECT_LT(again->error.worst, 1.2);
    EXPECT_DOUBLE_EQ(again->error.worst, better[0].error.worst);
    // A line that is right already has nothing to gain.
    const auto straight = Gauge::make(test::directGauge("lm35", 10, 1.024), catalogue());
    const auto exact = TypedLine::read("adc * 0.1");
    EXPECT_LT(checkLine(*straight, *exact, LineInt::Int16, straight->unit(), 1)->error.worst, 1e-9);
    EXPECT_TRUE(betterLines(*straight, *exact, LineInt::Int16, straight->unit(), 1).empty());
}

/// Where hand-written splitting fails, worked out by hand in C's arithmetic: −5 % 10 is −5, 48 − 5 is 43, the plus.
TEST(DigitCheck, SaysFromWhereACharacterIsAnother) {
    const auto check = [](const char* text, double low, double high, LineInt width = LineInt::Int16) {
        const auto places = readDigits(text);
        EXPECT_TRUE(places) << text;
        return checkDigits(*places, width, {low, high}, 10).value();
    };
    const DigitCheck fine = check("t/100, t/10%10, t%10", 0, 99.9);
    EXPECT_TRUE(fine.isRight());
    EXPECT_EQ(fine.wrong, 0);
    const DigitCheck wide = check("t/100, t/10%10, t%10", 0, 120);
    ASSERT_EQ(wide.faults.size(), 1u);
    EXPECT_EQ(wide.faults[0].value, 1000);
    EXPECT_EQ(wide.faults[0].text, "from 1000 on place 1 is 10, shown as “:”");
    EXPECT_EQ(wide.wrong, 201);
    const DigitCheck cold = check("t/100, t/10%10, t%10", -20, 50);
    ASSERT_EQ(cold.faults.size(), 3u);  // every place goes negative
    const auto last =
        std::find_if(cold.faults.begin(), cold.faults.end(), [](const DigitFault& one) { return one.place == 2; });
    EXPECT_EQ(last->value, -1);
    EXPECT_EQ(last->text, "at -1 and below place 3 is -1, shown as “/”");
    EXPECT_FALSE(cold.notes.empty());
    // As characters, and a forgotten remainder: 25 in the place of the units.
    EXPECT_TRUE(check("'0' + t/100, t/10%10 + 48, 48 + t%10", 0, 50).isRight());
    const DigitCheck forgotten = check("t/100, t/10, t%10", 0, 50);
    ASSERT_EQ(forgotten.faults.size(), 1u);
    EXPECT_EQ(forgotten.faults[0].value, 100);
    EXPECT_EQ(forgotten.faults[0].gives, 10);
    // A product that does not fit an int of 16 bits: 3277 · 10 is 32770.
    const DigitCheck product = check("t*10/10000, t/100%10, t/10%10, t%10", 0, 400);
    ASSERT_EQ(product.faults.size(), 1u);
    EXPECT_EQ(product.faults[0].value, 3277);
    EXPECT_NE(product.faults[0].text.find("overflows 16 bits"), std::string::npos) << product.faults[0].text;
    EXPECT_FALSE(readDigits("t/100,,t%10"));
    EXPECT_FALSE(checkDigits(*readDigits("t%10"), LineInt::Int32, {0, 1e9}, 1000));
}

}  // namespace
}  // namespace fg
