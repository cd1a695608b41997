#pragma once

#include "simulation/register_device.h"

#include <memory>

namespace fg {

/// The board's digital parts at register level, asked line by line (docs/line-protocol.md, register access):
///
///   w 76 F4 27        write bytes from register F4 of the device at 0x76    → ok
///   r 76 F7 6         read six bytes from register F7                       → 65 5A C0 7E ED 00
///   w 44 24 00        send the command 24 00 to the device at 0x44          → ok
///   r 44 6            read six bytes, without a register: its answer        → 66 4B …
///   b tray scratchpad read a block of the part on channel "tray"            → 91 01 4B 46 7F FF 0C 10 70
///   c tray            command the part on a channel to measure             → ok
///   t 0.75            let three quarters of a workshop second pass          → ok
///
/// Whatever goes wrong is answered "nak" with the reason, as nobody acknowledges at an address that nobody has.
class RegisterBus {
  public:
    RegisterBus(const std::vector<VirtualDevice>& devices, const Catalogue& catalogue, std::uint32_t seed = 1);

    /// Answers one request; no newline on either side.
    [[nodiscard]] std::string answer(std::string_view request);

    void advance(double seconds);
    [[nodiscard]] const Workshop& workshop() const { return m_workshop; }

  private:
    struct Place {
        std::string channel;
        unsigned address;
        RegisterDevice device;
    };
    [[nodiscard]] Expected<std::string> handle(const std::vector<std::string>& words);
    [[nodiscard]] Expected<Place*> at(const std::string& address);
    [[nodiscard]] Expected<Place*> named(const std::string& channel);

    std::vector<Place> m_places;
    Workshop m_workshop;
};

}  // namespace fg
