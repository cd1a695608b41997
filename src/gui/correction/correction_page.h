#pragma once

#include "model/workbench.h"

#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>

namespace fg::gui {

/// A page of the Correction sheet. Only the one that is seen is kept up to date.
class CorrectionPage : public QWidget {
    Q_OBJECT
  public:
    explicit CorrectionPage(Workbench& workbench, QWidget* parent = nullptr);

    /// The gauge is another one, or described otherwise.
    virtual void showSpec(const GaugeView& view) = 0;
    /// Only its values moved.
    virtual void showValues(const GaugeView&) {}

  protected:
    [[nodiscard]] QVBoxLayout& body() { return m_column; }
    [[nodiscard]] Workbench& workbench() { return m_workbench; }
    [[nodiscard]] const GaugeView* view() const { return m_workbench.current(); }
    QLabel* addCaption(const QString& text);
    QLabel* addText(const QString& text);
    /// Labels in the theme's type and ink; at the start of showSpec().
    void dressLabels();
    /// Now, as the journal has it.
    [[nodiscard]] static std::string timeNow();

  private:
    Workbench& m_workbench;
    QVBoxLayout m_column;
    std::vector<QLabel*> m_captions;
    std::vector<QLabel*> m_texts;
};

}  // namespace fg::gui
