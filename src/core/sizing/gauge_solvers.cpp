#include "sizing/gauge_solvers.h"

#include "converters/kind.h"
#include "path/gauge_field.h"
#include "path/source_impedance.h"
#include "sizing/sensor_divider.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace fg {
namespace {

/// What the inputs of a solver are taken from.
struct Known {
    const GaugeSpec& spec;
    const AnalogPath& path;
    Parameters converter;

    [[nodiscard]] double signalLow() const {
        return std::min(signalAt(spec.spanCanonical().low), signalAt(spec.spanCanonical().high));
    }
    [[nodiscard]] double signalHigh() const {
        return std::max(signalAt(spec.spanCanonical().low), signalAt(spec.spanCanonical().high));
    }
    [[nodiscard]] double signalAt(double world) const { return path.signalAt(world); }
    [[nodiscard]] double pinAt(double world) const { return path.wiring().forward(signalAt(world)); }
    [[nodiscard]] double fullScale_V() const {
        return path.converter().lsb() * static_cast<double>(path.converter().maxCode() + 1);
    }
    [[nodiscard]] double bits() const { return converter.numberOr("bits", 10); }
    /// Full scale with the reference at its low limit: what must never be above it must not be above this.
    [[nodiscard]] double lowestFullScale_V() const {
        const bool isMeasured = converter.numberOr("reference_measured_V", 0) > 0;
        return fullScale_V() *
               (1 - converter.numberOr(isMeasured ? "reference_measured_tolerance" : "reference_tolerance", 0));
    }
    [[nodiscard]] double wiring(const char* name) const { return spec.wiring.parameters.numberOr(name, 0); }
};

void setWhereKnown(Parameters& inputs, const char* name, double value) {
    if (std::isfinite(value) && value > 0) inputs.set(name, value);
}

Parameters knownForLoad(const Known& gauge, const char* resistor) {
    Parameters inputs{{"low_A", gauge.signalLow()},
                      {"high_A", gauge.signalHigh()},
                      {"limit_V", gauge.lowestFullScale_V()},
                      {"bits", gauge.bits()}};
    setWhereKnown(inputs, "tolerance", gauge.wiring(resistor));
    if (!gauge.path.isRatiometric()) setWhereKnown(inputs, "supply_V", gauge.path.source_V());
    return inputs;
}

Parameters knownForShunt(const Known& gauge) {
    Parameters inputs{{"limit_V", gauge.lowestFullScale_V()}, {"bits", gauge.bits()}};
    setWhereKnown(inputs, "tolerance", gauge.wiring("load_tolerance"));
    setWhereKnown(inputs, "transmitter_min_V", gauge.path.part().supply_V.low);
    if (!gauge.path.isRatiometric()) setWhereKnown(inputs, "supply_V", gauge.path.source_V());
    return inputs;
}

Parameters knownForPulses(const Known& gauge) {
    Parameters inputs;
    const Parameters sensor = gauge.spec.sensor.parameters.over(gauge.path.part().parameters);
    for (const char* name : {"low_max_A", "high_min_A", "high_max_A", "sensor_min_V"})
        setWhereKnown(inputs, name, sensor.numberOr(name, 0));
    setWhereKnown(inputs, "supply_V", gauge.path.source_V());
    setWhereKnown(inputs, "tolerance", gauge.wiring("load_tolerance"));
    return inputs;
}

Parameters knownForAttenuator(const Known& gauge) {
    Parameters inputs{{"input_max_V", gauge.signalHigh()}, {"limit_V", gauge.lowestFullScale_V()}};
    setWhereKnown(inputs, "impedance_max_ohm", gauge.converter.numberOr("source_impedance_max_ohm", 0));
    setWhereKnown(inputs, "tolerance", gauge.wiring("top_tolerance"));
    return inputs;
}

Parameters knownForReference(const Known& gauge) {
    const Interval span = gauge.spec.spanCanonical();
    Parameters inputs{{"signal_low_V", gauge.pinAt(span.low)},
                      {"signal_high_V", gauge.pinAt(span.high)},
                      {"units", gauge.spec.reading.span.width()},
                      {"bits", gauge.bits()}};
    if (const std::string kind = gauge.converter.textOr("reference_kind", "");
        kind == "supply" || kind == "unregulated")
        setWhereKnown(inputs, "supply_V", effectiveReference_V(gauge.converter));
    return inputs;
}

Parameters knownForFilter(const Known& gauge) {
    Parameters inputs{{"settle_s", 1e-3}, {"bits", gauge.bits()}};
    setWhereKnown(inputs, "resistor_ohm", worstSourceImpedance_ohm(gauge.spec, gauge.path));
    setWhereKnown(inputs, "sample_F", gauge.converter.numberOr("sample_capacitor_F", 0));
    setWhereKnown(inputs, "impedance_max_ohm", gauge.converter.numberOr("source_impedance_max_ohm", 0));
    return inputs;
}

Parameters knownForBridge(const Known& gauge) {
    const Parameters sensor = gauge.spec.sensor.parameters.over(gauge.path.part().parameters);
    Parameters inputs{{"excitation_V", gauge.path.source_V()}, {"wanted_Pa", gauge.spec.spanCanonical().high}};
    for (const char* name : {"span_V_per_V", "full_scale_Pa", "zero_V_per_V", "span_tolerance"})
        setWhereKnown(inputs, name, sensor.numberOr(name, 0));
    setWhereKnown(inputs, "full_scale_of_reference", gauge.converter.numberOr("full_scale_of_reference", 1));
    return inputs;
}

Parameters knownForBits(const Known& gauge) { return {{"bits", gauge.bits()}, {"wanted_bits", gauge.bits() + 2}}; }

Parameters knownForProtection(const Known& gauge) {
    Parameters inputs{{"limit_V", gauge.lowestFullScale_V()}};
    setWhereKnown(inputs, "impedance_max_ohm", gauge.converter.numberOr("source_impedance_max_ohm", 0));
    setWhereKnown(inputs, "clamp_A", gauge.converter.numberOr("clamp_current_max_A", 0));
    return inputs;
}

void put(Parameters& parameters, const std::string& name, const SizingOption& option, const std::string& from) {
    for (const auto& [own, value] : option.values)
        if (own == from) parameters.set(name, value);
}

/// Where a solver of solver.h finds a value of a gauge.
struct Place {
    const char* solver;
    bool (*applies)(const Known& gauge);
    Parameters (*known)(const Known& gauge);
    const char* target;                   ///< the value whose lock asks for it
    std::array<const char*, 4> from, to;  ///< values of an option and the fields they go into; nullptr ends
};

bool isWired(const Known& gauge, std::string_view kind) { return gauge.spec.wiring.kind == kind; }
/// A loop of 4 … 20 mA, told by its current.
bool isLoop(const Known& gauge) { return gauge.signalLow() >= 3.5e-3 && gauge.signalHigh() <= 22e-3; }
bool readsVolts(const Known& gauge) { return gauge.path.converter().isAdc(); }

const std::array kPlaces{
    Place{"shunt",
          [](const Known& g) { return isWired(g, "load") && isLoop(g); },
          knownForShunt,
          "wiring.load_ohm",
          {"shunt_ohm"},
          {"wiring.load_ohm"}},
    Place{"load",
          [](const Known& g) { return isWired(g, "load") && !isLoop(g); },
          [](const Known& g) { return knownForLoad(g, "load_tolerance"); },
          "wiring.load_ohm",
          {"load_ohm"},
          {"wiring.load_ohm"}},
    Place{"load",
          [](const Known& g) { return isWired(g, "transimpedance"); },
          [](const Known& g) { return knownForLoad(g, "feedback_tolerance"); },
          "wiring.feedback_ohm",
          {"load_ohm"},
          {"wiring.feedback_ohm"}},
    Place{"pulse-load",
          [](const Known& g) { return isWired(g, "pulse-load"); },
          knownForPulses,
          "wiring.load_ohm",
          {"load_ohm"},
          {"wiring.load_ohm"}},
    Place{"divider",
          [](const Known& g) { return isWired(g, "attenuator"); },
          knownForAttenuator,
          "wiring.top_ohm",
          {"top_ohm", "bottom_ohm"},
          {"wiring.top_ohm", "wiring.bottom_ohm"}},
    Place{"bridge",
          [](const Known& g) { return isWired(g, "bridge"); },
          knownForBridge,
          "converter.gain",
          {"gain"},
          {"converter.gain"}},
    Place{"reference",
          [](const Known& g) { return readsVolts(g) && !g.path.isRatiometric(); },
          knownForReference,
          "converter.reference_V",
          {"reference_V"},
          {"converter.reference_V"}},
    Place{"rc-filter", readsVolts, knownForFilter, "wiring.capacitor_F", {"capacitor_F"}, {"wiring.capacitor_F"}},
};

void putAll(GaugeSpec& spec, const Place& place, const SizingOption& option) {
    for (std::size_t i = 0; i < place.from.size() && place.from[i]; ++i) {
        const std::string field = fieldName(place.to[i]);
        put(parametersAt(spec, place.to[i]), field, option, place.from[i]);
        // Another reference than before: what was measured of the old one says nothing about it.
        if (field == "reference_V") {
            spec.converter.parameters.set("reference_measured_V", 0.0);
            spec.converter.parameters.remove("reference_measured_tolerance");
        }
    }
    for (const auto& [name, value] : option.worst)
        if (std::string_view(place.solver) == "reference" && name == "scale_error")
            spec.converter.parameters.set("reference_tolerance", value);
}

GaugeSolver plain(const Solver& solver) {
    return {std::string(solver.id),
            std::string(solver.title),
            std::string(solver.purpose),
            "",
            solver.inputs(),
            {},
            [&solver](const Parameters& inputs, Series series, std::size_t most) {
                return fg::solve(solver, inputs, series, most);
            },
            {}};
}

SizingOption optionOf(const SensorDividerOption& one, const Unit& unit, bool variesParallel, DividerAim aim) {
    SizingOption option;
    option.values =
        variesParallel ? NamedValues{{"parallel_ohm", one.parallel_ohm}} : NamedValues{{"fixed_ohm", one.fixed_ohm}};
    option.nominal = {{"codes_per_unit_middle", one.middleCounts},
                      {"range_used", one.rangeUsed},
                      {"straightness", one.straightness}};
    option.worst = {{"codes_per_unit", one.worstCounts}, {"at", one.worstAt}};
    if (one.selfHeating_K > 0) option.nominal.emplace_back("self_heating_K", one.selfHeating_K);
    option.fits = !one.tooWarm;
    option.merit = aim == DividerAim::Linearity ? -one.straightness : one.worstCounts;
    option.why = fmt::format("never fewer than {} codes per {}, at {} {}; straight to ± {} {}",
                             significantDigits(one.worstCounts, 3), unit.symbol, plainNumber(one.worstAt, 4),
                             unit.symbol, significantDigits(one.straightness, 2), unit.symbol);
    if (one.selfHeating_K > 0)
        option.why += fmt::format("; warms the sensor by up to {} {}",
                                  significantDigits(unit.differenceFromCanonical(one.selfHeating_K), 2), unit.symbol);
    if (one.tooWarm) option.why += ", above the limit";
    if (one.lossToFirst > 0.005)
        option.why += fmt::format("; {} % fewer codes than the first", fixedDigits(100 * one.lossToFirst, 0));
    return option;
}

std::vector<ParameterSpec> dividerInputs() {
    return {{"tolerance", "Tolerance of the resistor", Quantity::Ratio, "", 0.01},
            {"self_heating_K", "Most the sensor may warm itself; 0: no limit", Quantity::Ratio, "K", 0.0}};
}

GaugeSolver dividerSolver(const GaugeSpec& spec, const Catalogue& catalogue, bool variesParallel, DividerAim aim) {
    GaugeSolver solver;
    solver.id = variesParallel                 ? "linearising"
                : aim == DividerAim::Linearity ? "sensor-divider-straight"
                                               : "sensor-divider";
    solver.title = variesParallel                 ? "Linearising resistor across the sensor"
                   : aim == DividerAim::Linearity ? "R1 for the straightest voltage"
                                                  : "R1 for the best resolution";
    solver.purpose =
        variesParallel
            ? "With R1 as it is: the resistor across the sensor that makes its voltage straightest over the span."
        : aim == DividerAim::Linearity
            ? "The fixed resistor at which the voltage comes nearest to a straight line over the span."
            : "The fixed resistor with the most codes per unit at the worst place of the span, at its tolerance.";
    solver.target = variesParallel ? "wiring.parallel_ohm" : "wiring.fixed_ohm";
    solver.inputs = dividerInputs();
    const double tolerance =
        spec.wiring.parameters.numberOr(variesParallel ? "parallel_tolerance" : "fixed_tolerance", 0);
    setWhereKnown(solver.known, "tolerance", tolerance);
    solver.solve = [spec, &catalogue, variesParallel, aim](const Parameters& inputs, Series series,
                                                           std::size_t most) -> Expected<std::vector<SizingOption>> {
        const SensorDividerWish wish{series, inputs.numberOr("tolerance", 0.01), inputs.numberOr("self_heating_K", 0),
                                     most, aim};
        const auto sized =
            variesParallel ? sizeLinearisingResistor(spec, catalogue, wish) : sizeSensorDivider(spec, catalogue, wish);
        if (!sized) return tl::unexpected(sized.error());
        std::vector<SizingOption> options;
        for (const SensorDividerOption& one : *sized)
            options.push_back(optionOf(one, spec.readingUnit(), variesParallel, aim));
        return options;
    };
    solver.take = [variesParallel](GaugeSpec& changed, const SizingOption& option) {
        changed.wiring.parameters.set(variesParallel ? "parallel_ohm" : "fixed_ohm", option.values.front().second);
    };
    return solver;
}

}  // namespace

