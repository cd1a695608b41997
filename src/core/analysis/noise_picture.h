#pragma once

#include "analysis/look.h"

namespace fg {

/// What a noise plot shows.
enum class NoiseKind {
    Allan,    ///< Allan deviation by averaging time
    Spectrum  ///< noise density by frequency
};

/// A plot with both axes by ratios, ready to be painted: places run from 0 to 1, upwards and to the right.
struct NoisePicture {
    struct Tick {
        double place = 0;
        std::string text;  ///< empty between decades
    };
    struct Line {
        std::string name;
        Quantity quantity = Quantity::Temperature;
        std::vector<std::array<double, 2>> points;
    };
    std::vector<Tick> across, up;
    std::vector<Line> lines;
    std::string acrossUnit;  ///< "s", "Hz"
    std::string upUnit;      ///< "°C", "°C/√Hz"
    [[nodiscard]] bool isEmpty() const { return lines.empty(); }
};

/// Of those traces that have the unit of the first that has such a curve at all.
[[nodiscard]] NoisePicture noisePicture(const std::vector<SeenTrack>& traces, NoiseKind kind);

}  // namespace fg
