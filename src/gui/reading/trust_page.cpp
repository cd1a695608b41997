#include "reading/trust_page.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/clear_layout.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <cmath>
#include <QHBoxLayout>

namespace fg::gui {

TrustPage::TrustPage(Workbench& workbench, QWidget* parent)
    : QWidget(parent), m_workbench(workbench), m_run(workbench.catalogue()), m_wayRows(&m_ways) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(4), 0, 0);
    column->setSpacing(px(6));
    m_wanted.setObjectName(QStringLiteral("reading.wanted"));
    m_wanted.setZeroText(tr("not given"));
    m_decimals.setObjectName(QStringLiteral("reading.decimals"));
    m_decimals.addItem(tr("as many as the uncertainty deserves"), -1);
    for (int decimals = 0; decimals <= 6; ++decimals) m_decimals.addItem(QString::number(decimals), decimals);
    m_form.addRow(tr("&Accuracy wanted ±"), &m_wanted, nullptr, tr("a finding says when the gauge falls short of it"));
    m_form.addRow(tr("&Decimals shown"), &m_decimals);
    column->addWidget(&m_form);
    column->addWidget(&m_waysTitle);
    column->addWidget(&m_noWays);
    m_noWays.setWordWrap(true);
    m_wayRows.setContentsMargins(0, 0, 0, 0);
    m_wayRows.setSpacing(px(4));
    column->addWidget(&m_ways);
    buildDrawing(*column);
    column->addStretch();
    m_wanted.onCommit = [this](double value) -> Expected<void> {
        if (value < 0) return fail(ErrorCode::Range, "accuracy", plainNumber(value), "0 or more");
        m_workbench.edit(tr("Want ± %1").arg(value), [&](GaugeSpec& spec) { spec.reading.wanted = value; });
        return {};
    };
    connect(&m_decimals, &QComboBox::activated, this, [this] {
        const int decimals = m_decimals.currentData().toInt();
        m_workbench.edit(tr("Show %1 decimals").arg(m_decimals.currentText()), [&](GaugeSpec& spec) {
            spec.reading.decimals = decimals < 0 ? std::nullopt : std::optional(decimals);
        });
    });
}

void TrustPage::buildDrawing(QVBoxLayout& column) {
    m_draws.setObjectName(QStringLiteral("trust.draws"));
    for (const int draws : {20'000, 200'000, 2'000'000}) m_draws.addItem(tr("%L1 draws").arg(draws), draws);
    m_draws.setCurrentIndex(1);
    m_draws.setAccessibleName(tr("How many draws"));
    m_draw.setObjectName(QStringLiteral("trust.draw"));
    m_bar.setObjectName(QStringLiteral("trust.bar"));
    m_bar.setRange(0, 1000);
    m_bar.setTextVisible(true);
    m_bar.setVisible(false);
    m_result.setObjectName(QStringLiteral("trust.result"));
    m_result.setWordWrap(true);
    makeSelectable(m_result);
    m_drawNote.setWordWrap(true);
    column.addWidget(&m_drawTitle);
    column.addWidget(&m_drawNote);
    auto* row = new QHBoxLayout;
    row->addWidget(&m_draws);
    row->addWidget(&m_draw);
    row->addWidget(&m_bar, 1);
    row->addStretch();
    column.addLayout(row);
    column.addWidget(&m_result);
    connect(&m_draw, &QPushButton::clicked, this, [this] { m_run.isRunning() ? stop() : draw(); });
    connect(&m_run, &MonteCarloRun::progressed, this,
            [this](double done) { m_bar.setValue(static_cast<int>(std::lround(1000 * done))); });
    connect(&m_run, &MonteCarloRun::finished, this, &TrustPage::drawn);
}

void TrustPage::draw() {
    const GaugeView* view = m_workbench.current();
    if (!view || !view->budget()) return;
    m_runGauge = view->id();
    m_bar.setValue(0);
    m_bar.setVisible(true);
    m_draw.setText(tr("Stop"));
    m_result.clear();
    m_runFor = view->spec();
    m_run.start(view->effective(), view->budget()->at, static_cast<std::size_t>(m_draws.currentData().toInt()));
}

void TrustPage::stop() {
    m_run.cancel();
    m_bar.setVisible(false);
    m_draw.setText(tr("Draw"));
    m_result.setText(tr("Stopped: nothing was kept."));
}

