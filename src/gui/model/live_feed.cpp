#include "model/live_feed.h"

#include "widgets/text.h"

#include <cmath>
#include <QDateTime>

namespace fg::gui {

LiveFeed::LiveFeed(const Catalogue& catalogue, QObject* parent) : QObject(parent), m_engine(catalogue) {
    m_clock.start();
    m_lastTold.start();
    m_tick.setInterval(1000);
    m_next.setSingleShot(true);
    connect(&m_tick, &QTimer::timeout, this, &LiveFeed::tick);
    connect(&m_next, &QTimer::timeout, this, &LiveFeed::tell);
}

LiveFeed::~LiveFeed() { dropSources(); }

void LiveFeed::dropSources() {
    for (const auto& one : m_sources) {
        // Its timers and ports may only be closed where they were opened.
        QMetaObject::invokeMethod(
            one->source, [source = one->source] { delete source; }, Qt::BlockingQueuedConnection);
        one->thread.quit();
        one->thread.wait();
    }
    m_sources.clear();
}

LiveFeed::Connected* LiveFeed::connectedOf(const ByteSource* source) const {
    for (const auto& one : m_sources)
        if (one->source == source) return one.get();
    return nullptr;
}

void LiveFeed::connectTo(Connected& one) {
    connect(
        one.source, &ByteSource::bytes, this,
        [this, number = one.number](const QByteArray& got) { take(number, got, now_s()); }, Qt::DirectConnection);
    // A source's own clock began when it was started, as ours did if it is the first.
    connect(
        one.source, &ByteSource::timedBytes, this,
        [this, number = one.number, begin_s = now_s(), scale = m_speed / one.source->speed()](
            const QByteArray& got, double at_s) { take(number, got, begin_s + scale * at_s); },
        Qt::DirectConnection);
    connect(
        one.source, &ByteSource::stateChanged, this,
        [this, source = one.source](const QString& problem) {
            Connected* const from = connectedOf(source);
            if (!from) return;  // said before it was taken away
            if (!problem.isEmpty()) m_engine.interrupt(from->number);
            from->problem = problem;
            emit statusChanged();
        },
        Qt::QueuedConnection);
    connect(
        one.source, &ByteSource::renamed, this,
        [this, source = one.source](const QString& name, const QString& why) {
            Connected* const from = connectedOf(source);
            if (!from) return;
            m_engine.interrupt(from->number);
            from->name = name;
            emit statusChanged();
            emit noticed(why);
        },
        Qt::QueuedConnection);
}

void LiveFeed::setSource(std::unique_ptr<ByteSource> source) {
    dropSources();
    m_engine.restart();
    m_frameRate = 0;
    m_framesBefore = 0;
    useClockOf(source.get());
    if (source) return addSource(std::move(source));
    m_tick.stop();
    emit received();
    emit statusChanged();
}

void LiveFeed::useClockOf(const ByteSource* source) {
    m_base_s = now_s();
    m_clock.restart();
    m_speed = source ? source->speed() : 1;
    m_origin_us = source ? source->origin_us() : std::nullopt;
}

void LiveFeed::addSource(std::unique_ptr<ByteSource> source) {
    auto owned = std::make_unique<Connected>();
    Connected& one = *owned;
    one.number = static_cast<int>(m_sources.size());
    one.name = source->name();
    one.source = source.release();
    m_sources.push_back(std::move(owned));
    connectTo(one);
    one.thread.start();
    one.source->moveToThread(&one.thread);
    QMetaObject::invokeMethod(one.source, &ByteSource::start, Qt::BlockingQueuedConnection);
    m_tick.start();
    emit received();
    emit statusChanged();
}

QString LiveFeed::sourceName() const {
    QStringList names;
    for (const auto& one : m_sources)
        names << (one->number == 0 ? one->name : QStringLiteral("%1: %2").arg(one->number + 1).arg(one->name));
    return names.join(QStringLiteral(" + "));
}

QString LiveFeed::problem() const {
    for (const auto& one : m_sources)
        if (!one->problem.isEmpty())
            return m_sources.size() == 1 ? one->problem : QStringLiteral("%1: %2").arg(one->name, one->problem);
    return {};
}

void LiveFeed::take(int source, const QByteArray& bytes, double time_s) {
    m_engine.take({bytes.constData(), static_cast<std::size_t>(bytes.size())}, time_s, source);
    if (!m_isWaiting.exchange(true)) QMetaObject::invokeMethod(this, &LiveFeed::told, Qt::QueuedConnection);
}

void LiveFeed::told() {
    if (!m_isWaiting || m_next.isActive()) return;
    const qint64 passed_ms = m_lastTold.elapsed();
    if (passed_ms >= kLeastBetween_ms) return tell();
    m_next.start(static_cast<int>(kLeastBetween_ms - passed_ms));
}

void LiveFeed::tell() {
    m_isWaiting = false;
    m_lastTold.restart();
    emit received();
}

void LiveFeed::flush() {
    m_next.stop();
    if (m_isWaiting) tell();
}

void LiveFeed::tick() {
    const std::uint64_t frames = m_engine.status().frames;
    m_frameRate = 0.5 * m_frameRate + 0.5 * static_cast<double>(frames - m_framesBefore);
    if (m_frameRate < 0.05) m_frameRate = 0;
    m_framesBefore = frames;
    // Values grow old without a new one.
    if (m_lastTold.elapsed() >= m_tick.interval() && !m_isWaiting) emit received();
    emit statusChanged();
}

std::optional<LiveFeed::Latest> LiveFeed::latest(const BenchGauge& gauge) const {
    const auto last = m_engine.last(gauge.id);
    if (DerivedPath::applies(gauge.spec)) {
        if (!last) return std::nullopt;
    } else if (gauge.spec.channel.empty()) {
        return std::nullopt;
    }
    // A gauge that was bound to a channel after its value came has not read it itself.
    const auto raw = last ? std::optional(std::pair(last->raw, last->time_s)) : m_engine.lastRaw(gauge.spec.channel);
    if (!raw) return std::nullopt;
    Latest latest;
    latest.age_s = std::max(0.0, now_s() - raw->second) / m_speed;  // as long as somebody has waited for it
    latest.stale = latest.age_s > kStaleAfter_s;
    latest.reading = last ? last->reading : Reading{std::nan("")};
    if (last) latest.standard = last->standard;
    const double* word = std::get_if<double>(&raw->first);
    latest.raw = word ? *word : std::nan("");
    if (!word) latest.bytes = std::get<std::vector<std::uint8_t>>(raw->first);
    return latest;
}

Moment LiveFeed::moment() const {
    constexpr std::int64_t kThousand = 1000;
    const double engine_s = now_s();  // once: both clocks of one moment
    if (m_origin_us) return {*m_origin_us + microsOf(engine_s - m_base_s), engine_s};
    return {QDateTime::currentMSecsSinceEpoch() * kThousand, engine_s};
}

QStringList LiveFeed::channels() const {
    QStringList names;
    for (const std::string& name : m_engine.status().channels) names << qs(name);
    return names;
}

}  // namespace fg::gui
