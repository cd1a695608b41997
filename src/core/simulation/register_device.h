#pragma once

#include "devices/register_map.h"
#include "simulation/virtual_board.h"

namespace fg {

/// A digital part that answers reads and writes byte for byte: its calibration, its identity, its configuration registers, and results that
/// appear when a conversion is finished.
///
/// After power-on the configuration stands at its reset values and the result registers hold what the part holds before its first
/// conversion. A continuous part converts by itself, one after the other; a part in single mode converts once after the write that asks for
/// it and goes back to rest; a part without registers converts after any write (a command). Reading never waits: sooner than a conversion
/// is finished it gives the result before, or, for parts that do not answer while busy, no acknowledge.
class RegisterDevice {
  public:
    /// `map` may be null: a part that is only commanded.
    RegisterDevice(VirtualDevice device, const DevicePart& part, const RegisterMap* map, std::uint32_t seed = 1);

    void powerOn();

    /// Time passes; conversions that finish meanwhile measure the workshop as it is then.
    void advance(double seconds, const Workshop& workshop);

    /// Errors: ReadOnly for calibration and results, Range for a word cut short. What no register holds is ignored, as parts do.
    [[nodiscard]] Expected<void> write(unsigned pointer, std::span<const std::uint8_t> bytes);

    /// Errors: Busy while a part that does not acknowledge converts or before its first result; Missing for a register that holds nothing.
    [[nodiscard]] Expected<std::vector<std::uint8_t>> read(unsigned pointer, std::size_t count);

    /// Blocks without addresses (a scratchpad, a frame, a PROM, D1) by name.
    [[nodiscard]] Expected<std::vector<std::uint8_t>> readBlock(const std::string& name);

    /// The measured blocks in order, as a live frame. Errors: those of read() and readBlock().
    [[nodiscard]] Expected<std::vector<std::uint8_t>> frame();

    /// A measurement is asked for by a command (1-wire convert, a trigger pulse), whatever the registers say.
    void command() { start(); }

    /// One conversion with the settings as they stand.
    [[nodiscard]] double conversion_s() const;
    [[nodiscard]] bool isConverting() const { return m_left_s > 0; }

  private:
    [[nodiscard]] std::string fieldText(const std::string& id) const;
    [[nodiscard]] bool isContinuous() const;
    [[nodiscard]] bool isSingle() const;
    [[nodiscard]] DeviceOptions optionsNow() const;
    void start() { m_left_s = conversion_s(); }
    void finish(const Workshop& workshop);
    void putResult(const RawData& raw);

    VirtualDevice m_device;
    DevicePart m_part;
    const RegisterMap* m_map;
    std::vector<RegisterWord> m_words;
    RawData m_image;  ///< calibration, identity and results
    double m_left_s = 0;
    bool m_hasResult = false;
    boost::random::mt19937 m_random;
};

}  // namespace fg
