#include "findings_panel/findings_panel.h"

#include "findings_panel/finding_item.h"
#include "paint/marks.h"
#include "theme/theme.h"
#include "widgets/clear_layout.h"
#include "widgets/text.h"

#include <algorithm>
#include <array>
#include <QEvent>
#include <QHBoxLayout>
#include <QPainter>

namespace fg::gui {
namespace {

constexpr double kWidth = 320;
constexpr double kEdgeWidth = 40;

QString countText(const std::vector<Finding>& findings) {
    std::array<int, 3> counts{};
    for (const Finding& finding : findings)
        if (finding.severity != Severity::Care) ++counts[static_cast<std::size_t>(finding.severity)];
    constexpr std::array<const char*, 3> words{"fault", "doubt", "hint"};
    QStringList parts;
    for (std::size_t i = 0; i < counts.size(); ++i)
        if (counts[i] > 0)
            parts << QStringLiteral("%1 %2%3").arg(counts[i]).arg(QLatin1String(words[i]),
                                                                  counts[i] > 1 ? QStringLiteral("s") : QString());
    return parts.isEmpty() ? QStringLiteral("nothing found") : parts.join(QStringLiteral(" · "));
}

}  // namespace

FindingsPanel::FindingsPanel(Workbench& workbench, QWidget* parent)
    : QWidget(parent), m_workbench(workbench), m_items(&m_list) {
    setObjectName(QStringLiteral("findings"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(1, 1, 1, 1);
    column->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(px(14), px(6), px(14), px(6));
    head->addWidget(&m_title);
    head->addStretch();
    head->addWidget(&m_counts);
    head->addWidget(&m_close);
    m_close.setText(tr("Close"));
    connect(&m_close, &QPushButton::clicked, this, [this] {
        m_opened = false;
        arrange();
    });
    m_title.setText(tr("Findings"));
    m_items.setContentsMargins(0, 0, 0, 0);
    m_items.setSpacing(0);
    m_items.addStretch();
    m_scroll.setWidget(&m_list);
    m_scroll.setWidgetResizable(true);
    m_scroll.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list.setAutoFillBackground(false);
    m_scroll.viewport()->setAutoFillBackground(false);
    column->addLayout(head);
    column->addWidget(&m_scroll, 1);
    m_budget = new BudgetTable(workbench, this);
    column->addWidget(m_budget);
    column->addWidget(&m_care);
    connect(&workbench, &Workbench::valuesChanged, this, &FindingsPanel::refresh);
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        m_shown.clear();
        refresh();
        if (isVisible()) arrange();
    });
    refresh();
}

void FindingsPanel::refresh() {
    m_title.setFont(Theme::instance().caption());
    m_counts.setFont(Theme::instance().text(12));
    const GaugeView* view = m_workbench.current();
    const std::vector<Finding> none;
    const auto& findings = view ? view->findings() : none;
    m_counts.setText(view ? countText(findings) : QString());
    fillFindings(findings);
    const bool hadCare = !m_care.isEmpty();
    m_care.show(findings);
    if (isVisible() && hadCare == m_care.isEmpty()) arrange();
}

void FindingsPanel::fillFindings(const std::vector<Finding>& findings) {
    QString key = QString::number(m_workbench.current() ? m_workbench.current()->id() : 0);
    for (const Finding& finding : findings)
        key += QStringLiteral("|%1:%2").arg(qs(finding.id)).arg(finding.action ? qs(finding.action->label) : QString());
    if (key == m_shown) {
        // Same findings, newer numbers.
        int row = 0;
        for (const Finding& finding : findings)
            if (finding.severity != Severity::Care)
                if (auto* item = qobject_cast<FindingItem*>(m_items.itemAt(row++)->widget())) item->update(finding);
        return;
    }
    m_shown = key;
    clearLayout(m_items, 1);
    bool firstAction = true;
    int row = 0;
    for (const Finding& finding : findings) {
        if (finding.severity == Severity::Care) continue;
        auto* item = new FindingItem(finding, finding.action && firstAction, &m_list);
        if (finding.action) firstAction = false;
        connect(item, &FindingItem::stageWanted, this,
                [this, stage = finding.stage] { m_workbench.selectStage(stage); });
        connect(item, &FindingItem::acted, this,
                [this, action = finding.action] { m_workbench.edit(qs(action->label), action->apply); });
        m_items.insertWidget(row++, item);
    }
}

void FindingsPanel::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    window()->installEventFilter(this);
    arrange();
}

bool FindingsPanel::eventFilter(QObject* object, QEvent* event) {
    if (event->type() == QEvent::Resize && object == window()) arrange();
    return QWidget::eventFilter(object, event);
}

void FindingsPanel::arrange() {
    m_narrow = window()->width() < px(kNarrowWindow);
    if (!m_narrow) m_opened = false;
    const bool edge = isEdge();
    setFixedWidth(edge ? px(kEdgeWidth) : px(kWidth));
    for (QWidget* part : std::initializer_list<QWidget*>{&m_title, &m_counts, &m_scroll, m_budget})
        part->setVisible(!edge);
    m_care.setVisible(!edge && !m_care.isEmpty());
    m_close.setVisible(m_narrow && m_opened);
    setCursor(edge ? Qt::PointingHandCursor : Qt::ArrowCursor);
    update();
}

void FindingsPanel::mousePressEvent(QMouseEvent*) {
    if (!isEdge()) return;
    m_opened = true;
    arrange();
}

void FindingsPanel::paintEdge(QPainter& painter) const {
    const GaugeView* view = m_workbench.current();
    if (!view) return;
    std::array<int, 4> counts{};
    for (const Finding& finding : view->findings()) ++counts[static_cast<std::size_t>(finding.severity)];
    double y = px(16);
    for (std::size_t i = 0; i < counts.size(); ++i) {
        if (counts[i] == 0) continue;
        paintSeverity(painter, static_cast<Severity>(i), QRectF((width() - px(14)) / 2.0, y, px(14), px(14)));
        painter.setFont(Theme::instance().digits(13));
        painter.setPen(colours().ink);
        painter.drawText(QRectF(0, y + px(16), width(), px(18)), Qt::AlignHCenter | Qt::AlignTop,
                         QString::number(counts[i]));
        y += px(46);
    }
}

void FindingsPanel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), colours().sheet);
    paintFrame(painter, rect(), colours().line);
    if (isEdge())
        paintEdge(painter);
    else
        paintRule(painter, 0, width(), m_scroll.y() - 1, colours().line);
}

}  // namespace fg::gui
