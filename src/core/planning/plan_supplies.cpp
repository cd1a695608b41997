#include "planning/plan_items.h"

#include "sensors/family.h"
#include "units/number_format.h"
#include "wiring/kind.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg::plan {
namespace {

constexpr double kSameVoltage = 0.03;  // relative: 3.3 V and 3.35 V are one rail

/// What the circuit of a resistive sensor draws: its own current, and in a divider what flows beside it through a
/// linearising resistor.
double circuitCurrent_A(const WiringSpec& wiring, double source_V, double sensor_ohm) {
    if (wiring.kind == "divider") {
        const double parallel_ohm = wiring.parameters.numberOr("parallel_ohm", 0);
        const double own_ohm = sensor_ohm + wiring.parameters.numberOr("lead_ohm", 0);
        const double branch_ohm = parallel_ohm > 0 ? own_ohm * parallel_ohm / (own_ohm + parallel_ohm) : own_ohm;
        return source_V / (branch_ohm + wiring.parameters.numberOr("fixed_ohm", 0));
    }
    return sensorCurrent_A(wiring.kind, wiring.parameters, source_V, sensor_ohm).value_or(0);
}

/// The most that flows through a sensor that lives in its circuit: a divider's current, a loop's, a photocurrent.
double circuitCurrent_A(const Item& item) {
    const Interval span = item.spec().spanCanonical();
    double most = 0;
    for (const double world : {span.low, span.high}) {
        const double signal = item.path->signalAt(world);
        double current = 0;
        if (item.path->signalQuantity() == Quantity::Current) current = std::abs(signal);
        if (item.path->signalQuantity() == Quantity::Resistance)
            current = circuitCurrent_A(item.spec().wiring, item.path->source_V(), signal);
        if (std::isfinite(current)) most = std::max(most, current);
    }
    return most;
}

PlanLoad loadOf(const Item& item) {
    PlanLoad load;
    load.who = item.name();
    load.part = item.spec().sensor.part;
    load.gauge = item.gauges.front()->id;
    if (item.device) {
        // What the settings make it take on average counts all the time; else what the document states while it
        // measures.
        const auto average = item.settingValue("current_A");
        load.measuring_A = average                     ? *average
                           : item.device->supply_A > 0 ? item.device->supply_A
                                                       : item.device->average_A;
        load.resting_A = average ? 0 : item.device->standby_A;
        load.busy_s =
            load.resting_A > 0 ? item.settingValue("conversion_max_s").value_or(item.device->minimumInterval_s) : 0;
        load.isKnown = load.measuring_A > 0;
        load.isTypical = !average && item.device->supplyIsTypical;
        return load;
    }
    if (!item.path) {
        load.isKnown = false;
        return load;
    }
    const Part& part = item.path->part();
    // A transmitter's own current is its signal.
    load.measuring_A = item.path->signalQuantity() == Quantity::Current ? circuitCurrent_A(item)
                                                                        : part.supply_A + circuitCurrent_A(item);
    // A bridge's current is its excitation over its resistance, which nobody states here.
    load.isKnown = load.measuring_A > 0 || (part.supply_V.high == 0 && item.spec().wiring.kind != "bridge");
    return load;
}

void addConverters(std::vector<PlanRail>& rails, const std::vector<Item>& items, const Catalogue& catalogue) {
    std::vector<std::string> seen;
    for (const Item& item : items) {
        if (!item.converter || std::find(seen.begin(), seen.end(), item.converter->id) != seen.end()) continue;
        const DevicePart* device = catalogue.findDevicePart(item.converter->id);
        if (!device) continue;
        seen.push_back(item.converter->id);
        // On the rail of the sensor before it where it works at that, else on the first that suits.
        std::vector<Rail> list;
        for (const PlanRail& rail : rails) list.push_back(rail.rail);
        const Rail* beside = railFor(item, list);
        if (beside && !device->supply_V.contains(beside->voltage_V)) beside = nullptr;
        for (PlanRail& rail : rails) {
            if (beside ? rail.rail.name != beside->name : !device->supply_V.contains(rail.rail.voltage_V)) continue;
            rail.loads.push_back({device->title, device->id, device->supply_A, device->standby_A,
                                  device->standby_A > 0 ? device->minimumInterval_s : 0, device->supply_A > 0,
                                  device->supplyIsTypical, 0});
            break;
        }
    }
}

void sum(PlanRail& rail, double round_s) {
    for (const PlanLoad& load : rail.loads) {
        if (!load.isKnown) {
            ++rail.unknown;
            continue;
        }
        if (load.isTypical) ++rail.typical;
        const double busy = std::min(load.busy_s, round_s);
        const bool rests = busy > 0 && round_s > 0;
        rail.peak_A += load.measuring_A;
        rail.constant_A += load.measuring_A;
        rail.average_A +=
            rests ? (load.measuring_A * busy + load.resting_A * (round_s - busy)) / round_s : load.measuring_A;
    }
    if (rail.rail.capacity_Ah > 0 && rail.average_A > 0) {
        rail.life_h = rail.rail.capacity_Ah / rail.average_A;
        rail.constantLife_h = rail.rail.capacity_Ah / rail.constant_A;
    }
}

}  // namespace

