#pragma once

#include "acquisition/line_reader.h"
#include "bench/document.h"
#include "catalogue/catalogue.h"

#include <string>
#include <vector>

namespace fg {

/// A gauge that a channel may belong to, and what speaks for it.
struct BindingGuess {
    std::int64_t gauge = 0;
    int weight = 0;      ///< the more, the likelier
    std::string reason;  ///< "its 6 bytes say 21.6 °C, inside its span; the name fits"
};

/// The gauges of a bench that could listen to a channel, likeliest first: by what the raw value would read, by names,
/// and by whether they listen to another channel already. None for a channel that brings readings with a unit, and none
/// for a gauge that could not have sent such a value.
[[nodiscard]] std::vector<BindingGuess> bindingGuesses(const std::string& channel, const Raw& raw,
                                                       const std::string& unit, const Bench& bench,
                                                       const Catalogue& catalogue);

/// The units in which a channel may write readings that the board has worked out: the one that `written` means, or
/// every unit of a measurand where the board writes none.
[[nodiscard]] std::vector<const Unit*> unitsSaid(const std::string& written);

/// Adds a gauge that takes such a channel's readings as they are; where `beside` is a gauge, it is shown beside that
/// one and called after it. Answers its id.
std::int64_t addSaid(Bench& bench, const std::string& channel, const Unit& unit, std::int64_t beside);

}  // namespace fg
