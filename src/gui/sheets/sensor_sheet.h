#pragma once

#include "sheets/input_form.h"
#include "sheets/sheet.h"
#include "widgets/combo_box.h"
#include "widgets/curve_plot.h"
#include "widgets/parameter_form.h"

#include <QPlainTextEdit>
#include <QPushButton>

namespace fg::gui {

/// Which sensor, what it leaves to be said, what its document states, and its curve over the span.
class SensorSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit SensorSheet(Workbench& workbench, QWidget* parent = nullptr);

  signals:
    void chooseWanted();

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    void choosePart(const QString& id);
    void commitPoints();
    void commitParameter(const std::string& id, const ParameterValue& value);
    void showCurveEntries(const SensorFamily& family, const Parameters& effective);
    void showCurve(const GaugeView& view);

    QPushButton m_other;
    ComboBox m_part;
    ParameterForm m_parameters;
    InputForm m_linkedInputs;
    QWidget m_pointsBox;
    Form m_expressionForm;
    QLineEdit m_expression;
    QLabel m_pointsLabel;
    QPlainTextEdit m_points;
    QLabel m_pointsProblem;
    QLabel* m_facts;
    QLabel* m_curveTitle;
    CurvePlot m_curve;
};

}  // namespace fg::gui
