#pragma once

#include "circuits/schematic.h"
#include "sheets/sheet.h"
#include "sizing_panel/sizing_panel.h"
#include "widgets/curve_plot.h"
#include "widgets/form.h"
#include "widgets/parameter_form.h"

#include <QComboBox>

namespace fg::gui {

/// The circuit drawn, its values in place, and what it does to the resolution over the span.
class WiringSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit WiringSheet(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    void chooseKind(const QString& id);
    void showKind(const GaugeView& view);
    void showCircuit(const GaugeView& view);
    void showPlot(const GaugeView& view);
    // Forms first: a parent must outlive the entries in it.
    Form m_kindForm;
    QComboBox m_kind;
    ParameterForm m_parameters;
    Form m_dividerForm;
    Form m_sourceForm;
    Schematic m_schematic;
    CurvePlot m_plot;
    SizingPanel m_sizing;
    QLabel m_plotTitle;
    QLabel m_plotNote;
    QComboBox m_side;
    QComboBox m_source;
    ValueEdit m_tolerance{Quantity::Ratio, unitFromId("%", Quantity::Ratio).value()};
    ValueEdit m_sourceTolerance{Quantity::Ratio, unitFromId("%", Quantity::Ratio).value()};
};

}  // namespace fg::gui