std::vector<GaugeSolver> solversFor(const GaugeSpec& spec, const Catalogue& catalogue) {
    std::vector<GaugeSolver> list;
    const auto path = AnalogPath::build(spec, catalogue);
    if (path && spec.wiring.kind == "divider" && path->signalQuantity() == Quantity::Resistance) {
        list.push_back(dividerSolver(spec, catalogue, false, DividerAim::Resolution));
        list.push_back(dividerSolver(spec, catalogue, false, DividerAim::Linearity));
        list.push_back(dividerSolver(spec, catalogue, true, DividerAim::Linearity));
    }
    if (path) {
        const Known gauge{spec, *path, effectiveConverter(spec, catalogue)};
        for (const Place& place : kPlaces) {
            if (!place.applies(gauge)) continue;
            GaugeSolver solver = plain(*findSolver(place.solver));
            solver.target = place.target;
            solver.known = place.known(gauge);
            solver.take = [&place](GaugeSpec& changed, const SizingOption& option) { putAll(changed, place, option); };
            list.push_back(std::move(solver));
        }
        for (const auto& [id, known] :
             {std::pair{"oversampling", &knownForBits}, std::pair{"protection", &knownForProtection}}) {
            list.push_back(plain(*findSolver(id)));
            list.back().known = known(gauge);
        }
    }
    for (const Solver& solver : solvers())
        if (std::none_of(list.begin(), list.end(), [&](const GaugeSolver& there) { return there.id == solver.id; }))
            list.push_back(plain(solver));
    return list;
}

