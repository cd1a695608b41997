#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg::rules {
namespace {

/// How far the reading moves at the middle of the span when the reference is `other_V` instead of the one in use.
/// Canonical difference.
double shiftWith(const FindingContext& context, double other_V) {
    const Interval span = context.spec.spanCanonical();
    const double middle = (span.low + span.high) / 2;
    const double code = context.path.exactCode(middle);
    return std::abs(context.path.reading(code * context.path.converter().reference_V() / other_V) - middle);
}

}  // namespace

void reference(const FindingContext& context, std::vector<Finding>& findings) {
    if (!context.path.converter().isAdc()) return;
    const double nominal = context.converter.numberOr("reference_V", 0);
    const double measured = context.converter.numberOr("reference_measured_V", 0);
    const double tolerance = context.converter.numberOr("reference_tolerance", 0);
    const Unit& unit = context.spec.readingUnit();
    if (measured > 0 && nominal > 0) {
        const double off = std::abs(measured - nominal) / nominal;
        const double allowed = tolerance > 0 ? tolerance : 0.05;
        if (off <= allowed) return;
        const std::string cancels =
            context.path.isRatiometric()
                ? "It cancels in this circuit, but a reference this far off is worth a look."
                : fmt::format("With the nominal value this gauge would be off by {} {} at mid-span.",
                              significantDigits(unit.differenceFromCanonical(shiftWith(context, nominal)), 2),
                              unit.symbol);
        findings.push_back(
            {Severity::Doubt,
             Stage::Converter,
             "reference-off",
             "The reference looks wrong",
             fmt::format("Measured {}, nominal {}: {} % off, {} % {}. {}",
                         engineering(measured, Quantity::Voltage, 4).joined(),
                         engineering(nominal, Quantity::Voltage, 4).joined(), significantDigits(100 * off, 2),
                         plainNumber(100 * allowed, 3), tolerance > 0 ? "is its tolerance" : "would be usual", cancels),
             {}});
        return;
    }
    if (nominal < 0.5 || nominal > 6)
        findings.push_back({Severity::Doubt,
                            Stage::Converter,
                            "reference-unusual",
                            "The reference looks wrong",
                            fmt::format("{} is an unusual reference; common ones are 1.024, 1.1, 2.048, 2.5, 3.3, "
                                        "4.096 and 5 V. Was it typed in the unit meant?",
                                        engineering(nominal, Quantity::Voltage, 3).joined()),
                            {}});
    if (measured <= 0 && tolerance >= 0.02 && !context.path.isRatiometric())
        findings.push_back(
            {Severity::Hint,
             Stage::Converter,
             "reference-nominal",
             "Measure the reference",
             fmt::format(
                 "It is taken as {} ± {} %, which alone is ± {} {} at mid-span. A meter reading takes its place.",
                 engineering(nominal, Quantity::Voltage, 3).joined(), plainNumber(100 * tolerance, 2),
                 significantDigits(unit.differenceFromCanonical(shiftWith(context, nominal * (1 - tolerance))), 2),
                 unit.symbol),
             {}});
}

}  // namespace fg::rules
