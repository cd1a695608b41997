#include "recorder/recorder_page.h"

#include "recorder/time_text.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <QDateTime>
#include <QFileDialog>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLocale>
#include <QMessageBox>
#include <QProgressDialog>
#include <QSignalBlocker>
#include <QTimer>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

constexpr int kPanelWidth = 320, kWidestPanel = 360, kNameLetters = 18;

QString nameNow() {
    return QLocale(QLocale::English).toString(QDateTime::currentDateTime(), QStringLiteral("ddd d MMM, HH:mm"));
}

}  // namespace

RecorderPage::RecorderPage(Workbench& workbench, LiveRecorder& recorder, QWidget* parent)
    : QWidget(parent),
      m_workbench(workbench),
      m_recorder(recorder),
      m_desk(workbench, recorder),
      m_noise(m_desk),
      m_cursor(m_desk),
      m_marks(m_desk) {
    setObjectName(QStringLiteral("recorder"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(8), 0, 0);
    column->setSpacing(px(8));
    column->addLayout(buildHead());
    column->addLayout(buildStrip());
    auto* row = new QHBoxLayout;
    row->setSpacing(px(8));
    auto* left = new QVBoxLayout;
    left->setSpacing(px(4));
    m_empty.setObjectName(QStringLiteral("recorder.empty"));
    m_empty.setWordWrap(true);
    m_empty.setAlignment(Qt::AlignCenter);
    left->addWidget(&m_empty, 1);
    left->addWidget(&m_plot, 1);
    left->addWidget(&m_overview);
    m_noiseScroll.setWidget(&m_noise);
    m_noiseScroll.setWidgetResizable(true);
    m_noiseScroll.setFrameShape(QFrame::NoFrame);
    left->addWidget(&m_noiseScroll);
    auto* right = new QVBoxLayout;
    right->setSpacing(px(8));
    right->addWidget(&m_cursor);
    right->addWidget(&m_marks, 1);
    row->addLayout(left, 1);
    row->addLayout(right);
    column->addLayout(row, 1);
    connectAll();
}

QHBoxLayout* RecorderPage::buildHead() {
    m_marker.setObjectName(QStringLiteral("recorder.marker"));
    m_marker.setText(tr("&Marker"));
    m_record.setObjectName(QStringLiteral("recorder.record"));
    m_record.setProperty("first", true);
    m_state.setObjectName(QStringLiteral("recorder.state"));
    auto* row = new QHBoxLayout;
    row->setSpacing(px(12));
    row->addWidget(&m_title);
    row->addWidget(&m_day, 1);
    row->addWidget(&m_state);
    row->addWidget(&m_marker);
    row->addWidget(&m_record);
    return row;
}

QHBoxLayout* RecorderPage::buildStrip() {
    m_which.setObjectName(QStringLiteral("recorder.which"));
    m_which.setAccessibleName(tr("Recording"));
    m_which.setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_which.setMinimumContentsLength(kNameLetters);
    m_conversion.setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_conversion.setMinimumContentsLength(kNameLetters);
    m_counts.setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    m_day.setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    m_conversion.setObjectName(QStringLiteral("recorder.conversion"));
    m_conversion.setAccessibleName(tr("Converted with"));
    m_conversion.addItem(tr("gauges as recorded"));
    m_conversion.addItem(tr("gauges as they are now"));
    m_conversion.setToolTip(
        tr("What is kept is raw: a reference voltage or a correction that was put right since puts the whole recording "
           "right"));
    m_gauges.setObjectName(QStringLiteral("recorder.gauges"));
    m_gauges.setText(tr("&Gauges"));
    m_gauges.setMenu(&m_gaugeMenu);
    m_more.setText(tr("&More"));
    m_more.setMenu(&m_moreMenu);
    m_whole.setText(tr("Show &all"));
    m_whole.setObjectName(QStringLiteral("recorder.whole"));
    auto* row = new QHBoxLayout;
    row->setSpacing(px(8));
    row->addWidget(&m_which);
    row->addWidget(&m_counts, 1);
    row->addWidget(&m_gauges);
    row->addWidget(&m_conversion);
    row->addWidget(&m_whole);
    row->addWidget(&m_more);
    return row;
}

void RecorderPage::connectAll() {
    connect(&m_record, &QPushButton::clicked, this, &RecorderPage::startOrStop);
    connect(&m_marker, &QPushButton::clicked, this, &RecorderPage::mark);
    connect(&m_whole, &QPushButton::clicked, &m_desk, &RecordingDesk::showWhole);
    connect(&m_which, &QComboBox::activated, this, [this] { m_desk.choose(m_which.currentData().toLongLong()); });
    connect(&m_conversion, &QComboBox::activated, this,
            [this](int index) { m_desk.setConversion(index == 0 ? Conversion::AsRecorded : Conversion::AsNow); });
    buildMore();
    connect(&m_plot, &TracePlot::cursorWanted, &m_desk, &RecordingDesk::setCursor);
    connect(&m_noise, &NoisePanel::heightChanged, this, [this] {
        showLook();
        // What was asked for stands at the end of the panel.
        QTimer::singleShot(0, this, [this] { m_noiseScroll.ensureVisible(0, m_noise.height(), 0, 0); });
    });
    connect(&m_plot, &TracePlot::otherWanted, &m_desk, &RecordingDesk::setOther);
    connect(&m_plot, &TracePlot::spanWanted, &m_desk, &RecordingDesk::setSpan);
    connect(&m_plot, &TracePlot::selectionWanted, &m_desk, &RecordingDesk::setSelection);
    connect(&m_plot, &TracePlot::resized, this, [this] { m_desk.setColumns(m_plot.columns()); });
    connect(&m_overview, &OverviewStrip::spanWanted, &m_desk, &RecordingDesk::setSpan);
    connect(&m_marks, &MarksPanel::stretchWanted, this, [this](TimeSpan span) {
        const Micros around_us = std::max<Micros>(span.to_us - span.from_us, 60 * kMicrosASecond);
        m_desk.setSpan({span.from_us - around_us, span.to_us + around_us});
        m_desk.setCursor(span.from_us);
    });
    connect(&m_desk, &RecordingDesk::recordingChanged, this, [this] {
        if (isVisible()) showRecordings();
    });
    connect(&m_desk, &RecordingDesk::looked, this, [this] {
        if (isVisible()) showLook();
    });
    connect(&m_desk, &RecordingDesk::failed, this, &RecorderPage::failed);
    connect(&m_recorder, &LiveRecorder::changed, this, &RecorderPage::showState);
    connect(&m_recorder, &LiveRecorder::progressed, this, &RecorderPage::showState);
    connect(&m_recorder, &LiveRecorder::failed, this, &RecorderPage::failed);
    connect(&m_workbench.feed(), &LiveFeed::statusChanged, this, [this] {
        if (isVisible()) showState();
    });
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        if (isVisible()) dressAll();
    });
}