bool isTaken(const GaugeSolver& solver, const GaugeSpec& spec, const SizingOption& option) {
    if (!solver.take) return false;
    GaugeSpec changed = spec;
    solver.take(changed, option);
    const auto near = [](const Parameters& a, const Parameters& b) {
        return std::all_of(a.all().begin(), a.all().end(), [&](const auto& entry) {
            const auto* value = std::get_if<double>(&entry.second);
            return !value || std::abs(*value - b.numberOr(entry.first, 0)) <= 1e-9 * std::abs(*value);
        });
    };
    return near(changed.wiring.parameters, spec.wiring.parameters) &&
           near(changed.converter.parameters, spec.converter.parameters);
}

namespace {

const std::map<std::string, Quantity>& unitsOfNames() {
    static const std::map<std::string, Quantity> units{{"V", Quantity::Voltage},      {"A", Quantity::Current},
                                                       {"ohm", Quantity::Resistance}, {"Hz", Quantity::Frequency},
                                                       {"s", Quantity::Time},         {"F", Quantity::Capacitance},
                                                       {"Pa", Quantity::Pressure}};
    return units;
}

std::pair<std::string, std::string> split(const std::string& name) {
    const std::size_t at = name.rfind('_');
    return at == std::string::npos ? std::pair{name, std::string()}
                                   : std::pair{name.substr(0, at), name.substr(at + 1)};
}

}  // namespace

