#include "inline_gauge.h"

#include "output.h"
#include "verb.h"

#include "bench/gauge_json.h"
#include "converters/kind.h"
#include "path/analog_path.h"
#include "path/default_gauge.h"
#include "path/digital_path.h"
#include "path/examples.h"
#include "path/gauge_field.h"
#include "sensors/family.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "wiring/kind.h"

#include <fmt/core.h>
#include <algorithm>
#include <cmath>
#include <map>
#include <vector>

namespace fg::cli {
namespace {

struct Setting {
    std::string name;  ///< empty: a bare word
    std::string value;
};

/// name=value and bare words between commas. What follows a list of pairs, 25:314,85:380, belongs to it.
std::vector<Setting> settingsOf(const std::string& text) {
    std::vector<Setting> settings;
    std::size_t begin = 0;
    while (begin < text.size()) {
        const std::size_t end = std::min(text.find(',', begin), text.size());
        const std::string piece = text.substr(begin, end - begin);
        const std::size_t equals = piece.find('=');
        const bool goesOn = equals == std::string::npos && !settings.empty() && piece.find(':') != std::string::npos &&
                            settings.back().value.find(':') != std::string::npos;
        if (goesOn)
            settings.back().value += "," + piece;
        else if (!piece.empty())
            settings.push_back(equals == std::string::npos
                                   ? Setting{"", piece}
                                   : Setting{piece.substr(0, equals), piece.substr(equals + 1)});
        begin = end + 1;
    }
    return settings;
}

/// Short names that people use for what the files spell out.
std::string spelledOut(const std::string& name) {
    static const std::map<std::string, std::string> names{
        {"vref", "reference_V"}, {"law", "code_law"},   {"measured", "reference_measured_V"},
        {"gate", "gate_s"},      {"clock", "clock_Hz"}, {"reference", "reference_kind"},
        {"noise", "noise_V"},    {"rate", "rate_Hz"}};
    const auto it = names.find(name);
    return it == names.end() ? name : it->second;
}

/// Reads a value as its parameter wants it; what no parameter claims is a text. Answers the parameter's name.
Expected<std::string> set(Parameters& parameters, const Setting& setting, const std::vector<ParameterSpec>& known,
                          const std::string& option) {
    const std::string name = spelledOut(setting.name);
    for (const ParameterSpec& spec : known) {
        const bool isTolerance = !spec.toleranceId.empty() && spec.toleranceId == name;
        if ((spec.id != name && !isTolerance) || spec.isText) continue;
        const bool isRelative = isTolerance && spec.tolerance == ToleranceKind::Relative;
        const bool isDifference =
            isTolerance || spec.id.starts_with("accuracy_") || spec.id.starts_with("signal_tolerance_");
        const auto value =
            isRelative
                ? readValue(setting.value, Quantity::Ratio).map([](const ReadValue& read) { return read.canonical; })
            : isDifference
                ? readDifference(setting.value, spec.quantity)
                : readValue(setting.value, spec.quantity).map([](const ReadValue& read) { return read.canonical; });
        if (!value) return tl::unexpected(value.error().within(option + " " + name));
        parameters.set(name, *value);
        return name;
    }
    parameters.set(name, setting.value);
    return name;
}

/// Pairs as they were typed: the output with a unit, or as a plain number of which the unit is still to be found.
struct TypedPoints {
    std::vector<Point> points;
    std::vector<bool> isPlain;
};

Expected<TypedPoints> readPairs(const std::string& text, Quantity measurand, Quantity output,
                                const std::string& where) {
    TypedPoints typed;
    std::size_t begin = 0;
    while (begin < text.size()) {
        const std::size_t end = std::min(text.find(',', begin), text.size());
        const std::string pair = text.substr(begin, end - begin);
        begin = end + 1;
        const std::size_t colon = pair.find(':');
        if (colon == std::string::npos)
            return fail(ErrorCode::Syntax, where, "“" + pair + "”", "a pair like 25:0.314V");
        const auto x = readValue(pair.substr(0, colon), measurand);
        if (!x) return tl::unexpected(x.error().within(where));
        const auto plain = readValue(pair.substr(colon + 1), Quantity::Count);
        typed.isPlain.push_back(plain.has_value());
        if (plain) {
            typed.points.push_back({x->canonical, plain->canonical});
            continue;
        }
        const auto y = readValue(pair.substr(colon + 1), output);
        if (!y) return tl::unexpected(y.error().within(where));
        typed.points.push_back({x->canonical, y->canonical});
    }
    return typed;
}

/// Points of a voltage typed as plain numbers: codes of the stated converter where they are whole and more than its
/// full scale in volts can be, else volts. Points of another signal are in its unit.
Expected<std::vector<Point>> inUnits(TypedPoints typed, Quantity output, const std::optional<Converter>& converter,
                                     const std::string& where) {
    if (output != Quantity::Voltage) return typed.points;
    bool areCodes = false;
    for (std::size_t i = 0; i < typed.points.size(); ++i)
        areCodes = areCodes || (typed.isPlain[i] && converter && typed.points[i][1] > converter->fullScale());
    if (!areCodes) return typed.points;
    std::string told;
    for (std::size_t i = 0; i < typed.points.size(); ++i) {
        double& y = typed.points[i][1];
        if (!typed.isPlain[i] || y != std::floor(y) || !converter->canGive(y))
            return fail(ErrorCode::Ambiguous, where, plainNumber(y),
                        "volts for every point (0.314V), or whole codes of the converter");
        const double volts = converter->inputOf(y);
        told += (told.empty() ? "" : ", ") + plainNumber(y) + " is " +
                shortEngineering(volts, Quantity::Voltage, 4).joined();
        y = volts;
    }
    fmt::print(stderr, "fgauge: {}: taken as codes of the converter, {}\n", where, told);
    return typed.points;
}

/// The converter as far as it is known, for points in its codes.
std::optional<Converter> converterOf(const GaugeSpec& spec, const Catalogue& catalogue) {
    const ConverterKind* kind = findConverterKind(spec.converter.kind);
    if (!kind || spec.examples.count("converter.part")) return std::nullopt;
    auto made = kind->make(effectiveConverter(spec, catalogue));
    return made ? std::optional(*made) : std::nullopt;
}

Expected<void> readSensor(GaugeSpec& spec, const std::string& text, const Part& part, const Catalogue& catalogue) {
    const SensorFamily& family = *findSensorFamily(part.family);
    std::vector<ParameterSpec> known = family.parameters(part.quantity);
    for (ParameterSpec& one : pieceParameters(part.quantity, family.output)) known.push_back(std::move(one));
    const auto converter = converterOf(spec, catalogue);
    for (Setting setting : settingsOf(text)) {
        const std::string where = "--sensor " + setting.name;
        // “points” and “table” are whatever list of pairs the family takes.
        const auto points =
            std::find_if(known.begin(), known.end(), [](const ParameterSpec& one) { return one.isPoints; });
        if (points != known.end() &&
            (setting.name == "points" || setting.name == "table" || setting.name == points->id)) {
            const auto typed = readPairs(setting.value, part.quantity, family.output, where);
            if (!typed) return tl::unexpected(typed.error());
            const auto list = inUnits(*typed, family.output, converter, where);
            if (!list) return tl::unexpected(list.error());
            spec.sensor.parameters.set(points->id, *list);
            spec.examples.erase("sensor." + points->id);
            continue;
        }
        if (setting.name == "accuracy") setting.name += "_" + std::string(canonicalUnit(part.quantity).id);
        if (setting.name == "tolerance" && points != known.end()) {
            setting.name = "signal_tolerance_" + std::string(canonicalUnit(family.output).id);
            // A plain number is in codes where the points are.
            const auto plain = readValue(setting.value, Quantity::Count);
            if (plain && family.output == Quantity::Voltage && converter && plain->canonical > converter->fullScale())
                setting.value = shortestText(plain->canonical * converter->lsb());
        }
        const auto name = set(spec.sensor.parameters, setting, known, "--sensor");
        if (!name) return tl::unexpected(name.error());
        spec.examples.erase("sensor." + *name);
    }
    return {};
}

Expected<void> readConverter(GaugeSpec& spec, const std::string& text, const Catalogue& catalogue) {
    const auto settings = settingsOf(text);
    if (settings.empty()) return {};
    // Values of one's own replace the suggested converter; a converter's id keeps its own.
    spec.converter.part.clear();
    spec.converter.parameters = {};
    spec.examples.erase("converter.part");
    for (const Setting& setting : settings) {
        if (setting.name.empty()) {
            const ConverterPart* part = catalogue.findConverter(setting.value);
            if (!part)
                return fail(ErrorCode::Unknown, "--adc", "“" + setting.value + "”",
                            "a converter of the catalogue, or name=value pairs");
            spec.converter.part = part->id;
            spec.converter.kind = part->kind;
            continue;
        }
        const auto done =
            set(spec.converter.parameters, setting, findConverterKind(spec.converter.kind)->parameters(), "--adc");
        if (!done) return tl::unexpected(done.error());
    }
    return {};
}

Expected<void> readWiring(GaugeSpec& spec, const std::string& text) {
    for (const Setting& setting : settingsOf(text)) {
        if (setting.name.empty()) {
            const WiringKind* kind = findWiringKind(setting.value);
            if (!kind) {
                std::string known;
                for (const WiringKind& each : wiringKinds())
                    known += (known.empty() ? "" : ", ") + std::string(each.id);
                return fail(ErrorCode::Unknown, "--wiring", "“" + setting.value + "”",
                            "a kind of wiring (" + known + "), or name=value pairs");
            }
            if (spec.wiring.kind == kind->id) continue;
            spec.wiring = {std::string(kind->id), {}};
            std::erase_if(spec.examples, [](const std::string& field) { return field.starts_with("wiring."); });
            continue;
        }
        const auto name =
            set(spec.wiring.parameters, setting, findWiringKind(spec.wiring.kind)->parameters(), "--wiring");
        if (!name) return tl::unexpected(name.error());
        spec.examples.erase("wiring." + *name);
        if (*name == "source_V") spec.wiring.parameters.set("source", std::string("rail"));
    }
    return {};
}

/// The unit of the reading, where one was asked for; the span stays what it is.
Expected<void> readUnit(GaugeSpec& spec, const std::string& text) {
    if (text.empty()) return {};
    const auto unit = unitFromId(text, spec.quantity);
    if (!unit) return tl::unexpected(unit.error().within("--unit"));
    const Interval span = spec.spanCanonical();
    spec.reading.unit = (*unit)->id;
    spec.reading.span = {(*unit)->fromCanonical(span.low), (*unit)->fromCanonical(span.high)};
    return {};
}

/// A digital part: its options and settings go by name, a bare word is the reading.
Expected<GaugeSpec> digitalGauge(const DevicePart& part, const InlineGauge& wish) {
    std::vector<Setting> settings = settingsOf(wish.sensor);
    std::string reading = part.readings.front(), registers;
    for (const Setting& one : settings)
        if (one.name.empty() || one.name == "reading") reading = one.value;
    if (std::find(part.readings.begin(), part.readings.end(), reading) == part.readings.end()) {
        std::string known;
        for (const std::string& one : part.readings) known += (known.empty() ? "" : ", ") + one;
        return fail(ErrorCode::Unknown, "--sensor", "“" + reading + "”", "a reading of " + part.id + ": " + known);
    }
    if (!wish.converter.empty() || !wish.wiring.empty())
        return fail(ErrorCode::Unsupported, wish.converter.empty() ? "--wiring" : "--adc",
                    part.id + ", which sends its reading over a bus", "--sensor alone: reading=…, options by name");
    GaugeSpec spec = defaultDeviceGauge(part, reading);
    spec.name = part.id;
    for (const Setting& one : settings) {
        if (one.name.empty() || one.name == "reading") continue;
        const auto options = part.device->options();
        const bool isOption = std::any_of(options.begin(), options.end(),
                                          [&](const OptionSpec& option) { return option.id == one.name; });
        if (isOption)
            spec.sensor.parameters.set(one.name, one.value);
        else
            registers += (registers.empty() ? "" : ",") + one.name + "=" + one.value;
    }
    if (!registers.empty()) spec.sensor.parameters.set("settings", registers);
    if (const auto done = readUnit(spec, wish.unit); !done) return tl::unexpected(done.error());
    return spec;
}

}  // namespace

void addGaugeOptions(Verb& verb, std::string& file, InlineGauge& wish) {
    verb.option("--gauge", file, "gauge file (JSON)");
    verb.option("--part", wish.part, "a catalogue part instead of a gauge file: tmp36, ntc, thermocouple-k");
    verb.option(
        "--adc", wish.converter,
        "its converter, id or name=value: bits=10,vref=5,law=2^n (also gain=, polarity=bipolar, measured=, word=)");
    verb.option("--wiring", wish.wiring, "its wiring: kind,name=value: divider,fixed_ohm=10k,sensor_side=low");
    verb.option("--sensor", wish.sensor,
                "what the part leaves open: r25_ohm=10k,beta_K=3950; pairs: points=25:0.314V,85:0.380V (or codes of "
                "the converter)");
}

Expected<GaugeSpec> gaugeWithoutFile(const InlineGauge& wish, const Catalogue& catalogue) {
    if (const DevicePart* digital = catalogue.findDevicePart(wish.part)) return digitalGauge(*digital, wish);
    const Part* part = catalogue.findPart(wish.part);
    if (!part) return tl::unexpected(catalogue.partOrFamily(wish.part, Quantity::Temperature).error().within("--part"));
    GaugeSpec spec = defaultGauge(*part);
    spec.name = part->title;
    if (const auto done = readConverter(spec, wish.converter, catalogue); !done) return tl::unexpected(done.error());
    if (const auto done = readSensor(spec, wish.sensor, *part, catalogue); !done) return tl::unexpected(done.error());
    if (const auto done = readWiring(spec, wish.wiring); !done) return tl::unexpected(done.error());
    if (const auto done = readUnit(spec, wish.unit); !done) return tl::unexpected(done.error());
    // What feeds a divider is only known where it was said, or where the reference is the supply.
    if (spec.wiring.kind == "divider" && wish.wiring.find("source") == std::string::npos)
        spec.wiring.parameters.remove("source");
    // A tolerance that nobody gave is not made up here: it is left out, and the budget says so.
    for (const ExampleValue& value : exampleValues(spec, catalogue))
        if (value.isTolerance) {
            parametersAt(spec, value.field).remove(fieldName(value.field));
            spec.examples.erase(value.field);
        }
    return spec;
}

Expected<Gauge> openGauge(const std::string& file, const InlineGauge& wish) {
    if (file.empty() == wish.part.empty())
        return fail(ErrorCode::Missing, "gauge", file.empty() ? "nothing" : "both",
                    "either --gauge FILE or --part ID with --adc");
    auto spec = file.empty() ? gaugeWithoutFile(wish, catalogue()) : readGaugeFile(file);
    if (!spec) return tl::unexpected(spec.error());
    if (const auto missing = missingValues(*spec, catalogue()))
        return tl::unexpected(file.empty() ? *missing : missing->within(file));
    auto gauge = Gauge::make(std::move(*spec), catalogue());
    if (!gauge && !file.empty()) return tl::unexpected(gauge.error().within(file));
    return gauge;
}

}  // namespace fg::cli
