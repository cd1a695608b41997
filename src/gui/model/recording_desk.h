#pragma once

#include "analysis/look.h"
#include "model/live_recorder.h"

#include <atomic>
#include <QObject>

namespace fg::gui {

/// What the recorder page looks at: which recording, which gauges, which stretch of time, cursor and selection. Looks
/// beside the window; only the answer to the last wish arrives.
class RecordingDesk final : public QObject {
    Q_OBJECT
  public:
    RecordingDesk(Workbench& workbench, LiveRecorder& recorder, QObject* parent = nullptr);
    ~RecordingDesk() override;

    /// Reads which recordings there are; chooses the one that runs, or the newest, where none is chosen.
    void refresh();
    [[nodiscard]] const std::vector<BenchRecording>& recordings() const { return m_recordings; }
    void choose(std::int64_t recording);
    /// Null while there is none.
    [[nodiscard]] const BenchRecording* recording() const;

    [[nodiscard]] const std::vector<std::int64_t>& gauges() const { return m_gauges; }
    void setGauges(std::vector<std::int64_t> gauges);
    [[nodiscard]] Conversion conversion() const { return m_conversion; }
    void setConversion(Conversion conversion);

    [[nodiscard]] TimeSpan span() const { return m_span; }
    [[nodiscard]] TimeSpan whole() const;
    /// A piece of it; the whole follows a recording that runs.
    void setSpan(TimeSpan span);
    void showWhole();
    void setColumns(std::size_t columns);
    [[nodiscard]] std::optional<Micros> cursor() const { return m_cursor; }
    void setCursor(std::optional<Micros> cursor);
    /// The second cursor, from which differences are told.
    [[nodiscard]] std::optional<Micros> other() const { return m_other; }
    void setOther(std::optional<Micros> other);
    [[nodiscard]] std::optional<TimeSpan> selection() const { return m_selection; }
    void setSelection(std::optional<TimeSpan> selection);

    /// What was seen last; may be of a wish before the last.
    [[nodiscard]] const std::vector<SeenTrack>& seen() const { return m_seen; }
    [[nodiscard]] TimeSpan seenSpan() const { return m_seenSpan; }
    [[nodiscard]] bool isLooking() const { return m_worker != nullptr; }

    void rename(const QString& name);
    void removeChosen();
    void removeMark(std::int64_t mark);
    /// A marker at the cursor of a recording that is over.
    void addMark(Micros time_us, const QString& text);
    /// What is shown, as CSV; how many rows. Errors: those of exportRecording().
    [[nodiscard]] Expected<std::uint64_t> exportTo(const QString& path, const TrackReader::Progress& goesOn) const;

  signals:
    void recordingChanged();  ///< another one, or its marks
    void looked();
    void failed(const QString& message);

  private:
    void look();
    void begin(LookWish wish);
    bool report(const Expected<void>& done);
    void followBench();
    [[nodiscard]] std::size_t shownByItself(const BenchRecording& recording) const;

    Workbench& m_workbench;
    LiveRecorder& m_recorder;
    std::shared_ptr<BenchFile> m_file;
    std::shared_ptr<RecordingLook> m_look;     // of that file
    std::vector<BenchRecording> m_recordings;  // with what can be worked out of them
    std::vector<GaugeSpec> m_derived;          // of the bench, when they were read
    std::size_t m_unread = 0;
    std::int64_t m_chosen = 0;
    std::vector<std::int64_t> m_gauges;
    Conversion m_conversion = Conversion::AsRecorded;
    TimeSpan m_span;
    bool m_isWhole = true;
    std::size_t m_columns = 600;
    std::optional<Micros> m_cursor, m_other;
    std::optional<TimeSpan> m_selection;
    std::vector<SeenTrack> m_seen;
    TimeSpan m_seenSpan;
    QThread* m_worker = nullptr;
    std::optional<LookWish> m_next;
    std::atomic<bool> m_isStopped = false;
};

}  // namespace fg::gui
