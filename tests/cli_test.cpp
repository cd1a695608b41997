#include "process.h"
#include "support.h"

#include <cmath>
#include <nlohmann/json.hpp>

namespace fg {
namespace {

using nlohmann::json;
using test::Finished;

Finished fgauge(const std::vector<std::string>& arguments, const std::string& input = "") {
    return test::run(FAIRGAUGE_FGAUGE, arguments, input);
}

std::string pot() { return (test::dataFolder() / "demo/glue-pot.json").string(); }

TEST(Fgauge, ConvertsARawValueToJson) {
    const Finished run = fgauge({"convert", "--gauge", pot(), "--raw", "2155", "--json"});
    ASSERT_EQ(run.exitCode, 0) << run.err;
    const json result = json::parse(run.out);
    EXPECT_NEAR(result["value"].get<double>(), 60.498, 1e-3);
    EXPECT_EQ(result["unit"], "degC");
    EXPECT_EQ(result["display"], "60.50 °C");
    EXPECT_TRUE(result["clipped"].is_null());
    ASSERT_EQ(result["stages"].size(), 7u);
    const char* stages[] = {"world", "sensor", "wiring", "converter", "formula", "correction", "reading"};
    const char* units[] = {"degC", "ohm", "V", "1", "degC", "degC", "degC"};
    for (std::size_t i = 0; i < 7; ++i) {
        EXPECT_EQ(result["stages"][i]["stage"], stages[i]);
        EXPECT_EQ(result["stages"][i]["unit"], units[i]);
        for (const char* field : {"quantity", "value", "exact"})
            EXPECT_TRUE(result["stages"][i].contains(field)) << field;
    }
    EXPECT_TRUE(result["stages"][3]["value"].is_number_integer());
    for (const json& line : result["trace"])
        for (const char* field : {"name", "formula", "value", "unit", "source"})
            EXPECT_TRUE(line.contains(field)) << field;
    for (const json& finding : result["findings"])
        for (const char* field : {"severity", "stage", "id", "title", "detail", "action"})
            EXPECT_TRUE(finding.contains(field)) << field;
}

TEST(Fgauge, SaysWhenItsOutputCannotBeWritten) {
    const std::string program = FAIRGAUGE_FGAUGE, gauge = " --gauge " + pot();
    for (const std::string& verb : {std::string(" parts"), std::string(" --help"), " convert --raw 2155" + gauge,
                                    " table --step 1" + gauge, std::string(" registers bmp280"), " check" + gauge}) {
        const Finished run = test::run("/bin/sh", {"-c", program + verb + " > /dev/full"});
        EXPECT_EQ(run.exitCode, 2) << verb << run.err;
        EXPECT_EQ(run.err.find("fgauge: "), 0u) << verb << run.err;
        EXPECT_EQ(run.err.find("terminate"), std::string::npos) << verb;
    }
}

TEST(Fgauge, RefusesANumberOfDrawsThatIsNone) {
    for (const char* draws : {"-1", "nan", "1e30", "3"}) {
        const Finished run = fgauge({"budget", "--gauge", pot(), "--value", "60", "--monte-carlo", draws});
        EXPECT_EQ(run.exitCode, 2) << draws;
        EXPECT_NE(run.err.find("monte-carlo"), std::string::npos) << run.err;
    }
}

TEST(Fgauge, ConvertsBackwardsAndFromEveryStage) {
    const json back = json::parse(fgauge({"convert", "--gauge", pot(), "--value", "61 °C", "--json"}).out);
    EXPECT_EQ(back["stages"][3]["value"], 2137);
    EXPECT_NEAR(back["stages"][3]["exact"].get<double>(), 2136.8287, 1e-3);
    ASSERT_EQ(back["codes"].size(), 2u);
    EXPECT_EQ(back["codes"][0]["code"], 2136);
    const json fahrenheit = json::parse(fgauge({"convert", "--gauge", pot(), "--value", "141.8F", "--json"}).out);
    EXPECT_NEAR(fahrenheit["stages"][3]["exact"].get<double>(), back["stages"][3]["exact"].get<double>(), 1e-6);
    for (const char* at : {"world=61", "sensor=2k4", "wiring=1.72 V", "converter=0x859", "formula=61 °C",
                           "correction=61", "reading=61"}) {
        const Finished run = fgauge({"convert", "--gauge", pot(), "--at", at, "--json"});
        ASSERT_EQ(run.exitCode, 0) << at << run.err;
        EXPECT_NEAR(json::parse(run.out)["value"].get<double>(), 61, 0.1) << at;
    }
    const Finished text = fgauge({"convert", "--gauge", pot(), "--raw", "2155"});
    EXPECT_NE(text.out.find("60.50 °C ± 0.64 °C (95 %, k = 1.96)"), std::string::npos) << text.out;
}

TEST(Fgauge, ClippedReadingsAreLimits) {
    const json top = json::parse(fgauge({"convert", "--gauge", pot(), "--raw", "4095", "--json"}).out);
    EXPECT_EQ(top["clipped"], "at most");
    EXPECT_EQ(top["display"].get<std::string>().rfind("≤ ", 0), 0u);
    EXPECT_EQ(top["findings"][0]["id"], "clipped");
    EXPECT_EQ(json::parse(fgauge({"convert", "--gauge", pot(), "--raw", "0", "--json"}).out)["clipped"], "at least");
}

TEST(Fgauge, BadInputIsOneLineAndExitCodeTwo) {
    const test::TemporaryFolder folder;
    test::writeText(
        folder / "bad.json",
        R"({"fairgauge":1,"name":"x","quantity":"temperature","sensor":{"part":"ntc","parameters":{"r25_ohm":-5,
            "beta_K":3950}},"wiring":{"kind":"divider","fixed_ohm":2200},"converter":{"bits":12,"reference_V":3.3}})");
    const std::vector<std::pair<std::vector<std::string>, std::string>> cases = {
        {{"convert", "--gauge", pot(), "--raw", "4096"}, "0 to 4095"},
        {{"convert", "--gauge", pot(), "--raw", "12x"}, "--raw: found “12x”"},
        {{"convert", "--gauge", pot(), "--value", "61 V"}, "--value: found “61 V”"},
        {{"convert", "--gauge", pot(), "--at", "roof=3"}, "world, sensor"},
        {{"convert", "--gauge", pot(), "--at", "wiring=0 V"}, "reading"},
        {{"convert", "--gauge", "/no/such.json", "--raw", "1"}, "/no/such.json: found No such file"},
        {{"convert", "--gauge", (folder / "bad.json").string(), "--raw", "1"},
         "sensor.parameters: r25_ohm: found −5, expected a resistance above 0 Ω"},
        {{"convert", "--gauge", pot(), "--in", "/no/such.csv"}, "/no/such.csv"},
        {{"part", "tmp99"}, "found “tmp99”"},
    };
    for (const auto& [arguments, says] : cases) {
        const Finished run = fgauge(arguments);
        if (arguments.back() == "wiring=0 V") {  // a shorted divider still has a limit to give
            EXPECT_EQ(run.exitCode, 0) << run.err;
            continue;
        }
        EXPECT_EQ(run.exitCode, 2) << arguments.back();
        EXPECT_NE(run.err.find(says), std::string::npos) << run.err;
        EXPECT_EQ(std::count(run.err.begin(), run.err.end(), '\n'), 1) << run.err;
        EXPECT_TRUE(run.out.empty()) << run.out;
    }
    EXPECT_EQ(fgauge({}).exitCode, 2);
    EXPECT_EQ(fgauge({"convert", "--gauge", pot()}).exitCode, 2);
    EXPECT_EQ(fgauge({"convert", "--gauge", pot(), "--raw", "1", "--value", "2"}).exitCode, 2);
    EXPECT_EQ(fgauge({"frobnicate"}).exitCode, 2);
}

