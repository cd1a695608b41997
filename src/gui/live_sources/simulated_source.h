#pragma once

#include "live_sources/byte_source.h"
#include "simulation/virtual_board.h"

#include <QTimer>

namespace fg::gui {

/// The simulated bench inside the application: the virtual board, measured four times a second.
class SimulatedSource final : public ByteSource {
    Q_OBJECT
  public:
    /// `speed`: workshop seconds per real second.
    explicit SimulatedSource(VirtualParts parts, const Catalogue& catalogue, double speed = 10,
                             QObject* parent = nullptr);
    void start() override;
    [[nodiscard]] QString name() const override { return tr("Simulated bench"); }

  private:
    VirtualBoard m_board;
    double m_speed;
    QTimer m_timer;
};

}  // namespace fg::gui
