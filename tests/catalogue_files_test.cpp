// Files of the catalogue as people write them, with the mistakes they make: each is refused by the name of what is
// wrong, and leaves the catalogue as it was.

#include "support.h"

#include <nlohmann/json.hpp>

namespace fg {
namespace {

using nlohmann::json;

const json kMap = json::parse(R"({
  "id": "x1", "parts": ["x1"], "source": "made up",
  "registers": [
    {"name": "control", "address": "0xF4", "bytes": 1, "reset": "0x40",
     "fields": [{"id": "mode", "title": "Mode", "bits": [1, 0], "choices": {"off": 0, "on": 3}},
                {"id": "rate", "title": "Rate", "bits": [[7, 7], [3, 3]], "choices": {"slow": 0, "fast": 2}}]},
    {"name": "limit", "address": "0x02", "bytes": 2, "reset": "0x0000", "order": "low-first", "crc": true,
     "fields": [{"id": "limit", "title": "Limit", "bits": [15, 4], "number": {"scale": 0.0625, "signed": true,
         "unit": "degC"}}]},
    {"name": "measure", "form": "command", "bytes": 2, "reset": "0x2400", "does": "measures", "answer": {"bytes": 6,
        "block": "frame"},
     "words": {"0x2400": ["once"], "0x2130": ["often"]},
     "fields": [{"id": "repeat", "title": "Measure", "choices": {"once": 0, "often": 1}}]}]})");

std::string afterChange(const std::function<void(json&)>& change) {
    json map = kMap;
    change(map);
    Catalogue catalogue;
    const auto added = catalogue.addRegisterMap(map.dump(), "x1.json");
    EXPECT_EQ(catalogue.registerMaps().size(), added ? 1u : 0u);
    return added ? "accepted" : added.error().message();
}

TEST(ConverterFiles, AreRefusedByTheNameOfWhatIsWrong) {
    const json file = json::parse(R"({"id": "x2", "title": "made up", "source": "made up", "channels": 2,
      "parameters": {"bits": 10, "reference_V": 5.0, "code_law": "2^n"}, "interface": "spi", "input_of_gain": {"32": 1},
      "pins": [{"outline": "dip-8", "pins": [["VDD", "supply"]], "source": "made up"}]})");
    const auto after = [&](const char* field, const json& value) {
        json changed = file;
        changed[field] = value;
        Catalogue catalogue;
        const auto added = catalogue.addConverter(changed.dump(), "x2.json");
        EXPECT_EQ(catalogue.findConverter("x2") != nullptr, added.has_value());
        return added ? std::string("accepted") : added.error().message();
    };
    EXPECT_EQ(after("channels", 2), "accepted");
    EXPECT_NE(after("interface", "spy").find("interface"), std::string::npos) << after("interface", "spy");
    EXPECT_NE(after("input_of_gain", {{"32", 2}}).find("input_of_gain"), std::string::npos);
    EXPECT_NE(after("input_of_gain", {{"much", 1}}).find("“much”"), std::string::npos);
    EXPECT_NE(after("pins", json::parse(R"([{"outline": "dip-8", "pins": [["VDD", "power"]], "source": "s"}])"))
                  .find("“power”"),
              std::string::npos);
}

TEST(RegisterFiles, AreReadAsTheyAreWritten) {
    Catalogue catalogue;
    const auto added = catalogue.addRegisterMap(kMap.dump(), "x1.json");
    ASSERT_TRUE(added) << added.error().message();
    const RegisterMap& map = *catalogue.findRegisterMap("X1");
    EXPECT_TRUE(map.hasCommands());
    const std::vector<Setting> settings{{"rate", "fast"}, {"limit", "-0.5 °C"}, {"repeat", "often"}};
    const auto words = map.set(settings);
    ASSERT_TRUE(words) << words.error().message();
    EXPECT_EQ((*words)[0].word, 0xC0u);  // bit 7 is the high bit of the split code, bit 6 keeps its reset value
    EXPECT_EQ((*words)[1].word, 0xFF80u);
    EXPECT_EQ((*words)[1].bytes(), (std::vector<std::uint8_t>{0x80, 0xFF}));
    EXPECT_EQ((*words)[2].word, 0x2130u);
}

