#include "correction/points_page.h"
#include "calibration/codes_changed.h"
#include "calibration/history.h"
#include "calibration/points_file.h"
#include "calibration/record.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "units/text_file.h"
#include "widgets/paper_file.h"
#include "widgets/text.h"

#include <algorithm>
#include <cmath>
#include <QFileDialog>
#include <QHBoxLayout>

namespace fg::gui {
namespace {

QString titleOf(const std::string& kind) {
    if (kind == "none") return PointsPage::tr("None");
    if (kind == "offset") return PointsPage::tr("Offset");
    if (kind == "line") return PointsPage::tr("Line");
    if (kind == "quadratic") return PointsPage::tr("Quadratic");
    if (kind == "cubic") return PointsPage::tr("Cubic");
    return PointsPage::tr("Table");
}

}  // namespace

PointsPage::PointsPage(Workbench& workbench, QWidget* parent)
    : CorrectionPage(workbench, parent), m_electronics(workbench) {
    m_state = addText({});
    m_state->setObjectName(QStringLiteral("correction.state"));
    body().addWidget(&m_points);
    buildNewPoint();
    m_problem = addText({});
    m_fits.setObjectName(QStringLiteral("correction.fits"));
    m_fits.setAccessibleName(tr("Fits through the points"));
    m_fits.setSelectionMode(QAbstractItemView::SingleSelection);
    connect(&m_fits, &QTableWidget::cellClicked, this, &PointsPage::choose);
    connect(&m_fits, &QTableWidget::cellActivated, this, &PointsPage::choose);
    m_plot.setObjectName(QStringLiteral("correction.plot"));
    m_plot.setMinimumHeight(px(170));
    m_residuals.setObjectName(QStringLiteral("correction.residuals"));
    m_residuals.setMinimumHeight(px(170));
    m_plotTitle = addCaption(tr("Fits, and what is left; bars are ± U of the reference"));
    auto* side = new QHBoxLayout;
    side->setSpacing(px(14));
    side->addWidget(&m_fits, 11, Qt::AlignTop);
    side->addWidget(&m_residuals, 10);
    body().addLayout(side);
    body().addWidget(&m_electronics);
    m_electronics.onSay = [this](const QString& text) { say(text); };
    m_bandTitle = addCaption(tr("Error over the span; hatched: beyond the points"));
    body().addWidget(&m_plot);
    m_codes = addText({});
    m_codes->setObjectName(QStringLiteral("correction.codes"));
    m_why = addText({});
    m_effect = addText({});
    m_typedTitle = addCaption(tr("Or typed by hand, without points"));
    body().addWidget(&m_typed);
    m_typed.onEdit = [this](const QString& label, const std::function<void(CorrectionSpec&)>& change) {
        return edit(label, change);
    };
    body().addStretch();

    m_points.onChange = [this](std::size_t row, const std::function<void(CalibrationPoint&)>& change) {
        return editPoints(tr("Change point %1").arg(row + 1), [&](CorrectionSpec& correction) {
            if (row < worked(correction).size()) change(worked(correction)[row]);
        });
    };
    m_points.onRemove = [this](std::size_t row) {
        (void)editPoints(tr("Remove point %1").arg(row + 1), [&](CorrectionSpec& correction) {
            auto& points = worked(correction);
            if (row < points.size()) points.erase(points.begin() + static_cast<std::ptrdiff_t>(row));
        });
    };
}

void PointsPage::buildNewPoint() {
    m_import.setObjectName(QStringLiteral("correction.import"));
    m_import.setText(tr("Points from a CSV file…"));
    m_record.setObjectName(QStringLiteral("correction.record"));
    m_record.setText(tr("Record…"));
    m_record.setToolTip(tr("The calibration as a paper: PDF, HTML or Markdown"));
    m_newPoint.addButton(m_import);
    m_newPoint.addButton(m_record);
    body().addWidget(&m_newPoint);
    m_newPoint.onProblem = [this](const QString& text) { say(text); };
    m_newPoint.onShared = [this](double stated) {
        return edit(tr("U of the reference"),
                    [&](CorrectionSpec& correction) { correction.reference = standardOf(StatedAs::Expanded, stated); });
    };
    m_newPoint.onTake = [this](const CalibrationPoint& point) {
        return editPoints(tr("Take a point"), [&](CorrectionSpec& correction) {
            worked(correction).push_back(point);
            if (m_checked == 0) correction.time = point.time;
        });
    };
    connect(&m_record, &QPushButton::clicked, this, [this] {
        const QString path =
            QFileDialog::getSaveFileName(this, tr("Record of the calibration"), QStringLiteral("record.pdf"),
                                         tr("PDF (*.pdf);;HTML (*.html);;Markdown (*.md)"));
        if (path.isEmpty()) return;
        const auto done = writeRecord(path);
        say(done ? tr("Written: %1").arg(path) : tr("Not written: %1.").arg(qs(done.error().message())));
    });
    connect(&m_import, &QPushButton::clicked, this, [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, tr("Points of a calibration"), {}, tr("CSV (*.csv);;All files (*)"));
        if (path.isEmpty()) return;
        const auto done = importPoints(path);
        say(done ? QString() : tr("Not taken: %1.").arg(qs(done.error().message())));
    });
}

