#pragma once

#include <functional>
#include <QObject>

class QThread;

namespace fg::gui {

/// Runs work beside the window, one piece at a time. What is asked meanwhile is done next; what lies between is not
/// done at all: only the answer to the last question arrives.
class LatestRun final : public QObject {
    Q_OBJECT
  public:
    /// Done in the window's thread, with what the work found.
    using Deliver = std::function<void()>;
    /// Done beside the window; must hold copies of all that it looks at.
    using Work = std::function<Deliver()>;

    explicit LatestRun(QObject* parent = nullptr);
    ~LatestRun() override;
    void ask(Work work);
    [[nodiscard]] bool isBusy() const { return m_worker != nullptr; }

  private:
    void start(Work work);
    QThread* m_worker = nullptr;
    Work m_next;
};

}  // namespace fg::gui
