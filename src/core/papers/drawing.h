#pragma once

#include <string>
#include <vector>

namespace fg {

/// A line drawing: what a body with its pins is made of. Lengths in the drawing's own units, y downwards.
struct Drawing {
    struct Point {
        double x = 0, y = 0;
    };
    /// A line through points.
    struct Stroke {
        std::vector<Point> points;
        bool isClosed = false;
        bool isThin = false;  ///< a leader to a word
    };
    struct Label {
        enum class Side { Left, Middle, Right } side = Side::Middle;  ///< which end of the text stands at `at`
        Point at;                                                     ///< on the text's line of writing
        std::string text;
        bool isFaint = false;
    };
    double width = 0, height = 0;
    std::vector<Stroke> strokes;
    std::vector<Label> labels;
    std::string title;  ///< what it shows, for those who cannot see it
};

/// As SVG 1.1, black on white, without fonts of its own.
[[nodiscard]] std::string svgOf(const Drawing& drawing);

}  // namespace fg
