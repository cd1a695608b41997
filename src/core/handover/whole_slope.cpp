#include "handover/whole_slope.h"

#include "derived/running.h"

#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// Mean of the readings less the first one, rounded.
std::int64_t meanOf(const WholeSlope::Piece& piece) {
    return (piece.sum + piece.count * WholeSlope::kBelow + piece.count / 2) / piece.count - WholeSlope::kBelow;
}
/// Mean of the readings, from the lowest that is taken on.
std::int64_t levelOf(const WholeSlope::Piece& piece) { return piece.first + WholeSlope::kMostReading + meanOf(piece); }

}  // namespace

WholeSlope::WholeSlope(std::int64_t window_ms, std::int64_t readingScale, std::int64_t valueScale) {
    constexpr double kMillisecondsAnHour = 3.6e6;
    const double steps = kMillisecondsAnHour * static_cast<double>(valueScale) / static_cast<double>(readingScale);
    const auto ticksOfWindow = [&] { return std::ldexp(static_cast<double>(window_ms), m_tickShift); };
    // As fine as the bounds let it be: below 2^16 ticks in the window, and a factor below 2^30.
    constexpr int kFinest = 15;
    m_tickShift = kFinest;
    while (ticksOfWindow() >= 0x1p16 || std::ldexp(steps, m_tickShift) >= 0x1p30) --m_tickShift;
    m_leastTicks = std::max<std::int64_t>(1, std::llround(std::ceil(kLeastPartForRate * ticksOfWindow())));
    const double factor = std::ldexp(steps, m_tickShift);
    constexpr int kMostShift = 40;
    while (m_factorShift < kMostShift && std::ldexp(factor, m_factorShift + 1) < 0x1p31) ++m_factorShift;
    m_factor = static_cast<std::uint64_t>(std::llround(std::ldexp(factor, m_factorShift)));
}

void WholeSlope::add(Piece& piece, std::int64_t at_ms, std::int64_t reading) const {
    if (piece.count >= kMostCount) return;
    const std::int64_t passed = ticks(at_ms - piece.first_ms), apart = reading - piece.first;
    ++piece.count;
    piece.times += passed;
    piece.squares += passed * passed;
    piece.sum += apart;
    piece.products += passed * apart;
}

bool WholeSlope::of(std::span<const Piece> pieces, std::int64_t& value) const {
    if (pieces.empty()) return false;
    const std::int64_t start_ms = pieces.front().first_ms;
    const auto timeOf = [&](const Piece& piece) {
        return ticks(piece.first_ms - start_ms) + piece.times / piece.count;
    };
    if (timeOf(pieces.back()) - timeOf(pieces.front()) < m_leastTicks) return false;
    std::int64_t all = 0;
    for (const Piece& piece : pieces) all += piece.count;
    int halvings = 0;
    while (all >> halvings > kMostWeights) ++halvings;
    const auto weightOf = [&](const Piece& piece) { return std::max<std::int64_t>(1, piece.count >> halvings); };
    std::int64_t weights = 0, middle = 0, mean = 0;
    for (const Piece& piece : pieces) {
        weights += weightOf(piece);
        middle += weightOf(piece) * timeOf(piece);
        mean += weightOf(piece) * levelOf(piece);
    }
    middle /= weights;
    mean /= weights;
    std::int64_t products = 0, squares = 0;
    for (const Piece& piece : pieces) {
        const std::int64_t apart = timeOf(piece) - middle;
        products += weightOf(piece) * apart * (levelOf(piece) - mean);
        squares += weightOf(piece) * apart * apart;
        // what the readings of a piece are about their own mean
        products += (piece.products - piece.times * meanOf(piece)) / (std::int64_t{1} << halvings);
        squares += (piece.squares - piece.times * piece.times / piece.count) >> halvings;
    }
    auto rise = static_cast<std::uint64_t>(std::abs(products)), run = static_cast<std::uint64_t>(squares);
    while (run >> 32 != 0) {
        rise >>= 1;
        run >>= 1;
    }
    const std::uint64_t half = m_factorShift > 0 ? std::uint64_t{1} << (m_factorShift - 1) : 0;
    const std::uint64_t size = (rise / run * m_factor + rise % run * m_factor / run + half) >> m_factorShift;
    const auto most = static_cast<std::int64_t>(std::min<std::uint64_t>(size, kMostValue));
    value = products < 0 ? -most : most;
    return true;
}

}  // namespace fg
