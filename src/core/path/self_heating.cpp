#include "path/self_heating.h"

#include "formula/text.h"
#include "wiring/kind.h"

#include <cmath>

namespace fg {

HeatModel HeatModel::make(const WiringSpec& wiring, const Parameters& sensor, double source_V, Quantity measurand,
                          Quantity signal) {
    HeatModel model;
    if (signal != Quantity::Resistance) return model;
    model.m_wiring = wiring;
    model.m_source_V = source_V;
    model.m_hasCurrent = sensorCurrent_A(wiring.kind, wiring.parameters, source_V, 1).has_value();
    model.m_dissipation_W_per_K =
        model.m_hasCurrent && measurand == Quantity::Temperature ? sensor.numberOr("dissipation_W_per_K", 0) : 0;
    model.m_tolerance = sensor.numberOr("dissipation_tolerance", 0);
    return model;
}

HeatModel HeatModel::withWiring(const std::string& id, double value) const {
    HeatModel moved = *this;
    moved.m_wiring.parameters.set(id, value);
    return moved;
}

HeatModel HeatModel::fedFrom(double source_V) const {
    HeatModel moved = *this;
    moved.m_source_V = source_V;
    return moved;
}

double HeatModel::rise_K(double sensor_ohm) const {
    if (isNone()) return 0;
    const HeatFormula<double> formula{m_dissipation_W_per_K};
    const double current_A = *sensorCurrent_A(m_wiring.kind, m_wiring.parameters, m_source_V, sensor_ohm);
    return formula.rise(formula.power(current_A, sensor_ohm));
}

Recorded HeatModel::recordCooled(Recording& in, const Recorded& sensor_ohm, const Recorded& measurand) const {
    if (isNone()) return measurand;
    const HeatFormula<Recorded> formula{Recorded::leaf(in, Op::Parameter, "δ", "W/K", m_dissipation_W_per_K)};
    const Recorded source = Recorded::leaf(in, Op::Parameter, "Us", "V", m_source_V);
    const auto current = findWiringKind(m_wiring.kind)->recordedCurrent(m_wiring.parameters, source, sensor_ohm);
    const Recorded through = step("I", "A", "the current through the sensor", *current);
    return step("t_cool", "degC", "without self-heating", measurand - formula.rise(formula.power(through, sensor_ohm)));
}

std::vector<TraceLine> HeatModel::explain(double sensor_ohm, double from, bool isTakenOff) const {
    if (isNone() || !(sensor_ohm >= 0)) return {};
    Recording recording;
    const auto input = [&](std::string_view name, std::string_view unit, double value) {
        return Recorded::leaf(recording, Op::Input, name, unit, value);
    };
    const HeatFormula<Recorded> formula{Recorded::leaf(recording, Op::Parameter, "δ", "W/K", m_dissipation_W_per_K)};
    const double current_A = *sensorCurrent_A(m_wiring.kind, m_wiring.parameters, m_source_V, sensor_ohm);
    const Recorded rise = formula.rise(formula.power(input("I", "A", current_A), input("R", "ohm", sensor_ohm)));
    const Recorded t = input("t", "degC", from);
    return linesOf(step(isTakenOff ? "t_cool" : "t_warm", "degC",
                        isTakenOff ? "without self-heating" : "with self-heating", isTakenOff ? t - rise : t + rise));
}

double HeatModel::settledAt(double world, const std::function<double(double)>& resistance) const {
    if (isNone()) return world;
    constexpr int kMostSteps = 60;
    const auto off = [&](double t) { return world + rise_K(resistance(t)) - t; };
    double before = world, offBefore = off(before), now = before + offBefore;
    for (int i = 0; i < kMostSteps; ++i) {
        const double offNow = off(now);
        if (!std::isfinite(offNow)) return std::nan("");
        if (std::abs(offNow) <= 1e-12 * (1 + std::abs(now)) || now == before) return now;
        // Secant: the rise changes little with the temperature, so it is there in a few steps.
        const double slope = (offNow - offBefore) / (now - before);
        before = now;
        offBefore = offNow;
        now -= offNow / (slope < 0 ? slope : -1);
    }
    return std::nan("");
}

std::optional<SelfHeating> HeatModel::at(double sensor_ohm) const {
    if (!m_hasCurrent || !(sensor_ohm >= 0)) return std::nullopt;
    SelfHeating heating;
    heating.current_A = *sensorCurrent_A(m_wiring.kind, m_wiring.parameters, m_source_V, sensor_ohm);
    const HeatFormula<double> formula{m_dissipation_W_per_K};
    heating.power_W = formula.power(heating.current_A, sensor_ohm);
    if (isNone()) return heating;
    heating.rise_K = formula.rise(heating.power_W);
    heating.isToleranceTaken = !(m_tolerance > 0);
    heating.uncertainty_K = heating.rise_K * (heating.isToleranceTaken ? kUsualDissipationTolerance : m_tolerance);
    return heating;
}

}  // namespace fg
