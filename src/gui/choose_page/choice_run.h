#pragma once

#include "choosing/candidate.h"
#include "model/latest_run.h"

namespace fg::gui {

/// Judges the whole catalogue beside the window; only the answer to the last question arrives.
class ChoiceRun final : public QObject {
    Q_OBJECT
  public:
    explicit ChoiceRun(const Catalogue& catalogue, QObject* parent = nullptr)
        : QObject(parent), m_catalogue(catalogue) {}
    void ask(const Need& need);
    [[nodiscard]] bool isBusy() const { return m_run.isBusy(); }

  signals:
    void answered(const std::vector<fg::Candidate>& candidates);
    void refused(const QString& reason);

  private:
    const Catalogue& m_catalogue;
    LatestRun m_run;
};

}  // namespace fg::gui
