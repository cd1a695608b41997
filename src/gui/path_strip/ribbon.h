#pragma once

#include "model/workbench.h"
#include "widgets/shown.h"

#include <QWidget>

namespace fg::gui {

/// The uncertainty as one bar cut by each stage's share of the variance, in path order, with its label below.
class Ribbon final : public QWidget {
    Q_OBJECT
  public:
    explicit Ribbon(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

  private:
    struct Piece {
        Stage stage;
        QString label;
        double share;
        QRectF box;
    };
    [[nodiscard]] std::vector<Piece> pieces() const;

    Workbench& m_workbench;
    Shown m_shown;
};

}  // namespace fg::gui