Expected<void> PointsPage::edit(const QString& label, const std::function<void(CorrectionSpec&)>& change) {
    if (!view()) return {};
    GaugeSpec changed = view()->spec();
    change(changed.correction);
    if (const auto possible = Gauge::make(changed, workbench().catalogue()); !possible)
        return tl::unexpected(possible.error());
    workbench().edit(label, [&](GaugeSpec& spec) { spec.correction = changed.correction; });
    return {};
}

Expected<void> PointsPage::editPoints(const QString& label, const std::function<void(CorrectionSpec&)>& change) {
    if (!view()) return {};
    CorrectionSpec changed = view()->spec().correction;
    if (m_checked == view()->id()) {
        change(changed);  // the correction in force does not use them
        say({});
        return edit(label, [&](CorrectionSpec& correction) { correction = changed; });
    }
    // Points that gave the sensor's parameters are not moved here: the parameters would no longer be theirs.
    if (changed.kind == "parameters") {
        const auto refused = refit(changed, changed.kind, view()->spec().quantity);
        say(qs(refused.error().message()));
        return tl::unexpected(refused.error());
    }
    change(changed);
    // A fit that the points no longer give is dropped, and said; the points stay.
    auto fitted = refit(changed, changed.kind, view()->spec().quantity);
    say({});
    if (!fitted) {
        say(tr("The %1 is dropped: %2.").arg(titleOf(changed.kind).toLower(), qs(fitted.error().message())));
        fitted = refit(changed, "none", view()->spec().quantity);
    }
    if (!fitted) return tl::unexpected(fitted.error());
    return edit(label, [&](CorrectionSpec& correction) { correction = *fitted; });
}

std::vector<CalibrationPoint>& PointsPage::worked(CorrectionSpec& correction) const {
    return m_checked != 0 ? correction.check : correction.points;
}

void PointsPage::beginCheck() {
    if (!view()) return;
    m_checked = view()->id();
    showSpec(*view());
}

void PointsPage::say(const QString& text) {
    m_problem->setText(text);
    m_problem->setVisible(!text.isEmpty());
}

Expected<void> PointsPage::writeRecord(const QString& path) {
    if (!view()) return {};
    const auto paper = calibrationRecord(view()->spec(), workbench().catalogue());
    if (!paper) return tl::unexpected(paper.error());
    return writePaper(*paper, path);
}

Expected<void> PointsPage::importPoints(const QString& path) {
    if (!view() || !view()->made()) return {};
    const auto text = readTextFile(path.toStdString(), "a file of points");
    if (!text) return tl::unexpected(text.error());
    const auto file = readPoints(*text, path.toStdString(), view()->made());
    if (!file) return tl::unexpected(file.error());
    if (file->isResistance)
        return fail(ErrorCode::Unsupported, path.toStdString(), "resistances",
                    "readings or raw values: “fgauge calibrate” fits resistances");
    return editPoints(tr("Points from a file"), [&](CorrectionSpec& correction) {
        auto& points = worked(correction);
        const auto more = calibrationPoints(*file);
        points.insert(points.end(), more.begin(), more.end());
    });
}

void PointsPage::choose(int row) {
    if (!view() || row < 0 || static_cast<std::size_t>(row) >= m_study.fits.size()) return;
    const StudiedFit& fit = m_study.fits[static_cast<std::size_t>(row)];
    if (!fit.spec) return say(tr("%1 is not possible: %2.").arg(titleOf(fit.kind), qs(fit.why)));
    say({});
    if (m_study.isCheck) {
        const std::int64_t id = view()->id();
        Expected<void> done;
        m_checked = 0;
        workbench().bench().change(tr("New calibration: %1").arg(titleOf(fit.kind)), [&](Bench& bench) {
            done = adoptCheck(bench, id, fit.kind, timeNow(), workbench().catalogue());
        });
        say(done ? tr("In force, and in the journal. Now give what you compared with (History), and its ± that all "
                      "points "
                      "share.")
                 : tr("Not taken: %1.").arg(qs(done.error().message())));
        return;
    }
    (void)edit(tr("Correction: %1").arg(titleOf(fit.kind)),
               [&](CorrectionSpec& correction) { correction = *fit.spec; });
}

