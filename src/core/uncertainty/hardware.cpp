#include "uncertainty/hardware.h"

#include <cmath>

namespace fg {

Hardware::Hardware(const AnalogPath& path, const std::vector<Influence>& influences)
    : m_path(path), m_influences(influences) {
    const std::array stages{std::pair{Stage::Sensor, path.sensor().parameters()},
                            std::pair{Stage::Wiring, path.wiring().parameters()},
                            std::pair{Stage::Converter, path.converter().parameters()}};
    for (const Influence& influence : influences) {
        const std::string& id = influence.spec.id;
        const bool isReference =
            influence.stage == Stage::Converter && (id == "reference_V" || id == "reference_measured_V");
        std::vector<Slot> slots;
        for (const auto& [stage, parameters] : stages)
            for (std::size_t i = 0; i < parameters.size(); ++i) {
                // What feeds the network feeds the sensor; and where that is the reference, both move with it.
                const bool isSupply = parameters[i].id == "source_V";
                const bool moves = isSupply ? id == "source_V" || (isReference && path.isRatiometric())
                                            : stage == influence.stage && parameters[i].id == id;
                if (moves) slots.push_back({stage, i});
            }
        m_slots.push_back(std::move(slots));
        m_sign.push_back(influence.spec.tolerance == ToleranceKind::Relative ? std::copysign(1.0, influence.value) : 0);
    }
}

template <class N>
Hardware::Values<N> Hardware::nominal() const {
    Values<N> values{m_path.sensor().nominalParameters<N>(), m_path.wiring().nominalParameters<N>(), {}};
    for (const FormulaParameter& one : m_path.converter().parameters()) values.converter.push_back(N(one.value));
    return values;
}

void Hardware::exactCodes(std::span<const double* const> drawn, std::span<double> values) const {
    Values<const double*> columns;
    columns.sensor.resize(m_path.sensor().parameters().size());
    columns.wiring.resize(m_path.wiring().parameters().size());
    columns.converter.resize(m_path.converter().parameters().size());
    for (std::size_t i = 0; i < m_slots.size(); ++i) {
        for (const auto& [stage, index] : m_slots[i]) columns.of(stage)[index] = drawn[i];
        if (m_sign[i] == 0) continue;
        for (std::size_t row = 0; row < values.size(); ++row)
            if (m_sign[i] * drawn[i][row] < 0) values[row] = std::numeric_limits<double>::quiet_NaN();
    }
    m_path.sensor().forwardAllWith(columns.sensor, values);
    m_path.wiring().forwardAllWith(columns.wiring, values);
    m_path.converter().exactCodesWith(columns.converter, values);
}

HeatModel Hardware::heatWith(std::size_t influence, double value) const {
    const Influence& moved = m_influences[influence];
    const HeatModel heat =
        moved.stage == Stage::Wiring ? m_path.heat().withWiring(moved.spec.id, value) : m_path.heat();
    for (const auto& [stage, index] : m_slots[influence])
        if (stage == Stage::Wiring && m_path.wiring().parameters()[index].id == "source_V") return heat.fedFrom(value);
    return heat;
}

double Hardware::exactCodeAt(std::size_t influence, double value, double world) const {
    Values<double> values = nominal<double>();
    for (const auto& [stage, index] : m_slots[influence]) values.of(stage)[index] = value;
    const auto signalAt = [&](double t) { return m_path.sensor().forwardWith(values.sensor, t); };
    const HeatModel heat = heatWith(influence, value);
    const double signal = signalAt(heat.settledAt(m_path.correction().undo(world), signalAt));
    return m_path.converter().exactCodeWith(values.converter, m_path.wiring().forwardWith(values.wiring, signal));
}

Dual Hardware::exactCodeSlope(std::size_t influence, double world) const {
    Values<Dual> values = nominal<Dual>();
    for (const auto& [stage, index] : m_slots[influence]) values.of(stage)[index].slope = 1;
    const double measurand = m_path.settled(world);
    const Dual signal = m_path.sensor().forwardWith(values.sensor, Dual(measurand));
    return m_path.converter().exactCodeWith(values.converter, m_path.wiring().forwardWith(values.wiring, signal));
}

}  // namespace fg
