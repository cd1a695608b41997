#include "recorder/noise_panel.h"

#include "paint/marks.h"
#include "paint/number_painter.h"
#include "recorder/time_text.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <algorithm>
#include <QPainter>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

/// A difference in the gauge's unit.
QString amount(double canonical, const Unit& unit, int digits) {
    return qs(significantDigits(unit.differenceFromCanonical(canonical), digits));
}

/// To two decimals, and no further than its own uncertainty deserves.
QString driftText(const SelectionStatistics& is, const Unit& unit) {
    const double drift = unit.differenceFromCanonical(is.driftPerHour());
    const double standard = unit.differenceFromCanonical(is.driftPerHourStandard());
    return qs(signedDigits(drift, std::min(2, decimalsFor(standard))));
}

}  // namespace

/// Codes about the mean of the first gauge that has some.
class NoisePanel::Histogram final : public QWidget {
  public:
    explicit Histogram(RecordingDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {}

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        const SeenTrack* of = nullptr;
        for (const SeenTrack& trace : m_desk.seen())
            if (!of && trace.statistics && !trace.statistics->histogram.empty()) of = &trace;
        if (!of) return;
        const std::vector<CodeCount>& counts = of->statistics->histogram;
        painter.setFont(Theme::instance().text(12));
        painter.setPen(colours().ink2);
        const QFontMetricsF metrics(painter.font());
        const QString name = metrics.elidedText(qs(of->spec.name), Qt::ElideRight, width() / 3),
                      what = NoisePanel::tr("codes around the mean"), leaves = NoisePanel::tr("a mean of 16 leaves");
        painter.drawText(QPointF(0, px(16)), name);
        painter.drawText(QPointF(0, px(16) + metrics.height()), what);
        std::size_t most = 1;
        for (const CodeCount& one : counts) most = std::max(most, one.count);
        const double base = height() - px(16), tall = base - px(4);
        const double left = std::max(metrics.horizontalAdvance(name), metrics.horizontalAdvance(what)) + px(24),
                     room = width() - left - metrics.horizontalAdvance(leaves) - px(40),
                     step = std::clamp<double>(room / static_cast<double>(counts.size()), 1, px(20));
        painter.setPen(Qt::NoPen);
        for (std::size_t i = 0; i < counts.size(); ++i) {
            const double high = tall * static_cast<double>(counts[i].count) / static_cast<double>(most);
            painter.fillRect(QRectF(left + step * static_cast<double>(i), base - high, std::max(1.0, step - 2), high),
                             colours().of(of->spec.quantity).fill);
        }
        const double right = left + step * static_cast<double>(counts.size());
        paintRule(painter, left - px(6), right + px(6), base, colours().rule);
        painter.setFont(Theme::instance().digits(12));
        painter.setPen(colours().ink2);
        painter.drawText(QPointF(left, height() - px(2)), qs(signedDigits(counts.front().offset, 0)));
        const QString last = qs(signedDigits(counts.back().offset, 0));
        painter.drawText(QPointF(right - QFontMetricsF(painter.font()).horizontalAdvance(last), height() - px(2)),
                         last);
        if (!of->statistics->meanOf16) return;
        painter.setFont(Theme::instance().text(12));
        painter.drawText(QPointF(right + px(30), px(16)), leaves);
        const Unit& unit = of->spec.readingUnit();
        paintNumber(painter, QPointF(right + px(30), px(42)), amount(*of->statistics->meanOf16, unit, 2),
                    qs(unit.symbol) + NoisePanel::tr(" rms"), {.size = 18});
    }

  private:
    RecordingDesk& m_desk;
};

