#include "catalogue/json_fields.h"
#include "converters/kind.h"
#include "output.h"
#include "sensors/family.h"
#include "units/number_format.h"
#include "verbs.h"
#include "wiring/kind.h"

#include <fmt/core.h>
#include <fmt/format.h>

namespace fg::cli {
namespace {

std::string joined(const std::vector<std::string>& texts, const std::string& between) {
    std::string all;
    for (const std::string& text : texts) all.append(all.empty() ? "" : between).append(text);
    return all;
}

nlohmann::ordered_json interval(Interval range) { return {jsonNumber(range.low), jsonNumber(range.high)}; }

nlohmann::ordered_json partJson(const Part& part) {
    nlohmann::ordered_json json{{"id", part.id},
                                {"title", part.title},
                                {"aliases", part.aliases},
                                {"quantity", quantityName(part.quantity)},
                                {"unit", canonicalUnit(part.quantity).id},
                                {"interface", part.interface},
                                {"family", part.family}};
    json["parameters"] = toJson(part.parameters);
    auto free = nlohmann::ordered_json::array();
    for (const ParameterSpec& spec : findSensorFamily(part.family)->parameters(part.quantity)) {
        nlohmann::ordered_json entry{{"id", spec.id},
                                     {"label", spec.label},
                                     {"required", !spec.defaultValue && !part.parameters.has(spec.id)}};
        if (!spec.toleranceId.empty()) entry["tolerance"] = spec.toleranceId;
        free.push_back(std::move(entry));
    }
    json["accepts"] = std::move(free);
    json["range"] = interval(part.range);
    json["accuracy"] = nlohmann::ordered_json::array();
    for (const AccuracyBand& band : part.accuracy)
        json["accuracy"].push_back({{"span", interval(band.span)}, {"limit", band.limit}});
    json["supply_V"] = part.supply_V.high > 0 ? interval(part.supply_V) : nlohmann::ordered_json(nullptr);
    json["supply_A"] = part.supply_A;
    json["supply_typical"] = part.supplyIsTypical;
    json["minimum_interval_s"] = part.minimumInterval_s;
    json["cautions"] = part.cautions;
    json["source"] = part.source;
    return json;
}

void printPart(const Part& part) {
    const std::string unit(canonicalUnit(part.quantity).symbol);
    fmt::print("{}\n  {}\n  measures      {}, {}\n", part.id, part.title, quantityName(part.quantity), part.interface);
    if (std::isfinite(part.range.low))
        fmt::print("  range         {} to {} {}\n", plainNumber(part.range.low), plainNumber(part.range.high), unit);
    for (const AccuracyBand& band : part.accuracy)
        fmt::print("  accuracy      ± {} {} from {} to {} {}\n", plainNumber(band.limit), unit,
                   plainNumber(band.span.low), plainNumber(band.span.high), unit);
    if (part.supply_V.high > 0)
        fmt::print("  supply        {} to {} V\n", plainNumber(part.supply_V.low), plainNumber(part.supply_V.high));
    fmt::print("  formula       {}\n", findSensorFamily(part.family)->title);
    for (const ParameterSpec& spec : findSensorFamily(part.family)->parameters(part.quantity)) {
        const auto fixed = part.parameters.number(spec.id);
        fmt::print("    {:<22} {}\n", spec.id,
                   fixed               ? plainNumber(*fixed)
                   : spec.defaultValue ? "given by the gauge, or " + plainNumber(*spec.defaultValue)
                                       : "given by the gauge");
    }
    fmt::print("  source        {}\n", part.source);
}

nlohmann::ordered_json deviceJson(const DevicePart& part) {
    nlohmann::ordered_json json{{"id", part.id},
                                {"title", part.title},
                                {"aliases", part.aliases},
                                {"interface", part.interface},
                                {"device", part.device->id}};
    json["readings"] = part.readings;
    json["options"] = nlohmann::ordered_json::array();
    for (const OptionSpec& spec : part.device->options())
        json["options"].push_back(
            {{"id", spec.id},
             {"title", spec.title},
             {"choices", spec.choices},
             {"default", part.options.all().count(spec.id) ? part.options.text(spec.id) : spec.otherwise}});
    json["blocks"] = nlohmann::ordered_json::array();
    for (const BlockSpec& block : part.device->blocks(part.options.completed(part.device->options()).value()))
        json["blocks"].push_back(
            {{"name", block.name},
             {"address", block.address ? nlohmann::ordered_json(fmt::format("0x{:02X}", *block.address))
                                       : nlohmann::ordered_json(nullptr)},
             {"bytes", block.size},
             {"calibration", block.isCalibration},
             {"optional", block.isOptional}});
    json["ranges"] = nlohmann::ordered_json::object();
    for (const auto& [reading, range] : part.ranges) json["ranges"][reading] = interval(range);
    json["accuracy"] = nlohmann::ordered_json::array();
    for (const DeviceAccuracy& one : part.accuracy)
        json["accuracy"].push_back({{"quantity", quantityName(one.quantity)},
                                    {"span", interval(one.band.span)},
                                    {"limit", one.band.limit},
                                    {"statement", one.band.statement}});
    json["supply_V"] = interval(part.supply_V);
    json["addresses"] = nlohmann::ordered_json::array();
    for (const BusAddress& one : part.addresses)
        json["addresses"].push_back({{"address", fmt::format("0x{:02X}", one.address)}, {"straps", one.straps}});
    json["minimum_interval_s"] = part.minimumInterval_s;
    json["source"] = part.source;
    return json;
}

void printDevice(const DevicePart& part) {
    fmt::print("{}\n  {}\n  gives         {}; {}\n", part.id, part.title, joined(part.readings, ", "), part.interface);
    for (const auto& [reading, range] : part.ranges)
        fmt::print("  range         {} {} to {}\n", reading, plainNumber(range.low), plainNumber(range.high));
    for (const DeviceAccuracy& one : part.accuracy) {
        const std::string unit(canonicalUnit(one.quantity).symbol);
        fmt::print("  accuracy      {} ± {} {} from {} to {} {}{}\n", quantityName(one.quantity),
                   one.band.limit > 0 ? plainNumber(one.band.limit) : plainNumber(100 * one.band.perUnit) + " % of",
                   unit, plainNumber(one.band.span.low), plainNumber(one.band.span.high), unit,
                   one.band.statement.empty() ? "" : ", " + one.band.statement);
    }
    fmt::print("  supply        {} to {} V\n", plainNumber(part.supply_V.low), plainNumber(part.supply_V.high));
    for (const BusAddress& one : part.addresses) fmt::print("  address       0x{:02X}  {}\n", one.address, one.straps);
    for (const OptionSpec& spec : part.device->options())
        fmt::print("  option        {} = {}   {}\n", spec.id,
                   spec.choices.empty() ? "a number (" + spec.otherwise + ")" : joined(spec.choices, " | "),
                   spec.title);
    for (const BlockSpec& block : part.device->blocks(part.options.completed(part.device->options()).value()))
        fmt::print("  bytes         {}{}, {}{}\n", block.name,
                   block.address ? fmt::format(" from 0x{:02X}", *block.address) : "", block.size,
                   block.isCalibration ? ", calibration"
                   : block.isOptional  ? ", optional"
                                       : "");
    fmt::print("  source        {}\n", part.source);
}

nlohmann::ordered_json converterJson(const ConverterPart& part) {
    nlohmann::ordered_json json{
        {"id", part.id},           {"title", part.title},       {"kind", part.kind},
        {"aliases", part.aliases}, {"channels", part.channels}, {"parameters", toJson(part.parameters)},
        {"source", part.source}};
    json["traps"] = nlohmann::ordered_json::array();
    for (const ConverterTrap& trap : part.traps) json["traps"].push_back(trap.text);
    return json;
}

void printConverter(const ConverterPart& part) {
    fmt::print("{}\n  {}\n  kind          {}, {} channel(s)\n", part.id, part.title, part.kind, part.channels);
    for (const ParameterSpec& spec : findConverterKind(part.kind)->parameters()) {
        if (const auto number = part.parameters.number(spec.id))
            fmt::print("    {:<22} {}\n", spec.id, plainNumber(*number));
        else if (const auto text = part.parameters.text(spec.id))
            fmt::print("    {:<22} {}\n", spec.id, *text);
    }
    for (const ConverterTrap& trap : part.traps) fmt::print("  mind          {}\n", trap.text);
    fmt::print("  source        {}\n", part.source);
}

int list(bool json) {
    auto array = nlohmann::ordered_json::array();
    for (const Part& part : catalogue().parts()) {
        if (json)
            array.push_back(partJson(part));
        else
            fmt::print("{:<24} {:<12} {}\n", part.id, quantityName(part.quantity), part.title);
    }
    for (const DevicePart& part : catalogue().devices()) {
        if (json)
            array.push_back(deviceJson(part));
        else
            fmt::print("{:<24} {:<12} {}\n", part.id, part.readings.front(), part.title);
    }
    auto converters = nlohmann::ordered_json::array(), wirings = nlohmann::ordered_json::array();
    if (!json) fmt::print("\nconverters, for --adc:\n");
    for (const ConverterPart& part : catalogue().converters()) {
        if (json)
            converters.push_back(converterJson(part));
        else
            fmt::print("{:<24} {:<12} {}\n", part.id, part.kind, part.title);
        const auto made = findConverterKind(part.kind)->make(part.parameters);
        const auto noise = part.noiseAt(part.parameters.numberOr("gain", 1), part.parameters.numberOr("rate_Hz", 0));
        if (!json && made && noise)
            fmt::print("{:<37} {} rms at its input: {} bits free of noise\n", "",
                       engineering(*noise, Quantity::Voltage, 2).joined(), fixedDigits(made->noiseFreeBits(*noise), 1));
    }
    if (!json) fmt::print("\nwirings, for --wiring:\n");
    for (const WiringKind& kind : wiringKinds()) {
        std::string takes;
        for (const ParameterSpec& spec : kind.parameters()) takes += (takes.empty() ? "" : ", ") + spec.id;
        if (json)
            wirings.push_back(
                {{"id", kind.id}, {"title", kind.title}, {"takes", quantityName(kind.input)}, {"parameters", takes}});
        else
            fmt::print("{:<24} {:<12} {}: {}\n", kind.id, quantityName(kind.input), kind.title, takes);
    }
    if (json) printJsonText(nlohmann::ordered_json{{"parts", array}, {"converters", converters}, {"wirings", wirings}});
    return kFine;
}

/// The digital side of the catalogue as a table for docs/devices.md.
int markdown() {
    fmt::print(
        "| part | what it is | readings | interface, addresses | measuring, at rest | decoder's source "
        "|\n|---|---|---|---|---|---|\n");
    for (const DevicePart& part : catalogue().devices()) {
        std::string addresses;
        for (const BusAddress& one : part.addresses)
            addresses += fmt::format("{}0x{:02X}", addresses.empty() ? ": " : ", ", one.address);
        const auto current = [](double value, bool isTypical = false) {
            return value > 0 ? engineering(value, Quantity::Current, 3).joined() + (isTypical ? " typically" : "")
                             : std::string("–");
        };
        fmt::print("| {} | {} | {} | {}{} | {}, {} | {} |\n", part.id, part.title, joined(part.readings, ", "),
                   part.interface, addresses, current(part.supply_A, part.supplyIsTypical), current(part.standby_A),
                   part.device->source);
    }
    return kFine;
}

int show(const std::string& id, bool json) {
    if (const DevicePart* device = catalogue().findDevicePart(id)) {
        if (json)
            printJsonText(deviceJson(*device));
        else
            printDevice(*device);
        return kFine;
    }
    const Part* part = catalogue().findPart(id);
    const ConverterPart* converter = part ? nullptr : catalogue().findConverter(id);
    if (converter) {
        if (json)
            printJsonText(converterJson(*converter));
        else
            printConverter(*converter);
        return kFine;
    }
    if (!part) {
        const auto unknown = catalogue().partOrFamily(id + " ", Quantity::Temperature);
        return refuse({ErrorCode::Unknown, "part", "“" + id + "”",
                       unknown ? "a part of the catalogue" : unknown.error().expected});
    }
    if (json)
        printJsonText(partJson(*part));
    else
        printPart(*part);
    return kFine;
}

}  // namespace

void addParts(Verb& program) {
    auto json = std::make_shared<bool>(false);
    auto id = std::make_shared<std::string>();
    Verb all = program.verb("parts", "List the catalogue");
    all.flag("--json", *json, "one JSON object instead of text");
    auto table = std::make_shared<bool>(false);
    all.flag("--markdown", *table, "the digital parts as a table");
    all.run([json, table] { return *table ? markdown() : list(*json); });
    Verb one = program.verb("part", "Show one part of the catalogue");
    one.required("id", *id, "designation, such as tmp36");
    one.flag("--json", *json, "one JSON object instead of text");
    one.run([id, json] { return show(*id, *json); });
}

}  // namespace fg::cli