const Rail* railFor(const Item& item, const std::vector<Rail>& rails) {
    for (const Rail& rail : rails)
        if (!item.place.rail.empty() && rail.name == item.place.rail) return &rail;
    const double wanted = wantedSupply_V(item);
    for (const Rail& rail : rails)
        if (std::abs(rail.voltage_V - wanted) <= kSameVoltage * wanted) return &rail;
    const Interval works = worksAt_V(item);
    for (const Rail& rail : rails)
        if (works.high > 0 && works.contains(rail.voltage_V)) return &rail;
    return nullptr;
}

std::vector<Rail> railsSaidOrWanted(const std::vector<Item>& items, const Board& board) {
    if (!board.rails.empty()) return board.rails;
    std::vector<Rail> rails;
    for (const Item& item : items) {
        const double wanted = wantedSupply_V(item);
        const bool known = std::any_of(rails.begin(), rails.end(), [&](const Rail& rail) {
            return std::abs(rail.voltage_V - wanted) <= kSameVoltage * wanted;
        });
        if (!known) rails.push_back({plainNumber(wanted, 4) + " V", wanted, 0, 0});
    }
    std::sort(rails.begin(), rails.end(), [](const Rail& a, const Rail& b) { return a.voltage_V < b.voltage_V; });
    return rails;
}

std::vector<PlanRail> railsOf(const std::vector<Item>& items, const Board& board, const PlanSchedule& schedule,
                              const Catalogue& catalogue) {
    const std::vector<Rail> list = railsSaidOrWanted(items, board);
    std::vector<PlanRail> rails;
    for (const Rail& rail : list) {
        rails.emplace_back();
        rails.back().rail = rail;
        rails.back().isSaid = !board.rails.empty();
    }
    for (const Item& item : items)
        if (const Rail* rail = railFor(item, list))
            rails[static_cast<std::size_t>(rail - list.data())].loads.push_back(loadOf(item));
    addConverters(rails, items, catalogue);
    if (board.awake_A > 0 && !rails.empty()) {
        // The board hangs on the cells where there are any, else on the first rail.
        auto on =
            std::find_if(rails.begin(), rails.end(), [](const PlanRail& rail) { return rail.rail.capacity_Ah > 0; });
        if (on == rails.end()) on = rails.begin();
        on->loads.push_back({"The board itself", "", board.awake_A, board.asleep_A,
                             board.asleep_A > 0 ? schedule.busy_s : 0, true, false, 0});
    }
    for (PlanRail& rail : rails) sum(rail, schedule.wanted_s);
    return rails;
}

}  // namespace fg::plan

namespace fg {

std::string lifeText(double hours) {
    constexpr double kHoursADay = 24, kDaysAYear = 365.25;
    const double days = hours / kHoursADay;
    if (days < 3) return significantDigits(hours, 2) + " h";
    return days < 2 * kDaysAYear ? significantDigits(days, 2) + " days"
                                 : significantDigits(days / kDaysAYear, 2) + " years";
}

}  // namespace fg
