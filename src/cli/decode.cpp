#include "bytes/dump_text.h"
#include "bytes/pulse_text.h"
#include "formula/text.h"
#include "gauge/gauge.h"
#include "output.h"
#include "path/analog_path.h"
#include "path/default_gauge.h"
#include "units/number_format.h"
#include "units/text_file.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>
#include <optional>

namespace fg::cli {
namespace {

struct Options {
    std::string part, bytes, file, pulses, unit;
    std::vector<std::string> options;
    bool json = false;
};

std::string_view kindName(StatusKind kind) {
    return kind == StatusKind::Fault ? "fault" : kind == StatusKind::Doubt ? "doubt" : "note";
}

nlohmann::ordered_json bytesJson(const std::vector<ByteRef>& places, const RawData& raw) {
    auto list = nlohmann::ordered_json::array();
    for (const ByteRef& place : places)
        list.push_back({{"block", raw.blocks()[place.block].label()}, {"first", place.first}, {"count", place.count}});
    return list;
}

void printJson(const DevicePart& part, const RawData& raw, const Decoded& decoded, const Unit* unit) {
    auto readings = nlohmann::ordered_json::array(), trace = nlohmann::ordered_json::array(),
         status = nlohmann::ordered_json::array(), findings = nlohmann::ordered_json::array();
    for (const DeviceReading& reading : decoded.readings)
        readings.push_back(
            {{"id", reading.id},
             {"quantity", quantityName(reading.quantity)},
             {"value", jsonNumber(reading.value)},
             {"unit", canonicalUnit(reading.quantity).id},
             {"clipped", reading.bound == Bound::None
                             ? nlohmann::ordered_json(nullptr)
                             : nlohmann::ordered_json(reading.bound == Bound::AtLeast ? "at least" : "at most")},
             {"display", displayOf(part, reading, unit).value}});
    for (const DeviceLine& line : decoded.lines) {
        auto entry = traceJson(line.line);
        entry["bytes"] = bytesJson(line.bytes, raw);
        trace.push_back(std::move(entry));
    }
    for (const DeviceStatus& one : decoded.status) {
        status.push_back({{"kind", kindName(one.kind)}, {"id", one.id}, {"text", one.text}});
        if (one.kind != StatusKind::Note)
            findings.push_back({{"severity", kindName(one.kind)},
                                {"stage", "converter"},
                                {"id", one.id},
                                {"title", one.id},
                                {"detail", one.text},
                                {"action", nullptr}});
    }
    printJsonText(nlohmann::ordered_json{
        {"part", part.id}, {"readings", readings}, {"trace", trace}, {"status", status}, {"findings", findings}});
}

void printText(const DevicePart& part, const Decoded& decoded, const Unit* unit) {
    for (const DeviceReading& reading : decoded.readings) {
        const ReadingDisplay shown = displayOf(part, reading, unit);
        fmt::print("{}: {}{}\n", reading.id, shown.value,
                   shown.uncertainty.empty() ? "" : " ± " + shown.uncertainty + " (stated accuracy)");
    }
    for (const DeviceStatus& one : decoded.status) fmt::print("{}: {}\n", kindName(one.kind), one.text);
    fmt::print("\n");
    for (const DeviceLine& line : decoded.lines)
        fmt::print("  {:<16} {:<16} {}\n", line.line.name, valueText(line.line.value, line.line.unit, 10).joined(),
                   line.line.formula);
}

Expected<DeviceOptions> optionsOf(const DevicePart& part, const std::vector<std::string>& texts) {
    DeviceOptions options = part.options;
    for (const std::string& text : texts) {
        const std::size_t equals = text.find('=');
        if (equals == std::string::npos) return fail(ErrorCode::Syntax, "--option", "“" + text + "”", "key=value");
        options.set(text.substr(0, equals), text.substr(equals + 1));
    }
    return options;
}

/// A part of the analog side that sends pulses: the count goes through its path.
int decodePulses(const Part& part, const RawData& raw, bool json) {
    const auto block = raw.block("pulses", 2);
    if (!block) return refuse(block.error());
    const auto path = Gauge::make(defaultGauge(part), catalogue());
    if (!path) return refuse(path.error());
    const auto evaluation = path->evaluate({Stage::Converter, static_cast<double>(block->be16(0))});
    if (!evaluation) return refuse(evaluation.error());
    const StageValue& reading = evaluation->at(Stage::Reading);
    if (!part.range.contains(reading.value))
        return refuse(
            {ErrorCode::Range, "pulses", std::to_string(block->be16(0)), "a count the part sends within its range"});
    const auto lines = path->trace(*evaluation);
    if (!json) {
        fmt::print("{}: {} {}\n\n", quantityName(part.quantity), plainNumber(reading.value, 6),
                   canonicalUnit(part.quantity).symbol);
        printTrace(lines);
        return kFine;
    }
    const nlohmann::ordered_json one{{"id", quantityName(part.quantity)},
                                     {"quantity", quantityName(part.quantity)},
                                     {"value", jsonNumber(reading.value)},
                                     {"unit", canonicalUnit(part.quantity).id},
                                     {"display", plainNumber(reading.value, 6) + " " +
                                                     std::string(canonicalUnit(part.quantity).symbol)}};
    printJsonText(nlohmann::ordered_json{{"part", part.id},
                                         {"readings", {one}},
                                         {"trace", traceJson(lines)},
                                         {"status", nlohmann::ordered_json::array()},
                                         {"findings", nlohmann::ordered_json::array()}});
    return kFine;
}

Expected<RawData> rawOf(const Options& options) {
    if (!options.pulses.empty()) return readPulses(options.pulses);
    if (options.file.empty() == options.bytes.empty())
        return fail(ErrorCode::Missing, "bytes", "nothing, or both", "one of --bytes, --file and --pulses");
    if (options.file.empty()) return readDump(options.bytes);
    const auto text = readTextFile(options.file, "a dump");
    if (!text) return tl::unexpected(text.error());
    auto raw = readDump(*text);
    if (!raw) return tl::unexpected(raw.error().within(options.file));
    return raw;
}

int run(const Options& options) {
    const DevicePart* part = catalogue().findDevicePart(options.part);
    const Part* analog = catalogue().findPart(options.part);
    const bool isPulses = analog && findSensorFamily(analog->family)->output == Quantity::Count;
    if (!part && !isPulses)
        return refuse({ErrorCode::Unknown, "part", "“" + options.part + "”",
                       analog ? "a digital part; for an analog one take fgauge convert"
                              : "a digital part of the catalogue (fgauge parts)"});
    const auto raw = rawOf(options);
    if (!raw) return refuse(raw.error());
    if (!part) return decodePulses(*analog, *raw, options.json);
    const auto chosen = optionsOf(*part, options.options);
    if (!chosen) return refuse(chosen.error());
    const auto laid = laidOut(*part->device, *chosen, *raw);
    if (!laid) return refuse(laid.error().within(part->id));
    const auto decoded = decode(*part->device, *laid, *chosen);
    if (!decoded) return refuse(decoded.error().within(part->id));
    const Unit* unit = nullptr;
    std::string known;
    for (const DeviceReading& reading : decoded->readings) {
        const auto found = unitFromId(options.unit, reading.quantity);
        if (found)
            unit = *found;
        else
            known += (known.empty() ? "" : "; ") + found.error().expected;
    }
    if (!options.unit.empty() && !unit) return refuse({ErrorCode::Unknown, "--unit", "“" + options.unit + "”", known});
    if (options.json)
        printJson(*part, *laid, *decoded, unit);
    else
        printText(*part, *decoded, unit);
    return kFine;
}

}  // namespace

void addDecode(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("decode", "Bytes of a digital sensor to its readings, every step shown");
    verb.required("part", options->part, "designation, such as bme280");
    verb.option("--bytes", options->bytes, "\"88: 70 6B …; F7: 65 5A …\", \"02 8C 01 5F EE\", \"0x0191\"");
    verb.option("--file", options->file, "a dump in a file instead: by address, as a table, or CSV");
    verb.option("--pulses", options->pulses,
                "single-bus parts: the 40 high times of the line in µs, from a scope or logic analyser");
    verb.option("--unit", options->unit, "unit of the readings that can have it: degF, psi");
    verb.option("--option", options->options, "key=value, as fgauge part ID lists them; may be given again");
    verb.flag("--json", options->json, "one JSON object instead of text");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