void RecorderPage::buildMore() {
    m_moreMenu.addAction(tr("&Export CSV…"), this, &RecorderPage::exportCsv);
    m_moreMenu.addAction(tr("Re&name…"), this, [this] {
        bool isGiven = false;
        const QString name = QInputDialog::getText(this, tr("Rename"), tr("What the recording is called:"),
                                                   QLineEdit::Normal, qs(m_desk.recording()->name), &isGiven);
        if (isGiven && !name.trimmed().isEmpty()) m_desk.rename(name.trimmed());
    });
    m_remove = m_moreMenu.addAction(tr("Re&move…"), this, [this] {
        QMessageBox box(QMessageBox::Warning, tr("Remove a recording"),
                        tr("Its samples are gone for good: Undo does not bring them back."), QMessageBox::Cancel, this);
        box.setObjectName(QStringLiteral("recorder.sure"));
        box.setTextFormat(Qt::PlainText);
        // A name is plain text: an & in it is no shortcut.
        QString name = qs(m_desk.recording()->name);
        QPushButton* sure = box.addButton(tr("Remove “%1”").arg(name.replace(QLatin1Char('&'), QLatin1String("&&"))),
                                          QMessageBox::DestructiveRole);
        box.exec();
        if (box.clickedButton() == sure) m_desk.removeChosen();
    });
}

