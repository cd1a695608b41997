#pragma once

#include "path/digital_path.h"
#include "registers/bus_transaction.h"

namespace fg {

/// One transfer with a part: bytes to it, then bytes from it.
struct SequenceStep {
    std::vector<std::uint8_t> out;  ///< a register's address or a command first; empty: only read
    std::size_t in = 0;             ///< bytes read after it
    std::string block;              ///< of the decoder, that they belong to
    std::size_t at = 0;             ///< where in it
    double wait_s = 0;              ///< afterwards
    bool isUnanswered = false;      ///< a wake-up, which the part does not acknowledge
    std::string why;                ///< "config: standby 0.5ms, filter 16"
    double startLow_s = 0;          ///< single-bus: the line is held low so long first
    unsigned pulses = 0;            ///< clocked: clock pulses in all; those past the bits choose the next conversion
};

/// How a digital part is set up and measured, from its register map, the gauge's settings and the times that follow
/// from them. Two wires: `out` written to the address, a repeated start, `in` read. Four wires: `out` and `in` while
/// the part is selected. 1-wire: reset, presence, `out`, `in`. Single-bus: a start pulse, then `in`. Clocked: when the
/// part is ready, so many pulses, of which the first give `in`.
struct MeasuringSequence {
    BusSite site;
    std::vector<SequenceStep> once;  ///< after power-on: its words, its coefficients; then the first result is there
    std::vector<SequenceStep> each;  ///< a measurement
    std::vector<std::string> notes;  ///< what nobody chose: "nobody has set a mode: it measures once, mode=forced"
    std::string missing;             ///< why there is none; empty where there is one
};

/// The sequence of a gauge's part. `blocks` are those that are wanted; every measured and calibration block of its
/// decoder where it is empty. Words and times: the part's document, by data/registers and timing/.
[[nodiscard]] MeasuringSequence sequenceOf(const DigitalPath& path, const GaugeSpec& spec, const Catalogue& catalogue,
                                           const std::vector<std::string>& blocks = {});

}  // namespace fg
