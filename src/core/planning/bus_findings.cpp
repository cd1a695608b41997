#include "planning/bus_findings.h"

#include "path/digital_path.h"
#include "planning/line_findings.h"
#include "planning/plan.h"
#include "planning/pull_up.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {

std::optional<BusPlace> placeOf(const BenchGauge& gauge, const Catalogue& catalogue) {
    const DevicePart* part = catalogue.findDevicePart(gauge.spec.sensor.part);
    const auto address = part ? part->addressIn(gauge.spec.wiring.parameters) : std::nullopt;
    if (!address) return std::nullopt;
    return BusPlace{gauge.spec.name, part, *address};
}

/// The bus a gauge hangs on, as its place says.
std::string busOf(const Bench& bench, const BenchGauge& gauge) {
    const auto place = bench.board.places.find(gauge.id);
    return place != bench.board.places.end() && place->second.line.starts_with("bus ") ? place->second.line : "bus 1";
}

bool isSameDevice(const BenchGauge& a, const BenchGauge& b) {
    return !a.spec.channel.empty() && a.spec.channel == b.spec.channel && a.spec.sensor.part == b.spec.sensor.part;
}

}  // namespace

std::vector<BusPlace> placesOnBus(const Bench& bench, const BenchGauge& gauge, const Catalogue& catalogue) {
    const auto own = placeOf(gauge, catalogue);
    if (!own) return {};
    std::vector<BusPlace> places{*own};
    std::vector<const BenchGauge*> counted{&gauge};
    for (const BenchGauge& other : bench.gauges) {
        const auto place = placeOf(other, catalogue);
        if (!place || other.id == gauge.id || busOf(bench, other) != busOf(bench, gauge)) continue;
        if (std::any_of(counted.begin(), counted.end(),
                        [&](const BenchGauge* one) { return isSameDevice(*one, other); }))
            continue;
        counted.push_back(&other);
        places.push_back(*place);
    }
    for (const OtherDevice& other : bench.board.others)
        if (other.line == busOf(bench, gauge)) places.push_back({other.name, nullptr, other.address});
    return places;
}

std::vector<Finding> busFindings(const Bench& bench, const BenchGauge& gauge, const Catalogue& catalogue) {
    std::vector<Finding> findings;
    const DevicePart* part = catalogue.findDevicePart(gauge.spec.sensor.part);
    if (!part) return findings;
    const Parameters& wiring = gauge.spec.wiring.parameters;
    const auto take = [&](std::optional<Finding> finding) {
        if (finding) findings.push_back(std::move(*finding));
    };
    const double supply_V = wiring.numberOr("supply_V", 0);
    take(supplyUnsuitable(supply_V, *part, "The line's supply"));
    take(cableTooLong(wiring.numberOr("cable_m", 0), *part));
    if (const auto settings = settingsOf(gauge.spec, catalogue); settings && !settings->empty())
        take(openDrain(*part, *settings));
    if (const auto line = lineOf(bench, gauge.id, catalogue)) {
        take(pinLevel(line->supply_V, bench.board, line->line));
        take(pullUpFinding(*line->pullUp, line->isPullUpGiven, line->line));
        if (!line->otherLevels.empty()) take(levelsDiffer(line->supply_V, line->otherLevels, line->line));
    } else {
        take(pinLevel(supply_V, bench.board, "Its output"));
        if (part->interface == "single-bus")
            if (const auto answer = sizePullUp(questionOf(wiring, part->interface, 1)))
                take(pullUpFinding(*answer, saysPullUp(wiring), "its line"));
    }
    const std::vector<BusPlace> places = placesOnBus(bench, gauge, catalogue);
    if (const double interval_s = wiring.numberOr("interval_s", 0);
        interval_s > 0 && interval_s < part->minimumInterval_s)
        findings.push_back(
            {Severity::Doubt, Stage::Wiring, "over-polled", "Asked more often than it can answer",
             fmt::format(
                 "Every {} against the {} that {} takes: what is read in between is old, or it never gets done.",
                 engineering(interval_s, Quantity::Time, 3).joined(),
                 engineering(part->minimumInterval_s, Quantity::Time, 3).joined(), part->id),
             FindingAction{"Ask as often as it can", engineering(part->minimumInterval_s, Quantity::Time, 3).joined(),
                           [least = part->minimumInterval_s](GaugeSpec& spec) {
                               spec.wiring.parameters.set("interval_s", least);
                           }}});
    for (const AddressConflict& conflict : conflictsOn(places)) {
        if (conflict.address != places.front().address) continue;
        std::string others;
        for (const std::string& name : conflict.names)
            if (name != gauge.spec.name) others += (others.empty() ? "“" : ", “") + name + "”";
        Finding finding = addressTaken(conflict.address, others + " too", busOf(bench, gauge));
        for (const BusAddress& free : part->addresses) {
            const bool taken = std::any_of(places.begin(), places.end(),
                                           [&](const BusPlace& place) { return place.address == free.address; });
            if (taken || finding.action) continue;
            finding.action = FindingAction{fmt::format("Make it 0x{:02X}", free.address), free.straps,
                                           [address = free.address](GaugeSpec& spec) {
                                               spec.wiring.parameters.set("address", static_cast<double>(address));
                                           }};
        }
        findings.push_back(std::move(finding));
    }
    return findings;
}

}  // namespace fg
