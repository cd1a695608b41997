#pragma once

#include "model/workbench.h"
#include "recording/recorder.h"

#include <QObject>
#include <QThread>

namespace fg::gui {

/// Records what the gauges of the open bench hear, into its file; the disk is waited for in a thread of its own.
class LiveRecorder final : public QObject {
    Q_OBJECT
  public:
    explicit LiveRecorder(Workbench& workbench, QObject* parent = nullptr);
    ~LiveRecorder() override;

    /// All gauges that have a channel. Errors: Missing without a file, a source or a gauge; the store's.
    [[nodiscard]] Expected<void> start(const QString& name);
    void stop();
    /// At the moment it was asked for, not when its text was typed.
    void mark(const QString& text, Moment when);
    [[nodiscard]] bool isRunning() const { return m_recorder != nullptr; }
    /// Of the recording that runs; 0: none.
    [[nodiscard]] std::int64_t recording() const { return m_recorder ? m_recorder->recording() : 0; }
    [[nodiscard]] Recorder::Status status() const { return m_recorder ? m_recorder->status() : Recorder::Status{}; }

  signals:
    void changed();     ///< it started or ended
    void progressed();  ///< about once a second: more is stored
    /// It ended by itself: the disk is full, the file was taken away.
    void failed(const QString& message);

  private:
    void flush();
    void followSource();
    void end();

    Workbench& m_workbench;
    std::shared_ptr<BenchFile> m_file;  // outlives what writes into it
    std::shared_ptr<Recorder> m_recorder;
    std::mutex m_guard;               // of the pointer that the engine's thread reads
    std::shared_ptr<Recorder> m_fed;  // what the engine feeds
    QTimer m_tick;
    QThread m_thread;
    QObject* m_worker = nullptr;  // lives in the thread
    std::size_t m_listener = 0;
    bool m_isFlushing = false;
    bool m_isInterrupted = false;
};

}  // namespace fg::gui
