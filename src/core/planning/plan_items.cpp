#include "planning/plan_items.h"

#include "catalogue/part_consequences.h"
#include "path/digital_path.h"

#include <algorithm>
#include <cmath>

namespace fg::plan {
namespace {

bool feeds(const Item& item, const BenchGauge& gauge) {
    const GaugeSpec& one = item.spec();
    return item.device && !one.channel.empty() && one.channel == gauge.spec.channel &&
           one.sensor.part == gauge.spec.sensor.part;
}

}  // namespace

std::string Item::name() const {
    std::string names;
    for (const BenchGauge* gauge : gauges) names += (names.empty() ? "" : ", ") + gauge->spec.name;
    return names;
}

std::vector<std::int64_t> Item::ids() const {
    std::vector<std::int64_t> list;
    for (const BenchGauge* gauge : gauges) list.push_back(gauge->id);
    return list;
}

const PartFacts* Item::facts() const {
    if (device) return device;
    return path ? &path->part() : nullptr;
}

bool Item::isOn(const PlanGroup& group) const {
    const auto there = group.gauges();
    return std::find(there.begin(), there.end(), gauges.front()->id) != there.end();
}

std::optional<double> Item::settingValue(std::string_view id) const {
    for (const Consequence& one : consequences)
        if (one.id == id) return one.value;
    return std::nullopt;
}

std::optional<std::string> Item::inputByGain() const {
    if (!converter || converter->inputOfGain.empty()) return std::nullopt;
    const double gain = spec().converter.parameters.numberOr("gain", converter->parameters.numberOr("gain", 1));
    const auto input = converter->inputOfGain.find(gain);
    return input == converter->inputOfGain.end() ? std::nullopt : std::optional(fmt::format("A{}", input->second));
}

double Item::cable_m() const {
    return place.cable_m > 0 ? place.cable_m : spec().wiring.parameters.numberOr("cable_m", 0);
}

std::optional<PullUpAnswer> Item::ownPullUp() const {
    if (!device || device->interface != "single-bus") return std::nullopt;
    PullUpQuestion question = questionOf(spec().wiring.parameters, device->interface, 1);
    question.supply_V = wantedSupply_V(*this);
    question.cable_m = cable_m();
    const auto answer = sizePullUp(question);
    return answer ? std::optional(*answer) : std::nullopt;
}

std::vector<Item> itemsOf(const Bench& bench, const Catalogue& catalogue) {
    std::vector<Item> items;
    for (const BenchGauge& gauge : bench.gauges) {
        if (DerivedPath::applies(gauge.spec) || SaidPath::applies(gauge.spec)) continue;  // nothing to wire
        const auto shared =
            std::find_if(items.begin(), items.end(), [&](const Item& item) { return feeds(item, gauge); });
        const auto said = bench.board.places.find(gauge.id);
        const GaugePlace place = said == bench.board.places.end() ? GaugePlace{} : said->second;
        if (shared != items.end()) {
            shared->gauges.push_back(&gauge);
            if (shared->place.isEmpty()) shared->place = place;
            continue;
        }
        Item item;
        item.gauges = {&gauge};
        item.device = catalogue.findDevicePart(gauge.spec.sensor.part);
        if (!item.device) {
            item.converter =
                gauge.spec.converter.part.empty() ? nullptr : catalogue.findConverter(gauge.spec.converter.part);
            if (auto path = AnalogPath::build(gauge.spec, catalogue)) item.path = std::move(*path);
        }
        if (const RegisterMap* map = item.device ? catalogue.findRegisterMap(item.device->id) : nullptr)
            if (auto settings = settingsOf(gauge.spec, catalogue); settings && !settings->empty()) {
                item.settings = std::move(*settings);
                item.consequences = consequencesFor(*item.device, *map, item.settings);
            }
        item.place = place;
        items.push_back(std::move(item));
    }
    return items;
}

Interval worksAt_V(const Item& item) {
    if (item.device) return item.device->supply_V;
    return item.path ? item.path->part().supply_V : Interval{};
}

double wantedSupply_V(const Item& item) {
    const Parameters& wiring = item.spec().wiring.parameters;
    if (item.device && wiring.numberOr("supply_V", 0) > 0) return wiring.numberOr("supply_V", 0);
    if (!item.device && wiring.textOr("source", "reference") == "rail" && wiring.numberOr("source_V", 0) > 0)
        return wiring.numberOr("source_V", 0);
    const Interval works = worksAt_V(item);
    if (works.high > 0) {
        for (const double usual : {3.3, 5.0})
            if (works.contains(usual)) return usual;
        return works.low;
    }
    return item.path && item.path->source_V() > 0 ? item.path->source_V() : 3.3;
}

}  // namespace fg::plan

namespace fg {

std::vector<std::int64_t> PlanGroup::gauges() const {
    std::vector<std::int64_t> list;
    for (const PlanPlace& place : places) list.insert(list.end(), place.gauges.begin(), place.gauges.end());
    return list;
}

}  // namespace fg
