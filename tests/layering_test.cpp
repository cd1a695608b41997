// The map of docs/architecture.md as a table: which room may include which. Read from the sources, so a wrong arrow
// fails here even where it would link.

#include "support.h"

#include <map>
#include <regex>
#include <set>

namespace fg {
namespace {

namespace fs = std::filesystem;

const std::map<std::string, std::set<std::string>> kMayUse = {
    {"units", {}},
    {"json", {"units"}},
    {"numeric", {"units"}},
    {"sensors", {"units", "numeric"}},
    {"wiring", {"units", "numeric", "sensors"}},
    {"converters", {"units", "numeric", "sensors"}},
    {"devices", {"units", "numeric"}},
    {"catalogue", {"units", "json", "numeric", "sensors", "devices", "wiring", "converters"}},
    {"path", {"units", "numeric", "devices", "sensors", "wiring", "converters", "catalogue"}},
    {"uncertainty", {"units", "numeric", "devices", "sensors", "wiring", "converters", "catalogue", "path"}},
    {"sizing", {"units", "numeric", "sensors", "wiring", "converters", "catalogue", "path", "uncertainty"}},
    {"findings",
     {"units", "numeric", "sensors", "wiring", "devices", "converters", "catalogue", "path", "uncertainty"}},
    {"gauge", {"units", "devices", "path", "uncertainty", "findings", "converters", "catalogue"}},
    {"planning",
     {"units", "numeric", "sensors", "devices", "catalogue", "wiring", "converters", "path", "findings", "bench"}},
    {"choosing",
     {"units", "numeric", "sensors", "catalogue", "wiring", "converters", "path", "uncertainty", "sizing", "planning"}},
    {"bench", {"units", "json", "numeric", "sensors", "catalogue", "path"}},
    {"files", {"units"}},
    {"storage", {"units", "files", "bench", "path"}},
    {"acquisition", {"units", "json"}},
    {"simulation", {"units", "json", "numeric", "devices", "sensors", "catalogue", "path", "bench"}},
};

TEST(Layering, ArrowsOnlyPointDownwards) {
    const std::regex include("#include \"([a-z_]+)/[^\"]+\"");
    const fs::path core = fs::path(FAIRGAUGE_SOURCE) / "src/core";
    int files = 0;
    for (const auto& entry : fs::recursive_directory_iterator(core)) {
        if (entry.path().extension() != ".h" && entry.path().extension() != ".cpp") continue;
        if (entry.path().parent_path() == core) continue;  // compiled for all rooms, belongs to none
        ++files;
        const std::string room = fs::relative(entry.path(), core).begin()->string();
        ASSERT_TRUE(kMayUse.count(room)) << "a room that is not on the map: " << room;
        const std::string text = test::readText(entry.path());
        for (auto it = std::sregex_iterator(text.begin(), text.end(), include); it != std::sregex_iterator(); ++it) {
            const std::string used = (*it)[1];
            EXPECT_TRUE(used == room || kMayUse.at(room).count(used)) << entry.path() << " includes " << used;
        }
        EXPECT_EQ(text.find("#include <Q"), std::string::npos) << entry.path() << ": the core has no Qt";
    }
    EXPECT_GT(files, 40);
}

// Whatever the window shows was computed below it: no mathematics beyond rounding and drawing in src/gui.
TEST(Layering, TheWindowComputesNothing) {
    const std::regex mathematics(R"(std::(exp|log|log10|pow|sqrt)\s*\()");
    for (const auto& entry : fs::recursive_directory_iterator(fs::path(FAIRGAUGE_SOURCE) / "src/gui")) {
        if (entry.path().extension() != ".cpp") continue;
        const std::string text = test::readText(entry.path());
        EXPECT_FALSE(std::regex_search(text, mathematics)) << entry.path();
    }
}

}  // namespace
}  // namespace fg
