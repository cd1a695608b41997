#pragma once

#include "devices/register_word.h"

namespace fg {

/// One step of a bus transaction as it goes over the wires.
struct BusStep {
    enum class Kind { Start, RepeatedStart, Byte, Stop };
    Kind kind = Kind::Byte;
    std::uint8_t byte = 0;
    bool byMaster = true;      ///< who sends the byte
    bool acknowledged = true;  ///< by the other side; the last byte of a read is not
    std::string meaning;       ///< "0x76, write", "register ctrl_meas"
    bool isMeasured = false;   ///< a byte that only the device knows
};

/// A transaction from start to stop, and what it is for.
struct Transaction {
    std::string title;  ///< "write", "read", "send", "answer"
    std::vector<BusStep> steps;
};

/// Writing bytes to a register of a two-wire device: start, address and write bit, pointer, data, stop.
/// Source: UM10204, I²C-bus specification, 3.1.10 and figure 11.
[[nodiscard]] std::vector<BusStep> writeTransaction(unsigned address, unsigned pointer, std::span<const std::uint8_t> data,
                                                    const std::string& name);
/// Reading `data.size()` bytes from a register: the pointer written, repeated start, the same address with the read bit, data, no
/// acknowledge for the last, stop.
[[nodiscard]] std::vector<BusStep> readTransaction(unsigned address, unsigned pointer, std::span<const std::uint8_t> data,
                                                   const std::string& name);

/// Everything that a word needs on the bus: a register written and read back, a command sent and its answer read. None of pulses.
[[nodiscard]] std::vector<Transaction> transactionsOf(const RegisterWord& word, unsigned address);

/// "S EC A F4 A 27 A P": S start, Sr repeated start, A acknowledge, N none, P stop, ·· a byte that only the device knows.
[[nodiscard]] std::string transactionText(std::span<const BusStep> steps);

}  // namespace fg
