#pragma once

#include "units/error.h"

#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace fg {

/// A supply of the bench.
struct Rail {
    std::string name;        ///< "5 V", "cells"
    double voltage_V = 0;    ///< above 0
    double limit_A = 0;      ///< what it can give; 0 when not said
    double capacity_Ah = 0;  ///< of the cells behind it; 0: no battery
    bool operator==(const Rail&) const = default;
};

/// Where a gauge hangs. What is empty or 0 is left to the plan.
struct GaugePlace {
    std::string line;    ///< "A3", "bus 2", "wire 2", "D5"
    std::string rail;    ///< name of a rail
    double cable_m = 0;  ///< from the board to the sensor
    /// Body of the part, an outline's id; "module": a small board with a strip of pins; empty: the part's usual one.
    std::string body = {};
    std::vector<std::string> strip = {};              ///< what is printed beside a module's pins, from left to right
    std::vector<std::string> order = {};              ///< conductors in the order of the connector, by name
    std::map<std::string, std::string> colours = {};  ///< of the wires, by conductor; a word of the maker's
    bool operator==(const GaugePlace&) const = default;
    [[nodiscard]] bool isEmpty() const { return *this == GaugePlace{}; }
};

/// Something on a two-wire bus that is no gauge: a display, an expander, a clock.
struct OtherDevice {
    std::string name;
    unsigned address = 0;        ///< seven bits, 0x08 … 0x77
    std::string line = "bus 1";  ///< as GaugePlace::line
    bool operator==(const OtherDevice&) const = default;
};

/// As people write them: "display 0x3C, expander 0x20 on bus 2". Errors: Syntax, Range, naming the piece.
[[nodiscard]] Expected<std::vector<OtherDevice>> readOtherDevices(std::string_view text);
[[nodiscard]] std::string otherDevicesText(const std::vector<OtherDevice>& others);

/// What the gauges of a bench hang on. Plain data; a bench without one is planned from its gauges alone.
struct Board {
    std::vector<Rail> rails;
    double cycle_s = 0;      ///< time wanted between two rounds of readings; 0: as fast as it goes
    double awake_A = 0;      ///< the board's own current while it measures; 0 when not said
    double asleep_A = 0;     ///< and while it sleeps in between
    double pin_V = 0;        ///< high level of the board's pins; 0 when not given
    double pinsStand_V = 0;  ///< the most they stand; 0 when not given
    std::vector<OtherDevice> others = {};
    std::map<std::int64_t, GaugePlace> places = {};  ///< by gauge
    /// Of stand-alone converters, by their id: body, strip, order and colours.
    std::map<std::string, GaugePlace> converters = {};
    bool operator==(const Board&) const = default;
};

/// As kept in a bench file: a JSON object. Errors name the field, what was read and what was expected.
[[nodiscard]] std::string writeBoard(const Board& board);
[[nodiscard]] Expected<Board> readBoard(const std::string& json, const std::string& file);

}  // namespace fg
