#include "handover/integer_form.h"

#include "handover/in_parts.h"

#include "handover/code_text.h"
#include "numeric/least_squares.h"

#include <algorithm>
#include <cmath>

namespace fg {
namespace {

constexpr int kMostDegree = 9, kMostSpare = 3;
constexpr std::int64_t kSamples = 700;

std::int64_t floorDivide(std::int64_t value, int bits) { return value >> bits; }

int bitsOf(std::int64_t value) {
    int bits = 0;
    for (; value > 0; value >>= 1) ++bits;
    return bits;
}

double limitOf(int width) { return std::ldexp(1.0, width - 1) - 1; }

/// Codes for the search: dense towards the ends, where a polynomial goes astray first.
std::vector<std::int64_t> sampleCodes(const CodeRange& range) {
    std::vector<std::int64_t> codes;
    const std::int64_t count = std::min(range.size(), kSamples);
    for (std::int64_t i = 0; i < count; ++i) {
        const double share =
            count == 1 ? 0 : 0.5 - 0.5 * std::cos(M_PI * static_cast<double>(i) / static_cast<double>(count - 1));
        const auto code =
            range.first + static_cast<std::int64_t>(std::llround(share * static_cast<double>(range.size() - 1)));
        if (codes.empty() || codes.back() != code) codes.push_back(code);
    }
    return codes;
}

/// Coefficients of powers of t of the polynomial of `degree` through `y` in the sense of least squares; Chebyshev
/// polynomials in between keep the sums well conditioned.
std::optional<std::vector<double>> powersOf(const std::vector<double>& t, const std::vector<double>& y, int degree) {
    const auto rows = static_cast<Eigen::Index>(t.size());
    if (rows <= degree) return std::nullopt;
    Eigen::MatrixXd design(rows, degree + 1);
    Eigen::VectorXd values(rows);
    for (Eigen::Index row = 0; row < rows; ++row) {
        const double at = t[static_cast<std::size_t>(row)];
        values[row] = y[static_cast<std::size_t>(row)];
        for (int k = 0; k <= degree; ++k)
            design(row, k) = k == 0 ? 1 : k == 1 ? at : 2 * at * design(row, k - 1) - design(row, k - 2);
    }
    const auto fit = leastSquares(design, values);
    if (!fit) return std::nullopt;
    std::vector<std::vector<double>> chebyshev{{1}, {0, 1}};
    for (int k = 2; k <= degree; ++k) {
        std::vector<double> next(static_cast<std::size_t>(k) + 1, 0.0);
        const auto& last = chebyshev.back();
        const auto& before = chebyshev[chebyshev.size() - 2];
        for (std::size_t i = 0; i < last.size(); ++i) next[i + 1] += 2 * last[i];
        for (std::size_t i = 0; i < before.size(); ++i) next[i] -= before[i];
        chebyshev.push_back(std::move(next));
    }
    std::vector<double> powers(static_cast<std::size_t>(degree) + 1, 0.0);
    for (std::size_t k = 0; k < powers.size(); ++k)
        for (std::size_t i = 0; i < chebyshev[k].size(); ++i)
            powers[i] += fit->coefficients[static_cast<Eigen::Index>(k)] * chebyshev[k][i];
    return powers;
}

/// Where a power of two too many would not fit a 64-bit number nothing is tried.
std::optional<std::int64_t> rounded(double value, double limit) {
    if (!(std::abs(value) <= limit)) return std::nullopt;
    return static_cast<std::int64_t>(std::llround(value));
}

struct Samples {
    std::vector<std::int64_t> codes;
    std::vector<double> values;
};

Samples samplesOf(const CodeRange& range, const ReadingOfCode& exact) {
    Samples samples{sampleCodes(range), {}};
    for (const std::int64_t code : samples.codes) samples.values.push_back(exact(code));
    return samples;
}

/// The worst error over the samples; infinite where a product would not fit.
double worstOf(const IntegerForm& form, const Samples& samples) {
    double worst = 0, top = 0;
    // A little room: between two samples the products may be larger.
    const double limit = limitOf(form.width) * 0.999;
    for (std::size_t i = 0; i < samples.codes.size(); ++i) {
        const double value = static_cast<double>(form.at(samples.codes[i], top)) / static_cast<double>(form.scale);
        if (top > limit) return HUGE_VAL;
        worst = std::max(worst, std::abs(value - samples.values[i]));
    }
    return worst;
}

/// A real polynomial of t = x/2^xBits in the whole numbers of `form`, each partial sum with as many bits behind its
/// point as the width leaves it.
std::optional<IntegerForm> scaled(IntegerForm form, const std::vector<double>& powers, int xBits,
                                  const Samples& samples, int leastSpare) {
    const double limit = limitOf(form.width);
    const std::size_t count = powers.size();
    // The largest |partial sum| of Horner's rule, and of x.
    std::vector<double> peaks(count, 0.0);
    double mostX = 1;
    for (const std::int64_t code : samples.codes) {
        const auto x = static_cast<double>(floorDivide(code, form.drop) - form.centre);
        mostX = std::max(mostX, std::abs(x));
        double sum = 0;
        for (std::size_t i = count; i-- > 0;) {
            sum = sum * std::ldexp(x, -xBits) + powers[i];
            peaks[i] = std::max({peaks[i], std::abs(sum), std::abs(powers[i])});
        }
    }
    const auto scale = static_cast<double>(form.scale);
    constexpr int kMostTries = 4;
    for (int spare = leastSpare; spare < leastSpare + kMostTries; ++spare) {
        std::vector<int> bits(count);  // behind the point of each partial sum
        for (std::size_t i = count; i-- > 0;) {
            const double room = limit / (peaks[i] * scale * (i == 0 ? 1.0 : mostX) + 1e-300);
            bits[i] = static_cast<int>(std::floor(std::log2(std::min(room, 1e300)))) - spare;
            bits[i] = std::min(bits[i], form.width - 2);
            // A product can only be shifted to the right.
            if (i + 1 < count) bits[i] = std::min(bits[i], bits[i + 1] + xBits);
        }
        if (bits[0] < 0) continue;
        form.fraction = bits[0];
        form.shifts.clear();
        form.numbers.clear();
        for (std::size_t i = 0; i < count; ++i) {
            if (i + 1 < count) form.shifts.push_back(bits[i + 1] + xBits - bits[i]);
            const double half = i == 0 && form.fraction > 0 ? std::ldexp(0.5, form.fraction) : 0;
            const auto number = rounded(powers[i] * std::ldexp(scale, bits[i]) + half, limit);
            if (!number) break;
            form.numbers.push_back(*number);
        }
        if (form.numbers.size() == count && worstOf(form, samples) < HUGE_VAL) return form;
    }
    return std::nullopt;
}

}  // namespace

std::int64_t IntegerForm::at(std::int64_t code, double& top) const {
    std::uint64_t largest = 0;
    const auto seen = [&](std::int64_t value) {
        const auto size = static_cast<std::uint64_t>(value);
        largest = std::max(largest, value < 0 ? 0 - size : size);
    };
    const auto done = [&](std::int64_t result) {
        top = std::max(top, static_cast<double>(largest));
        return result;
    };
    if (kind == Kind::Table) {
        const std::int64_t offset = code - first;
        const auto i = static_cast<std::size_t>(offset >> drop);
        const std::int64_t part = offset - (static_cast<std::int64_t>(i) << drop);
        if (drop == 0) return numbers[i];
        const std::int64_t sum = (numbers[i + 1] - numbers[i]) * part + (std::int64_t{1} << (drop - 1));
        seen(sum);
        seen(numbers[i + 1] - numbers[i]);
        return done(numbers[i] + floorDivide(sum, drop));
    }
    const std::int64_t x = floorDivide(code, drop) - centre;
    seen(x);
    // A product that 64 bits would not hold is as good as one that is too large for any width.
    const auto times = [&](std::int64_t y) {
        std::int64_t product = 0;
        if (__builtin_mul_overflow(y, x, &product)) {
            top = HUGE_VAL;
            product = 0;
        }
        return product;
    };
    const auto plus = [&](std::int64_t a, std::int64_t b) {
        std::int64_t sum = 0;
        if (__builtin_add_overflow(a, b, &sum)) {
            top = HUGE_VAL;
            sum = 0;
        }
        seen(sum);
        return sum;
    };
    std::int64_t y = numbers.back();
    for (std::size_t i = numbers.size() - 1; i-- > 0;) {
        std::int64_t product = times(y);
        seen(product);
        const int shift = shifts[i];
        if (shift > 0) product = floorDivide(plus(product, std::int64_t{1} << (shift - 1)), shift);
        y = plus(product, numbers[i]);
    }
    return done(floorDivide(y, fraction));
}

int IntegerForm::entryBits() const {
    if (kind == Kind::Polynomial) return width;
    const auto [low, high] = std::minmax_element(numbers.begin(), numbers.end());
    return 8 * std::max(2, integerBytes(std::min<std::int64_t>(*low, -1), *high));
}

std::size_t IntegerForm::bytes() const { return numbers.size() * static_cast<std::size_t>(entryBits()) / 8; }

int IntegerForm::operations() const {
    // Each step a product, a rounding sum, a shift and a sum; x is a shift and a difference.
    return kind == Kind::Table ? (drop == 0 ? 1 : 7) : 2 + 4 * degree();
}

namespace {

/// What a run of codes showed; the mean is a sum still.
struct CodesShown {
    CodeError error;
    double peak = 0;
    std::int64_t least = INT64_MAX, most = INT64_MIN;
};

CodesShown overCodes(const IntegerForm& form, const ReadingOfCode& exact, std::int64_t first, std::int64_t last) {
    CodesShown shown;
    CodeError& error = shown.error;
    for (std::int64_t code = first; code <= last; ++code) {
        const std::int64_t result = form.at(code, shown.peak);
        shown.least = std::min(shown.least, result);
        shown.most = std::max(shown.most, result);
        const double off = std::abs(static_cast<double>(result) / static_cast<double>(form.scale) - exact(code));
        error.mean += off;
        if (off > error.worst || error.checked == 0) {
            error.worst = off;
            error.atCode = code;
        }
        ++error.checked;
    }
    return shown;
}

}  // namespace

CodeError proveForm(IntegerForm& form, const ReadingOfCode& exact) {
    constexpr std::int64_t kWorthThreads = 1 << 18;
    const std::int64_t size = form.range.size();
    const int parts = size < kWorthThreads ? 1 : kProofParts;
    const auto firstOf = [&](int part) { return form.range.first + size * part / parts; };
    const auto shown = inParts(parts, [&](int part) {
        const ReadingOfCode own = exact;
        return overCodes(form, own, firstOf(part), firstOf(part + 1) - 1);
    });
    CodeError all;
    form.peak = 0;
    form.least = INT64_MAX;
    form.most = INT64_MIN;
    for (const CodesShown& part : shown) {
        all.takeIn(part.error);
        form.peak = std::max(form.peak, part.peak);
        form.least = std::min(form.least, part.least);
        form.most = std::max(form.most, part.most);
    }
    all.mean /= static_cast<double>(all.checked);
    return all;
}

std::optional<ProvenForm> searchPolynomial(const CodeRange& range, std::int64_t scale, int width, double wanted,
                                           const ReadingOfCode& exact) {
    const Samples samples = samplesOf(range, exact);
    std::optional<IntegerForm> best;
    double bestWorst = HUGE_VAL;
    int bestSpare = -1;  // of one that holds
    for (int degree = 1; degree <= kMostDegree; ++degree) {
        for (int drop = 0; drop <= std::max(0, bitsOf(range.size()) - 4); ++drop) {
            IntegerForm form;
            form.width = width;
            form.scale = scale;
            form.range = range;
            form.drop = drop;
            const std::int64_t low = floorDivide(range.first, drop), high = floorDivide(range.last, drop);
            form.centre = low + (high - low) / 2;
            const int xBits = bitsOf(std::max<std::int64_t>(1, high - form.centre));
            if (xBits >= width - 1) continue;
            std::vector<double> t;
            for (const std::int64_t code : samples.codes)
                t.push_back(std::ldexp(static_cast<double>(floorDivide(code, drop) - form.centre), -xBits));
            const auto powers = powersOf(t, samples.values, degree);
            if (!powers) continue;
            // Where it holds with bits to spare, they are left: another piece of the same circuit needs room.
            for (int spare = kMostSpare; spare >= 0; --spare) {
                const auto candidate = scaled(form, *powers, xBits, samples, spare);
                if (!candidate) continue;
                const double worst = worstOf(*candidate, samples);
                const bool holds = worst <= wanted * 0.999;
                if (holds && (spare > bestSpare || (spare == bestSpare && worst < bestWorst))) {
                    bestSpare = spare;
                    bestWorst = worst;
                    best = candidate;
                }
                // A higher degree has to earn its products.
                if (!holds && bestSpare < 0 && worst < bestWorst * 0.98) {
                    bestWorst = worst;
                    best = candidate;
                }
                if (holds) break;
            }
            // Nothing is gained by dropping bits of what 64 have room for, but where they say nothing.
            if (width == 64 && drop == 0 && bestSpare >= 0) break;
        }
        if (!best || bestWorst > wanted) continue;
        // Between the samples it may still be worse: the proof decides.
        const CodeError error = proveForm(*best, exact);
        if (error.worst <= wanted && best->headroom() > 1) return ProvenForm{std::move(*best), error};
        bestSpare = -1;
    }
    if (!best) return std::nullopt;
    const CodeError error = proveForm(*best, exact);
    if (best->headroom() <= 1) return std::nullopt;
    return ProvenForm{std::move(*best), error};
}

std::optional<ProvenForm> searchTable(const CodeRange& range, std::int64_t scale, double wanted,
                                      const ReadingOfCode& exact) {
    const Samples samples = samplesOf(range, exact);
    for (int drop = bitsOf(range.size()); drop >= 0; --drop) {
        IntegerForm form;
        form.kind = IntegerForm::Kind::Table;
        form.width = 64;
        form.scale = scale;
        form.range = range;
        form.drop = drop;
        form.first = floorDivide(range.first, drop) * (std::int64_t{1} << drop);
        const std::int64_t step = std::int64_t{1} << drop;
        const std::int64_t count = ((range.last - form.first) >> drop) + (drop == 0 ? 1 : 2);
        if (count > kMostEntries) return std::nullopt;
        std::vector<double> nodes;
        for (std::int64_t i = 0; i < count; ++i) {
            const std::int64_t code = form.first + i * step;
            nodes.push_back(code >= range.first && code <= range.last ? exact(code) : std::nan(""));
        }
        // The ends lie beyond the span, where the formula may have no value: the line through the span's own end.
        const auto size = nodes.size();
        if (drop > 0 && size >= 2) {
            const auto beyond = [&](std::size_t end, std::size_t next, std::int64_t edge) {
                if (std::isfinite(nodes[end])) return;
                const std::int64_t nextCode = form.first + static_cast<std::int64_t>(next) * step;
                const double edgeValue = exact(edge), nextValue = std::isfinite(nodes[next]) ? nodes[next] : edgeValue;
                const auto whole = static_cast<double>(form.first + static_cast<std::int64_t>(end) * step - nextCode);
                const auto inside = static_cast<double>(edge - nextCode);
                nodes[end] = inside == 0 ? edgeValue : nextValue + (edgeValue - nextValue) * whole / inside;
            };
            if (size == 2 && !std::isfinite(nodes[0]) && !std::isfinite(nodes[1])) {
                const auto width = static_cast<double>(std::max<std::int64_t>(1, range.last - range.first));
                const double slope = (exact(range.last) - exact(range.first)) / width;
                for (std::size_t i = 0; i < 2; ++i)
                    nodes[i] =
                        exact(range.first) +
                        slope * static_cast<double>(form.first + static_cast<std::int64_t>(i) * step - range.first);
            } else {
                beyond(size - 1, size - 2, range.last);
                beyond(0, 1, range.first);
            }
            // A chord lies on one side of a bend: half of its rise taken off at both ends halves the error.
            std::vector<double> rise;
            for (std::size_t i = 0; i + 1 < size; ++i) {
                const std::int64_t middle = form.first + static_cast<std::int64_t>(i) * step + step / 2;
                const bool isInside = middle >= range.first && middle <= range.last;
                rise.push_back(isInside ? (nodes[i] + nodes[i + 1]) / 2 - exact(middle) : 0);
            }
            for (std::size_t i = 0; i < size; ++i) {
                const double left = i > 0 ? rise[i - 1] : rise[i], right = i < rise.size() ? rise[i] : rise[i - 1];
                nodes[i] -= (left + right) / 4;
            }
        }
        bool fits = true;
        for (const double node : nodes) {
            const auto entry = rounded(node * static_cast<double>(scale), limitOf(32));
            fits = fits && entry;
            form.numbers.push_back(entry.value_or(0));
        }
        if (!fits || (drop > 0 && worstOf(form, samples) > wanted)) continue;
        const CodeError error = proveForm(form, exact);
        if (error.worst > wanted && drop > 0) continue;
        for (const int width : {16, 32, 64})
            if (form.peak <= limitOf(width)) {
                form.width = width;
                break;
            }
        return ProvenForm{std::move(form), error};
    }
    return std::nullopt;
}

}  // namespace fg
