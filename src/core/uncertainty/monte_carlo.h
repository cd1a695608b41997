#pragma once

#include "uncertainty/budget.h"

#include <functional>

namespace fg {

/// What a Monte Carlo run over a gauge's tolerances found. Values canonical.
struct MonteCarlo {
    double at = 0;                 ///< value of the measurand
    std::size_t draws = 0;         ///< that gave a reading
    std::size_t withoutValue = 0;  ///< draws for which the path had no value; left out of the rest
    double mean = 0;
    double standard = 0;
    double low = 0, high = 0;  ///< probabilistically symmetric interval of 95.45 %
    double expanded = 0;       ///< half of high − low
    double scatter = 0;        ///< standard deviation that `standard` itself has from the finite number of draws
    double endScatter = 0;     ///< the same of `low` and `high`, the larger of both
};

/// Most draws taken: every one is kept until the end, 8 bytes each.
inline constexpr std::size_t kMostDraws = 100'000'000;

/// Propagates the same distributions as budgetAt() through the path itself, drawing every tolerance at once (JCGM
/// 101:2008, 7).
///
/// Parameters rectangular within their limits; part accuracy and converter error rectangular; quantisation rectangular
/// over one code; the correction of self-heating rectangular; noise and the calibration's own uncertainty normal.
/// `draws` 100 to kMostDraws; the same `seed` gives the same result. `progress` is called now and then with 0 … 1 and
/// may answer false to stop; then the result is a Busy error. Other errors: those of budgetAt().
[[nodiscard]] Expected<MonteCarlo> monteCarlo(const GaugeSpec& spec, const Catalogue& catalogue, double world,
                                              std::size_t draws, std::uint64_t seed = 1,
                                              const std::function<bool(double)>& progress = {});

/// Do both agree? The ends of both intervals, within half a unit of the second significant digit of the standard
/// uncertainty (JCGM 101:2008, 8.1), and three times the run's own scatter there.
[[nodiscard]] bool agree(const Budget& budget, const MonteCarlo& run);

/// Both results side by side in one line, in `unit`.
[[nodiscard]] std::string comparison(const Budget& budget, const MonteCarlo& run, const Unit& unit);

}  // namespace fg
