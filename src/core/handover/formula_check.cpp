#include "handover/formula_check.h"

#include "numeric/least_squares.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// Codes and what the gauge reads there, in the unit of the result.
struct Readout {
    std::vector<std::int64_t> codes;
    std::vector<double> values;
};

Readout readoutOf(const AnalogPath& path, const CodeRange& range, const Unit& unit, std::int64_t most) {
    Readout readout;
    const std::int64_t stride = std::max<std::int64_t>(1, (range.size() - 1) / std::max<std::int64_t>(1, most));
    for (std::int64_t code = range.first;; code = std::min(code + stride, range.last)) {
        readout.codes.push_back(code);
        readout.values.push_back(unit.fromCanonical(path.reading(static_cast<double>(code))));
        if (code == range.last) break;
    }
    return readout;
}

/// The worst error in C's arithmetic; infinite where something does not fit or is divided by 0.
double worstOf(const TypedLine& line, LineInt width, double scale, const Readout& readout) {
    double worst = 0;
    for (std::size_t i = 0; i < readout.codes.size(); ++i) {
        const LineValue value = line.at(readout.codes[i], width);
        if (value.isNone || !value.overflow.empty()) return HUGE_VAL;
        worst = std::max(worst, std::abs(value.value / scale - readout.values[i]));
    }
    return worst;
}

/// Constants as real numbers that bring the line near the gauge: a few damped Gauss-Newton steps.
std::vector<double> fitted(const TypedLine& line, double scale, const Readout& readout) {
    const auto typed = line.constants();
    std::vector<double> constants(typed.begin(), typed.end());
    const auto rows = static_cast<Eigen::Index>(readout.codes.size()),
               columns = static_cast<Eigen::Index>(constants.size());
    if (columns == 0) return constants;
    const auto residuals = [&](const std::vector<double>& at) {
        Eigen::VectorXd off(rows);
        for (Eigen::Index row = 0; row < rows; ++row) {
            const auto i = static_cast<std::size_t>(row);
            off[row] = readout.values[i] * scale - line.exactWith(at, static_cast<double>(readout.codes[i]));
        }
        return off;
    };
    constexpr int kMostSteps = 30;
    double damping = 1e-3;
    Eigen::VectorXd off = residuals(constants);
    for (int step = 0; step < kMostSteps && off.allFinite(); ++step) {
        Eigen::MatrixXd slopes(rows, columns);
        for (Eigen::Index column = 0; column < columns; ++column) {
            std::vector<double> moved = constants;
            double& one = moved[static_cast<std::size_t>(column)];
            const double by = 1e-6 * std::max(1.0, std::abs(one));
            one += by;
            slopes.col(column) = (off - residuals(moved)) / by;
        }
        Eigen::MatrixXd normal = slopes.transpose() * slopes;
        const Eigen::VectorXd size = normal.diagonal();
        for (Eigen::Index i = 0; i < columns; ++i) normal(i, i) += damping * size[i] + 1e-12;
        const Eigen::VectorXd by = normal.ldlt().solve(slopes.transpose() * off);
        if (!by.allFinite()) break;
        std::vector<double> next = constants;
        for (Eigen::Index i = 0; i < columns; ++i) next[static_cast<std::size_t>(i)] += by[i];
        const Eigen::VectorXd nextOff = residuals(next);
        if (nextOff.allFinite() && nextOff.squaredNorm() < off.squaredNorm()) {
            constants = next;
            off = nextOff;
            damping /= 4;
        } else {
            damping *= 8;
        }
    }
    return constants;
}

/// One constant after the other moved as long as the worst error falls.
std::vector<std::int64_t> descended(const TypedLine& line, std::vector<std::int64_t> constants, LineInt width,
                                    double scale, const Readout& readout, double& worst) {
    worst = worstOf(line.with(constants), width, scale, readout);
    constexpr int kMostRounds = 40;
    for (int round = 0; round < kMostRounds; ++round) {
        bool isBetter = false;
        for (std::int64_t& one : constants) {
            const auto tenth = std::max<std::int64_t>(1, std::llabs(one) / 16);
            for (const std::int64_t by : {tenth, -tenth, std::int64_t{16}, std::int64_t{-16}, std::int64_t{4},
                                          std::int64_t{-4}, std::int64_t{1}, std::int64_t{-1}}) {
                one += by;
                const double now = worstOf(line.with(constants), width, scale, readout);
                if (now < worst) {
                    worst = now;
                    isBetter = true;
                } else {
                    one -= by;
                }
            }
        }
        if (!isBetter) break;
    }
    return constants;
}

