#pragma once

#include "handover/code_set.h"

#include <QWidget>

namespace fg::gui {

/// The error of handed-over code over the codes of the converter: the band between its least and largest, the wanted
/// error as dashes, a ring at the worst place. Codes that give a status are hatched.
class ErrorPlot final : public QWidget {
    Q_OBJECT
  public:
    explicit ErrorPlot(QWidget* parent = nullptr);
    /// `line`: the gauge's quantity, for its colour. Null: nothing to show.
    void show(const CodeChoice* choice, Quantity quantity);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    std::vector<CodeErrorBand> m_curve;
    CodeRange m_range;
    CodeError m_error;
    double m_wanted = 0;
    const Unit* m_unit = nullptr;
    Quantity m_quantity = Quantity::Temperature;
};

}  // namespace fg::gui
