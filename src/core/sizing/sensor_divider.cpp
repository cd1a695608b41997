#include "sizing/sensor_divider.h"

#include "wiring/divider.h"

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

/// The resistors of one candidate.
struct Resistors {
    double fixed_ohm, lead_ohm, parallel_ohm;  ///< parallel 0: none

    [[nodiscard]] double branch(double ohm) const {
        const double wired = ohm + lead_ohm;
        return parallel_ohm > 0 ? wired * parallel_ohm / (wired + parallel_ohm) : wired;
    }
    /// d(branch)/dR = (Rp/(R + Rlead + Rp))².
    [[nodiscard]] double branchSlope(double ohm) const {
        const double share = parallel_ohm > 0 ? parallel_ohm / (ohm + lead_ohm + parallel_ohm) : 1;
        return share * share;
    }
};

/// The gauge's divider with the span taken apart.
class Divided {
  public:
    static Expected<Divided> make(const GaugeSpec& spec, const Catalogue& catalogue, const SensorDividerWish& wish);

    [[nodiscard]] SensorDividerOption evaluate(const Resistors& resistors, bool variesParallel) const;
    [[nodiscard]] Expected<std::vector<SensorDividerOption>> ranked(std::vector<SensorDividerOption> options) const;
    [[nodiscard]] std::vector<double> candidates() const {
        return preferredValues(m_wish.series, {m_low_ohm / 100, m_high_ohm * 100});
    }
    [[nodiscard]] const Resistors& present() const { return m_present; }

  private:
    [[nodiscard]] double countsAt(const Place& place, const Resistors& resistors) const;
    [[nodiscard]] double straightness(const Resistors& resistors) const;

    SensorDividerWish m_wish;
    Resistors m_present{};
    std::vector<Place> m_places;
    double m_low_ohm = 0, m_high_ohm = 0;
    double m_source_V = 0, m_lsb_V = 0, m_codes = 0, m_dissipation_W_per_K = 0;
};

Expected<Divided> Divided::make(const GaugeSpec& spec, const Catalogue& catalogue, const SensorDividerWish& wish) {
    const auto path = AnalogPath::build(spec, catalogue);
    if (!path) return tl::unexpected(path.error());
    if (spec.wiring.kind != "divider")
        return fail(ErrorCode::Unsupported, "wiring.kind", "“" + spec.wiring.kind + "”",
                    "a divider with a resistive sensor");
    if (!(wish.tolerance >= 0 && wish.tolerance < 1))
        return fail(ErrorCode::Range, "tolerance", plainNumber(wish.tolerance), "0 to below 1");
    Divided divided;
    divided.m_wish = wish;
    const Parameters& wiring = spec.wiring.parameters;
    divided.m_present = {wiring.numberOr("fixed_ohm", 0), wiring.numberOr("lead_ohm", 0),
                         wiring.numberOr("parallel_ohm", 0)};
    divided.m_source_V = path->source_V();
    divided.m_lsb_V = path->converter().lsb();
    divided.m_codes = static_cast<double>(path->converter().maxCode() + 1);
    divided.m_dissipation_W_per_K =
        spec.sensor.parameters.over(path->part().parameters).numberOr("dissipation_W_per_K", 0);
    const Unit& unit = spec.readingUnit();
    const double step = spec.reading.span.width() * 1e-5;
    const auto ohmAt = [&](double reading) {
        return path->sensor().forward(path->correction().undo(unit.toCanonical(reading)));
    };
    for (int i = 0; i < kPlaces; ++i) {
        const double reading = spec.reading.span.low + spec.reading.span.width() * i / (kPlaces - 1);
        divided.m_places.push_back(
            {reading, ohmAt(reading), std::abs(ohmAt(reading + step) - ohmAt(reading - step)) / (2 * step)});
    }
    const auto smaller = [](const Place& a, const Place& b) { return a.ohm < b.ohm; };
    const auto [least, most] = std::minmax_element(divided.m_places.begin(), divided.m_places.end(), smaller);
    divided.m_low_ohm = least->ohm;
    divided.m_high_ohm = most->ohm;
    if (!(divided.m_low_ohm > 0) || !std::isfinite(divided.m_high_ohm))
        return fail(ErrorCode::Domain, "reading.span", "a span on which the sensor has no resistance",
                    "one within the sensor's range");
    return divided;
}

/// Codes per unit of the reading: |dU/dR|·|dR/dx|/LSB, with |dU/dRb| = Us·Rf/(Rb + Rf)² on either side.
double Divided::countsAt(const Place& place, const Resistors& resistors) const {
    const double sum = resistors.branch(place.ohm) + resistors.fixed_ohm;
    return m_source_V * resistors.fixed_ohm / (sum * sum) * resistors.branchSlope(place.ohm) * place.ohmPerUnit /
           m_lsb_V;
}

