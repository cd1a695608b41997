// A part whose reading follows from one number: its integers are made as those of a converter's code.

#include "handover/device_frames.h"

#include "handover/formula_runner.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

class NumberFinder {
  public:
    NumberFinder(DeviceCode& code, const DeviceFrames& frames, CodeArithmetic arithmetic)
        : m_code(code), m_frames(frames), m_arithmetic(arithmetic) {}

    /// For integers that the part's document has no routine for: the number behind the reading, and what the bits of
    /// everything else have to be.
    Expected<std::vector<InputBit>> run() {
        std::vector<std::size_t> values = valueInputs();
        // What is a setting beside the number is kept as it is.
        constexpr std::size_t kMostSettingBits = 3;
        std::vector<std::size_t> settings;
        for (std::size_t i = values.size(); i-- > 0;)
            if (values.size() > 1 && m_code.inputs[values[i]].bits.size() <= kMostSettingBits)
                settings.push_back(values[i]), values.erase(values.begin() + static_cast<std::ptrdiff_t>(i));
        if (values.size() != 1) return refuseWhole(fmt::format("follows from {} numbers", values.size()));
        const JoinedInput number = m_code.inputs[values.front()];
        DeviceCode::OneNumber one{HUGE_VAL, 0, 0, {}, {}};
        for (const InputBit& bit : number.bits) one.step = std::min(one.step, std::abs(bit.weight));
        double least = number.rest, most = number.rest;
        for (const InputBit& bit : number.bits) (bit.weight < 0 ? least : most) += bit.weight;
        constexpr double kMostSteps = 1 << 22;
        if (!((most - least) / one.step <= kMostSteps)) return refuseWhole("has more than 22 bits");
        one.least = std::llround(least / one.step), one.most = std::llround(most / one.step);
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
                    "float or double: the part's document has no routine in these integers, and its reading " + why);
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

    /// What the bits of an input have to be for the formula to have a value.
    Expected<void> fixBits(const JoinedInput& input, DeviceCode::OneNumber& one) {
        constexpr std::size_t kMostBits = 10;
        if (input.bits.size() > kMostBits) return refuseWhole("is refused by a number of many bits");
        auto inputs = inputsOf(m_code, m_frames.base());
        if (!inputs) return refuseWhole("has no value for the bytes it was looked at with");
        FormulaRunner<double> runner(*m_code.formula);
        const std::size_t patterns = std::size_t{1} << input.bits.size();
        std::size_t taken = 0, always = patterns - 1, never = patterns - 1;  // bits that are set, or clear, in all
        std::optional<double> good;
        for (std::size_t pattern = 0; pattern < patterns; ++pattern) {
            double value = input.rest;
            for (std::size_t bit = 0; bit < input.bits.size(); ++bit)
                if (pattern >> bit & 1) value += input.bits[bit].weight;
            (*inputs)[static_cast<std::size_t>(input.node)] = value;
            if (std::isnan(runner(*inputs))) continue;
            ++taken, always &= pattern, never &= ~pattern;
            if (!good) good = value;
        }
        std::size_t free = 0;
        for (std::size_t bit = 0; bit < input.bits.size(); ++bit) {
            const bool isSet = always >> bit & 1, isClear = never >> bit & 1;
            if (!isSet && !isClear)
                ++free;
            else
                m_code.fixed.push_back({input.bits[bit].block, input.bits[bit].byte, input.bits[bit].bit, isSet});
        }
        if (!good || taken != std::size_t{1} << free) return refuseWhole("depends on more than single bits");
        one.others.emplace_back(input.node, *good);
        return {};
    }

    DeviceCode& m_code;
    const DeviceFrames& m_frames;
    CodeArithmetic m_arithmetic;
    std::vector<InputBit> m_kept;  ///< of settings
};

}  // namespace

JoinedInput DeviceCode::OneNumber::inSteps(const JoinedInput& input) const {
    JoinedInput scaled = input;
    scaled.rest /= step;
    for (InputBit& bit : scaled.bits) bit.weight /= step;
    return scaled;
}

Expected<std::vector<InputBit>> reduceToOneNumber(DeviceCode& code, const DeviceFrames& frames,
                                                  CodeArithmetic arithmetic) {
    return NumberFinder(code, frames, arithmetic).run();
}

}  // namespace fg
