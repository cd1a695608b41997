// A part whose reading follows from one number: its integers are made as those of a converter's code.

#include "handover/device_frames.h"

#include "handover/formula_runner.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <bit>
#include <cmath>

namespace fg {
namespace {

class NumberFinder {
  public:
    NumberFinder(DeviceCode& code, DeviceFrames& frames, CodeArithmetic arithmetic)
        : m_code(code), m_frames(frames), m_arithmetic(arithmetic) {}

    /// For integers that the part's document has no routine for: the number behind the reading, and what the bits of
    /// everything else have to be.
    Expected<std::vector<InputBit>> run() {
        std::vector<std::size_t> values = valueInputs();
        // What is a setting beside the number is kept as it is.
        constexpr std::size_t kMostSettingBits = 3;
        std::vector<std::size_t> settings;
        for (std::size_t i = values.size(); i-- > 0;)
            if (values.size() > 1 && m_code.inputs[values[i]].bits.size() <= kMostSettingBits) {
                settings.push_back(values[i]);
                values.erase(values.begin() + static_cast<std::ptrdiff_t>(i));
            }
        for (const std::size_t setting : settings)
            if (isMeasured(m_code.inputs[setting]))
                return refuseWhole("follows from several numbers, one of them short");
        if (values.size() != 1) return refuseWhole(fmt::format("follows from {} numbers", values.size()));
        const JoinedInput number = m_code.inputs[values.front()];
        DeviceCode::OneNumber one;
        one.node = number.node;
        one.step = stepOf(number);
        double least = number.rest, most = number.rest;
        for (const InputBit& bit : number.bits) (bit.weight < 0 ? least : most) += bit.weight;
        constexpr double kMostSteps = 1 << 24;
        if (!((most - least) / one.step <= kMostSteps)) return refuseWhole("has more than 24 bits");
        one.least = std::llround(least / one.step);
        one.most = std::llround(most / one.step);
        for (std::size_t i = 0; i < m_code.inputs.size(); ++i) {
            if (i == values.front()) continue;
            if (std::find(settings.begin(), settings.end(), i) != settings.end())
                keepSetting(m_code.inputs[i], one);
            else if (const auto fixed = fixBits(m_code.inputs[i], one); !fixed)
                return tl::unexpected(fixed.error());
        }
        m_code.one = std::move(one);
        return m_kept;
    }

  private:
    [[nodiscard]] tl::unexpected<Error> refuseWhole(const std::string& why) const {
        return fail(ErrorCode::Unsupported, "arithmetic", std::string(arithmeticName(m_arithmetic)),
                    "int32, int64, float or double: these integers are made of one number, and the part's reading " +
                        why);
    }

    /// Inputs that the value follows from; the others only say whether there is one.
    [[nodiscard]] std::vector<std::size_t> valueInputs() const {
        const Recording& recording = m_code.formula->recording();
        std::vector<bool> isReached(recording.size());
        isReached[static_cast<std::size_t>(m_code.formula->root())] = true;
        for (std::int32_t i = m_code.formula->root(); i >= 0; --i) {
            if (!isReached[static_cast<std::size_t>(i)]) continue;
            const Node& node = recording.at(i);
            for (std::size_t k = 0; k < node.operands.size(); ++k)
                if (node.operands[k] >= 0 && !(node.op == Op::Refuse && k == 2))
                    isReached[static_cast<std::size_t>(node.operands[k])] = true;
        }
        std::vector<std::size_t> found;
        for (std::size_t i = 0; i < m_code.inputs.size(); ++i)
            if (isReached[static_cast<std::size_t>(m_code.inputs[i].node)]) found.push_back(i);
        return found;
    }

    /// Do its bits differ between frames that the part sends as it is set up? A setting's do not.
    [[nodiscard]] bool isMeasured(const JoinedInput& input) {
        constexpr int kFrames = 100;
        for (int i = 0; i < kFrames; ++i)
            if (const auto frame = m_frames.composed())
                for (const InputBit& bit : input.bits)
                    if (DeviceFrames::isSet(*frame, bit.block, bit.byte, bit.bit) !=
                        DeviceFrames::isSet(m_frames.base(), bit.block, bit.byte, bit.bit))
                        return true;
        return false;
    }

    void keepSetting(const JoinedInput& input, DeviceCode::OneNumber& one) {
        double value = input.rest;
        for (const InputBit& bit : input.bits) {
            const bool isOne = DeviceFrames::isSet(m_frames.base(), bit.block, bit.byte, bit.bit);
            m_code.fixed.push_back({bit.block, bit.byte, bit.bit, isOne});
            m_kept.push_back(bit);
            if (isOne) value += bit.weight;
        }
        one.others.emplace_back(input.node, value);
        one.settings.push_back(fmt::format("{} = {}", input.name, plainNumber(value)));
    }

