#include "choose_page/choose_page.h"

#include "paint/marks.h"
#include "theme/theme.h"

#include <algorithm>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QVBoxLayout>

namespace fg::gui {

ChoosePage::ChoosePage(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      m_workbench(workbench),
      m_title(tr("Choose a part")),
      m_intro(tr("Say what must be measured and what is at hand. Every part of the catalogue is judged, each with a "
                 "first gauge wired and sized "
                 "for your span.")),
      m_form(workbench.catalogue()),
      m_make(tr("&Make this gauge")),
      m_cancel(tr("Cancel")),
      m_run(workbench.catalogue()) {
    setObjectName(QStringLiteral("choose"));
    m_make.setObjectName(QStringLiteral("choose.make"));
    m_make.setProperty("first", true);
    m_count.setObjectName(QStringLiteral("choose.count"));
    m_tabs.setObjectName(QStringLiteral("choose.tabs"));
    m_tabs.setDrawBase(false);
    m_tabs.setExpanding(false);
    m_tabs.addTab(tr("Why"));
    m_tabs.addTab(tr("Side by side"));
    for (const auto& [scroll, widget] : {std::pair<QScrollArea*, QWidget*>{&m_formScroll, &m_form},
                                         {&m_tableScroll, &m_table},
                                         {&m_cardScroll, &m_card},
                                         {&m_comparisonScroll, &m_comparison}}) {
        scroll->setWidget(widget);
        scroll->setWidgetResizable(true);
        scroll->setFrameShape(QFrame::NoFrame);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        scroll->viewport()->setAutoFillBackground(false);
        widget->setAutoFillBackground(false);
    }
    m_pages.addWidget(&m_cardScroll);
    m_pages.addWidget(&m_comparisonScroll);

    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(16), px(12), px(16), px(12));
    column->setSpacing(px(6));
    m_intro.setWordWrap(true);
    column->addWidget(&m_title);
    column->addWidget(&m_intro);
    m_row = new QHBoxLayout;
    m_row->setSpacing(px(12));
    m_row->addWidget(&m_formScroll);
    auto* right = new QVBoxLayout;
    right->setSpacing(px(4));
    right->addWidget(&m_count);
    right->addWidget(&m_tableScroll, 4);
    right->addWidget(&m_tabs);
    right->addWidget(&m_pages, 3);
    m_row->addLayout(right, 1);
    column->addLayout(m_row, 1);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(&m_make);
    buttons->addWidget(&m_cancel);
    buttons->addStretch();
    column->addLayout(buttons);

    connect(&m_form, &NeedForm::changed, this, &ChoosePage::ask);
    connect(&m_run, &ChoiceRun::answered, this, &ChoosePage::showAnswer);
    connect(&m_run, &ChoiceRun::refused, this, [this](const QString& reason) { m_count.setText(reason); });
    connect(&m_table, &CandidateTable::rowChanged, this, &ChoosePage::showRow);
    connect(&m_table, &CandidateTable::activated, this, &ChoosePage::make);
    connect(&m_table, &CandidateTable::comparedChanged, this, [this] {
        const auto compared = m_table.compared();
        m_tabs.setTabText(1, compared.empty() ? tr("Side by side") : tr("Side by side (%1)").arg(compared.size()));
        m_comparison.show(compared);
    });
    connect(&m_tabs, &QTabBar::currentChanged, this, [this, right](int page) {
        m_pages.setCurrentIndex(page);
        // Side by side needs the room more than the list does.
        right->setStretch(1, page == 0 ? 4 : 2);
        right->setStretch(3, page == 0 ? 3 : 5);
    });
    connect(&m_make, &QPushButton::clicked, this, &ChoosePage::make);
    connect(&m_cancel, &QPushButton::clicked, this, &ChoosePage::done);
    connect(&Theme::instance(), &Theme::changed, this, &ChoosePage::dressAll);
    dressAll();
}

void ChoosePage::dressAll() {
    dress(m_title, Theme::instance().text(20, true), colours().ink);
    dress(m_intro, Theme::instance().text(13), colours().ink2);
    dress(m_count, Theme::instance().text(13, true), colours().ink);
    m_count.setWordWrap(true);
    arrange();
    m_comparison.show(m_table.compared());
}

// With little room, as with large text, the need stands above its answer instead of beside it.
void ChoosePage::arrange() {
    const bool isNarrow = width() < px(860);
    m_row->setDirection(isNarrow ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
    m_formScroll.setMinimumSize(isNarrow ? 0 : px(356), isNarrow ? px(150) : 0);
    m_formScroll.setMaximumSize(isNarrow ? QWIDGETSIZE_MAX : px(356), isNarrow ? height() / 3 : QWIDGETSIZE_MAX);
}

void ChoosePage::resizeEvent(QResizeEvent*) { arrange(); }

Need ChoosePage::needOfGauge() const {
    Need need = m_form.need();
    const GaugeView* view = m_workbench.current();
    if (!view) return need;
    const GaugeSpec& spec = view->spec();
    need.wishes = {
        {spec.quantity, spec.spanCanonical(), spec.readingUnit().differenceToCanonical(spec.reading.wanted), 0}};
    return need;
}

void ChoosePage::begin(bool fromGauge) {
    if (fromGauge)
        m_form.setNeed(needOfGauge());
    else
        ask();
    m_form.findChild<QComboBox*>(QStringLiteral("need.quantities"))->setFocus();
}

void ChoosePage::ask() {
    // The first time there is nothing to look at meanwhile.
    if (m_candidates.empty()) m_count.setText(tr("Looking through the catalogue …"));
    m_run.ask(m_form.need());
}

void ChoosePage::showAnswer(const std::vector<Candidate>& candidates) {
    m_candidates = candidates;
    const auto fitting =
        std::count_if(candidates.begin(), candidates.end(), [](const Candidate& one) { return !one.isRuledOut(); });
    const auto met = std::count_if(candidates.begin(), candidates.end(), [](const Candidate& one) {
        return !one.isRuledOut() && one.count(Verdict::Open) == 0;
    });
    m_count.setText(fitting == 0 ? tr("None of %1 parts does it; the nearest stand first.").arg(candidates.size())
                                 : tr("%1 of %2 parts do it, %3 of them without anything to see to.")
                                       .arg(fitting)
                                       .arg(candidates.size())
                                       .arg(met));
    m_table.show(candidates);
}

void ChoosePage::showRow(int row) {
    const bool valid = row >= 0 && row < static_cast<int>(m_candidates.size());
    m_make.setEnabled(valid && !m_candidates[static_cast<std::size_t>(row)].gauges.empty());
    if (!valid) return m_card.clear();
    m_card.show(m_candidates[static_cast<std::size_t>(row)]);
    const QPoint middle = m_table.rowArea(row).center();
    m_tableScroll.ensureVisible(0, middle.y(), 0, px(30));
}

void ChoosePage::make() {
    const int row = m_table.row();
    if (row < 0 || row >= static_cast<int>(m_candidates.size())) return;
    const Candidate& candidate = m_candidates[static_cast<std::size_t>(row)];
    if (candidate.gauges.empty()) return;
    // A part that answers two wishes becomes two gauges of one device; the first one is chosen.
    for (std::size_t i = candidate.gauges.size(); i-- > 0;) {
        GaugeSpec spec = candidate.gauges[i];
        if (candidate.gauges.size() > 1) spec.channel = candidate.id;
        spec.name = m_workbench.freeName(candidate.gauges.size() > 1
                                             ? candidate.id + ", " + std::string(quantityName(spec.quantity))
                                             : candidate.id);
        m_workbench.addGauge(spec);
    }
    m_workbench.selectStage(Stage::Wiring);
    emit done();
}

// Esc leaves the page before it may mean "back to live" to the window.
bool ChoosePage::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape)
        event->accept();
    return QWidget::event(event);
}

void ChoosePage::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return emit done();
    QWidget::keyPressEvent(event);
}

void ChoosePage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), colours().sheet);
    paintFrame(painter, rect(), colours().line);
}

}  // namespace fg::gui
