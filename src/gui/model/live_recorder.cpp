#include "model/live_recorder.h"

#include "widgets/text.h"

namespace fg::gui {
namespace {
constexpr int kFlushEvery_ms = 1000;
}

LiveRecorder::LiveRecorder(Workbench& workbench, QObject* parent)
    : QObject(parent), m_workbench(workbench), m_worker(new QObject) {
    m_worker->moveToThread(&m_thread);
    connect(&m_thread, &QThread::finished, m_worker, &QObject::deleteLater);
    m_thread.start();
    m_tick.setInterval(kFlushEvery_ms);
    connect(&m_tick, &QTimer::timeout, this, &LiveRecorder::flush);
    m_listener = m_workbench.feed().engine().addListener([this](const GaugeBatch& batch) {
        std::shared_ptr<Recorder> fed;
        {
            const std::lock_guard lock(m_guard);
            fed = m_fed;
        }
        if (fed) fed->take(batch);
    });
    connect(&m_workbench.feed(), &LiveFeed::statusChanged, this, &LiveRecorder::followSource);
    connect(&m_workbench.alarms(), &LiveAlarms::changed, this, [this](qint64 gauge, const QString& text, bool isOn) {
        if (m_recorder) m_recorder->alarm(gauge, text.toStdString(), isOn, m_workbench.feed().moment());
    });
    connect(&m_workbench.bench(), &BenchModel::changed, this, [this] {
        if (m_recorder) m_recorder->describe(m_workbench.bench().bench(), m_workbench.feed().moment());
    });
    connect(&m_workbench.bench(), &BenchModel::fileChanged, this, [this] {
        if (m_recorder && m_workbench.bench().file() != m_file) stop();
    });
}

LiveRecorder::~LiveRecorder() {
    m_workbench.feed().engine().removeListener(m_listener);
    stop();
    m_thread.quit();
    m_thread.wait();
}

Expected<void> LiveRecorder::start(const QString& name) {
    if (m_recorder) return {};
    if (!m_workbench.bench().hasFile())
        return fail(ErrorCode::Missing, "", "a bench that is in no file", "one to record into: Bench, Save a copy");
    if (!m_workbench.feed().hasSource())
        return fail(ErrorCode::Missing, "", "no source",
                    "values to record: Source, Simulated bench or Serial port brings them");
    m_file = m_workbench.bench().file();
    std::vector<std::int64_t> gauges;
    for (const GaugeView& view : m_workbench.views()) gauges.push_back(view.id());
    auto recorder = Recorder::start(m_file->recordings(), m_workbench.bench().bench(), gauges, name.toStdString(),
                                    m_workbench.feed().sourceName().toStdString(), m_workbench.feed().moment());
    if (!recorder) return tl::unexpected(recorder.error());
    m_recorder = std::move(*recorder);
    {
        const std::lock_guard lock(m_guard);
        m_fed = m_recorder;
    }
    m_isInterrupted = false;
    followSource();
    m_tick.start();
    emit changed();
    return {};
}

void LiveRecorder::end() {
    m_tick.stop();
    {
        const std::lock_guard lock(m_guard);
        m_fed.reset();
    }
    m_recorder.reset();
    m_file.reset();
    emit changed();
}

void LiveRecorder::stop() {
    if (!m_recorder) return;
    // Waits for a flush that is on its way: then all of it is stored.
    const auto done = m_recorder->stop(m_workbench.feed().moment());
    end();
    if (!done) emit failed(qs(done.error().message()));
}

void LiveRecorder::mark(const QString& text, Moment when) {
    if (!m_recorder) return;
    m_recorder->mark(text.toStdString(), when);
    flush();
}

void LiveRecorder::flush() {
    if (m_isFlushing || !m_recorder) return;
    m_isFlushing = true;
    QMetaObject::invokeMethod(m_worker, [this, recorder = m_recorder, file = m_file,
                                         now = m_workbench.feed().moment()] {
        const auto done = recorder->flush(now);
        QMetaObject::invokeMethod(this, [this, recorder, done] {
            m_isFlushing = false;
            if (recorder != m_recorder) return;  // it was stopped meanwhile
            if (!done) {
                end();
                emit failed(tr("The recording has stopped: %1").arg(qs(done.error().message())));
                return;
            }
            emit progressed();
        });
    });
}

// A gap with its reason, where the source says that it has lost its line; a silent one is seen from the samples.
void LiveRecorder::followSource() {
    if (!m_recorder) return;
    const QString problem =
        m_workbench.feed().hasSource() ? m_workbench.feed().problem() : tr("the source was taken away");
    if (problem.isEmpty() == !m_isInterrupted) return;
    m_isInterrupted = !problem.isEmpty();
    if (m_isInterrupted)
        m_recorder->interrupted(problem.toStdString(), m_workbench.feed().moment());
    else
        m_recorder->resumed(m_workbench.feed().moment());
}

}  // namespace fg::gui
