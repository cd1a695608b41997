#include "handover/running_code.h"

#include "handover/formula_runner.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <random>

namespace fg {
namespace {

/// The least that a clock in milliseconds wraps at: 30 bits, as time.ticks_ms() of MicroPython.
constexpr double kLongest_s = 1'073'741.823;

/// The window of the written code in whole numbers: a mean is divided once, and rounded half away from 0.
class WholeWindow {
  public:
    WholeWindow(Over over, double window_s) : m_over(over), m_pieces(window_s) {}
    void add(std::int64_t at_ms, std::int64_t value) {
        Sums& sums = m_pieces.at(at_ms * 1000).sums;
        sums.sum += value;
        ++sums.count;
        sums.least = std::min(sums.least, value);
        sums.most = std::max(sums.most, value);
    }
    [[nodiscard]] std::int64_t value() const {
        Sums all;
        for (const auto& piece : m_pieces.all()) {
            all.sum += piece.sums.sum;
            all.count += piece.sums.count;
            all.least = std::min(all.least, piece.sums.least);
            all.most = std::max(all.most, piece.sums.most);
        }
        if (m_over != Over::Mean) return m_over == Over::Least ? all.least : all.most;
        return (all.sum >= 0 ? all.sum + all.count / 2 : all.sum - all.count / 2) / all.count;
    }

  private:
    struct Sums {
        std::int64_t sum = 0, count = 0, least = INT64_MAX, most = INT64_MIN;
    };
    Over m_over;
    WindowPieces<Sums> m_pieces;
};

/// The same of a rate.
class WholeRateWindow {
  public:
    WholeRateWindow(const WholeSlope& slope, double window_s) : m_slope(slope), m_pieces(window_s) {}
    void add(std::int64_t at_ms, std::int64_t value) {
        auto& piece = m_pieces.at(at_ms * 1000).sums;
        if (!piece) piece = WholeSlope::Piece{at_ms, value};
        m_slope.add(*piece, at_ms, value);
    }
    /// Nothing where it has none yet.
    [[nodiscard]] std::optional<std::int64_t> value() {
        m_of.clear();
        for (const auto& piece : m_pieces.all()) m_of.push_back(*piece.sums);
        std::int64_t value = 0;
        return m_slope.of(m_of, value) ? std::optional(value) : std::nullopt;
    }

  private:
    const WholeSlope& m_slope;
    WindowPieces<std::optional<WholeSlope::Piece>> m_pieces;
    std::vector<WholeSlope::Piece> m_of;
};

/// Readings as a proof needs them: slow, quick and steady stretches, noise, and pauses in which all of them leave the
/// window. Times are whole milliseconds.
class Walk {
  public:
    Walk(Over over, Interval within, double window_s)
        : m_isRate(over == Over::Rate), m_within(within), m_window_ms(window_s * 1000) {
        m_value = (within.low + within.high) / 2;
    }
    [[nodiscard]] std::int64_t at_ms() const { return m_at_ms; }
    [[nodiscard]] double at_s() const { return static_cast<double>(m_at_ms) / 1000; }

    double next() {
        constexpr int kStretch = 500;
        constexpr double kReadingsAWindow = 600;
        if (m_number % kStretch == 0) {
            m_aim = between(m_within.low, m_within.high);
            m_noise = between(0, 1);
        }
        const bool isPause = m_number > 0 && m_number % (8 * kStretch) == 0;
        const double step_ms = isPause ? 2 * m_window_ms : between(0, 2) * m_window_ms / kReadingsAWindow;
        const std::int64_t passed_ms = m_number == 0 ? 0 : std::max<std::int64_t>(1, std::llround(step_ms));
        m_at_ms += passed_ms;
        ++m_number;
        constexpr double kNoise = 0.02;
        const double apart = m_noise * kNoise * m_within.width() * between(-1, 1);
        // Of a rate the walk is over slopes, and the readings are what they add up to.
        if (m_isRate) {
            constexpr double kMillisecondsAnHour = 3.6e6;
            m_value += m_aim * static_cast<double>(passed_ms) / kMillisecondsAnHour;
            return m_value + apart * m_window_ms / kMillisecondsAnHour;
        }
        m_value += (m_aim - m_value) / kStretch * 4;
        return std::clamp(m_value + apart, m_within.low, m_within.high);
    }
    /// A rate begins where readings of its quantity are.
    void beginAt(double value) { m_value = value; }

