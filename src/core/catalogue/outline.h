#pragma once

#include "units/error.h"

#include <map>
#include <string>
#include <vector>

namespace fg {

class JsonFields;

/// How the pins of a body stand, as it is drawn.
enum class OutlineForm {
    Leads,  ///< in one row below the body: a moulded body with wire leads, a module with a pin strip
    Sides   ///< on two sides, numbered against the clock from the upper left corner: chips seen from above
};

/// The body of a part as it is drawn, from the package's outline: data/outlines/*.json. Lengths are nominal.
struct Outline {
    std::string id;     ///< "to-92", "so-8"
    std::string title;  ///< "moulded body with a flat face, three leads (TO-92)"
    std::string view;   ///< from where it is drawn: "flat face towards you, leads down"
    OutlineForm form = OutlineForm::Sides;
    int left = 0, right = 0;  ///< pins on each side; of a row all stand in `left`
    double width_mm = 0, height_mm = 0;
    double pitch_mm = 0;       ///< between neighbouring pins
    bool isFlatFaced = false;  ///< the face that is seen is the flat one
    bool hasNotch = false;     ///< a notch or dot marks the end with pin 1
    [[nodiscard]] int pins() const { return left + right; }
};

using Outlines = std::map<std::string, Outline>;

/// Reads one; errors name `file` and the field.
[[nodiscard]] Expected<Outline> readOutline(const std::string& json, const std::string& file);

/// What a pin is for; by this a wire finds its pin.
enum class PinRole {
    Other,  ///< has its own use, which its name tells
    Supply,
    Ground,
    Signal,     ///< of an analog part
    SignalLow,  ///< the lower one of a differential pair
    Data,       ///< of a two-wire, 1-wire or single bus
    Clock,
    DataOut,  ///< from the part to the board
    DataIn,   ///< from the board to the part
    Select,
    Reference,  ///< of a converter: the voltage it counts against
    Address,  ///< sets the bus address, as the straps of the address say
    Open      ///< connect nothing
};

struct Pin {
    std::string name;  ///< as its document names it: "+VS", "DQ"
    PinRole role = PinRole::Other;
};

/// The pins of a part in one of its bodies, pin 1 first.
struct Pinout {
    std::string outline;  ///< an id of the outlines
    std::vector<Pin> pins;
    std::string source;  ///< document title and section
};

/// The member "pins" of a part file: [{"outline", "pins": [["+VS", "supply"], …], "source"}, …]. None where there is no
/// such member.
[[nodiscard]] std::vector<Pinout> readPinouts(JsonFields& fields);

}  // namespace fg
