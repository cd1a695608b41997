#pragma once

#include "circuits/schematic.h"
#include "sheets/sheet.h"
#include "sizing_panel/sizing_panel.h"
#include "widgets/combo_box.h"
#include "widgets/curve_plot.h"
#include "widgets/form.h"
#include "widgets/parameter_form.h"


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
    Form m_kindForm{page()};
    ComboBox m_kind{&m_kindForm};
    ParameterForm m_parameters;
    Form m_dividerForm{page()};
    Form m_sourceForm{page()};
    Schematic m_schematic;
    CurvePlot m_plot{page()};
    SizingPanel m_sizing;
    QLabel m_plotTitle{page()};
    QLabel m_plotNote{page()};
    ComboBox m_side{&m_dividerForm};
    ComboBox m_source{&m_sourceForm};
    ValueEdit m_tolerance{Quantity::Ratio, unitFromId("%", Quantity::Ratio).value(), {}, &m_dividerForm};
    ValueEdit m_sourceTolerance{Quantity::Ratio, unitFromId("%", Quantity::Ratio).value(), {}, &m_sourceForm};
};

}  // namespace fg::gui
