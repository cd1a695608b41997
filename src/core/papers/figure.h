#pragma once

#include <string>
#include <vector>

namespace fg {

/// One set of points of a figure.
struct FigureSeries {
    enum class Style { Line, Dashed, Dots } style = Style::Line;
    std::string name;  ///< at its last point; empty: none
    std::vector<double> x, y;
    std::vector<double> half = {};  ///< bars of ± this at each point; empty: none
};

/// A plot of lines and points. Places that are no number are left out.
struct PaperFigure {
    std::string title, xLabel, yLabel;
    std::vector<FigureSeries> series;
    /// What lies outside is greyed: nothing was compared there. Both 0: nowhere.
    double insideFrom = 0, insideTo = 0;
};

/// As SVG 1.1, black on white, without fonts of its own.
[[nodiscard]] std::string svgOf(const PaperFigure& figure);

}  // namespace fg