void TrustPage::drawn() {
    const Expected<MonteCarlo>& result = m_run.result();
    m_bar.setVisible(false);
    m_draw.setText(tr("Draw"));
    if (!result) return m_result.setText(qs(result.error().message()));
    m_workbench.keepRun(m_runGauge, m_runFor, *result);
    if (const GaugeView* view = m_workbench.current()) showRun(*view);
}

void TrustPage::showRun(const GaugeView& view) {
    if (m_run.isRunning()) return;
    if (!view.run()) {
        if (m_result.text() != tr("Stopped: nothing was kept.")) m_result.clear();
        return;
    }
    const auto budget = budgetAt(view.effective(), m_workbench.catalogue(), view.run()->at);
    const Unit& unit = view.spec().readingUnit();
    if (budget)
        m_result.setText(tr("At %1: %2.")
                             .arg(qs(roundedReading(budget->at, budget->expanded, unit).value.joined()),
                                  qs(comparison(*budget, *view.run(), unit))));
}

void TrustPage::showWays(const GaugeView& view) {
    const std::vector<Improvement> ways = view.budget() && view.path()
                                              ? improvements(view.effective(), m_workbench.catalogue(), *view.budget())
                                              : std::vector<Improvement>{};
    const Unit& unit = view.spec().readingUnit();
    const auto amount = [&](double canonical) {
        return qs(significantDigits(unit.differenceFromCanonical(canonical), 2));
    };
    m_noWays.setVisible(ways.empty());
    m_noWays.setText(view.budget() ? tr("Nothing single: no one change takes a twentieth off the uncertainty.")
                                   : tr("A limit or a missing value has no uncertainty to improve."));
    QString key;
    for (const Improvement& way : ways)
        key += qs(way.what) + amount(view.budget()->expanded) + amount(way.expanded) +
               (way.apply ? QStringLiteral("*|") : QStringLiteral("|"));
    if (key == m_waysShown) return;
    m_waysShown = key;
    clearLayout(m_wayRows);
    for (const Improvement& way : ways) {
        auto* row = new QWidget(&m_ways);
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        line->setSpacing(px(12));
        auto* buys = new QLabel(QStringLiteral("± %1 → ± %2 %3")
                                    .arg(amount(view.budget()->expanded), amount(way.expanded), qs(unit.symbol)));
        dress(*buys, Theme::instance().text(13, true), colours().ink);
        buys->setFixedWidth(px(160));
        auto* what = new QLabel(qs(way.what));
        what->setWordWrap(true);
        dress(*what, Theme::instance().text(13), colours().ink);
        line->addWidget(buys);
        line->addWidget(what, 1);
        if (way.apply) {
            auto* button = new QPushButton(tr("Do it"));
            button->setObjectName(QStringLiteral("trust.apply"));
            button->setAccessibleName(tr("Do it: %1").arg(qs(way.what)));
            connect(button, &QPushButton::clicked, this,
                    [this, label = qs(way.what), apply = way.apply] { m_workbench.edit(label, apply); });
            line->addWidget(button);
        }
        m_wayRows.addWidget(row);
    }
}

void TrustPage::showSpec(const GaugeView& view) {
    m_wanted.setSuffix(qs(view.spec().readingUnit().symbol));
    m_wanted.setValue(view.spec().reading.wanted);
    m_decimals.setCurrentIndex(m_decimals.findData(view.spec().reading.decimals.value_or(-1)));
    const auto& theme = Theme::instance();
    for (QLabel* title : {&m_waysTitle, &m_drawTitle}) dress(*title, theme.caption(), colours().ink2);
    for (QLabel* text : {&m_noWays, &m_drawNote}) dress(*text, theme.text(13), colours().ink2);
    dress(m_result, theme.text(13), colours().ink);
    m_waysTitle.setText(tr("What would help most"));
    m_drawTitle.setText(tr("The same by Monte Carlo"));
    m_drawNote.setText(
        tr("The budget adds contributions one at a time (JCGM 100). Drawing all of them at once through the whole path "
           "(JCGM 101) checks "
           "that the path is straight enough for that."));
    if (!m_run.isRunning()) m_draw.setText(tr("Draw"));
    showRun(view);
    showValues(view);
}

void TrustPage::showValues(const GaugeView& view) {
    showWays(view);
    // What a digital part brings is stated as a whole: there is nothing to draw apart.
    m_draw.setEnabled(m_run.isRunning() || (view.budget() != nullptr && view.path()));
}

}  // namespace fg::gui
