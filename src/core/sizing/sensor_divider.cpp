#include "sizing/sensor_divider.h"

#include <algorithm>
#include <cmath>
#include "units/number_format.h"

namespace fg {
namespace {

constexpr int kPlaces = 57;  // over the span; the curve of codes per unit is smooth and has one hump

/// The span as the divider sees it: resistance and its slope at each place, taken once for all candidates.
struct Place {
    double reading;  ///< in the reading's unit
    double ohm;
    double ohmPerUnit;
};

std::vector<Place> placesOf(const GaugeSpec& spec, const AnalogPath& path) {
    std::vector<Place> places;
    const Unit& unit = spec.readingUnit();
    const double step = spec.reading.span.width() * 1e-5;
    const auto ohmAt = [&](double reading) { return path.sensor().forward(path.correction().undo(unit.toCanonical(reading))); };
    for (int i = 0; i < kPlaces; ++i) {
        const double reading = spec.reading.span.low + spec.reading.span.width() * i / (kPlaces - 1);
        places.push_back({reading, ohmAt(reading), std::abs(ohmAt(reading + step) - ohmAt(reading - step)) / (2 * step)});
    }
    return places;
}

/// Codes per unit of the reading: |dU/dR|·|dR/dx|/LSB, with |dU/dR| = Us·Rf/(R + Rf)² on either side.
double countsAt(const Place& place, double fixed_ohm, double source_V, double lsb_V) {
    const double sum = place.ohm + fixed_ohm;
    return source_V * fixed_ohm / (sum * sum) * place.ohmPerUnit / lsb_V;
}

SensorDividerOption evaluate(const std::vector<Place>& places, const AnalogPath& path, double fixed_ohm, double tolerance,
                             double dissipation_W_per_K) {
    SensorDividerOption option;
    option.fixed_ohm = fixed_ohm;
    option.worstCounts = std::numeric_limits<double>::infinity();
    const double source_V = path.source_V(), lsb_V = path.converter().lsb();
    for (const Place& place : places) {
        for (const double side : {1 - tolerance, 1 + tolerance}) {
            const double counts = countsAt(place, fixed_ohm * side, source_V, lsb_V);
            if (counts < option.worstCounts) option.worstCounts = counts, option.worstAt = place.reading;
        }
        const double current_A = source_V / (place.ohm + fixed_ohm);
        if (dissipation_W_per_K > 0)
            option.selfHeating_K = std::max(option.selfHeating_K, current_A * current_A * place.ohm / dissipation_W_per_K);
    }
    option.middleCounts = countsAt(places[places.size() / 2], fixed_ohm, source_V, lsb_V);
    const auto tap = [&](const Place& place) { return source_V * place.ohm / (place.ohm + fixed_ohm); };
    option.rangeUsed =
        std::min(1.0, std::abs(tap(places.back()) - tap(places.front())) / (lsb_V * static_cast<double>(path.converter().maxCode() + 1)));
    return option;
}

}  // namespace

Expected<std::vector<SensorDividerOption>> sizeSensorDivider(const GaugeSpec& spec, const Catalogue& catalogue,
                                                             const SensorDividerWish& wish) {
    const auto path = AnalogPath::build(spec, catalogue);
    if (!path) return tl::unexpected(path.error());
    if (spec.wiring.kind != "divider")
        return fail(ErrorCode::Unsupported, "wiring.kind", "“" + spec.wiring.kind + "”", "a divider with a resistive sensor");
    if (!(wish.tolerance >= 0 && wish.tolerance < 1))
        return fail(ErrorCode::Range, "tolerance", plainNumber(wish.tolerance), "0 to below 1");
    const std::vector<Place> places = placesOf(spec, *path);
    const auto smaller = [](const Place& a, const Place& b) { return a.ohm < b.ohm; };
    const double low = std::min_element(places.begin(), places.end(), smaller)->ohm,
                 high = std::max_element(places.begin(), places.end(), smaller)->ohm;
    if (!(low > 0) || !std::isfinite(high))
        return fail(ErrorCode::Domain, "reading.span", "a span on which the sensor has no resistance", "one within the sensor's range");

    const double dissipation = spec.sensor.parameters.over(path->part().parameters).numberOr("dissipation_W_per_K", 0);
    std::vector<SensorDividerOption> options;
    for (const double fixed_ohm : preferredValues(wish.series, {low / 100, high * 100})) {
        options.push_back(evaluate(places, *path, fixed_ohm, wish.tolerance, dissipation));
        options.back().tooWarm = wish.selfHeatingLimit_K > 0 && options.back().selfHeating_K > wish.selfHeatingLimit_K;
    }
    std::stable_sort(options.begin(), options.end(), [](const SensorDividerOption& a, const SensorDividerOption& b) {
        return a.tooWarm != b.tooWarm ? b.tooWarm : a.worstCounts > b.worstCounts;
    });
    if (options.size() > wish.most) options.resize(wish.most);
    for (SensorDividerOption& option : options) option.lossToFirst = 1 - option.worstCounts / options.front().worstCounts;
    return options;
}

}  // namespace fg