  private:
    double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(m_random); }

    bool m_isRate;
    Interval m_within;
    double m_window_ms, m_value = 0, m_aim = 0, m_noise = 0;
    std::int64_t m_at_ms = 0;
    int m_number = 0;
    std::mt19937 m_random{20};
};

/// The written code over a walk, against the window of the gauge itself.
class RunningProof {
  public:
    RunningProof(const DerivedPath& path, const GaugeSpec& spec, const Unit& unit, Over over, double begin)
        : m_path(path),
          m_unit(unit),
          m_over(over),
          m_window_s(path.window_s()),
          m_walk(over, spec.spanCanonical(), m_window_s) {
        if (over == Over::Rate) m_walk.beginAt(begin);
    }

    template <class Real>
    void run(LawCode& law) {
        RunningWindowOf<Real> mine(m_over, m_window_s);
        FormulaRunner<Real> formula(*law.formula);
        std::vector<double> nodes(law.formula->recording().size());
        double& input = nodes[static_cast<std::size_t>(law.parameters[0].node)];
        overReadings(law, [&](double reading) {
            mine.add(m_walk.at_s(), static_cast<Real>(reading));
            input = static_cast<double>(mine.value());
            return std::isnan(input) ? input : static_cast<double>(formula(nodes));
        });
    }
    void runWhole(RunningCode& code) {
        FormulaRunner<double> formula(*code.law.formula);
        std::vector<double> nodes(code.law.formula->recording().size());
        const auto run = [&](auto mine) {
            overReadings(
                code.law,
                [&](double reading) {
                    mine.add(m_walk.at_ms(), std::llround(reading * static_cast<double>(code.reading.scale)));
                    const std::optional<std::int64_t> value = mine.value();
                    if (!value) return std::nan("");
                    nodes[static_cast<std::size_t>(code.law.parameters[0].node)] = static_cast<double>(*value);
                    return static_cast<double>(formula(nodes));
                },
                &code.reading);
        };
        code.slope ? run(WholeRateWindow(*code.slope, m_window_s)) : run(WholeWindow(m_over, m_window_s));
    }

  private:
    /// `steps`: the readings come in its whole steps; null: as they are.
    template <class Mine>
    void overReadings(LawCode& law, const Mine& mine, const LawParameter* steps = nullptr) {
        constexpr int kReadings = 20'000;
        RunningWindow exactly(m_over, m_window_s);
        CodeError error;
        double sum = 0;
        for (int i = 0; i < kReadings; ++i) {
            double reading = m_walk.next();
            if (steps) {
                const auto scale = static_cast<double>(steps->scale);
                reading = std::clamp(std::nearbyint(reading * scale), static_cast<double>(steps->least),
                                     static_cast<double>(steps->most)) /
                          scale;
            }
            exactly.add(m_walk.at_s(), reading);
            const double exact = m_unit.fromCanonical(m_path.corrected(exactly.value())), off = mine(reading) - exact;
            // Around the tenth of a window that a rate waits for, one of both may have it a reading earlier.
            if (std::isnan(off)) continue;
            sum += std::abs(off);
            if (std::abs(off) > error.worst || error.checked == 0) {
                error.worst = std::abs(off);
                law.atInputs =
                    fmt::format("the reading after {} s of a walk through the span", plainNumber(m_walk.at_s(), 6));
            }
            ++error.checked;
        }
        error.mean = error.checked > 0 ? sum / static_cast<double>(error.checked) : 0;
        law.error = error;
    }

