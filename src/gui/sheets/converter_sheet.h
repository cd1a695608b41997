#pragma once

#include "sheets/setup_words.h"
#include "sheets/sheet.h"
#include "widgets/combo_box.h"
#include "widgets/curve_plot.h"
#include "widgets/parameter_form.h"

#include <QToolButton>

namespace fg::gui {

/// The converter: bits, reference, code law, what one code is worth, and what reading it by the other law would cost.
class ConverterSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit ConverterSheet(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    void choosePart(const QString& id);
    void showPlots(const GaugeView& view);
    void showSequence(const ConverterPart* part);
    [[nodiscard]] Parameters effective(const GaugeSpec& spec);

    // Forms first: a parent must outlive the entries in it.
    Form m_choices;
    Form m_lawRows;
    ComboBox m_part;
    ComboBox m_reference;
    ComboBox m_law;
    ComboBox m_rounding;
    ComboBox m_polarity;
    ComboBox m_word;
    ParameterForm m_parameters;
    ParameterForm m_moreParameters;
    QToolButton m_more;
    SetupWords m_setup;
    QLabel m_sequence;
    QLabel m_code;
    QLabel* m_lawNote;
    CurvePlot m_step;
    CurvePlot m_mixed;
    QLabel m_stepTitle;
    QLabel m_mixedTitle;
};

}  // namespace fg::gui
