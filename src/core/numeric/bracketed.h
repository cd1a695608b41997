#pragma once

#include "numeric/inverse_table.h"
#include "numeric/transfer.h"
#include "units/error.h"

#include <atomic>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>

namespace fg {

/// A function of which only the forward direction is known in closed form, strictly monotonic over a finite range. The
/// inverse is found between the range's ends by bracketing (Boost.Math toms748, to the last bits of a double), once for
/// each place of an InverseTable when the first value is asked for; values read from that are within 2e-13 of the
/// range's width. NaN for values the function does not take there.
class Bracketed {
  public:
    /// Checks at `kChecks` places that the function is finite and monotonic; the error says where it is not. `field`
    /// names what the user entered.
    [[nodiscard]] static Expected<Bracketed> make(std::function<double(double)> function, Interval range,
                                                  const std::string& field);

    [[nodiscard]] double forward(double x) const { return (*m_function)(x); }
    [[nodiscard]] double inverse(double y) const {
        const InverseTable* table = m_lazy->ready.load(std::memory_order_acquire);
        return (table ? *table : makeTable()).at(y);
    }
    [[nodiscard]] Interval range() const { return m_range; }
    [[nodiscard]] bool isRising() const { return m_rising; }

    static constexpr int kChecks = 512;

  private:
    Bracketed() = default;
    struct Lazy {  // shared by copies, made when first needed
        std::once_flag once;
        std::optional<InverseTable> table;
        std::atomic<const InverseTable*> ready = nullptr;
    };
    [[nodiscard]] const InverseTable& makeTable() const;
    [[nodiscard]] static double solve(const std::function<double(double)>& function, Interval range, double y);
    std::shared_ptr<const std::function<double(double)>> m_function;
    std::shared_ptr<Lazy> m_lazy;
    Interval m_range;
    bool m_rising = true;
};

}  // namespace fg
