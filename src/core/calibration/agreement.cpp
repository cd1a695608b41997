#include "calibration/agreement.h"

#include "calibration/stated.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// Do all but `without` agree with one another?
bool restAgrees(const std::vector<PairAgreement>& pairs, std::size_t without) {
    return std::all_of(pairs.begin(), pairs.end(), [&](const PairAgreement& pair) {
        return pair.first == without || pair.second == without || pair.agrees();
    });
}

std::string verdictOf(const Agreement& agreement, std::span<const SideReading> readings, const Unit& unit) {
    const bool isKnown = std::all_of(agreement.pairs.begin(), agreement.pairs.end(),
                                     [](const PairAgreement& pair) { return pair.error.has_value(); });
    const std::string spread = significantDigits(agreement.spread, 2) + " " + std::string(unit.symbol);
    if (!isKnown)
        return fmt::format("They are {} apart. How far they may be apart is not known: an accuracy is not given.",
                           spread);
    if (std::all_of(agreement.pairs.begin(), agreement.pairs.end(), [](const auto& pair) { return pair.agrees(); }))
        return fmt::format(
            "They agree within what they state, {} apart. An error that they share, of the same kind of part or the "
            "same reference, does not show.",
            spread);
    if (agreement.odd)
        return fmt::format("“{}” disagrees; the others agree with one another.", readings[*agreement.odd].name);
    if (readings.size() == 2)
        return fmt::format(
            "They disagree: {} apart, {} times what they state together. Which one is right cannot be told from these "
            "two: a third one or a fixed point would tell.",
            spread, significantDigits(std::abs(*agreement.pairs.front().error), 2));
    return fmt::format("Several disagree, {} apart. Which are right cannot be told without a better reference.",
                       spread);
}

struct Sums {
    double n = 0, x = 0, y = 0, xx = 0, yy = 0, xy = 0;
    void add(double a, double b, double sign = 1) {
        n += sign;
        x += sign * a;
        y += sign * b;
        xx += sign * a * a;
        yy += sign * b * b;
        xy += sign * a * b;
    }
};

struct Straight {
    double factor, offset;
};

Straight lineOf(const Sums& sums, double noiseRatio) {
    const double sxx = sums.xx - sums.x * sums.x / sums.n, syy = sums.yy - sums.y * sums.y / sums.n,
                 sxy = sums.xy - sums.x * sums.y / sums.n;
    const double ratio = noiseRatio * noiseRatio;
    const double half = syy - ratio * sxx;
    const double factor = sxy == 0 ? 0 : (half + std::sqrt(half * half + 4 * ratio * sxy * sxy)) / (2 * sxy);
    return {factor, (sums.y - factor * sums.x) / sums.n};
}

}  // namespace

Expected<Agreement> agreementOf(std::span<const SideReading> readings, const Unit& unit) {
    if (readings.size() < 2)
        return fail(ErrorCode::Missing, "readings", fmt::format("{}", readings.size()), "two or more");
    Agreement agreement;
    double low = INFINITY, high = -INFINITY, weights = 0, weighted = 0;
    for (const SideReading& one : readings) {
        if (!(one.expanded >= 0) || !std::isfinite(one.reading))
            return fail(ErrorCode::Range, one.name,
                        fmt::format("{} ± {}", plainNumber(one.reading), plainNumber(one.expanded)),
                        "a reading, and a U of 0 or more");
        low = std::min(low, one.reading);
        high = std::max(high, one.reading);
        if (!(one.expanded > 0)) continue;
        const double weight = 1 / (one.expanded * one.expanded);
        weights += weight;
        weighted += weight * one.reading;
    }
    agreement.spread = high - low;
    agreement.mean = weights > 0 ? weighted / weights : std::nan("");
    agreement.expanded = weights > 0 ? 1 / std::sqrt(weights) : std::nan("");
    for (std::size_t i = 0; i < readings.size(); ++i)
        for (std::size_t j = i + 1; j < readings.size(); ++j) {
            PairAgreement pair{i, j, readings[i].reading - readings[j].reading, {}};
            if (readings[i].expanded > 0 && readings[j].expanded > 0)
                pair.error = pair.difference / std::hypot(readings[i].expanded, readings[j].expanded);
            agreement.pairs.push_back(pair);
        }
    const bool disagrees = std::any_of(agreement.pairs.begin(), agreement.pairs.end(),
                                       [](const PairAgreement& pair) { return pair.error && !pair.agrees(); });
    if (disagrees && readings.size() > 2) {
        std::vector<std::size_t> candidates;
        for (std::size_t i = 0; i < readings.size(); ++i)
            if (restAgrees(agreement.pairs, i)) candidates.push_back(i);
        if (candidates.size() == 1) agreement.odd = candidates.front();
    }
    agreement.verdict = verdictOf(agreement, readings, unit);
    return agreement;
}

