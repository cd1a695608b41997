#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg::rules {

// What a supply without a regulator of its own may be away from its nominal value: a 5 V host port is allowed 4.4 V
// … 5.25 V at the far end of its cable, most of it downwards.
constexpr double kUsualSag = 0.12;

void supplyReference(const FindingContext& context, std::vector<Finding>& findings) {
    const std::string kind = context.converter.textOr("reference_kind", "");
    if (kind != "supply" && kind != "unregulated") return;
    if (context.converter.numberOr("reference_measured_V", 0) > 0) return;
    const double stated = context.converter.numberOr("reference_tolerance", 0);
    const double off = kind == "unregulated" && stated <= 0 ? kUsualSag : stated > 0 ? stated : 0.05;
    GaugeSpec sagged = context.spec;
    sagged.converter.parameters.set("reference_V", (1 - off) * context.converter.numberOr("reference_V", 0));
    const auto hardware = AnalogPath::build(sagged, context.catalogue);
    const Interval span = context.spec.spanCanonical();
    const double shifted = hardware ? context.path.reading(hardware->exactCode(span.high)) : std::nan("");
    const Unit& unit = context.spec.readingUnit();
    // What is fed from the same supply follows it: then nothing moves.
    if (!(std::abs(shifted - span.high) > 1e-3 * span.width())) return;
    findings.push_back(
        {kind == "unregulated" ? Severity::Doubt : Severity::Hint,
         Stage::Converter,
         kind == "unregulated" ? "supply-unregulated" : "supply-reference",
         kind == "unregulated" ? "An unregulated supply is the reference" : "The supply is the reference",
         fmt::format(
             "This sensor's signal does not follow the supply: {} % less of it reads {} {} for {} {}. {}",
             plainNumber(100 * off, 3), significantDigits(unit.fromCanonical(shifted), 4), unit.symbol,
             plainNumber(context.spec.reading.span.high, 4), unit.symbol,
             kind == "unregulated"
                 ? "A battery or a host port moves that much with its load: use an internal or external reference."
                 : "Measure it, or use an internal or external reference."),
         {}});
}

}  // namespace fg::rules
