#include "planning/plan.h"
#include "output.h"
#include "storage/bench_file.h"
#include "units/number_format.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>

namespace fg::cli {
namespace {

using Json = nlohmann::ordered_json;

std::string_view kindName(GroupKind kind) {
    switch (kind) {
        case GroupKind::I2c:
            return "i2c";
        case GroupKind::OneWire:
            return "1-wire";
        case GroupKind::Digital:
            return "digital";
        case GroupKind::Converter:
            break;
    }
    return "converter";
}

std::string_view segmentName(PlanSegment::Kind kind) {
    return kind == PlanSegment::Kind::Command ? "command" : kind == PlanSegment::Kind::Convert ? "convert" : "read";
}

Json namesOf(const Bench& bench, const std::vector<std::int64_t>& ids) {
    Json names = Json::array();
    for (const std::int64_t id : ids)
        if (const BenchGauge* gauge = bench.find(id)) names.push_back(gauge->spec.name);
    return names;
}

Json groupsJson(const Bench& bench, const BenchPlan& plan) {
    Json groups = Json::array();
    for (const PlanGroup& group : plan.groups) {
        Json places = Json::array();
        for (const PlanPlace& place : group.places)
            places.push_back({{"place", place.label},
                              {"part", place.part},
                              {"gauges", namesOf(bench, place.gauges)},
                              {"other", place.other},
                              {"free", place.isFree()}});
        Json one{{"kind", kindName(group.kind)}, {"line", group.line}, {"title", group.title}, {"places", places}};
        if (group.pullUp) {
            one["pull_up"] = {{"least_ohm", group.pullUp->least_ohm},
                              {"most_ohm", group.pullUp->most_ohm},
                              {"text", group.pullUp->text}};
            one["cable_m"] = group.cable_m;
            one["supply_V"] = group.supply_V;
        }
        groups.push_back(std::move(one));
    }
    return groups;
}

Json railsJson(const BenchPlan& plan) {
    Json rails = Json::array();
    for (const PlanRail& rail : plan.rails) {
        Json loads = Json::array();
        for (const PlanLoad& load : rail.loads)
            loads.push_back({{"who", load.who},
                             {"part", load.part},
                             {"measuring_A", load.isKnown ? jsonNumber(load.measuring_A) : Json(nullptr)},
                             {"resting_A", load.resting_A > 0 ? jsonNumber(load.resting_A) : Json(nullptr)}});
        Json one{{"name", rail.rail.name},        {"voltage_V", rail.rail.voltage_V},
                 {"peak_A", rail.peak_A},         {"average_A", rail.average_A},
                 {"constant_A", rail.constant_A}, {"typical", rail.typical},
                 {"unknown", rail.unknown},       {"loads", loads}};
        if (rail.rail.limit_A > 0) one["limit_A"] = rail.rail.limit_A;
        if (rail.life_h > 0) {
            one["life_h"] = rail.life_h;
            one["life_without_sleep_h"] = rail.constantLife_h;
        }
        rails.push_back(std::move(one));
    }
    return rails;
}

Json scheduleJson(const BenchPlan& plan) {
    Json rows = Json::array();
    for (const PlanRow& row : plan.schedule.rows) {
        Json segments = Json::array();
        for (const PlanSegment& segment : row.segments)
            segments.push_back(
                {{"what", segmentName(segment.kind)}, {"from_s", segment.from_s}, {"to_s", segment.to_s}});
        rows.push_back({{"who", row.who},
                        {"line", row.line},
                        {"least_s", row.least_s},
                        {"bus_s", row.bus_s},
                        {"segments", segments}});
    }
    return {{"busy_s", plan.schedule.busy_s},   {"fastest_s", plan.schedule.fastest_s},
            {"slowest", plan.schedule.slowest}, {"wanted_s", plan.schedule.wanted_s},
            {"fits", plan.schedule.fits},       {"rows", rows}};
}

Json cablesJson(const BenchPlan& plan) {
    Json cables = Json::array();
    for (const CableRun& run : plan.cables)
        cables.push_back({{"who", run.who},
                          {"conductors", run.conductors},
                          {"length_m", run.length_m > 0 ? Json(run.length_m) : Json(nullptr)},
                          {"drop_V", run.drop_V},
                          {"capacitance_F", run.capacitance_F}});
    return cables;
}

Json wiresJson(const Bench& bench, const BenchPlan& plan) {
    Json all = Json::array();
    for (const PinWires& one : plan.wires) {
        Json wires = Json::array();
        for (const Wire& wire : one.wires)
            wires.push_back({{"mark", wire.mark},
                             {"conductor", wire.conductor},
                             {"pin", wire.pin},
                             {"to", wire.to},
                             {"colour", wire.colour}});
        all.push_back({{"gauges", namesOf(bench, one.gauges)},
                       {"converter", one.converter},
                       {"part", one.part},
                       {"body", one.body},
                       {"wires", std::move(wires)},
                       {"beside", one.beside},
                       {"problem", one.problem},
                       {"source", one.source}});
    }
    return all;
}

Json planJson(const Bench& bench, const BenchPlan& plan) {
    Json parts = Json::array();
    for (const PartsLine& line : plan.parts)
        parts.push_back({{"count", line.count},
                         {"value", line.value},
                         {"what", line.what},
                         {"tolerance", line.tolerance},
                         {"where", line.where}});
    return {{"groups", groupsJson(bench, plan)},
            {"rails", railsJson(plan)},
            {"schedule", scheduleJson(plan)},
            {"cables", cablesJson(plan)},
            {"wires", wiresJson(bench, plan)},
            {"one_wire_m", plan.oneWire_m},
            {"parts", std::move(parts)},
            {"findings", findingsJson(plan.findings)},
            {"cautions", findingsJson(plan.cautions)}};
}

std::string seconds(double s) { return engineering(s, Quantity::Time, 3).joined(); }
std::string amperes(double a) { return engineering(a, Quantity::Current, 3).joined(); }

void printPlan(const Bench& bench, const BenchPlan& plan) {
    for (const PlanGroup& group : plan.groups) {
        fmt::print("{}\n", plainLine(group.title));
        int free = 0;
        for (const PlanPlace& place : group.places) {
            if (place.isFree())
                ++free;
            else
                fmt::print("  {:<5} {:<18} {}\n", place.label, place.part,
                           place.other.empty() ? jsonText(namesOf(bench, place.gauges)) : plainLine(place.other));
        }
        if (free > 0) fmt::print("  {} free\n", free);
        if (group.pullUp) fmt::print("  {}\n", plainLine(group.pullUp->text));
    }
    for (const PlanRail& rail : plan.rails) {
        fmt::print("{}: {} at the peak, {} on average{}{}\n", plainLine(rail.rail.name), amperes(rail.peak_A),
                   amperes(rail.average_A),
                   (rail.typical > 0 ? fmt::format(", {} of them a typical figure", rail.typical) : "") +
                       (rail.unknown > 0 ? fmt::format(", {} not known", rail.unknown) : ""),
                   rail.life_h > 0 ? fmt::format("; its cells last {}, without resting {}", lifeText(rail.life_h),
                                                 lifeText(rail.constantLife_h))
                                   : "");
    }
    fmt::print("one round takes {}, the fastest is one in {} ({})\n", seconds(plan.schedule.busy_s),
               seconds(plan.schedule.fastest_s), plainLine(plan.schedule.slowest));
    for (std::size_t i = 0; i < plan.wires.size(); ++i) {
        const PinWires& one = plan.wires[i];
        const double length_m = one.converter.empty() ? plan.cables[i].length_m : 0;
        fmt::print("wires of {} ({}{})\n", plainLine(one.who), one.part,
                   length_m > 0 ? fmt::format(", {} m", plainNumber(length_m, 4)) : "");
        for (const Wire& wire : one.wires)
            fmt::print("  {:<5} {:<18} {:<18} {}{}\n", wire.mark, wire.conductor, plainLine(wire.pin),
                       plainLine(wire.to), wire.colour.empty() ? "" : "; " + plainLine(wire.colour));
        for (const std::string& text : one.beside) fmt::print("        {}\n", plainLine(text));
        if (!one.problem.empty()) fmt::print("        not given yet: {}\n", plainLine(one.problem));
    }
    for (const PartsLine& line : plan.parts)
        fmt::print("  {} × {:<10} {} {}  {}\n", line.count, plainLine(line.value), plainLine(line.what), line.tolerance,
                   plainLine(line.where));
    printFindings(plan.findings);
    printFindings(plan.cautions);
}

struct Wanted {
    std::string bench;
    bool json = false, partsCsv = false, wiresCsv = false;
};

int run(const Wanted& wanted) {
    const auto stored = BenchFile::look(wanted.bench);
    if (!stored) return refuse(stored.error());
    warnOfUnread(*stored);
    const Bench& bench = stored->bench;
    const BenchPlan plan = planOf(bench, catalogue());
    if (wanted.partsCsv)
        fmt::print("{}", partsCsv(plan.parts));
    else if (wanted.wiresCsv)
        fmt::print("{}", wiresCsv(plan.wires));
    else if (wanted.json)
        printJsonText(planJson(bench, plan));
    else
        printPlan(bench, plan);
    const bool hasFault = std::any_of(plan.findings.begin(), plan.findings.end(),
                                      [](const Finding& f) { return f.severity == Severity::Fault; });
    return hasFault ? kFault : kFine;
}

}  // namespace

void addPlan(Verb& program) {
    auto wanted = std::make_shared<Wanted>();
    Verb verb = program.verb("plan",
                             "A whole bench laid out: pins, buses, supplies, one round of readings, wires pin by pin, "
                             "parts; exit code 1 for a "
                             "fault");
    verb.required("--bench", wanted->bench, "bench file");
    verb.flag("--json", wanted->json, "one JSON object instead of text");
    verb.flag("--parts-csv", wanted->partsCsv, "only the parts list, as CSV");
    verb.flag("--wires-csv", wanted->wiresCsv, "only the wires pin by pin, as CSV");
    verb.run([wanted] { return run(*wanted); });
}

}  // namespace fg::cli