TEST(Fgauge, ConvertsAWholeFileAndAPipe) {
    const test::TemporaryFolder folder;
    test::writeText(folder / "raw.csv", "time,pot\n0,2155\n1,2100\n");
    const std::string out = (folder / "out.csv").string();
    ASSERT_EQ(fgauge({"convert", "--gauge", pot(), "--in", (folder / "raw.csv").string(), "--out", out}).exitCode, 0);
    const std::string converted = test::readText(out);
    EXPECT_EQ(converted.rfind("time,pot,reading_degC,clipped\n0,2155,60.49", 0), 0u) << converted;
    EXPECT_EQ(fgauge({"convert", "--gauge", pot(), "--in", "-", "--out", "-"}, "time,pot\n0,2155\n1,2100\n").out,
              converted);
    // A failed run leaves an earlier output alone.
    EXPECT_EQ(fgauge({"convert", "--gauge", pot(), "--in", (folder / "raw.csv").string(), "--out", out, "--column",
                      "nope"})
                  .exitCode,
              2);
    EXPECT_EQ(test::readText(out), converted);
    const Finished partly = fgauge({"convert", "--gauge", pot(), "--in", "-"}, "pot\n2155\nxyz\n");
    EXPECT_EQ(partly.exitCode, 1);
    EXPECT_NE(partly.err.find("1 of 2 rows"), std::string::npos) << partly.err;
    EXPECT_EQ(fgauge({"convert", "--gauge", pot(), "--in", "-", "--column", "1"}, "abc\nxyz\n").exitCode, 2);
}

