#pragma once

#include "devices/raw_data.h"
#include "units/unit.h"

#include <map>
#include <span>

namespace fg {

/// One meaning inside a register: a choice among named codes, or a number in steps.
struct RegisterField {
    std::string id;                                              ///< "osrs_t"
    std::vector<std::string> aliases;                            ///< other names: the data sheet's own where `id` is a plainer word
    std::string title;                                           ///< on screen
    int high = 0, low = 0;                                       ///< bits, the lowest is 0
    std::vector<std::pair<std::string, std::uint32_t>> choices;  ///< name and code, the usual name of a code first; empty: a number
    bool isSigned = false;
    double scale = 1, offset = 0;  ///< value = code · scale + offset, of a number
    std::string unit;              ///< unit id of a number: "degC"; empty: plain
    bool readOnly = false;
    std::string effect;  ///< what it does, where the title does not say it

    [[nodiscard]] std::uint32_t mask() const { return ((std::uint32_t{2} << (high - low)) - 1) << low; }
};

struct Register {
    std::string name;
    unsigned address = 0;
    std::size_t bytes = 1;
    ByteOrder order = ByteOrder::HighFirst;
    std::uint32_t reset = 0;     ///< after power-on
    std::uint32_t reserved = 0;  ///< bits that belong to no field and keep their reset value
    std::vector<RegisterField> fields;
};

/// What a field says in a word.
struct FieldValue {
    const Register* in = nullptr;
    const RegisterField* field = nullptr;
    std::uint32_t code = 0;
    double number = 0;  ///< of a number; NaN for a choice
    std::string text;   ///< the choice's name, or the number with its unit; "code 6 (reserved)" for a code without a name
    bool isReserved = false;
};

/// One register's word.
struct RegisterWord {
    const Register* in = nullptr;
    std::uint32_t word = 0;
    /// The word's bytes as they go over the bus.
    [[nodiscard]] std::vector<std::uint8_t> bytes() const;
};

/// A setting asked for: "osrs_t=x16", "high_limit=31 °C".
struct Setting {
    std::string id;
    std::string value;
};

/// Where words do not do what was asked.
struct Mismatch {
    const RegisterField* field = nullptr;
    std::string asked, found;
    std::string text;  ///< one sentence: "standby is 500ms, half of the 1000ms asked for"
};

/// The configurable registers of a device, by meaning and as words, both ways. Plain data, read from data/registers/*.json.
class RegisterMap {
  public:
    std::string id;
    std::vector<std::string> parts;  ///< designations it holds for
    std::string source;
    std::vector<Register> registers;

    /// Reads "osrs_t=x16,mode=normal". Errors: Syntax.
    [[nodiscard]] static Expected<std::vector<Setting>> readSettings(std::string_view text);

    /// The words that the settings make, over `base` (registers not in it start at their reset value). Only registers that a setting
    /// touches, or that are in `base`. Errors: Unknown field, Range for a value that is none of its choices or does not fit its bits.
    [[nodiscard]] Expected<std::vector<RegisterWord>> set(std::span<const Setting> settings, std::span<const RegisterWord> base = {}) const;

    /// Words out of bytes by register address. Errors: Unknown for an address that is no configuration register, Range for a length.
    [[nodiscard]] Expected<std::vector<RegisterWord>> words(const RawData& raw) const;

    /// What the words mean, field by field.
    [[nodiscard]] std::vector<FieldValue> explain(std::span<const RegisterWord> words) const;

    /// Every field as it stands in the words, or after power-on where its register is not among them.
    [[nodiscard]] std::vector<FieldValue> all(std::span<const RegisterWord> words) const;

    /// Where the words differ from what was asked.
    [[nodiscard]] Expected<std::vector<Mismatch>> compare(std::span<const RegisterWord> words, std::span<const Setting> asked) const;

    [[nodiscard]] const Register* findRegister(unsigned address) const;
    [[nodiscard]] std::pair<const Register*, const RegisterField*> findField(std::string_view id) const;

  private:
    [[nodiscard]] Expected<std::uint32_t> codeOf(const RegisterField& field, const std::string& value) const;
};

/// One step of a bus transaction as it goes over the wires.
struct BusStep {
    enum class Kind { Start, RepeatedStart, Byte, Stop };
    Kind kind = Kind::Byte;
    std::uint8_t byte = 0;
    bool byMaster = true;      ///< who sends the byte
    bool acknowledged = true;  ///< by the other side; the last byte of a read is not
    std::string meaning;       ///< "0x76, write", "register ctrl_meas"
};

/// Writing bytes to a register of a two-wire device: start, address and write bit, pointer, data, stop.
/// Source: UM10204, I²C-bus specification, 3.1.10 and figure 11.
[[nodiscard]] std::vector<BusStep> writeTransaction(unsigned address, unsigned pointer, std::span<const std::uint8_t> data,
                                                    const std::string& name);
/// Reading `data.size()` bytes from a register: the pointer written, repeated start, the same address with the read bit, data, no
/// acknowledge for the last, stop.
[[nodiscard]] std::vector<BusStep> readTransaction(unsigned address, unsigned pointer, std::span<const std::uint8_t> data,
                                                   const std::string& name);
/// "S EC A F4 A 27 A P": S start, Sr repeated start, A acknowledge, N none, P stop.
[[nodiscard]] std::string transactionText(std::span<const BusStep> steps);

}  // namespace fg
