#include "planning/bus_findings.h"

#include "planning/pull_up.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {

std::optional<BusPlace> placeOf(const BenchGauge& gauge, const Catalogue& catalogue) {
    const DevicePart* part = catalogue.findDevicePart(gauge.spec.sensor.part);
    if (!part || part->addresses.empty()) return std::nullopt;
    return BusPlace{gauge.spec.name, part,
                    static_cast<unsigned>(gauge.spec.wiring.parameters.numberOr("address", part->addresses.front().address))};
}

void pullUp(const GaugeSpec& spec, const DevicePart& part, std::size_t onBus, std::vector<Finding>& findings) {
    const Parameters& wiring = spec.wiring.parameters;
    if (!saysPullUp(wiring)) return;
    const auto answer = sizePullUp(questionOf(wiring, part.interface, onBus));
    if (!answer || answer->fault == LineFault::None) return;
    const char* const id = answer->fault == LineFault::Missing     ? "pull-up-missing"
                           : answer->fault == LineFault::TooWeak   ? "pull-up-too-weak"
                           : answer->fault == LineFault::TooStrong ? "pull-up-too-strong"
                           : answer->fault == LineFault::ToGround  ? "pull-up-to-ground"
                                                                   : "pull-up-no-window";
    Finding finding{Severity::Fault, Stage::Wiring, id, "The line's pull-up", answer->text, {}};
    if (answer->recommended_ohm && answer->fault != LineFault::ToGround)
        finding.action =
            FindingAction{"Take " + shortEngineering(*answer->recommended_ohm, Quantity::Resistance).joined(), "",
                          [ohm = *answer->recommended_ohm](GaugeSpec& changed) { changed.wiring.parameters.set("pullup_ohm", ohm); }};
    findings.push_back(std::move(finding));
}

/// The bus a gauge hangs on, as its place says.
std::string busOf(const Bench& bench, const BenchGauge& gauge) {
    const auto place = bench.board.places.find(gauge.id);
    return place != bench.board.places.end() && place->second.line.starts_with("bus ") ? place->second.line : "bus 1";
}

bool isSameDevice(const BenchGauge& a, const BenchGauge& b) {
    return !a.spec.channel.empty() && a.spec.channel == b.spec.channel && a.spec.sensor.part == b.spec.sensor.part;
}

// Two gauges that say different supplies of the one line: the lower part's pins see the higher level.
void neighboursSupply(const Bench& bench, const BenchGauge& gauge, const Catalogue& catalogue, std::vector<Finding>& findings) {
    const double own_V = gauge.spec.wiring.parameters.numberOr("supply_V", 0);
    if (own_V <= 0 || !placeOf(gauge, catalogue)) return;
    for (const BenchGauge& other : bench.gauges) {
        const double other_V = other.spec.wiring.parameters.numberOr("supply_V", 0);
        if (other.id == gauge.id || other_V <= 0 || other_V == own_V || !placeOf(other, catalogue)) continue;
        if (busOf(bench, other) != busOf(bench, gauge)) continue;
        findings.push_back(
            {Severity::Doubt,
             Stage::Wiring,
             "bus-levels",
             "One bus, two supplies",
             fmt::format("{} V here, {} V at “{}”: they share the line, so its pull-ups can go to one only. Shift the levels between "
                         "them, or correct what is said.",
                         plainNumber(own_V, 4), plainNumber(other_V, 4), other.spec.name),
             {}});
        return;
    }
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
        if (std::any_of(counted.begin(), counted.end(), [&](const BenchGauge* one) { return isSameDevice(*one, other); })) continue;
        counted.push_back(&other);
        places.push_back(*place);
    }
    return places;
}

std::vector<Finding> busFindings(const Bench& bench, const BenchGauge& gauge, const Catalogue& catalogue) {
    std::vector<Finding> findings;
    const DevicePart* part = catalogue.findDevicePart(gauge.spec.sensor.part);
    if (!part) return findings;
    if (const double supply_V = gauge.spec.wiring.parameters.numberOr("supply_V", 0);
        supply_V > 0 && part->supply_V.high > 0 && !part->supply_V.contains(supply_V))
        findings.push_back(
            {Severity::Fault,
             Stage::Wiring,
             "bus-supply",
             "The line's supply does not suit the part",
             fmt::format("{} V against the {} … {} V of {}: shift the levels or feed it from another rail.", plainNumber(supply_V, 4),
                         plainNumber(part->supply_V.low, 4), plainNumber(part->supply_V.high, 4), part->id),
             {}});
    neighboursSupply(bench, gauge, catalogue, findings);
    const std::vector<BusPlace> places = placesOnBus(bench, gauge, catalogue);
    pullUp(gauge.spec, *part, places.size(), findings);
    if (const double interval_s = gauge.spec.wiring.parameters.numberOr("interval_s", 0);
        interval_s > 0 && interval_s < part->minimumInterval_s)
        findings.push_back(
            {Severity::Doubt, Stage::Wiring, "over-polled", "Asked more often than it can answer",
             fmt::format("Every {} against the {} that {} takes: what is read in between is old, or it never gets done.",
                         engineering(interval_s, Quantity::Time, 3).joined(),
                         engineering(part->minimumInterval_s, Quantity::Time, 3).joined(), part->id),
             FindingAction{"Ask as often as it can", engineering(part->minimumInterval_s, Quantity::Time, 3).joined(),
                           [least = part->minimumInterval_s](GaugeSpec& spec) { spec.wiring.parameters.set("interval_s", least); }}});
    for (const AddressConflict& conflict : conflictsOn(places)) {
        if (conflict.address != places.front().address) continue;
        std::string others;
        for (const std::string& name : conflict.names)
            if (name != gauge.spec.name) others += (others.empty() ? "“" : ", “") + name + "”";
        Finding finding{Severity::Fault,
                        Stage::Wiring,
                        "address-taken",
                        "Two devices at one address",
                        fmt::format("{} is at 0x{:02X} too: neither can be read. Ways out: another strap, a second bus, a multiplexer.",
                                    others, conflict.address),
                        {}};
        for (const BusAddress& free : part->addresses) {
            const bool taken =
                std::any_of(places.begin(), places.end(), [&](const BusPlace& place) { return place.address == free.address; });
            if (taken || finding.action) continue;
            finding.action =
                FindingAction{fmt::format("Make it 0x{:02X}", free.address), free.straps, [address = free.address](GaugeSpec& spec) {
                                  spec.wiring.parameters.set("address", static_cast<double>(address));
                              }};
        }
        findings.push_back(std::move(finding));
    }
    return findings;
}

}  // namespace fg
