#include "numeric/formula_transfer.h"

#include "units/unit.h"

#include <fmt/format.h>

namespace fg {

Symbol symbolOf(Quantity quantity) { return {"", quantitySymbol(quantity), canonicalUnit(quantity).id}; }

std::string_view idWithUnit(std::string_view stem, Quantity quantity) {
    return interned(fmt::format("{}{}", stem, canonicalUnit(quantity).id));
}

std::string_view slopeUnit(Quantity output, Quantity input) {
    const std::string_view symbol = canonicalUnit(output).symbol;
    return interned(fmt::format("{}/{}", symbol.empty() ? "1" : symbol, canonicalUnit(input).symbol));
}

}  // namespace fg