NoisePanel::NoisePanel(RecordingDesk& desk, QWidget* parent)
    : QWidget(parent),
      m_desk(desk),
      m_table({tr("Gauge"), tr("Mean"), tr("Noise,\nrms"), tr("In\ncodes"), tr("Peak to\npeak"), tr("Drift\nper h"),
               tr("Valid")},
              {1, 2, 3, 4, 5, 6}, 0),
      m_histogram(new Histogram(desk, this)) {
    setObjectName(QStringLiteral("recorder.noise"));
    m_table.setObjectName(QStringLiteral("recorder.noiseTable"));
    m_table.setAccessibleName(tr("Noise and drift"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(14), px(10), px(14), px(8));
    column->setSpacing(px(6));
    column->addWidget(&m_title);
    column->addWidget(&m_table);
    m_steps.setObjectName(QStringLiteral("recorder.steps"));
    m_steps.setWordWrap(true);
    makeSelectable(m_steps);
    column->addWidget(&m_steps);
    m_pictures.setObjectName(QStringLiteral("recorder.pictures"));
    m_pictures.setAccessibleName(tr("Pictures of the noise"));
    m_pictures.setDrawBase(false);
    m_pictures.setExpanding(false);
    m_pictures.addTab(tr("Codes"));
    m_pictures.addTab(tr("Allan deviation"));
    m_pictures.addTab(tr("Spectrum"));
    column->addWidget(&m_pictures);
    column->addWidget(m_histogram);
    m_plot.setObjectName(QStringLiteral("recorder.noisePlot"));
    column->addWidget(&m_plot);
    connect(&m_pictures, &QTabBar::currentChanged, this, [this] {
        refresh();
        emit heightChanged();
    });
    setAutoFillBackground(true);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
}

void NoisePanel::fillTable() {
    m_table.clearRows();
    for (const SeenTrack& trace : m_desk.seen()) {
        const Unit& unit = trace.spec.readingUnit();
        if (!trace.statistics) {
            m_table.addRow(
                {qs(trace.spec.name), trace.problem ? qs(trace.problem->message()) : tr("too few readings")});
            continue;
        }
        const SelectionStatistics& is = *trace.statistics;
        const RoundedReading mean = roundedReading(is.series.mean, is.series.scatter, unit);
        m_table.addRow({tr("%1, %2").arg(qs(trace.spec.name), qs(unit.symbol)), qs(mean.value.digits),
                        amount(is.series.scatter, unit, 2),
                        is.noise_codes ? qs(significantDigits(*is.noise_codes, 2)) : QStringLiteral("–"),
                        amount(is.peakToPeak, unit, 2), driftText(is, unit),
                        is.notValid == 0 ? QString::number(is.series.count)
                                         : tr("%1 of %2").arg(is.series.count).arg(is.series.count + is.notValid)});
    }
    const bool isLarge = px(100) > 125;
    m_table.settle(isLarge ? 8 : 28);
    // With large text the numbers need most of the width: a gauge's name is read all the same.
    int numbers = 0;
    for (int column = 1; column < m_table.columnCount(); ++column) numbers += m_table.columnWidth(column);
    m_table.setMinimumWidth(numbers + px(60));
}

// What a chosen stretch says beyond its noise: a step, the best averaging, how one trace follows from another.
QString NoisePanel::stepsText() const {
    QStringList lines;
    const auto& seen = m_desk.seen();
    for (const SeenTrack& trace : seen) {
        const Unit& unit = trace.spec.readingUnit();
        const QString name = qs(trace.spec.name);
        if (trace.approach) {
            const RoundedReading end = roundedReading(trace.approach->end, trace.approach->endExpanded(), unit);
            lines << tr("%1 heads for %2 ± %3 with a time constant of %4 ± %5 s.")
                         .arg(name, qs(end.value.joined()), qs(end.uncertainty),
                              qs(significantDigits(trace.approach->timeConstant_s, 3)),
                              qs(significantDigits(trace.approach->timeConstantExpanded_s(), 2)));
        }
        const auto best =
            std::min_element(trace.allan.begin(), trace.allan.end(),
                             [](const AllanPoint& a, const AllanPoint& b) { return a.deviation < b.deviation; });
        if (best != trace.allan.end())
            lines << tr("%1: averaging pays up to %2 s; neighbouring means then differ by %3 %4 (Allan deviation; one "
                        "reading: %5).")
                         .arg(name, qs(significantDigits(best->averaging_s, 2)), amount(best->deviation, unit, 2),
                              qs(unit.symbol), amount(trace.allan.front().deviation, unit, 2));
        if (trace.fromFirst && trace.spec.reading.unit == seen.front().spec.reading.unit)
            lines << tr("%1 = %2 + %3 × %4, scatter %5 %6.")
                         .arg(name, qs(signedDigits(trace.fromFirst->offset, 3)),
                              qs(significantDigits(trace.fromFirst->factor, 4)), qs(seen.front().spec.name),
                              qs(significantDigits(trace.fromFirst->scatter, 2)), qs(unit.symbol));
    }
    return lines.join(QLatin1Char('\n'));
}

void NoisePanel::refresh() {
    dress(m_title, Theme::instance().text(12), colours().ink2);
    m_title.setText(
        m_desk.selection()
            ? tr("Noise of the selection, %1, each in its own unit, a straight drift taken off")
                  .arg(lengthText(*m_desk.selection()))
            : tr("Noise of at most %1 readings up to the %2, each in its own unit, a straight drift taken off. "
                 "Shift and drag selects a stretch.")
                  .arg(RecordingLook::kUpToCursor)
                  .arg(m_desk.cursor() ? tr("cursor") : tr("end")));
    m_title.setWordWrap(true);
    m_table.setFont(Theme::instance().text(13));
    fillTable();
    m_table.setVisible(!m_desk.seen().empty());
    dress(m_steps, Theme::instance().text(12), colours().ink);
    const QString steps = m_desk.selection() ? stepsText() : QString();
    m_steps.setText(steps);
    m_steps.setVisible(!steps.isEmpty());
    const bool hasHistogram = std::any_of(m_desk.seen().begin(), m_desk.seen().end(), [](const SeenTrack& trace) {
        return trace.statistics && !trace.statistics->histogram.empty();
    });
    // Both curves want an even, chosen stretch.
    m_pictures.setVisible(m_desk.selection().has_value());
    const int picture = m_desk.selection() ? m_pictures.currentIndex() : 0;
    const bool isAllan = picture == 1;
    m_plot.show(picture == 0 ? NoisePicture{}
                             : noisePicture(m_desk.seen(), isAllan ? NoiseKind::Allan : NoiseKind::Spectrum),
                isAllan ? tr("How much neighbouring means differ, by how long each is: averaging pays down to the "
                             "lowest point")
                        : tr("Noise density by frequency: a peak is hum or a cycle, a rise to the left drift"));
    m_histogram->setVisible(hasHistogram && picture == 0);
    m_histogram->setFixedHeight(px(62));
    m_histogram->update();
}

}  // namespace fg::gui