TEST(RegisterFiles, AreRefusedByTheNameOfWhatIsWrong) {
    struct Mistake {
        const char* names;  // part of the message
        std::function<void(json&)> make;
    };
    const std::vector<Mistake> mistakes{
        {"id", [](json& map) { map.erase("id"); }},
        {"source", [](json& map) { map.erase("source"); }},
        {"registers", [](json& map) { map["registers"] = 5; }},
        {"address", [](json& map) { map["registers"][0].erase("address"); }},
        {"address", [](json& map) { map["registers"][0]["address"] = "F4"; }},
        {"bytes", [](json& map) { map["registers"][0]["bytes"] = 5; }},
        {"pointer_bytes", [](json& map) { map["registers"][1]["pointer_bytes"] = 3; }},
        {"form", [](json& map) { map["registers"][2]["form"] = "shout"; }},
        {"does", [](json& map) { map["registers"][2]["does"] = "sings"; }},
        {"bits",
         [](json& map) {
             map["registers"][0]["fields"][0]["bits"] = {8, 7};
         }},
        {"bits",
         [](json& map) {
             map["registers"][0]["fields"][0]["bits"] = {0, 1};
         }},
        {"bits",
         [](json& map) {
             map["registers"][0]["fields"][0]["bits"] = {3, 0};
         }},  // rate has bit 3
        {"bits", [](json& map) { map["registers"][0]["fields"][0].erase("bits"); }},
        {"choices.on", [](json& map) { map["registers"][0]["fields"][0]["choices"]["on"] = 4; }},
        {"choices", [](json& map) { map["registers"][0]["fields"][0]["choices"] = "many"; }},
        {"title", [](json& map) { map["registers"][0]["fields"][0].erase("title"); }},
        {"scale", [](json& map) { map["registers"][1]["fields"][0]["number"]["scale"] = 0; }},
        {"exponent_bits", [](json& map) { map["registers"][1]["fields"][0]["number"]["exponent_bits"] = 12; }},
        {"allowed",
         [](json& map) {
             map["registers"][1]["fields"][0]["number"]["allowed"] = {9, 1};
         }},
        {"bytes", [](json& map) { map["registers"][2]["answer"]["bytes"] = 0; }},
        {"by",
         [](json& map) {
             map["registers"][2]["answer"]["blocks"] = {{"once", "frame"}};
         }},
        {"words.2400", [](json& map) { map["registers"][2]["words"]["2400"] = {"once"}; }},
        {"words.0x2401", [](json& map) { map["registers"][2]["words"]["0x2401"] = {"never"}; }},
        {"words.0x2401",
         [](json& map) {
             map["registers"][2]["words"]["0x2401"] = {"once", "high"};
         }},
        {"reset", [](json& map) { map["registers"][2]["reset"] = "0x2401"; }},
    };
    for (std::size_t i = 0; i < mistakes.size(); ++i) {
        const std::string said = afterChange(mistakes[i].make);
        EXPECT_NE(said, "accepted") << "mistake " << i << ", " << mistakes[i].names;
        EXPECT_NE(said.find(mistakes[i].names), std::string::npos) << "mistake " << i << ": " << said;
        EXPECT_NE(said.find("x1.json"), std::string::npos) << said;
    }
    Catalogue catalogue;
    EXPECT_EQ(catalogue.addRegisterMap("[1,", "x1.json").error().code, ErrorCode::Syntax);
}

const json kDevice = json::parse(R"({
  "id": "x1", "title": "A thermometer", "device": "tmp117", "interface": "i2c", "readings": ["temperature"],
  "ranges": {"temperature": [-55, 150]}, "source": "made up", "nothing_to_set": "is only a test",
  "addresses": [{"address": "0x48", "pins": "ADD0 to ground"}]})");

TEST(DeviceFiles, AreRefusedByTheNameOfWhatIsWrong) {
    const auto said = [](const std::function<void(json&)>& change) {
        json device = kDevice;
        change(device);
        Catalogue catalogue;
        const auto added = catalogue.addDevice(device.dump(), "x1.json");
        EXPECT_EQ(catalogue.devices().size(), added ? 1u : 0u);
        return added ? std::string("accepted") : added.error().message();
    };
    EXPECT_EQ(said([](json&) {}), "accepted");
    const std::vector<std::pair<const char*, std::function<void(json&)>>> mistakes{
        {"device", [](json& device) { device["device"] = "tmp999"; }},
        {"interface", [](json& device) { device.erase("interface"); }},
        {"readings", [](json& device) { device["readings"] = json::array(); }},
        {"readings", [](json& device) { device["readings"] = {"colour"}; }},
        {"ranges",
         [](json& device) {
             device["ranges"]["temperature"] = {150, -55};
         }},
        {"address", [](json& device) { device["addresses"][0]["address"] = "0x99"; }},
        {"source", [](json& device) { device.erase("source"); }},
        {"options",
         [](json& device) {
             device["options"] = {{"gain", "1"}};
         }},
    };
    for (const auto& [name, make] : mistakes)
        EXPECT_NE(said(make).find(name), std::string::npos) << name << ": " << said(make);
}

}  // namespace
}  // namespace fg