void PointsPage::showSpec(const GaugeView& view) {
    const GaugeSpec& spec = view.spec();
    const CorrectionSpec& correction = spec.correction;
    dressLabels();
    if (m_shownGauge != view.id()) {
        m_shownGauge = view.id();
        m_checked = 0;
        say({});
    }
    if (!correction.check.empty()) m_checked = view.id();
    const bool isChecking = m_checked == view.id();
    m_state->setVisible(isChecking);
    m_state->setText(tr("New calibration: the correction in force (%1) stays until you choose a fit through the new "
                        "points. “Left” is "
                        "how the gauge was found.")
                         .arg(titleOf(correction.kind).toLower()));
    m_newPoint.showSpec(view);
    m_newPoint.setSharedEnabled(!isChecking);
    m_typed.showSpec(view);
    const bool hasPoints = isChecking ? !correction.check.empty() : !correction.points.empty();
    for (QWidget* widget : {static_cast<QWidget*>(&m_typed), static_cast<QWidget*>(m_typedTitle)})
        widget->setVisible(!hasPoints && !isChecking);
    m_points.setVisible(hasPoints);
    m_electronics.setVisible(hasPoints && !isChecking && view.path() && correction.kind != "parameters");
    m_record.setEnabled(correction.kind != "none");
    auto study = studyOf(spec, workbench().catalogue());
    m_study = study ? std::move(*study) : CalibrationStudy();
    m_points.show(spec, isChecking ? correction.check : correction.points, m_study);
    showFits(view);
    showResiduals(view);
    showBand(view);
    showCodes(view);
}

void PointsPage::showFits(const GaugeView& view) {
    const Unit& unit = view.spec().readingUnit();
    const CorrectionSpec& correction = view.spec().correction;
    const bool hasPoints = m_checked != 0 ? !correction.check.empty() : !correction.points.empty();
    m_fits.setVisible(hasPoints);
    m_fits.setFont(Theme::instance().text(13));
    m_fits.clearRows();
    for (const StudiedFit& fit : m_study.fits) {
        const bool isChosen = !m_study.isCheck && fit.kind == view.spec().correction.kind;
        const int row = m_fits.rowCount();
        const QString largest = tr("± %1 at %2")
                                    .arg(qs(significantDigits(unit.differenceFromCanonical(fit.expanded), 2)),
                                         qs(plainNumber(unit.fromCanonical(fit.expandedAt), 4)));
        m_fits.addRow(
            {(isChosen ? QStringLiteral("● ") : QStringLiteral("◎ ")) + titleOf(fit.kind),
             fit.spec ? qs(fixedDigits(unit.differenceFromCanonical(fit.worstLeft), m_study.decimals)) : tr("–"),
             !fit.spec            ? tr("not from these points")
             : fit.isSensorStated ? largest
                                  : largest + QLatin1Char('*')});
        for (int column = 0; column < m_fits.columnCount(); ++column) {
            QTableWidgetItem* item = m_fits.item(row, column);
            QFont font = m_fits.font();
            font.setBold(isChosen);
            item->setFont(font);
            if (!fit.spec) {
                item->setForeground(colours().ink3);
                item->setToolTip(qs(fit.why));
            }
            if (isChosen) item->setBackground(colours().brassWash);
        }
    }
    m_fits.settle();
    QString text = hasPoints
                       ? (m_study.coefficients.empty() ? QString() : tr("Fit: %1. ").arg(qs(m_study.coefficients))) +
                             tr("Recommended: %1. Circles in the plot are the points.").arg(qs(m_study.why))
                       : tr("Put the gauge and something better in the same place, wait until both are steady, give "
                            "what the reference reads, and take the point. One point gives an offset; two far apart "
                            "also remove a wrong slope.");
    if (hasPoints && std::any_of(m_study.fits.begin(), m_study.fits.end(),
                                 [](const StudiedFit& fit) { return fit.spec && !fit.isSensorStated; }))
        text +=
            tr("\n* Leaves out how accurate the sensor itself is, somewhere in the span: nobody has stated it, and no "
               "point was compared there.");
    for (const Finding& finding : m_study.findings)
        text += QStringLiteral("\n%1: %2. %3")
                    .arg(qs(severityName(finding.severity)), qs(finding.title), qs(finding.detail));
    m_why->setText(text);
}

