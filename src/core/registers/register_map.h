// Room `registers`: what a part is set to: registers by meaning both ways, the transactions that write and read them,
// its alert pin.
#pragma once

#include "registers/register_word.h"
#include "units/unit.h"

namespace fg {

/// What a field says in a word.
struct FieldValue {
    const Register* in = nullptr;
    const RegisterField* field = nullptr;
    std::uint32_t code = 0;
    double number = 0;  ///< of a number; NaN for a choice
    std::string
        text;  ///< the choice's name, or the number with its unit; "code 6 (reserved)" for a code without a name
    bool isReserved = false;  ///< a code that the data sheet gives no meaning
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

/// The clock of a converter inside a controller: the controller's own, divided.
struct ConverterClock {
    double lowest_Hz = 0, highest_Hz = 0;  ///< where it keeps its accuracy; 0: not stated
    double clocks = 0;                     ///< of a conversion beside its sampling; 0: not stated
    std::string note;                      ///< what else the document says of it
};

/// Whether a part measures with the words as they are.
enum class Measuring { Rests, Once, Always };

/// What makes a part measure.
struct MeasuringSettings {
    std::vector<Setting> once;    ///< each time they are written; empty: it cannot
    std::vector<Setting> always;  ///< without end
    bool isAlways = false;        ///< it measures without end whatever is written
    unsigned burstFlag = 0;       ///< goes with the address where several registers are read in a row
};

/// The configurable registers and commands of a device, by meaning and as words, both ways. Plain data, read from
/// data/registers/*.json.
class RegisterMap {
  public:
    std::string id;
    std::vector<std::string> parts;  ///< designations it holds for
    std::string title;               ///< of a controller, which has no entry of its own: "8-bit controller, 10 bits"
    std::string source;
    std::vector<std::string> converters;  ///< ids of the catalogue's converters that it sets up; empty: a device's map
    ConverterClock clock;
    MeasuringSettings measuring;
    std::vector<Register> registers;

    /// Reads "osrs_t=x16,mode=normal". Errors: Syntax.
    [[nodiscard]] static Expected<std::vector<Setting>> readSettings(std::string_view text);

    /// The words that the settings make, over `base` (registers not in it start at their reset value). Only registers
    /// that a setting touches, or that are in `base`. Errors: Unknown field, Range for a value that is none of its
    /// choices or does not fit its bits.
    [[nodiscard]] Expected<std::vector<RegisterWord>> set(std::span<const Setting> settings,
                                                          std::span<const RegisterWord> base = {}) const;

    /// A text of words with registers by their names as one by addresses: "adcsra=87" is "0x7A=87"; clock pulses, which
    /// are counted, as a number of their own. What is no name stays as it is.
    [[nodiscard]] std::string withAddresses(std::string text) const;

    /// Words out of bytes by register address; of a device with commands also out of bytes as they are sent, one after
    /// the other: later ones replace earlier ones. Errors: Unknown for what is no configuration register or command,
    /// Range for a length, Damaged for a CRC. With `unknown` registers that configure nothing are left out and named
    /// there instead of being an error.
    [[nodiscard]] Expected<std::vector<RegisterWord>> words(const RawData& raw,
                                                            std::vector<std::string>* unknown = nullptr) const;

    /// The command that `sent` is, alone: its word, where it is sent in several pieces over the one in `base`. Nothing
    /// for no command.
    [[nodiscard]] std::optional<RegisterWord> command(std::span<const std::uint8_t> sent,
                                                      std::span<const RegisterWord> base = {}) const;
    [[nodiscard]] bool hasCommands() const;

    /// What the words mean, field by field.
    [[nodiscard]] std::vector<FieldValue> explain(std::span<const RegisterWord> words) const;

    /// Every field as it stands in the words, or after power-on where its register is not among them.
    [[nodiscard]] std::vector<FieldValue> all(std::span<const RegisterWord> words) const;

    /// Where the words differ from what was asked.
    [[nodiscard]] Expected<std::vector<Mismatch>> compare(std::span<const RegisterWord> words,
                                                          std::span<const Setting> asked) const;

    /// The field as the words (or the reset values of those not among them) make it: itself, or what it is instead.
    [[nodiscard]] const RegisterField& inForce(const RegisterField& field, std::span<const RegisterWord> words) const;

    /// Does a part with these words measure once for each write, without end, or not at all? Rests where nothing is
    /// known of it.
    [[nodiscard]] Measuring measuringWith(std::span<const RegisterWord> words) const;

    /// Does what a command began go on by itself with these words? The field "repeat" says so; not where there is none.
    [[nodiscard]] bool isRepeated(std::span<const RegisterWord> words) const;

    /// By the address at which it is written or read.
    [[nodiscard]] const Register* findRegister(unsigned address) const;
    [[nodiscard]] std::pair<const Register*, const RegisterField*> findField(std::string_view id) const;

  private:
    [[nodiscard]] Expected<void> setOne(std::vector<RegisterWord>& words, const Setting& setting) const;
    [[nodiscard]] Expected<std::size_t> take(std::vector<RegisterWord>& words,
                                             std::span<const std::uint8_t> sent) const;
    [[nodiscard]] Expected<std::uint32_t> codeOf(const RegisterField& field, const std::string& value) const;
};

}  // namespace fg
