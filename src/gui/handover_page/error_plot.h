#pragma once

#include "handover/error_curve.h"
#include "handover/integer_form.h"

#include <QWidget>

namespace fg::gui {

/// What an ErrorPlot shows.
struct ErrorPicture {
    std::vector<CodeErrorBand> band;    ///< filled; empty: nothing to show
    std::vector<CodeErrorBand> real;    ///< a dashed line: the same without whole numbers; empty: none
    std::vector<CodeErrorBand> better;  ///< an outline: what would be better; empty: none
    CodeRange range;
    CodeError error;    ///< of `band`
    double wanted = 0;  ///< 0: none
    const Unit* unit = nullptr;
    Quantity quantity = Quantity::Temperature;  ///< for the colour
};

/// An error over the codes of the converter: the band between its least and largest, the wanted error as dashes, a ring
/// at the worst place. Codes that give a status are hatched.
class ErrorPlot final : public QWidget {
    Q_OBJECT
  public:
    explicit ErrorPlot(QWidget* parent = nullptr);
    void show(ErrorPicture picture);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    ErrorPicture m_picture;
};

}  // namespace fg::gui
