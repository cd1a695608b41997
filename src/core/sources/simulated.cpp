#include "simulation/virtual_board.h"
#include "sources/source.h"

#include <algorithm>

namespace fg {
namespace {

/// The virtual board, measured four times a second.
class SimulatedBench final : public Source {
  public:
    SimulatedBench(VirtualParts parts, const Catalogue& catalogue, double speed)
        : m_board(std::move(parts), catalogue), m_speed(speed) {}
    std::string name() const override { return "Simulated bench"; }
    Given take(double now_s) override {
        Given given;
        if (!m_next_s) {
            m_next_s = now_s + kInterval_s;
            given.pieces.push_back({now_s, m_board.measure(0)});
        }
        // After a long pause (a computer that slept) it goes on from now: nobody measured meanwhile.
        constexpr double kMostBehind_s = 10;
        if (now_s - *m_next_s > kMostBehind_s) m_next_s = now_s;
        for (; *m_next_s <= now_s; *m_next_s += kInterval_s)
            given.pieces.push_back({*m_next_s, m_board.measure(m_speed * kInterval_s)});
        return given;
    }
    double quietFor_s(double now_s) const override { return m_next_s ? std::clamp(*m_next_s - now_s, 0.0, 0.1) : 0; }

  private:
    static constexpr double kInterval_s = 0.25;
    VirtualBoard m_board;
    double m_speed;
    std::optional<double> m_next_s;
};

}  // namespace

Expected<std::unique_ptr<Source>> simulatedSource(const std::string& demo, double speed, const Catalogue& catalogue) {
    auto parts = readVirtualBoard(demo, catalogue);
    if (!parts) return tl::unexpected(parts.error());
    return std::make_unique<SimulatedBench>(std::move(*parts), catalogue, speed);
}

}  // namespace fg
