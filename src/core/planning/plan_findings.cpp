#include "planning/plan_items.h"

#include "findings/rules.h"
#include "path/pin_voltage.h"
#include "planning/line_findings.h"
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
    std::string names = place.other.empty() ? "" : "“" + place.other + "”";
    for (const std::int64_t id : place.gauges)
        if (const BenchGauge* gauge = gaugeOf(items, id))
            names += (names.empty() ? "“" : ", “") + gauge->spec.name + "”";
    return names;
}

// Two on one pin, more gauges than pins, two at one address.
void crowded(const std::vector<Item>& items, const PlanGroup& group, std::vector<Finding>& findings) {
    std::map<unsigned, std::string> atAddress;
    std::map<std::string, std::string> ofProbe;
    for (const PlanPlace& place : group.places) {
        if (!place.isTwice) continue;
        if (group.kind == GroupKind::I2c) {
            std::string& names = atAddress[place.address];
            names += (names.empty() ? "" : ", ") + namesAt(items, place);
        } else if (group.kind == GroupKind::OneWire) {
            std::string& names = ofProbe[place.rom];
            names += (names.empty() ? "" : ", ") + namesAt(items, place);
        } else {
            findings.push_back(
                {Severity::Fault,
                 Stage::Wiring,
                 "pin-twice",
                 "Two gauges on one pin",
                 fmt::format("{} of {}: {}. Move one to a free pin.", place.label, group.title, namesAt(items, place)),
                 {}});
        }
    }
    for (const auto& [address, names] : atAddress) findings.push_back(addressTaken(address, names, group.line));
    for (const auto& [rom, names] : ofProbe) findings.push_back(probeTwice(names, group.line));
}

// Some converters have a gain on one of their inputs alone.
void gainElsewhere(const std::vector<Item>& items, const PlanGroup& group, std::vector<Finding>& findings) {
    if (group.kind != GroupKind::Converter) return;
    for (const PlanPlace& place : group.places)
        for (const Item& item : items) {
            const bool isHere =
                std::find(place.gauges.begin(), place.gauges.end(), item.gauges.front()->id) != place.gauges.end();
            const auto wanted = item.inputByGain();
            if (!isHere || !wanted || *wanted == place.label) continue;
            findings.push_back({Severity::Fault,
                                Stage::Wiring,
                                "gain-elsewhere",
                                "That input does not have this gain",
                                fmt::format("“{}” hangs on {} of {} and counts with a gain that is only to be had on "
                                            "{}. Move it there, or count with another gain.",
                                            item.name(), place.label, group.line, *wanted),
                                {}});
        }
}

// More gauges than a converter has pins: the plan has put them on pins that are not there.
void pinsShort(const std::vector<Item>& items, const PlanGroup& group, std::vector<Finding>& findings) {
    if (group.kind != GroupKind::Converter) return;
    int channels = 0, used = 0;
    for (const Item& item : items)
        if (item.isOn(group)) channels = item.converter ? item.converter->channels : 1;
    for (const PlanPlace& place : group.places) used += place.isFree() ? 0 : 1;
    if (used > channels)
        findings.push_back({Severity::Fault,
                            Stage::Converter,
                            "pins-short",
                            "More gauges than pins",
                            fmt::format("{} gauges on {}, which has {}: another converter, or a part with a bus.", used,
                                        group.title, channels),
                            {}});
    else if (static_cast<int>(group.places.size()) > channels)
        findings.push_back({Severity::Fault,
                            Stage::Converter,
                            "no-such-pin",
                            "A pin that is not there",
                            fmt::format("{} has {} pins, {} is none of them: {}.", group.title, channels,
                                        group.places.back().label, namesAt(items, group.places.back())),
                            {}});
}

void lines(const PlanGroup& group, const Board& board, std::vector<Finding>& findings) {
    if (!group.pullUp) return;
    if (auto finding = pullUpFinding(*group.pullUp, group.isPullUpGiven, group.line))
        findings.push_back(std::move(*finding));
    // What hangs on one line must agree about its high level.
    if (!group.otherLevels.empty()) findings.push_back(levelsDiffer(group.supply_V, group.otherLevels, group.line));
    if (auto finding = pinLevel(group.supply_V, board, group.line)) findings.push_back(std::move(*finding));
}

