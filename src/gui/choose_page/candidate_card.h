#pragma once

#include "choosing/candidate.h"

#include <QWidget>

namespace fg::gui {

/// One part against the need: what puts it where it is, and every mark with its numbers.
class CandidateCard final : public QWidget {
    Q_OBJECT
  public:
    explicit CandidateCard(QWidget* parent = nullptr);
    void show(const Candidate& candidate);
    void clear();
    [[nodiscard]] QString plainText() const;

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    double paintAll(QPainter& painter, bool draw) const;
    void fit();
    std::optional<Candidate> m_candidate;
};

}  // namespace fg::gui
