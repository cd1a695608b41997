#include "bench/gauge_json.h"
#include "units/text_file.h"

#include "catalogue/json_fields.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

constexpr double kMostDecimals = 9;

void refuseUnknownFields(JsonFields& fields, std::initializer_list<const char*> known) {
    if (!fields.json().is_object()) return;
    for (const auto& [name, value] : fields.json().items()) {
        if (std::find(known.begin(), known.end(), name) != known.end()) continue;
        std::string list;
        for (const char* other : known) list += (list.empty() ? "" : ", ") + std::string(other);
        fields.refuse(ErrorCode::Unknown, name, "a field that is not known here", "one of " + list);
    }
}

std::vector<CalibrationPoint> readPoints(JsonFields& correction, const char* name) {
    std::vector<CalibrationPoint> points;
    if (!correction.has(name)) return points;
    const auto& list = correction.at(name);
    if (!list.is_array()) {
        correction.refuse(ErrorCode::Syntax, name, describe(list), "a list of points");
        return points;
    }
    for (std::size_t i = 0; i < list.size(); ++i) {
        JsonFields fields(list[i], fmt::format("correction.{}[{}]", name, i));
        refuseUnknownFields(fields, {"reading", "reference", "u", "set_aside", "note", "time", "stated"});
        const auto given = [&](const char* field) {
            if (!fields.has(field)) fields.refuse(ErrorCode::Missing, field, "nothing", "a number");
            return fields.numberOr(field, 0);
        };
        CalibrationPoint point{given("reading"), given("reference"), fields.numberOr("u", 0)};
        point.setAside = fields.textOr("set_aside", "");
        point.note = fields.textOr("note", "");
        point.time = fields.textOr("time", "");
        point.stated = fields.textOr("stated", "");
        if (!(point.u >= 0))
            fields.refuse(ErrorCode::Range, "u", plainNumber(point.u), "a standard uncertainty, 0 or more");
        correction.adopt(fields);
        points.push_back(std::move(point));
    }
    return points;
}

CorrectionSpec readCorrection(JsonFields& gauge) {
    CorrectionSpec correction;
    if (!gauge.has("correction")) return correction;
    JsonFields fields = gauge.object("correction");
    refuseUnknownFields(fields,
                        {"kind", "offset", "slope", "quadratic", "cubic", "centre", "uncertainty",
                         "reference_uncertainty", "points", "parameters", "with", "time", "check", "repeat_days"});
    correction.kind = fields.text("kind");
    correction.offset = fields.numberOr("offset", 0);
    correction.slope = fields.numberOr("slope", 0);
    correction.quadratic = fields.numberOr("quadratic", 0);
    correction.cubic = fields.numberOr("cubic", 0);
    correction.centre = fields.numberOr("centre", 0);
    correction.uncertainty = fields.numberOr("uncertainty", 0);
    correction.reference = fields.numberOr("reference_uncertainty", 0);
    correction.points = readPoints(fields, "points");
    correction.check = readPoints(fields, "check");
    correction.repeat_days = fields.numberOr("repeat_days", 0);
    if (fields.has("parameters")) correction.parameters = fields.texts("parameters");
    correction.with = fields.textOr("with", "");
    correction.time = fields.textOr("time", "");
    gauge.adopt(fields);
    return correction;
}

nlohmann::ordered_json toJson(const CorrectionSpec& correction) {
    nlohmann::ordered_json json{{"kind", correction.kind}};
    if (correction == CorrectionSpec{}) return json;
    json["offset"] = correction.offset;
    const bool isLine = correction.kind == "line";
    if (isLine || correction.slope != 0) json["slope"] = correction.slope;
    const auto put = [&](const char* name, double value) {
        if (value != 0) json[name] = value;
    };
    put("quadratic", correction.quadratic);
    put("cubic", correction.cubic);
    put("centre", correction.centre);
    put("uncertainty", correction.uncertainty);
    put("reference_uncertainty", correction.reference);
    put("repeat_days", correction.repeat_days);
    for (const auto& [list, points] : {std::pair{"points", &correction.points}, {"check", &correction.check}})
        for (const CalibrationPoint& point : *points) {
            nlohmann::ordered_json one{{"reading", point.reading}, {"reference", point.reference}};
            if (point.u > 0) one["u"] = point.u;
            for (const auto& [name, text] : {std::pair{"set_aside", &point.setAside},
                                             {"note", &point.note},
                                             {"time", &point.time},
                                             {"stated", &point.stated}})
                if (!text->empty()) one[name] = *text;
            json[list].push_back(std::move(one));
        }
    if (!correction.parameters.empty()) json["parameters"] = correction.parameters;
    if (!correction.with.empty()) json["with"] = correction.with;
    if (!correction.time.empty()) json["time"] = correction.time;
    return json;
}

