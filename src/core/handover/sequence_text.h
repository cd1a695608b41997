#pragma once

#include "handover/code_text.h"
#include "handover/gauge_code.h"
#include "handover/measuring_sequence.h"

namespace fg {

/// A sequence as two functions, BASE_set_up and BASE_measure, that fill the blocks of a part; with the arrays of what
/// is written, each line with its reason.
///
/// They stand on functions that the maker fills in: one transfer, fg_port_i2c(site, out, out_count, in, in_count), and
/// fg_port_wait_ms(ms) in C; port_i2c(site, out, count) and port_wait_ms(ms) in MicroPython. Of other buses fg_port_spi
/// and fg_port_wire.
struct SequenceText {
    std::string functions;
    std::vector<std::string> setUpTakes, measureTakes;  ///< names of the blocks that each of them fills
};

/// `blocks` as the code takes them; steps of other blocks are left out. `base` names the functions.
[[nodiscard]] SequenceText sequenceText(const MeasuringSequence& sequence, const std::string& base,
                                        std::span<const CodeParameter> blocks, CodeLanguage language);

/// The function that makes one transfer, to fill in, with what it has to do on this bus in its comment. Of parts that
/// are read by pulses it is written, over functions for their pins.
[[nodiscard]] std::string transferPort(BusKind kind, CodeLanguage language);

/// Bytes as the inside of an array of C, or as a bytes constant of Python.
[[nodiscard]] std::string bytesText(std::span<const std::uint8_t> bytes, CodeLanguage language);

}  // namespace fg
