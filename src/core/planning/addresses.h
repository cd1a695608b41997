#pragma once

#include "catalogue/catalogue.h"

#include <string_view>

namespace fg {

/// The addresses in a pasted bus scan: a grid ("40: -- 41 -- …", UU counts as taken) a list ("0x48", "[118]", "[56,
/// 104]"), or sentences ("device found at address 0x76"). A number without 0x is decimal unless the whole list says
/// otherwise. Errors: Syntax; Range; Missing for none.
[[nodiscard]] Expected<std::vector<unsigned>> readAddressScan(std::string_view text);

/// A catalogue part that may be at an address.
struct AddressCandidate {
    const DevicePart* part = nullptr;
    std::string straps;  ///< with which it has this address
};

/// Every part of the catalogue that can have this address.
[[nodiscard]] std::vector<AddressCandidate> candidatesAt(const Catalogue& catalogue, unsigned address);

/// Which register tells the candidates apart: one sentence, "read 0xD0: 0x58 is bmp280, 0x60 is bme280"; empty when
/// none has one.
[[nodiscard]] std::string identityHint(const std::vector<AddressCandidate>& candidates);

/// Something on a bus.
struct BusPlace {
    std::string name;  ///< of the gauge or device
    const DevicePart* part = nullptr;
    unsigned address = 0;
};

/// Two or more at one address, and the ways out.
struct AddressConflict {
    unsigned address = 0;
    std::vector<std::string> names;
    std::vector<std::string> waysOut;  ///< "Barometer: SDO to supply makes it 0x77", "a second bus", "a multiplexer"
};
[[nodiscard]] std::vector<AddressConflict> conflictsOn(const std::vector<BusPlace>& places);

}  // namespace fg
