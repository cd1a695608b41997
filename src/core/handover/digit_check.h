#pragma once

#include "handover/typed_line.h"
#include "numeric/transfer.h"

namespace fg {

/// What a place of a maker's own display shows for a value.
struct DigitFault {
    std::size_t place = 0;   ///< from the left, from 0
    std::int64_t value = 0;  ///< the first, from 0 outwards, at which it goes wrong
    std::int64_t gives = 0;  ///< what the expression comes to there
    std::string text;        ///< "from 1000 on place 1 is 10, shown as “:”"
};

/// A maker's own splitting of a number into characters, run over every number of a span.
struct DigitCheck {
    std::vector<DigitFault> faults;  ///< at most one for each place above 0 and one below
    std::int64_t low = 0, high = 0;  ///< what was run
    std::int64_t wrong = 0;          ///< numbers that are shown wrongly
    std::vector<std::string> notes;  ///< what else to know of it: a sign, leading zeros
    [[nodiscard]] bool isRight() const { return faults.empty(); }
};

/// Expressions between commas, one a character, the leftmost first: "t/100, t/10%10, t%10"; with '0' or 48 added where
/// the maker writes characters. Errors: Syntax with the piece that does not fit.
[[nodiscard]] Expected<std::vector<TypedLine>> readDigits(const std::string& text);

/// Every whole number from `span.low` to `span.high`, times `scale`, rounded outwards; each place must show the digit
/// of the number without its sign. Errors: Range for more than four million numbers.
[[nodiscard]] Expected<DigitCheck> checkDigits(const std::vector<TypedLine>& places, LineInt width, Interval span,
                                               double scale);

}  // namespace fg
