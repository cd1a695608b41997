// The look: palette, type sizes and the scale of everything. Two themes, Paper and Night bench.
#pragma once

#include "units/quantity.h"

#include <QColor>
#include <QFont>
#include <QLabel>
#include <QObject>

namespace fg::gui {

/// One quantity's colours. They appear in the gauge mark, the tile edge with the ribbon, and the plot line only.
struct QuantityColours {
    QColor line;
    QColor wash;
    QColor fill;
};

struct Palette {
    QColor ground, sheet, rack, field;
    QColor ink, ink2, ink3;
    QColor rule, line;
    QColor brass, onBrass, brassWash;
    QuantityColours temperature, humidity, pressure, light;
    [[nodiscard]] const QuantityColours& of(Quantity quantity) const;
};

/// The theme in use by the whole program. Widgets read it when they paint and repaint on changed().
class Theme final : public QObject {
    Q_OBJECT
  public:
    static Theme& instance();

    /// Loads the shipped fonts and dresses the application. Once, after QApplication.
    void install();

    void setNight(bool night);
    [[nodiscard]] bool isNight() const { return m_night; }

    /// Text size as a factor of the desktop's own, 1.0 … 2.0.
    void setTextScale(double scale);
    [[nodiscard]] double textScale() const { return m_textScale; }

    [[nodiscard]] const Palette& palette() const { return m_palette; }

    /// A length of the design (px at 96 dpi, text 13 px) at the present scale.
    [[nodiscard]] int px(double design) const;

    /// Text in B612 at a design size; never below 12 px.
    [[nodiscard]] QFont text(double designPx = 13, bool bold = false) const;
    /// Small bold capitals.
    [[nodiscard]] QFont caption() const;
    /// Digits in B612 Mono.
    [[nodiscard]] QFont digits(double designPx, bool bold = false) const;

  signals:
    void changed();

  private:
    Theme() = default;
    void apply();

    bool m_night = false;
    double m_textScale = 1;
    double m_desktopScale = 1;
    Palette m_palette;
};

inline const Palette& colours() { return Theme::instance().palette(); }
/// Gives a label its font and one of the palette's inks.
void dress(QLabel& label, const QFont& font, const QColor& ink);

/// A window below this width (design px) has no room for a column beside its sheet.
inline constexpr double kNarrowWindow = 1100;

inline int px(double design) { return Theme::instance().px(design); }

}  // namespace fg::gui
