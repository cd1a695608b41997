#include "bench_page/bench_page.h"
#include "findings_panel/finding_item.h"
#include "paint/marks.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "widgets/clear_layout.h"
#include "widgets/text.h"

#include <algorithm>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>

namespace fg::gui {
namespace {

constexpr int kSideWidth = 300;

QString amperes(double value) { return qs(engineering(value, Quantity::Current, 3).joined()); }
QString seconds(double value) { return qs(engineering(value, Quantity::Time, 3).joined()); }

}  // namespace

BenchPage::BenchPage(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      m_workbench(workbench),
      m_title(tr("The bench")),
      m_map(workbench.catalogue()),
      m_loads({tr("Supply"), tr("What"), tr("Part"), tr("Measuring"), tr("Resting")}, {3, 4}, 2),
      m_parts({tr("Count"), tr("Value"), tr("What"), tr("Tolerance"), tr("Where")}, {}, 4),
      m_export(tr("Save as &CSV…")),
      m_findingsTitle(tr("Findings of the bench")),
      m_findings(&m_findingsList) {
    setObjectName(QStringLiteral("benchPage"));
    m_tabs.setObjectName(QStringLiteral("bench.tabs"));
    m_tabs.setDrawBase(false);
    m_tabs.setExpanding(false);
    for (const QString& name :
         {tr("Map"), tr("Supplies"), tr("One round"), tr("Cables"), tr("Wires"), tr("Parts list")})
        m_tabs.addTab(name);
    m_loads.setObjectName(QStringLiteral("bench.loads"));
    m_parts.setObjectName(QStringLiteral("bench.parts"));
    m_export.setObjectName(QStringLiteral("bench.export"));
    m_pages.addWidget(page({&m_map}));
    m_pages.addWidget(page({&m_supplyText, &m_supplies, &m_loads}));
    m_pages.addWidget(page({&m_roundText, &m_round}));
    m_pages.addWidget(page({&m_cableText, &m_cables}));
    m_pages.addWidget(page({&m_wires, &m_wiresText}));
    m_pages.addWidget(page({&m_partsText, &m_parts, &m_export}));

    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(px(8));
    auto* left = new QVBoxLayout;
    left->setContentsMargins(px(14), px(8), 0, 0);
    left->setSpacing(px(4));
    m_intro.setWordWrap(true);
    for (QWidget* widget : std::initializer_list<QWidget*>{&m_title, &m_intro, &m_tabs}) left->addWidget(widget);
    left->addWidget(&m_pages, 1);
    row->addLayout(left, 1);
    auto* side = new QVBoxLayout(&m_side);
    side->setContentsMargins(1, px(10), 1, 1);
    side->setSpacing(px(4));
    m_findingsTitle.setContentsMargins(px(14), 0, px(14), 0);
    side->addWidget(&m_findingsTitle);
    m_findings.setContentsMargins(0, 0, 0, 0);
    m_findings.setSpacing(0);
    m_findings.addStretch();
    m_findingsScroll.setWidget(&m_findingsList);
    m_findingsScroll.setWidgetResizable(true);
    m_findingsScroll.setFrameShape(QFrame::NoFrame);
    m_findingsScroll.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_findingsScroll.viewport()->setAutoFillBackground(false);
    m_findingsList.setAutoFillBackground(false);
    side->addWidget(&m_findingsScroll, 1);
    side->addWidget(&m_care);
    row->addWidget(&m_side);

    connect(&m_tabs, &QTabBar::currentChanged, &m_pages, &QStackedWidget::setCurrentIndex);
    connect(&m_map, &BenchMap::moveWanted, this, &BenchPage::move);
    connect(&m_map, &BenchMap::railWanted, this, &BenchPage::feed);
    connect(&m_map, &BenchMap::gaugeWanted, this, &BenchPage::gaugeWanted);
    connect(&m_supplies, &SuppliesForm::edited, this,
            [this](const QString& label, const std::function<void(Board&)>& change) {
                m_workbench.bench().change(label, [&](Bench& bench) { change(bench.board); });
            });
    connect(&m_cables, &CableTable::lengthEdited, this, &BenchPage::setCable);
    connect(&m_wires, &WiresPage::edited, this, &BenchPage::editPlace);
    connect(&m_wires, &WiresPage::exportWanted, this, &BenchPage::exportWires);
    connect(&m_export, &QPushButton::clicked, this, &BenchPage::exportParts);
    connect(&workbench, &Workbench::gaugesChanged, this, [this] {
        if (isVisible()) refresh();
    });
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        dressAll();
        if (isVisible()) refresh();
    });
    dressAll();
}

