#pragma once

#include "numeric/transfer.h"

#include <limits>

namespace fg {

/// The sensor's output goes straight to the converter: what comes in goes out. V for a pin or a bridge's difference, Hz
/// and pulses for counters.
struct Direct {
    bool isVoltage = true;  ///< a voltage may have either sign; a frequency or a count may not

    [[nodiscard]] double forward(double signal) const { return signal; }
    [[nodiscard]] double inverse(double arriving) const { return arriving; }
    [[nodiscard]] StraightInverse straightInverse() const { return {}; }
    [[nodiscard]] Interval range() const {
        return {isVoltage ? -std::numeric_limits<double>::infinity() : 0, std::numeric_limits<double>::infinity()};
    }
    [[nodiscard]] bool isRising() const { return true; }
    [[nodiscard]] std::string title() const { return isVoltage ? "Straight to the pin" : "Straight to the counter"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double) const { return {}; }
    [[nodiscard]] std::vector<TraceLine> explainForward(double) const { return {}; }
};

}  // namespace fg
