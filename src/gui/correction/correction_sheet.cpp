#include "correction/correction_sheet.h"
#include "correction/history_page.h"
#include "correction/session_page.h"
#include "correction/sides_page.h"

namespace fg::gui {

CorrectionSheet::CorrectionSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Correction"), tr("Compared with something better, and what is left."), parent),
      m_points(new PointsPage(workbench)) {
    setObjectName(QStringLiteral("sheet.correction"));
    m_tabs.setObjectName(QStringLiteral("correction.pages"));
    m_tabs.setAccessibleName(tr("Pages of the correction"));
    m_tabs.setDrawBase(false);
    m_tabs.setExpanding(false);
    body().addWidget(&m_tabs);
    auto* sessions = new SessionPage(workbench);
    auto* history = new HistoryPage(workbench);
    addPage(m_points, tr("Points and fit"));
    addPage(sessions, tr("How to compare"));
    addPage(history, tr("History"));
    addPage(new SidesPage(workbench), tr("Side by side"));
    connect(&m_tabs, &QTabBar::currentChanged, this, [this] {
        for (CorrectionPage* one : m_pages) one->setVisible(one == &page());
        if (view()) {
            showSpec(*view());
            showValues(*view());
        }
    });
    connect(sessions, &SessionPage::referenceReady, this, [this](const ReferenceTaken& reference) {
        m_tabs.setCurrentIndex(0);
        m_points->useReference(reference);
    });
    connect(history, &HistoryPage::newCalibrationWanted, this, [this] {
        m_tabs.setCurrentIndex(0);
        m_points->beginCheck();
    });
}

void CorrectionSheet::addPage(CorrectionPage* page, const QString& title) {
    page->setVisible(m_pages.empty());
    m_pages.push_back(page);
    m_tabs.addTab(title);
    body().addWidget(page, 1);
}

CorrectionPage& CorrectionSheet::page() const {
    return *m_pages[static_cast<std::size_t>(std::max(0, m_tabs.currentIndex()))];
}

void CorrectionSheet::showSpec(const GaugeView& view) { page().showSpec(view); }

void CorrectionSheet::showValues(const GaugeView& view) { page().showValues(view); }

}  // namespace fg::gui