void RecorderPage::dressAll() {
    dress(m_title, Theme::instance().text(20, true), colours().ink);
    m_title.setText(tr("Recorder"));
    dress(m_day, Theme::instance().text(13), colours().ink2);
    dress(m_counts, Theme::instance().text(12), colours().ink2);
    dress(m_state, Theme::instance().text(13, true), colours().ink);
    dress(m_empty, Theme::instance().text(14), colours().ink2);
    const int width = std::min(px(kPanelWidth), kWidestPanel);
    m_cursor.setFixedWidth(width);
    m_marks.setFixedWidth(width);
    QPalette sheet = palette();
    sheet.setColor(QPalette::Window, colours().sheet);
    for (QWidget* panel : {static_cast<QWidget*>(&m_noise), static_cast<QWidget*>(&m_marks)}) {
        panel->setAutoFillBackground(true);
        panel->setPalette(sheet);
    }
    showRecordings();
    showLook();
}

void RecorderPage::fillGauges() {
    m_gaugeMenu.clear();
    const BenchRecording* recording = m_desk.recording();
    if (!recording) return;
    for (const Track& track : recording->tracks) {
        QString name =
            track.isWorkedOut ? tr("%1, from its inputs").arg(qs(track.newest().name)) : qs(track.newest().name);
        QAction* action = m_gaugeMenu.addAction(name.replace(QLatin1Char('&'), QLatin1String("&&")));
        action->setCheckable(true);
        const auto& chosen = m_desk.gauges();
        action->setChecked(std::find(chosen.begin(), chosen.end(), track.gauge) != chosen.end());
        connect(action, &QAction::triggered, this, [this, id = track.gauge](bool on) {
            std::vector<std::int64_t> gauges = m_desk.gauges();
            std::erase(gauges, id);
            if (on) gauges.push_back(id);
            // Later: the menu is filled anew.
            QMetaObject::invokeMethod(
                this, [this, gauges] { m_desk.setGauges(gauges); }, Qt::QueuedConnection);
        });
    }
}

void RecorderPage::showRecordings() {
    const BenchRecording* recording = m_desk.recording();
    {
        const QSignalBlocker quiet(m_which);
        m_which.clear();
        const auto& all = m_desk.recordings();
        for (auto it = all.rbegin(); it != all.rend(); ++it) m_which.addItem(qs(it->name), qint64{it->id});
        if (recording) m_which.setCurrentIndex(m_which.findData(qint64{recording->id}));
    }
    m_which.setFont(Theme::instance().text(13));
    m_which.setVisible(recording != nullptr);
    for (QPushButton* button : {&m_gauges, &m_more, &m_whole}) button->setVisible(recording != nullptr);
    m_remove->setEnabled(recording && recording->id != m_recorder.recording());
    m_conversion.setVisible(recording != nullptr);
    if (!m_gaugeMenu.isVisible()) fillGauges();
    m_plot.setVisible(recording != nullptr);
    m_overview.setVisible(recording != nullptr);
    m_noiseScroll.setVisible(recording != nullptr);
    m_marks.setVisible(recording != nullptr);
    m_cursor.setVisible(recording != nullptr);
    m_empty.setVisible(recording == nullptr);
    if (recording) {
        m_plot.setMarks(recording->marks);
        m_overview.setSpans(m_desk.span(), m_desk.whole(), recording->marks);
        m_plot.setSpan(m_desk.span(), m_desk.whole());
    }
    showState();
}

void RecorderPage::showState() {
    const BenchRecording* recording = m_desk.recording();
    const Recorder::Status status = m_recorder.status();
    const bool isRunning = m_recorder.isRunning();
    m_record.setText(isRunning ? tr("Stop") : tr("&Record  ●"));
    m_record.setToolTip(tr("R"));
    m_marker.setToolTip(tr("M: now, while it records; else at the cursor"));
    m_marker.setEnabled(isRunning || (recording && m_desk.cursor()));
    m_state.setText(isRunning ? tr("recording ●  %1").arg(elapsedText(status.last_us - status.started_us)) : QString());
    if (recording) {
        m_day.setText(tr("%1, %2 of %3 gauges shown")
                          .arg(dayText(recording->started_us))
                          .arg(m_desk.gauges().size())
                          .arg(recording->tracks.size()));
        QString counts = tr("%1 · %2 samples").arg(qs(recording->source)).arg(recording->samples());
        if (isRunning && status.lost > 0) counts += tr(" · %1 lost").arg(status.lost);
        if (!recording->ended_us && recording->id != m_recorder.recording()) counts += tr(" · ended without Stop");
        m_counts.setText(counts);
    } else {
        m_day.setText({});
        m_counts.setText({});
        const bool hasFile = m_workbench.bench().hasFile(), hasSource = m_workbench.feed().hasSource();
        m_empty.setText(
            !hasFile ? tr("This bench is in no file. Bench, Save a copy gives it one; then its gauges can be recorded.")
            : !hasSource
                ? tr("Nothing is recorded yet. Choose a source first: Source, Simulated bench or Serial port.")
                : tr("Nothing is recorded yet. R records every gauge that has a channel, raw, until you stop it."));
    }
}

