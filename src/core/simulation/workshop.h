// Room `simulation`: the simulated world and the virtual board that measures it, so that everything can be tried and
// tested with no hardware.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace fg {

/// The luthier's workshop through its day. Time is counted in seconds from 07:00, when the stove is lit.
///
/// A small lumped model, integrated in steps of a second: room air warmed by the stove and cooled through the walls,
/// doors opened now and then; a glue pot on a hot plate with a two-point controller (59 … 61 °C) that cold water is
/// poured into every half hour; a drying cupboard; a bending iron on its thermostat; a vacuum clamp whose pump starts
/// when it has leaked; daylight at the window with clouds. Same start, same day: nothing in it is random.
class Workshop {
  public:
    Workshop();

    /// Goes on by `seconds` (0 … 86 400).
    void advance(double seconds);

    [[nodiscard]] double time_s() const { return m_time_s; }
    [[nodiscard]] double gluePot_degC() const { return m_pot_degC; }
    [[nodiscard]] double air_degC() const { return m_air_degC; }
    [[nodiscard]] double cupboard_degC() const { return m_cupboard_degC; }
    [[nodiscard]] double iron_degC() const { return m_iron_degC; }
    [[nodiscard]] double vacuum_Pa() const { return m_vacuum_Pa; }  ///< below the air's pressure
    [[nodiscard]] double light_lx() const { return m_light_lx; }

    [[nodiscard]] double storeAir_degC() const { return m_store_degC; }
    [[nodiscard]] double storeHumidity_percent() const { return m_store_percent; }
    [[nodiscard]] double air_Pa() const { return m_air_Pa; }
    [[nodiscard]] double tray_degC() const { return m_tray_degC; }
    [[nodiscard]] double cabinetLight_lx() const {
        return m_cabinet_lx;
    }  ///< in the varnish cabinet behind its window, where the noon sun stands

    /// One of the above by name ("glue_pot", "air", "cupboard", "iron", "vacuum", "light", "store_temperature",
    /// "store_humidity", "air_pressure", "tray", "cabinet_light"); NaN for a name nobody knows.
    [[nodiscard]] double value(std::string_view name) const;

  private:
    void step();

    double m_time_s = 0;
    double m_pending_s = 0;
    double m_pot_degC = 17;
    double m_plate_degC = 17;
    double m_air_degC = 14.5;
    double m_cupboard_degC = 19;
    double m_iron_degC = 17;
    double m_vacuum_Pa = 0;
    double m_light_lx = 5;
    double m_store_degC = 15;
    double m_store_percent = 48;
    double m_air_Pa = 100472;
    double m_tray_degC = 17;
    double m_cabinet_lx = 20;
    bool m_plateOn = true;
    bool m_ironOn = true;
    bool m_pumpOn = false;
};

}  // namespace fg
