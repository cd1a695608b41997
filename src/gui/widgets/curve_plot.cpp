#include "widgets/curve_plot.h"

#include "theme/theme.h"

#include <qcustomplot.h>
#include <algorithm>
#include <cmath>
#include <QVBoxLayout>
#include <utility>

namespace fg::gui {

/// Drawn once for each painting, however often it was changed and resized in between, and not at all while hidden.
class CurvePlot::Drawing final : public QCustomPlot {
  public:
    explicit Drawing(QWidget* parent) : QCustomPlot(parent) { mReplotting = true; }
    void renew() {
        m_isDue = true;
        update();
    }

  protected:
    void resizeEvent(QResizeEvent*) override {
        setViewport(rect());
        renew();
    }
    void paintEvent(QPaintEvent* event) override {
        if (std::exchange(m_isDue, false)) {
            // What is drawn now is painted now: it need not ask for that again.
            setAttribute(Qt::WA_UpdatesDisabled);
            mReplotting = false;
            replot(rpQueuedRefresh);
            mReplotting = true;
            setAttribute(Qt::WA_UpdatesDisabled, false);
        }
        QCustomPlot::paintEvent(event);
    }

  private:
    // mReplotting stays set in between: what the library asks for by itself waits for the painting as well.
    bool m_isDue = true;
};

CurvePlot::CurvePlot(QWidget* parent) : QWidget(parent), m_plot(new Drawing(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(m_plot);
    m_plot->setAttribute(Qt::WA_TransparentForMouseEvents);
    m_plot->setFocusPolicy(Qt::NoFocus);
    // The cursor moves many times a second, what it moves over does not.
    m_plot->addLayer(QStringLiteral("cursor"));
    m_plot->layer(QStringLiteral("cursor"))->setMode(QCPLayer::lmBuffered);
    m_plot->setPlottingHint(QCP::phImmediateRefresh, false);
    m_soon.setSingleShot(true);
    m_soon.setInterval(kCursorEvery_ms);
    connect(&m_soon, &QTimer::timeout, this, [this] { m_plot->layer(QStringLiteral("cursor"))->replot(); });
    dress();
    connect(&Theme::instance(), &Theme::changed, this, &CurvePlot::dress);
}

void CurvePlot::dress() {
    ++m_curves;
    const Palette& p = colours();
    m_plot->setBackground(p.sheet);
    m_plot->axisRect()->setBackground(p.field);
    for (QCPAxis* axis : {m_plot->xAxis, m_plot->yAxis}) {
        axis->setBasePen(QPen(p.rule));
        axis->setTickPen(QPen(p.rule));
        axis->setSubTicks(false);
        axis->setTickLengthIn(0);
        axis->setTickLengthOut(3);
        axis->setTickLabelFont(Theme::instance().text(12));
        axis->setTickLabelColor(p.ink2);
        axis->setLabelFont(Theme::instance().text(12));
        axis->setLabelColor(p.ink2);
        axis->grid()->setPen(QPen(p.line, 1));
        axis->grid()->setZeroLinePen(QPen(p.line, 1));
    }
    m_plot->renew();
}

void CurvePlot::setAxes(const QString& xUnit, const QString& yUnit) {
    m_plot->xAxis->setLabel(xUnit);
    m_plot->yAxis->setLabel(yUnit);
}

void CurvePlot::setLogarithmic(bool on) {
    QCPAxis* axis = m_plot->xAxis;
    if ((axis->scaleType() == QCPAxis::stLogarithmic) == on) return;
    axis->setScaleType(on ? QCPAxis::stLogarithmic : QCPAxis::stLinear);
    axis->setTicker(on ? QSharedPointer<QCPAxisTicker>(new QCPAxisTickerLog)
                       : QSharedPointer<QCPAxisTicker>(new QCPAxisTicker));
    axis->setNumberFormat(QStringLiteral("g"));
    axis->setNumberPrecision(6);
}

void CurvePlot::setCurves(const QVector<Curve>& curves) {
    m_plot->clearPlottables();
    m_plot->clearItems();
    m_line = nullptr;
    m_label = nullptr;
    m_dot = nullptr;
    ++m_curves;
    const Palette& p = colours();
    double low = 0, high = 0, left = 0, right = 1;
    bool first = true;
    for (const Curve& curve : curves) {
        QCPGraph* graph = m_plot->addGraph();
        graph->setAntialiased(true);
        QPen pen(curve.colour.isValid() ? curve.colour : p.ink2, curve.chosen ? 2.4 : 1.2);
        if (!curve.chosen) pen.setDashPattern({5, 4});
        graph->setPen(pen);
        graph->setData(curve.x, curve.y, true);
        for (qsizetype i = 0; i < curve.y.size(); ++i) {
            if (!std::isfinite(curve.y[i])) continue;
            low = first ? curve.y[i] : std::min(low, curve.y[i]);
            high = first ? curve.y[i] : std::max(high, curve.y[i]);
            left = first ? curve.x[i] : std::min(left, curve.x[i]);
            right = first ? curve.x[i] : std::max(right, curve.x[i]);
            first = false;
        }
        if (curve.name.isEmpty() || curve.x.isEmpty()) continue;
        auto* name = new QCPItemText(m_plot);
        name->setClipToAxisRect(false);
        name->setText(curve.name);
        name->setFont(Theme::instance().text(12, curve.chosen));
        name->setColor(curve.colour.isValid() ? curve.colour : p.ink2);
        name->setPositionAlignment(Qt::AlignLeft | Qt::AlignVCenter);
        name->position->setCoords(curve.x.back(), curve.y.back());
        name->setPadding(QMargins(6, 0, 0, 0));
    }
    // A straight line's slope differs from place to place only by rounding: that is flat, not a curve to magnify.
    const bool flat = high - low <= 1e-6 * std::max(std::abs(high), std::abs(low));
    const double margin = flat ? std::max(1e-9, std::abs(high) * 0.1) : 0.08 * (high - low);
    m_plot->xAxis->setRange(left, right);
    m_plot->yAxis->setRange(low - margin, high + margin);
    spreadNames();
    m_plot->renew();
}

void CurvePlot::spreadNames() {
    std::vector<QCPItemText*> names;
    for (int i = 0; i < m_plot->itemCount(); ++i)
        if (auto* text = qobject_cast<QCPItemText*>(m_plot->item(i)); text && text->objectName().isEmpty())
            names.push_back(text);
    std::sort(names.begin(), names.end(),
              [](const QCPItemText* a, const QCPItemText* b) { return a->position->value() < b->position->value(); });
    // Names of curves that end close together stand one above the other, not on top.
    const double apart = m_plot->yAxis->range().size() * px(15) / std::max(1, m_plot->height() - px(40));
    for (std::size_t i = 1; i < names.size(); ++i) {
        const double least = names[i - 1]->position->value() + apart;
        if (names[i]->position->value() < least) names[i]->position->setCoords(names[i]->position->key(), least);
    }
    double widest = 0;
    for (const QCPItemText* name : names)
        widest = std::max(widest, QFontMetricsF(name->font()).horizontalAdvance(name->text()));
    m_plot->axisRect()->setMinimumMargins(QMargins(0, 8, std::max(px(46), static_cast<int>(widest) + px(10)), 0));
}

void CurvePlot::setMarks(const QVector<double>& x, const QVector<double>& y, const QColor& colour) {
    QCPGraph* graph = m_plot->addGraph();
    graph->setLineStyle(QCPGraph::lsNone);
    graph->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssCircle, QPen(colour, 1.6), QBrush(colours().field), 7));
    graph->setData(x, y);
    m_plot->renew();
}

