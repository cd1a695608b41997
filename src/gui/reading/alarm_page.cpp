#include "reading/alarm_page.h"

#include "alarms/device_alarm.h"
#include "alarms/trial.h"
#include "recording/worked_out.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <algorithm>
#include <cmath>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

constexpr std::size_t kMostReplayed = 200'000;

/// The newest recording that has the gauge.
const BenchRecording* newestOf(const std::vector<BenchRecording>& recordings, std::int64_t gauge) {
    const auto it = std::find_if(recordings.rbegin(), recordings.rend(), [&](const BenchRecording& one) {
        const Track* track = one.trackOf(gauge);
        return track && track->count > 1;
    });
    return it == recordings.rend() ? nullptr : &*it;
}

}  // namespace

AlarmPage::AlarmPage(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      m_workbench(workbench),
      m_table({tr("Dead band"), tr("Read every"), tr("Went on"), tr("A day"), tr("On for"), tr("Farthest")},
              {0, 1, 2, 3, 4, 5}, 5) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(4), 0, 0);
    column->setSpacing(px(6));
    column->addWidget(&m_title);
    buildForm(*column);
    auto* row = new QHBoxLayout;
    m_acknowledge.setObjectName(QStringLiteral("alarm.acknowledge"));
    m_acknowledge.setText(tr("&Acknowledge"));
    row->addWidget(&m_state, 1);
    row->addWidget(&m_acknowledge);
    column->addLayout(row);
    m_state.setObjectName(QStringLiteral("alarm.state"));
    m_reached.setObjectName(QStringLiteral("alarm.reached"));
    m_over.setObjectName(QStringLiteral("alarm.over"));
    for (QLabel* text : {&m_state, &m_reached, &m_over, &m_care}) text->setWordWrap(true);
    column->addWidget(&m_reached);
    auto* replayRow = new QHBoxLayout;
    m_replay.setObjectName(QStringLiteral("alarm.replay"));
    m_replay.setText(tr("Hold it against the newest &recording"));
    m_useBand.setObjectName(QStringLiteral("alarm.useBand"));
    m_useBand.setText(tr("&Use that dead band"));
    replayRow->addWidget(&m_replay);
    replayRow->addWidget(&m_useBand);
    replayRow->addStretch();
    column->addLayout(replayRow);
    column->addWidget(&m_over);
    m_table.setObjectName(QStringLiteral("alarm.table"));
    m_table.setAccessibleName(tr("What the alarm would have done"));
    column->addWidget(&m_table);
    column->addWidget(&m_care);
    column->addStretch();
    connect(&m_acknowledge, &QPushButton::clicked, this, [this] { m_workbench.alarms().acknowledge(m_gauge); });
    connect(&m_replay, &QPushButton::clicked, this, &AlarmPage::replay);
    connect(&m_useBand, &QPushButton::clicked, this, [this] {
        if (change(tr("Dead band of the alarm"), [this](AlarmRule& rule) { rule.band = m_advised; })) replay();
    });
}