TEST(Fgauge, ListsTheCatalogueAndChecksAGauge) {
    const json parts = json::parse(fgauge({"parts", "--json"}).out);
    EXPECT_GE(parts["parts"].size(), 7u);
    const json tmp36 = json::parse(fgauge({"part", "TMP36", "--json"}).out);
    EXPECT_EQ(tmp36["id"], "tmp36");
    EXPECT_EQ(tmp36["range"], json::parse("[-40, 125]"));
    EXPECT_NE(fgauge({"part", "ntc"}).out.find("r25_ohm"), std::string::npos);

    EXPECT_EQ(fgauge({"check", "--gauge", pot()}).exitCode, 0);
    const test::TemporaryFolder folder;
    GaugeSpec broken = test::gluePot();
    broken.wiring.parameters.set("source", std::string("rail"));
    broken.wiring.parameters.set("source_V", 5.0);
    test::writeText(folder / "broken.json", writeGauge(broken));
    const Finished check = fgauge({"check", "--gauge", (folder / "broken.json").string(), "--json"});
    EXPECT_EQ(check.exitCode, 1);
    EXPECT_EQ(json::parse(check.out)["findings"][0]["severity"], "fault");
    EXPECT_EQ(fgauge({"--version"}).exitCode, 0);
    EXPECT_EQ(fgauge({"--help"}).exitCode, 0);
    EXPECT_NE(fgauge({"convert", "--help"}).out.find("--value"), std::string::npos);
}

// What nobody gave is asked for, by name, unit and example; nothing is made up.
TEST(Fgauge, AGaugeWhoseValuesNobodyGaveHasNoReading) {
    const std::vector<std::string> adc{"--adc", "bits=12,vref=3.3,reference=supply", "--raw", "876"};
    const std::vector<std::pair<std::string, std::string>> cases{{"chip-one-point", "sensor.value_V"},
                                                                 {"chip-points", "sensor.points_V"},
                                                                 {"chip-two-words", "sensor.low_word"},
                                                                 {"chip-table", "sensor.table_V"},
                                                                 {"ntc", "sensor.r25_ohm"},
                                                                 {"ntc", "wiring.fixed_ohm"},
                                                                 {"ntc-steinhart-hart", "sensor.a"},
                                                                 {"photoresistor", "sensor.gamma"},
                                                                 {"bridge-millivolt", "sensor.span_V"},
                                                                 {"pressure-two-points", "sensor.points_V"},
                                                                 {"own-table", "sensor.table_V"},
                                                                 {"own-point-and-slope", "sensor.slope_V"}};
    for (const auto& [part, field] : cases) {
        std::vector<std::string> command{"convert", "--part", part};
        command.insert(command.end(), adc.begin(), adc.end());
        const Finished refused = fgauge(command);
        EXPECT_EQ(refused.exitCode, 2) << part << refused.out;
        EXPECT_NE(refused.err.find(field), std::string::npos) << part << ": " << refused.err;
        EXPECT_NE(refused.err.find("for example"), std::string::npos) << refused.err;
    }
    // Given, they answer. 25 °C at 314 mV, 85 °C at 380 mV (an 8-bit controller's data sheet): 347 mV is half-way, 55
    // °C.
    const auto degrees = [](std::vector<std::string> command) {
        const Finished done = fgauge(command);
        EXPECT_EQ(done.exitCode, 0) << done.err;
        return done.exitCode == 0 ? json::parse(done.out)["value"].get<double>() : std::nan("");
    };
    const double volts = degrees({"convert", "--part", "chip-points", "--sensor", "points=25:0.314V,85:380mV", "--adc",
                                  "bits=12,vref=1.024", "--raw", "1388", "--json"});
    EXPECT_NEAR(volts, 55, 1e-9);
    // The same points as codes of a 10-bit converter of 1.1 V: code 347 lies half-way between 314 and 380.
    const double codes = degrees({"convert", "--part", "chip-points", "--sensor", "points=25:314,85:380,tolerance=10",
                                  "--adc", "bits=10,vref=1.1,reference=internal", "--raw", "347", "--json"});
    EXPECT_NEAR(codes, 55, 1e-9);
    EXPECT_NEAR(degrees({"convert", "--part", "pressure-two-points", "--sensor", "points=0Pa:0.5,100kPa:4.5", "--adc",
                         "bits=10,vref=5", "--at", "wiring=2.5V", "--json"}),
                50000, 1e-6);
    EXPECT_EQ(fgauge({"convert", "--part", "chip-points", "--sensor", "points=25:314,85:0.38", "--adc",
                      "bits=10,vref=1.1", "--raw", "347"})
                  .exitCode,
              2);
    // No converter: no reading.
    EXPECT_NE(fgauge({"convert", "--part", "tmp36", "--raw", "153"}).err.find("converter.part"), std::string::npos);
    // A tolerance that was not given is not in the budget; given, it is.
    const auto labels = [](const std::string& wiring) {
        return fgauge({"convert", "--part", "ntc", "--sensor", "r25_ohm=10k,beta_K=3950", "--wiring", wiring, "--adc",
                       "bits=12,vref=3.3,reference=supply", "--raw", "2048", "--json"});
    };
    EXPECT_LT(json::parse(labels("divider,fixed_ohm=10k,sensor_side=low").out)["uncertainty"]["expanded"].get<double>(),
              json::parse(
                  labels("divider,fixed_ohm=10k,sensor_side=low,fixed_tolerance=1%").out)["uncertainty"]["expanded"]
                  .get<double>());
}

