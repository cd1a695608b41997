#pragma once

#include "live_sources/byte_source.h"

#include <QElapsedTimer>
#include <QTimer>

namespace fg {
class Source;
}

namespace fg::gui {

/// A source of the core: a recording played again, files of the kernel.
class CoreSource final : public ByteSource {
    Q_OBJECT
  public:
    explicit CoreSource(std::unique_ptr<Source> source, QObject* parent = nullptr);
    ~CoreSource() override;
    void start() override;
    [[nodiscard]] QString name() const override;
    [[nodiscard]] double speed() const override;
    [[nodiscard]] std::optional<qint64> origin_us() const override;

  private:
    void take();
    std::unique_ptr<Source> m_source;
    QElapsedTimer m_clock;
    QTimer m_timer;
    QString m_problem;
};

}  // namespace fg::gui
