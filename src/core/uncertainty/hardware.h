#pragma once

#include "path/analog_path.h"
#include "uncertainty/influences.h"

namespace fg {

/// The circuit as it may really be: the formulas of a path forwards, with whatever values its influences take. Nothing
/// is built anew for it. Internal to the room. The path must outlive it.
class Hardware {
  public:
    Hardware(const AnalogPath& nominal, const std::vector<Influence>& influences);
    Hardware(const Hardware&) = delete;
    Hardware& operator=(const Hardware&) = delete;

    /// The exact codes for a sensor that stands at `values` (before the correction, self-heating included), in place.
    /// `drawn` holds one column for each influence, in order, as long as `values`. NaN where there is no code.
    void exactCodes(std::span<const double* const> drawn, std::span<double> values) const;

    /// The exact code in a world of `world`, with one influence at `value`: the sensor warms itself as the moved
    /// circuit makes it.
    [[nodiscard]] double exactCodeAt(std::size_t influence, double value, double world) const;

    /// The same as a slope to that influence; the self-heating as it is nominally.
    [[nodiscard]] Dual exactCodeSlope(std::size_t influence, double world) const;

  private:
    /// Where an influence stands among the parameters of a stage's formula.
    struct Slot {
        Stage stage;
        std::size_t index;
    };
    template <class N>
    struct Values {
        std::vector<N> sensor, wiring, converter;
        [[nodiscard]] std::vector<N>& of(Stage stage) {
            return stage == Stage::Sensor ? sensor : (stage == Stage::Wiring ? wiring : converter);
        }
    };
    template <class N>
    [[nodiscard]] Values<N> nominal() const;

    const AnalogPath& m_path;
    /// How the sensor warms itself in the moved circuit.
    [[nodiscard]] HeatModel heatWith(std::size_t influence, double value) const;

    std::vector<Influence> m_influences;
    std::vector<std::vector<Slot>> m_slots;  // of each influence; none where it has no effect on the code
    std::vector<double> m_sign;              // of a share of itself, 0 for others: no part is on the other side of 0
};

}  // namespace fg