    const DerivedPath& m_path;
    const Unit& m_unit;
    Over m_over;
    double m_window_s;
    Walk m_walk;
};

/// The window's whole number and what stands behind it, where that is a sum, a product or a line between points; the
/// whole numbers of the result are then searched for over every number of the span. Nothing where it is more.
std::optional<LawCode> wholeLawOf(const DerivedPath& path, const GaugeSpec& spec, const Unit& unit, int width,
                                  const WholeLaw& whole) {
    LawParameter reading{-1, "reading", "", spec.spanCanonical()};
    if (!takeInSteps(reading, std::abs(unit.differenceFromCanonical(1)), whole.wanted, width)) return std::nullopt;
    const auto recording = std::make_shared<Recording>();
    const std::int8_t bits = static_cast<std::int8_t>(std::min(width, 32));
    const Recorded steps(*recording, recording->add({.op = Op::Input,
                                                     .value = static_cast<double>(reading.most),
                                                     .name = "value",
                                                     .bits = bits,
                                                     .whole = reading.most}));
    reading.node = steps.indexIn(*recording);
    const Recorded value =
        path.correction().record(*recording, steps / Recorded(static_cast<double>(reading.scale)), spec.quantity);
    auto formula = FormulaCode::ofRecording(recording, value.indexIn(*recording), unit);
    if (!formula) return std::nullopt;
    LawCode law;
    law.formula = std::make_shared<FormulaCode>(std::move(*formula));
    law.tail = WholeTail::of(*law.formula, law.formula->root());
    if (!law.tail) return std::nullopt;
    law.parameters.push_back(std::move(reading));
    return law;
}

/// The readings of a rate in whole numbers: so fine that, a tenth of the window apart, a step is less than half of the
/// wanted error, as long as the readings that are usual can be told.
Expected<void> takeRate(RunningCode& code, Interval around, double wanted, const Unit& unit) {
    const double leastHours = kLeastPartForRate * static_cast<double>(code.window_ms) / 3.6e6;
    code.reading = {-1, "reading", "", around};
    const double slope = std::abs(unit.differenceFromCanonical(1)) / leastHours;
    if (const auto taken = takeInSteps(code.reading, slope, wanted, 31); !taken) return taken;
    code.reading.least = -WholeSlope::kMostReading;
    code.reading.most = WholeSlope::kMostReading;
    code.slope.emplace(code.window_ms, code.reading.scale, code.law.parameters[0].scale);
    return {};
}

}  // namespace

Expected<RunningCode> runningCodeOf(const DerivedPath& path, const GaugeSpec& spec, const Unit& unit,
                                    CodeArithmetic arithmetic, const WholeLaw& whole) {
    const bool isReal = arithmetic == CodeArithmetic::Float || arithmetic == CodeArithmetic::Double;
    const Over over = path.running()->over;
    const auto refuse = [&](const char* what, const char* expected) {
        return fail(ErrorCode::Unsupported, "“" + spec.name + "”", what, expected);
    };
    if (arithmetic == CodeArithmetic::Table)
        return refuse("a table over readings that came before", "int32, int64, float or double");
    if ((over == Over::Mean || over == Over::Rate) && arithmetic == CodeArithmetic::Int16)
        return refuse(over == Over::Mean ? "a mean in 16 bits, which do not hold its sum"
                                         : "a rate in 16 bits, which do not hold its sums",
                      "int32, int64, float or double");
    if (!(path.window_s() >= 0.001 && path.window_s() <= kLongest_s))
        return fail(ErrorCode::Range, "sensor.parameters.window_s", plainNumber(path.window_s(), 6) + " s",
                    fmt::format("0.001 s to {} s, which a clock of 30 bits in milliseconds can measure",
                                plainNumber(kLongest_s, 7)));
    auto direct = isReal ? std::nullopt : wholeLawOf(path, spec, unit, widthOf(arithmetic), whole);
    auto law = direct ? Expected<LawCode>(std::move(*direct)) : lawCodeOf(path, spec, unit, arithmetic, whole);
    if (!law) return tl::unexpected(law.error());
    const ParameterSpec given = derivedParameters(spec).front();
    const auto usual = defaultDerivedGauge("running-mean", given.quantity);
    const Interval around = usual ? usual->spanCanonical() : Interval{};
    RunningCode code{over, std::llround(path.window_s() * 1000), law->parameters[0], std::move(*law)};
    if (over == Over::Rate && !isReal)
        if (const auto taken = takeRate(code, around, whole.wanted, unit); !taken) return tl::unexpected(taken.error());
    code.reading.unit = std::string(canonicalUnit(given.quantity).id);
    const double now = path.inputs().front();
    RunningProof proof(path, spec, unit, over, std::isnan(now) ? (around.low + around.high) / 2 : now);
    if (arithmetic == CodeArithmetic::Float)
        proof.run<float>(code.law);
    else if (isReal)
        proof.run<double>(code.law);
    else
        proof.runWhole(code);
    // Whatever the other gauge reads is taken; only whole numbers have ends.
    if (isReal) code.reading.range = {-HUGE_VAL, HUGE_VAL};
    return code;
}

}  // namespace fg
