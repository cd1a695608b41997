#include "bench/gauge_json.h"
#include "bytes/dump_text.h"
#include "catalogue/part_consequences.h"
#include "output.h"
#include "path/converter_setup.h"
#include "registers/bus_transaction.h"
#include "registers/register_checks.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>

namespace fg::cli {
namespace {

struct Options {
    std::string part, set, explain, gauge, clock;
    unsigned address = 0;
    bool json = false;
};

/// What there is to say of a set of words.
struct Answer {
    std::vector<RegisterWord> words;
    std::vector<FieldValue> fields;
    std::vector<Consequence> consequences;
    std::vector<Mismatch> mismatches;
    std::vector<DeviceStatus> checks;
    std::vector<SetupMismatch> differing;  // of a converter's words from what the gauge counts with
    std::vector<std::string> impossible;   // what no choice of its words gives
    SetupTiming timing;                    // of a controller's converter
    std::vector<std::string> unknown;      // registers that were typed and configure nothing
    BusSite place;
    std::vector<Transaction> scratchpad;  // of a 1-wire probe
};

nlohmann::ordered_json stepsJson(const std::vector<BusStep>& steps) {
    auto list = nlohmann::ordered_json::array();
    for (const BusStep& step : steps) {
        const bool isKnown = step.kind == BusStep::Kind::Byte && !step.isMeasured;
        list.push_back({{"kind", busStepName(step.kind)},
                        {"byte", isKnown ? nlohmann::ordered_json(fmt::format("{:02X}", step.byte))
                                         : nlohmann::ordered_json(nullptr)},
                        {"from", step.byMaster ? "master" : "device"},
                        {"acknowledged", step.acknowledged ? nlohmann::ordered_json(*step.acknowledged)
                                                           : nlohmann::ordered_json(nullptr)},
                        {"meaning", step.meaning}});
    }
    return list;
}

nlohmann::ordered_json bitsJson(const RegisterField& field) {
    auto list = nlohmann::ordered_json::array();
    for (const BitRun& run : field.bits) list.push_back({run.high, run.low});
    return list.size() == 1 ? list.front() : list;
}

nlohmann::ordered_json transactionsJson(const std::vector<Transaction>& transactions) {
    auto list = nlohmann::ordered_json::array();
    for (const Transaction& each : transactions)
        list.push_back(
            {{"title", each.title}, {"text", transactionText(each.steps)}, {"steps", stepsJson(each.steps)}});
    return list;
}

void printJson(const Options& options, const Answer& answer) {
    auto words = nlohmann::ordered_json::array(), fields = nlohmann::ordered_json::array(),
         consequences = nlohmann::ordered_json::array(), mismatches = nlohmann::ordered_json::array();
    for (const RegisterWord& word : answer.words) {
        const Register& in = *word.in;
        nlohmann::ordered_json one{
            {"register", in.name}, {"place", in.place()}, {"word", word.text()}, {"binary", word.binary()}};
        if (in.form == WordForm::Register) one["address"] = fmt::format("0x{:0{}X}", in.address, 2 * in.pointerBytes);
        one["transactions"] = transactionsJson(transactionsOf(word, answer.place));
        words.push_back(std::move(one));
    }
    for (const FieldValue& value : answer.fields)
        fields.push_back({{"id", value.field->id},
                          {"title", value.field->title},
                          {"register", value.in->name},
                          {"bits", bitsJson(*value.field)},
                          {"code", value.code},
                          {"value", value.text}});
    for (const Consequence& one : answer.consequences)
        consequences.push_back({{"id", one.id},
                                {"title", one.title},
                                {"value", jsonNumber(one.value)},
                                {"unit", canonicalUnit(one.quantity).id},
                                {"note", one.note}});
    for (const Mismatch& one : answer.mismatches)
        mismatches.push_back({{"id", one.field->id}, {"asked", one.asked}, {"found", one.found}, {"text", one.text}});
    auto checks = nlohmann::ordered_json::array();
    for (const DeviceStatus& one : answer.checks)
        checks.push_back(
            {{"kind", one.kind == StatusKind::Fault ? "fault" : "note"}, {"id", one.id}, {"text", one.text}});
    auto differing = nlohmann::ordered_json::array();
    for (const SetupMismatch& one : answer.differing)
        differing.push_back({{"id", one.field->id}, {"fact", one.id}, {"text", one.text}});
    printJsonText(nlohmann::ordered_json{{"part", options.part},
                                         {"words", words},
                                         {"transactions", transactionsJson(answer.scratchpad)},
                                         {"fields", fields},
                                         {"consequences", consequences},
                                         {"checks", checks},
                                         {"differs_from_gauge", differing},
                                         {"impossible", answer.impossible},
                                         {"clock", answer.timing.problem},
                                         {"unknown", answer.unknown},
                                         {"mismatches", mismatches}});
}

void printText(const Answer& answer) {
    for (const RegisterWord& word : answer.words) {
        const Register& in = *word.in;
        fmt::print("{} ({}) = {}   {}{}\n", in.name, in.place(), word.text(), word.binary(),
                   in.effect.empty() ? "" : "   " + in.effect);
        for (const FieldValue& value : answer.fields)
            if (value.in == word.in)
                fmt::print("    {:<14} {:<12} {}{}\n", value.field->id, value.text, value.field->title,
                           value.field->effect.empty() ? "" : ": " + value.field->effect);
        for (const Transaction& each : transactionsOf(word, answer.place))
            fmt::print("    {:<14} {}\n", each.title, transactionText(each.steps));
    }
    if (answer.place.kind == BusKind::TwoWire && answer.place.address > 0)
        fmt::print(
            "    the address 0x{:02X} has seven bits; on the bus it is the byte {:02X} to write and {:02X} to read\n",
            answer.place.address, answer.place.address << 1, answer.place.address << 1 | 1);
    for (const Transaction& each : answer.scratchpad)
        fmt::print("{:<18} {}\n", each.title, transactionText(each.steps));
    for (const Consequence& one : answer.consequences)
        fmt::print("{}: {}{}\n", one.title, consequenceText(one), one.note.empty() ? "" : " (" + one.note + ")");
    for (const DeviceStatus& one : answer.checks)
        fmt::print("{}: {}\n", one.kind == StatusKind::Fault ? "fault" : "note", one.text);
    for (const SetupMismatch& one : answer.differing) fmt::print("not as the gauge counts: {}\n", one.text);
    for (const std::string& one : answer.impossible) fmt::print("not to be set: {}\n", one);
    if (!answer.timing.problem.empty())
        fmt::print("clock: {}{}\n", answer.timing.problem,
                   answer.timing.advice.empty() ? "" : "; set " + answer.timing.advice);
    for (const std::string& one : answer.unknown) fmt::print("{} configures nothing here: left out\n", one);
    for (const Mismatch& one : answer.mismatches) fmt::print("not as asked: {}\n", one.text);
}

/// Designations whose converter is set up by words, for an error's text.
std::string controllers() {
    std::string names;
    for (const RegisterMap& map : catalogue().registerMaps())
        if (!map.title.empty()) names += (names.empty() ? "" : ", ") + map.id;
    return names;
}

/// The gauge's part in an answer: what its converter must be set to, or where the words differ from it.
Expected<void> addGauge(const Options& options, const RegisterMap& map, std::vector<Setting>& settings, double clock_Hz,
                        Expected<GaugeSpec>& spec, Answer& answer) {
    if (options.gauge.empty()) return {};
    spec = readGaugeFile(options.gauge);
    if (!spec) return tl::unexpected(spec.error());
    if (map.converters.empty())
        return fail(ErrorCode::Unsupported, "--gauge", map.id + ", which is no converter",
                    "a converter's words, of " + controllers() + ", ads1115 …");
    if (clock_Hz > 0) spec->converter.parameters.set("setup_clock_Hz", clock_Hz);
    ConverterSetup setup = setupFor(map, *spec, catalogue());
    answer.impossible = setup.impossible;
    if (!options.explain.empty()) return {};
    // What is typed goes over what follows from the gauge.
    setup.settings.insert(setup.settings.end(), settings.begin(), settings.end());
    settings = std::move(setup.settings);
    return {};
}

int run(const Options& options) {
    const DevicePart* part = catalogue().findDevicePart(options.part);
    const RegisterMap* map = catalogue().findRegisterMap(part ? part->id : options.part);
    if (!part && !map)
        return refuse({ErrorCode::Unknown, "part", "“" + options.part + "”",
                       "a digital part of the catalogue (fgauge parts), or a controller: " + controllers()});
    if (!map)
        return refuse({ErrorCode::Unsupported, "part",
                       part->id + (part->nothingToSet.empty() ? "" : ": " + part->nothingToSet),
                       "a part that has something to configure"});
    if (options.address > 0x7F)
        return refuse(
            {ErrorCode::Range, "--address", fmt::format("0x{:X}", options.address), "a bus address, 0x08 to 0x77"});
    const auto isOf = [&](const BusAddress& one) { return one.address == options.address; };
    if (options.address != 0 && part && !part->addresses.empty() &&
        std::none_of(part->addresses.begin(), part->addresses.end(), isOf)) {
        std::string known;
        for (const BusAddress& one : part->addresses)
            known += fmt::format("{}0x{:02X}", known.empty() ? "" : ", ", one.address);
        return refuse({ErrorCode::Range, "--address", fmt::format("{} (0x{:02X})", options.address, options.address),
                       fmt::format("an address {} can have: {}; without 0x a number is decimal", part->id, known)});
    }
    Options shown = options;
    shown.part = part ? part->id : map->id;
    double clock_Hz = 0;
    if (!options.clock.empty()) {
        const auto clock = readValue(options.clock, Quantity::Frequency);
        if (!clock) return refuse(clock.error().within("--clock"));
        clock_Hz = clock->canonical;
    }
    auto settings = RegisterMap::readSettings(options.set);
    if (!settings) return refuse(settings.error());
    Answer answer;
    Expected<GaugeSpec> gauge = GaugeSpec();
    if (const auto added = addGauge(options, *map, *settings, clock_Hz, gauge, answer); !added)
        return refuse(added.error());
    if (part) answer.place = {busKindOf(part->interface), options.address};
    if (part && answer.place.address == 0 && !part->addresses.empty())
        answer.place.address = part->addresses.front().address;
    if (options.explain.empty()) {
        const auto words = map->set(*settings);
        if (!words) return refuse(words.error().within(shown.part));
        answer.words = *words;
        if (settings->empty())
            for (const Register& one : map->registers) answer.words.push_back({&one, one.reset});
    } else {
        const auto raw = readDump(map->withAddresses(options.explain));
        if (!raw) return refuse(raw.error().within("--explain"));
        const auto words = map->words(*raw, &answer.unknown);
        if (!words) return refuse(words.error().within(shown.part));
        if (words->empty())
            return refuse({ErrorCode::Unknown, shown.part, "register " + answer.unknown.front(),
                           "one of the registers that configure it"});
        const auto mismatches = map->compare(*words, *settings);
        if (!mismatches) return refuse(mismatches.error().within(shown.part));
        answer.words = *words;
        answer.mismatches = *mismatches;
    }
    answer.scratchpad = scratchpadTransactions(*map, answer.words, answer.place);
    answer.fields = map->explain(answer.words);
    if (!options.gauge.empty()) answer.differing = checkSetup(*map, answer.words, *gauge, catalogue());
    answer.timing = setupTiming(*map, answer.words, clock_Hz);
    answer.consequences = part ? consequencesFor(*part, *map, map->all(answer.words)) : answer.timing.consequences;
    answer.checks = checkSettings(map->all(answer.words));
    options.json ? printJson(shown, answer) : printText(answer);
    const bool isFault = std::any_of(answer.checks.begin(), answer.checks.end(),
                                     [](const DeviceStatus& one) { return one.kind == StatusKind::Fault; });
    return answer.mismatches.empty() && answer.differing.empty() && answer.timing.problem.empty() && !isFault ? kFine
                                                                                                              : kFault;
}

}  // namespace

void addRegisters(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb =
        program.verb("registers", "Set a device's or a converter's registers by meaning, or read what words mean");
    verb.required("part", options->part, "designation, such as bme280; of a controller's converter atmega328p");
    verb.option("--set", options->set,
                "osrs_t=x16,mode=normal,standby=1000ms: gives the words; with --explain: what the words are to do");
    verb.option("--explain", options->explain,
                "words to read, \"F4=27 F5=A0\"; exit code 1 when they do not do what --set says");
    verb.option("--address", options->address,
                "of the device on the bus, for the transactions; its first one when left out");
    verb.option("--gauge", options->gauge,
                "of a converter: the words with which it counts as this gauge does; with --explain: where they do not");
    verb.option("--clock", options->clock, "of the controller, \"16 MHz\", for the converter's clock and time");
    verb.flag("--json", options->json, "one JSON object instead of text");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
