#include "calibration/codes_changed.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg {
namespace {

constexpr int kSpanSteps = 100;

double roundedCodeAt(const Gauge& gauge, double world) {
    const auto evaluation = gauge.evaluate({Stage::World, world});
    return evaluation && evaluation->at(Stage::Converter).clip == Clip::None ? evaluation->at(Stage::Converter).value
                                                                             : std::nan("");
}

}  // namespace

Expected<CodesChanged> codesChanged(const GaugeSpec& spec, const Catalogue& catalogue) {
    if (spec.correction.kind == "none") return fail(ErrorCode::Missing, "correction", "none", "a correction in force");
    if (spec.correction.kind == "parameters")
        return fail(ErrorCode::Unsupported, "correction", "parameters that points gave", "a correction of the reading");
    const auto with = Gauge::make(spec, catalogue);
    if (!with) return tl::unexpected(with.error());
    if (!with->analog()) return fail(ErrorCode::Unsupported, "“" + spec.name + "”", "a digital part", "codes");
    GaugeSpec bare = spec;
    bare.correction = {};
    const auto without = Gauge::make(bare, catalogue);
    if (!without) return tl::unexpected(without.error());
    CodesChanged changed;
    const Interval span = spec.spanCanonical();
    for (int i = 0; i <= kSpanSteps; ++i) {
        const double world = span.low + span.width() * i / kSpanSteps;
        const CodeChange change{world, roundedCodeAt(*without, world), roundedCodeAt(*with, world)};
        if (std::isnan(change.before) || std::isnan(change.after)) continue;
        if (std::abs(change.after - change.before) > std::abs(changed.most.after - changed.most.before))
            changed.most = change;
        if (i % (kSpanSteps / 2) == 0) changed.places.push_back(change);
    }
    if (changed.places.empty())
        return fail(ErrorCode::Domain, "span", "codes that are all clipped", "a span within the converter's range");
    const Unit& unit = spec.readingUnit();
    const auto told = [&](const CodeChange& change) {
        return fmt::format("{} {}: {:.0f} → {:.0f}", plainNumber(unit.fromCanonical(change.world), 4), unit.symbol,
                           change.before, change.after);
    };
    changed.text = "Codes that change: ";
    for (std::size_t i = 0; i < changed.places.size(); ++i)
        changed.text += (i > 0 ? "; " : "") + told(changed.places[i]);
    if (changed.most.after != changed.most.before) changed.text += fmt::format("; most at {}", told(changed.most));
    changed.text += ".";
    return changed;
}

}  // namespace fg
