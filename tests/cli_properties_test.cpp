// What holds for every verb of fgauge and for every part it knows: JSON that parses, one line of reason for what is
// refused, and never a crash, whatever is on the command line.

#include "process.h"
#include "support.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <random>

namespace fg {
namespace {

using nlohmann::json;
using test::Finished;
using Arguments = std::vector<std::string>;

std::string told(const Arguments& arguments) {
    std::string text = "fgauge";
    for (const std::string& one : arguments) text += " “" + one + "”";
    return text;
}

/// Ends by itself with 0 or 1 and says something, or with 2 and one line of reason.
void expectAnAnswer(const Arguments& arguments) {
    const Finished run = test::run(FAIRGAUGE_FGAUGE, arguments);
    ASSERT_TRUE(run.exitCode >= 0 && run.exitCode <= 2) << told(arguments) << ": " << run.exitCode << run.err;
    if (run.exitCode == 2) {
        EXPECT_TRUE(run.err.starts_with("fgauge: ")) << told(arguments) << ": " << run.err;
        EXPECT_EQ(std::count(run.err.begin(), run.err.end(), '\n'), 1) << told(arguments) << ": " << run.err;
        EXPECT_TRUE(run.out.empty()) << told(arguments) << ": " << run.out;
    } else {
        EXPECT_FALSE(run.out.empty()) << told(arguments);
    }
}

TEST(EveryVerb, AnswersWhateverIsOnTheCommandLine) {
    const std::string pot = (test::dataFolder() / "demo" / "glue-pot.json").string();
    const std::vector<Arguments> beginnings{{"convert", "--gauge", pot, "--raw"},
                                            {"convert", "--gauge", pot, "--value"},
                                            {"convert", "--part", "tmp36", "--raw", "500", "--adc"},
                                            {"convert", "--part", "ntc", "--raw", "500", "--sensor"},
                                            {"convert", "--part", "ntc", "--raw", "500", "--wiring"},
                                            {"convert", "--gauge", pot, "--at"},
                                            {"convert", "--gauge"},
                                            {"convert", "--gauge", pot, "--raw", "500", "--unit"},
                                            {"decode", "bmp280", "--bytes"},
                                            {"decode", "dht22", "--pulses"},
                                            {"decode", "tsl2561", "--bytes", "word: 12 34", "--option"},
                                            {"decode"},
                                            {"registers", "bmp280", "--set"},
                                            {"registers", "sht31", "--explain"},
                                            {"registers", "tmp117", "--address"},
                                            {"registers"},
                                            {"bus", "pullup", "--pullup"},
                                            {"bus", "pullup", "--supply"},
                                            {"bus", "scan", "--text"},
                                            {"bus", "addresses", "--bench"},
                                            {"size", "sensor-divider", "--gauge"},
                                            {"budget", "--gauge", pot, "--value"},
                                            {"table", "--gauge", pot, "--step"},
                                            {"table", "--gauge", pot, "--threshold"},
                                            {"choose", "--need"},
                                            {"plan", "--bench"},
                                            {"check", "--gauge"},
                                            {"part"},
                                            {}};
    const std::vector<std::string> ends{"",      "-1",   "1e999",      "NaN", "0x", "0xFFFFFFFFFFFFFFFFFF",
                                        "=",     ",,,",  "a=b,c=d",    "Ω°µ", "/",  "../../etc",
                                        "61 °C", "88: ", "F4=27 F5=A0"};
    for (const Arguments& beginning : beginnings)
        for (const std::string& end : ends) {
            Arguments arguments = beginning;
            arguments.push_back(end);
            expectAnAnswer(arguments);
        }
}

// A file of anything: random bytes, half a gauge, a gauge whose numbers are texts.
TEST(EveryVerb, AnswersWhateverIsInTheFile) {
    test::TemporaryFolder folder;
    std::mt19937 random(11);
    std::string noise(300, ' ');
    for (char& one : noise) one = static_cast<char>(random());
    const std::string pot = test::readText(test::dataFolder() / "demo" / "glue-pot.json");
    std::string texts = pot;
    std::replace(texts.begin(), texts.end(), '1', '"');
    int number = 0;
    for (const std::string& content :
         {std::string(), noise, pot.substr(0, pot.size() / 2), texts, std::string("[]"), std::string("null"),
          std::string("{}"), std::string(R"({"fairgauge": 99})"), std::string(200000, '[')}) {
        const std::string path = (folder / ("f" + std::to_string(number++) + ".json")).string();
        test::writeText(path, content);
        for (const Arguments& arguments : std::vector<Arguments>{{"convert", "--gauge", path, "--raw", "100"},
                                                                 {"check", "--gauge", path},
                                                                 {"budget", "--gauge", path, "--value", "20 °C"},
                                                                 {"table", "--gauge", path},
                                                                 {"choose", "--need", path},
                                                                 {"plan", "--bench", path},
                                                                 {"bus", "addresses", "--bench", path},
                                                                 {"decode", "bmp280", "--file", path}}) {
            const Finished run = test::run(FAIRGAUGE_FGAUGE, arguments);
            EXPECT_EQ(run.exitCode, 2) << told(arguments) << content.substr(0, 40) << run.out;
            EXPECT_EQ(std::count(run.err.begin(), run.err.end(), '\n'), 1)
                << told(arguments) << ": " << run.err.substr(0, 300);
        }
    }
}

TEST(EveryPart, IsShownAsTextAndAsJson) {
    const json parts = json::parse(test::run(FAIRGAUGE_FGAUGE, {"parts", "--json"}).out);
    std::size_t shown = 0;
    for (const json& one : parts.is_array() ? parts : parts["parts"]) {
        const std::string id = one["id"];
        const Finished text = test::run(FAIRGAUGE_FGAUGE, {"part", id}),
                       object = test::run(FAIRGAUGE_FGAUGE, {"part", id, "--json"});
        EXPECT_NE(text.out.find(id), std::string::npos) << id;
        ASSERT_EQ(object.exitCode, 0) << id << object.err;
        EXPECT_EQ(json::parse(object.out)["id"], id);
        ++shown;
    }
    EXPECT_EQ(shown, test::catalogue().parts().size() + test::catalogue().devices().size());
}

TEST(EveryDevice, TellsItsSheetAsJsonAndRefusesAWrongAddress) {
    for (const DevicePart& part : test::catalogue().devices()) {
        const Finished run = test::run(FAIRGAUGE_FGAUGE, {"registers", part.id, "--json"});
        if (!part.nothingToSet.empty()) {
            EXPECT_EQ(run.exitCode, 2) << part.id;
            EXPECT_NE(run.err.find(part.nothingToSet), std::string::npos) << run.err;
            continue;
        }
        ASSERT_EQ(run.exitCode, 0) << part.id << run.err;
        const json sheet = json::parse(run.out);
        for (const json& word : sheet["words"]) {
            EXPECT_FALSE(word["word"].get<std::string>().empty()) << part.id;
            for (const json& transaction : word["transactions"]) {
                EXPECT_EQ(transaction["steps"].front()["kind"], part.interface == "spi" ? "select" : "start")
                    << part.id;
                EXPECT_EQ(transaction["steps"].back()["kind"], part.interface == "spi" ? "release" : "stop") << part.id;
            }
        }
        EXPECT_FALSE(sheet["consequences"].empty()) << part.id;
    }
    const Finished wrong = test::run(FAIRGAUGE_FGAUGE, {"registers", "tmp117", "--address", "0x80"});
    EXPECT_EQ(wrong.exitCode, 2);
    EXPECT_NE(wrong.err.find("0x80"), std::string::npos) << wrong.err;
    EXPECT_NE(test::run(FAIRGAUGE_FGAUGE, {"registers", "tmp117", "--address", "0x4B"}).out.find("S 96 A"),
              std::string::npos);
}

}  // namespace
}  // namespace fg