ReadingSpec readReading(JsonFields& gauge, Quantity quantity) {
    ReadingSpec reading;
    reading.unit = canonicalUnit(quantity).id;
    if (!gauge.has("reading")) return reading;
    JsonFields fields = gauge.object("reading");
    refuseUnknownFields(fields, {"unit", "span", "wanted", "decimals", "filter"});
    reading.unit = fields.textOr("unit", reading.unit);
    reading.span = fields.intervalOr("span", reading.span);
    reading.wanted = fields.numberOr("wanted", 0);
    if (fields.has("decimals")) {
        const double decimals = fields.numberOr("decimals", 0);
        if (decimals >= 0 && decimals <= kMostDecimals && decimals == std::floor(decimals))
            reading.decimals = static_cast<int>(decimals);
        else
            fields.refuse(ErrorCode::Range, "decimals", plainNumber(decimals), "a whole number, 0 to 9");
    }
    if (const auto unit = unitFromId(reading.unit, quantity); !unit)
        fields.refuse(ErrorCode::Unknown, "unit", unit.error().found, unit.error().expected);
    if (fields.has("filter")) {
        JsonFields filter = fields.object("filter");
        refuseUnknownFields(filter, {"kind", "count", "alpha"});
        reading.filter.kind = filter.text("kind");
        constexpr std::array kKinds{"none", "mean", "median", "exponential", "gate"};
        if (std::find(kKinds.begin(), kKinds.end(), reading.filter.kind) == kKinds.end())
            filter.refuse(ErrorCode::Unknown, "kind", "“" + reading.filter.kind + "”",
                          "none, mean, median, exponential or gate");
        reading.filter.count = static_cast<std::size_t>(filter.wholeOr("count", 16, 1, 10'000));
        reading.filter.alpha = filter.numberOr("alpha", reading.filter.alpha);
        if (!(reading.filter.alpha > 0 && reading.filter.alpha <= 1))
            filter.refuse(ErrorCode::Range, "alpha", plainNumber(reading.filter.alpha), "above 0, at most 1");
        fields.adopt(filter);
    }
    gauge.adopt(fields);
    return reading;
}

std::optional<AlarmRule> readAlarm(JsonFields& gauge) {
    if (!gauge.has("alarm")) return std::nullopt;
    JsonFields fields = gauge.object("alarm");
    refuseUnknownFields(fields, {"high", "low", "dead_band", "delay_s", "latched"});
    AlarmRule rule;
    if (fields.has("high")) rule.high = fields.numberOr("high", 0);
    if (fields.has("low")) rule.low = fields.numberOr("low", 0);
    rule.band = fields.numberOr("dead_band", 0);
    rule.delay_s = fields.numberOr("delay_s", 0);
    if (fields.has("latched")) {
        const auto& latched = fields.at("latched");
        if (latched.is_boolean())
            rule.isLatched = latched.get<bool>();
        else
            fields.refuse(ErrorCode::Syntax, "latched", describe(latched), "true or false");
    }
    if (const auto good = checkRule(rule); !good)
        fields.refuse(good.error().code, good.error().where.c_str(), good.error().found, good.error().expected);
    gauge.adopt(fields);
    return rule;
}

LinkedInput linkIn(JsonFields& fields) {
    return {fields.wholeOr("id", 0, 0, std::numeric_limits<int>::max()), fields.text("gauge")};
}

nlohmann::ordered_json linkJson(const LinkedInput& link) {
    nlohmann::ordered_json json{{"gauge", link.name}};
    if (link.gauge != 0) json["id"] = link.gauge;
    return json;
}

std::map<std::string, LinkedInput> readInputs(JsonFields& gauge) {
    std::map<std::string, LinkedInput> inputs;
    if (!gauge.has("inputs")) return inputs;
    JsonFields fields = gauge.object("inputs");
    if (fields.json().is_object())
        for (const auto& [field, input] : fields.json().items()) {
            if (!field.starts_with("sensor.") && !field.starts_with("wiring.") && !field.starts_with("converter."))
                fields.refuse(ErrorCode::Unknown, field, "a field that takes no reading",
                              "a field of a stage, like sensor.cold_junction_degC");
            else if (input.is_string())  // as earlier versions wrote it
                inputs[field] = {0, fields.text(field.c_str())};
            else {
                JsonFields one = fields.object(field.c_str());
                inputs[field] = linkIn(one);
                fields.adopt(one);
            }
        }
    gauge.adopt(fields);
    return inputs;
}

}  // namespace

Expected<GaugeSpec> readGauge(const std::string& text, const std::string& file) {
    return guarded(file, [&]() -> Expected<GaugeSpec> {
        const auto json = parseJson(text, file);
        if (!json) return tl::unexpected(json.error());
        JsonFields fields(*json, file);
        if (fields.error()) return tl::unexpected(*fields.error());
        const double version = fields.numberOr("fairgauge", 0);
        if (!fields.has("fairgauge"))
            fields.refuse(ErrorCode::Foreign, "fairgauge", "nothing", "\"fairgauge\": 1, the mark of a gauge file");
        else if (version > kGaugeFileVersion)
            fields.refuse(ErrorCode::Newer, "fairgauge", fmt::format("{}", version),
                          fmt::format("at most {}; this file was written by a later version", kGaugeFileVersion));
        else if (version != kGaugeFileVersion)
            fields.refuse(ErrorCode::Range, "fairgauge", fmt::format("{}", version),
                          fmt::format("{}", kGaugeFileVersion));
        refuseUnknownFields(fields,
                            {"$schema", "fairgauge", "name", "note", "quantity", "sensor", "wiring", "converter",
                             "correction", "reading", "inputs", "beside", "channel", "cautions", "examples", "alarm"});

        GaugeSpec spec;
        spec.name = fields.text("name");
        spec.note = fields.textOr("note", "");
        spec.quantity = fields.readable("quantity");
        JsonFields sensor = fields.object("sensor");
        refuseUnknownFields(sensor, {"part", "parameters"});
        spec.sensor = {sensor.text("part"), sensor.parametersIn("parameters")};
        fields.adopt(sensor);
        if (fields.has("wiring")) {
            JsonFields wiring = fields.object("wiring");
            spec.wiring = {wiring.text("kind"), wiring.parametersExcept({"kind"})};
            fields.adopt(wiring);
        }
        JsonFields converter = fields.object("converter");
        spec.converter = {converter.textOr("kind", "adc"), converter.textOr("part", ""),
                          converter.parametersExcept({"kind", "part"})};
        fields.adopt(converter);
        spec.correction = readCorrection(fields);
        spec.reading = readReading(fields, spec.quantity);
        spec.inputs = readInputs(fields);
        if (fields.has("beside")) {
            JsonFields beside = fields.object("beside");
            spec.beside = linkIn(beside);
            fields.adopt(beside);
        }
        spec.channel = fields.textOr("channel", "");
        spec.cautions = fields.texts("cautions");
        const auto examples = fields.texts("examples");
        spec.examples = {examples.begin(), examples.end()};
        spec.alarm = readAlarm(fields);
        if (fields.error()) return tl::unexpected(*fields.error());
        return spec;
    });
}

std::string writeGauge(const GaugeSpec& spec) {
    nlohmann::ordered_json json;
    json["fairgauge"] = kGaugeFileVersion;
    json["name"] = spec.name;
    if (!spec.note.empty()) json["note"] = spec.note;
    json["quantity"] = quantityName(spec.quantity);
    json["sensor"]["part"] = spec.sensor.part;
    if (!spec.sensor.parameters.all().empty()) json["sensor"]["parameters"] = toJson(spec.sensor.parameters);
    json["wiring"]["kind"] = spec.wiring.kind;
    json["wiring"].update(nlohmann::ordered_json(toJson(spec.wiring.parameters)));
    json["converter"]["kind"] = spec.converter.kind;
    if (!spec.converter.part.empty()) json["converter"]["part"] = spec.converter.part;
    json["converter"].update(nlohmann::ordered_json(toJson(spec.converter.parameters)));
    json["correction"] = toJson(spec.correction);
    json["reading"]["unit"] = spec.reading.unit;
    json["reading"]["span"] = {fileNumber(spec.reading.span.low), fileNumber(spec.reading.span.high)};
    if (spec.reading.wanted > 0) json["reading"]["wanted"] = fileNumber(spec.reading.wanted);
    if (const FilterSpec& filter = spec.reading.filter; filter != FilterSpec{})
        json["reading"]["filter"] = {{"kind", filter.kind}, {"count", filter.count}, {"alpha", filter.alpha}};
    if (spec.reading.decimals) json["reading"]["decimals"] = *spec.reading.decimals;
    for (const auto& [field, input] : spec.inputs) json["inputs"][field] = linkJson(input);
    if (!spec.beside.name.empty()) json["beside"] = linkJson(spec.beside);
    if (!spec.channel.empty()) json["channel"] = spec.channel;
    if (!spec.cautions.empty()) json["cautions"] = spec.cautions;
    if (!spec.examples.empty()) json["examples"] = spec.examples;
    if (spec.alarm) {
        nlohmann::ordered_json& alarm = json["alarm"];
        if (spec.alarm->high) alarm["high"] = *spec.alarm->high;
        if (spec.alarm->low) alarm["low"] = *spec.alarm->low;
        alarm["dead_band"] = spec.alarm->band;
        if (spec.alarm->delay_s > 0) alarm["delay_s"] = spec.alarm->delay_s;
        if (spec.alarm->isLatched) alarm["latched"] = true;
    }
    return jsonText(json, 2) + "\n";
}

Expected<GaugeSpec> readGaugeFile(const std::string& path) {
    const auto text = readTextFile(path, "a gauge file");
    if (!text) return tl::unexpected(text.error());
    return readGauge(*text, path);
}

}  // namespace fg
