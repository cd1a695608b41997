#include "planning/plan.h"

#include "planning/plan_items.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {

BenchPlan planOf(const Bench& bench, const Catalogue& catalogue) {
    const std::vector<plan::Item> items = plan::itemsOf(bench, catalogue);
    BenchPlan result;
    result.groups = plan::groupsOf(items, bench.board);
    result.schedule = plan::scheduleOf(items, result.groups, bench.board);
    result.rails = plan::railsOf(items, bench.board, result.schedule, catalogue);
    result.wires = plan::wiresOf(items, result.groups, plan::railsSaidOrWanted(items, bench.board),
                                 bench.board.converters, catalogue);
    result.cables = plan::cablesOf(items, result.rails, result.wires);
    for (const plan::Item& item : items)
        if (item.device && item.device->interface == "1-wire") result.oneWire_m += item.cable_m();
    result.parts = plan::partsOf(items, result.groups);
    result.findings = plan::benchFindings(items, result, bench.board);
    result.cautions = plan::benchCautions(items);
    return result;
}

std::optional<PlanGroup> lineOf(const Bench& bench, std::int64_t gauge, const Catalogue& catalogue) {
    // What hangs on converters has no say in it, and takes time to build.
    Bench digital = bench;
    std::erase_if(digital.gauges,
                  [&](const BenchGauge& one) { return !catalogue.findDevicePart(one.spec.sensor.part); });
    for (PlanGroup& group : plan::groupsOf(plan::itemsOf(digital, catalogue), digital.board)) {
        const auto there = group.gauges();
        if (group.pullUp && std::find(there.begin(), there.end(), gauge) != there.end()) return std::move(group);
    }
    return std::nullopt;
}

std::vector<std::string> placesFor(const Bench& bench, const BenchPlan& plan, std::int64_t gauge,
                                   const Catalogue& catalogue) {
    std::vector<std::string> places;
    const BenchGauge* of = bench.find(gauge);
    if (!of) return places;
    for (const PlanGroup& group : plan.groups) {
        const auto there = group.gauges();
        const bool isOwn = std::find(there.begin(), there.end(), gauge) != there.end();
        if (group.kind == GroupKind::I2c || group.kind == GroupKind::OneWire) {
            const DevicePart* part = catalogue.findDevicePart(of->spec.sensor.part);
            const std::string_view wanted = group.kind == GroupKind::I2c ? "i2c" : "1-wire";
            if (part && part->interface == wanted) places.push_back(group.line);
        } else if (isOwn) {
            for (const PlanPlace& place : group.places)
                if (place.isFree() || std::find(place.gauges.begin(), place.gauges.end(), gauge) != place.gauges.end())
                    places.push_back(place.label);
        }
    }
    // One more bus or wire than there is.
    for (const std::string_view stem : {"bus ", "wire "}) {
        int most = 0;
        for (const std::string& place : places)
            if (place.starts_with(stem)) most = std::max(most, std::atoi(place.c_str() + stem.size()));
        if (most > 0) places.push_back(fmt::format("{}{}", stem, most + 1));
    }
    return places;
}

}  // namespace fg
