#include "model/live_feed.h"

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

LiveFeed::~LiveFeed() { dropSource(); }

void LiveFeed::dropSource() {
    if (!m_source) return;
    // Its timers and ports may only be closed where they were opened.
    QMetaObject::invokeMethod(
        m_source, [source = m_source] { delete source; }, Qt::BlockingQueuedConnection);
    m_source = nullptr;
    m_thread.quit();
    m_thread.wait();
}

void LiveFeed::setSource(std::unique_ptr<ByteSource> source) {
    dropSource();
    m_engine.restart();
    m_frameRate = 0;
    m_framesBefore = 0;
    m_name = source ? source->name() : QString();
    m_problem.clear();
    if (source) {
        m_source = source.release();
        connect(m_source, &ByteSource::bytes, this, &LiveFeed::take, Qt::DirectConnection);
        connect(
            m_source, &ByteSource::stateChanged, this,
            [this](const QString& problem) {
                if (!problem.isEmpty()) m_engine.interrupt();
                m_problem = problem;
                emit statusChanged();
            },
            Qt::QueuedConnection);
        connect(
            m_source, &ByteSource::renamed, this,
            [this](const QString& name, const QString& why) {
                m_engine.interrupt();
                m_name = name;
                emit statusChanged();
                emit noticed(why);
            },
            Qt::QueuedConnection);
        m_thread.start();
        m_source->moveToThread(&m_thread);
        QMetaObject::invokeMethod(m_source, &ByteSource::start, Qt::BlockingQueuedConnection);
        m_tick.start();
    } else {
        m_tick.stop();
    }
    emit received();
    emit statusChanged();
}

void LiveFeed::take(const QByteArray& bytes) {
    m_engine.take({bytes.constData(), static_cast<std::size_t>(bytes.size())}, now_s());
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
    latest.age_s = std::max(0.0, now_s() - raw->second);
    latest.stale = latest.age_s > kStaleAfter_s;
    latest.reading = last ? last->reading : Reading{std::nan("")};
    const double* word = std::get_if<double>(&raw->first);
    latest.raw = word ? *word : std::nan("");
    if (!word) latest.bytes = std::get<std::vector<std::uint8_t>>(raw->first);
    return latest;
}

Moment LiveFeed::moment() const {
    constexpr std::int64_t kThousand = 1000;
    return {QDateTime::currentMSecsSinceEpoch() * kThousand, now_s()};
}

QStringList LiveFeed::channels() const {
    QStringList names;
    for (const std::string& name : m_engine.status().channels) names << QString::fromStdString(name);
    return names;
}

}  // namespace fg::gui
