#include "choosing/first_gauge.h"

#include "converters/kind.h"
#include "path/default_gauge.h"
#include "path/digital_path.h"
#include "path/examples.h"
#include "sensors/family.h"
#include "sizing/gauge_solvers.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

void fillWish(GaugeSpec& spec, const Wish& wish, const PartFacts& part) {
    const Unit& unit = unitOf(wish);
    spec.reading.unit = unit.id;
    const Interval span = seenSpan(wish, part.pressureKind);
    spec.reading.span = {unit.fromCanonical(span.low), unit.fromCanonical(span.high)};
    spec.reading.wanted = unit.differenceFromCanonical(wish.accuracy);
}

/// Signals too small for a converter without an amplifier keep the converter that the part suggests.
bool isSmallSignal(const GaugeSpec& spec) { return spec.wiring.kind == "bridge"; }

/// Is this supply the converter's reference too? What follows the supply then cancels, so they must not be told as two.
bool isItsReference(double supply_V, const GaugeSpec& spec, const Catalogue& catalogue) {
    constexpr double kSame = 0.01;
    const Parameters converter = effectiveConverter(spec, catalogue);
    return isReferenceSupply(converter) &&
           std::abs(converter.numberOr("reference_V", 0) - supply_V) <= kSame * supply_V;
}

/// The highest voltage the sensor gives on the span.
double highestSignal(const GaugeSpec& spec, const AnalogPath& path) {
    const Interval span = spec.spanCanonical();
    return std::max(path.sensor().forward(span.low), path.sensor().forward(span.high));
}

/// A voltage that the converter cannot take goes through a divider.
void attenuateWhereNeeded(GaugeSpec& spec, const Catalogue& catalogue) {
    const auto path = AnalogPath::build(spec, catalogue);
    if (!path || spec.wiring.kind != "direct" || !path->converter().isAdc()) return;
    if (!(highestSignal(spec, *path) > path->converter().fullScale())) return;
    Parameters wiring = spec.wiring.parameters;
    spec.wiring = {
        "attenuator",
        {{"top_ohm", 10000.0}, {"top_tolerance", 0.01}, {"bottom_ohm", 10000.0}, {"bottom_tolerance", 0.01}}};
    for (const char* name : {"source", "source_V"})
        if (const auto it = wiring.all().find(name); it != wiring.all().end())
            spec.wiring.parameters.set(name, it->second);
}

/// The first option of the solver that finds this value.
void size(GaugeSpec& spec, const Catalogue& catalogue, std::string_view target) {
    for (const GaugeSolver& solver : solversFor(spec, catalogue)) {
        if (solver.target != target || !solver.take) continue;
        Parameters inputs = solver.known;
        for (const ParameterSpec& input : solver.inputs)
            if (!inputs.has(input.id) && input.defaultValue) inputs.set(input.id, *input.defaultValue);
        const auto options = solver.solve(inputs, Series::E12, 1);
        if (options && !options->empty()) solver.take(spec, options->front());
        return;
    }
}

}  // namespace

std::optional<double> supplyFor(Interval works_V, const Need& need) {
    std::optional<double> best;
    for (const double voltage : need.supplies_V)
        if (works_V.contains(voltage) && (!best || voltage < *best)) best = voltage;
    return best;
}

GaugeSpec firstGauge(const Part& part, const Wish& wish, const Need& need, const Catalogue& catalogue) {
    GaugeSpec spec = defaultGauge(part);
    fillWish(spec, wish, part);
    const Quantity signal = findSensorFamily(part.family)->output;
    if (need.free && !need.free->converter.empty() && !isSmallSignal(spec) && spec.converter.kind == "adc") {
        spec.converter = {"adc", need.free->converter, {}};
        if (const ConverterPart* converter = catalogue.findConverter(need.free->converter))
            spec.converter.kind = converter->kind;
    }
    // A resistor in a divider is best fed from the converter's own reference; a part with a supply of its own from what
    // is on hand.
    if (signal != Quantity::Resistance && part.supply_V.high > 0)
        if (const auto supply = supplyFor(part.supply_V, need); supply && !isItsReference(*supply, spec, catalogue)) {
            spec.wiring.parameters.set("source", std::string("rail"));
            spec.wiring.parameters.set("source_V", *supply);
        }
    attenuateWhereNeeded(spec, catalogue);
    for (const char* target : {"wiring.fixed_ohm", "wiring.load_ohm", "wiring.top_ohm"}) size(spec, catalogue, target);
    return spec;
}

GaugeSpec firstGauge(const DevicePart& part, const std::string& reading, const Wish& wish, const Need& need) {
    GaugeSpec spec = defaultDeviceGauge(part, reading);
    fillWish(spec, wish, part);
    if (const auto supply = supplyFor(part.supply_V, need)) spec.wiring.parameters.set("supply_V", *supply);
    if (need.cable_m > 0) spec.wiring.parameters.set("cable_m", need.cable_m);
    return spec;
}

namespace {

/// The tightest limit that the part's document states for this gauge's quantity.
std::optional<double> statedLimit(const GaugeSpec& spec, const Catalogue& catalogue, double world) {
    if (const DevicePart* device = catalogue.findDevicePart(spec.sensor.part))
        return device->accuracyAt(spec.quantity, world);
    const Part* part = catalogue.findPart(spec.sensor.part);
    return part ? part->accuracyAt(world) : std::nullopt;
}

}  // namespace

Trust trustOver(const GaugeSpec& spec, const Catalogue& catalogue) {
    Trust trust;
    const Interval span = spec.spanCanonical();
    const bool isDigital = DigitalPath::applies(spec, catalogue);
    const auto analog =
        isDigital ? Expected<AnalogPath>(fail(ErrorCode::Unsupported, "", "", "")) : AnalogPath::build(spec, catalogue);
    if (!isDigital && !analog) {
        trust.problem = analog.error().message();
        return trust;
    }
    trust.isStated = true;
    for (const ExampleValue& value : exampleValues(spec, catalogue))
        if (value.field.starts_with("sensor.") && !value.isTolerance)
            trust.open += (trust.open.empty() ? "" : ", ") + value.label;
    for (int i = 0; i < kTrustPlaces; ++i) {
        const double world = span.low + span.width() * i / (kTrustPlaces - 1);
        const auto budget = budgetAt(spec, catalogue, world);
        trust.places.push_back(world);
        trust.expandedAt.push_back(budget ? budget->expanded : std::nan(""));
        if (!budget) {
            trust.problem = budget.error().message();
            continue;
        }
        if (budget->expanded > trust.expanded) {
            trust.expanded = budget->expanded;
            trust.at = world;
        }
        trust.isStated = trust.isStated && budget->sensorStated;
        if (const auto limit = statedLimit(spec, catalogue, world)) trust.limit = std::max(trust.limit, *limit);
        for (const Contribution& line : budget->contributions)
            if (line.cause == Cause::Quantisation) trust.step = std::max(trust.step, 2 * line.limit);
        if (analog && analog->converter().clipOf(std::round(analog->exactCode(world))) != Clip::None &&
            !analog->converter().canGive(std::round(analog->exactCode(world))))
            trust.isClipped = true;
    }
    // One place without a value does not make a part useless; none with one does.
    if (std::any_of(trust.expandedAt.begin(), trust.expandedAt.end(), [](double u) { return std::isfinite(u); }) &&
        trust.problem.size()) {
        trust.isClipped = true;
        trust.problem.clear();
    }
    return trust;
}

}  // namespace fg
