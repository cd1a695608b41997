#include "bench/lending.h"

#include "path/gauge_field.h"
#include "sensors/family.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

namespace fg {

std::vector<LendableField> lendableFields(const GaugeSpec& spec, const Catalogue& catalogue) {
    std::vector<LendableField> fields;
    const auto part = catalogue.partOrFamily(spec.sensor.part, spec.quantity);
    const SensorFamily* family = part ? findSensorFamily(part->family) : nullptr;
    if (!family) return fields;
    for (const ParameterSpec& one : family->parameters(spec.quantity))
        if (isMeasurand(one.quantity) && one.tolerance == ToleranceKind::Absolute)
            fields.push_back({"sensor." + one.id, one.label, one.quantity, one.toleranceId});
    return fields;
}

Expected<GaugeSpec> withInputs(const GaugeSpec& spec, const Catalogue& catalogue,
                               const std::function<std::optional<Lent>(const std::string& name)>& lender) {
    GaugeSpec filled = spec;
    if (spec.inputs.empty()) return filled;
    const std::vector<LendableField> fields = lendableFields(spec, catalogue);
    for (const auto& [field, name] : spec.inputs) {
        const auto it = std::find_if(fields.begin(), fields.end(),
                                     [&wanted = field](const LendableField& one) { return one.field == wanted; });
        if (it == fields.end())
            return fail(ErrorCode::Unknown, field, "the reading of “" + name + "”",
                        "a field of this sensor that takes the reading of another gauge");
        const auto lent = name == spec.name ? std::nullopt : lender(name);
        if (!lent)
            return fail(ErrorCode::Unknown, field, "“" + name + "”",
                        "another gauge of this bench, before this one in turn");
        if (!std::isfinite(lent->reading))
            return fail(ErrorCode::Missing, field, "no reading of “" + name + "”", "a reading to use as " + it->label);
        Parameters& parameters = parametersAt(filled, field);
        parameters.set(fieldName(field), lent->reading);
        parameters.set(it->toleranceId, std::sqrt(3.0) * lent->standard);
    }
    return filled;
}

void followRenames(const Bench& before, Bench& after) {
    for (const BenchGauge& old : before.gauges) {
        const BenchGauge* now = std::as_const(after).find(old.id);
        if (!now || now->spec.name == old.spec.name) continue;
        const std::string was = old.spec.name, is = now->spec.name;
        const bool isStillThere = std::any_of(after.gauges.begin(), after.gauges.end(),
                                              [&](const BenchGauge& one) { return one.spec.name == was; });
        if (isStillThere) continue;
        for (BenchGauge& borrower : after.gauges)
            for (auto& [field, lender] : borrower.spec.inputs)
                if (lender == was) lender = is;
    }
}

std::optional<Error> lendingCircle(const Bench& bench, const BenchGauge& gauge) {
    const auto named = [&](const std::string& name) -> const BenchGauge* {
        for (const BenchGauge& one : bench.gauges)
            if (one.spec.name == name) return &one;
        return nullptr;
    };
    // From lender to lender; every gauge is looked at once.
    struct Step {
        const BenchGauge* gauge;
        std::string way;
    };
    std::vector<Step> open{{&gauge, gauge.spec.name}};
    std::set<std::int64_t> seen;
    while (!open.empty()) {
        const Step step = open.back();
        open.pop_back();
        for (const auto& [field, name] : step.gauge->spec.inputs) {
            const BenchGauge* lender = named(name);
            if (!lender) continue;
            const std::string way = step.way + " ← " + name;
            if (lender->id == gauge.id)
                return Error{ErrorCode::Range, gauge.spec.inputs.begin()->first, "a circle: " + way,
                             "links that lead to a gauge which borrows nothing"};
            if (seen.insert(lender->id).second) open.push_back({lender, way});
        }
    }
    return std::nullopt;
}

std::vector<const BenchGauge*> lendersFirst(const Bench& bench) {
    std::vector<const BenchGauge*> order, waiting;
    for (const BenchGauge& gauge : bench.gauges) waiting.push_back(&gauge);
    std::set<std::string> ready;
    while (!waiting.empty()) {
        const auto isReady = [&](const BenchGauge* gauge) {
            return std::all_of(gauge->spec.inputs.begin(), gauge->spec.inputs.end(),
                               [&](const auto& input) { return ready.count(input.second) > 0; });
        };
        const auto rest = std::stable_partition(waiting.begin(), waiting.end(), isReady);
        if (rest == waiting.begin()) break;  // a circle, or nobody of that name
        for (auto it = waiting.begin(); it != rest; ++it) order.push_back(*it), ready.insert((*it)->spec.name);
        waiting.erase(waiting.begin(), rest);
    }
    order.insert(order.end(), waiting.begin(), waiting.end());
    return order;
}

}  // namespace fg
