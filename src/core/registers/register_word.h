#pragma once

#include "bytes/raw_data.h"

#include <map>
#include <memory>
#include <optional>
#include <span>
#include <utility>

namespace fg {

/// A run of neighbouring bits in a word, the lowest is 0.
struct BitRun {
    int high = 0, low = 0;
    bool operator==(const BitRun&) const = default;
};

/// One meaning inside a word: a choice among named codes, or a number in steps.
struct RegisterField {
    std::string id;                    ///< "osrs_t"
    std::vector<std::string> aliases;  ///< other names: the data sheet's own where `id` is a plainer word
    std::string title;                 ///< on screen
    std::vector<BitRun> bits;  ///< highest first; several where a device splits the code; none where whole words are
                               ///< listed (Register::words)
    std::vector<std::pair<std::string, std::uint32_t>>
        choices;  ///< name and code, the usual name of a code first; empty: a number
    std::vector<std::pair<std::string, std::uint32_t>>
        spoken;  ///< what people call these codes as well: 0.0625 (a step in °C) for 12 bits
    bool isSigned = false;
    double scale = 1, offset = 0;  ///< value = code · scale + offset, of a number
    int exponentBits = 0;       ///< of a number of two parts, E above M: value = (M + mantissaOffset) · 2^E · scale
    double mantissaOffset = 0;  ///< what the bits below M stand at
    std::optional<std::pair<double, double>>
        allowed;       ///< values the device accepts, where they are fewer than its bits can say
    std::string unit;  ///< unit id of a number: "degC"; empty: plain
    bool isReadOnly = false;
    std::string effect;  ///< what it does, where the title does not say it
    /// By code, what the choice makes of the converter it sets up: "reference_kind" = "supply". See
    /// path/converter_setup.h.
    std::map<std::uint32_t, std::map<std::string, std::string>> means = {};

    /// What the field is instead while the field `insteadBy` has the code `insteadCode`: a limit with more bits in an
    /// extended mode.
    std::shared_ptr<const RegisterField> instead = {};
    std::string insteadBy = {};
    std::uint32_t insteadCode = 0;

    /// How many bits its code has.
    [[nodiscard]] int width() const;
    /// Its bits in the word.
    [[nodiscard]] std::uint32_t mask() const;
    [[nodiscard]] std::uint32_t extract(std::uint32_t word) const;
    [[nodiscard]] std::uint32_t deposit(std::uint32_t word, std::uint32_t code) const;
    /// The number that a code means.
    [[nodiscard]] double numberOf(std::uint32_t code) const;
    /// The code of the nearest number; of a number of two parts the one with the smallest exponent of those. May lie
    /// beyond what the bits can hold.
    [[nodiscard]] double codeOf(double number) const;
    /// Has a code a name? Always true of a number.
    [[nodiscard]] bool hasName(std::uint32_t code) const;
};

/// In which way a word reaches its device.
enum class WordForm {
    Register,  ///< its address, then the word
    Command,   ///< the word alone: it is what the device does next
    Pulses     ///< so many clock pulses
};

/// What a command makes its device do.
enum class CommandRole { Sets, Measures, Stops, Resets };

/// A whole command word with the code of each field it stands for, in the fields' order: of devices whose words have no
/// bits to take apart.
struct ListedWord {
    std::uint32_t word = 0;
    std::vector<std::uint32_t> codes;
};

/// What a device sends when it is read after a command, without a pointer.
struct CommandAnswer {
    std::size_t bytes = 0;
    std::string block;                          ///< which of the device's blocks these bytes are: "frame", "prom"
    std::string by;                             ///< id of the field that chooses among `blocks`; empty: always `block`
    std::map<std::string, std::string> blocks;  ///< block by the text of that field
    std::string from;  ///< id of the field that counts words of `bytes` into the block; empty: from its start
};

/// A word that configures a device: of a register, or sent as a command.
struct Register {
    std::string name;
    WordForm form = WordForm::Register;
    unsigned address = 0;      ///< where it is written
    unsigned readAddress = 0;  ///< where it is read: the same but for devices that keep the two apart
    unsigned writeFlags =
        0;  ///< bits that go with the address where it is written: a command bit, the write bit of a four-wire bus
    unsigned readFlags = 0;        ///< the same where it is read
    std::size_t pointerBytes = 1;  ///< bytes of the address on the bus, high byte first
    std::size_t bytes = 1;
    ByteOrder order = ByteOrder::HighFirst;
    bool hasCrc = false;           ///< a CRC-8 (crc8Humidity, start 0xFF) follows the word on the bus
    bool sendsBytesAlone = false;  ///< a command whose bytes are commands of their own, one after the other
    CommandRole role = CommandRole::Sets;
    bool isReadOnly = false;
    CommandAnswer answer;
    std::uint32_t reset = 0;     ///< after power-on; of a command the usual one
    bool isResetKnown = true;    ///< false: what it holds after power-on is not stated, `reset` is only a beginning
    std::uint32_t reserved = 0;  ///< bits that belong to no field and keep their reset value
    std::string effect;          ///< what a command does, where its name does not say it
    std::vector<RegisterField> fields;
    std::vector<ListedWord> words;  ///< empty where bits say it

    /// What goes over the bus before the word.
    [[nodiscard]] unsigned writePointer() const { return address | writeFlags; }
    [[nodiscard]] unsigned readPointer() const { return readAddress | readFlags; }
    /// Is it this register that people mean by `pointer`: its address, or what goes over the bus for it?
    [[nodiscard]] bool isAt(unsigned pointer) const;
    /// The code of a field in a word; nothing for a word that is not listed.
    [[nodiscard]] std::optional<std::uint32_t> codeIn(const RegisterField& field, std::uint32_t word) const;
    /// The word with another code in one field; nothing where no listed word has it beside the others.
    [[nodiscard]] std::optional<std::uint32_t> with(const RegisterField& field, std::uint32_t word,
                                                    std::uint32_t code) const;
    /// Can the word be this one: reserved bits as they must be, every choice with a name? How commands are told apart.
    [[nodiscard]] bool accepts(std::uint32_t word) const;
    /// Does the device send something when it is read after this command?
    [[nodiscard]] bool isAnswered(std::uint32_t word) const;
    /// The word in bytes as they go over the bus, without its CRC, and back.
    [[nodiscard]] std::vector<std::uint8_t> bytesOf(std::uint32_t word) const;
    [[nodiscard]] std::uint32_t wordOf(std::span<const std::uint8_t> sent) const;
    /// "0xF4", "0xE6, read at 0xE7", "0x01, on the bus 0x81", "command", "pulses".
    [[nodiscard]] std::string place() const;
};

/// One register's word.
struct RegisterWord {
    const Register* in = nullptr;
    std::uint32_t word = 0;
    /// The word's bytes as they go over the bus.
    [[nodiscard]] std::vector<std::uint8_t> bytes() const { return in->bytesOf(word); }
    /// "0x2C06", and of pulses "25".
    [[nodiscard]] std::string text() const;
    /// "0b 0010 1100", and nothing of pulses.
    [[nodiscard]] std::string binary() const;
};

}  // namespace fg
