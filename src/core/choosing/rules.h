#pragma once

#include "catalogue/body.h"
#include "choosing/candidate.h"
#include "units/number_format.h"
#include "units/value_text.h"

#include <fmt/format.h>

namespace fg::choosing {

/// What a rule looks at: one part, with the first gauges made of it.
struct Subject {
    const Need& need;
    const Catalogue& catalogue;
    const Part* part;          ///< one of these two
    const DevicePart* device;  ///< is set
    const Candidate& candidate;

    [[nodiscard]] const PartFacts& facts() const { return part ? static_cast<const PartFacts&>(*part) : *device; }
    /// The stated range of a wished quantity; nothing when nobody states one.
    [[nodiscard]] std::optional<Interval> range(Quantity quantity) const;
    [[nodiscard]] bool measures(Quantity quantity) const;
};

/// A rule says nothing where the need asks nothing.
using Rule = std::optional<Mark> (*)(const Subject& subject);

// One rule a file, in the order of the columns.
std::optional<Mark> quantityRule(const Subject& subject);
std::optional<Mark> pressureKindRule(const Subject& subject);
std::optional<Mark> spanRule(const Subject& subject);
std::optional<Mark> accuracyRule(const Subject& subject);
std::optional<Mark> resolutionRule(const Subject& subject);
std::optional<Mark> intervalRule(const Subject& subject);
std::optional<Mark> mediumRule(const Subject& subject);
std::optional<Mark> supplyRule(const Subject& subject);
std::optional<Mark> batteryRule(const Subject& subject);
std::optional<Mark> connectionRule(const Subject& subject);
std::optional<Mark> cableRule(const Subject& subject);
std::optional<Mark> placeRule(const Subject& subject);
std::optional<Mark> countRule(const Subject& subject);

/// Yes is met, with care is open, no is ruled out.
[[nodiscard]] Verdict verdictOf(Suits suits);
/// "0.58 °C"; pressures in hPa.
[[nodiscard]] std::string differenceText(double difference, const Unit& unit);
/// "−40 … 85 °C".
[[nodiscard]] std::string spanText(Interval span, const Unit& unit);

}  // namespace fg::choosing
