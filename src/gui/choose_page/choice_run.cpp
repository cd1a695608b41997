#include "choose_page/choice_run.h"

#include <QThread>

namespace fg::gui {

ChoiceRun::ChoiceRun(const Catalogue& catalogue, QObject* parent) : QObject(parent), m_catalogue(catalogue) {}

ChoiceRun::~ChoiceRun() {
    if (m_worker) m_worker->wait();
}

void ChoiceRun::ask(const Need& need) {
    // One at a time: what was asked meanwhile is answered next, what lies between is not.
    if (m_worker)
        m_next = need;
    else
        start(need);
}

void ChoiceRun::start(const Need& need) {
    auto answer = std::make_shared<Expected<std::vector<Candidate>>>();
    m_worker = QThread::create([answer, need, this] { *answer = choose(need, m_catalogue); });
    connect(m_worker, &QThread::finished, this, [this, answer] {
        m_worker->deleteLater();
        m_worker = nullptr;
        if (m_next) {
            const Need next = *m_next;
            m_next.reset();
            return start(next);
        }
        if (*answer)
            emit answered(**answer);
        else
            emit refused(QString::fromStdString(answer->error().message()));
    });
    m_worker->start();
}

}  // namespace fg::gui