    /// A number too long to try all of it: a part says by its ends that it has nothing, and by none between them.
    template <class IsTaken>
    Expected<void> limitEnds(const JoinedInput& input, DeviceCode::OneNumber& one, const IsTaken& isTaken) {
        constexpr std::size_t kMostBits = 52;
        const double step = stepOf(input);
        double least = input.rest, most = input.rest;
        for (const InputBit& bit : input.bits) (bit.weight < 0 ? least : most) += bit.weight;
        const auto refused = [&] {
            return refuseWhole(fmt::format("is refused by “{}” of {} bits", input.name, input.bits.size()));
        };
        if (input.bits.size() > kMostBits) return refused();
        const double begin = least, end = most;
        while (least < most && !isTaken(least)) {
            if (least > begin + 2 * step) return refused();
            least += step;
        }
        while (most > least && !isTaken(most)) {
            if (most < end - 2 * step) return refused();
            most -= step;
        }
        constexpr int kPlaces = 5000;
        for (int i = 0; i <= kPlaces; ++i)
            if (!isTaken(least + step * std::floor((most - least) / step / kPlaces * i))) return refused();
        one.others.emplace_back(input.node, least);
        one.limits.push_back({input, std::llround(least / step), std::llround(most / step)});
        return {};
    }

    /// What the bits of an input have to be for the formula to have a value.
    Expected<void> fixBits(const JoinedInput& input, DeviceCode::OneNumber& one) {
        auto inputs = inputsOf(m_code, m_frames.base());
        if (!inputs) return refuseWhole("has no value for the bytes it was looked at with");
        constexpr std::size_t kMostBits = 20;
        FormulaRunner<double> runner(*m_code.formula);
        if (input.bits.size() > kMostBits)
            return limitEnds(input, one, [&](double value) {
                (*inputs)[static_cast<std::size_t>(input.node)] = value;
                return !std::isnan(runner(*inputs));
            });
        const std::size_t patterns = std::size_t{1} << input.bits.size();
        std::size_t taken = 0, always = patterns - 1, never = patterns - 1;  // bits that are set, or clear, in all
        std::optional<double> good;
        double least = HUGE_VAL, most = -HUGE_VAL;  // of those that are taken
        std::vector<double> values(patterns, input.rest), results(patterns);
        for (std::size_t pattern = 1; pattern < patterns; ++pattern) {
            const auto lowest = static_cast<std::size_t>(std::countr_zero(pattern));
            values[pattern] = values[pattern & (pattern - 1)] + input.bits[lowest].weight;
        }
        FormulaOver<double>(*m_code.formula, input.node, *inputs)(values, results);
        for (std::size_t pattern = 0; pattern < patterns; ++pattern) {
            if (std::isnan(results[pattern])) continue;
            const double value = values[pattern];
            ++taken;
            always &= pattern;
            never &= ~pattern;
            least = std::min(least, value);
            most = std::max(most, value);
            if (!good) good = value;
        }
        if (!good) return refuseWhole("has no value for the bytes it was looked at with");
        one.others.emplace_back(input.node, *good);
        std::vector<FixedBit> fixed;
        for (std::size_t bit = 0; bit < input.bits.size(); ++bit) {
            const bool isSet = always >> bit & 1, isClear = never >> bit & 1;
            if (isSet || isClear)
                fixed.push_back({input.bits[bit].block, input.bits[bit].byte, input.bits[bit].bit, isSet});
        }
        if (taken == patterns >> fixed.size()) {
            m_code.fixed.insert(m_code.fixed.end(), fixed.begin(), fixed.end());
            return {};
        }
        // No two patterns are the same number: as many as there are between two ends are all of them.
        const double step = stepOf(input);
        if (static_cast<double>(taken) != (most - least) / step + 1)
            return refuseWhole("depends on more than single bits");
        one.limits.push_back({input, std::llround(least / step), std::llround(most / step)});
        return {};
    }

    DeviceCode& m_code;
    DeviceFrames& m_frames;
    CodeArithmetic m_arithmetic;
    std::vector<InputBit> m_kept;  ///< of settings
};

}  // namespace

double stepOf(const JoinedInput& input) {
    double step = HUGE_VAL;
    for (const InputBit& bit : input.bits) step = std::min(step, std::abs(bit.weight));
    return step;
}

JoinedInput inSteps(JoinedInput input, double step) {
    input.rest /= step;
    for (InputBit& bit : input.bits) bit.weight /= step;
    return input;
}

Expected<std::vector<InputBit>> reduceToOneNumber(DeviceCode& code, DeviceFrames& frames, CodeArithmetic arithmetic) {
    return NumberFinder(code, frames, arithmetic).run();
}

}  // namespace fg