std::string sideBySideText(std::span<const SideReading> readings, const Agreement& agreement, const Unit& unit) {
    std::string text = "Side by side:";
    for (std::size_t i = 0; i < readings.size(); ++i) {
        const SideReading& one = readings[i];
        text += fmt::format("{} {} {}", i > 0 ? "," : "", one.name, plainNumber(one.reading, 5));
        if (one.expanded > 0) text += fmt::format(" ± {}", significantDigits(one.expanded, 2));
        text += " " + std::string(unit.symbol);
    }
    return text + ". " + agreement.verdict;
}

Expected<SideReading> sideReadingOf(std::string_view text, Quantity quantity, const Unit& unit) {
    return readPlusMinus(text, "reading", quantity, &unit).map([&](const PlusMinus& read) {
        return SideReading{{}, unit.fromCanonical(read.value), unit.differenceFromCanonical(statedOf(read.u))};
    });
}

Expected<TracePair> tracePairOf(std::span<const double> first, std::span<const double> second, double noiseRatio) {
    if (first.size() != second.size())
        return fail(ErrorCode::Range, "traces", fmt::format("{} and {} values", first.size(), second.size()),
                    "as many of each");
    if (!(noiseRatio > 0) || !std::isfinite(noiseRatio))
        return fail(ErrorCode::Range, "noise ratio", plainNumber(noiseRatio), "above 0");
    // About a first value, so that large numbers with small movements keep their digits.
    double atX = 0, atY = 0;
    Sums sums;
    const auto isPair = [&](std::size_t i) { return std::isfinite(first[i]) && std::isfinite(second[i]); };
    for (std::size_t i = 0; i < first.size(); ++i) {
        if (!isPair(i)) continue;
        if (sums.n == 0) {
            atX = first[i];
            atY = second[i];
        }
        sums.add(first[i] - atX, second[i] - atY);
    }
    if (sums.n < 3)
        return fail(ErrorCode::Missing, "traces", fmt::format("{} pairs", static_cast<int>(sums.n)), "three or more");
    const double sxx = sums.xx - sums.x * sums.x / sums.n, syy = sums.yy - sums.y * sums.y / sums.n,
                 sxy = sums.xy - sums.x * sums.y / sums.n;
    if (!(sxx > 0) || !(syy > 0))
        return fail(ErrorCode::Domain, "traces",
                    sxx > 0 ? "a second one that does not move" : "a first one that does not move", "two that move");
    const Straight all = lineOf(sums, noiseRatio);
    TracePair pair;
    pair.count = static_cast<std::size_t>(sums.n);
    pair.factor = all.factor;
    pair.offset = all.offset + atY - all.factor * atX;
    pair.correlation = sxy / std::sqrt(sxx * syy);
    double squares = 0, meanFactor = 0, meanOffset = 0, factors = 0, offsets = 0;
    std::vector<Straight> without;
    without.reserve(pair.count);
    for (std::size_t i = 0; i < first.size(); ++i) {
        if (!isPair(i)) continue;
        const double x = first[i] - atX, y = second[i] - atY;
        const double off = y - all.offset - all.factor * x;
        squares += off * off;
        Sums rest = sums;
        rest.add(x, y, -1);
        const Straight one = lineOf(rest, noiseRatio);
        without.push_back({one.factor, one.offset + atY - one.factor * atX});
        meanFactor += without.back().factor;
        meanOffset += without.back().offset;
    }
    meanFactor /= sums.n;
    meanOffset /= sums.n;
    for (const Straight& one : without) {
        factors += (one.factor - meanFactor) * (one.factor - meanFactor);
        offsets += (one.offset - meanOffset) * (one.offset - meanOffset);
    }
    pair.factorStandard = std::sqrt((sums.n - 1) / sums.n * factors);
    pair.offsetStandard = std::sqrt((sums.n - 1) / sums.n * offsets);
    pair.scatter = std::sqrt(squares / std::max(1.0, sums.n - 2));
    return pair;
}

Expected<double> factorByFormulas(const Gauge& first, const Gauge& second, double world) {
    const auto slopeOf = [&](const Gauge& gauge) -> Expected<double> {
        if (!gauge.analog())
            return fail(ErrorCode::Unsupported, "“" + gauge.spec().name + "”", "bytes of a digital part",
                        "an analog gauge, whose raw value is a count");
        const double step = gauge.spec().spanCanonical().width() / 1000;
        const auto above = gauge.evaluate({Stage::World, world + step}),
                   below = gauge.evaluate({Stage::World, world - step});
        const double slope = above && below
                                 ? (above->at(Stage::Converter).exact - below->at(Stage::Converter).exact) / (2 * step)
                                 : std::nan("");
        if (!std::isfinite(slope) || slope == 0)
            return fail(ErrorCode::Domain, "“" + gauge.spec().name + "”", "codes that do not move",
                        "a place within its range");
        return slope;
    };
    const auto a = slopeOf(first);
    if (!a) return a;
    const auto b = slopeOf(second);
    if (!b) return b;
    return *b / *a;
}

}  // namespace fg
