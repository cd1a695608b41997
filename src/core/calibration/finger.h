#pragma once

#include "units/unit.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fg {

/// Where a finger test stands.
enum class FingerPhase {
    Resting,   ///< it is left alone: where it starts from
    Holding,   ///< it is held, breathed on, covered, lifted
    Returning  ///< it is left alone again
};

/// A reading at a time, s.
struct TimedReading {
    double time_s = 0, reading = 0;
};

/// A gauge on the same board that was not touched.
struct Bystander {
    std::string name;
    std::vector<TimedReading> readings;
};

/// What a finger test found.
struct FingerResult {
    enum class Verdict { Answers, Stuck, UpsideDown, Swapped, TooNear, TooShort } verdict = Verdict::TooShort;
    double from = 0, to = 0;               ///< canonical
    std::optional<double> timeConstant_s;  ///< until 63 % of the way were gone
    std::optional<double> returned;        ///< how much of the way it came back, 0 … 1
    std::string other;                     ///< of Swapped: who moved instead
    std::string text;                      ///< what that means, with the numbers
};

/// What to do with a sensor of that quantity while it is tested: "hold it between two fingers".
[[nodiscard]] std::string fingerAction(Quantity quantity);

/// Judges a run: it rested until `held_s`, was held until `released_s`, and was left alone after that. Which way it
/// should go follows from the quantity: towards the warmth of a hand, up with breath, down in the dark; pressure either
/// way. A movement counts where it is more than four standard deviations of the rest and a small amount that every such
/// test gives.
[[nodiscard]] FingerResult judgeFinger(std::span<const TimedReading> run, double held_s, double released_s,
                                       Quantity quantity, const Unit& unit, std::span<const Bystander> others = {});

}  // namespace fg