void supplies(const std::vector<Item>& items, const BenchPlan& plan, const std::vector<Rail>& rails,
              std::vector<Finding>& findings) {
    for (const PlanRail& rail : plan.rails)
        if (rail.rail.limit_A > 0 && rail.peak_A > rail.rail.limit_A)
            findings.push_back(
                {Severity::Fault,
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
                                works.high > 0 ? fmt::format("It works at {} … {} V; none of the rails has that.",
                                                             plainNumber(works.low, 4), plainNumber(works.high, 4))
                                               : fmt::format("It is fed with {} V; no rail has that.",
                                                             plainNumber(wantedSupply_V(item), 4)),
                                {}});
        else if (const PartFacts* part = item.facts())
            if (auto finding = supplyUnsuitable(rail->voltage_V, *part, "“" + rail->name + "”"))
                findings.push_back(std::move(*finding));
    }
}

// The drop on a long supply wire: what the sensor gets less than the rail has.
void cables(const std::vector<Item>& items, const BenchPlan& plan, const std::vector<Rail>& rails,
            std::vector<Finding>& findings) {
    constexpr double kMuch = 0.02;
    for (const CableRun& run : plan.cables)
        for (const Item& item : items) {
            if (item.gauges.front()->id != run.gauge) continue;
            const Rail* rail = railFor(item, rails);
            if (rail && run.drop_V > kMuch * rail->voltage_V)
                findings.push_back(
                    {Severity::Doubt,
                     Stage::Wiring,
                     "cable-drop",
                     fmt::format("The cable of “{}” eats voltage", run.who),
                     fmt::format("{} of {} V are lost on {} m of thin wire. Thicker wire, or a supply at the sensor.",
                                 engineering(run.drop_V, Quantity::Voltage, 2).joined(),
                                 plainNumber(rail->voltage_V, 4), plainNumber(run.length_m, 4)),
                     {}});
        }
}

/// Of one thing: its cable, what its outputs do to the board's pins, what they need.
void ofItem(const Item& item, const std::vector<Rail>& rails, const Board& board, std::vector<Finding>& findings) {
    const auto take = [&](std::optional<Finding> finding) {
        if (!finding) return;
        finding->detail = fmt::format("“{}”: {}", item.name(), finding->detail);
        findings.push_back(std::move(*finding));
    };
    if (const PartFacts* part = item.facts()) take(cableTooLong(item.cable_m(), *part));
    if (item.device) {
        take(openDrain(*item.device, item.settings));
        if (const auto answer = item.ownPullUp())
            take(pullUpFinding(*answer, saysPullUp(item.spec().wiring.parameters), "its line"));
        // Lines with a pull-up are judged as lines; outputs that drive both ways go up to the part's own supply.
        const std::string& interface = item.device->interface;
        const bool drives = interface != "i2c" && interface != "1-wire";
        if (const Rail* rail = railFor(item, rails); drives && rail)
            take(pinLevel(rail->voltage_V, board, "Its output"));
    } else if (item.path) {
        take(pinLevel(worstPin(item.spec(), *item.path).most_V, board, "Its pin"));
    }
}

}  // namespace

std::vector<Finding> benchFindings(const std::vector<Item>& items, const BenchPlan& plan, const Board& board) {
    std::vector<Finding> findings;
    std::vector<Rail> rails;
    for (const PlanRail& rail : plan.rails) rails.push_back(rail.rail);
    for (const PlanGroup& group : plan.groups) {
        crowded(items, group, findings);
        pinsShort(items, group, findings);
        gainElsewhere(items, group, findings);
        lines(group, board, findings);
    }
    supplies(items, plan, rails, findings);
    cables(items, plan, rails, findings);
    for (const Item& item : items) ofItem(item, rails, board, findings);
    if (!plan.schedule.fits)
        findings.push_back(
            {Severity::Doubt,
             Stage::World,
             "round-too-fast",
             "Wanted faster than it goes",
             fmt::format("One round every {} is wanted, {} is the fastest: {} sets it.",
                         engineering(plan.schedule.wanted_s, Quantity::Time, 3).joined(),
                         engineering(plan.schedule.fastest_s, Quantity::Time, 3).joined(), plan.schedule.slowest),
             {}});
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
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
            const auto same =
                std::find_if(all.begin(), all.end(), [&](const Finding& one) { return one.id == finding.id; });
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
