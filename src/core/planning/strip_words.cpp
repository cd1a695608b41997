#include "planning/strip_words.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <initializer_list>
#include <string>

namespace fg::plan {
namespace {

/// Words as modules are printed with, letters large. They differ from bus to bus: DO of a four-wire part is its data
/// out, SDO of a two-wire one sets its address.
struct Meaning {
    PinRole role;
    std::initializer_list<std::string_view> words;
};

PinRole among(const std::string& word, std::initializer_list<Meaning> meanings) {
    for (const Meaning& one : meanings)
        if (std::find(one.words.begin(), one.words.end(), word) != one.words.end()) return one.role;
    return PinRole::Other;
}

}  // namespace

PinRole roleOfWord(std::string_view text, std::string_view interface) {
    std::string word(text);
    std::transform(word.begin(), word.end(), word.begin(),
                   [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
    // A bridge converter feeds its bridge by these; other modules are fed by them.
    if (interface == "two-wire clocked" && word.starts_with("E")) return PinRole::Other;
    const PinRole common =
        among(word, {{PinRole::Supply,
                      {"VCC", "VDD", "VIN", "V+", "+", "E+", "VS", "+VS", "VCC/VIN", "3V3", "3.3V", "5V", "+5V",
                       "+3.3V", "3V", "VP", "PWR"}},
                     {PinRole::Ground, {"GND", "G", "-", "−", "VSS", "0V", "V-", "V−", "E-", "E−", "COM"}},
                     {PinRole::Open, {"NC", "N.C.", "N/C", "DNC"}}});
    if (common != PinRole::Other) return common;
    if (interface == "i2c")
        return among(word, {{PinRole::Data, {"SDA", "DA", "SDI", "DATA", "DAT", "D"}},
                            {PinRole::Clock, {"SCL", "CL", "SCK", "CLK", "C"}},
                            {PinRole::Address, {"ADDR", "ADD", "ADR", "AD0", "ADD0", "A0", "A1", "A2", "SDO", "SA0"}}});
    if (interface == "spi")
        return among(word, {{PinRole::Clock, {"SCK", "CLK", "SCLK", "SCL"}},
                            {PinRole::DataOut, {"SO", "DO", "SDO", "MISO", "DOUT", "CIPO"}},
                            {PinRole::DataIn, {"SI", "DI", "SDI", "MOSI", "DIN", "COPI", "SDA"}},
                            {PinRole::Select, {"CS", "SS", "CSB", "NSS", "CE"}}});
    if (interface == "two-wire clocked")
        return among(word, {{PinRole::Data, {"DT", "DOUT", "DAT", "DATA", "DO"}},
                            {PinRole::Clock, {"SCK", "CLK", "PD_SCK"}}});
    if (interface == "1-wire" || interface == "single-bus")
        return among(word, {{PinRole::Data, {"DQ", "DATA", "DAT", "OUT", "S", "SIG", "SDA", "DO", "D", "IO"}}});
    return among(word, {{PinRole::Signal,
                         {"OUT", "S", "SIG", "SIGNAL", "A0", "AO", "AOUT", "VOUT", "VO", "OUT+", "S+", "A+", "A"}},
                        {PinRole::SignalLow, {"OUT-", "OUT−", "S-", "S−", "A-", "A−"}}});
}

}  // namespace fg::plan