TEST(Fgauge, ASupplyIsNotTakenFromAReferenceThatIsNone) {
    // A 10 mV/°C sensor on an 8-bit converter with 1.5 V at half its reference pin: full scale 3 V, code 24 is 281 mV.
    const Finished half =
        fgauge({"convert", "--part", "lm35", "--adc", "adc0804,reference_V=1.5", "--raw", "24", "--json"});
    ASSERT_EQ(half.exitCode, 0) << half.err;
    EXPECT_NEAR(json::parse(half.out)["value"].get<double>(), 24 * 3.0 / 256 / 0.01, 1e-9);
    EXPECT_EQ(half.out.find("supply-low"), std::string::npos);
    EXPECT_NE(half.out.find("supply-not-given"), std::string::npos);
    EXPECT_EQ(fgauge({"convert", "--part", "lm35", "--adc", "adc0804,reference_V=1.5", "--wiring", "source_V=5",
                      "--raw", "24"})
                  .out.find("supply"),
              std::string::npos);
    // A ratiometric part needs to know.
    const Finished open = fgauge({"convert", "--part", "mpx5010", "--adc", "bits=10,vref=2.56", "--raw", "300"});
    EXPECT_EQ(open.exitCode, 2);
    EXPECT_NE(open.err.find("wiring.source_V"), std::string::npos) << open.err;
    // A divider cannot hang on a reference without a pin.
    const Finished weak =
        fgauge({"convert", "--part", "ntc", "--sensor", "r25_ohm=10k,beta_K=3950", "--wiring",
                "divider,fixed_ohm=10k,sensor_side=low,source=reference", "--adc", "adc-10bit-1v1", "--raw", "512"});
    EXPECT_NE(weak.out.find("The reference cannot feed the circuit"), std::string::npos) << weak.out;
}

TEST(Fgauge, DigitalGaugesAreConvertedAndCheckedLikeAnalogOnes) {
    const std::string demo = std::string(FAIRGAUGE_SOURCE) + "/data/demo/";
    const Finished probe =
        fgauge({"convert", "--gauge", demo + "soaking-tray.json", "--raw", "91 01 4B 46 7F FF 0C 10 70", "--json"});
    ASSERT_EQ(probe.exitCode, 0) << probe.err;
    EXPECT_NEAR(json::parse(probe.out)["value"].get<double>(), 25.0625, 1e-9);  // DS18B20 data sheet: 0191h
    EXPECT_EQ(fgauge({"check", "--gauge", demo + "soaking-tray.json"}).exitCode, 0);
    const Finished back = fgauge({"convert", "--gauge", demo + "soaking-tray.json", "--value", "25.0625 °C", "--json"});
    EXPECT_NE(back.out.find("91 01"), std::string::npos) << back.out;
    EXPECT_NE(fgauge({"table", "--gauge", demo + "soaking-tray.json", "--step", "10"}).out.find("value_degC,bytes,"),
              std::string::npos);
    const Finished csv = fgauge({"convert", "--gauge", demo + "soaking-tray.json", "--in", "-"},
                                "t,tray\n0,91 01 4B 46 7F FF 0C 10 70\n1,91 01 4B 46 7F FF 0C 10 71\n");
    EXPECT_EQ(csv.exitCode, 1);
    EXPECT_NE(csv.out.find(",25.0625,"), std::string::npos) << csv.out;
    EXPECT_NE(csv.out.find("CRC 0x71"), std::string::npos) << csv.out;
}

