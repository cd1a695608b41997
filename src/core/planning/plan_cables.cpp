#include "planning/cable.h"
#include "planning/plan_items.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg::plan {
std::vector<CableRun> cablesOf(const std::vector<Item>& items, const std::vector<PlanRail>& rails,
                               const std::vector<PinWires>& wires) {
    std::vector<CableRun> runs;
    for (std::size_t number = 0; number < items.size(); ++number) {
        const Item& item = items[number];
        CableRun run;
        run.who = item.name();
        run.gauge = item.gauges.front()->id;
        for (const Wire& wire : wires[number].wires) run.conductors.push_back(wire.conductor);
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
