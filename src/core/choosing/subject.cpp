#include "choosing/rules.h"

#include <algorithm>
#include <cmath>

namespace fg::choosing {

std::optional<Interval> Subject::range(Quantity quantity) const {
    if (part)
        return part->quantity == quantity && std::isfinite(part->range.low) ? std::optional(part->range) : std::nullopt;
    const auto it = device->ranges.find(std::string(quantityName(quantity)));
    return it == device->ranges.end() ? std::nullopt : std::optional(it->second);
}

bool Subject::measures(Quantity quantity) const {
    if (part) return part->quantity == quantity;
    return std::find(device->readings.begin(), device->readings.end(), quantityName(quantity)) !=
           device->readings.end();
}

Verdict verdictOf(Suits suits) {
    return suits == Suits::Yes ? Verdict::Met : suits == Suits::WithCare ? Verdict::Open : Verdict::Ruled;
}

std::string differenceText(double difference, const Unit& unit) {
    return significantDigits(unit.differenceFromCanonical(difference), 2) + " " + std::string(unit.symbol);
}

std::string spanText(Interval span, const Unit& unit) {
    return fmt::format("{} … {} {}", plainNumber(unit.fromCanonical(span.low), 5),
                       plainNumber(unit.fromCanonical(span.high), 5), unit.symbol);
}

}  // namespace fg::choosing
