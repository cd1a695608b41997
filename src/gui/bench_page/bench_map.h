#pragma once

#include "planning/plan.h"

#include <QWidget>

namespace fg::gui {

/// The bench drawn: converters with their pins, buses, wires and digital pins, each gauge where it hangs, free places
/// outlined. A gauge is moved by dragging it to another place of its kind, or by its menu.
class BenchMap final : public QWidget {
    Q_OBJECT
  public:
    explicit BenchMap(const Catalogue& catalogue, QWidget* parent = nullptr);
    void show(const Bench& bench, const BenchPlan& plan);

    /// Where a gauge's box is, for tests; empty when it has none.
    [[nodiscard]] QRectF boxOf(std::int64_t gauge) const;
    [[nodiscard]] QRectF boxOf(const QString& place) const;

  signals:
    void moveWanted(qint64 gauge, const QString& place);
    void railWanted(qint64 gauge, const QString& rail);
    void gaugeWanted(qint64 gauge);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

  private:
    struct Box {
        QRectF area;
        std::size_t group;
        QString place;           ///< what GaugePlace::line would say
        const PlanPlace* where;  ///< into m_plan
    };
    struct Frame {
        QRectF area;
        std::size_t group;
    };
    void arrange();
    void paintRails(QPainter& painter) const;
    [[nodiscard]] QString railOf(std::int64_t gauge) const;
    [[nodiscard]] int boxAt(QPointF at) const;
    [[nodiscard]] bool canMoveTo(std::int64_t gauge, const QString& place) const;
    void paintFrameOf(QPainter& painter, const Frame& frame) const;
    void paintBox(QPainter& painter, const Box& box, bool isFocused, bool isTarget) const;
    [[nodiscard]] QString namesAt(const PlanPlace& place) const;
    void offer(const Box& box, const QPoint& at);

    const Catalogue& m_catalogue;
    Bench m_bench;
    BenchPlan m_plan;
    double m_railsHeight = 0;
    std::vector<Frame> m_frames;
    std::vector<Box> m_boxes;
    int m_focus = 0;
    int m_dragged = -1;
    bool m_isDragging = false;
    QPointF m_from, m_now;
};

}  // namespace fg::gui
