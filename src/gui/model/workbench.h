#pragma once

#include "bench/linked_inputs.h"
#include "calibration/history.h"
#include "model/bench_model.h"
#include "model/gauge_view.h"
#include "model/live_alarms.h"
#include "model/live_feed.h"
#include "model/live_watches.h"

#include <future>
#include <map>
#include <memory>
#include <QObject>
#include <vector>

namespace fg::gui {

/// What the panels share: the bench, the live values, which gauge and stage are chosen, and every gauge computed.
class Workbench final : public QObject {
    Q_OBJECT
  public:
    explicit Workbench(Catalogue catalogue, QObject* parent = nullptr);
    /// With one that is still being read: it is waited for when it is first asked for, behind the first frame.
    explicit Workbench(std::future<Catalogue> coming, QObject* parent = nullptr);
    ~Workbench() override;

    [[nodiscard]] BenchModel& bench() { return m_bench; }
    [[nodiscard]] LiveFeed& feed() { return m_feed; }
    [[nodiscard]] LiveAlarms& alarms() { return m_alarms; }
    [[nodiscard]] LiveWatches& watches() { return m_watches; }
    /// Asked for first by the window's thread, before any other has work with it.
    [[nodiscard]] const Catalogue& catalogue() const {
        if (m_coming.valid()) m_catalogue = m_coming.get();
        return m_catalogue;
    }

    /// All of them, judged: what is still at it on another thread is waited for.
    [[nodiscard]] const std::vector<GaugeView>& views() const;
    /// The chosen gauge, judged before the others; null on an empty bench.
    [[nodiscard]] const GaugeView* current() const;
    [[nodiscard]] Stage stage() const { return m_stage; }

    void selectGauge(std::int64_t id);
    void selectStage(Stage stage);

    /// Reads `text` as a value of that stage of the chosen gauge and tries it. The error is for the tile to show.
    [[nodiscard]] Expected<void> tryText(Stage stage, const QString& text);
    void backToLive();

    /// Changes the chosen gauge, one undoable step.
    bool edit(const QString& label, const std::function<void(GaugeSpec&)>& change);

    /// Keeps what a Monte Carlo run found, if the gauge is still what was drawn for.
    void keepRun(std::int64_t id, const GaugeSpec& drawnFor, const MonteCarlo& run);

    /// `wish`, or with a number behind it where a gauge has that name already.
    [[nodiscard]] std::string freeName(const std::string& wish) const;

    /// Adds a gauge and chooses it.
    void addGauge(const GaugeSpec& spec);
    void removeCurrent();

  signals:
    void gaugesChanged();   ///< which gauges there are, or how they are described
    void currentChanged();  ///< another gauge is chosen
    void stageChanged();
    void valuesChanged();          ///< readings moved
    void valueTried(Stage stage);  ///< a value was put in there, in place of an earlier one

  private:
    struct Following;

    void rebuild();
    void follow();
    void settle();
    [[nodiscard]] std::map<std::int64_t, std::vector<Finding>> judgedCalibrations();  // by gauge
    void followLive();
    void followOne(GaugeView& view, const std::optional<LiveFeed::Latest>& latest);
    void addFindings(GaugeView& view) const;  // of the bench
    [[nodiscard]] std::optional<LinkedReading> linkedReading(const LinkedInput& input) const;
    void reevaluate();
    Expected<void> take(Expected<void> tried, Stage stage);
    GaugeView* find(std::int64_t id);
    [[nodiscard]] GaugeView* viewOf(std::int64_t id);  // as it stands, judged or not

    mutable std::future<Catalogue> m_coming;
    mutable Catalogue m_catalogue;  // at one place from the start: the engine keeps a reference
    BenchModel m_bench;
    LiveFeed m_feed;
    LiveAlarms m_alarms;
    LiveWatches m_watches;
    std::vector<GaugeView> m_views;
    std::unique_ptr<Following> m_following;  // behind the views: they stay as long as it works on them
    std::int64_t m_currentId = 0;
    Stage m_stage = Stage::Wiring;
    HistoryMemory m_historyMemory;
    std::map<std::int64_t, std::vector<Finding>> m_calibrationFindings;  // by gauge
    std::size_t m_turn = 0;                                              // whose turn it is to be computed in full
};

}  // namespace fg::gui