void CurvePlot::setBars(const QVector<double>& x, const QVector<double>& y, const QVector<double>& half,
                        const QColor& colour) {
    QCPGraph* graph = m_plot->addGraph();
    graph->setLineStyle(QCPGraph::lsNone);
    graph->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, QPen(colour), QBrush(colour), 7));
    graph->setData(x, y);
    auto* bars = new QCPErrorBars(m_plot->xAxis, m_plot->yAxis);
    bars->setDataPlottable(graph);
    bars->setErrorType(QCPErrorBars::etValueError);
    bars->setData(half);
    bars->setPen(QPen(colour, 1.4));
    double most = 0;
    for (qsizetype i = 0; i < y.size(); ++i) {
        most = std::max(most, std::abs(y[i]) + half.value(i));
        if (x[i] < m_plot->xAxis->range().lower) m_plot->xAxis->setRangeLower(x[i]);
        if (x[i] > m_plot->xAxis->range().upper) m_plot->xAxis->setRangeUpper(x[i]);
    }
    const double margin = most > 0 ? 1.15 * most : 1;
    m_plot->yAxis->setRange(-margin, margin);
    const double aside = 0.03 * m_plot->xAxis->range().size();  // bars at both ends are seen whole
    m_plot->xAxis->setRange(m_plot->xAxis->range().lower - aside, m_plot->xAxis->range().upper + aside);
    spreadNames();
    m_plot->renew();
}

