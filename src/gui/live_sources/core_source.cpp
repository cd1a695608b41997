#include "live_sources/core_source.h"

#include "sources/source.h"
#include "widgets/text.h"

namespace fg::gui {
namespace {
constexpr int kEvery_ms = 50;
}

CoreSource::CoreSource(std::unique_ptr<Source> source, QObject* parent)
    : ByteSource(parent), m_source(std::move(source)), m_timer(this) {
    m_timer.setInterval(kEvery_ms);
    connect(&m_timer, &QTimer::timeout, this, &CoreSource::take);
}

CoreSource::~CoreSource() = default;

QString CoreSource::name() const { return qs(m_source->name()); }

double CoreSource::speed() const { return m_source->speed(); }

std::optional<qint64> CoreSource::origin_us() const {
    const auto origin_us = m_source->origin_us();
    return origin_us ? std::optional<qint64>(*origin_us) : std::nullopt;
}

void CoreSource::start() {
    m_clock.start();
    m_timer.start();
    take();
}

void CoreSource::take() {
    const double now_s = 1e-3 * static_cast<double>(m_clock.elapsed()) * m_source->speed();
    const Source::Given given = m_source->take(now_s);
    for (const Source::Piece& piece : given.pieces) emit timedBytes(QByteArray::fromStdString(piece.bytes), piece.at_s);
    QString problem = qs(given.problem);
    if (given.isAtEnd) {
        m_timer.stop();
        if (problem.isEmpty()) problem = tr("it has come to its end");
    }
    if (problem == m_problem) return;
    m_problem = problem;
    emit stateChanged(problem);
}

}  // namespace fg::gui
