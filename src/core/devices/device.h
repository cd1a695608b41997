// Room `devices`: digital parts. Their bytes to readings and back, one decoder a file.
#pragma once

#include "bytes/raw_data.h"
#include "devices/options.h"
#include "formula/expression.h"
#include "numeric/transfer.h"
#include "units/unit.h"

#include <memory>
#include <span>

namespace fg {

/// Whether a reading is itself or only a limit: a device at the end of what it can say.
enum class Bound { None, AtLeast, AtMost };

/// One value that a device gives.
struct DeviceReading {
    std::string id;  ///< "temperature", "humidity", "pressure", "illuminance"; "internal" for a second temperature
    Quantity quantity = Quantity::Temperature;
    double value = 0;  ///< canonical; NaN when the device says that there is none
    double step = 0;   ///< what one raw step is worth here, canonical; 0 when unknown
    Bound bound = Bound::None;
    std::int32_t node = -1;  ///< of Decoded::recording; −1 without
};

/// One line of the trace with the bytes it came from.
struct DeviceLine {
    TraceLine line;
    std::vector<ByteRef> bytes;
};

/// What the device, or its bytes, say besides values.
enum class StatusKind {
    Fault,  ///< no value, or a wrong one
    Doubt,  ///< may mislead
    Note    ///< good to know
};
struct DeviceStatus {
    StatusKind kind = StatusKind::Note;
    std::string id;    ///< "power-on", "saturated", "open"
    std::string text;  ///< one sentence, numbers put in
};

/// A number that a formula took from bytes.
struct DeviceInput {
    std::int32_t node = -1;  ///< of Decoded::recording
    std::vector<ByteRef> bytes;
};

/// Bytes understood.
struct Decoded {
    std::vector<DeviceReading> readings;
    std::vector<DeviceLine> lines;
    std::vector<DeviceStatus> status;
    /// The formulas behind the readings, where lines were wanted. A reading refuses there what the decoder refuses.
    std::shared_ptr<Recording> recording;
    std::vector<DeviceInput> inputs;

    /// The reading of that id; null when there is none.
    [[nodiscard]] const DeviceReading* find(std::string_view id) const;
};

/// What a 16-bit word means that somebody read from an address and wrote down as one number, 0x6B70.
enum class WordReading {
    OfPointer,  ///< the address names a whole word: the number is the device's own, whatever the order of its bytes
    LowFirst,   ///< byte registers whose numbers have the low byte first, as a word read of the bus has: 0x6B70 is 70,
                ///< then 6B
    Unknown  ///< byte registers with the high byte first: the bus gives the one order, a person who joins bytes writes
             ///< the other
};

/// A block of bytes that a device is read by.
struct BlockSpec {
    std::string name;                 ///< "scratchpad", or what the registers hold: "calibration"
    std::optional<unsigned> address;  ///< of its first register, where the device has addresses
    std::size_t size = 0;
    bool isCalibration = false;  ///< read once, not at every measurement
    bool isOptional = false;
    std::optional<WordReading> words = {};  ///< where it differs from the rest of the device
};

/// One raw number inside the bytes that a measurement moves, and the reading it moves. Listed in the order in which
/// they can be found: a reading may depend on the numbers before its own.
struct RawVariable {
    std::string reading;
    std::int64_t low = 0, high = 0;
};

/// A kind of digital part. Adding one: a decoder file with a row of this, listed in registry.cpp.
struct Device {
    std::string_view id;     ///< "bmp280"; several designations of the catalogue may share one
    std::string_view title;  ///< on screen
    std::string_view source;
    std::vector<OptionSpec> (*options)();
    std::vector<BlockSpec> (*blocks)(const DeviceOptions& options);

    /// Bytes to readings. Errors are refusals: Missing blocks or registers, Range for wrong lengths and impossible
    /// values, Damaged for a checksum that does not fit, each naming what was read and what was expected. What is no
    /// error but no plain value either is said in Decoded::status.
    Expected<Decoded> (*decode)(const RawData& raw, const DeviceOptions& options);

    /// What a measurement moves; empty where encode() does not apply.
    std::vector<RawVariable> (*variables)(const DeviceOptions& options);
    /// The bytes the device would send for these numbers, checksums included. `calibration` holds its calibration
    /// blocks.
    RawData (*compose)(std::span<const std::int64_t> variables, const DeviceOptions& options,
                       const RawData& calibration);
    /// Calibration of a made-up specimen, for simulation; null for devices that have none.
    RawData (*specimen)() = nullptr;
    WordReading words = WordReading::Unknown;
    /// What its result registers hold from power-on until the first conversion is finished, where that is all zero and
    /// looks like a value.
    bool isZeroAtPowerOn = false;
};

[[nodiscard]] std::span<const Device* const> devices();
[[nodiscard]] const Device* findDevice(std::string_view id);

/// Words typed as numbers (RawBlock::isWords) put into the order in which the device has their bytes; everything else
/// as it is, block by block. Error: Ambiguous, naming both readings, where a word could be either.
[[nodiscard]] Expected<RawData> laidOut(const Device& device, const DeviceOptions& options, const RawData& raw);

/// The bytes of a measurement that are there, without calibration and optional blocks, in the order of the device's
/// blocks.
[[nodiscard]] std::vector<std::uint8_t> measuredBytes(const Device& device, const DeviceOptions& options,
                                                      const RawData& raw);

/// Decodes after filling in the options' defaults and refusing unknown ones. `raw` as laidOut() gives it. Bytes that
/// are all 00 or all FF are doubted, where the decoder has not already said what they are: a bus on which nothing
/// answers gives the same.
[[nodiscard]] Expected<Decoded> decode(const Device& device, const RawData& raw, const DeviceOptions& options);

/// A value wanted of one of the device's readings, canonical.
struct WantedReading {
    std::string id;
    double value = 0;
};

/// The bytes with which the device would say these values: the inverse of decode(), found on it by bisection (its
/// integer routine where it has one), so that decoding them gives each value within one raw step. Readings not named
/// keep the middle of their range. Errors: Unsupported for a device that cannot be simulated; Range for a value outside
/// what its raw numbers can express.
[[nodiscard]] Expected<RawData> encode(const Device& device, std::span<const WantedReading> wanted,
                                       const DeviceOptions& options, const RawData& calibration);

/// Splits the bytes of one live frame into the device's blocks: all of them in order, or only those that are no
/// calibration. Error: Range, with the lengths that would do.
[[nodiscard]] Expected<RawData> blocksOfFrame(const Device& device, const DeviceOptions& options,
                                              std::span<const std::uint8_t> frame);

}  // namespace fg
