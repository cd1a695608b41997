#pragma once

#include "analysis/look.h"
#include "recorder/trace_run.h"
#include "units/ticks.h"

#include <QWidget>

namespace fg::gui {

/// The traces of several gauges over time: an axis for each unit, markers on a rail above, saturated and missing
/// stretches drawn as such. The wheel zooms, dragging pans, a click sets the cursor, one with Ctrl (or D, where the
/// cursor is) the second from which differences are told, dragging with Shift selects.
class TracePlot final : public QWidget {
    Q_OBJECT
  public:
    explicit TracePlot(QWidget* parent = nullptr);

    /// Traces as they were seen over `span`.
    void setTraces(const std::vector<SeenTrack>& traces, TimeSpan span);
    void setMarks(const std::vector<TimeMark>& marks);
    /// The piece of time that is to be shown; what was seen is drawn where it belongs until more is.
    void setSpan(TimeSpan span, TimeSpan whole);
    void setCursor(std::optional<Micros> cursor, std::optional<Micros> other);
    void setSelection(std::optional<TimeSpan> selection);

    /// How many columns its picture has.
    [[nodiscard]] std::size_t columns() const;
    [[nodiscard]] QSize minimumSizeHint() const override;
    /// Where a time stands, in its own coordinates.
    [[nodiscard]] double xOf(Micros time_us) const;

  signals:
    void cursorWanted(std::optional<fg::Micros> time_us);
    void otherWanted(std::optional<fg::Micros> time_us);
    void spanWanted(fg::TimeSpan span);
    void selectionWanted(std::optional<fg::TimeSpan> selection);
    void resized();

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    /// The axis of a unit, or of differences in it.
    struct Axis {
        const Unit* unit = nullptr;
        Quantity quantity = Quantity::Temperature;
        bool isDifference = false;
        Ticks ticks;
        double low = 0, high = 1;
        [[nodiscard]] double shown(double canonical) const {
            return isDifference ? unit->differenceFromCanonical(canonical) : unit->fromCanonical(canonical);
        }
        [[nodiscard]] double placeIn(const QRectF& box, double shown) const;
    };
    /// What is drawn as a line: a trace, or how far what a board says is from the gauge beside it.
    struct Line {
        QString name;
        const TrackView* view;
        const Axis* axis;
    };
    void findAxes();
    void widenFor(const SeenTrack& trace, const Stretch& stretch);
    Axis& axisFor(const Unit& unit, Quantity quantity, bool isDifference);
    static void widenFor(Axis& axis, const TrackView& view);
    [[nodiscard]] const Axis* axisOf(const SeenTrack& trace, bool isDifference = false) const;
    [[nodiscard]] std::vector<Line> lines() const;
    [[nodiscard]] QRectF area() const;
    [[nodiscard]] Micros timeAt(double x) const;
    [[nodiscard]] double yOf(const Axis& axis, double canonical) const;
    [[nodiscard]] double yOfShown(const Axis& axis, double shown) const;
    void zoom(double factor, Micros about_us);
    void paintTimes(QPainter& painter) const;
    void paintAxes(QPainter& painter) const;
    /// Where a line runs, in its own coordinates: columns with values, in pieces that are not joined.
    [[nodiscard]] std::vector<TraceRun> runsOf(const Line& line) const;
    void paintLine(QPainter& painter, const Line& line) const;
    void paintStretches(QPainter& painter, const SeenTrack& trace) const;
    void paintPlates(QPainter& painter, const SeenTrack& trace) const;
    void paintName(QPainter& painter, const Line& line, std::vector<QRectF>& taken) const;
    void paintMarks(QPainter& painter) const;
    void paintCursor(QPainter& painter) const;
    void paintOther(QPainter& painter) const;

    std::vector<SeenTrack> m_traces;
    std::vector<Axis> m_axes;
    std::vector<TimeMark> m_marks;
    TimeSpan m_seen, m_span{0, kMicrosASecond}, m_whole{0, kMicrosASecond};
    std::optional<Micros> m_cursor, m_other;
    std::optional<TimeSpan> m_selection;
    std::optional<QPointF> m_pressed;
    TimeSpan m_spanPressed;
    bool m_isDragging = false, m_isSelecting = false;
};

}  // namespace fg::gui
