// The arrows between the rooms, read from the #include lines against the one table, so that a wrong one fails here even
// where it would link; and the window, which computes nothing.

#include "support.h"

#include <map>
#include <regex>
#include <set>

namespace fg {
namespace {

namespace fs = std::filesystem;

/// src/core/rooms.txt: what each room may include.
std::map<std::string, std::set<std::string>> roomTable() {
    std::istringstream lines(test::readText(fs::path(FAIRGAUGE_SOURCE) / "src/core/rooms.txt"));
    std::map<std::string, std::set<std::string>> table;
    for (std::string line; std::getline(lines, line);) {
        const std::size_t colon = line.find(':');
        if (line.empty() || line[0] == '#' || colon == std::string::npos) continue;
        std::istringstream used(line.substr(colon + 1));
        std::set<std::string>& rooms = table[line.substr(0, colon)];
        for (std::string room; used >> room;) {
            EXPECT_TRUE(table.count(room)) << line << ": a room may only use those above it";
            rooms.insert(room);
        }
    }
    return table;
}

TEST(Layering, ArrowsOnlyPointDownwards) {
    const auto mayUse = roomTable();
    const std::regex include("#include \"([a-z_]+)/[^\"]+\"");
    const fs::path core = fs::path(FAIRGAUGE_SOURCE) / "src/core";
    int files = 0;
    for (const auto& entry : fs::recursive_directory_iterator(core)) {
        if (entry.path().extension() != ".h" && entry.path().extension() != ".cpp") continue;
        if (entry.path().parent_path() == core) continue;  // compiled for all rooms, belongs to none
        ++files;
        const std::string room = fs::relative(entry.path(), core).begin()->string();
        ASSERT_TRUE(mayUse.count(room)) << "a room that is not on the map: " << room;
        const std::string text = test::readText(entry.path());
        for (auto it = std::sregex_iterator(text.begin(), text.end(), include); it != std::sregex_iterator(); ++it) {
            const std::string used = (*it)[1];
            EXPECT_TRUE(used == room || mayUse.at(room).count(used)) << entry.path() << " includes " << used;
        }
        EXPECT_EQ(text.find("#include <Q"), std::string::npos) << entry.path() << ": the core has no Qt";
    }
    EXPECT_GT(files, 40);
}

// Whatever the window shows was computed below it: no mathematics beyond rounding and drawing in src/gui.
TEST(Layering, TheWindowComputesNothing) {
    const std::regex mathematics(
        R"(\b(exp|exp2|log|log10|log2|log1p|pow|sqrt|cbrt|hypot|erf|erfc|tanh|sinh|cosh|fma|accumulate)\s*\()");
    for (const auto& entry : fs::recursive_directory_iterator(fs::path(FAIRGAUGE_SOURCE) / "src/gui")) {
        if (entry.path().extension() != ".cpp" && entry.path().extension() != ".h") continue;
        const std::string text = test::readText(entry.path());
        EXPECT_FALSE(std::regex_search(text, mathematics)) << entry.path();
    }
}

// The toolkit's own list of choices would have no arrow here: widgets/combo_box.h draws it.
TEST(Layering, ListsOfChoicesAreThoseWithAnArrow) {
    const std::regex plain(R"(new QComboBox|\bQComboBox [a-z]\w*[;,{(])");
    EXPECT_TRUE(std::regex_search("    QComboBox m_part;", plain) && std::regex_search("= new QComboBox;", plain));
    for (const auto& entry : fs::recursive_directory_iterator(fs::path(FAIRGAUGE_SOURCE) / "src/gui")) {
        if (entry.path().extension() != ".cpp" && entry.path().extension() != ".h") continue;
        EXPECT_FALSE(std::regex_search(test::readText(entry.path()), plain)) << entry.path();
    }
}

// A view has a name of its own: "handover/code_set.h" says by itself that it is the core's.
TEST(Layering, NoViewIsNamedAsARoom) {
    const auto rooms = roomTable();
    for (const auto& entry : fs::directory_iterator(fs::path(FAIRGAUGE_SOURCE) / "src/gui"))
        EXPECT_FALSE(entry.is_directory() && rooms.count(entry.path().filename().string())) << entry.path();
}

}  // namespace
}  // namespace fg
