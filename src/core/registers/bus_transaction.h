#pragma once

#include "registers/register_map.h"

namespace fg {

enum class BusKind {
    None,      ///< a part whose interface nobody knows here
    TwoWire,   ///< I²C
    FourWire,  ///< SPI
    OneWire,
    SingleBus,  ///< one line: a start pulse, then bits by the length of pulses
    Clocked     ///< data and clock: a bit for each clock pulse
};

/// Where a device hangs.
struct BusSite {
    BusKind kind = BusKind::None;
    unsigned address = 0;  ///< of a two-wire device, 0x08 to 0x77; 0: not known, and nothing can be said
};
/// "i2c", "spi", "1-wire", "single-bus", "two-wire clocked" of a part's entry.
[[nodiscard]] BusKind busKindOf(std::string_view interface);

/// One step of a bus transaction as it goes over the wires.
struct BusStep {
    enum class Kind {
        Start,
        RepeatedStart,
        Byte,
        Stop,
        Select,   ///< the chip select of a four-wire bus goes low
        Release,  ///< and high again
        Reset,    ///< the long low of a 1-wire bus
        Presence  ///< and its devices' answer
    };
    Kind kind = Kind::Byte;
    std::uint8_t byte = 0;
    bool byMaster = true;              ///< who sends the byte
    std::optional<bool> acknowledged;  ///< by the other side, on a two-wire bus; the last byte of a read is not
    std::string meaning;               ///< "0x76, write", "register ctrl_meas"
    bool isMeasured = false;           ///< a byte that only the device knows
};
/// "start", "repeated-start", "byte", "stop", "select", "release", "reset", "presence".
[[nodiscard]] std::string_view busStepName(BusStep::Kind kind);

/// A transaction from start to stop, and what it is for.
struct Transaction {
    std::string title;  ///< "write", "read", "send", "answer", "convert", "keep"
    std::vector<BusStep> steps;
};

/// Everything that a word needs on the bus: a register written and read back, a command sent and its answer read. Two
/// wires: start, the address with its read/write bit, pointer, repeated start, data, acknowledges, stop (UM10204,
/// I²C-bus specification, 3.1.10 and figure 11). Four wires: the register's address, then data, between select and
/// release. None of pulses and of 1-wire parts.
[[nodiscard]] std::vector<Transaction> transactionsOf(const RegisterWord& word, const BusSite& site);

/// What a 1-wire probe needs, whose words are written all at once: the scratchpad written, kept and read, a conversion.
/// Registers that are not among `words` keep what they hold after power-on, or what was read before where that is not
/// stated. None on other buses. The probe is alone on its line (skip ROM); one of several is named by 0x55 and its ROM
/// code. Source: DS18B20 data sheet, function commands.
[[nodiscard]] std::vector<Transaction> scratchpadTransactions(const RegisterMap& map,
                                                              std::span<const RegisterWord> words, const BusSite& site);

/// "S EC A F4 A 27 A P": S start, Sr repeated start, A acknowledge, N none, P stop, ·· a byte that only the device
/// knows; "[ 80 C1 ]" with the select of a four-wire bus; "R p CC BE": R the reset of a 1-wire bus, p the presence of
/// its devices.
[[nodiscard]] std::string transactionText(std::span<const BusStep> steps);

/// What the letters of transactionText() mean on such a bus, in one sentence; empty where there are none.
[[nodiscard]] std::string_view transactionLegend(BusKind kind);

}  // namespace fg
