#pragma once

#include "handover/formula_code.h"

#include <functional>
#include <optional>

namespace fg {

/// A reading in whole numbers: a polynomial by Horner's rule with a shift after each product, or a table at equal steps
/// with a straight line between its entries. The result is the reading times `scale`.
///
/// Polynomial: x = floor(code/2^drop) − centre; y = c[n], then for i = n − 1 … 0 y = floor((y·x + 2^(s − 1))/2^s) +
/// c[i] with s = shifts[i], without the rounding where s is 0; the result is floor(y/2^fraction), and c[0] holds the
/// half that rounds it. Each partial sum has as many bits as the next product leaves it. Table: i = floor((code −
/// first)/2^drop), part = what is left; p[i] + floor(((p[i+1] − p[i])·part + 2^(drop−1))/2^drop).
struct IntegerForm {
    enum class Kind { Polynomial, Table };
    Kind kind = Kind::Polynomial;
    int width = 32;  ///< of every product and sum, in bits, signed
    std::int64_t scale = 1;
    int drop = 0;
    std::int64_t centre = 0;
    std::vector<int> shifts;  ///< Polynomial: after the product of each step
    int fraction = 0;
    std::vector<std::int64_t> numbers;  ///< c, lowest power first; or the entries
    std::int64_t first = 0;             ///< Table: code of its first entry
    CodeRange range;
    double peak = 0;         ///< largest product or sum that came up over every code of the range
    std::int64_t least = 0;  ///< of the results
    std::int64_t most = 0;

    /// How far it is from the next wrap, 1: it just fits.
    [[nodiscard]] double headroom() const { return peak > 0 ? std::ldexp(1.0, width - 1) / peak : HUGE_VAL; }
    [[nodiscard]] int degree() const { return static_cast<int>(numbers.size()) - 1; }
    /// The result for a code of the range; `top` takes the largest magnitude on the way.
    [[nodiscard]] std::int64_t at(std::int64_t code, double& top) const;
    /// Bits of an entry of the table, or of a coefficient.
    [[nodiscard]] int entryBits() const;
    [[nodiscard]] std::size_t bytes() const;
    [[nodiscard]] int operations() const;
};

/// How far whole numbers, or any other way to compute, are from the gauge itself; in the unit of the reading.
struct CodeError {
    double worst = 0, mean = 0;
    std::int64_t atCode = 0;
    std::int64_t checked = 0;  ///< codes it was run over

    /// Takes in what other codes showed, while the means of both are sums still. Is theirs the worst now?
    bool takeIn(const CodeError& others) {
        const bool isWorse = others.checked > 0 && (checked == 0 || others.worst > worst);
        if (isWorse) {
            worst = others.worst;
            atCode = others.atCode;
        }
        mean += others.mean;
        checked += others.checked;
        return isWorse;
    }
};

/// The reading of a code in the unit of the result. Copies share nothing that changes: each may have its own thread.
using ReadingOfCode = std::function<double(std::int64_t code)>;

/// The error of `form` over every code of its range; fills in its peak and results. `exact` is asked for each.
[[nodiscard]] CodeError proveForm(IntegerForm& form, const ReadingOfCode& exact);

/// A form with its error over every code.
struct ProvenForm {
    IntegerForm form;
    CodeError error;
};

/// The polynomial of the lowest degree that holds `wanted` (in the unit of the reading) in integers of `width` bits
/// without overflow, over every code; where none does, the one that comes nearest. Nothing where not even a line fits.
/// A Chebyshev fit (Mason, Handscomb: Chebyshev Polynomials, 3.3), its coefficients scaled by the largest power of two
/// that the width allows.
[[nodiscard]] std::optional<ProvenForm> searchPolynomial(const CodeRange& range, std::int64_t scale, int width,
                                                         double wanted, const ReadingOfCode& exact);

/// The table with the fewest entries, at equal steps of a power of two, that holds `wanted`; where none does, one entry
/// a code. Nothing where that would be more than kMostEntries.
inline constexpr std::int64_t kMostEntries = 4096;
[[nodiscard]] std::optional<ProvenForm> searchTable(const CodeRange& range, std::int64_t scale, double wanted,
                                                    const ReadingOfCode& exact);

}  // namespace fg