void CurvePlot::setBeyond(double from, double to) {
    const QCPRange across = m_plot->xAxis->range(), up = m_plot->yAxis->range();
    for (const auto& [left, right] : {std::pair(across.lower, from), std::pair(to, across.upper)}) {
        if (!(right > left)) continue;
        auto* area = new QCPItemRect(m_plot);
        area->setPen(Qt::NoPen);
        QColor hatch = colours().ink3;
        hatch.setAlpha(90);
        area->setBrush(QBrush(hatch, Qt::BDiagPattern));
        area->topLeft->setCoords(left, up.upper);
        area->bottomRight->setCoords(right, up.lower);
    }
    m_plot->renew();
}

// Made once for the curves below it and moved after that: a new item would have everything painted again.
void CurvePlot::makeCursor() {
    if (m_line) return;
    m_line = new QCPItemStraightLine(m_plot);
    m_label = new QCPItemText(m_plot);
    m_dot = new QCPItemTracer(m_plot);
    for (QCPAbstractItem* item : std::initializer_list<QCPAbstractItem*>{m_line, m_label, m_dot}) {
        item->setObjectName(QStringLiteral("cursor"));
        item->setLayer(QStringLiteral("cursor"));
    }
    m_label->setPadding(QMargins(4, 2, 4, 2));
    m_label->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
    m_dot->setStyle(QCPItemTracer::tsCircle);
    m_dot->setSize(7);
}

void CurvePlot::setCursor(std::optional<double> x, double y, const QString& text) {
    const QCPRange range = m_plot->xAxis->range();
    const bool isThere = x && range.contains(*x);
    // Where it would look the same it stays.
    const QString now = isThere ? QStringLiteral("%1 %2 %3 %4 %5 %6")
                                      .arg(std::round(m_plot->xAxis->coordToPixel(*x)))
                                      .arg(std::isfinite(y) ? std::round(m_plot->yAxis->coordToPixel(y)) : -1)
                                      .arg(text)
                                      .arg(m_plot->width())
                                      .arg(m_plot->height())
                                      .arg(m_curves)
                                : QString();
    if (!m_shown.changesTo(now)) return;
    makeCursor();
    m_line->setVisible(isThere);
    m_label->setVisible(isThere);
    m_dot->setVisible(isThere && std::isfinite(y));
    if (isThere) {
        const Palette& p = colours();
        m_line->setPen(QPen(p.brass, 1.4, Qt::DotLine));
        m_line->point1->setCoords(*x, 0);
        m_line->point2->setCoords(*x, 1);
        m_label->setText(text);
        m_label->setFont(Theme::instance().text(13, true));
        m_label->setColor(p.ink);
        m_label->setBrush(p.field);
        // On the side where it fits.
        const double textWidth = QFontMetricsF(m_label->font()).horizontalAdvance(text) + px(12);
        const double at = m_plot->xAxis->coordToPixel(*x);
        const bool fitsRight = at + textWidth < m_plot->axisRect()->right();
        const bool fitsLeft = at - textWidth > m_plot->axisRect()->left();
        const Qt::AlignmentFlag side = fitsRight ? Qt::AlignLeft : fitsLeft ? Qt::AlignRight : Qt::AlignHCenter;
        m_label->setPositionAlignment(side | Qt::AlignBottom);
        m_label->setTextAlignment(side);
        // Where it fits on neither side it stands in the middle of the plot.
        const bool free = fitsRight || fitsLeft;
        m_label->position->setTypeX(free ? QCPItemPosition::ptPlotCoords : QCPItemPosition::ptAxisRectRatio);
        m_label->position->setCoords(free ? *x : 0.5, 0.97);
        m_dot->setBrush(p.brass);
        m_dot->setPen(QPen(p.brass));
        if (std::isfinite(y)) m_dot->position->setCoords(*x, y);
    }
    // The curves below it stay as they are painted; and more often than the eye follows it need not move.
    if (!m_soon.isActive()) m_soon.start();
}

}  // namespace fg::gui
