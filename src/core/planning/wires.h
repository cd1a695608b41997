#pragma once

#include "papers/drawing.h"

#include <cstdint>
#include <string>
#include <vector>

namespace fg {

/// One wire from a pin of the part to a place at the board.
struct Wire {
    std::string conductor;  ///< what it carries: "supply", "data (SDA)"; the same in every order
    std::string pin;        ///< at the part: "1 +VS"; empty where the pins are not known or not given
    std::string to;         ///< at the board: "5 V", "A0", "data of bus 1"
    std::string colour;     ///< as the maker chose it; empty: not chosen
    std::string mark;       ///< on both of its ends: "2.1", the cable and its place in the connector
};

/// A body that the part of a gauge can have.
struct BodyChoice {
    std::string id;  ///< as GaugePlace::body takes it
    std::string title;
};

/// The wires of one part, in the order of its connector: of gauges, or of a converter that stands by itself.
struct PinWires {
    std::int64_t gauge = 0;            ///< 0: of a converter
    std::vector<std::int64_t> gauges;  ///< all of the part
    std::string converter;             ///< id of a stand-alone converter; empty: of gauges
    std::string who, part;
    int cable = 0;                   ///< its number on the marks, from 1
    std::string body;                ///< which of `bodies` it is; empty: none is known
    std::vector<BodyChoice> bodies;  ///< the module is always among them
    std::vector<Wire> wires;
    std::vector<std::string> beside;     ///< what is soldered beside the wires, straps, pins to leave open; sentences
    std::vector<std::string> strip;      ///< of a module, as printed on it
    std::string problem;                 ///< what is still to be given, and where; empty: nothing
    std::string source;                  ///< of the pins
    std::vector<Drawing> drawings = {};  ///< the body with its pins; none where they are not known
};

/// The words of a module's strip as people type them: "VCC GND SCL SDA", with spaces, commas or both.
[[nodiscard]] std::vector<std::string> readStrip(std::string_view text);

/// `order` with the conductor at one place a place earlier or later; as it is where there is no such place.
[[nodiscard]] std::vector<std::string> movedWire(const PinWires& wires, std::size_t at, int by);

}  // namespace fg