/// Half the band that holds the tap's voltage around its least-squares line, over the line's slope.
double Divided::straightness(const Resistors& resistors) const {
    const auto tap = [&](const Place& place) {
        const double branch = resistors.branch(place.ohm);
        return branch / (branch + resistors.fixed_ohm);
    };
    double sumX = 0, sumY = 0, sumXX = 0, sumXY = 0;
    const auto n = static_cast<double>(m_places.size());
    for (const Place& place : m_places) {
        const double y = tap(place);
        sumX += place.reading;
        sumY += y;
        sumXX += place.reading * place.reading;
        sumXY += place.reading * y;
    }
    const double slope = (n * sumXY - sumX * sumY) / (n * sumXX - sumX * sumX);
    double low = std::numeric_limits<double>::infinity(), high = -low;
    for (const Place& place : m_places) {
        const double residual = tap(place) - slope * place.reading;
        low = std::min(low, residual);
        high = std::max(high, residual);
    }
    return (high - low) / 2 / std::abs(slope);
}

SensorDividerOption Divided::evaluate(const Resistors& resistors, bool variesParallel) const {
    SensorDividerOption option;
    option.fixed_ohm = resistors.fixed_ohm;
    option.parallel_ohm = resistors.parallel_ohm;
    option.worstCounts = std::numeric_limits<double>::infinity();
    for (const Place& place : m_places) {
        for (const double side : {1 - m_wish.tolerance, 1 + m_wish.tolerance}) {
            Resistors off = resistors;
            (variesParallel ? off.parallel_ohm : off.fixed_ohm) *= side;
            const double counts = countsAt(place, off);
            if (counts < option.worstCounts) {
                option.worstCounts = counts;
                option.worstAt = place.reading;
            }
        }
        const double current_A =
            dividerCurrent_A(place.ohm, resistors.fixed_ohm, m_source_V, {resistors.lead_ohm, resistors.parallel_ohm});
        if (m_dissipation_W_per_K > 0)
            option.selfHeating_K =
                std::max(option.selfHeating_K, current_A * current_A * place.ohm / m_dissipation_W_per_K);
    }
    option.middleCounts = countsAt(m_places[m_places.size() / 2], resistors);
    const auto tap = [&](const Place& place) {
        const double branch = resistors.branch(place.ohm);
        return m_source_V * branch / (branch + resistors.fixed_ohm);
    };
    option.rangeUsed = std::min(1.0, std::abs(tap(m_places.back()) - tap(m_places.front())) / (m_lsb_V * m_codes));
    option.straightness = straightness(resistors);
    option.tooWarm = m_wish.selfHeatingLimit_K > 0 && option.selfHeating_K > m_wish.selfHeatingLimit_K;
    return option;
}

Expected<std::vector<SensorDividerOption>> Divided::ranked(std::vector<SensorDividerOption> options) const {
    const bool straight = m_wish.aim == DividerAim::Linearity;
    std::stable_sort(options.begin(), options.end(), [&](const SensorDividerOption& a, const SensorDividerOption& b) {
        if (a.tooWarm != b.tooWarm) return b.tooWarm;
        return straight ? a.straightness < b.straightness : a.worstCounts > b.worstCounts;
    });
    if (options.size() > m_wish.most) options.resize(m_wish.most);
    for (SensorDividerOption& option : options)
        option.lossToFirst = 1 - option.worstCounts / options.front().worstCounts;
    return options;
}

}  // namespace

Expected<std::vector<SensorDividerOption>> sizeSensorDivider(const GaugeSpec& spec, const Catalogue& catalogue,
                                                             const SensorDividerWish& wish) {
    const auto divided = Divided::make(spec, catalogue, wish);
    if (!divided) return tl::unexpected(divided.error());
    std::vector<SensorDividerOption> options;
    for (const double fixed_ohm : divided->candidates()) {
        Resistors resistors = divided->present();
        resistors.fixed_ohm = fixed_ohm;
        options.push_back(divided->evaluate(resistors, false));
    }
    return divided->ranked(std::move(options));
}

Expected<std::vector<SensorDividerOption>> sizeLinearisingResistor(const GaugeSpec& spec, const Catalogue& catalogue,
                                                                   const SensorDividerWish& wish) {
    const auto divided = Divided::make(spec, catalogue, wish);
    if (!divided) return tl::unexpected(divided.error());
    Resistors resistors = divided->present();
    resistors.parallel_ohm = 0;
    std::vector<SensorDividerOption> options{divided->evaluate(resistors, true)};
    for (const double parallel_ohm : divided->candidates()) {
        resistors.parallel_ohm = parallel_ohm;
        options.push_back(divided->evaluate(resistors, true));
    }
    return divided->ranked(std::move(options));
}

}  // namespace fg