void AlarmPage::buildForm(QVBoxLayout& column) {
    m_high.setObjectName(QStringLiteral("alarm.high"));
    m_low.setObjectName(QStringLiteral("alarm.low"));
    m_band.setObjectName(QStringLiteral("alarm.band"));
    m_delay.setObjectName(QStringLiteral("alarm.delay"));
    m_highOn.setObjectName(QStringLiteral("alarm.highOn"));
    m_lowOn.setObjectName(QStringLiteral("alarm.lowOn"));
    m_latched.setObjectName(QStringLiteral("alarm.latched"));
    m_highOn.setText(tr("warns"));
    m_lowOn.setText(tr("warns"));
    m_latched.setText(tr("stays on until it is acknowledged"));
    m_form.addRow(tr("Above the &high limit"), &m_high, &m_highOn);
    m_form.addRow(tr("Below the &low limit"), &m_low, &m_lowOn);
    m_form.addRow(tr("&Dead band"), &m_band, nullptr, tr("how far back before it goes off"));
    m_form.addRow(tr("D&elay"), &m_delay, nullptr, tr("how long beyond before it goes on"));
    m_form.addRow(tr("&Kept on"), &m_latched);
    column.addWidget(&m_form);
    m_high.onCommit = [this](double value) -> Expected<void> {
        AlarmRule rule = m_workbench.current()->spec().alarm.value_or(AlarmRule{});
        rule.high = value;
        if (const auto good = checkRule(rule); !good) return good;
        change(tr("High limit of the alarm"), [value](AlarmRule& edited) { edited.high = value; });
        return {};
    };
    m_low.onCommit = [this](double value) -> Expected<void> {
        AlarmRule rule = m_workbench.current()->spec().alarm.value_or(AlarmRule{});
        rule.low = value;
        if (const auto good = checkRule(rule); !good) return good;
        change(tr("Low limit of the alarm"), [value](AlarmRule& edited) { edited.low = value; });
        return {};
    };
    m_band.onCommit = [this](double value) -> Expected<void> {
        const auto& alarm = m_workbench.current()->spec().alarm;
        if (!alarm) return fail(ErrorCode::Missing, "dead band", "no limit", "a high or a low limit first");
        AlarmRule rule = *alarm;
        rule.band = m_workbench.current()->spec().readingUnit().differenceToCanonical(value);
        if (const auto good = checkRule(rule); !good) return good;
        change(tr("Dead band of the alarm"), [&](AlarmRule& edited) { edited.band = rule.band; });
        return {};
    };
    m_delay.onCommit = [this](double value) -> Expected<void> {
        const auto& alarm = m_workbench.current()->spec().alarm;
        if (!alarm) return fail(ErrorCode::Missing, "delay", "no limit", "a high or a low limit first");
        AlarmRule rule = *alarm;
        rule.delay_s = value;
        if (const auto good = checkRule(rule); !good) return good;
        change(tr("Delay of the alarm"), [value](AlarmRule& edited) { edited.delay_s = value; });
        return {};
    };
    // Switched on, a limit begins at the end of the span; it can be typed then.
    connect(&m_highOn, &QCheckBox::clicked, this, [this](bool on) {
        const double end = m_workbench.current()->spec().spanCanonical().high;
        change(tr("High limit of the alarm"),
               [&](AlarmRule& rule) { rule.high = on ? std::optional(end) : std::nullopt; });
    });
    connect(&m_lowOn, &QCheckBox::clicked, this, [this](bool on) {
        const double end = m_workbench.current()->spec().spanCanonical().low;
        change(tr("Low limit of the alarm"),
               [&](AlarmRule& rule) { rule.low = on ? std::optional(end) : std::nullopt; });
    });
    connect(&m_latched, &QCheckBox::clicked, this,
            [this](bool on) { change(tr("Alarm is kept on"), [on](AlarmRule& rule) { rule.isLatched = on; }); });
}

bool AlarmPage::change(const QString& label, const std::function<void(AlarmRule&)>& edit) {
    return m_workbench.edit(label, [&](GaugeSpec& spec) {
        AlarmRule rule = spec.alarm.value_or(AlarmRule{});
        edit(rule);
        // Without a limit there is no alarm.
        if (rule.high || rule.low)
            spec.alarm = rule;
        else
            spec.alarm.reset();
    });
}

void AlarmPage::showReached(const GaugeView& view) {
    const auto& alarm = view.spec().alarm;
    if (!alarm) return m_reached.setText(tr("No alarm. Switch a limit on, or type one."));
    if (!view.made()) return m_reached.clear();
    const auto reached = reachedReadings(*view.made(), *alarm);
    if (!reached) return m_reached.setText(qs(reached.error().message()));
    const Unit& unit = view.spec().readingUnit();
    const int decimals = decimalsFor(unit.differenceFromCanonical(reached->step));
    const auto text = [&](double canonical) {
        return QStringLiteral("%1 %2").arg(qs(fixedDigits(unit.fromCanonical(canonical), decimals)), qs(unit.symbol));
    };
    QStringList lines;
    if (reached->highOn)
        lines << tr("In the steps in which it reads it goes on at %1, off again at %2.")
                     .arg(text(*reached->highOn), text(*reached->highOff));
    if (reached->lowOn)
        lines << tr("Below: on at %1, off again at %2.").arg(text(*reached->lowOn), text(*reached->lowOff));
    if (view.digital()) {
        const auto own = deviceAlarm(*view.made(), m_workbench.catalogue(), *alarm);
        lines << (own ? tr("In the device's own registers: %1").arg(qs(deviceAlarmText(*own)))
                      : tr("No alert of the device itself: %1").arg(qs(own.error().message())));
    }
    m_reached.setText(lines.join(QLatin1Char('\n')));
}

