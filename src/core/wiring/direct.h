#pragma once

#include "numeric/transfer.h"

#include <limits>

namespace fg {

/// The sensor's voltage goes straight to the pin.
struct Direct {
    [[nodiscard]] double forward(double sensor_V) const { return sensor_V; }
    [[nodiscard]] double inverse(double pin_V) const { return pin_V; }
    [[nodiscard]] Interval range() const { return {-std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity()}; }
    [[nodiscard]] bool isRising() const { return true; }
    [[nodiscard]] std::string title() const { return "Straight to the pin"; }
    [[nodiscard]] std::vector<TraceLine> explainInverse(double) const { return {}; }
    [[nodiscard]] std::vector<TraceLine> explainForward(double) const { return {}; }
};

}  // namespace fg
