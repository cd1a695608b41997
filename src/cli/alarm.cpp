#include "alarms/device_alarm.h"
#include "alarms/trial.h"
#include "gauge/gauge.h"
#include "output.h"
#include "recording/track_reader.h"
#include "recording/worked_out.h"
#include "recording_choice.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fmt/core.h>
#include <algorithm>
#include <cmath>
#include <limits>

namespace fg::cli {
namespace {

struct Options {
    std::string bench, gauge, recording, high, low, band, delay, every;
    bool isLatched = false, now = false, json = false;
};

Expected<std::optional<double>> valueOf(const std::string& option, const std::string& text, const Gauge& gauge) {
    if (text.empty()) return std::optional<double>();
    const auto read = readValue(text, gauge.spec().quantity, &gauge.unit());
    if (!read) return tl::unexpected(read.error().within(option));
    return std::optional(read->canonical);
}

Expected<double> secondsOf(const std::string& option, const std::string& text) {
    if (text.empty()) return 0.0;
    const auto read = readValue(text, Quantity::Time);
    if (!read) return tl::unexpected(read.error().within(option));
    return read->canonical;
}

Expected<AlarmRule> ruleOf(const Options& options, const Gauge& gauge) {
    AlarmRule rule;
    const auto high = valueOf("--high", options.high, gauge), low = valueOf("--low", options.low, gauge);
    if (!high || !low) return tl::unexpected(high ? low.error() : high.error());
    rule.high = *high;
    rule.low = *low;
    if (!options.band.empty()) {
        const auto band = readDifference(options.band, gauge.spec().quantity, &gauge.unit());
        if (!band) return tl::unexpected(band.error().within("--dead-band"));
        rule.band = *band;
    }
    const auto delay_s = secondsOf("--delay", options.delay);
    if (!delay_s) return tl::unexpected(delay_s.error());
    rule.delay_s = *delay_s;
    rule.isLatched = options.isLatched;
    if (const auto good = checkRule(rule); !good) return tl::unexpected(good.error());
    return rule;
}

void printReached(const ReachedReadings& reached, const Gauge& gauge) {
    const Unit& unit = gauge.unit();
    const auto text = [&](double canonical) { return plainNumber(unit.fromCanonical(canonical), 6); };
    if (reached.highOn)
        fmt::print("  high: goes on at {} {}, off again at {} {}\n", text(*reached.highOn), unit.symbol,
                   text(*reached.highOff), unit.symbol);
    if (reached.lowOn)
        fmt::print("  low:  goes on at {} {}, off again at {} {}\n", text(*reached.lowOn), unit.symbol,
                   text(*reached.lowOff), unit.symbol);
    fmt::print("  one step of the reading there is {} {}\n", plainNumber(unit.differenceFromCanonical(reached.step), 3),
               unit.symbol);
}

int print(const Options& options, const Gauge& gauge, const AlarmTrial& trial, const Expected<DeviceAlarm>& own) {
    const auto& [reached, neverOn, advice, tried] = trial;
    const Unit& unit = gauge.unit();
    const auto amount = [&](double canonical) { return unit.differenceFromCanonical(canonical); };
    if (options.json) {
        auto list = nlohmann::ordered_json::array();
        for (const AlarmTried& one : tried)
            list.push_back({{"dead_band", amount(one.rule.band)},
                            {"every_s", one.every_s},
                            {"switchings", one.replay.switchings},
                            {"per_day", one.replay.perDay()},
                            {"on_s", one.replay.on_s},
                            {"longest_s", one.replay.longest_s},
                            {"peak", jsonNumber(unit.fromCanonical(one.replay.peak))}});
        nlohmann::ordered_json json{{"unit", unit.id}, {"suggested_dead_band", amount(advice.band)}};
        const auto value = [&](const std::optional<double>& canonical) {
            return canonical ? jsonNumber(unit.fromCanonical(*canonical)) : nlohmann::ordered_json(nullptr);
        };
        if (reached)
            json["reached"] = {{"high_on", value(reached->highOn)},
                               {"high_off", value(reached->highOff)},
                               {"low_on", value(reached->lowOn)},
                               {"low_off", value(reached->lowOff)},
                               {"step", amount(reached->step)}};
        if (own) {
            for (const Setting& one : own->settings) json["device_alert"]["settings"][one.id] = one.value;
            for (const RegisterWord& one : own->words) json["device_alert"]["words"][one.in->name] = one.text();
            json["device_alert"]["notes"] = own->notes;
        }
        json["replayed"] = list;
        printJsonText(json);
        return kFine;
    }
    fmt::print("{}\n", plainLine(gauge.spec().name));
    if (reached)
        printReached(*reached, gauge);
    else
        fmt::print("  {}\n", neverOn->message());
    if (own)
        fmt::print("  in the device's own registers: {}\n", deviceAlarmText(*own));
    else if (gauge.digital())
        fmt::print("  no alert of the device itself: {}\n", own.error().message());
    fmt::print("  suggested dead band: {} {} (noise {}, drift in a minute {}, two steps {})\n\n",
               significantDigits(amount(advice.band), 2), unit.symbol, significantDigits(amount(advice.fromNoise), 2),
               significantDigits(amount(advice.fromDrift), 2), significantDigits(amount(advice.fromSteps), 2));
    fmt::print("  {:>12}  {:>10}  {:>9}  {:>9}  {:>10}  {:>10}\n", "dead band", "read every", "went on", "a day",
               "on for", "farthest");
    for (const AlarmTried& one : tried)
        fmt::print("  {:>12}  {:>10}  {:>9}  {:>9}  {:>8} s  {:>10}\n", significantDigits(amount(one.rule.band), 3),
                   one.every_s > 0 ? fmt::format("{:g} s", one.every_s) : "as it came", one.replay.switchings,
                   significantDigits(one.replay.perDay(), 3), fmt::format("{:.0f}", one.replay.on_s),
                   std::isnan(one.replay.peak) ? "–" : plainNumber(unit.fromCanonical(one.replay.peak), 5));
    fmt::print(
        "\nIt only warns. What switches heat, pumps or mains needs an independent cut-out; local codes come first.\n");
    return kFine;
}

int run(const Options& options) {
    const auto stored = BenchFile::look(options.bench);
    if (!stored) return refuse(stored.error());
    const auto store = BenchFile::lookAtRecordings(options.bench);
    if (!store) return refuse(store.error());
    const auto all = (*store)->recordings();
    if (!all) return refuse(all.error());
    auto recording = recordingOf(*all, options.recording);
    if (!recording) return refuse(recording.error());
    *recording = withWorkedOut(std::move(*recording), stored->bench);
    const auto track = std::find_if(recording->tracks.begin(), recording->tracks.end(),
                                    [&](const Track& one) { return one.newest().name == options.gauge; });
    if (track == recording->tracks.end())
        return refuse({ErrorCode::Unknown, "--gauge", "“" + options.gauge + "”", "a gauge of the recording"});
    auto reader =
        TrackReader::make(**store, *recording, track->gauge, options.now ? Conversion::AsNow : Conversion::AsRecorded,
                          stored->bench, catalogue());
    if (!reader) return refuse(reader.error());
    const auto gauge = Gauge::make(reader->gaugeAt(std::numeric_limits<Micros>::max()), catalogue());
    if (!gauge) return refuse(gauge.error());
    const auto rule = ruleOf(options, *gauge);
    if (!rule) return refuse(rule.error());
    const auto every_s = secondsOf("--every", options.every);
    if (!every_s) return refuse(every_s.error());

    const auto trial = tryAlarm(*reader, recording->span(), *gauge, *rule, *every_s);
    if (!trial) return refuse(trial.error());
    return print(options, *gauge, *trial, deviceAlarm(*gauge, catalogue(), *rule));
}

}  // namespace

void addAlarm(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb =
        program.verb("alarm", "What an alarm would have done over a recording, and a dead band that does not chatter");
    verb.required("bench", options->bench, "bench file with recordings");
    verb.required("--gauge", options->gauge, "name of the gauge");
    verb.option("--recording", options->recording, "its number or name; without it the newest");
    verb.option("--high", options->high, "goes on above this: \"63 °C\"");
    verb.option("--low", options->low, "goes on below this");
    verb.option("--dead-band", options->band, "how far back it goes off again: \"1 °C\"");
    verb.option("--delay", options->delay, "how long beyond before it goes on: 10s");
    verb.option("--every", options->every, "look at one reading in so long: 60s");
    verb.flag("--latched", options->isLatched, "it stays on until it is acknowledged");
    verb.flag("--now", options->now, "convert with the gauge as it is now");
    verb.flag("--json", options->json, "one JSON object instead of text");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
