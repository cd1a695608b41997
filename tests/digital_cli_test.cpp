// fgauge decode, registers and bus, and the register-level board, as processes.

#include "process.h"
#include "storage/bench_file.h"
#include "support.h"

#include <nlohmann/json.hpp>

namespace fg {
namespace {

using nlohmann::json;
using test::Finished;

Finished fgauge(const std::vector<std::string>& arguments, const std::string& input = "") {
    return test::run(FAIRGAUGE_FGAUGE, arguments, input);
}

const std::string kExample =
    "88: 70 6B 43 67 18 FC 7D 8E 43 D6 D0 0B 27 0B 8C 00 F9 FF 8C 3C F8 C6 70 17; F7: 65 5A C0 7E ED 00";

TEST(FgaugeDecode, GivesReadingsTraceStatusAndFindings) {
    const Finished run = fgauge({"decode", "bmp280", "--bytes", kExample, "--option", "variant=int64", "--json"});
    ASSERT_EQ(run.exitCode, 0) << run.err;
    const json result = json::parse(run.out);
    ASSERT_EQ(result["readings"].size(), 2u);
    EXPECT_EQ(result["readings"][1]["quantity"], "pressure");
    EXPECT_EQ(result["readings"][1]["unit"], "Pa");
    EXPECT_EQ(result["readings"][1]["value"], 100653.25390625);
    EXPECT_EQ(result["readings"][1]["display"], "1006.5 hPa");
    EXPECT_EQ(result["trace"][0]["name"], "dig_T1");
    EXPECT_EQ(result["trace"][0]["bytes"][0], json::parse(R"({"block":"0x88","first":0,"count":2})"));
    EXPECT_TRUE(result["status"].empty());
    const json probe =
        json::parse(fgauge({"decode", "ds18b20", "--bytes", "50 05 4B 46 7F FF 0C 10 1C", "--json"}).out);
    EXPECT_EQ(probe["findings"][0]["id"], "power-on");
    EXPECT_EQ(probe["findings"][0]["severity"], "doubt");
    EXPECT_NE(fgauge({"decode", "dht22", "--bytes", "02 8C 01 5F EE"}).out.find("humidity: 65.2 %RH"),
              std::string::npos);
}

TEST(FgaugeDecode, TakesFilesPulsesAndCounts) {
    test::TemporaryFolder folder;
    test::writeText(folder / "dump.txt", "address,value\n0x11,0x19\n0x12,0x40\n");
    EXPECT_NE(fgauge({"decode", "ds3231", "--file", (folder / "dump.txt").string()}).out.find("25"), std::string::npos);
    std::string pulses;
    for (const int byte : {0x02, 0x8C, 0x01, 0x5F, 0xEE})
        for (int bit = 7; bit >= 0; --bit) pulses += byte >> bit & 1 ? "71 " : "27 ";
    EXPECT_NE(fgauge({"decode", "dht22", "--pulses", pulses}).out.find("65.2 %RH"), std::string::npos);
    const Finished count = fgauge({"decode", "lmt01", "--bytes", "pulses: 1604", "--json"});
    ASSERT_EQ(count.exitCode, 0) << count.err;
    EXPECT_NEAR(json::parse(count.out)["readings"][0]["value"].get<double>(), 50,
                1e-9);  // LMT01 data sheet, look-up table
}

TEST(FgaugeDecode, ARefusedFrameExitsWithTheReason) {
    const Finished damaged = fgauge({"decode", "dht22", "--bytes", "02 8C 01 5F EF"});
    EXPECT_EQ(damaged.exitCode, 2);
    EXPECT_NE(damaged.err.find("expected 0xEE"), std::string::npos) << damaged.err;
    for (const std::vector<std::string>& arguments :
         std::vector<std::vector<std::string>>{{"decode", "nobody", "--bytes", "00"},
                                               {"decode", "tmp36", "--bytes", "00"},
                                               {"decode", "dht22"},
                                               {"decode", "dht22", "--bytes", "zz"},
                                               {"decode", "bmp280", "--bytes", kExample, "--option", "variant"},
                                               {"decode", "dht22", "--file", "/nowhere"}})
        EXPECT_EQ(fgauge(arguments).exitCode, 2) << arguments[1];
    EXPECT_NE(fgauge({"part", "tsl2561"}).out.find("package = T | FN | CL | CS"), std::string::npos);
    EXPECT_EQ(json::parse(fgauge({"part", "bme280", "--json"}).out)["addresses"][0]["address"], "0x76");
}

TEST(FgaugeRegisters, WordsFieldsAndWhatWasAsked) {
    const json set =
        json::parse(fgauge({"registers", "bmp280", "--set", "osrs_t=x16,mode=normal,standby=1000ms", "--json"}).out);
    EXPECT_EQ(set["words"][0]["word"], "0xA3");
    EXPECT_EQ(set["words"][0]["transactions"][0]["text"], "S EC A F4 A A3 A P");
    EXPECT_EQ(set["words"][1]["word"], "0xA0");
    EXPECT_FALSE(set["consequences"].empty());
    // Every device that can be configured tells its current, and every one a polling interval.
    for (const char* part : {"bmp280",  "bme280",  "bmp388", "ds18b20", "hdc1080", "lm75",     "max31865", "mcp9808",
                             "opt3001", "tmp102",  "tmp112", "tmp116",  "tmp117",  "tsl2561",  "veml7700", "ads1015",
                             "ads1115", "adt7410", "dps310", "lps22hb", "lps25hb", "max44009", "bme680",   "bmp180",
                             "ds3231",  "sht30",   "sht31",  "sht35",   "sht40",   "bh1750",   "si7021",   "htu21d",
                             "ms5611",  "ms5607",  "ms5837", "hx711",   "ds18s20"}) {
        const std::string id = part;
        const std::string on = id == "tsl2561"                    ? "power=on"
                               : id == "bmp280" || id == "bme280" ? "osrs_p=x1,osrs_t=x1,mode=normal"
                               : id == "bmp388"                   ? "pressure=on,mode=normal"
                                                                  : "";
        std::vector<std::string> arguments{"registers", part, "--json"};
        if (!on.empty()) arguments.insert(arguments.end(), {"--set", on});
        const std::string told = fgauge(arguments).out;
        EXPECT_NE(told.find("current_A"), std::string::npos) << part << told;
        EXPECT_NE(told.find("poll_s"), std::string::npos) << part << told;
        EXPECT_TRUE(told.find("step_") != std::string::npos || told.find("_step") != std::string::npos ||
                    told.find("noise_") != std::string::npos)
            << part << told;
    }
    const Finished half = fgauge({"registers", "bmp280", "--explain", "F4=27 F5=80", "--set", "standby=1000ms"});
    EXPECT_EQ(half.exitCode, 1);
    EXPECT_NE(half.out.find("half of the 1000ms that was asked for"), std::string::npos) << half.out;
    EXPECT_EQ(fgauge({"registers", "bmp280", "--explain", "F4=27 F5=A0"}).exitCode, 0);
    EXPECT_EQ(fgauge({"registers", "bmp280", "--set", "osrs_t=x3"}).exitCode, 2);
    EXPECT_NE(fgauge({"registers", "dht22"}).err.find("takes no settings"), std::string::npos);
    EXPECT_EQ(fgauge({"registers", "dht22"}).exitCode, 2);
    // Commands: sent alone and answered, and what is none is refused with the words there are.
    const json once =
        json::parse(fgauge({"registers", "sht31", "--set", "repeat=once_stretched", "--json"}).out)["words"][0];
    EXPECT_EQ(once["word"], "0x2C06");
    EXPECT_EQ(once["transactions"][0]["text"], "S 88 A 2C A 06 A P");
    EXPECT_EQ(once["transactions"][1]["title"], "answer");
    EXPECT_TRUE(once["transactions"][1]["steps"][2]["byte"].is_null());
    const Finished none = fgauge({"registers", "sht31", "--explain", "24 01"});
    EXPECT_EQ(none.exitCode, 2);
    EXPECT_NE(none.err.find("24 01"), std::string::npos) << none.err;
}

/// The converter inside a controller: words for a gauge, and words of a program held against it.
TEST(FgaugeRegisters, WordsOfAConverterAreHeldAgainstItsGauge) {
    const std::string air = (test::dataFolder() / "demo/workshop-air.json").string();
    const json set =
        json::parse(fgauge({"registers", "atmega328p", "--gauge", air, "--clock", "16 MHz", "--json"}).out);
    EXPECT_EQ(set["words"][0]["word"], "0x40");
    EXPECT_EQ(set["words"][1]["word"], "0x87");
    EXPECT_EQ(set["clock"], "");
    const Finished wrong =
        fgauge({"registers", "atmega328p", "--gauge", air, "--explain", "admux=C2 adcsra=82", "--clock", "16MHz"});
    EXPECT_EQ(wrong.exitCode, 1);
    EXPECT_NE(wrong.out.find("the gauge counts with the supply as reference"), std::string::npos) << wrong.out;
    EXPECT_NE(wrong.out.find("set prescaler=128"), std::string::npos) << wrong.out;
    EXPECT_EQ(fgauge({"registers", "atmega328p", "--gauge", air, "--explain", "7C=42 7A=87"}).exitCode, 0);
    EXPECT_EQ(fgauge({"registers", "atmega328p", "--gauge", air, "--explain", "ADMUX=0x42 ADCSRA=0x87"}).exitCode, 0);
    EXPECT_EQ(fgauge({"registers", "bmp280", "--gauge", air}).exitCode, 2);
    EXPECT_EQ(fgauge({"registers", "atmega328p", "--clock", "16 kg"}).exitCode, 2);
    EXPECT_NE(fgauge({"registers", "nobody"}).err.find("atmega328p"), std::string::npos);
}

TEST(FgaugeBus, PullUpsScansAndAddresses) {
    const Finished strong =
        fgauge({"bus", "pullup", "--supply", "3.3", "--module", "4k7", "--module", "4k7", "--module", "4k7", "--module",
                "4k7", "--module", "4k7", "--module", "4k7", "--json"});
    EXPECT_EQ(strong.exitCode, 1);
    EXPECT_EQ(json::parse(strong.out)["fault"], "too-strong");
    EXPECT_EQ(fgauge({"bus", "pullup", "--pullup", "2k2"}).exitCode, 0);
    EXPECT_EQ(fgauge({"bus", "pullup", "--speed", "fast"}).exitCode, 2);
    const json scan = json::parse(fgauge({"bus", "scan", "--text", "0x76", "--json"}).out);
    EXPECT_NE(scan["addresses"][0]["identity"].get<std::string>().find("0x58 is bmp280"), std::string::npos);
    test::TemporaryFolder folder;
    Bench bench;
    GaugeSpec barometer = readGaugeFile((test::dataFolder() / "demo/barometer.json").string()).value();
    bench.add(barometer);
    barometer.name = "Second";
    barometer.channel = "other";
    bench.add(barometer);
    {
        const auto file = BenchFile::create(folder / "a.fairgauge").value();
        ASSERT_TRUE(file->write({}, bench));
    }
    const Finished clash = fgauge({"bus", "addresses", "--bench", (folder / "a.fairgauge").string(), "--json"});
    EXPECT_EQ(clash.exitCode, 1) << clash.err;
    EXPECT_EQ(json::parse(clash.out)["conflicts"][0]["address"], "0x76");
    EXPECT_EQ(fgauge({"bus", "addresses", "--bench", "/nowhere"}).exitCode, 2);
}

TEST(FgaugeChoose, RanksExplainsAndRefuses) {
    test::TemporaryFolder folder;
    const auto ask = [&](const std::string& need, std::vector<std::string> more = {}) {
        test::writeText(folder / "need.json", need);
        std::vector<std::string> arguments{"choose", "--need", (folder / "need.json").string()};
        arguments.insert(arguments.end(), more.begin(), more.end());
        return fgauge(arguments);
    };
    const std::string tray =
        R"({"wishes":[{"quantity":"temperature","span":[10,60],"accuracy":1}],"medium":"liquid","place":["wet"],
            "supplies_V":[3.3]})";
    const Finished answer = ask(tray, {"--json"});
    EXPECT_EQ(answer.exitCode, 0) << answer.err;
    const json parsed = json::parse(answer.out);
    EXPECT_GE(parsed["candidates"].size(), 90u);
    EXPECT_EQ(parsed["candidates"][0]["verdict"], "met");
    EXPECT_TRUE(parsed["candidates"][0]["part"].get<std::string>().starts_with("ds18"));
    for (const json& one : parsed["candidates"])
        if (one["part"] == "lm35") {
            EXPECT_EQ(one["verdict"], "ruled out");
            EXPECT_NE(one["why"].get<std::string>().find("needs 4 … 30 V, the board has 3.3 V"), std::string::npos);
        }
    EXPECT_NE(ask(tray).out.find("+ Accuracy"), std::string::npos);
    // What nothing can do ends with 1, what nobody can read with 2.
    EXPECT_NE(ask(R"({"wishes":[{"quantity":"temperature","span":[0,60],"accuracy":0.0001}]})")
                  .out.find("depends on your part"),
              std::string::npos);
    const Finished wrong = ask(R"({"wishes":[{"quantity":"temperature","span":[60,0]}]})");
    EXPECT_EQ(wrong.exitCode, 2);
    EXPECT_NE(wrong.err.find("wishes[0].span"), std::string::npos) << wrong.err;
    EXPECT_EQ(fgauge({"choose", "--need", "/nowhere"}).exitCode, 2);
}

