#include "reading/reading_sheet.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <cmath>

namespace fg::gui {

ReadingSheet::ReadingSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Reading"), tr("The result, how far to trust it, and which code is which reading."), parent),
      m_now(new NowPage(workbench)),
      m_trust(new TrustPage(workbench)),
      m_limits(new LimitsPage(workbench)),
      m_alarm(new AlarmPage(workbench)),
      m_table(new TablePage(workbench)) {
    setObjectName(QStringLiteral("sheet.reading"));
    for (QLabel* label : {&m_value, &m_units}) {
        makeSelectable(*label);
        label->setWordWrap(true);
    }
    body().addWidget(&m_value);
    body().addWidget(&m_units);
    m_tabs.setObjectName(QStringLiteral("reading.pages"));
    m_tabs.setAccessibleName(tr("Pages of the reading"));
    m_tabs.setDrawBase(false);
    m_tabs.setExpanding(false);
    m_tabs.addTab(tr("Trust"));
    m_tabs.addTab(tr("Limits and integers"));
    m_tabs.addTab(tr("Table over the span"));
    m_tabs.addTab(tr("Alarm"));
    m_tabs.addTab(tr("Now"));
    body().addWidget(&m_tabs);
    for (QWidget* page : std::initializer_list<QWidget*>{m_trust, m_limits, m_table, m_alarm, m_now})
        m_pages.addWidget(page);
    body().addWidget(&m_pages, 1);
    connect(&m_tabs, &QTabBar::currentChanged, this, [this](int page) {
        m_pages.setCurrentIndex(page);
        if (view()) showSpec(*view());
    });
}

void ReadingSheet::showSpec(const GaugeView& view) {
    if (m_pages.currentWidget() == m_trust) m_trust->showSpec(view);
    if (m_pages.currentWidget() == m_now) m_now->showSpec(view);
    if (m_pages.currentWidget() == m_limits) m_limits->showSpec(view);
    if (m_pages.currentWidget() == m_table) m_table->showSpec(view);
    if (m_pages.currentWidget() == m_alarm) m_alarm->showSpec(view);
}

void ReadingSheet::showValues(const GaugeView& view) {
    if (m_pages.currentWidget() == m_trust) m_trust->showValues(view);
    if (m_pages.currentWidget() == m_now) m_now->showValues(view);
    if (m_pages.currentWidget() == m_alarm) m_alarm->showValues(view);
    dress(m_value, Theme::instance().text(20, true), colours().ink);
    dress(m_units, Theme::instance().text(13), colours().ink2);
    if (!view.evaluation() || std::isnan(view.evaluation()->reading())) {
        m_value.setText(tr("No value."));
        return m_units.clear();
    }
    const ReadingText text = view.textAt(Stage::Reading);
    m_value.setText(qs(text.joined()) +
                    (text.uncertainty.empty()
                         ? QString()
                         : QStringLiteral(" ± %1 %2").arg(qs(text.uncertainty), qs(text.value.unit))));
    QStringList others;
    for (const Unit& unit : allUnits())
        if (unit.quantity == view.spec().quantity && unit.id != view.spec().reading.unit)
            others << qs(readingText(view.evaluation()->at(Stage::Reading), view.expanded(), unit).joined());
    m_units.setText(others.isEmpty() ? QString() : tr("The same: %1.").arg(others.join(QStringLiteral(" · "))));
}

}  // namespace fg::gui
