#include "bench/linked_inputs.h"

#include "converters/kind.h"
#include "path/derived_path.h"
#include "path/gauge_field.h"
#include "sensors/family.h"
#include "wiring/kind.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

namespace fg {

std::vector<LinkableField> linkableFields(const GaugeSpec& spec, const Catalogue& catalogue) {
    std::vector<LinkableField> fields;
    const auto add = [&](const char* stage, const std::vector<ParameterSpec>& parameters) {
        for (const ParameterSpec& one : parameters)
            if (isReadable(one.quantity) && one.tolerance == ToleranceKind::Absolute)
                fields.push_back({stage + one.id, one.label, one.quantity, one.toleranceId});
    };
    if (DerivedPath::applies(spec)) {
        add("sensor.", derivedParameters(spec));
        return fields;
    }
    const auto part = catalogue.partOrFamily(spec.sensor.part, spec.quantity);
    if (const SensorFamily* family = part ? findSensorFamily(part->family) : nullptr)
        add("sensor.", family->parameters(spec.quantity));
    if (const WiringKind* kind = findWiringKind(spec.wiring.kind)) add("wiring.", kind->parameters());
    if (const ConverterKind* kind = findConverterKind(spec.converter.kind)) add("converter.", kind->parameters());
    return fields;
}

Expected<GaugeSpec> withInputs(const GaugeSpec& spec, const Catalogue& catalogue,
                               const std::function<std::optional<LinkedReading>(const LinkedInput& input)>& readingOf) {
    GaugeSpec filled = spec;
    if (spec.inputs.empty()) return filled;
    const std::vector<LinkableField> fields = linkableFields(spec, catalogue);
    for (const auto& [field, input] : spec.inputs) {
        const auto it = std::find_if(fields.begin(), fields.end(),
                                     [&wanted = field](const LinkableField& one) { return one.field == wanted; });
        if (it == fields.end())
            return fail(ErrorCode::Unknown, field, "the reading of “" + input.name + "”",
                        "a field of this gauge that takes the reading of another one");
        const auto linked = readingOf(input);
        if (!linked)
            return fail(ErrorCode::Unknown, field, "“" + input.name + "”",
                        "another gauge of this bench, before this one in turn");
        if (!std::isfinite(linked->reading))
            return fail(ErrorCode::Missing, field, "no reading of “" + input.name + "”",
                        "a reading to use as " + it->label);
        Parameters& parameters = parametersAt(filled, field);
        parameters.set(fieldName(field), linked->reading);
        parameters.set(it->toleranceId, std::sqrt(3.0) * linked->standard);
        filled.lent[field] = linked->lent;
    }
    return filled;
}

void settleInputs(Bench& bench) {
    const auto settle = [&](const BenchGauge& gauge, LinkedInput& input) {
        const BenchGauge* linked = std::as_const(bench).find(input.gauge);
        if (!linked) {
            std::vector<const BenchGauge*> named;
            for (const BenchGauge& other : bench.gauges)
                if (other.spec.name == input.name && other.id != gauge.id) named.push_back(&other);
            linked = named.size() == 1 ? named.front() : nullptr;
        }
        input.gauge = linked ? linked->id : 0;
        if (linked) input.name = linked->spec.name;
    };
    for (BenchGauge& gauge : bench.gauges) {
        for (auto& [field, input] : gauge.spec.inputs) settle(gauge, input);
        if (!gauge.spec.beside.name.empty()) settle(gauge, gauge.spec.beside);
    }
}

std::optional<Error> linkCircle(const Bench& bench, const BenchGauge& gauge) {
    // From gauge to gauge; every one is looked at once.
    struct Step {
        const BenchGauge* gauge;
        std::string way;
    };
    std::vector<Step> open{{&gauge, gauge.spec.name}};
    std::set<std::int64_t> seen;
    while (!open.empty()) {
        const Step step = open.back();
        open.pop_back();
        for (const auto& [field, input] : step.gauge->spec.inputs) {
            const BenchGauge* linked = bench.find(input.gauge);
            if (!linked) continue;
            const std::string way = step.way + " ← " + linked->spec.name;
            if (linked->id == gauge.id)
                return Error{ErrorCode::Range, gauge.spec.inputs.begin()->first, "a circle: " + way,
                             "links that lead to a gauge without linked inputs"};
            if (seen.insert(linked->id).second) open.push_back({linked, way});
        }
    }
    return std::nullopt;
}

std::vector<const BenchGauge*> inLinkOrder(const Bench& bench) {
    std::vector<const BenchGauge*> order, waiting;
    for (const BenchGauge& gauge : bench.gauges) waiting.push_back(&gauge);
    std::set<std::int64_t> ready;
    while (!waiting.empty()) {
        const auto isReady = [&](const BenchGauge* gauge) {
            return std::all_of(gauge->spec.inputs.begin(), gauge->spec.inputs.end(),
                               [&](const auto& input) { return ready.count(input.second.gauge) > 0; });
        };
        const auto rest = std::stable_partition(waiting.begin(), waiting.end(), isReady);
        if (rest == waiting.begin()) break;  // a circle, or a gauge that is not there
        for (auto it = waiting.begin(); it != rest; ++it) {
            order.push_back(*it);
            ready.insert((*it)->id);
        }
        waiting.erase(waiting.begin(), rest);
    }
    order.insert(order.end(), waiting.begin(), waiting.end());
    return order;
}

}  // namespace fg
