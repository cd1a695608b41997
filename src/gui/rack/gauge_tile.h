#pragma once

#include "model/workbench.h"
#include "widgets/shown.h"

#include <QWidget>

namespace fg::gui {

/// A gauge in the rack: its mark, readable across the room, its reading and how far to trust it.
class GaugeTile final : public QWidget {
    Q_OBJECT
  public:
    GaugeTile(Workbench& workbench, std::int64_t id, int number, QWidget* parent = nullptr);
    [[nodiscard]] std::int64_t id() const { return m_id; }
    void refresh();
    /// Is the chosen gauge what the window shows, and not a page of the whole bench?
    void setGaugeShown(bool isShown);

  signals:
    void chosen();

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

  private:
    void choose();
    [[nodiscard]] bool isChosen() const;
    [[nodiscard]] const GaugeView* view() const;
    void paintName(QPainter& painter, const GaugeView& view, bool isChosen) const;
    void paintReading(QPainter& painter, const GaugeView& view) const;
    void paintState(QPainter& painter, const GaugeView& view) const;
    /// Where the mark of the position, the reading, and what is said of it are painted.
    [[nodiscard]] QRect markArea() const;
    [[nodiscard]] QRect numberArea() const;
    [[nodiscard]] QRect stateArea() const;

    Workbench& m_workbench;
    std::int64_t m_id;
    int m_number;
    bool m_isGaugeShown = true;
    Shown m_shown, m_shownNumber, m_shownState, m_shownMark;
};

}  // namespace fg::gui