void AlarmPage::showSpec(const GaugeView& view) {
    const Unit& unit = view.spec().readingUnit();
    const auto& alarm = view.spec().alarm;
    dress(m_title, Theme::instance().caption(), colours().ink2);
    m_title.setText(tr("When it warns"));
    for (QLabel* label : {&m_state, &m_reached, &m_over}) dress(*label, Theme::instance().text(13), colours().ink);
    dress(m_care, Theme::instance().text(12), colours().ink2);
    m_care.setText(
        tr("Care: it warns, it switches nothing. What switches heat, pumps or mains, or stands near water, needs an "
           "independent cut-out; local codes and licensed work come first."));
    for (ValueEdit* edit : {&m_high, &m_low}) edit->setUnit(&unit);
    m_band.setSuffix(qs(unit.symbol));
    const Interval span = view.spec().spanCanonical();
    m_high.setValue(alarm && alarm->high ? *alarm->high : span.high);
    m_low.setValue(alarm && alarm->low ? *alarm->low : span.low);
    m_band.setValue(unit.differenceFromCanonical(alarm ? alarm->band : 0));
    m_delay.setValue(alarm ? alarm->delay_s : 0);
    m_highOn.setChecked(alarm && alarm->high);
    m_lowOn.setChecked(alarm && alarm->low);
    m_latched.setChecked(alarm && alarm->isLatched);
    m_latched.setEnabled(alarm.has_value());
    m_replay.setEnabled(alarm.has_value());
    if (m_gauge != view.id() || !alarm) {
        m_gauge = view.id();
        m_over.clear();
        m_table.clearRows();
        m_table.settle();
        m_table.hide();
        m_useBand.hide();
    }
    showReached(view);
    showValues(view);
}

void AlarmPage::showValues(const GaugeView& view) {
    const LiveAlarms::State state = m_workbench.alarms().stateOf(view.id());
    m_state.setText(!view.spec().alarm ? QString()
                    : state.isHeld ? tr("It was %1 and is back inside: it waits to be acknowledged.").arg(state.text)
                    : state.isOn   ? tr("Alarm: %1.").arg(state.text)
                                   : tr("Now inside."));
    m_acknowledge.setVisible(state.isHeld);
}

void AlarmPage::replay() {
    const GaugeView* view = m_workbench.current();
    const auto file = m_workbench.bench().file();
    if (!view || !view->spec().alarm || !view->made()) return;
    m_table.clearRows();
    m_table.hide();
    m_useBand.hide();
    if (!file) return m_over.setText(tr("This bench is in no file: nothing is recorded."));
    auto recordings = file->recordings().recordings();
    if (!recordings) return m_over.setText(qs(recordings.error().message()));
    for (BenchRecording& one : *recordings) one = withWorkedOut(std::move(one), m_workbench.bench().bench());
    const BenchRecording* newest = newestOf(*recordings, view->id());
    if (!newest) return m_over.setText(tr("Nothing is recorded of this gauge yet: Record, Start recording."));
    auto reader = TrackReader::make(file->recordings(), *newest, view->id(), Conversion::AsNow,
                                    m_workbench.bench().bench(), m_workbench.catalogue());
    if (!reader) return m_over.setText(qs(reader.error().message()));
    const auto trial = tryAlarm(*reader, newest->span(), *view->made(), *view->spec().alarm, 0, kMostReplayed);
    if (!trial) return m_over.setText(qs(trial.error().message()));
    const Unit& unit = view->spec().readingUnit();
    m_advised = trial->advice.band;
    const AlarmReplay& own = trial->tried.front().replay;
    m_over.setText(
        tr("Over “%1” it would have gone on %2 times, %3 a day. A dead band of %4 %5 is not crossed by noise.")
            .arg(qs(newest->name))
            .arg(own.switchings)
            .arg(qs(significantDigits(own.perDay(), 2)),
                 qs(significantDigits(unit.differenceFromCanonical(m_advised), 2)), qs(unit.symbol)));
    for (const AlarmTried& one : trial->tried)
        m_table.addRow({qs(significantDigits(unit.differenceFromCanonical(one.rule.band), 3)),
                        one.every_s > 0 ? tr("%1 s").arg(one.every_s) : tr("as it came"),
                        QString::number(one.replay.switchings), qs(significantDigits(one.replay.perDay(), 3)),
                        tr("%1 s").arg(one.replay.on_s, 0, 'f', 0),
                        std::isnan(one.replay.peak) ? QStringLiteral("–")
                                                    : qs(plainNumber(unit.fromCanonical(one.replay.peak), 5))});
    m_table.setFont(Theme::instance().text(13));
    m_table.settle();
    m_table.show();
    m_useBand.setVisible(m_advised > 0 && m_advised != view->spec().alarm->band);
}

}  // namespace fg::gui
