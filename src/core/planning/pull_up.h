// Room `planning`: laying out a bench before soldering: buses, addresses, pull-ups.
#pragma once

#include "sensors/parameters.h"
#include "units/error.h"
#include "wiring/preferred_values.h"

#include <optional>
#include <string>
#include <vector>

namespace fg {

/// The kinds of open-drain line that need a pull-up.
enum class LineKind {
    I2cStandard,  ///< 100 kbit/s
    I2cFast,      ///< 400 kbit/s
    I2cFastPlus,  ///< 1 Mbit/s
    OneWire,
    SingleBus  ///< the 40-bit humidity parts
};
[[nodiscard]] std::optional<LineKind> lineKindFromName(
    const std::string& name);  ///< "100k", "400k", "1M", "1-wire", "single-bus"
[[nodiscard]] std::string lineKindName(LineKind kind);

/// What hangs on the line.
struct PullUpQuestion {
    LineKind kind = LineKind::I2cFast;
    double supply_V = 3.3;
    std::optional<double> capacitance_F;  ///< measured or known; else estimated from the two below
    double cable_m = 0;                   ///< of the whole line
    int devices = 1;                      ///< hanging on it, the controller not counted
    std::vector<double> modules_ohm;      ///< pull-ups that modules already carry, in parallel
    std::optional<double> own_ohm;        ///< the one to be judged; nothing: only say what fits
    bool tiedToGround = false;            ///< the resistors go to ground instead of to the supply
    Series series = Series::E12;
};

/// Severity of what is said, as findings have it.
enum class LineFault { None, Missing, TooWeak, TooStrong, ToGround, NoWindow };

struct PullUpAnswer {
    double capacitance_F = 0;
    bool estimated = false;
    double least_ohm = 0, most_ohm = 0;  ///< window for everything in parallel
    double modules_ohm = 0;              ///< what the modules make together; 0 when they carry none
    double total_ohm = 0;                ///< with the one to be judged; 0 when there is none at all
    double rise_s = 0,
           riseLimit_s =
               0;  ///< 30 % to 70 % for I²C, 0 to the high threshold for the others; 0 when there is no resistor
    double sink_A = 0, sinkLimit_A = 0;     ///< what a device must sink to pull the line low
    std::optional<double> recommended_ohm;  ///< standard value that brings the whole into the window, nearest to its
                                            ///< geometric middle (I²C) or to the 4.7 kΩ of the data sheets (the
                                            ///< others); nothing when none is needed or none can
    LineFault fault = LineFault::None;
    std::string text;  ///< one or two sentences with the numbers
    std::string
        advice;  ///< what would fit and what to take, before anything is said of the line; empty when nothing fits
};

/// I²C: R ≥ (VDD − VOL)/IOL with VOL 0.4 V at 3 mA (0.2·VDD at 2 mA up to 2 V; 20 mA for fast-mode plus), R ≤
/// tr/(0.8473·Cb) with tr 1000, 300, 120 ns. Source: UM10204 rev. 7, 7.1 pull-up resistor sizing, tables 9 and 10.
/// 1-wire: 4 mA at 0.4 V (DS18B20 data sheet, DC electrical characteristics); the line must be high (2.2 V) within the
/// 15 µs in which a read slot is sampled, less the 1 µs it is held low and 4 µs for the controller. Single-bus: the
/// same sink; high (0.7·VDD) within a fifth of the 26 µs that a 0 lasts. Capacitance where it is not given: 10 pF a
/// device, 20 pF of the board, 100 pF a metre of cable. Errors: Range for a supply, length, number or resistance that
/// cannot be.
[[nodiscard]] Expected<PullUpAnswer> sizePullUp(const PullUpQuestion& question);

/// The question as a gauge's wiring has it: speed, supply_V, cable_m, devices, capacitance_F, modules and module_ohm,
/// pullup_ohm, pullups_to ("supply", "ground"). `onBus` devices of the bench hang there where the wiring does not say
/// how many. Nothing is said of the line until pullup_ohm or modules stands there.
[[nodiscard]] PullUpQuestion questionOf(const Parameters& wiring, const std::string& interface, std::size_t onBus);
[[nodiscard]] bool saysPullUp(const Parameters& wiring);

}  // namespace fg
