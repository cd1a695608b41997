#include "rack/rack.h"

#include "paint/marks.h"
#include "theme/theme.h"

#include <algorithm>
#include <array>
#include <QPainter>

namespace fg::gui {
namespace {
constexpr int kFootHeight = 52;
}

Rack::Rack(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      m_workbench(workbench),
      m_column(&m_list),
      m_new(tr("+ New gauge"), &m_list),
      m_bench(tr("The bench"), this),
      m_recorder(tr("Recorder"), this),
      m_journal(tr("Journal"), this) {
    setObjectName(QStringLiteral("rack"));
    m_new.setObjectName(QStringLiteral("rack.new"));
    // Before the style sheet looks at them.
    for (QPushButton* page : {&m_bench, &m_recorder, &m_journal}) page->setProperty("rack", QStringLiteral("page"));
    m_new.setProperty("rack", QStringLiteral("new"));
    m_new.setFlat(true);
    m_new.setToolTip(tr("New gauge (Ctrl+N)"));
    m_column.setContentsMargins(0, 0, 1, 0);
    m_column.setSpacing(0);
    m_bench.setObjectName(QStringLiteral("rack.bench"));
    m_bench.setFlat(true);
    m_bench.setToolTip(tr("Plan the whole bench (Ctrl+B)"));
    m_recorder.setObjectName(QStringLiteral("rack.recorder"));
    m_recorder.setFlat(true);
    m_recorder.setToolTip(tr("Readings over time (Ctrl+R)"));
    m_journal.setObjectName(QStringLiteral("rack.journal"));
    m_journal.setFlat(true);
    m_journal.setToolTip(tr("What was done and when (Ctrl+J)"));
    m_column.addWidget(&m_new);
    m_column.addStretch();
    m_scroll.setWidget(&m_list);
    m_scroll.setWidgetResizable(true);
    m_scroll.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list.setAutoFillBackground(false);
    m_scroll.viewport()->setAutoFillBackground(false);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(&m_bench);
    column->addWidget(&m_recorder);
    column->addWidget(&m_journal);
    column->addWidget(&m_scroll, 1);
    m_foot = new QSpacerItem(0, px(kFootHeight), QSizePolicy::Minimum, QSizePolicy::Fixed);
    column->addSpacerItem(m_foot);
    connect(&m_bench, &QPushButton::clicked, this, &Rack::benchWanted);
    connect(&m_recorder, &QPushButton::clicked, this, &Rack::recorderWanted);
    connect(&m_journal, &QPushButton::clicked, this, &Rack::journalWanted);
    connect(&m_new, &QPushButton::clicked, this, &Rack::newGaugeWanted);
    connect(&workbench, &Workbench::gaugesChanged, this, &Rack::fill);
    connect(&workbench, &Workbench::valuesChanged, this, &Rack::refresh);
    connect(&workbench, &Workbench::currentChanged, this, &Rack::refresh);
    connect(&Theme::instance(), &Theme::changed, this, &Rack::fill);
    measure();
}

void Rack::measure() {
    m_foot->changeSize(0, px(kFootHeight), QSizePolicy::Minimum, QSizePolicy::Fixed);
    layout()->invalidate();
    setFixedWidth(std::min(px(192), 240));  // at large text the work needs the room more
}

void Rack::fill() {
    measure();
    const auto& views = m_workbench.views();
    bool same = views.size() == m_tiles.size();
    for (std::size_t i = 0; same && i < views.size(); ++i)
        same = m_tiles[i]->id() == views[i].id() && m_tiles[i]->height() == px(86);
    if (!same) {
        qDeleteAll(m_tiles);
        m_tiles.clear();
        int number = 0;
        for (const GaugeView& view : views) {
            auto* tile = new GaugeTile(m_workbench, view.id(), ++number, &m_list);
            m_column.insertWidget(number - 1, tile);
            tile->setGaugeShown(m_shows == Shows::Gauge);
            connect(tile, &GaugeTile::chosen, this, &Rack::gaugeWanted);
            m_tiles.push_back(tile);
        }
    }
    m_shownCurrent = 0;
    refresh();
    update();
}

void Rack::refresh() {
    for (GaugeTile* tile : m_tiles) tile->refresh();
    const std::int64_t current = m_workbench.current() ? m_workbench.current()->id() : 0;
    // Once the tiles have their places: a new one stands nowhere yet.
    if (current != m_shownCurrent) QMetaObject::invokeMethod(this, &Rack::scrollToCurrent, Qt::QueuedConnection);
    m_shownCurrent = current;
    std::array<int, 4> counts{};
    for (const GaugeView& view : m_workbench.views())
        for (const Finding& finding : view.findings()) ++counts[static_cast<std::size_t>(finding.severity)];
    if (counts == m_counts) return;
    m_counts = counts;
    update();
}

void Rack::setShows(Shows shows) {
    if (shows == m_shows) return;
    m_shows = shows;
    for (GaugeTile* tile : m_tiles) tile->setGaugeShown(shows == Shows::Gauge);
    update();
}

void Rack::scrollToCurrent() {
    for (GaugeTile* tile : m_tiles)
        if (tile->id() == m_shownCurrent) m_scroll.ensureWidgetVisible(tile, 0, 0);
}

void Rack::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Palette& p = colours();
    painter.fillRect(rect(), p.rack);
    // Behind the words of the page that is open, as a chosen gauge is marked.
    const QPushButton* const open = m_shows == Shows::Bench      ? &m_bench
                                    : m_shows == Shows::Recorder ? &m_recorder
                                    : m_shows == Shows::Journal  ? &m_journal
                                                                 : nullptr;
    if (open) {
        painter.fillRect(open->geometry(), p.sheet);
        painter.fillRect(QRect(0, open->y(), px(4), open->height()), p.brass);
    }
    painter.setPen(p.rule);
    painter.drawLine(QPointF(width() - 0.5, 0), QPointF(width() - 0.5, height()));
    const double top = height() - px(kFootHeight);
    paintRule(painter, 0, width(), top, p.rule);
    painter.setFont(Theme::instance().caption());
    painter.setPen(p.ink2);
    painter.drawText(QPointF(px(16), top + px(19)), tr("On the bench"));
    // Each takes what it needs, the rest is shared between them: at large text there is little of it.
    painter.setFont(Theme::instance().digits(13));
    const double mark = px(14), gap = px(4);
    double needed = 0;
    for (const int count : m_counts)
        needed += mark + gap + painter.fontMetrics().horizontalAdvance(QString::number(count));
    const double apart = std::max(2.0, (width() - px(16) - needed) / static_cast<double>(m_counts.size()));
    double x = px(16);
    for (std::size_t i = 0; i < m_counts.size(); ++i) {
        paintSeverity(painter, static_cast<Severity>(i), QRectF(x, top + px(28), mark, mark));
        painter.setFont(Theme::instance().digits(13));
        painter.setPen(p.ink);
        const QString count = QString::number(m_counts[i]);
        painter.drawText(QPointF(x + mark + gap, top + px(40)), count);
        x += mark + gap + painter.fontMetrics().horizontalAdvance(count) + apart;
    }
}

}  // namespace fg::gui
