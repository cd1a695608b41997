#include "papers/figure.h"

#include "papers/markup.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

constexpr double kWidth = 640, kHeight = 260, kLeft = 64, kRight = 84, kTop = 14, kBottom = 40;
constexpr int kTicks = 5;

struct Range {
    double low = INFINITY, high = -INFINITY;
    void hold(double value) {
        if (!std::isfinite(value)) return;
        low = std::min(low, value);
        high = std::max(high, value);
    }
    [[nodiscard]] bool isEmpty() const { return !(high >= low); }
};

/// 1, 2 or 5 of a power of ten, so that about kTicks of them fit.
double stepOf(const Range& range) {
    const double raw = (range.high - range.low) / kTicks;
    const double power = std::pow(10, std::floor(std::log10(raw)));
    for (const double factor : {1.0, 2.0, 5.0})
        if (factor * power >= raw) return factor * power;
    return 10 * power;
}

class Drawing {
  public:
    explicit Drawing(const PaperFigure& figure) : m_figure(figure) {
        for (const FigureSeries& one : figure.series)
            for (std::size_t i = 0; i < one.x.size() && i < one.y.size(); ++i) {
                if (!std::isfinite(one.y[i])) continue;
                const double half = i < one.half.size() && std::isfinite(one.half[i]) ? one.half[i] : 0;
                m_x.hold(one.x[i]);
                m_y.hold(one.y[i] - half);
                m_y.hold(one.y[i] + half);
            }
        for (Range* range : {&m_x, &m_y}) {
            if (range->isEmpty()) {
                range->low = 0;
                range->high = 1;
            }
            if (!(range->high > range->low)) {
                range->low -= 1;
                range->high += 1;
            }
        }
        const double margin = 0.06 * (m_y.high - m_y.low);
        m_y.low -= margin;
        m_y.high += margin;
    }

    [[nodiscard]] std::string svg() {
        m_out = fmt::format(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0}\" height=\"{1}\" viewBox=\"0 0 {0} {1}\" "
            "font-family=\"sans-serif\" font-size=\"12\"><rect width=\"{0}\" height=\"{1}\" fill=\"white\"/>",
            kWidth, kHeight);
        if (m_figure.insideFrom != 0 || m_figure.insideTo != 0) {
            grey(m_x.low, m_figure.insideFrom);
            grey(m_figure.insideTo, m_x.high);
        }
        grid();
        for (const FigureSeries& one : m_figure.series) draw(one);
        return m_out + "</svg>\n";
    }

  private:
    [[nodiscard]] double across(double x) const {
        return kLeft + (kWidth - kLeft - kRight) * (x - m_x.low) / (m_x.high - m_x.low);
    }
    [[nodiscard]] double down(double y) const {
        return kHeight - kBottom - (kHeight - kTop - kBottom) * (y - m_y.low) / (m_y.high - m_y.low);
    }
    void line(double x1, double y1, double x2, double y2, const char* colour, double width, const char* more = "") {
        m_out += fmt::format(
            "<line x1=\"{:.1f}\" y1=\"{:.1f}\" x2=\"{:.1f}\" y2=\"{:.1f}\" stroke=\"{}\" stroke-width=\"{}\"{}/>", x1,
            y1, x2, y2, colour, width, more);
    }
    void text(double x, double y, const char* anchor, const std::string& words) {
        m_out +=
            fmt::format("<text x=\"{:.1f}\" y=\"{:.1f}\" text-anchor=\"{}\">{}</text>", x, y, anchor, inHtml(words));
    }
    void grey(double from, double to) {
        from = std::max(from, m_x.low);
        to = std::min(to, m_x.high);
        if (to > from)
            m_out += fmt::format("<rect x=\"{:.1f}\" y=\"{}\" width=\"{:.1f}\" height=\"{}\" fill=\"#e8e8e8\"/>",
                                 across(from), kTop, across(to) - across(from), kHeight - kTop - kBottom);
    }
    void grid() {
        const double dx = stepOf(m_x), dy = stepOf(m_y);
        for (double x = std::ceil(m_x.low / dx) * dx; x <= m_x.high + 1e-9 * dx; x += dx) {
            line(across(x), kTop, across(x), kHeight - kBottom, "#ccc", 1);
            text(across(x), kHeight - kBottom + 16, "middle", numberOf(x, dx));
        }
        for (double y = std::ceil(m_y.low / dy) * dy; y <= m_y.high + 1e-9 * dy; y += dy) {
            line(kLeft, down(y), kWidth - kRight, down(y), std::abs(y) < 1e-9 * dy ? "#555" : "#ccc", 1);
            text(kLeft - 6, down(y) + 4, "end", numberOf(y, dy));
        }
        text((kLeft + kWidth - kRight) / 2, kHeight - 6, "middle", m_figure.xLabel);
        m_out += fmt::format("<text transform=\"translate(14 {}) rotate(-90)\" text-anchor=\"middle\">{}</text>",
                             (kTop + kHeight - kBottom) / 2, inHtml(m_figure.yLabel));
    }
    /// As many decimals as the step between ticks has.
    [[nodiscard]] static std::string numberOf(double value, double step) {
        const int decimals = std::max(0, static_cast<int>(-std::floor(std::log10(step) + 1e-9)));
        return fmt::format("{:.{}f}", std::abs(value) < 1e-9 * step ? 0.0 : value, decimals);
    }
    void draw(const FigureSeries& one) {
        std::string path;
        bool isDown = false;
        for (std::size_t i = 0; i < one.x.size() && i < one.y.size(); ++i) {
            if (!std::isfinite(one.y[i])) {
                isDown = false;
                continue;
            }
            const double x = across(one.x[i]), y = down(one.y[i]);
            path += fmt::format("{}{:.1f} {:.1f}", isDown ? "L" : "M", x, y);
            isDown = true;
            if (one.style == FigureSeries::Style::Dots)
                m_out += fmt::format("<circle cx=\"{:.1f}\" cy=\"{:.1f}\" r=\"3.5\" fill=\"#8a2a1e\"/>", x, y);
            if (i < one.half.size() && one.half[i] > 0)
                line(x, down(one.y[i] - one.half[i]), x, down(one.y[i] + one.half[i]), "#8a2a1e", 1.2);
            if (i + 1 == one.x.size() && !one.name.empty()) text(x + 6, y + 4, "start", one.name);
        }
        if (one.style != FigureSeries::Style::Dots)
            m_out += fmt::format("<path d=\"{}\" fill=\"none\" stroke=\"{}\" stroke-width=\"{}\"{}/>", path,
                                 one.style == FigureSeries::Style::Line ? "#8a2a1e" : "#555",
                                 one.style == FigureSeries::Style::Line ? 1.8 : 1.2,
                                 one.style == FigureSeries::Style::Dashed ? " stroke-dasharray=\"5 4\"" : "");
    }

    const PaperFigure& m_figure;
    Range m_x, m_y;
    std::string m_out;
};

}  // namespace

std::string svgOf(const PaperFigure& figure) { return Drawing(figure).svg(); }

}  // namespace fg