constexpr std::int64_t kFitCodes = 250;
constexpr std::size_t kBands = 200;

/// What a line says less what the gauge reads, in C's arithmetic; NaN where it divides by 0.
std::vector<CodeErrorBand> curveOf(const AnalogPath& path, const CodeRange& range, const Unit& unit,
                                   const TypedLine& line, LineInt width, double scale) {
    return errorBands(range, kBands, [&](std::int64_t code) {
        const LineValue value = line.at(code, width);
        return value.isNone ? std::nan("")
                            : value.value / scale - unit.fromCanonical(path.reading(static_cast<double>(code)));
    });
}

BetterLine measured(const AnalogPath& path, const CodeRange& range, const Unit& unit, const TypedLine& line,
                    std::string text, LineInt width, double scale) {
    constexpr std::int64_t kMostCodes = 1 << 20;
    const Readout all = readoutOf(path, range, unit, kMostCodes);
    BetterLine better{std::move(text), scale, {}, {}};
    double sum = 0;
    for (std::size_t i = 0; i < all.codes.size(); ++i) {
        const LineValue value = line.at(all.codes[i], width);
        const double off =
            value.isNone || !value.overflow.empty() ? HUGE_VAL : std::abs(value.value / scale - all.values[i]);
        sum += off;
        if (off > better.error.worst || i == 0) {
            better.error.worst = off;
            better.error.atCode = all.codes[i];
        }
    }
    better.error.checked = static_cast<std::int64_t>(all.codes.size());
    better.error.mean = sum / static_cast<double>(all.codes.size());
    better.curve = curveOf(path, range, unit, line, width, scale);
    return better;
}

}  // namespace

Expected<LineCheck> checkLine(const Gauge& gauge, const TypedLine& line, LineInt width, const Unit& unit,
                              double scale) {
    const auto range = codeRangeOf(*gauge.analog(), gauge.spec().spanCanonical());
    if (!range) return tl::unexpected(range.error());
    LineCheck check;
    check.range = *range;
    check.scale = scale;
    constexpr std::int64_t kMostCodes = 1 << 20;
    const Readout all = readoutOf(*gauge.analog(), *range, unit, kMostCodes);
    double sum = 0;
    for (std::size_t i = 0; i < all.codes.size(); ++i) {
        const LineValue value = line.at(all.codes[i], width);
        if (value.isNone) {
            ++check.nones;
            continue;
        }
        const double off = std::abs(value.value / scale - all.values[i]), exact = line.exactAt(all.codes[i]);
        sum += off;
        if (off > check.error.worst || check.error.checked == 0) {
            check.error.worst = off;
            check.error.atCode = all.codes[i];
        }
        ++check.error.checked;
        check.exactWorst = std::max(check.exactWorst, std::abs(exact / scale - all.values[i]));
        if (value.overflow.empty()) check.cutWorst = std::max(check.cutWorst, std::abs(value.value - exact) / scale);
    }
    // Overflow is looked for over everything that the converter can give, and shown where the gauge is used.
    for (std::int64_t code = range->min; code <= std::min(range->max, range->min + kMostCodes); ++code) {
        const LineValue value = line.at(code, width);
        if (value.overflow.empty()) continue;
        check.isOverflowing = true;
        check.overflowCode = code;
        check.overflow = value;
        break;
    }
    if (check.isOverflowing) {
        const std::size_t middle = all.codes.size() / 2;
        check.shownCode = all.codes[middle];
        check.shownReading = all.values[middle];
        check.shownValue = line.at(check.shownCode, width).value / scale;
    }
    check.error.mean = check.error.checked > 0 ? sum / static_cast<double>(check.error.checked) : 0;
    check.curve = curveOf(*gauge.analog(), *range, unit, line, width, scale);
    check.realCurve = errorBands(*range, kBands, [&](std::int64_t code) {
        return line.exactAt(code) / scale - unit.fromCanonical(gauge.analog()->reading(static_cast<double>(code)));
    });
    return check;
}