QWidget* BenchPage::page(std::initializer_list<QWidget*> widgets) {
    auto* inner = new QWidget;
    auto* column = new QVBoxLayout(inner);
    column->setContentsMargins(0, px(6), px(6), px(8));
    column->setSpacing(px(6));
    for (QWidget* widget : widgets)
        column->addWidget(widget, 0, qobject_cast<QPushButton*>(widget) ? Qt::AlignLeft : Qt::Alignment());
    column->addStretch();
    auto* scroll = new QScrollArea;
    scroll->setWidget(inner);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->viewport()->setAutoFillBackground(false);
    inner->setAutoFillBackground(false);
    return scroll;
}

void BenchPage::dressAll() {
    dress(m_title, Theme::instance().text(20, true), colours().ink);
    m_supplyText.setTextFormat(Qt::RichText);
    for (QLabel* label : {&m_intro, &m_supplyText, &m_roundText, &m_cableText, &m_wiresText, &m_partsText}) {
        dress(*label, Theme::instance().text(13), colours().ink2);
        label->setWordWrap(true);
    }
    dress(m_findingsTitle, Theme::instance().caption(), colours().ink2);
    m_side.setFixedWidth(px(kSideWidth));
}

void BenchPage::showEvent(QShowEvent*) { refresh(); }

void BenchPage::refresh() {
    const Bench& bench = m_workbench.bench().bench();
    m_plan = planOf(bench, m_workbench.catalogue());
    m_intro.setText(
        bench.gauges.empty()
            ? tr("Nothing hangs here yet: make a gauge first.")
            : tr("Where every gauge hangs. Drag a gauge to another place of its kind, or click it for a list."));
    m_map.show(bench, m_plan);
    showSupplies();
    showRound();
    showCables();
    m_wires.show(m_plan);
    showParts();
    showFindings();
}

void BenchPage::showSupplies() {
    std::vector<Rail> rails;
    QStringList sums;
    for (const PlanRail& rail : m_plan.rails) {
        rails.push_back(rail.rail);
        QString text = tr("<b>%1</b>: %2 with everything measuring at once, %3 on average")
                           .arg(qs(rail.rail.name).toHtmlEscaped(), amperes(rail.peak_A), amperes(rail.average_A));
        if (rail.typical > 0)
            text += rail.typical == 1 ? tr(", one of them a typical figure")
                                      : tr(", %1 of them typical figures").arg(rail.typical);
        if (rail.unknown > 0) text += tr(", %n not known", nullptr, rail.unknown);
        if (rail.life_h > 0)
            text += tr("; its cells last %1, without resting between the rounds %2")
                        .arg(qs(lifeText(rail.life_h)), qs(lifeText(rail.constantLife_h)));
        sums << text + QLatin1Char('.');
    }
    const bool said = !m_workbench.bench().bench().board.rails.empty();
    m_supplyText.setText((said ? QString() : tr("Supplies not given yet; these follow from the gauges.<br>")) +
                         sums.join(QStringLiteral("<br>")));
    m_supplies.show(m_workbench.bench().bench().board, rails);
    m_loads.clearRows();
    for (const PlanRail& rail : m_plan.rails)
        for (const PlanLoad& load : rail.loads)
            m_loads.addRow({qs(rail.rail.name), qs(load.who), qs(load.part),
                            !load.isKnown          ? tr("not known")
                            : load.measuring_A > 0 ? amperes(load.measuring_A)
                                                   : tr("nothing"),
                            load.resting_A > 0 ? amperes(load.resting_A) : QStringLiteral("–")});
    m_loads.settle();
}

void BenchPage::showRound() {
    const PlanSchedule& round = m_plan.schedule;
    m_roundText.setText(round.rows.empty() ? QString()
                                           : tr("Everything is told to convert, then read as it gets ready: %1 for one "
                                                "round. The fastest round is one in %2 (%3 sets "
                                                "it); one in %4 is planned.")
                                                 .arg(seconds(round.busy_s), seconds(round.fastest_s),
                                                      qs(round.slowest), seconds(round.wanted_s)));
    m_round.show(round);
}

void BenchPage::showCables() {
    m_cableText.setText(tr("Drop is what supply and ground lose at the measuring current over 0.22 mm² of copper; "
                           "capacitance at 100 pF a metre.") +
                        (m_plan.oneWire_m > 0
                             ? tr(" All 1-wire runs together: %1 m.").arg(qs(plainNumber(m_plan.oneWire_m, 4)))
                             : QString()));
    m_cables.show(m_plan.cables);
}

