#pragma once

#include <functional>
#include <memory>
#include "numeric/transfer.h"
#include "units/error.h"

namespace fg {

/// A function of which only the forward direction is known in closed form, strictly monotonic over a finite range. The inverse is found
/// between the range's ends by bracketing (Boost.Math toms748, to the last bits of a double); NaN for values the function does not take
/// there.
class Bracketed {
  public:
    /// Checks at `kChecks` places that the function is finite and monotonic; the error says where it is not. `field` names what the user
    /// entered.
    [[nodiscard]] static Expected<Bracketed> make(std::function<double(double)> function, Interval range, const std::string& field);

    [[nodiscard]] double forward(double x) const { return (*m_function)(x); }
    [[nodiscard]] double inverse(double y) const;
    [[nodiscard]] Interval range() const { return m_range; }
    [[nodiscard]] bool isRising() const { return m_rising; }

    static constexpr int kChecks = 512;

  private:
    Bracketed() = default;
    std::shared_ptr<const std::function<double(double)>> m_function;
    Interval m_range;
    bool m_rising = true;
};

}  // namespace fg