std::vector<BetterLine> betterLines(const Gauge& gauge, const TypedLine& line, LineInt width, const Unit& unit,
                                    double scale) {
    std::vector<BetterLine> found;
    const AnalogPath& path = *gauge.analog();
    const auto range = codeRangeOf(path, gauge.spec().spanCanonical());
    if (!range) return found;
    const Readout readout = readoutOf(path, *range, unit, kFitCodes);
    const double before = worstOf(line, width, scale, readout);

    // The shape that was typed, with other constants.
    constexpr std::size_t kMostConstants = 6;
    const auto constants = line.constants();
    if (!constants.empty() && constants.size() <= kMostConstants) {
        double best = HUGE_VAL;
        std::vector<std::int64_t> bestConstants;
        for (const auto& start :
             {std::vector<double>(constants.begin(), constants.end()), fitted(line, scale, readout)}) {
            std::vector<std::int64_t> whole;
            bool fits = true;
            for (const double one : start) {
                fits = fits && std::abs(one) < 1e15;
                whole.push_back(fits ? static_cast<std::int64_t>(std::llround(one)) : 0);
            }
            double worst = HUGE_VAL;
            if (!fits) continue;
            const auto moved = descended(line, whole, width, scale, readout, worst);
            if (worst < best) {
                best = worst;
                bestConstants = moved;
            }
        }
        // A factor of 0 would fit by leaving the code out.
        const bool isWhole =
            std::none_of(bestConstants.begin(), bestConstants.end(), [](std::int64_t c) { return c == 0; });
        if (best < before * 0.98 && isWhole) {
            const std::string text = line.textWith(bestConstants);
            found.push_back(measured(path, *range, unit, line.with(bestConstants), text, width, scale));
        }
    }

    // A straight line divided last, in hundredths where whole units throw the decimals away.
    const auto rows = static_cast<Eigen::Index>(readout.codes.size());
    Eigen::MatrixXd design(rows, 2);
    Eigen::VectorXd y(rows);
    for (Eigen::Index row = 0; row < rows; ++row) {
        design(row, 0) = 1;
        design(row, 1) = static_cast<double>(readout.codes[static_cast<std::size_t>(row)]);
        y[row] = readout.values[static_cast<std::size_t>(row)];
    }
    const auto straight = leastSquares(design, y);
    const std::string name = line.name().empty() ? "adc" : line.name();
    const double finer = scale < 100 ? 100 : scale;
    if (straight) {
        double best = HUGE_VAL;
        std::string bestText;
        constexpr int kMostShift = 24;
        for (int shift = 0; shift <= kMostShift; ++shift) {
            const double factor = std::ldexp(finer, shift);
            const double b = std::round(straight->coefficients[1] * factor),
                         a = std::round(straight->coefficients[0] * factor);
            if (std::abs(a) > 9e15 || std::abs(b) > 9e15 || b == 0) continue;
            const auto text = [&](double offset, double slope) {
                const std::string sum = slope < 0 ? fmt::format("{:.0f}-{}*{:.0f}", offset, name, -slope)
                                                  : fmt::format("{}*{:.0f}{:+.0f}", name, slope, offset);
                return shift == 0 ? sum : fmt::format("({})/{}", sum, std::int64_t{1} << shift);
            };
            const auto candidate = TypedLine::read(text(a, b));
            if (!candidate) continue;
            double worst = HUGE_VAL;
            if (worstOf(*candidate, width, finer, readout) == HUGE_VAL) continue;
            const auto moved = descended(*candidate, candidate->constants(), width, finer, readout, worst);
            if (worst < best * 0.98) {
                best = worst;
                bestText = candidate->textWith(moved);
            }
        }
        const auto candidate = TypedLine::read(bestText);
        if (best < before * 0.98 && candidate)
            found.push_back(measured(path, *range, unit, *candidate, bestText, width, finer));
    }
    std::sort(found.begin(), found.end(),
              [](const BetterLine& a, const BetterLine& b) { return a.error.worst < b.error.worst; });
    return found;
}

}  // namespace fg
