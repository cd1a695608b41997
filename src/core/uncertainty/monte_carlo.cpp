#include "uncertainty/monte_carlo.h"

#include "uncertainty/calibrated.h"
#include "uncertainty/combine.h"
#include "uncertainty/coverage.h"
#include "uncertainty/hardware.h"
#include "uncertainty/random.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <boost/random/normal_distribution.hpp>
#include <cmath>

namespace fg {
namespace {

constexpr std::size_t kBlock = 1024;

/// The value below which a share of all lies. Reorders them.
double quantile(std::vector<double>& values, double share) {
    const double place = std::clamp(share, 0.0, 1.0) * static_cast<double>(values.size() - 1);
    const auto at = values.begin() + static_cast<std::ptrdiff_t>(place + 0.5);
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

/// The gauge as it would be without its calibration's points: every error stands.
GaugeSpec uncalibratedSpec(GaugeSpec spec) {
    spec.correction.points.clear();
    spec.correction.uncertainty = 0;
    return spec;
}

/// A linked input that has causes in common with parameters of the gauge itself.
struct Common {
    std::size_t to = 0;  // influences, as `from` below
    struct From {
        std::size_t influence;
        double effect;  // of that parameter's standard uncertainty in the input
    };
    std::vector<From> from;
    double rest = 1;  // what is left of the input's own limit
};

std::vector<Common> commonOf(const GaugeSpec& spec, const Influences& influences) {
    std::vector<Common> all;
    for (std::size_t to = 0; to < influences.parameters.size(); ++to) {
        const Influence& input = influences.parameters[to];
        const auto lent = spec.lent.find(std::string(stageName(input.stage)) + "." + input.spec.id);
        if (lent == spec.lent.end()) continue;
        Common one{to, {}, 1};
        double rest = 1;
        for (std::size_t from = 0; from < influences.parameters.size(); ++from) {
            const std::string origin = originOf(spec, influences.parameters[from]);
            for (const SharedPart& part : lent->second.parts) {
                if (origin.empty() || part.origin != origin) continue;
                one.from.push_back({from, part.effect});
                rest -= 3 * part.effect * part.effect / (input.limit * input.limit);
            }
        }
        one.rest = std::sqrt(std::max(0.0, rest));
        if (!one.from.empty()) all.push_back(std::move(one));
    }
    return all;
}

/// The interval that leaves `tail` out at either end, and how far its ends scatter: a share found from n draws is
/// itself off by √(p(1 − p)/n).
void findInterval(MonteCarlo& run, std::vector<double>& values, double tail) {
    const double off = std::sqrt(tail * (1 - tail) / static_cast<double>(values.size()));
    run.low = quantile(values, tail);
    run.high = quantile(values, 1 - tail);
    run.expanded = (run.high - run.low) / 2;
    const double lowScatter = (quantile(values, tail + off) - quantile(values, tail - off)) / 2,
                 highScatter = (quantile(values, 1 - tail + off) - quantile(values, 1 - tail - off)) / 2;
    run.endScatter = std::max(lowScatter, highScatter);
}

}  // namespace

Expected<MonteCarlo> monteCarlo(const GaugeSpec& spec, const Catalogue& catalogue, double world, std::size_t draws,
                                std::uint64_t seed, const std::function<bool(double)>& progress) {
    if (draws < 100 || draws > kMostDraws)
        return fail(ErrorCode::Range, "monte-carlo", plainNumber(static_cast<double>(draws)),
                    "100 to 100 000 000 draws");
    const auto nominal = AnalogPath::build(spec, catalogue);
    if (!nominal) return tl::unexpected(nominal.error());
    if (!std::isfinite(nominal->exactCode(world)))
        return fail(ErrorCode::Domain, "world", plainNumber(world, 7), "a value for which the path has a code");
    const Influences influences = influencesAt(spec, *nominal, catalogue, world);
    const Hardware hardware(*nominal, influences.parameters);
    Xoshiro256 random(seed);
    boost::random::normal_distribution<double> normal;  // a ziggurat

    // What a calibration leaves: parts of it that the draws do not run through themselves.
    double accuracy = influences.sensorAccuracy.value_or(0), pointsTolerance = influences.signalTolerance,
           fitted = influences.correction / 2;
    const auto calibrated = Calibrated::of(spec, nominal->correction(), world, [&](double reading) {
        const auto there = budgetOf(uncalibratedSpec(spec), catalogue, *nominal, nominal->correction().apply(reading));
        return there ? there->contributions : std::vector<Contribution>();
    });
    if (calibrated) {
        const auto budget = budgetOf(spec, catalogue, *nominal, world);
        if (!budget) return tl::unexpected(budget.error());
        double own = 0;
        for (const Contribution& line : budget->contributions) {
            if (line.cause == Cause::Correction) own += line.standard * line.standard;
            if (line.cause == Cause::SensorAccuracy) (line.parameter.empty() ? accuracy : pointsTolerance) = line.limit;
        }
        fitted = std::sqrt(own);
    }
    const double heating = influences.selfHeating.rise_K, heatingLimit = influences.selfHeating.uncertainty_K;
    const double fixedValue = nominal->correction().undo(world);
    // One row an input, filled at once: parameters, then part accuracy, points, self-heating, quantisation, converter
    // error.
    const std::size_t count = influences.parameters.size();
    std::vector<std::array<double, kBlock>> rows(count + 5);
    auto &accuracyRow = rows[count], &heatingRow = rows[count + 1], &codeRow = rows[count + 2],
         &errorRow = rows[count + 3], &pointsRow = rows[count + 4];
    const auto fill = [&](std::array<double, kBlock>& row, double middle, double limit) {
        if (limit == 0) return row.fill(middle);
        random.fillSymmetric(row);
        for (double& value : row) value = middle + limit * value;
    };
    const std::vector<Common> common = commonOf(spec, influences);
    std::vector<const double*> drawn;
    for (std::size_t k = 0; k < count; ++k) drawn.push_back(rows[k].data());
    std::vector<double> results(draws);
    std::array<double, kBlock> block{};
    std::size_t kept = 0;
    double sum = 0, squares = 0;  // of the differences from `world`
    for (std::size_t begin = 0; begin < draws; begin += kBlock) {
        const std::size_t size = std::min(kBlock, draws - begin);
        for (std::size_t k = 0; k < count; ++k)
            fill(rows[k], influences.parameters[k].value, influences.parameters[k].limit);
        // What a linked input owes to a parameter of this gauge moves with that parameter's draw.
        for (const Common& one : common) {
            const double middle = influences.parameters[one.to].value;
            for (std::size_t i = 0; i < size; ++i) rows[one.to][i] = middle + one.rest * (rows[one.to][i] - middle);
            for (const auto& [from, effect] : one.from) {
                const Influence& cause = influences.parameters[from];
                const double scale = std::sqrt(3.0) * effect / cause.limit;
                for (std::size_t i = 0; i < size; ++i) rows[one.to][i] += scale * (rows[from][i] - cause.value);
            }
        }
        fill(accuracyRow, fixedValue, accuracy);
        fill(heatingRow, heating, heatingLimit);
        fill(pointsRow, 0, pointsTolerance);
        fill(codeRow, 0, 0.5);
        fill(errorRow, 0, influences.error_LSB);
        for (std::size_t i = 0; i < size; ++i) block[i] = accuracyRow[i] + pointsRow[i] + heatingRow[i];
        hardware.exactCodes(drawn, {block.data(), size});
        for (std::size_t i = 0; i < size; ++i) block[i] += codeRow[i] + errorRow[i];
        if (influences.noise_LSB > 0)
            for (std::size_t i = 0; i < size; ++i) block[i] += influences.noise_LSB * normal(random);
        nominal->readings({block.data(), size}, {block.data(), size});
        // The same piece compared at the calibration's points: what was seen there is taken off here.
        for (std::size_t k = 0; calibrated && calibrated->holds() && k < calibrated->places().size(); ++k) {
            const double there = nominal->correction().apply(calibrated->places()[k]);
            std::array<double, kBlock> seen{};
            std::fill_n(seen.begin(), size, nominal->settled(there));
            hardware.exactCodes(drawn, {seen.data(), size});
            nominal->readings({seen.data(), size}, {seen.data(), size});
            for (std::size_t i = 0; i < size; ++i) block[i] -= calibrated->weights()[k] * (seen[i] - there);
        }
        if (fitted > 0)
            for (std::size_t i = 0; i < size; ++i) block[i] += fitted * normal(random);
        for (std::size_t i = 0; i < size; ++i) {
            if (!std::isfinite(block[i])) continue;
            results[kept++] = block[i];
            sum += block[i] - world;
            squares += (block[i] - world) * (block[i] - world);
        }
        if (progress && begin % (64 * kBlock) == 0 &&
            !progress(static_cast<double>(begin) / static_cast<double>(draws)))
            return fail(ErrorCode::Busy, "monte-carlo", "a wish to stop", "patience");
    }
    results.resize(kept);
    MonteCarlo run;
    run.at = world;
    run.draws = results.size();
    run.withoutValue = draws - results.size();
    if (run.draws < 100)
        return fail(ErrorCode::Domain, "world", plainNumber(world, 7),
                    "a value at which the path still answers within its tolerances");
    const auto n = static_cast<double>(run.draws);
    run.mean = world + sum / n;
    run.standard = std::sqrt(std::max(0.0, squares - sum * sum / n) / (n - 1));
    findInterval(run, results, (1 - kCoverageProbability) / 2);
    run.scatter = run.standard / std::sqrt(2 * n);
    return run;
}

bool agree(const Budget& budget, const MonteCarlo& run) {
    if (!(budget.standard > 0)) return run.standard == 0;
    const double lastDigit = std::pow(10.0, std::floor(std::log10(budget.standard)) - 1);
    const double tolerance = 0.5 * lastDigit + 3 * run.endScatter;
    return std::abs(run.low - (budget.at - budget.expanded)) <= tolerance &&
           std::abs(run.high - (budget.at + budget.expanded)) <= tolerance;
}

std::string comparison(const Budget& budget, const MonteCarlo& run, const Unit& unit) {
    const auto difference = [&](double canonical, int digits) {
        return significantDigits(unit.differenceFromCanonical(canonical), digits);
    };
    std::string text = fmt::format(
        "{} draws: ± {} {}, the budget ± {} (u {} and {}), mean {} {} off; {}", run.draws, difference(run.expanded, 3),
        unit.symbol, difference(budget.expanded, 3), difference(run.standard, 3), difference(budget.standard, 3),
        difference(run.mean - budget.at, 2), unit.symbol,
        agree(budget, run) ? "both agree" : "they differ: the path is curved within the tolerances, trust the draws");
    if (run.withoutValue > 0) text += fmt::format("; {} draws had no reading and are left out", run.withoutValue);
    return text;
}

}  // namespace fg
