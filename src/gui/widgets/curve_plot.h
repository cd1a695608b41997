#pragma once

#include "widgets/shown.h"

#include <optional>
#include <QColor>
#include <QString>
#include <QTimer>
#include <QVector>
#include <QWidget>

class QCPItemStraightLine;
class QCPItemText;
class QCPItemTracer;

namespace fg::gui {

/// One curve of a CurvePlot, named at its end.
struct Curve {
    QVector<double> x;
    QVector<double> y;
    QString name;
    QColor colour;       ///< invalid: ink
    bool chosen = true;  ///< thick; the others are dashed
};

/// A small plot of functions over a span, in the look of the design: field ground, hairline grid, no legend, a brass
/// cursor where the gauge is now.
class CurvePlot final : public QWidget {
    Q_OBJECT
  public:
    explicit CurvePlot(QWidget* parent = nullptr);

    void setAxes(const QString& xUnit, const QString& yUnit);
    /// The measurand's axis by ratios, for spans over decades.
    void setLogarithmic(bool on);
    void setCurves(const QVector<Curve>& curves);
    /// Where the gauge is now, with the text beside it; nothing removes it.
    void setCursor(std::optional<double> x, double y = 0, const QString& text = {});
    /// Hollow circles: the worst places.
    void setMarks(const QVector<double>& x, const QVector<double>& y, const QColor& colour);

    /// Filled circles with bars of ± `half`; the axes widen to hold them.
    void setBars(const QVector<double>& x, const QVector<double>& y, const QVector<double>& half, const QColor& colour);
    /// Hatches what lies outside from … to; after setCurves().
    void setBeyond(double from, double to);

  private:
    void dress();
    void spreadNames();
    void makeCursor();
    class Drawing;
    Drawing* m_plot;
    QCPItemStraightLine* m_line = nullptr;  // the cursor, all of the plot
    QCPItemText* m_label = nullptr;
    QCPItemTracer* m_dot = nullptr;
    Shown m_shown;  // of the cursor
    QTimer m_soon;  // until the cursor is painted where it is now
    static constexpr int kCursorEvery_ms = 200;
    int m_curves = 0;  // how often what lies below it changed
};

}  // namespace fg::gui
