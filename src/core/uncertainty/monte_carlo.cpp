#include "uncertainty/monte_carlo.h"

#include "converters/kind.h"
#include "uncertainty/coverage.h"
#include "uncertainty/influences.h"
#include "uncertainty/kernels.h"
#include "uncertainty/random.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <boost/random/normal_distribution.hpp>
#include <cmath>

namespace fg {
namespace {

constexpr std::size_t kBlock = 1024;

/// The hardware with whatever parameters a draw gives it: world to exact code.
class Hardware {
  public:
    Hardware(const GaugeSpec& spec, const AnalogPath& nominal, const Catalogue& catalogue, const Influences& influences)
        : m_influences(influences.parameters),
          m_nominal(nominal),
          m_part(nominal.part()),
          m_family(*findSensorFamily(m_part.family)),
          m_kind(*findWiringKind(spec.wiring.kind)),
          m_converterKind(*findConverterKind(spec.converter.kind)),
          m_sensorKernel(findSensorKernel(m_part.family)),
          m_wiringKernel(findWiringKernel(spec.wiring.kind)) {
        m_sensor = spec.sensor.parameters.over(m_part.parameters);
        m_wiring = spec.wiring.parameters;
        m_converter = effectiveConverter(spec, catalogue);
        const auto side = m_wiring.all().find("sensor_side");
        m_sensorToGround = side == m_wiring.all().end() || side->second == ParameterValue(std::string("low"));
        m_context = {spec.quantity, m_part.range, nominal.source_V()};
        m_fastContext = m_context;
        prepare();
    }

    /// `drawn` holds one value for each influence. NaN where there is none.
    double exactCode(const double* drawn, double formulaValue) {
        return m_isFast ? fast(drawn, formulaValue) : slow(drawn, formulaValue);
    }

  private:
    /// Which slot of the kernels' values each influence goes to; the fast way is open when every one has a slot.
    void prepare() {
        m_isFast = m_sensorKernel && m_wiringKernel && m_nominal.converter().isAdc();
        if (!m_isFast) return;
        for (std::size_t i = 0; i < m_sensorKernel->ids.size(); ++i)
            m_sensorValues.push_back(m_sensor.numberOr(m_sensorKernel->ids[i], m_sensorKernel->otherwise[i]));
        for (const std::string& id : m_wiringKernel->ids) m_wiringValues.push_back(m_wiring.numberOr(id, 0));
        for (const Influence& influence : m_influences) {
            double* slot = nullptr;
            const auto place = [&](const std::vector<std::string>& ids, std::vector<double>& values) {
                const auto it = std::find(ids.begin(), ids.end(), influence.spec.id);
                if (it != ids.end()) slot = &values[static_cast<std::size_t>(it - ids.begin())];
            };
            if (influence.stage == Stage::Sensor) place(m_sensorKernel->ids, m_sensorValues);
            if (influence.stage == Stage::Wiring) place(m_wiringKernel->ids, m_wiringValues);
            if (influence.spec.id == "source_V") slot = &m_source_V;
            if (influence.spec.id == "reference_V" || influence.spec.id == "reference_measured_V")
                slot = &m_reference_V;
            m_slots.push_back(slot);
            m_isFast = m_isFast && slot;
        }
    }

    double fast(const double* drawn, double formulaValue) {
        m_reference_V = m_nominal.converter().reference_V();
        m_source_V = m_context.supply_V;
        for (std::size_t i = 0; i < m_slots.size(); ++i) *m_slots[i] = drawn[i];
        const double scale = m_nominal.converter().reference_V() / m_reference_V;
        const double source_V = m_nominal.isRatiometric() ? m_reference_V : m_source_V;
        m_fastContext.supply_V = source_V;
        const double signal = m_sensorKernel->forward(m_sensorValues.data(), m_fastContext, formulaValue);
        const double pin_V = m_wiringKernel->forward(m_wiringValues.data(), m_sensorToGround, source_V, signal);
        // A converter's code depends on the ratio of input to reference alone.
        return m_nominal.converter().exactCode(pin_V * scale);
    }

