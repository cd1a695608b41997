#include "model/recording_desk.h"

#include "files/output_file.h"
#include "path/derived_path.h"
#include "recording/recording_csv.h"
#include "recording/worked_out.h"
#include "widgets/text.h"

#include <algorithm>
#include <QThread>

namespace fg::gui {

RecordingDesk::RecordingDesk(Workbench& workbench, LiveRecorder& recorder, QObject* parent)
    : QObject(parent), m_workbench(workbench), m_recorder(recorder) {
    connect(&m_recorder, &LiveRecorder::changed, this, [this] {
        if (m_recorder.isRunning()) m_chosen = 0;  // the one that runs is looked at
        refresh();
    });
    connect(&m_recorder, &LiveRecorder::progressed, this, &RecordingDesk::refresh);
    connect(&m_workbench.bench(), &BenchModel::fileChanged, this, [this] {
        m_chosen = 0;
        refresh();
    });
    connect(&m_workbench.bench(), &BenchModel::changed, this, &RecordingDesk::followBench);
}

RecordingDesk::~RecordingDesk() {
    m_isStopped = true;
    if (m_worker) m_worker->wait();
}

void RecordingDesk::followBench() {
    std::vector<GaugeSpec> derived;
    for (const BenchGauge& gauge : m_workbench.bench().bench().gauges)
        if (DerivedPath::applies(gauge.spec)) derived.push_back(gauge.spec);
    const bool isSame = derived == m_derived;
    m_derived = std::move(derived);
    if (!isSame && !m_recordings.empty()) return refresh();
    if (m_conversion == Conversion::AsNow) look();
}

bool RecordingDesk::report(const Expected<void>& done) {
    if (!done) emit failed(qs(done.error().message()));
    return done.has_value();
}

void RecordingDesk::refresh() {
    if (m_workbench.bench().file() != m_file) {
        m_isStopped = true;
        if (m_worker) m_worker->wait();
        m_next.reset();
        m_file = m_workbench.bench().file();
        m_look = m_file ? std::make_shared<RecordingLook>(m_file->recordings(), m_workbench.catalogue()) : nullptr;
        m_recordings.clear();
        m_seen.clear();
        m_chosen = 0;
    }
    if (m_file) {
        std::vector<Error> unread;
        auto all = m_file->recordings().recordings(&unread);
        if (!all) return emit failed(qs(all.error().message()));
        // Told once, not with every refresh.
        if (unread.size() != std::exchange(m_unread, unread.size()) && !unread.empty())
            emit failed(tr("%1 pieces of recordings cannot be read and are left out; the first: %2")
                            .arg(unread.size())
                            .arg(qs(unread.front().message())));
        m_recordings.clear();
        for (BenchRecording& one : *all)
            m_recordings.push_back(withWorkedOut(std::move(one), m_workbench.bench().bench()));
    }
    if (!recording() && !m_recordings.empty()) return choose(m_recordings.back().id);
    if (m_isWhole) m_span = whole();
    emit recordingChanged();
    look();
}

const BenchRecording* RecordingDesk::recording() const {
    const auto it = std::find_if(m_recordings.begin(), m_recordings.end(),
                                 [this](const BenchRecording& one) { return one.id == m_chosen; });
    return it == m_recordings.end() ? nullptr : &*it;
}

TimeSpan RecordingDesk::whole() const {
    const BenchRecording* chosen = recording();
    TimeSpan span = chosen ? chosen->span() : TimeSpan{0, kMicrosASecond};
    span.to_us = std::max(span.to_us, span.from_us + kMicrosASecond);
    return span;
}

// As many as can be told apart: at first three, and not two of the same quantity more than needed.
std::size_t RecordingDesk::shownByItself(const BenchRecording& recording) const {
    constexpr std::size_t kAtFirst = 3;
    return std::min(kAtFirst, recording.tracks.size());
}

void RecordingDesk::choose(std::int64_t id) {
    m_chosen = id;
    const BenchRecording* chosen = recording();
    m_gauges.clear();
    m_cursor.reset();
    m_other.reset();
    m_selection.reset();
    m_seen.clear();
    m_isWhole = true;
    m_span = whole();
    if (chosen)
        for (std::size_t i = 0; i < shownByItself(*chosen); ++i) m_gauges.push_back(chosen->tracks[i].gauge);
    emit recordingChanged();
    look();
}

void RecordingDesk::setGauges(std::vector<std::int64_t> gauges) {
    m_gauges = std::move(gauges);
    emit recordingChanged();
    look();
}

void RecordingDesk::setConversion(Conversion conversion) {
    if (conversion == m_conversion) return;
    m_conversion = conversion;
    look();
}

void RecordingDesk::setSpan(TimeSpan span) {
    const TimeSpan all = whole();
    constexpr Micros kLeast_us = 10'000;
    const Micros length_us = std::clamp<Micros>(span.to_us - span.from_us, kLeast_us, all.to_us - all.from_us);
    span.from_us = std::clamp(span.from_us, all.from_us, all.to_us - length_us);
    span.to_us = span.from_us + length_us;
    m_isWhole = span == all;
    if (span == m_span) return;
    m_span = span;
    look();
}

void RecordingDesk::showWhole() { setSpan(whole()); }

void RecordingDesk::setColumns(std::size_t columns) {
    if (columns == m_columns || columns == 0) return;
    m_columns = columns;
    look();
}

void RecordingDesk::setCursor(std::optional<Micros> cursor) {
    if (cursor == m_cursor) return;
    m_cursor = cursor;
    look();
}

void RecordingDesk::setOther(std::optional<Micros> other) {
    if (other == m_other) return;
    m_other = other;
    look();
}

void RecordingDesk::setSelection(std::optional<TimeSpan> selection) {
    if (selection == m_selection) return;
    m_selection = selection;
    look();
}

void RecordingDesk::look() {
    const BenchRecording* chosen = recording();
    if (!chosen) {
        m_seen.clear();
        return emit looked();
    }
    LookWish wish{*chosen,    m_workbench.bench().bench(), m_conversion, m_gauges, m_span, m_columns, m_cursor, m_other,
                  m_selection};
    if (m_worker)
        m_next = std::move(wish);
    else
        begin(std::move(wish));
}

void RecordingDesk::begin(LookWish wish) {
    m_isStopped = false;
    auto answer = std::make_shared<Expected<std::vector<SeenTrack>>>();
    m_worker = QThread::create([this, answer, wish, look = m_look, file = m_file] {
        *answer = look->look(wish, [this](double) { return !m_isStopped.load(); });
    });
    connect(m_worker, &QThread::finished, this, [this, answer, span = wish.span, file = m_file] {
        m_worker->deleteLater();
        m_worker = nullptr;
        if (*answer && file == m_file) {
            m_seen = std::move(**answer);
            m_seenSpan = span;
        }
        if (m_next) {
            LookWish next = std::move(*m_next);
            m_next.reset();
            begin(std::move(next));
        }
        emit looked();
    });
    m_worker->start();
}

void RecordingDesk::rename(const QString& name) {
    if (m_file && recording() && report(m_file->recordings().rename(m_chosen, name.toStdString()))) refresh();
}

void RecordingDesk::removeChosen() {
    if (!m_file || !recording() || m_chosen == m_recorder.recording()) return;
    if (!report(m_file->recordings().remove(m_chosen))) return;
    m_chosen = 0;
    m_seen.clear();
    refresh();
}

void RecordingDesk::removeMark(std::int64_t mark) {
    if (m_file && recording() && report(m_file->recordings().removeMark(m_chosen, mark))) refresh();
}

void RecordingDesk::addMark(Micros time_us, const QString& text) {
    if (!m_file || !recording()) return;
    RecordingStep step;
    step.marks.push_back({0, MarkKind::Marker, {time_us, time_us}, 0, text.toStdString()});
    if (report(m_file->recordings().append(m_chosen, step))) refresh();
}

Expected<std::uint64_t> RecordingDesk::exportTo(const QString& path, const TrackReader::Progress& goesOn) const {
    const BenchRecording* chosen = recording();
    if (!chosen) return fail(ErrorCode::Missing, "", "no recording", "one to export");
    auto output = OutputFile::open(path.toStdString());
    if (!output) return tl::unexpected(output.error());
    auto rows = exportRecording(
        m_file->recordings(), *chosen, {m_span, m_gauges, m_conversion}, m_workbench.bench().bench(),
        m_workbench.catalogue(), [&](std::string_view text) { return (*output)->write(text); }, goesOn);
    if (!rows && rows.error().code != ErrorCode::Io) return rows;
    if (const auto kept = (*output)->commit(); !kept) return tl::unexpected(kept.error());
    return rows;
}

}  // namespace fg::gui
