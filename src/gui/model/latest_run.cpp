#include "model/latest_run.h"

#include <memory>
#include <QThread>

namespace fg::gui {

LatestRun::LatestRun(QObject* parent) : QObject(parent) {}

LatestRun::~LatestRun() {
    if (m_worker) m_worker->wait();
}

void LatestRun::ask(Work work) {
    if (m_worker)
        m_next = std::move(work);
    else
        start(std::move(work));
}

void LatestRun::start(Work work) {
    auto answer = std::make_shared<Deliver>();
    m_worker = QThread::create([answer, work = std::move(work)] { *answer = work(); });
    connect(m_worker, &QThread::finished, this, [this, answer] {
        m_worker->deleteLater();
        m_worker = nullptr;
        if (m_next) return start(std::exchange(m_next, {}));
        if (*answer) (*answer)();
    });
    m_worker->start();
}

}  // namespace fg::gui