void PointsPage::showBand(const GaugeView& view) {
    const ErrorBand& band = m_study.band;
    const Unit& unit = view.spec().readingUnit();
    m_plot.setVisible(!band.reading.empty() && !band.before.empty());
    m_bandTitle->setVisible(m_plot.isVisibleTo(this));
    if (!m_plot.isVisibleTo(this)) return;
    m_plot.setAxes(qs(unit.symbol), qs(unit.symbol));
    QVector<double> x, amount;
    for (std::size_t i = 0; i < band.reading.size(); ++i) {
        x.append(unit.fromCanonical(band.reading[i]));
        amount.append(unit.differenceFromCanonical(band.amount[i]));
    }
    const auto limits = [&](const std::vector<double>& expanded, double sign, bool isAfter) {
        QVector<double> y;
        for (std::size_t i = 0; i < expanded.size(); ++i)
            y.append((isAfter ? amount[static_cast<qsizetype>(i)] : 0) +
                     sign * unit.differenceFromCanonical(expanded[i]));
        return y;
    };
    const QColor colour = colours().of(view.spec().quantity).line;
    QVector<Curve> curves;
    for (const double sign : {1.0, -1.0})
        curves.append(
            Curve{x, limits(band.before, sign, false), sign > 0 ? tr("before") : QString(), colours().ink2, false});
    if (view.spec().correction.kind != "none" && band.after.size() == band.reading.size()) {
        for (const double sign : {1.0, -1.0})
            curves.append(Curve{x, limits(band.after, sign, true), sign > 0 ? tr("after") : QString(), colour, true});
    }
    m_plot.setCurves(curves);
    if (band.points) m_plot.setBeyond(unit.fromCanonical(band.points->low), unit.fromCanonical(band.points->high));
    QVector<double> at, wanted;
    const auto& points = m_study.isCheck ? view.spec().correction.check : view.spec().correction.points;
    for (std::size_t i = 0; i < points.size() && i < m_study.points.size(); ++i) {
        at.append(unit.fromCanonical(points[i].reading));
        wanted.append(unit.differenceFromCanonical(m_study.points[i].wanted));
    }
    m_plot.setMarks(at, wanted, colour);
}

void PointsPage::showResiduals(const GaugeView& view) {
    const CorrectionSpec& correction = view.spec().correction;
    const auto& points = m_study.isCheck ? correction.check : correction.points;
    const bool isBeginning = m_checked != 0 && !m_study.isCheck;  // no new point yet
    const bool isThere =
        !isBeginning && !points.empty() && points.size() == m_study.points.size() && !m_study.band.reading.empty();
    m_residuals.setVisible(isThere);
    m_plotTitle->setVisible(isThere);
    if (!isThere) return;
    const Unit& unit = view.spec().readingUnit();
    QVector<double> x, y, bars;
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (!points[i].setAside.empty()) continue;
        x.append(unit.fromCanonical(points[i].reading));
        y.append(unit.differenceFromCanonical(m_study.points[i].left));
        bars.append(unit.differenceFromCanonical(statedOf(points[i].u)));
    }
    m_residuals.setAxes(qs(unit.symbol), qs(unit.symbol));
    const double low = unit.fromCanonical(m_study.band.reading.front()),
                 high = unit.fromCanonical(m_study.band.reading.back());
    m_residuals.setCurves({Curve{{low, high}, {0, 0}, {}, colours().ink2, false}});
    m_residuals.setBars(x, y, bars, colours().of(view.spec().quantity).line);
}

// Which raw values are another reading now: what a program with the old numbers would have to change.
void PointsPage::showCodes(const GaugeView& view) {
    const auto codes = codesChanged(view.spec(), workbench().catalogue());
    m_codes->setVisible(codes.has_value());
    if (codes) m_codes->setText(qs(codes->text));
}

void PointsPage::showValues(const GaugeView& view) {
    m_newPoint.watch(view);
    if (!view.evaluation() || std::isnan(view.evaluation()->reading())) return m_effect->setText(tr("No value yet."));
    m_effect->setText(tr("Now: formula %1, correction %2, reading %3.")
                          .arg(qs(view.textAt(Stage::Formula).joined()), qs(view.textAt(Stage::Correction).joined()),
                               qs(view.textAt(Stage::Reading).joined())));
}

}  // namespace fg::gui