void RecorderPage::showLook() {
    m_plot.setSpan(m_desk.span(), m_desk.whole());
    m_plot.setTraces(m_desk.seen(), m_desk.seenSpan());
    m_plot.setCursor(m_desk.cursor(), m_desk.other());
    m_plot.setSelection(m_desk.selection());
    if (const BenchRecording* recording = m_desk.recording())
        m_overview.setSpans(m_desk.span(), m_desk.whole(), recording->marks);
    m_desk.setColumns(m_plot.columns());
    m_cursor.refresh();
    m_noise.refresh();
    // As high as it is, up to a third of the page: then it scrolls.
    m_noiseScroll.setFixedHeight(std::min(m_noise.sizeHint().height() + 2, height() * 2 / 5));
    m_marks.refresh();
    showState();
}

void RecorderPage::startOrStop() {
    if (m_recorder.isRunning()) return m_recorder.stop();
    if (const auto started = m_recorder.start(nameNow()); !started) emit failed(qs(started.error().message()));
}

void RecorderPage::mark() {
    if (!m_recorder.isRunning() && !(m_desk.recording() && m_desk.cursor())) return;
    bool isGiven = false;
    const Micros at_us = m_desk.cursor().value_or(0);
    const bool isNow = m_recorder.isRunning();
    const Moment now = m_workbench.feed().moment();
    const QString text =
        QInputDialog::getText(this, tr("Marker"),
                              isNow ? tr("What happens now:") : tr("What was at %1:").arg(clockText(at_us)),
                              QLineEdit::Normal, {}, &isGiven);
    if (!isGiven) return;
    if (isNow)
        m_recorder.mark(text.trimmed(), now);
    else
        m_desk.addMark(at_us, text.trimmed());
}

void RecorderPage::exportCsv() {
    const BenchRecording* recording = m_desk.recording();
    if (!recording) return;
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Export what is shown as CSV"),
                                     qs(recording->name).simplified().replace(QLatin1Char('/'), QLatin1Char('-')) +
                                         QStringLiteral(".csv"),
                                     tr("CSV (*.csv)"));
    if (path.isEmpty()) return;
    QProgressDialog progress(tr("Writing %1").arg(path), tr("Cancel"), 0, 100, this);
    progress.setWindowModality(Qt::WindowModal);
    progress.setMinimumDuration(1000);
    const auto rows = m_desk.exportTo(path, [&](double part) {
        progress.setValue(static_cast<int>(100 * part));
        return !progress.wasCanceled();
    });
    if (!rows && rows.error().code != ErrorCode::Busy) emit failed(qs(rows.error().message()));
}

void RecorderPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    dressAll();
    m_desk.refresh();
    m_plot.setFocus();
}

// Escape belongs to the selection and the cursor first, before it leads back to live values.
bool RecorderPage::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        event->accept();
        return true;
    }
    return QWidget::event(event);
}

void RecorderPage::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && m_desk.selection()) return m_desk.setSelection(std::nullopt);
    if (event->key() == Qt::Key_Escape && m_desk.other()) return m_desk.setOther(std::nullopt);
    if (event->key() == Qt::Key_Escape && m_desk.cursor()) return m_desk.setCursor(std::nullopt);
    if (event->key() == Qt::Key_Escape) return emit done();
    QWidget::keyPressEvent(event);
}

}  // namespace fg::gui
