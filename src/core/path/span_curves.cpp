#include "path/span_curves.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace fg {

bool isLogarithmic(const GaugeSpec& spec) {
    constexpr double kManyTimes = 50;
    const Interval span = spec.reading.span;
    return spec.quantity == Quantity::Illuminance && span.low > 0 && span.high >= kManyTimes * span.low;
}

namespace {

double placeIn(const GaugeSpec& spec, double share) {
    const Interval span = spec.reading.span;
    return isLogarithmic(spec) ? span.low * std::pow(span.high / span.low, share) : span.low + span.width() * share;
}

SpanCurve over(const GaugeSpec& spec, std::size_t points, const std::function<double(double canonical)>& value) {
    SpanCurve curve;
    const Unit& unit = spec.readingUnit();
    for (std::size_t i = 0; i < std::max<std::size_t>(points, 2); ++i) {
        const double world =
            placeIn(spec, static_cast<double>(i) / static_cast<double>(std::max<std::size_t>(points, 2) - 1));
        curve.world.push_back(world);
        curve.value.push_back(value(unit.toCanonical(world)));
    }
    return curve;
}

}  // namespace

std::size_t SpanCurve::worst() const {
    std::size_t worst = 0;
    for (std::size_t i = 1; i < value.size(); ++i)
        if (std::isfinite(value[i]) && (!std::isfinite(value[worst]) || value[i] < value[worst])) worst = i;
    return worst;
}

SpanCurve countsPerUnitOver(const GaugeSpec& spec, const AnalogPath& path, std::size_t points) {
    const double perUnit = spec.readingUnit().differenceToCanonical(1);
    return over(spec, points, [&](double world) { return path.countsPerUnit(world) * perUnit; });
}

SpanCurve signalOver(const GaugeSpec& spec, const AnalogPath& path, std::size_t points) {
    return over(spec, points, [&](double world) { return path.signalAt(world); });
}

SpanCurve stepOver(const GaugeSpec& spec, const AnalogPath& path, std::size_t points) {
    return over(spec, points, [&](double world) {
        return spec.readingUnit().differenceFromCanonical(1 / path.countsPerUnit(world));
    });
}

SpanCurve lawDifferenceOver(const GaugeSpec& spec, const Catalogue& catalogue, const AnalogPath& path,
                            std::size_t points) {
    GaugeSpec mixed = spec;
    mixed.converter.parameters.set("code_law",
                                   std::string(path.converter().law() == CodeLaw::PowerOfTwo ? "2^n-1" : "2^n"));
    const auto other = AnalogPath::build(mixed, catalogue);
    return over(spec, points, [&](double world) {
        const double code = path.exactCode(world);
        return other ? spec.readingUnit().differenceFromCanonical(other->reading(code) - world) : std::nan("");
    });
}

RangeUsed rangeUsedBy(const GaugeSpec& spec, const AnalogPath& path) {
    const Interval span = spec.spanCanonical();
    RangeUsed used{0, path.exactCode(span.low), path.exactCode(span.high)};
    const auto bottom = static_cast<double>(path.converter().minCode()),
               top = static_cast<double>(path.converter().maxCode());
    used.fraction = std::abs(std::clamp(used.codeAtHigh, bottom, top) - std::clamp(used.codeAtLow, bottom, top)) /
                    path.converter().codeCount();
    return used;
}

}  // namespace fg
