#include "simulation/workshop.h"

#include <cmath>
#include <limits>
#include <numbers>

namespace fg {
namespace {

constexpr double kStep_s = 1;
constexpr double kOutside_degC = 4;
constexpr double kPourInterval_s = 1800;
constexpr double kPourDrop_K = 6;
constexpr double kDoorInterval_s = 2700;
constexpr double kDoorOpen_s = 45;
constexpr double kDaylight_s = 11 * 3600;

/// Exponential approach towards `target` with a time constant.
double approach(double value, double target, double timeConstant_s) {
    return value + (target - value) * (1 - std::exp(-kStep_s / timeConstant_s));
}

bool within(double time_s, double interval_s, double length_s) {
    return std::fmod(time_s + 0.6 * interval_s, interval_s) < length_s && time_s > interval_s;
}

}  // namespace

Workshop::Workshop() { advance(2 * 3600); }  // nine o'clock: the stove has warmed the room and the glue is hot

void Workshop::advance(double seconds) {
    m_pending_s += seconds;
    for (; m_pending_s >= kStep_s; m_pending_s -= kStep_s) step();
}

void Workshop::step() {
    m_time_s += kStep_s;
    const double stove_K = 10 + 2.5 * std::sin(m_time_s / 2400);  // stoking
    m_air_degC = approach(m_air_degC, kOutside_degC + stove_K + 6, 2600);
    if (within(m_time_s, kDoorInterval_s, kDoorOpen_s)) m_air_degC = approach(m_air_degC, kOutside_degC, 240);

    // The plate has its own heat: the pot overshoots the controller's band by a little.
    if (m_pot_degC > 61) m_plateOn = false;
    if (m_pot_degC < 59) m_plateOn = true;
    m_plate_degC = approach(m_plate_degC, m_plateOn ? 118 : m_air_degC, 210);
    m_pot_degC = approach(m_pot_degC, 0.55 * m_plate_degC + 0.45 * m_air_degC, 480);
    if (within(m_time_s, kPourInterval_s, kStep_s)) m_pot_degC -= kPourDrop_K;

    if (m_iron_degC > 153) m_ironOn = false;
    if (m_iron_degC < 147) m_ironOn = true;
    m_iron_degC = approach(m_iron_degC, m_ironOn ? 310 : m_air_degC, 620);

    if (m_vacuum_Pa > 68e3) m_pumpOn = false;
    if (m_vacuum_Pa < 55e3) m_pumpOn = true;
    m_vacuum_Pa = approach(m_vacuum_Pa, m_pumpOn ? 85e3 : 0, m_pumpOn ? 45 : 1400);

    const double day = std::sin(std::numbers::pi * m_time_s / kDaylight_s);
    const double clouds = 0.7 + 0.2 * std::sin(m_time_s / 700) + 0.1 * std::sin(m_time_s / 97);
    m_light_lx = 5 + (day > 0 ? 4000 * day * clouds : 0);

    // The noon sun stands in the varnish cabinet for a while: more than its sensor can tell.
    const double sun = std::exp(-std::pow((m_time_s - 5 * 3600) / 2400, 2));
    m_cabinet_lx = 20 + 0.6 * m_light_lx + 60000 * sun * clouds;
    m_store_degC = approach(m_store_degC, m_air_degC - 2, 5400);
    m_store_percent = approach(m_store_percent, 46 - 0.8 * (m_store_degC - 15) + 3 * std::sin(m_time_s / 3100), 3600);
    m_air_Pa = 100472 + 180 * std::sin(m_time_s / 9000) - 60 * std::sin(m_time_s / 2300);
    // The soaking tray: filled warm every hour and a half, cooling in between.
    m_tray_degC = approach(m_tray_degC, m_air_degC, 2900);
    if (within(m_time_s, 5400, kStep_s)) m_tray_degC = 48;

    m_cupboard_degC = approach(m_cupboard_degC, m_air_degC + 12 + 1.5 * std::sin(m_time_s / 900), 1500);
}

double Workshop::value(std::string_view name) const {
    if (name == "glue_pot") return m_pot_degC;
    if (name == "air") return m_air_degC;
    if (name == "cupboard") return m_cupboard_degC;
    if (name == "iron") return m_iron_degC;
    if (name == "vacuum") return m_vacuum_Pa;
    if (name == "light") return m_light_lx;
    if (name == "store_temperature") return m_store_degC;
    if (name == "store_humidity") return m_store_percent;
    if (name == "air_pressure") return m_air_Pa;
    if (name == "tray") return m_tray_degC;
    if (name == "cabinet_light") return m_cabinet_lx;
    return std::numeric_limits<double>::quiet_NaN();
}

}  // namespace fg
