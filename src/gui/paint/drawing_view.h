#pragma once

#include "papers/drawing.h"

#include <QWidget>

namespace fg::gui {

/// Shows a Drawing of the core in the theme's colours, at its own size; smaller where there is less room.
class DrawingView final : public QWidget {
    Q_OBJECT
  public:
    explicit DrawingView(QWidget* parent = nullptr);
    void show(const Drawing& drawing);
    [[nodiscard]] const Drawing& drawing() const { return m_drawing; }
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override;

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    [[nodiscard]] double scaleFor(int width) const;
    Drawing m_drawing;
};

}  // namespace fg::gui
