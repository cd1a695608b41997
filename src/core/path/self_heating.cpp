#include "path/self_heating.h"

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

double HeatModel::rise_K(double sensor_ohm) const {
    if (isNone()) return 0;
    const double current_A = *sensorCurrent_A(m_wiring.kind, m_wiring.parameters, m_source_V, sensor_ohm);
    return current_A * current_A * sensor_ohm / m_dissipation_W_per_K;
}

double HeatModel::settledAt(double world, const Transfer& sensor) const {
    if (isNone()) return world;
    constexpr int kMostSteps = 60;
    const auto off = [&](double t) { return world + rise_K(sensor.forward(t)) - t; };
    double before = world, offBefore = off(before), now = before + offBefore;
    for (int i = 0; i < kMostSteps; ++i) {
        const double offNow = off(now);
        if (!std::isfinite(offNow)) return std::nan("");
        if (std::abs(offNow) <= 1e-12 * (1 + std::abs(now)) || now == before) return now;
        // Secant: the rise changes little with the temperature, so it is there in a few steps.
        const double slope = (offNow - offBefore) / (now - before);
        before = now, offBefore = offNow;
        now -= offNow / (slope < 0 ? slope : -1);
    }
    return std::nan("");
}

std::optional<SelfHeating> HeatModel::at(double sensor_ohm) const {
    if (!m_hasCurrent || !(sensor_ohm >= 0)) return std::nullopt;
    SelfHeating heating;
    heating.current_A = *sensorCurrent_A(m_wiring.kind, m_wiring.parameters, m_source_V, sensor_ohm);
    heating.power_W = heating.current_A * heating.current_A * sensor_ohm;
    if (isNone()) return heating;
    heating.rise_K = heating.power_W / m_dissipation_W_per_K;
    heating.isToleranceTaken = !(m_tolerance > 0);
    heating.uncertainty_K = heating.rise_K * (heating.isToleranceTaken ? kUsualDissipationTolerance : m_tolerance);
    return heating;
}

}  // namespace fg
