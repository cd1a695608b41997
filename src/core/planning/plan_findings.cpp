#include "planning/plan_items.h"

#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <map>

namespace fg::plan {
namespace {

std::string amperes(double value) { return engineering(value, Quantity::Current, 3).joined(); }

const BenchGauge* gaugeOf(const std::vector<Item>& items, std::int64_t id) {
    for (const Item& item : items)
        for (const BenchGauge* gauge : item.gauges)
            if (gauge->id == id) return gauge;
    return nullptr;
}

std::string namesAt(const std::vector<Item>& items, const PlanPlace& place) {
    std::string names;
    for (const std::int64_t id : place.gauges)
        if (const BenchGauge* gauge = gaugeOf(items, id)) names += (names.empty() ? "“" : ", “") + gauge->spec.name + "”";
    return names;
}

// Two on one pin, more gauges than pins, two at one address.
void crowded(const std::vector<Item>& items, const PlanGroup& group, std::vector<Finding>& findings) {
    std::map<std::string, std::string> atAddress;
    for (const PlanPlace& place : group.places) {
        if (!place.isTwice) continue;
        if (group.kind == GroupKind::I2c) {
            std::string& names = atAddress[place.label];
            names += (names.empty() ? "" : ", ") + namesAt(items, place);
        } else {
            findings.push_back({Severity::Fault,
                                Stage::Wiring,
                                "pin-twice",
                                "Two gauges on one pin",
                                fmt::format("{} of {}: {}. Move one to a free pin.", place.label, group.title, namesAt(items, place)),
                                {}});
        }
    }
    for (const auto& [address, names] : atAddress)
        findings.push_back({Severity::Fault,
                            Stage::Wiring,
                            "address-taken",
                            "Two devices at one address",
                            fmt::format("{} on {}: {}. Ways out: another strap, a second bus, a multiplexer.", address, group.line, names),
                            {}});
}

// More gauges than a converter has pins: the plan has put them on pins that are not there.
void pinsShort(const std::vector<Item>& items, const PlanGroup& group, std::vector<Finding>& findings) {
    if (group.kind != GroupKind::Converter) return;
    int channels = 0, used = 0;
    for (const Item& item : items)
        if (item.isOn(group)) channels = item.converter ? item.converter->channels : 1;
    for (const PlanPlace& place : group.places) used += place.isFree() ? 0 : 1;
    if (used > channels)
        findings.push_back(
            {Severity::Fault,
             Stage::Converter,
             "pins-short",
             "More gauges than pins",
             fmt::format("{} gauges on {}, which has {}: another converter, or a part with a bus.", used, group.title, channels),
             {}});
    else if (static_cast<int>(group.places.size()) > channels)
        findings.push_back({Severity::Fault,
                            Stage::Converter,
                            "no-such-pin",
                            "A pin that is not there",
                            fmt::format("{} has {} pins, {} is none of them: {}.", group.title, channels, group.places.back().label,
                                        namesAt(items, group.places.back())),
                            {}});
}

void lines(const std::vector<Item>& items, const PlanGroup& group, const std::vector<Rail>& rails, std::vector<Finding>& findings) {
    if (!group.pullUp) return;
    const LineFault fault = group.pullUp->fault;
    if (fault == LineFault::Missing)
        findings.push_back({Severity::Hint,
                            Stage::Wiring,
                            "pull-up-unsaid",
                            "No pull-up is said for " + group.line,
                            group.pullUp->advice + " Modules often carry their own.",
                            {}});
    else if (fault != LineFault::None)
        findings.push_back({Severity::Fault, Stage::Wiring, "pull-up", "The pull-up of " + group.line, group.pullUp->text, {}});
    // What hangs on one line must agree about its high level.
    std::string others;
    for (const Item& item : items) {
        if (!item.isOn(group)) continue;
        const Rail* rail = railFor(item, rails);
        if (rail && rail->voltage_V != group.supply_V)
            others += fmt::format("{}“{}” at {} V", others.empty() ? "" : ", ", item.name(), plainNumber(rail->voltage_V, 4));
    }
    if (!others.empty())
        findings.push_back({Severity::Doubt,
                            Stage::Wiring,
                            "bus-levels",
                            "Levels that do not meet on " + group.line,
                            fmt::format("The line is pulled up to {} V; {}. Put a level shifter between, or feed all from one rail.",
                                        plainNumber(group.supply_V, 4), others),
                            {}});
}

void supplies(const std::vector<Item>& items, const BenchPlan& plan, const std::vector<Rail>& rails, std::vector<Finding>& findings) {
    for (const PlanRail& rail : plan.rails)
        if (rail.rail.limit_A > 0 && rail.peak_A > rail.rail.limit_A)
            findings.push_back({Severity::Fault,
                                Stage::Wiring,
                                "rail-overloaded",
                                fmt::format("“{}” gives less than is taken", rail.rail.name),
                                fmt::format("{} at the peak against {}.{}", amperes(rail.peak_A), amperes(rail.rail.limit_A),
                                            rail.unknown > 0 ? fmt::format(" {} more are not known.", rail.unknown) : ""),
                                {}});
    for (const Item& item : items) {
        const Interval works = worksAt_V(item);
        const Rail* rail = railFor(item, rails);
        if (!rail)
            findings.push_back({Severity::Fault,
                                Stage::Wiring,
                                "no-rail",
                                fmt::format("No supply suits “{}”", item.name()),
                                works.high > 0
                                    ? fmt::format("It works at {} … {} V; none of the rails has that.", plainNumber(works.low, 4),
                                                  plainNumber(works.high, 4))
                                    : fmt::format("It is fed with {} V; no rail has that.", plainNumber(wantedSupply_V(item), 4)),
                                {}});
        else if (works.high > 0 && !works.contains(rail->voltage_V))
            findings.push_back({Severity::Fault,
                                Stage::Wiring,
                                "rail-unsuitable",
                                fmt::format("“{}” does not suit “{}”", rail->name, item.name()),
                                fmt::format("{} V against the {} … {} V of {}.", plainNumber(rail->voltage_V, 4), plainNumber(works.low, 4),
                                            plainNumber(works.high, 4), item.spec().sensor.part),
                                {}});
    }
}

// The drop on a long supply wire: what the sensor gets less than the rail has.
void cables(const std::vector<Item>& items, const BenchPlan& plan, const std::vector<Rail>& rails, std::vector<Finding>& findings) {
    constexpr double kMuch = 0.02;
    for (const CableRun& run : plan.cables)
        for (const Item& item : items) {
            if (item.gauges.front()->id != run.gauge) continue;
            const Rail* rail = railFor(item, rails);
            if (rail && run.drop_V > kMuch * rail->voltage_V)
                findings.push_back({Severity::Doubt,
                                    Stage::Wiring,
                                    "cable-drop",
                                    fmt::format("The cable of “{}” eats voltage", run.who),
                                    fmt::format("{} of {} V are lost on {} m of thin wire. Thicker wire, or a supply at the sensor.",
                                                engineering(run.drop_V, Quantity::Voltage, 2).joined(), plainNumber(rail->voltage_V, 4),
                                                plainNumber(run.length_m, 4)),
                                    {}});
        }
}

}  // namespace

std::vector<Finding> benchFindings(const std::vector<Item>& items, const BenchPlan& plan) {
    std::vector<Finding> findings;
    std::vector<Rail> rails;
    for (const PlanRail& rail : plan.rails) rails.push_back(rail.rail);
    for (const PlanGroup& group : plan.groups) {
        crowded(items, group, findings);
        pinsShort(items, group, findings);
        lines(items, group, rails, findings);
    }
    supplies(items, plan, rails, findings);
    cables(items, plan, rails, findings);
    if (!plan.schedule.fits)
        findings.push_back({Severity::Doubt,
                            Stage::World,
                            "round-too-fast",
                            "Wanted faster than it goes",
                            fmt::format("One round every {} is wanted, {} is the fastest: {} sets it.",
                                        engineering(plan.schedule.wanted_s, Quantity::Time, 3).joined(),
                                        engineering(plan.schedule.fastest_s, Quantity::Time, 3).joined(), plan.schedule.slowest),
                            {}});
    std::stable_sort(findings.begin(), findings.end(), [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
    return findings;
}

std::vector<Finding> benchCautions(const std::vector<Item>& items) {
    std::vector<Finding> all;
    for (const Item& item : items) {
        std::vector<Finding> own;
        rules::cautionsOf(item.spec().cautions,
                          item.device ? item.device->cautions
                          : item.path ? item.path->part().cautions
                                      : std::vector<std::string>{},
                          own);
        for (Finding& finding : own) {
            const auto same = std::find_if(all.begin(), all.end(), [&](const Finding& one) { return one.id == finding.id; });
            if (same != all.end()) {
                same->title += ", " + item.name();
                continue;
            }
            finding.title += ": " + item.name();
            all.push_back(std::move(finding));
        }
    }
    return all;
}

}  // namespace fg::plan
