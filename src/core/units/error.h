// Room `units`: quantities, their units, engineering notation in and out, and the one error type of the core.
#pragma once

#include <string>
#include <tl/expected.hpp>
#include <utility>

namespace fg {

/// What kind of thing went wrong. Callers branch on this; people read Error::message().
enum class ErrorCode {
    Syntax,      ///< text that cannot be read as what was expected
    Ambiguous,   ///< text that can be read in two ways
    Range,       ///< a number outside what its field allows
    Missing,     ///< a field or file that must be there
    Unknown,     ///< a name nobody knows (part, unit, field, column)
    Domain,      ///< the formula has no value there (logarithm of a negative resistance, saturated divider)
    Io,          ///< the operating system refused
    ReadOnly,    ///< may be read, not written
    Busy,        ///< open elsewhere
    Foreign,     ///< a file of some other program
    Newer,       ///< written by a later version
    Damaged,     ///< ours, but not intact
    Unsupported  ///< understood, but not possible here
};

/// An error as it is told to a person: where it was, what was found there, what was expected instead.
struct Error {
    ErrorCode code = ErrorCode::Syntax;
    std::string where;     ///< file, line, field: "pot.json: wiring.fixed_ohm"; empty when obvious
    std::string found;     ///< what was read, as a phrase: "-5", "“4k7x”", "nothing"
    std::string expected;  ///< what should have been there: "a resistance above 0 Ω"

    /// One line: `where: found X, expected Y`.
    [[nodiscard]] std::string message() const;

    /// The same error seen from further out: `context: where`.
    [[nodiscard]] Error within(const std::string& context) const;
};

template <class T>
using Expected = tl::expected<T, Error>;

[[nodiscard]] inline tl::unexpected<Error> fail(ErrorCode code, std::string where, std::string found,
                                                std::string expected) {
    return tl::unexpected<Error>(Error{code, std::move(where), std::move(found), std::move(expected)});
}

}  // namespace fg
