#include "bench/document.h"
#include "bytes/dump_text.h"
#include "devices/device.h"
#include "output.h"
#include "planning/addresses.h"
#include "planning/one_wire_time.h"
#include "planning/pull_up.h"
#include "storage/bench_file.h"
#include "units/number_format.h"
#include "units/text_file.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>

namespace fg::cli {
namespace {

struct PullUpOptions {
    std::string speed = "400k", supply = "3.3 V", capacitance, own;
    std::vector<std::string> modules;
    std::string cable;
    int devices = 1;
    bool toGround = false, json = false;
};

std::string_view faultName(LineFault fault) {
    switch (fault) {
        case LineFault::None:
            return "none";
        case LineFault::Missing:
            return "missing";
        case LineFault::TooWeak:
            return "too-weak";
        case LineFault::TooStrong:
            return "too-strong";
        case LineFault::ToGround:
            return "to-ground";
        case LineFault::NoWindow:
            return "no-window";
    }
    return "";
}

Expected<PullUpQuestion> questionOf(const PullUpOptions& options) {
    PullUpQuestion question;
    const auto kind = lineKindFromName(options.speed);
    if (!kind)
        return fail(ErrorCode::Unknown, "--speed", "“" + options.speed + "”", "100k, 400k, 1M, 1-wire or single-bus");
    question.kind = *kind;
    const auto supply = readValue(options.supply, Quantity::Voltage);
    if (!supply) return tl::unexpected(supply.error().within("--supply"));
    question.supply_V = supply->canonical;
    if (!options.capacitance.empty()) {
        const auto capacitance = readValue(options.capacitance, Quantity::Capacitance);
        if (!capacitance) return tl::unexpected(capacitance.error().within("--capacitance"));
        question.capacitance_F = capacitance->canonical;
    }
    for (const std::string& module : options.modules) {
        const auto ohm = readValue(module, Quantity::Resistance);
        if (!ohm) return tl::unexpected(ohm.error().within("--module"));
        question.modules_ohm.push_back(ohm->canonical);
    }
    if (!options.own.empty()) {
        const auto ohm = readValue(options.own, Quantity::Resistance);
        if (!ohm) return tl::unexpected(ohm.error().within("--pullup"));
        question.own_ohm = ohm->canonical;
    }
    if (!options.cable.empty()) {
        const auto length = readValue(options.cable, Quantity::Length);
        if (!length) return tl::unexpected(length.error().within("--cable"));
        question.cable_m = length->canonical;
    }
    question.devices = options.devices;
    question.tiedToGround = options.toGround;
    return question;
}

int runPullUp(const PullUpOptions& options) {
    const auto question = questionOf(options);
    if (!question) return refuse(question.error());
    const auto answer = sizePullUp(*question);
    if (!answer) return refuse(answer.error());
    if (options.json) {
        printJsonText(nlohmann::ordered_json{
            {"least_ohm", answer->least_ohm},
            {"most_ohm", answer->most_ohm},
            {"capacitance_F", answer->capacitance_F},
            {"estimated", answer->estimated},
            {"modules_ohm",
             answer->modules_ohm > 0 ? nlohmann::ordered_json(answer->modules_ohm) : nlohmann::ordered_json(nullptr)},
            {"total_ohm",
             answer->total_ohm > 0 ? nlohmann::ordered_json(answer->total_ohm) : nlohmann::ordered_json(nullptr)},
            {"rise_s", answer->rise_s},
            {"rise_limit_s", answer->riseLimit_s},
            {"sink_A", answer->sink_A},
            {"sink_limit_A", answer->sinkLimit_A},
            {"recommended_ohm", answer->recommended_ohm ? nlohmann::ordered_json(*answer->recommended_ohm)
                                                        : nlohmann::ordered_json(nullptr)},
            {"fault", faultName(answer->fault)},
            {"text", answer->text}});
    } else {
        fmt::print("{}\n  window {} to {}; {} of line capacitance{}\n", answer->text,
                   engineering(answer->least_ohm, Quantity::Resistance, 3).joined(),
                   engineering(answer->most_ohm, Quantity::Resistance, 3).joined(),
                   engineering(answer->capacitance_F, Quantity::Capacitance, 3).joined(),
                   answer->estimated ? ", estimated" : "");
    }
    return answer->fault == LineFault::None ? kFine : kFault;
}

int runScan(const std::string& text, const std::string& file, bool json) {
    std::string scan = text;
    if (!file.empty()) {
        const auto read = readTextFile(file, "a bus scan");
        if (!read) return refuse(read.error());
        scan = *read;
    }
    const auto addresses = readAddressScan(scan);
    if (!addresses) return refuse(addresses.error());
    auto list = nlohmann::ordered_json::array();
    for (const unsigned address : *addresses) {
        const auto candidates = candidatesAt(catalogue(), address);
        const std::string hint = identityHint(candidates);
        nlohmann::ordered_json one{{"address", fmt::format("0x{:02X}", address)},
                                   {"candidates", nlohmann::ordered_json::array()},
                                   {"identity", hint}};
        if (!json) fmt::print("0x{:02X}{}\n", address, candidates.empty() ? "  nothing the catalogue knows" : "");
        for (const AddressCandidate& each : candidates) {
            one["candidates"].push_back(
                {{"part", each.part->id}, {"title", each.part->title}, {"straps", each.straps}});
            if (!json) fmt::print("  {:<10} {:<52} {}\n", each.part->id, each.part->title, each.straps);
        }
        if (!json && !hint.empty()) fmt::print("  {}\n", hint);
        list.push_back(std::move(one));
    }
    if (json) printJsonText(nlohmann::ordered_json{{"addresses", list}});
    return kFine;
}

int runAddresses(const std::string& file, bool json) {
    const auto stored = BenchFile::look(file);
    if (!stored) return refuse(stored.error());
    warnOfUnread(*stored);
    std::vector<BusPlace> places;
    for (const OtherDevice& other : stored->bench.board.others) places.push_back({other.name, nullptr, other.address});
    for (const BenchGauge& gauge : stored->bench.gauges) {
        const DevicePart* part = catalogue().findDevicePart(gauge.spec.sensor.part);
        const auto given = part ? part->addressIn(gauge.spec.wiring.parameters) : std::nullopt;
        if (!given) continue;
        const unsigned address = *given;
        // Gauges that share one channel are one device.
        const bool known =
            !gauge.spec.channel.empty() && std::any_of(places.begin(), places.end(), [&](const BusPlace& place) {
                return place.address == address && place.name == gauge.spec.channel;
            });
        if (!known)
            places.push_back({gauge.spec.channel.empty() ? gauge.spec.name : gauge.spec.channel, part, address});
    }
    const auto conflicts = conflictsOn(places);
    auto list = nlohmann::ordered_json::array(), clashes = nlohmann::ordered_json::array();
    for (const BusPlace& place : places) {
        list.push_back({{"name", place.name},
                        {"part", place.part ? place.part->id : ""},
                        {"address", fmt::format("0x{:02X}", place.address)}});
        if (!json)
            fmt::print("0x{:02X}  {:<10} {}\n", place.address, place.part ? place.part->id : "", plainLine(place.name));
    }
    for (const AddressConflict& conflict : conflicts) {
        clashes.push_back({{"address", fmt::format("0x{:02X}", conflict.address)},
                           {"names", conflict.names},
                           {"ways_out", conflict.waysOut}});
        if (!json) fmt::print("fault: {} devices at 0x{:02X}\n", conflict.names.size(), conflict.address);
        for (const std::string& way : conflict.waysOut)
            if (!json) fmt::print("  {}\n", way);
    }
    if (json) printJsonText(nlohmann::ordered_json{{"devices", list}, {"conflicts", clashes}});
    return conflicts.empty() ? kFine : kFault;
}

int runOneWire(int probes, int resolution, bool parasite, bool json) {
    const auto time = oneWireTime(probes, resolution, parasite);
    if (!time) return refuse(time.error());
    if (json)
        printJsonText(nlohmann::ordered_json{{"convert_s", time->convert_s},
                                             {"read_s", time->read_s},
                                             {"cycle_s", time->cycle_s()},
                                             {"search_s", time->search_s}});
    else
        fmt::print("converting {}, reading {}: every probe once in {}; finding their codes {}\n",
                   engineering(time->convert_s, Quantity::Time, 3).joined(),
                   engineering(time->read_s, Quantity::Time, 3).joined(),
                   engineering(time->cycle_s(), Quantity::Time, 3).joined(),
                   engineering(time->search_s, Quantity::Time, 3).joined());
    if (!json && parasite)
        fmt::print(
            "parasite power: the line must be held high through each conversion, so probes convert one after the "
            "other; above 100 °C give "
            "them a supply\n");
    return kFine;
}

/// How many probes there are by their codes, each checked; told one by one, except in JSON.
Expected<int> readCodes(const std::string& text, bool json) {
    int count = 0;
    std::size_t begin = 0;
    while (begin < text.size()) {
        const std::size_t end = std::min(text.find_first_of(";\n", begin), text.size());
        const std::string line = text.substr(begin, end - begin);
        begin = end + 1;
        if (line.find_first_not_of(" \t\r") == std::string::npos) continue;
        const auto raw = readDump("rom: " + line);
        if (!raw) return tl::unexpected(raw.error());
        const Device* probe = nullptr;
        DeviceOptions options;
        const std::uint8_t family = raw->blocks()[0].bytes.empty() ? 0 : raw->blocks()[0].bytes[0];
        probe = findDevice(family == 0x10 ? "ds18s20" : "ds18b20");
        if (family == 0x22) options.set("family", "22");
        const auto decoded = decode(*probe, *raw, options);
        if (!decoded) return tl::unexpected(decoded.error().within(line));
        ++count;
        if (!json) fmt::print("{}: {}, its checksum fits\n", line, family == 0x22 ? "ds1822" : std::string(probe->id));
    }
    if (count == 0) return fail(ErrorCode::Missing, "codes", "nothing", "eight bytes a probe, 28 FF 64 …");
    return count;
}

void addPullUp(Verb& bus) {
    auto options = std::make_shared<PullUpOptions>();
    Verb verb = bus.verb("pullup", "The pull-up that a bus needs, or what is wrong with the one it has");
    verb.option("--speed", options->speed, "100k, 400k, 1M, 1-wire or single-bus");
    verb.option("--supply", options->supply, "of the line, \"3.3 V\"");
    verb.option("--capacitance", options->capacitance, "of the line, \"120p\"; estimated when left out");
    verb.option("--cable", options->cable, "its length, \"2.5 m\" or \"8 ft\", for the estimate");
    verb.option("--devices", options->devices, "on the line, for the estimate");
    verb.option("--module", options->modules, "pull-up that a module already carries, \"10k\"; may be given again");
    verb.option("--pullup", options->own, "the resistor to judge, \"4k7\"");
    verb.flag("--to-ground", options->toGround, "the resistors are tied to ground");
    verb.flag("--json", options->json, "one JSON object instead of text");
    verb.run([options] { return runPullUp(*options); });
}

}  // namespace

void addBus(Verb& program) {
    Verb bus = program.verb("bus", "Pull-ups, addresses and scans");
    bus.requireVerb();
    addPullUp(bus);
    auto text = std::make_shared<std::string>(), file = std::make_shared<std::string>(),
         bench = std::make_shared<std::string>();
    auto scanJson = std::make_shared<bool>(false), benchJson = std::make_shared<bool>(false);
    Verb scan = bus.verb("scan", "What may be at the addresses of a pasted bus scan");
    scan.option("--text", *text, "a grid or a list of addresses");
    scan.option("--file", *file, "the same in a file");
    scan.flag("--json", *scanJson, "one JSON object instead of text");
    scan.run([text, file, scanJson] { return runScan(*text, *file, *scanJson); });
    auto probes = std::make_shared<int>(1), resolution = std::make_shared<int>(12);
    auto parasite = std::make_shared<bool>(false), timeJson = std::make_shared<bool>(false);
    Verb oneWire = bus.verb("onewire", "How long a 1-wire line takes to read its probes");
    oneWire.option("--probes", *probes, "on the line");
    oneWire.option("--resolution", *resolution, "9 to 12 bits");
    auto codes = std::make_shared<std::string>();
    oneWire.option("--scan", *codes,
                   "the probes' eight-byte codes as a search prints them, one a line or between semicolons: counts and "
                   "checks them");
    oneWire.flag("--parasite", *parasite, "fed from the line itself");
    oneWire.flag("--json", *timeJson, "one JSON object instead of text");
    oneWire.run([probes, resolution, parasite, timeJson, codes] {
        if (!codes->empty()) {
            const auto found = readCodes(*codes, *timeJson);
            if (!found) return refuse(found.error().within("--scan"));
            *probes = *found;
        }
        return runOneWire(*probes, *resolution, *parasite, *timeJson);
    });
    Verb addresses = bus.verb("addresses", "The addresses taken on a bench; exit code 1 for a conflict");
    addresses.required("--bench", *bench, "bench file");
    addresses.flag("--json", *benchJson, "one JSON object instead of text");
    addresses.run([bench, benchJson] { return runAddresses(*bench, *benchJson); });
}

}  // namespace fg::cli