void BenchPage::showParts() {
    m_partsText.setText(tr("Standard values with their tolerance; pull-ups as worked out for their line."));
    m_parts.clearRows();
    for (const PartsLine& line : m_plan.parts)
        m_parts.addRow({QString::number(line.count), qs(line.value), qs(line.what),
                        line.tolerance.empty() ? QStringLiteral("–") : qs(line.tolerance), qs(line.where)});
    m_parts.settle();
}

void BenchPage::showFindings() {
    clearLayout(m_findings, 1);
    int row = 0;
    for (const Finding& finding : m_plan.findings)
        m_findings.insertWidget(row++, new FindingItem(finding, false, &m_findingsList));
    if (m_plan.findings.empty()) {
        auto* fine =
            new QLabel(tr("Nothing stands in the way: places, addresses, levels, currents and the round fit."));
        dress(*fine, Theme::instance().text(13), colours().ink2);
        fine->setWordWrap(true);
        fine->setContentsMargins(px(14), px(6), px(14), 0);
        m_findings.insertWidget(0, fine);
    }
    m_care.show(m_plan.cautions);
    m_care.setVisible(!m_care.isEmpty());
}

/// All gauges of one device.
std::vector<std::int64_t> BenchPage::together(std::int64_t gauge) const {
    for (const PlanRow& row : m_plan.schedule.rows)
        if (std::find(row.gauges.begin(), row.gauges.end(), gauge) != row.gauges.end()) return row.gauges;
    return {gauge};
}

void BenchPage::move(qint64 gauge, const QString& place) {
    const BenchGauge* of = m_workbench.bench().bench().find(gauge);
    if (!of) return;
    m_workbench.bench().change(tr("Move %1 to %2").arg(qs(of->spec.name), place), [&](Bench& bench) {
        for (const std::int64_t id : together(gauge)) bench.board.places[id].line = place.toStdString();
    });
}

void BenchPage::feed(qint64 gauge, const QString& rail) {
    const BenchGauge* of = m_workbench.bench().bench().find(gauge);
    if (!of) return;
    std::vector<Rail> rails;
    for (const PlanRail& one : m_plan.rails) rails.push_back(one.rail);
    m_workbench.bench().change(tr("Feed %1 from %2").arg(qs(of->spec.name), rail), [&](Bench& bench) {
        if (bench.board.rails.empty()) bench.board.rails = rails;  // a name needs something that has it
        for (const std::int64_t id : together(gauge)) bench.board.places[id].rail = rail.toStdString();
    });
}

void BenchPage::setCable(qint64 gauge, double metres) {
    const BenchGauge* of = m_workbench.bench().bench().find(gauge);
    if (!of) return;
    m_workbench.bench().change(tr("Set the cable of %1").arg(qs(of->spec.name)),
                               [&](Bench& bench) { bench.board.places[gauge].cable_m = metres; });
}

void BenchPage::editPlace(qint64 gauge, const QString& converter, const QString& label,
                          const std::function<void(GaugePlace&)>& change) {
    if (converter.isEmpty() && !m_workbench.bench().bench().find(gauge)) return;
    m_workbench.bench().change(label, [&](Bench& bench) {
        if (!converter.isEmpty()) return change(bench.board.converters[converter.toStdString()]);
        for (const std::int64_t id : together(gauge)) change(bench.board.places[id]);
    });
}

void BenchPage::exportCsv(const QString& title, const QString& name, const std::string& text, QLabel& label) {
    const QString path = QFileDialog::getSaveFileName(this, title, name, tr("CSV (*.csv)"));
    if (path.isEmpty()) return;
    QFile file(path);
    const auto size = static_cast<qint64>(text.size());
    // A full disk takes a part of it, or says so only when what is buffered goes out.
    if (!file.open(QIODevice::WriteOnly) || file.write(text.data(), size) != size || !file.flush())
        label.setText(tr("%1 could not be written: %2.").arg(path, file.errorString()));
}

void BenchPage::exportParts() {
    exportCsv(tr("Save the parts list"), QStringLiteral("parts.csv"), partsCsv(m_plan.parts), m_partsText);
}

void BenchPage::exportWires() {
    exportCsv(tr("Save the wires"), QStringLiteral("wires.csv"), wiresCsv(m_plan.wires), m_wiresText);
}

// Esc leaves the page before it may mean "back to live" to the window.
bool BenchPage::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape)
        event->accept();
    return QWidget::event(event);
}

void BenchPage::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return emit done();
    QWidget::keyPressEvent(event);
}

void BenchPage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(m_side.geometry(), colours().sheet);
    paintFrame(painter, m_side.geometry(), colours().line);
}

}  // namespace fg::gui
