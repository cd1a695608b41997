#include "papers/drawing.h"

#include "papers/markup.h"

#include <fmt/format.h>

namespace fg {

std::string svgOf(const Drawing& drawing) {
    std::string out = fmt::format(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.0f}\" height=\"{1:.0f}\" viewBox=\"0 0 {0:.0f} "
        "{1:.0f}\" font-family=\"sans-serif\" font-size=\"12\"><title>{2}</title><rect width=\"{0:.0f}\" "
        "height=\"{1:.0f}\" fill=\"white\"/>",
        drawing.width, drawing.height, inHtml(drawing.title));
    for (const Drawing::Stroke& stroke : drawing.strokes) {
        std::string points;
        for (const Drawing::Point& one : stroke.points)
            points += fmt::format("{}{:.2f},{:.2f}", points.empty() ? "" : " ", one.x, one.y);
        out += fmt::format("<{} points=\"{}\" fill=\"none\" stroke=\"{}\" stroke-width=\"{}\"/>",
                           stroke.isClosed ? "polygon" : "polyline", points, stroke.isThin ? "#777" : "black",
                           stroke.isThin ? 0.75 : 1.5);
    }
    for (const Drawing::Label& label : drawing.labels)
        out += fmt::format("<text x=\"{:.2f}\" y=\"{:.2f}\" text-anchor=\"{}\" fill=\"{}\">{}</text>", label.at.x,
                           label.at.y,
                           label.side == Drawing::Label::Side::Left     ? "start"
                           : label.side == Drawing::Label::Side::Middle ? "middle"
                                                                        : "end",
                           label.isFaint ? "#555" : "black", inHtml(label.text));
    return out + "</svg>";
}

}  // namespace fg