    double slow(const double* drawn, double formulaValue) {
        for (std::size_t i = 0; i < m_influences.size(); ++i) {
            const Stage stage = m_influences[i].stage;
            Parameters& of = stage == Stage::Sensor ? m_sensor : (stage == Stage::Wiring ? m_wiring : m_converter);
            of.set(m_influences[i].spec.id, drawn[i]);
        }
        const auto converter = m_converterKind.make(m_converter);
        if (!converter) return std::nan("");
        const WiringContext wiringContext{converter->reference_V(), isReferenceSupply(m_converter)};
        const auto wiring = m_kind.make(m_wiring, wiringContext);
        if (!wiring) return std::nan("");
        SensorContext context = m_context;
        context.supply_V = feedOf(m_kind.id, m_wiring, wiringContext).value_or(Feed{}).voltage_V;
        const auto sensor = m_family.make(m_sensor, context);
        return sensor ? converter->exactCode((*wiring)->forward((*sensor)->forward(formulaValue))) : std::nan("");
    }

    const std::vector<Influence>& m_influences;
    const AnalogPath& m_nominal;
    const Part& m_part;
    const SensorFamily& m_family;
    const WiringKind& m_kind;
    const ConverterKind& m_converterKind;
    const SensorKernel* m_sensorKernel;
    const WiringKernel* m_wiringKernel;
    Parameters m_sensor, m_wiring, m_converter;
    SensorContext m_context, m_fastContext;
    bool m_sensorToGround = true, m_isFast = false;
    std::vector<double> m_sensorValues, m_wiringValues;
    std::vector<double*> m_slots;
    double m_source_V = 0, m_reference_V = 0;
};

/// The value below which a share of all lies. Reorders them.
double quantile(std::vector<double>& values, double share) {
    const double place = std::clamp(share, 0.0, 1.0) * static_cast<double>(values.size() - 1);
    const auto at = values.begin() + static_cast<std::ptrdiff_t>(place + 0.5);
    std::nth_element(values.begin(), at, values.end());
    return *at;
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
    Hardware hardware(spec, *nominal, catalogue, influences);
    Xoshiro256 random(seed);
    boost::random::normal_distribution<double> normal;  // a ziggurat

    const double accuracy = influences.sensorAccuracy.value_or(0), heating = influences.selfHeating.rise_K,
                 heatingLimit = influences.selfHeating.uncertainty_K;
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
    std::vector<double> drawn(count), results(draws);
    std::array<double, kBlock> block{};
    std::size_t kept = 0;
    double sum = 0, squares = 0;  // of the differences from `world`
    for (std::size_t begin = 0; begin < draws; begin += kBlock) {
        const std::size_t size = std::min(kBlock, draws - begin);
        for (std::size_t k = 0; k < count; ++k)
            fill(rows[k], influences.parameters[k].value, influences.parameters[k].limit);
        fill(accuracyRow, fixedValue, accuracy);
        fill(heatingRow, heating, heatingLimit);
        fill(pointsRow, 0, influences.signalTolerance);
        fill(codeRow, 0, 0.5);
        fill(errorRow, 0, influences.error_LSB);
        for (std::size_t i = 0; i < size; ++i) {
            for (std::size_t k = 0; k < count; ++k) drawn[k] = rows[k][i];
            block[i] = hardware.exactCode(drawn.data(), accuracyRow[i] + pointsRow[i] + heatingRow[i]) + codeRow[i] +
                       errorRow[i];
        }
        if (influences.noise_LSB > 0)
            for (std::size_t i = 0; i < size; ++i) block[i] += influences.noise_LSB * normal(random);
        nominal->readings({block.data(), size}, {block.data(), size});
        if (influences.correction > 0)
            for (std::size_t i = 0; i < size; ++i) block[i] += influences.correction / 2 * normal(random);
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
