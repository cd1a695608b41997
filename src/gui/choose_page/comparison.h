#pragma once

#include "choosing/candidate.h"
#include "widgets/curve_plot.h"

#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>

namespace fg::gui {

/// Chosen parts side by side, cell by cell.
class ComparisonTable final : public QWidget {
    Q_OBJECT
  public:
    explicit ComparisonTable(QWidget* parent = nullptr);
    void show(const std::vector<const Candidate*>& candidates);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    double paintAll(QPainter& painter, bool draw) const;
    void fit();
    std::vector<Candidate> m_candidates;
};

/// The table, and over it how far each part's gauge can be trusted along the span.
class Comparison final : public QWidget {
    Q_OBJECT
  public:
    explicit Comparison(QWidget* parent = nullptr);
    void show(const std::vector<const Candidate*>& candidates);

  private:
    QLabel m_hint;
    QLabel m_title;
    CurvePlot m_plot;
    ComparisonTable m_table;
};

}  // namespace fg::gui
