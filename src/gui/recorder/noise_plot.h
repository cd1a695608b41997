#pragma once

#include "analysis/noise_picture.h"

#include <QWidget>

namespace fg::gui {

/// Allan deviation or noise spectrum of the chosen stretch, both axes by ratios.
class NoisePlot final : public QWidget {
    Q_OBJECT
  public:
    explicit NoisePlot(QWidget* parent = nullptr);
    void show(NoisePicture picture, const QString& title);
    [[nodiscard]] QSize sizeHint() const override;

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    NoisePicture m_picture;
    QString m_title;
};

}  // namespace fg::gui
