#include "correction/history_page.h"
#include "calibration/stated.h"
#include "theme/theme.h"
#include "units/date.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <QHBoxLayout>

namespace fg::gui {

HistoryPage::HistoryPage(Workbench& workbench, QWidget* parent) : CorrectionPage(workbench, parent) {
    m_table.setObjectName(QStringLiteral("history.table"));
    m_table.setAccessibleName(tr("Calibrations kept"));
    m_table.setSelectionMode(QAbstractItemView::SingleSelection);
    m_table.setSelectionBehavior(QAbstractItemView::SelectRows);
    m_keep.setObjectName(QStringLiteral("history.keep"));
    m_keep.setText(tr("&Keep this calibration"));
    m_new.setObjectName(QStringLiteral("history.new"));
    m_new.setText(tr("Begin a &new one"));
    m_new.setToolTip(tr("The correction in force stays until a fit of the new points is chosen"));
    m_backLeft.setObjectName(QStringLiteral("history.backLeft"));
    m_backLeft.setText(tr("Put back as &left"));
    m_backFound.setObjectName(QStringLiteral("history.backFound"));
    m_backFound.setText(tr("Put back as &found"));
    m_with.setObjectName(QStringLiteral("history.with"));
    m_with.setPlaceholderText(tr("ice and water; the bench thermometer"));
    m_repeat.setObjectName(QStringLiteral("history.repeat"));
    m_repeat.setZeroText(tr("not given"));
    m_repeat.setSuffix(tr("days"));
    body().addWidget(&m_table);
    m_drift = addText({});
    m_drift->setObjectName(QStringLiteral("history.drift"));
    auto* buttons = new QHBoxLayout;
    for (QPushButton* button : {&m_keep, &m_new, &m_backLeft, &m_backFound}) buttons->addWidget(button);
    buttons->addStretch();
    body().addLayout(buttons);
    m_problem = addText({});
    m_plotTitle = addCaption(tr("As found and as left, over the years; bars are ± U of the means"));
    m_plot.setObjectName(QStringLiteral("history.plot"));
    m_plot.setMinimumHeight(px(150));
    body().addWidget(&m_plot);
    addCaption(tr("Of the calibration in force"));
    m_form.addRow(tr("Compared &with"), &m_with);
    m_form.addRow(tr("&Repeat every"), &m_repeat, nullptr, tr("the next is due then, or when the drift asks for it"));
    body().addWidget(&m_form);
    body().addStretch();
    connect(&m_keep, &QPushButton::clicked, this, &HistoryPage::keep);
    connect(&m_new, &QPushButton::clicked, this, &HistoryPage::beginNew);
    connect(&m_backLeft, &QPushButton::clicked, this, [this] { putBackChosen(false); });
    connect(&m_backFound, &QPushButton::clicked, this, [this] { putBackChosen(true); });
    connect(&m_table, &QTableWidget::itemSelectionChanged, this, [this] { enableFor(m_table.currentRow()); });
    connect(&m_with, &QLineEdit::editingFinished, this, [this] {
        if (!view() || m_with.text().trimmed() == qs(view()->spec().correction.with)) return;
        this->workbench().edit(tr("Compared with %1").arg(m_with.text().trimmed()), [this](GaugeSpec& spec) {
            spec.correction.with = m_with.text().trimmed().toStdString();
        });
    });
    m_repeat.onCommit = [this](double days) -> Expected<void> {
        if (!(days >= 0)) return fail(ErrorCode::Range, "days", plainNumber(days), "0 or more");
        this->workbench().edit(tr("Calibrate every %1 days").arg(qs(plainNumber(days, 4))),
                               [&](GaugeSpec& spec) { spec.correction.repeat_days = days; });
        return {};
    };
}

void HistoryPage::showSpec(const GaugeView& view) {
    dressLabels();
    const GaugeSpec& spec = view.spec();
    const Unit& unit = spec.readingUnit();
    const auto now_days = daysOfTime(timeNow());
    auto history = historyOf(workbench().bench().bench().journal.calibrationsOf(view.id()), spec,
                             workbench().catalogue(), now_days.value_or(0));
    m_history = history ? std::move(*history) : CalibrationHistory();
    const auto amount = [&](double canonical) { return qs(signedDigits(unit.differenceFromCanonical(canonical), 2)); };
    m_table.setFont(Theme::instance().text(13));
    m_table.clearRows();
    for (const HistoryLine& line : m_history.lines)
        m_table.addRow({qs(line.time.substr(0, 10)), line.with.empty() ? tr("not given") : qs(line.with),
                        tr("%1, %2").arg(qs(line.fit)).arg(line.points),
                        line.foundMean ? amount(*line.foundMean) : tr("not known"),
                        line.foundWorst ? amount(*line.foundWorst) : QString(), amount(line.leftWorst),
                        std::isfinite(line.expanded)
                            ? tr("± %1").arg(qs(significantDigits(unit.differenceFromCanonical(line.expanded), 2)))
                            : tr("not known")});
    m_table.settle();
    m_table.setVisible(!m_history.lines.empty());
    QString text =
        m_history.lines.empty()
            ? tr("No calibration of this gauge is kept. What you keep stands in the bench's journal, as found "
                 "and as left, and can be put back.")
            : tr("Numbers in %1, reading less reference. %2\nThe next is due: %3")
                  .arg(qs(unit.symbol), qs(m_history.driftText), qs(m_history.dueText));
    m_drift->setText(text);
    showTrend(view);
    m_keep.setEnabled(spec.correction.kind != "none" && !m_history.isKept && spec.correction.check.empty());
    m_new.setEnabled(spec.correction.kind != "none" && spec.correction.check.empty());
    m_with.setEnabled(spec.correction.check.empty());
    if (!m_with.hasFocus()) m_with.setText(qs(spec.correction.with));
    m_repeat.setValue(spec.correction.repeat_days);
    enableFor(m_table.currentRow());
    m_problem->setVisible(!m_problem->text().isEmpty());
}

// As found and as left of each calibration, by the year.
void HistoryPage::showTrend(const GaugeView& view) {
    const Unit& unit = view.spec().readingUnit();
    QVector<double> years, found, left, x, y, bars;
    for (std::size_t i = 0; i < m_history.lines.size(); ++i) {
        const HistoryLine& line = m_history.lines[i];
        years.append(yearOfDays(m_history.days[i]));
        left.append(unit.differenceFromCanonical(line.leftMean));
        found.append(line.foundMean ? unit.differenceFromCanonical(*line.foundMean) : std::nan(""));
        for (const double mean : {found.back(), left.back()}) {
            if (!std::isfinite(mean)) continue;
            x.append(years.back());
            y.append(mean);
            bars.append(unit.differenceFromCanonical(statedOf(line.uMean)));
        }
    }
    const bool isThere = years.size() > 1;
    m_plot.setVisible(isThere);
    m_plotTitle->setVisible(isThere);
    if (!isThere) return;
    m_plot.setAxes(tr("year"), qs(unit.symbol));
    const QColor colour = colours().of(view.spec().quantity).line;
    m_plot.setCurves({Curve{years, found, tr("found"), colours().ink2, false}, Curve{years, left, tr("left"), colour}});
    m_plot.setBars(x, y, bars, colour);
}

void HistoryPage::enableFor(int row) {
    const bool isRow = row >= 0 && static_cast<std::size_t>(row) < m_history.lines.size();
    m_backLeft.setEnabled(isRow);
    m_backFound.setEnabled(isRow);
}

void HistoryPage::say(const Expected<void>& done, const QString& otherwise) {
    m_problem->setText(done ? otherwise : qs(done.error().message()));
    m_problem->setVisible(!m_problem->text().isEmpty());
}

void HistoryPage::keep() {
    if (!view()) return;
    Expected<void> done;
    const std::int64_t id = view()->id();
    workbench().bench().change(tr("Keep the calibration"),
                               [&](Bench& bench) { done = keepCalibration(bench, id, timeNow()); });
    say(done);
}

void HistoryPage::beginNew() {
    if (!view()) return;
    if (!m_history.isKept) keep();
    emit newCalibrationWanted();
}

void HistoryPage::putBackChosen(bool asFound) {
    const int row = m_table.currentRow();
    if (!view() || row < 0 || static_cast<std::size_t>(row) >= m_history.lines.size()) return;
    const HistoryLine& line = m_history.lines[static_cast<std::size_t>(row)];
    const auto entry = workbench().bench().bench().journal.find(line.entry);
    if (!entry || !entry->calibration) return;
    const auto back = putBack(asFound ? entry->calibration->found : entry->calibration->left, view()->spec(),
                              workbench().catalogue());
    if (!back) return say(tl::unexpected(back.error()));
    workbench().edit(tr("Put back the correction of %1").arg(qs(line.time.substr(0, 10))),
                     [&](GaugeSpec& spec) { spec = back->spec; });
    say({}, back->warning.empty() ? QString()
                                  : tr("Put back; but since then: %1. Check it at one point.").arg(qs(back->warning)));
}

}  // namespace fg::gui
