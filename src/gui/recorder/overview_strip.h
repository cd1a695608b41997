#pragma once

#include "recording/recording.h"

#include <QWidget>

namespace fg::gui {

/// The whole recording in a strip, with the piece that is shown framed; a click moves it there.
class OverviewStrip final : public QWidget {
    Q_OBJECT
  public:
    explicit OverviewStrip(QWidget* parent = nullptr);
    void setSpans(TimeSpan span, TimeSpan whole, const std::vector<TimeMark>& marks);

  signals:
    void spanWanted(fg::TimeSpan span);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

  private:
    [[nodiscard]] QRectF bar() const;
    void moveTo(double x);
    TimeSpan m_span{0, 1}, m_whole{0, 1};
    std::vector<TimeMark> m_marks;
};

}  // namespace fg::gui
