#include "correction/new_point_form.h"
#include "calibration/study.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/refused.h"
#include "widgets/text.h"

#include <cmath>
#include <QDateTime>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace fg::gui {

NewPointForm::NewPointForm(QWidget* parent) : QWidget(parent), m_buttons(new QHBoxLayout) {
    m_clock.start();
    m_reference.setObjectName(QStringLiteral("correction.newReference"));
    m_u.setObjectName(QStringLiteral("correction.newU"));
    m_reading.setObjectName(QStringLiteral("correction.newReading"));
    m_shared.setObjectName(QStringLiteral("correction.shared"));
    m_take.setObjectName(QStringLiteral("correction.take"));
    m_take.setText(tr("Take this &point"));
    m_reading.setPlaceholderText(tr("now, or “code 2155”"));
    m_steady.setWordWrap(true);
    for (ValueEdit* entry : {&m_u, &m_shared}) entry->setZeroText(tr("not given"));
    m_statedAs.setObjectName(QStringLiteral("correction.statedAs"));
    m_statedAs.addItem(tr("U (k = 2), of this point alone"), static_cast<int>(StatedAs::Expanded));
    m_statedAs.addItem(tr("never off by more than that"), static_cast<int>(StatedAs::Limits));
    m_statedAs.addItem(tr("shown to the nearest of that"), static_cast<int>(StatedAs::Nearest));
    m_statedAs.addItem(tr("nobody has checked it"), static_cast<int>(StatedAs::Unchecked));
    m_statedAs.setAccessibleName(tr("How the uncertainty of the reference is known"));
    m_note.setObjectName(QStringLiteral("correction.newNote"));
    m_note.setPlaceholderText(tr("conditions: stirred, lid on"));
    layOut();
    m_reference.onCommit = [this](double value) -> Expected<void> {
        m_given = value;
        return {};
    };
    const auto notNegative = [](double value) -> Expected<void> {
        if (value < 0) return fail(ErrorCode::Range, "U", plainNumber(value), "0 or more");
        return {};
    };
    m_u.onCommit = [this, notNegative](double value) {
        return notNegative(value).map([&] { m_stated = m_view->spec().readingUnit().differenceToCanonical(value); });
    };
    m_shared.onCommit = [this, notNegative](double value) -> Expected<void> {
        if (const auto fine = notNegative(value); !fine) return fine;
        return onShared(m_view->spec().readingUnit().differenceToCanonical(value));
    };
    connect(&m_take, &QPushButton::clicked, this, &NewPointForm::take);
    connect(&m_reading, &QLineEdit::returnPressed, this, &NewPointForm::take);
}