std::string namedLabel(const std::string& name) {
    static const std::map<std::string, std::string> own{{"fixed_ohm", "R1"},
                                                        {"parallel_ohm", "Rp"},
                                                        {"codes_per_unit", "fewest/unit"},
                                                        {"at", "there"},
                                                        {"codes_per_unit_middle", "at mid-span"},
                                                        {"straightness", "straight to ±"},
                                                        {"self_heating_K", "warms itself"}};
    if (const auto it = own.find(name); it != own.end()) return it->second;
    const auto [stem, unit] = split(name);
    const bool isUnit = unitsOfNames().count(unit) > 0 || unit == "K" || unit == "dB" || unit == "W" || unit == "LSB";
    std::string label = isUnit ? stem : name;
    std::replace(label.begin(), label.end(), '_', ' ');
    return label;
}

std::string namedText(const std::string& name, double value) {
    const auto [stem, unit] = split(name);
    if (name == "parallel_ohm" && value == 0) return "none";
    if (const auto it = unitsOfNames().find(unit); it != unitsOfNames().end()) {
        // Standard values keep their digits, what follows from them is rounded.
        const NumberText exact = shortEngineering(value, it->second);
        return exact.digits.size() <= 5 ? exact.joined() : engineering(value, it->second, 3).joined();
    }
    if (unit == "W") return significantDigits(1e3 * value, 3) + " mW";
    if (name == "range_used" || name == "scale_error") return fixedDigits(100 * value, value < 0.1 ? 1 : 0) + " %";
    const std::string digits =
        value == std::floor(value) && std::abs(value) < 1e6 ? plainNumber(value, 7) : significantDigits(value, 3);
    return unit == "K" || unit == "dB" || unit == "LSB" ? digits + " " + unit : digits;
}

}  // namespace fg
