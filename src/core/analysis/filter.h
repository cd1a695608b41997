#pragma once

#include "path/gauge_spec.h"
#include "units/error.h"

#include <deque>
#include <optional>
#include <string>
#include <vector>

namespace fg {

/// What a filter does to noise that is independent from reading to reading.
struct FilterEffect {
    double noise = 1;          ///< what is left of its deviation
    double delay_samples = 0;  ///< by how much a slow change comes late
};

/// Smooths readings one by one, as a program on a board would.
///
/// Of white noise: the mean of n leaves 1/√n and is (n − 1)/2 late; the median of n leaves √(π/(2n)) of many (of few
/// its exact share) and is as late; the exponential with α leaves √(α/(2 − α)) and is (1 − α)/α late. The outlier gate
/// (median of the last n ± three robust deviations, 1.4826 · median of the deviations) leaves ordinary noise as it is.
class ReadingFilter {
  public:
    /// Errors: Unknown for a kind; Range for n or α that it cannot have.
    [[nodiscard]] static Expected<ReadingFilter> make(const FilterSpec& spec);

    /// The filtered reading after this one; NaN is passed over and gives NaN.
    [[nodiscard]] double take(double value);
    [[nodiscard]] FilterEffect effect() const;
    /// How many readings the gate has held back.
    [[nodiscard]] std::size_t gated() const { return m_gated; }

    static constexpr std::size_t kMost = 10'000;

  private:
    explicit ReadingFilter(FilterSpec spec) : m_spec(std::move(spec)) {}
    FilterSpec m_spec;
    std::deque<double> m_last;
    std::optional<double> m_state;
    std::size_t m_gated = 0;
};

/// "mean of 16", "exponential, α 0.2".
[[nodiscard]] std::string filterText(const FilterSpec& spec);

}  // namespace fg
