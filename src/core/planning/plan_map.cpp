#include "planning/plan_items.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg::plan {
namespace {

constexpr int kFirstDigitalPin = 2;  // 0 and 1 are where the serial line usually is

GroupKind kindOf(const Item& item) {
    if (item.device) {
        if (item.device->interface == "i2c") return GroupKind::I2c;
        return item.device->interface == "1-wire" ? GroupKind::OneWire : GroupKind::Digital;
    }
    return item.path && !item.path->converter().isAdc() ? GroupKind::Digital : GroupKind::Converter;
}

/// The line a thing hangs on, as GaugePlace::line would say it.
std::string lineOf(const Item& item, GroupKind kind) {
    switch (kind) {
        case GroupKind::I2c:
            return item.place.line.starts_with("bus ") ? item.place.line : "bus 1";
        case GroupKind::OneWire:
            return item.place.line.starts_with("wire ") ? item.place.line : "wire 1";
        case GroupKind::Digital:
            return "digital";
        case GroupKind::Converter:
            break;
    }
    return item.converter ? item.converter->id : fmt::format("converter of {}", item.spec().name);
}

std::string titleOf(GroupKind kind, const std::string& line, const Item& item) {
    switch (kind) {
        case GroupKind::I2c:
            return "I²C, " + line;
        case GroupKind::OneWire:
            return "1-wire, " + line;
        case GroupKind::Digital:
            return "Digital pins";
        case GroupKind::Converter:
            break;
    }
    if (item.converter) return item.converter->title;
    return item.path ? fmt::format("{}-bit converter of its own", item.path->converter().bits()) : "Converter";
}

PlanGroup& groupFor(std::vector<PlanGroup>& groups, const Item& item) {
    const GroupKind kind = kindOf(item);
    const std::string line = lineOf(item, kind);
    const auto it = std::find_if(groups.begin(), groups.end(),
                                 [&](const PlanGroup& g) { return g.kind == kind && g.line == line; });
    if (it != groups.end()) return *it;
    PlanGroup group;
    group.kind = kind;
    group.line = line;
    group.title = titleOf(kind, line, item);
    groups.push_back(std::move(group));
    const bool hasPins = kind == GroupKind::Converter;
    const int channels = hasPins ? (item.converter ? item.converter->channels : 1) : 0;
    for (int i = 0; i < channels; ++i) groups.back().places.push_back({fmt::format("A{}", i)});
    return groups.back();
}

/// Puts a thing on a pin: where it is said, else on the first free one, else on one more than there are.
void onPin(PlanGroup& group, const Item& item, const std::string& said) {
    const char letter = group.kind == GroupKind::Digital ? 'D' : 'A';
    const std::string part = item.spec().sensor.part;
    auto at = std::find_if(group.places.begin(), group.places.end(),
                           [&](const PlanPlace& place) { return place.label == said; });
    if (said.empty() || said[0] != letter)
        at = std::find_if(group.places.begin(), group.places.end(),
                          [](const PlanPlace& place) { return place.isFree(); });
    if (at == group.places.end()) {
        const int next = (letter == 'D' ? kFirstDigitalPin : 0) + static_cast<int>(group.places.size());
        const bool names = !said.empty() && said[0] == letter;
        group.places.push_back({names ? said : fmt::format("{}{}", letter, next), item.ids(), part});
        return;
    }
    if (!at->isFree()) at->isTwice = true;
    const auto ids = item.ids();
    at->gauges.insert(at->gauges.end(), ids.begin(), ids.end());
    at->part += (at->part.empty() ? "" : ", ") + part;
}

void addAddress(PlanGroup& group, PlanPlace place) {
    for (PlanPlace& other : group.places)
        if (other.label == place.label) other.isTwice = place.isTwice = true;
    group.places.push_back(std::move(place));
}

/// Displays and the like take their address on a bus that has gauges.
void addOthers(std::vector<PlanGroup>& groups, const Board& board) {
    for (const OtherDevice& one : board.others)
        for (PlanGroup& group : groups) {
            if (group.kind != GroupKind::I2c || group.line != one.line) continue;
            PlanPlace place{fmt::format("0x{:02X}", one.address), {}, "", one.address};
            place.other = one.name;
            addAddress(group, std::move(place));
        }
}

/// By its order on the line, and by its probe's code where that is given.
void onWire(PlanGroup& group, const Item& item) {
    PlanPlace place{fmt::format("{}.", group.places.size() + 1), item.ids(), item.device->id};
    place.rom = item.spec().wiring.parameters.textOr("rom", "");
    for (PlanPlace& other : group.places)
        if (!place.rom.empty() && other.rom == place.rom) other.isTwice = place.isTwice = true;
    group.places.push_back(std::move(place));
}

void onBus(PlanGroup& group, const Item& item) {
    const unsigned address = item.device->addressIn(item.spec().wiring.parameters).value_or(0);
    PlanPlace place{fmt::format("0x{:02X}", address), item.ids(), item.device->id, address};
    addAddress(group, std::move(place));
}

/// What the line's pull-up must be: speed, modules and own resistor as the first gauge on it says that says any, cables
/// added up.
void sizeLine(PlanGroup& group, const std::vector<Item>& items, const Board& board) {
    const Item* speaker = nullptr;
    const Item* first = nullptr;
    double placed_m = 0, said_m = 0;
    std::size_t devices = 0;
    for (const Item& item : items) {
        if (!item.isOn(group)) continue;
        ++devices;
        if (!first) first = &item;
        if (!speaker && saysPullUp(item.spec().wiring.parameters)) speaker = &item;
        placed_m += item.place.cable_m;
        said_m = std::max(said_m, item.spec().wiring.parameters.numberOr("cable_m", 0));
    }
    if (!first) return;
    for (const PlanPlace& place : group.places) devices += place.other.empty() ? 0 : 1;
    const Item& of = speaker ? *speaker : *first;
    const auto rails = railsSaidOrWanted(items, board);
    const Rail* rail = railFor(of, rails);
    PullUpQuestion question = questionOf(of.spec().wiring.parameters, of.device->interface, devices);
    question.supply_V = rail ? rail->voltage_V : wantedSupply_V(of);
    question.cable_m = placed_m > 0 ? placed_m : said_m;
    question.devices = static_cast<int>(devices);
    group.isPullUpGiven = speaker != nullptr;
    group.cable_m = question.cable_m;
    group.supply_V = question.supply_V;
    const auto isGiven = [&](const Item& item) {
        return !board.rails.empty() || item.spec().wiring.parameters.numberOr("supply_V", 0) > 0;
    };
    for (const Item& item : items) {
        if (!item.isOn(group) || !isGiven(item) || !isGiven(of)) continue;
        const Rail* own = railFor(item, rails);
        if (own && own->voltage_V != group.supply_V)
            group.otherLevels += fmt::format("{}“{}” at {} V", group.otherLevels.empty() ? "" : ", ", item.name(),
                                             plainNumber(own->voltage_V, 4));
    }
    group.own_ohm = question.own_ohm.value_or(0);
    if (auto answer = sizePullUp(question)) group.pullUp = std::move(*answer);
}

}  // namespace

std::vector<PlanGroup> groupsOf(const std::vector<Item>& items, const Board& board) {
    std::vector<PlanGroup> groups;
    // Said places first, so that nobody takes them.
    for (const bool said : {true, false})
        for (const Item& item : items) {
            if (item.place.line.empty() == said) continue;
            PlanGroup& group = groupFor(groups, item);
            if (group.kind == GroupKind::I2c)
                onBus(group, item);
            else if (group.kind == GroupKind::OneWire)
                onWire(group, item);
            else
                onPin(group, item, item.place.line.empty() ? item.inputByGain().value_or("") : item.place.line);
        }
    addOthers(groups, board);
    std::stable_sort(groups.begin(), groups.end(),
                     [](const PlanGroup& a, const PlanGroup& b) { return a.kind < b.kind; });
    for (PlanGroup& group : groups) {
        if (group.kind == GroupKind::I2c || group.kind == GroupKind::OneWire) sizeLine(group, items, board);
        if (group.kind == GroupKind::I2c)
            std::stable_sort(group.places.begin(), group.places.end(),
                             [](const PlanPlace& a, const PlanPlace& b) { return a.label < b.label; });
    }
    return groups;
}

}  // namespace fg::plan
