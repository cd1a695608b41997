#include "model/live_feed.h"

#include <cmath>

namespace fg::gui {

LiveFeed::LiveFeed(QObject* parent) : QObject(parent) {
    m_clock.start();
    m_tick.setInterval(1000);
    connect(&m_tick, &QTimer::timeout, this, &LiveFeed::tick);
}

void LiveFeed::setSource(std::unique_ptr<ByteSource> source) {
    m_source = std::move(source);
    m_reader = LineReader();
    m_values.clear();
    m_frameRate = 0;
    m_framesBefore = 0;
    if (m_source) {
        connect(m_source.get(), &ByteSource::bytes, this, &LiveFeed::take);
        connect(m_source.get(), &ByteSource::stateChanged, this, [this] {
            if (!m_source->problem().isEmpty()) m_reader.interrupt();
            emit statusChanged();
        });
        m_source->start();
        m_tick.start();
    } else {
        m_tick.stop();
    }
    emit received();
    emit statusChanged();
}

void LiveFeed::take(const QByteArray& bytes) {
    const auto frames = m_reader.feed({bytes.constData(), static_cast<std::size_t>(bytes.size())});
    for (const Frame& frame : frames)
        for (const RawSample& sample : frame.samples)
            if (const double* raw = std::get_if<double>(&sample.raw))
                m_values.insert(QString::fromStdString(sample.channel), {*raw, {}, m_clock.elapsed()});
            else
                m_values.insert(QString::fromStdString(sample.channel),
                                {std::nan(""), std::get<std::vector<std::uint8_t>>(sample.raw), m_clock.elapsed()});
    if (!frames.empty()) emit received();
}

void LiveFeed::tick() {
    const std::uint64_t frames = m_reader.frameCount();
    m_frameRate = 0.5 * m_frameRate + 0.5 * static_cast<double>(frames - m_framesBefore);
    if (m_frameRate < 0.05) m_frameRate = 0;
    m_framesBefore = frames;
    emit received();  // values grow old without a new one
    emit statusChanged();
}

std::optional<LiveFeed::Latest> LiveFeed::latest(const QString& channel) const {
    const auto it = m_values.constFind(channel);
    if (channel.isEmpty() || it == m_values.constEnd()) return std::nullopt;
    const double age_s = static_cast<double>(m_clock.elapsed() - it->at_ms) / 1000;
    return Latest{it->raw, it->bytes, age_s, age_s > kStaleAfter_s};
}

QStringList LiveFeed::channels() const {
    QStringList names = m_values.keys();
    names.sort();
    return names;
}

}  // namespace fg::gui
