#pragma once

#include "registers/register_map.h"
#include "simulation/virtual_board.h"

namespace fg {

/// A digital part that answers reads and writes byte for byte: its calibration, its identity, its configuration
/// registers, and results that appear when a conversion is finished.
///
/// After power-on the configuration stands at its reset values and the result registers hold what the part holds before
/// its first conversion. A continuous part converts by itself, one after the other; a part in single mode converts once
/// after the write that asks for it and goes back to rest; a part of commands converts after the commands that measure,
/// and answers what the last one asked for; a part without a map converts after any write. Reading never waits: sooner
/// than a conversion is finished it gives the result before, or, for parts that do not answer while busy, no
/// acknowledge.
class RegisterDevice {
  public:
    /// `map` may be null: a part that is only commanded.
    RegisterDevice(VirtualDevice device, const DevicePart& part, const RegisterMap* map, std::uint32_t seed = 1);

    void powerOn();

    /// Time passes; conversions that finish meanwhile measure the workshop as it is then.
    void advance(double seconds, const Workshop& workshop);

    /// `pointer` is a register, or a command's first bytes. Errors: ReadOnly for calibration and results, Range for a
    /// word cut short, Unknown for a command the part does not have, Damaged for a CRC. What no register holds is
    /// ignored, as parts do.
    [[nodiscard]] Expected<void> write(unsigned pointer, std::span<const std::uint8_t> bytes);

    /// As if the word's bytes had come over the bus.
    void take(const RegisterWord& word);

    /// From a register, or after the command that `pointer` is. Errors: Busy while a part that does not acknowledge
    /// converts or before its first result; Missing for a register that holds nothing.
    [[nodiscard]] Expected<std::vector<std::uint8_t>> read(unsigned pointer, std::size_t count);

    /// Without a pointer: what the last command asked for. Errors: Busy, or Missing where it asked for nothing.
    [[nodiscard]] Expected<std::vector<std::uint8_t>> answer(std::size_t count);

    /// Blocks without addresses (a scratchpad, a frame, a PROM, D1) by name.
    [[nodiscard]] Expected<std::vector<std::uint8_t>> readBlock(const std::string& name);

    /// The measured blocks in order, as a live frame. Errors: those of read() and readBlock().
    [[nodiscard]] Expected<std::vector<std::uint8_t>> frame();

    /// A measurement is asked for by a command (1-wire convert, a trigger pulse), whatever the registers say.
    void command();

    /// One conversion with the settings as they stand.
    [[nodiscard]] double conversion_s() const;
    [[nodiscard]] bool isConverting() const { return m_left_s > 0 && m_left_s <= m_busy_s; }

  private:
    [[nodiscard]] std::string fieldText(const std::string& id) const;
    [[nodiscard]] bool isSaid(const std::string& id) const;
    [[nodiscard]] bool isContinuous() const;
    [[nodiscard]] bool isSingle() const;
    [[nodiscard]] DeviceOptions optionsNow() const;
    [[nodiscard]] double consequence(std::initializer_list<std::string_view> ids, double otherwise) const;
    [[nodiscard]] std::string measuredBlock() const;
    [[nodiscard]] Expected<void> takeCommand(std::span<const std::uint8_t> sent);
    void settle();
    void start() { m_left_s = m_busy_s = conversion_s(); }
    void finish(const Workshop& workshop);
    void putResult(const RawData& raw);

    VirtualDevice m_device;
    DevicePart m_part;
    const RegisterMap* m_map;
    std::vector<RegisterWord> m_words;
    RawData m_image;                      ///< calibration, identity and results
    double m_left_s = 0;                  ///< until the next result; 0 when none is on its way
    double m_busy_s = 0;                  ///< of which it measures, at the end
    bool m_isAsked = false;               ///< by a command that measures
    const Register* m_last = nullptr;     ///< the last command
    std::vector<const Register*> m_sent;  ///< every command that came since power-on
    bool m_hasResult = false;
    boost::random::mt19937 m_random;
};

}  // namespace fg
