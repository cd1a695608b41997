#include "planning/cable.h"
#include "planning/plan_items.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg::plan {
namespace {

std::vector<std::string> conductorsOf(const Item& item) {
    if (item.device) {
        const std::string& interface = item.device->interface;
        if (interface == "i2c") return {"supply", "ground", "data (SDA)", "clock (SCL)"};
        if (interface == "spi") return {"supply", "ground", "clock", "data out", "data in", "select"};
        return {"supply", "ground", "data"};
    }
    if (!item.path) return {"supply", "ground", "signal"};
    if (item.spec().wiring.kind == "bridge" && item.path->part().family != "thermocouple")
        return {"excitation +", "excitation −", "signal +", "signal −"};
    switch (item.path->signalQuantity()) {
        case Quantity::Resistance:
        case Quantity::Capacitance:
            return {"sensor", "sensor, either way round"};
        case Quantity::Current:
        case Quantity::Count:
            return {"supply +", "signal"};
        default:
            break;
    }
    if (item.path->part().supply_V.high > 0) return {"supply", "ground", "signal"};
    return {"+", "−"};
}

}  // namespace

std::vector<CableRun> cablesOf(const std::vector<Item>& items, const std::vector<PlanRail>& rails) {
    std::vector<CableRun> runs;
    for (const Item& item : items) {
        CableRun run;
        run.who = item.name();
        run.gauge = item.gauges.front()->id;
        run.conductors = conductorsOf(item);
        for (std::size_t i = 0; i < run.conductors.size(); ++i)
            run.marks += fmt::format("{}{} {}", i == 0 ? "" : ", ", i + 1, run.conductors[i]);
        run.length_m = item.cable_m();
        run.capacitance_F = kCable_F_per_m * run.length_m;
        for (const PlanRail& rail : rails)
            for (const PlanLoad& load : rail.loads)
                if (load.gauge == run.gauge) run.drop_V = 2 * run.length_m * kWire_ohm_per_m * load.measuring_A;
        runs.push_back(std::move(run));
    }
    return runs;
}

}  // namespace fg::plan