// Two lines: what the reference reads and how well that is known; what the gauge reads and how it was done.
void NewPointForm::layOut() {
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(px(8));
    grid->setVerticalSpacing(px(5));
    const auto name = [&](const QString& text, QWidget& entry) {
        auto* label = new QLabel(text);
        label->setBuddy(&entry);
        entry.setAccessibleName(text);
        m_names.push_back(label);
        return label;
    };
    m_u.setAccessibleName(tr("Uncertainty of the reference in this comparison"));
    m_statedAs.setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_statedAs.setMinimumContentsLength(12);
    m_reading.setToolTip(tr("Empty: what it reads now; or a reading, or “code 2155”"));
    for (QLineEdit* entry : {static_cast<QLineEdit*>(&m_reference), &m_reading}) entry->setMinimumWidth(px(110));
    for (ValueEdit* entry : {&m_u, &m_shared}) entry->setFixedWidth(px(90));
    grid->addWidget(name(tr("&Reference reads"), m_reference), 0, 0);
    grid->addWidget(&m_reference, 0, 1);
    auto* plusMinus = new QLabel(QStringLiteral("±"));
    m_names.push_back(plusMinus);
    grid->addWidget(plusMinus, 0, 2);
    grid->addWidget(&m_u, 0, 3);
    grid->addWidget(&m_statedAs, 0, 4);
    grid->addWidget(name(tr("This &gauge reads"), m_reading), 1, 0);
    grid->addWidget(&m_reading, 1, 1);
    grid->addWidget(&m_note, 1, 2, 1, 3);
    m_note.setAccessibleName(tr("Conditions"));
    grid->setColumnStretch(1, 2);
    grid->setColumnStretch(4, 3);
    m_buttons->addWidget(&m_take);
    m_buttons->addStretch();
    m_buttons->addWidget(name(tr("&Shared by all ±"), m_shared));
    m_buttons->addWidget(&m_shared);
    m_shared.setToolTip(tr("U of the reference, k = 2, that all points share: its own calibration"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addLayout(grid);
    column->addLayout(m_buttons);
    m_whenSteady.setObjectName(QStringLiteral("correction.whenSteady"));
    m_whenSteady.setText(tr("take it when steady"));
    auto* waiting = new QHBoxLayout;
    waiting->addWidget(&m_steady, 1);
    waiting->addWidget(&m_whenSteady);
    column->addLayout(waiting);
}

void NewPointForm::showSpec(const GaugeView& view) {
    m_view = &view;
    if (m_gauge != view.id()) {
        m_gauge = view.id();
        m_watch.restart();
        m_given.reset();
        m_stated.reset();
        m_reference.clear();
        m_u.clear();
        m_reading.clear();
        m_note.clear();
    }
    const Unit& unit = view.spec().readingUnit();
    m_reference.setUnit(&unit);
    for (ValueEdit* entry : {&m_u, &m_shared}) entry->setSuffix(qs(unit.symbol));
    m_shared.setValue(unit.differenceFromCanonical(statedOf(view.spec().correction.reference)));
    for (QLabel* label : m_names) label->setFont(Theme::instance().text(13));
    dress(m_steady, Theme::instance().text(13), colours().ink2);
}

void NewPointForm::useReference(const ReferenceTaken& reference) {
    if (!m_view) return;
    m_given = reference.value;
    m_reference.setValue(reference.value);
    m_stated = reference.expanded;
    m_u.setValue(m_view->spec().readingUnit().differenceFromCanonical(reference.expanded));
    m_statedAs.setCurrentIndex(0);
    m_note.setText(reference.note);
}

void NewPointForm::watch(const GaugeView& view) {
    m_view = &view;
    const StageValue* now = view.evaluation() ? &view.evaluation()->at(Stage::Formula) : nullptr;
    const bool isLive = view.origin() == Origin::Live && !view.isStale() && now;
    m_whenSteady.setVisible(isLive);
    if (!isLive) {
        m_watch.restart();
        return m_steady.setText(tr("Nothing live: type what the gauge reads."));
    }
    m_watch.take(static_cast<double>(m_clock.elapsed()) / 1000, now->clip == Clip::None ? now->value : std::nan(""));
    const Unit& unit = view.spec().readingUnit();
    const QString reads = tr("Reads now %1.").arg(qs(view.textAt(Stage::Formula).joined()));
    const auto state = m_watch.state();
    if (!state || state->covered_s < 0.99 * m_watch.window_s())
        return m_steady.setText(reads + tr(" Watching whether it is steady: %1 of %2 s.")
                                            .arg(state ? std::lround(state->covered_s) : 0)
                                            .arg(std::lround(m_watch.window_s())));
    m_steady.setText(state->isSteady
                         ? reads + tr(" Steady for %1 s; the mean of %2 readings is known to ± %3 %4 (u).")
                                       .arg(std::lround(state->steadyFor_s))
                                       .arg(state->count)
                                       .arg(qs(significantDigits(unit.differenceFromCanonical(state->meanStandard), 1)),
                                            qs(unit.symbol))
                         : reads + tr(" Still moving by %1 %2 a minute: wait.")
                                       .arg(qs(significantDigits(60 * unit.differenceFromCanonical(state->slope), 2)),
                                            qs(unit.symbol)));
    if (!m_whenSteady.isChecked() || !state->isSteady || !m_given || !m_reading.text().isEmpty()) return;
    m_whenSteady.setChecked(false);
    take();
}

Expected<std::pair<double, double>> NewPointForm::reading() const {
    const std::string text = m_reading.text().trimmed().toStdString();
    if (!text.empty())
        return uncorrectedReading(*m_view->made(), text).map([](double value) { return std::pair(value, 0.0); });
    if (const auto steady = m_watch.state(); steady && m_view->origin() == Origin::Live)
        return std::pair(steady->mean, steady->meanStandard);
    const StageValue* now = m_view->evaluation() ? &m_view->evaluation()->at(Stage::Formula) : nullptr;
    if (!now || !std::isfinite(now->value) || now->clip != Clip::None || m_view->origin() == Origin::Example)
        return fail(ErrorCode::Missing, "reading", "none of this gauge now", "it typed, or “code” and its raw value");
    return std::pair(now->value, 0.0);
}

void NewPointForm::take() {
    if (!m_view || !m_view->made()) return;
    if (!m_given) return onProblem(tr("Give what the reference reads first."));
    const auto read = reading();
    markRefused(m_reading, read || m_reading.text().isEmpty() ? QString() : qs(read.error().message()));
    if (!read) return onProblem(qs(read.error().message()));
    CalibrationPoint point = pointTaken(read->first, *m_given, static_cast<StatedAs>(m_statedAs.currentData().toInt()),
                                        m_stated.value_or(0), read->second, m_view->spec().readingUnit());
    point.note = m_note.text().trimmed().toStdString();
    point.time = QDateTime::currentDateTime().toString(Qt::ISODate).toStdString();
    if (const auto done = onTake(point); !done) return onProblem(qs(done.error().message()));
    m_reading.clear();
}

}  // namespace fg::gui