TEST(Fgauge, ConvertsWithoutAGaugeFile) {
    // 153 · 5 V/1024 = 747.07 mV, 24.707 °C.
    const json run = json::parse(
        fgauge({"convert", "--part", "tmp36", "--adc", "bits=10,vref=5,law=2^n", "--raw", "153", "--json"}).out);
    EXPECT_NEAR(run["value"].get<double>(), 24.707, 1e-3);
    const json two = json::parse(
        fgauge({"convert", "--part", "tmp36", "--adc", "adc-10bit-left", "--raw", "0x26 0x40", "--json"}).out);
    EXPECT_NEAR(two["value"].get<double>(), run["value"].get<double>(), 1e-9);  // left-justified in two registers
    // Type K at 100 °C against a cold junction at 25 °C: 3.096 mV, at 7.8125 µV a code 396.3.
    const json couple = json::parse(
        fgauge({"convert", "--part", "thermocouple-k", "--adc", "ads1115,gain=8", "--value", "100 °C", "--json"}).out);
    EXPECT_EQ(couple["stages"][3]["value"], 396);
    const json divider = json::parse(
        fgauge({"convert", "--part", "ntc", "--sensor", "r25_ohm=10k,beta_K=3950", "--wiring",
                "divider,fixed_ohm=10k,sensor_side=high", "--adc", "bits=12,vref=3V3", "--raw", "2048", "--json"})
            .out);
    EXPECT_NEAR(divider["value"].get<double>(), 25, 1e-9);
    for (const std::vector<std::string>& wrong :
         {std::vector<std::string>{"convert", "--raw", "1"},
          {"convert", "--part", "tmp36", "--adc", "bits=ten", "--raw", "1"},
          {"convert", "--part", "nothing", "--raw", "1"},
          {"convert", "--part", "tmp36", "--wiring", "string", "--raw", "1"},
          {"convert", "--part", "tmp36", "--adc", "bits=10,vref=5,colour=2", "--raw", "1"}}) {
        const Finished refused = fgauge(wrong);
        EXPECT_EQ(refused.exitCode, 2) << wrong.back();
        EXPECT_EQ(std::count(refused.err.begin(), refused.err.end(), '\n'), 1) << refused.err;
    }
}

TEST(Fgauge, SizesEveryKindAndSaysWhy) {
    const json load =
        json::parse(fgauge({"size", "load", "--low", "233 µA", "--high", "358 µA", "--limit", "5 V", "--json"}).out);
    EXPECT_EQ(load["options"][0]["values"]["load_ohm"], 13000);
    EXPECT_FALSE(load["options"][0]["why"].get<std::string>().empty());
    EXPECT_TRUE(load["options"][0]["worst"].contains("high_V"));
    for (const char* kind : {"divider", "sensor-divider", "load", "pulse-load", "shunt", "reference", "zener",
                             "rc-filter", "oversampling", "rc-clock", "bridge", "protection"})
        EXPECT_EQ(fgauge({"size", kind, "--help"}).exitCode, 0) << kind;
    EXPECT_EQ(fgauge({"size", "load", "--low", "2 mA", "--high", "1 mA", "--limit", "5 V"}).exitCode, 2);
    EXPECT_EQ(fgauge({"size", "shunt", "--limit", "lots"}).exitCode, 2);
}

TEST(Fgauge, BudgetWithDrawsTableAndThreshold) {
    const json budget =
        json::parse(fgauge({"budget", "--gauge", pot(), "--value", "60 °C", "--monte-carlo", "50000", "--json"}).out);
    EXPECT_TRUE(budget["monte_carlo"]["agrees"].get<bool>());
    EXPECT_FALSE(budget["improvements"].empty());
    EXPECT_EQ(fgauge({"budget", "--gauge", pot(), "--value", "60 °C", "--monte-carlo", "5"}).exitCode, 2);
    const Finished table = fgauge({"table", "--gauge", pot(), "--step", "35"});
    EXPECT_EQ(std::count(table.out.begin(), table.out.end(), '\n'), 4);  // a head, 20, 55, 90
    EXPECT_NE(fgauge({"table", "--gauge", pot(), "--threshold", "61 °C"}).out.find("code <= 2137"), std::string::npos);
    EXPECT_EQ(fgauge({"table", "--gauge", pot(), "--integers"}).exitCode, 2);
}

}  // namespace
}  // namespace fg