TEST(FgaugePlan, LaysABenchFileOut) {
    test::TemporaryFolder folder;
    Bench bench;
    for (const char* name : {"glue-pot", "barometer", "soaking-tray"})
        bench.add(readGaugeFile((test::dataFolder() / "demo" / (std::string(name) + ".json")).string()).value());
    bench.board.rails = {{"3.3 V", 3.3, 0.15, 0}};
    bench.board.places[3].cable_m = 4;
    {
        const auto file = BenchFile::create(folder / "a.fairgauge").value();
        ASSERT_TRUE(file->write({}, bench));
    }
    const std::string path = (folder / "a.fairgauge").string();
    const Finished answer = fgauge({"plan", "--bench", path, "--json"});
    EXPECT_EQ(answer.exitCode, 0) << answer.err << answer.out;
    const json plan = json::parse(answer.out);
    EXPECT_EQ(plan["one_wire_m"], 4);
    EXPECT_EQ(plan["rails"][0]["limit_A"], 0.15);
    EXPECT_EQ(plan["rails"][0]["loads"].size(), 3u);
    EXPECT_GT(plan["schedule"]["busy_s"].get<double>(), 0.75);
    EXPECT_EQ(plan["cables"].size(), 3u);
    EXPECT_FALSE(plan["cautions"].empty());
    EXPECT_TRUE(fgauge({"plan", "--bench", path, "--parts-csv"}).out.starts_with("count,value,what,tolerance,where"));
    EXPECT_TRUE(fgauge({"plan", "--bench", path, "--wires-csv"}).out.starts_with("mark,gauge,part,conductor,pin,to,"));
    EXPECT_NE(fgauge({"plan", "--bench", path}).out.find("1-wire, wire 1"), std::string::npos);
    // A rail that nobody works at is a fault of the bench.
    bench.board.rails = {{"12 V", 12, 0, 0}};
    {
        const auto file = BenchFile::create(folder / "b.fairgauge").value();
        ASSERT_TRUE(file->write({}, bench));
    }
    EXPECT_EQ(fgauge({"plan", "--bench", (folder / "b.fairgauge").string(), "--json"}).exitCode, 1);
    EXPECT_EQ(fgauge({"plan", "--bench", "/nowhere"}).exitCode, 2);
}

TEST(Sim, AnswersAtRegisterLevel) {
    const Finished run =
        test::run(FAIRGAUGE_SIM, {"--bus", "--stdout"}, "r 76 D0 1\nw 76 F4 27\nt 1\nr 76 F4 1\nr 50 00 1\n");
    EXPECT_EQ(run.exitCode, 0) << run.err;
    std::istringstream lines(run.out);
    std::string line;
    for (const char* expected : {"58", "ok", "ok", "27"}) {
        std::getline(lines, line);
        EXPECT_EQ(line, expected);
    }
    std::getline(lines, line);
    EXPECT_TRUE(line.starts_with("nak")) << line;
}

}  // namespace
}  // namespace fg
