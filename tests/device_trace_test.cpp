// The trace of digital parts as people check it: each line's arithmetic worked out apart, and the bytes it points at.

#include "bytes/dump_text.h"
#include "formula_reader.h"
#include "support.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

namespace fg {
namespace {

/// What a part sends at a share of what it is for.
std::optional<RawData> bytesAt(const DevicePart& part, const DeviceOptions& given, double share) {
    const DeviceOptions options = given.completed(part.device->options()).value();
    std::vector<WantedReading> wanted;
    for (const RawVariable& variable : part.device->variables(options)) {
        const auto range = part.ranges.find(variable.reading);
        const Interval span = range == part.ranges.end() ? Interval{0.001, 0.0015} : range->second;
        wanted.push_back(
            {variable.reading, variable.reading == "illuminance" ? 1600 * share : span.low + share * span.width()});
    }
    const auto raw = encode(*part.device, wanted, given, part.device->specimen ? part.device->specimen() : RawData());
    return raw ? std::optional(*raw) : std::nullopt;
}
/// The middle of it.
std::optional<RawData> middleOf(const DevicePart& part) { return bytesAt(part, part.options, 0.43); }

/// The part's own options, and each choice of each of them.
std::vector<DeviceOptions> everyChoice(const DevicePart& part) {
    std::vector<DeviceOptions> all{part.options};
    for (const OptionSpec& spec : part.device->options())
        for (const std::string& choice : spec.choices) {
            all.push_back(part.options);
            all.back().set(spec.id, choice);
        }
    return all;
}

TEST(DeviceTrace, EveryLineReadsBackWithNumbersAndWithNames) {
    std::set<std::string> checked;
    int lines = 0;
    for (const DevicePart& part : test::catalogue().devices())
        for (const DeviceOptions& options : everyChoice(part))
            for (const double share : {0.04, 0.43, 0.9}) {
                const auto raw = bytesAt(part, options, share);
                if (!raw) continue;  // an option that the part's limits leave no room for
                const auto decoded = decode(*part.device, *raw, options);
                ASSERT_TRUE(decoded) << part.id << ": " << decoded.error().message();
                test::FormulaReader reader;
                for (const auto& [line, bytes] : decoded->lines) {
                    if (!line.symbols.empty()) {
                        ++lines;
                        checked.insert(part.id);
                        test::expectReadsBack(reader, line.formula, line, part.id + " with numbers");
                        test::expectReadsBack(reader, line.symbols, line, part.id + " with names");
                    }
                    reader.values[line.name] = line.value;  // a name stands for its latest value
                }
            }
    EXPECT_GE(lines, 2000);
    EXPECT_EQ(checked.size(), test::catalogue().devices().size());
}

TEST(DeviceTrace, LightsBytesThatAreThereAndEveryBlock) {
    for (const DevicePart& part : test::catalogue().devices()) {
        const RawData raw = middleOf(part).value();
        const Decoded decoded = decode(*part.device, raw, part.options).value();
        std::set<std::size_t> lit;
        for (const DeviceLine& one : decoded.lines) {
            EXPECT_FALSE(one.line.name.empty() || one.line.formula.empty() || one.line.source.empty()) << part.id;
            EXPECT_TRUE(std::isfinite(one.line.value)) << part.id << " " << one.line.name;
            for (const ByteRef& place : one.bytes) {
                ASSERT_LT(place.block, raw.blocks().size()) << part.id << " " << one.line.name;
                EXPECT_GT(place.count, 0u) << part.id << " " << one.line.name;
                EXPECT_LE(place.first + place.count, raw.blocks()[place.block].bytes.size())
                    << part.id << " " << one.line.name;
                lit.insert(place.block);
            }
        }
        for (std::size_t block = 0; block < raw.blocks().size(); ++block) {
            const auto blocks = part.device->blocks(part.options.completed(part.device->options()).value());
            const bool isOptional = std::any_of(blocks.begin(), blocks.end(), [&](const BlockSpec& spec) {
                return spec.isOptional && spec.address == raw.blocks()[block].address;
            });
            EXPECT_TRUE(lit.contains(block) || isOptional)
                << part.id << ": no line reads " << raw.blocks()[block].label();
        }
        EXPECT_TRUE(decoded.status.empty() || decoded.status.front().kind != StatusKind::Fault) << part.id;
    }
}

// A catalogue's page and the front page say what is there.
TEST(Documents, CountWhatTheCatalogueHolds) {
    const std::filesystem::path source(FAIRGAUGE_SOURCE);
    const std::string page = test::readText(source / "docs/devices.md"), front = test::readText(source / "README.md");
    for (const DevicePart& part : test::catalogue().devices())
        EXPECT_NE(page.find("| " + part.id + " | " + part.title + " |"), std::string::npos)
            << part.id << ": run scripts/devices-doc";
    const auto says = [&](std::size_t first, const std::string& what, std::size_t second, const std::string& unit) {
        const std::string text = std::to_string(first) + what + std::to_string(second) + unit;
        EXPECT_NE(front.find(text), std::string::npos) << "README.md does not say " << text;
    };
    says(test::catalogue().devices().size(), " parts, ", devices().size(), " decoders");
    says(test::catalogue().parts().size(), " parts of ", sensorFamilies().size(), " formula families");
}

}  // namespace
}  // namespace fg
