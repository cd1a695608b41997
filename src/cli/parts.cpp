#include "catalogue/json_fields.h"
#include "output.h"
#include "sensors/family.h"
#include "units/number_format.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>

namespace fg::cli {
namespace {

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
    for (const AccuracyBand& band : part.accuracy) json["accuracy"].push_back({{"span", interval(band.span)}, {"limit", band.limit}});
    json["supply_V"] = part.supply_V.high > 0 ? interval(part.supply_V) : nlohmann::ordered_json(nullptr);
    json["supply_A"] = part.supply_A;
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
        fmt::print("  accuracy      ± {} {} from {} to {} {}\n", plainNumber(band.limit), unit, plainNumber(band.span.low),
                   plainNumber(band.span.high), unit);
    if (part.supply_V.high > 0) fmt::print("  supply        {} to {} V\n", plainNumber(part.supply_V.low), plainNumber(part.supply_V.high));
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

int list(bool json) {
    auto array = nlohmann::ordered_json::array();
    for (const Part& part : catalogue().parts()) {
        if (json)
            array.push_back(partJson(part));
        else
            fmt::print("{:<24} {:<12} {}\n", part.id, quantityName(part.quantity), part.title);
    }
    if (json) fmt::print("{}\n", nlohmann::ordered_json{{"parts", array}}.dump(2));
    return kFine;
}

int show(const std::string& id, bool json) {
    const Part* part = catalogue().findPart(id);
    if (!part) {
        const auto unknown = catalogue().partOrFamily(id + " ", Quantity::Temperature);
        return refuse({ErrorCode::Unknown, "part", "“" + id + "”", unknown ? "a part of the catalogue" : unknown.error().expected});
    }
    if (json)
        fmt::print("{}\n", partJson(*part).dump(2));
    else
        printPart(*part);
    return kFine;
}

}  // namespace

void addParts(CLI::App& program, int& exitCode) {
    auto json = std::make_shared<bool>(false);
    auto id = std::make_shared<std::string>();
    CLI::App* all = program.add_subcommand("parts", "List the catalogue");
    all->add_flag("--json", *json, "one JSON object instead of text");
    all->callback([json, &exitCode] { exitCode = list(*json); });
    CLI::App* one = program.add_subcommand("part", "Show one part of the catalogue");
    one->add_option("id", *id, "designation, such as tmp36")->required();
    one->add_flag("--json", *json, "one JSON object instead of text");
    one->callback([id, json, &exitCode] { exitCode = show(*id, *json); });
}

}  // namespace fg::cli
