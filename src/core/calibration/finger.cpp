#include "calibration/finger.h"

#include "calibration/series.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

// The warmth of the skin of fingers, in °C: between a cold and a warm hand. What is as warm already tells nothing.
constexpr double kCoolFinger = 28, kWarmFinger = 34;
constexpr double kDeviations = 4;
constexpr double kTimeConstantShare = 1 - 0.36787944117144233;  // 1 − 1/e
constexpr double kCameBack = 0.5;
constexpr std::size_t kFewest = 5;

/// The least that such a test moves a sensor that works, canonical: 0.5 °C, 2 %RH, a third of the light, 5 Pa.
double leastOf(Quantity quantity, double from) {
    switch (quantity) {
        case Quantity::Temperature:
            return 0.5;
        case Quantity::RelativeHumidity:
            return 2;
        case Quantity::Illuminance:
            return std::abs(from) / 3;
        default:
            return 5;
    }
}

/// +1 up, −1 down, 0 either way; nothing where the start is as warm as a hand.
std::optional<int> wayOf(Quantity quantity, double from) {
    switch (quantity) {
        case Quantity::Temperature:
            return from < kCoolFinger ? std::optional(1) : from > kWarmFinger ? std::optional(-1) : std::nullopt;
        case Quantity::RelativeHumidity:
            return 1;
        case Quantity::Illuminance:
            return -1;
        default:
            return 0;
    }
}

std::vector<double> valuesBetween(std::span<const TimedReading> run, double from_s, double to_s) {
    std::vector<double> values;
    for (const TimedReading& one : run)
        if (one.time_s >= from_s && one.time_s < to_s && std::isfinite(one.reading)) values.push_back(one.reading);
    return values;
}

/// How a series moved away from its rest while it was held: the farthest from it, signed, and its noise at rest.
struct Movement {
    double from = 0, noise = 0, farthest = 0;
    bool isEnough = false;
};

Movement movementOf(std::span<const TimedReading> run, double held_s, double released_s) {
    Movement movement;
    const auto rest = valuesBetween(run, -INFINITY, held_s), held = valuesBetween(run, held_s, released_s);
    const auto statistics = statisticsOf(rest);
    if (!statistics || rest.size() < kFewest || held.size() < kFewest) return movement;
    movement.isEnough = true;
    movement.from = statistics->mean;
    movement.noise = statistics->deviation;
    for (const double value : held)
        if (std::abs(value - movement.from) > std::abs(movement.farthest)) movement.farthest = value - movement.from;
    return movement;
}

bool hasMoved(const Movement& movement, Quantity quantity) {
    return movement.isEnough && std::abs(movement.farthest) > kDeviations * movement.noise &&
           std::abs(movement.farthest) >= leastOf(quantity, movement.from);
}

}  // namespace

std::string fingerAction(Quantity quantity) {
    switch (quantity) {
        case Quantity::Temperature:
            return "hold it between two fingers";
        case Quantity::RelativeHumidity:
            return "breathe on it, once and slowly";
        case Quantity::Illuminance:
            return "cover it with the hand";
        default:
            return "lift it by a floor, or press lightly on its tube";
    }
}

FingerResult judgeFinger(std::span<const TimedReading> run, double held_s, double released_s, Quantity quantity,
                         const Unit& unit, std::span<const Bystander> others) {
    FingerResult result;
    const auto shown = [&](double value) { return significantDigits(unit.fromCanonical(value), 4); };
    const auto change = [&](double difference) {
        return significantDigits(std::abs(unit.differenceFromCanonical(difference)), 2) + " " +
               std::string(unit.symbol);
    };
    const Movement movement = movementOf(run, held_s, released_s);
    if (!movement.isEnough) {
        result.text = fmt::format("Too few readings: at least {} before it is held, and as many while it is.", kFewest);
        return result;
    }
    result.from = movement.from;
    result.to = movement.from + movement.farthest;
    const auto way = wayOf(quantity, movement.from);
    const bool moved = hasMoved(movement, quantity);
    if (!moved) {
        const auto other = std::find_if(others.begin(), others.end(), [&](const Bystander& one) {
            return hasMoved(movementOf(one.readings, held_s, released_s), quantity);
        });
        if (other != others.end()) {
            result.verdict = FingerResult::Verdict::Swapped;
            result.other = other->name;
            result.text = fmt::format("It did not move, “{}” did: the two channels are swapped.", other->name);
            return result;
        }
        if (!way) {
            result.verdict = FingerResult::Verdict::TooNear;
            result.text = fmt::format("At {} {} it is as warm as a hand: use ice, or warm breath.",
                                      shown(movement.from), unit.symbol);
            return result;
        }
        result.verdict = FingerResult::Verdict::Stuck;
        result.text = fmt::format("It stays at {} {} within {}: not connected, at its end, or another pin is read.",
                                  shown(movement.from), unit.symbol, change(movement.farthest));
        return result;
    }
    if (way.value_or(0) * movement.farthest < 0) {
        result.verdict = FingerResult::Verdict::UpsideDown;
        result.text = fmt::format(
            "It goes the wrong way, by {}: the divider's sides are exchanged, or the sign or the slope of the formula "
            "is.",
            change(movement.farthest));
        return result;
    }
    result.verdict = FingerResult::Verdict::Answers;
    for (const TimedReading& one : run) {
        if (one.time_s < held_s || !std::isfinite(one.reading)) continue;
        if ((one.reading - movement.from) / movement.farthest >= kTimeConstantShare) {
            result.timeConstant_s = one.time_s - held_s;
            break;
        }
    }
    const auto after = valuesBetween(run, released_s, INFINITY);
    if (after.size() >= kFewest) {
        double nearest = std::abs(movement.farthest);
        for (const double value : after) nearest = std::min(nearest, std::abs(value - movement.from));
        result.returned = 1 - nearest / std::abs(movement.farthest);
    }
    result.text = fmt::format("It answers: {} → {} {}", shown(result.from), shown(result.to), unit.symbol);
    if (result.timeConstant_s)
        result.text += fmt::format(", 63 % of the way within {} s", significantDigits(*result.timeConstant_s, 2));
    if (result.returned)
        result.text += *result.returned >= kCameBack
                           ? "; it comes back."
                           : "; it has not come back by half yet: wait, or look for something that sticks.";
    else
        result.text += ".";
    return result;
}

}  // namespace fg
