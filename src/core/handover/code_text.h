#pragma once

#include <cstdint>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace fg {

enum class CodeLanguage {
    C,           ///< C99
    MicroPython  ///< MicroPython, and Python 3
};

/// The number type in which a formula is computed.
enum class CodeReal { Float, Double };

/// What a program calls something: "Glue pot" is "glue_pot". Letters beyond ASCII become what people write for them
/// (ä: ae, Ω: ohm, δ: delta), everything else an underscore; never a word of the language, never starting with a digit.
[[nodiscard]] std::string identifierOf(std::string_view text);

/// Names that are all different.
class Identifiers {
  public:
    explicit Identifiers(std::set<std::string> taken = {}) : m_taken(std::move(taken)) {}
    /// The identifier of `text`, with a number behind it where it is taken.
    [[nodiscard]] std::string fresh(std::string_view text);
    [[nodiscard]] std::string freshExact(const std::string& identifier);

  private:
    std::set<std::string> m_taken;
};

/// Text of anywhere for a comment: in one line, without what would end the comment.
[[nodiscard]] std::string commentText(std::string_view text);

/// A number as it is written: "3950.0f", "2.2e-06". What is whole has a ".0".
[[nodiscard]] std::string realText(double value, CodeLanguage language, CodeReal real);

/// A whole number as a constant of C or Python. `isUnsigned` puts the u that C wants.
[[nodiscard]] std::string wholeText(std::int64_t value, CodeLanguage language, bool isUnsigned = false);

/// The integer type of C that holds both ends: "uint16_t".
[[nodiscard]] std::string integerType(std::int64_t low, std::int64_t high);
[[nodiscard]] int integerBytes(std::int64_t low, std::int64_t high);

/// Numbers as the inside of an array, a few a line, each line indented.
[[nodiscard]] std::string listText(const std::vector<std::string>& numbers, const std::string& indent);

}  // namespace fg
