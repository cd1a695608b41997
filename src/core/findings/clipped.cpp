#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg::rules {
namespace {

void now(const FindingContext& context, std::vector<Finding>& findings) {
    const StageValue& code = context.now->at(Stage::Converter);
    if (code.clip == Clip::None) return;
    const bool top = code.clip == Clip::AtLeast;
    const Unit& unit = context.spec.readingUnit();
    const StageValue& world = context.now->at(Stage::Reading);
    const double edge = unit.fromCanonical(world.value);
    std::string detail = fmt::format(
        "Code {} is the {} end of {} … {}: the input is at {} or {}. ", plainNumber(code.value),
        top ? "upper" : "lower", context.path.converter().minCode(), context.path.converter().maxCode(),
        engineering(context.path.converter().inputOf(code.value), context.path.converter().input()).joined(),
        top ? "above" : "below");
    if (world.clip != Clip::None)
        detail += fmt::format("The reading is {} {} {}, not a value.", clipText(world.clip), significantDigits(edge, 4),
                              unit.symbol);
    else
        detail += "The value asked for cannot be told from anything beyond it.";
    findings.push_back({Severity::Fault, Stage::Converter, "clipped", "The code is clipped", detail, {}});
}

}  // namespace

void clipped(const FindingContext& context, std::vector<Finding>& findings) {
    if (context.now) now(context, findings);
    const Interval span = context.spec.spanCanonical();
    const Unit& unit = context.spec.readingUnit();
    for (const double end : {span.low, span.high}) {
        const double pin_V = context.path.wiring().forward(context.path.signalAt(end));
        if (std::isnan(pin_V)) continue;
        const Code code = context.path.converter().quantise(pin_V);
        if (code.clip == Clip::None) continue;
        const double edge =
            context.path.reading(static_cast<double>(code.clip == Clip::AtLeast ? code.value - 1 : code.value + 1));
        findings.push_back({Severity::Doubt,
                            Stage::Converter,
                            "span-clipped",
                            "The span runs out of the converter",
                            fmt::format("At {} {} the input would be at {} and the code {}. Readings end at {} {}.",
                                        plainNumber(unit.fromCanonical(end), 6), unit.symbol,
                                        engineering(pin_V, context.path.converter().input()).joined(), code.value,
                                        significantDigits(unit.fromCanonical(edge), 4), unit.symbol),
                            {}});
    }
}

}  // namespace fg::rules
