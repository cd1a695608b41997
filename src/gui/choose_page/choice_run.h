#pragma once

#include "choosing/candidate.h"

#include <QObject>

class QThread;

namespace fg::gui {

/// Judges the whole catalogue beside the window; only the answer to the last question arrives.
class ChoiceRun final : public QObject {
    Q_OBJECT
  public:
    explicit ChoiceRun(const Catalogue& catalogue, QObject* parent = nullptr);
    ~ChoiceRun() override;
    void ask(const Need& need);
    [[nodiscard]] bool isBusy() const { return m_worker != nullptr; }

  signals:
    void answered(const std::vector<fg::Candidate>& candidates);
    void refused(const QString& reason);

  private:
    void start(const Need& need);
    const Catalogue& m_catalogue;
    QThread* m_worker = nullptr;
    std::optional<Need> m_next;
};

}  // namespace fg::gui
