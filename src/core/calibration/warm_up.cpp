#include "calibration/warm_up.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg {
namespace {
/// Later than this after power came, a first reading is no cold one any more.
constexpr double kLate_s = 5;
}  // namespace

void WarmUp::take(double time_s, double reading) {
    if (!std::isfinite(reading)) return;
    m_watch.take(time_s, reading);
    if (!m_state) m_state = State{reading, time_s};
    m_state->after_s = time_s;
    const auto steady = m_watch.state();
    m_state->isSteady = steady && steady->isSteady;
    m_state->slope = steady ? steady->slope : 0;
    m_state->rise = (m_state->isSteady ? steady->mean : reading) - m_state->first;
}

std::optional<WarmUp::State> WarmUp::state() const { return m_state; }

std::string WarmUp::text(const Unit& unit) const {
    if (!m_state) return "Waiting for its first reading.";
    const auto amount = [&](double difference) {
        return significantDigits(unit.differenceFromCanonical(difference), 2) + " " + std::string(unit.symbol);
    };
    std::string text = fmt::format("First reading {} {}, {} s after power{}. ",
                                   significantDigits(unit.fromCanonical(m_state->first), 4), unit.symbol,
                                   fixedDigits(m_state->firstAt_s, 0),
                                   m_state->firstAt_s > kLate_s ? ": late, the chip was warm already" : "");
    if (m_state->isSteady)
        return text + fmt::format("Steady after {} s: running it is {} above that, and so above the air.",
                                  fixedDigits(m_state->after_s, 0), amount(m_state->rise));
    return text + fmt::format("After {} s it is {} above it, moving by {} a minute.", fixedDigits(m_state->after_s, 0),
                              amount(m_state->rise), amount(60 * m_state->slope));
}

}  // namespace fg
