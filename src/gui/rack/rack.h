#pragma once

#include "rack/gauge_tile.h"

#include <array>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace fg::gui {

/// The left edge: every gauge of the bench, a new one, and what the bench as a whole has found.
class Rack final : public QWidget {
    Q_OBJECT
  public:
    /// Empty until fill().
    explicit Rack(Workbench& workbench, QWidget* parent = nullptr);

    /// Its gauges. The last thing that the window makes: they may still be judged on another thread.
    void fill();

    /// What the window shows: a gauge, or a page of the whole bench.
    enum class Shows { Gauge, Bench, Recorder, Journal };
    void setShows(Shows shows);
    [[nodiscard]] Shows shows() const { return m_shows; }

  signals:
    void newGaugeWanted();
    void benchWanted();
    void journalWanted();
    void recorderWanted();
    void gaugeWanted();  ///< the gauge that is chosen already was clicked

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    void measure();
    void refresh();
    void scrollToCurrent();

    Workbench& m_workbench;
    QScrollArea m_scroll{this};
    QWidget m_list{m_scroll.viewport()};
    QVBoxLayout m_column;
    QPushButton m_new;
    QPushButton m_bench;
    QPushButton m_recorder;
    QPushButton m_journal;
    QSpacerItem* m_foot = nullptr;  ///< room for the counts painted below the list; owned by the layout
    std::vector<GaugeTile*> m_tiles;
    std::array<int, 4> m_counts{};  // of findings, by severity
    std::int64_t m_shownCurrent = 0;
    Shows m_shows = Shows::Gauge;
};

}  // namespace fg::gui
