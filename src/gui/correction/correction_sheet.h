// The Correction sheet: a page for points and fit, one that guides a comparison, one for the calibrations kept, one for
// several gauges side by side.
#pragma once

#include "correction/points_page.h"
#include "sheets/sheet.h"

#include <QTabBar>

namespace fg::gui {

class HistoryPage;
class SessionPage;

/// The gauge compared with something better: points, the fits that they support, what each leaves of the error; how to
/// take points that are worth something; how it was found and left over the years.
class CorrectionSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit CorrectionSheet(Workbench& workbench, QWidget* parent = nullptr);
    [[nodiscard]] PointsPage& points() { return *m_points; }

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    void addPage(CorrectionPage* page, const QString& title);
    [[nodiscard]] CorrectionPage& page() const;

    QTabBar m_tabs;
    std::vector<CorrectionPage*> m_pages;  // one of them visible: a stack would be as high as the highest
    PointsPage* m_points;
};

}  // namespace fg::gui
