#pragma once

#include "bench_page/bench_map.h"
#include "bench_page/cable_table.h"
#include "bench_page/round_view.h"
#include "bench_page/supplies_form.h"
#include "bench_page/wires_page.h"
#include "findings_panel/care_strip.h"
#include "model/workbench.h"
#include "widgets/sheet_table.h"

#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QTabBar>
#include <QVBoxLayout>
#include <QWidget>

namespace fg::gui {

/// The whole bench laid out before anything is soldered: where each gauge hangs, its supplies, one round of readings,
/// cables and parts, and what is wrong with it.
class BenchPage final : public QWidget {
    Q_OBJECT
  public:
    explicit BenchPage(Workbench& workbench, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] const BenchPlan& plan() const { return m_plan; }

  signals:
    void gaugeWanted(qint64 gauge);
    void done();

  protected:
    void paintEvent(QPaintEvent* event) override;
    void showEvent(QShowEvent* event) override;
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    QWidget* page(std::initializer_list<QWidget*> widgets);
    void showSupplies();
    void showRound();
    void showCables();
    void showParts();
    void showFindings();
    [[nodiscard]] std::vector<std::int64_t> together(std::int64_t gauge) const;
    void move(qint64 gauge, const QString& place);
    void feed(qint64 gauge, const QString& rail);
    void setCable(qint64 gauge, double metres);
    void editPlace(qint64 gauge, const QString& converter, const QString& label,
                   const std::function<void(GaugePlace&)>& change);
    void exportParts();
    void exportWires();
    /// Asks for a file and writes `text` into it; says in `label` what is wrong.
    void exportCsv(const QString& title, const QString& name, const std::string& text, QLabel& label);
    void dressAll();

    Workbench& m_workbench;
    BenchPlan m_plan;
    QLabel m_title, m_intro;
    QTabBar m_tabs;
    QStackedWidget m_pages;
    QLabel m_supplyText, m_roundText, m_cableText, m_wiresText, m_partsText;
    BenchMap m_map;
    SuppliesForm m_supplies;
    SheetTable m_loads;
    RoundView m_round;
    CableTable m_cables;
    WiresPage m_wires;
    SheetTable m_parts;
    QPushButton m_export;
    QWidget m_side;
    QLabel m_findingsTitle;
    QScrollArea m_findingsScroll;
    QWidget m_findingsList;
    QVBoxLayout m_findings;
    CareStrip m_care;
};

}  // namespace fg::gui
