// The trace of digital parts as people check it: each line's arithmetic worked out apart, and the bytes it points at.

#include "bytes/dump_text.h"
#include "support.h"

#include <muParser.h>

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

namespace fg {
namespace {

void replaceAll(std::string& text, std::string_view from, std::string_view to) {
    for (std::size_t at = text.find(from); at != std::string::npos; at = text.find(from, at + to.size()))
        text.replace(at, from.size(), to);
}

/// What a line's formula gives when it is typed into a calculator; nothing when it has symbols in it instead of
/// numbers.
std::optional<double> workedOut(std::string formula) {
    for (const auto& [from, to] : std::initializer_list<std::pair<const char*, const char*>>{
             {"²³", "^23"}, {"−", "-"}, {"×", "*"}, {"²", "^2"}, {"³", "^3"}, {"⁴", "^4"}, {"½", "0.5"}})
        replaceAll(formula, from, to);
    if (formula.find_first_not_of("0123456789.+-*/^() ") != std::string::npos) return std::nullopt;
    try {
        mu::Parser parser;
        parser.SetExpr(formula);
        return parser.Eval();
    } catch (const mu::Parser::exception_type&) {
        return std::nullopt;
    }
}

/// The middle of what each part is for, as its bytes.
std::optional<RawData> middleOf(const DevicePart& part) {
    const DeviceOptions options = part.options.completed(part.device->options()).value();
    std::vector<WantedReading> wanted;
    for (const RawVariable& variable : part.device->variables(options)) {
        const auto range = part.ranges.find(variable.reading);
        const Interval span = range == part.ranges.end() ? Interval{0.001, 0.0015} : range->second;
        wanted.push_back({variable.reading, variable.reading == "illuminance" ? 700 : span.low + 0.43 * span.width()});
    }
    const auto raw =
        encode(*part.device, wanted, part.options, part.device->specimen ? part.device->specimen() : RawData());
    return raw ? std::optional(*raw) : std::nullopt;
}

TEST(DeviceTrace, EveryLineWithNumbersGivesWhatItSays) {
    std::set<std::string> checked;
    int lines = 0;
    for (const DevicePart& part : test::catalogue().devices()) {
        const auto raw = middleOf(part);
        ASSERT_TRUE(raw) << part.id;
        const auto decoded = decode(*part.device, *raw, part.options);
        ASSERT_TRUE(decoded) << part.id << ": " << decoded.error().message();
        for (const DeviceLine& one : decoded->lines) {
            if (!one.bytes.empty()) continue;  // read, not worked out
            const auto value = workedOut(one.line.formula);
            if (!value) continue;
            ++lines;
            checked.insert(part.id);
            EXPECT_NEAR(one.line.value, *value, 2e-7 * std::abs(*value) + 1e-12)
                << part.id << ": " << one.line.name << " = " << one.line.formula;
        }
    }
    EXPECT_GE(lines, 40);
    EXPECT_GE(checked.size(), 25u);
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
