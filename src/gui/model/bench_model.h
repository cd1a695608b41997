#pragma once

#include "bench/document.h"
#include "storage/bench_file.h"
#include "widgets/text.h"

#include <future>
#include <QObject>
#include <QString>

namespace fg::gui {

/// The open bench as the window sees it: one document over one file, every change stored as it is made.
class BenchModel final : public QObject {
    Q_OBJECT
  public:
    using QObject::QObject;

    /// Each replaces the open bench only when it succeeds; otherwise the error is returned and nothing has changed.
    [[nodiscard]] Expected<void> openFile(const QString& path);
    /// Begins to open and read a file in the background, for the openFile() that comes next: the program's start does
    /// not wait for the disk. Nothing where no such file is.
    void readAhead(const QString& path);
    [[nodiscard]] Expected<void> createFile(const QString& path, const Bench& content = {});
    [[nodiscard]] Expected<void> saveCopy(const QString& path) const;
    /// Work without a file gets one.
    [[nodiscard]] Expected<void> keepAs(const QString& path);
    /// What is there but in no file: it would be lost with the window.
    [[nodiscard]] bool hasUnkeptWork() const { return !m_file && !m_document.bench().gauges.empty(); }

    [[nodiscard]] const Bench& bench() const { return m_document.bench(); }
    [[nodiscard]] bool hasFile() const { return m_file != nullptr; }
    /// The file itself, for what goes on beside the document: recordings. Null without one.
    [[nodiscard]] std::shared_ptr<BenchFile> file() const { return m_file; }
    [[nodiscard]] QString fileName() const;
    [[nodiscard]] QString filePath() const;

    /// Changes and stores; a failure is told through failed() and leaves the bench as it was.
    bool change(const QString& label, const std::function<void(Bench&)>& edit);
    bool changeGauge(std::int64_t id, const QString& label, const std::function<void(GaugeSpec&)>& edit);
    void undo();
    void redo();
    [[nodiscard]] bool canUndo() const { return m_document.canUndo(); }
    [[nodiscard]] bool canRedo() const { return m_document.canRedo(); }
    [[nodiscard]] QString undoLabel() const { return qs(m_document.undoLabel()); }
    [[nodiscard]] QString redoLabel() const { return qs(m_document.redoLabel()); }

  signals:
    void changed();      ///< gauges
    void fileChanged();  ///< another bench
    void failed(const QString& message);
    /// The file was taken away under the open bench, which goes on without one.
    void fileLost(const QString& message);

  private:
    struct Read {
        std::shared_ptr<BenchFile> file;
        Bench bench;
    };
    [[nodiscard]] static Expected<Read> read(const std::string& path);
    [[nodiscard]] Expected<Read> readNow(const QString& path);
    void replace(std::shared_ptr<BenchFile> file, Bench bench);
    bool report(const std::function<Expected<void>()>& step);
    void tellUnread() const;

    std::shared_ptr<BenchFile> m_file;
    Document m_document;
    QString m_aheadPath;
    std::future<Expected<Read>> m_ahead;
    std::future<void> m_keeping;  ///< of a copy of the bench as it was opened; its end is waited for
};

}  // namespace fg::gui
