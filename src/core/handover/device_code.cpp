#include "handover/device_code.h"

#include "formula/evaluate.h"
#include "handover/device_proof.h"
#include "handover/formula_runner.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// Finds out how a decoder makes its numbers, and whether its formula is all there is to it.
class DeviceProbe {
  public:
    DeviceProbe(const DigitalPath& path, const Unit& unit, CodeArithmetic arithmetic, std::int64_t scale, WholeWay way)
        : m_path(path),
          m_device(*path.part().device),
          m_unit(unit),
          m_arithmetic(arithmetic),
          m_scale(scale),
          m_way(way),
          m_proof{path, unit} {}

    Expected<DeviceCode> run(const GaugeSpec& spec) {
        if (const auto chosen = chooseOptions(); !chosen) return tl::unexpected(chosen.error());
        const Interval span = m_proof.span = spec.spanCanonical();
        const auto evaluation = m_path.evaluate({Stage::World, (span.low + span.high) / 2});
        if (!evaluation) return tl::unexpected(evaluation.error());
        m_base = evaluation->device->raw.blocks();
        nameBlocks();
        auto decoded = decodeFully(m_base);
        const DeviceReading* reading = decoded ? decoded->find(m_path.reading()) : nullptr;
        if (!reading || reading->node < 0 || !decoded->recording)
            return refuseDevice(m_path, "its formula is not recorded");
        Recording& in = *decoded->recording;
        const Recorded corrected = m_path.correction().record(in, Recorded(in, reading->node), m_path.quantity());
        const SolveLooks looks = looksAt(*decoded);
        auto formula = FormulaCode::ofRecording(decoded->recording, corrected.indexIn(in), m_unit, &looks);
        if (!formula) return tl::unexpected(formula.error());
        m_code.formula = std::make_shared<FormulaCode>(std::move(*formula));
        m_recordingSize = in.size();
        DeviceFrames frames(m_device, m_options, m_base, m_code.blocks);
        joinInputs(m_code, frames, m_device, m_lenient, *decoded);
        findOthers(*decoded);
        if (const auto chosen = chooseWhole(frames); !chosen) return tl::unexpected(chosen.error());
        m_code.checks = checksOf(frames, m_device, m_options);
        m_proof.isFloat = m_arithmetic == CodeArithmetic::Float;
        if (const auto proven = proveDevice(m_proof, frames, m_code); !proven) return tl::unexpected(proven.error());
        if (m_code.one) keepOneNumber();
        if (m_proof.fixed) {
            if (const auto taken = takeFixedPoint(); !taken) return tl::unexpected(taken.error());
        } else {
            m_code.hasWrapped = m_code.hasWrapped || mayWrap();
        }
        dropUnused();
        return std::move(m_code);
    }

  private:
    using Blocks = DeviceFrames::Blocks;

    /// A document that has integer routines has an option for them.
    Expected<void> chooseOptions() {
        m_options = m_path.options();
        const std::vector<OptionSpec> specs = m_device.options();
        const auto variant =
            std::find_if(specs.begin(), specs.end(), [](const OptionSpec& o) { return o.id == "variant"; });
        const bool isReal = m_arithmetic == CodeArithmetic::Float || m_arithmetic == CodeArithmetic::Double;
        std::string wanted = isReal ? "double" : std::string(arithmeticName(m_arithmetic));
        const auto has = [&](const std::string& choice) {
            return variant != specs.end() &&
                   std::find(variant->choices.begin(), variant->choices.end(), choice) != variant->choices.end();
        };
        // Of one width only: which one its operations tell.
        if (routineBits() > 0 && !has(wanted) && has("integer")) wanted = "integer";
        const bool hasVariant = has(wanted) && (isReal || m_way == WholeWay::Usual);
        if (hasVariant) m_options.set("variant", wanted);
        m_isWhole = !isReal && !hasVariant;
        if (m_isWhole && variant != specs.end()) m_options.set("variant", "double");
        m_lenient = m_options.withoutRefusals();
        m_proof.quiet = m_options.withoutChecksums().withoutLines();
        return {};
    }

    /// In whole numbers: those of the one number that the reading follows from, or the routine of the part's document.
    Expected<void> chooseWhole(DeviceFrames& frames) {
        if (m_arithmetic == CodeArithmetic::Float || m_arithmetic == CodeArithmetic::Double) return {};
        if (m_way == WholeWay::Fixed) return chooseFixedPoint(frames);
        if (!m_isWhole) return takeRoutine();
        const DeviceCode before = m_code;
        auto kept = reduceToOneNumber(m_code, frames, m_arithmetic);
        if (kept) {
            m_proof.settings = std::move(*kept);
            return {};
        }
        m_code = before;
        const auto tail = WholeTail::of(*m_code.formula, m_code.formula->root());
        const bool hasRoutine = tail && !tail->isInput() && routineBits() > 0;
        if (hasRoutine) return takeRoutine();
        if (m_arithmetic == CodeArithmetic::Table) return tl::unexpected(kept.error());
        const auto fixed = chooseFixedPoint(frames);
        if (fixed || widthOf(m_arithmetic) < 64) return fixed;
        Error refused = fixed.error();
        refused.expected = otherRoutines() + refused.expected;
        return tl::unexpected(refused);
    }

    Expected<void> chooseFixedPoint(DeviceFrames& frames) {
        auto fixed = inFixedPoint(frames);
        if (!fixed) return tl::unexpected(fixed.error());
        m_proof.fixed = std::move(*fixed);
        return {};
    }

    [[nodiscard]] Expected<FixedPoint> inFixedPoint(DeviceFrames& frames) const {
        std::vector<FixedInput> inputs;
        for (const JoinedInput& input : m_code.inputs) {
            const double step = stepOf(input);
            const Bounds bounds = boundsOf(input);
            constexpr double kMostSteps = 0x1p52;
            if (!(std::max(-bounds.low, bounds.high) <= kMostSteps * step))
                return refuseDevice(m_path, fmt::format("its number “{}” is too long", input.name));
            inputs.push_back({input.node, step, std::llround(bounds.low / step), std::llround(bounds.high / step)});
        }
        return fixedPointOf(*m_code.formula, inputs, seenIn(frames), widthOf(m_arithmetic), m_scale);
    }

    /// Between which ends each value of the formula is, over frames that have a reading.
    [[nodiscard]] std::vector<Interval> seenIn(const DeviceFrames& frames) const {
        constexpr int kLooks = 4000;
        std::vector<Interval> seen(m_code.formula->recording().size(), {HUGE_VAL, -HUGE_VAL});
        FormulaRunner<double> runner(*m_code.formula);
        DeviceFrames looked = frames;
        for (int i = 0; i < kLooks; ++i) {
            const auto inputs = inputsOf(m_code, looked.any());
            if (!inputs || std::isnan(runner(*inputs))) continue;
            for (std::size_t node = 0; node < seen.size(); ++node) {
                const double value = runner.valueAt(static_cast<std::int32_t>(node));
                if (std::isnan(value)) continue;
                seen[node] = {std::min(seen[node].low, value), std::max(seen[node].high, value)};
            }
        }
        return seen;
    }

    /// What was proven against the decoder in real numbers, and against those in fixed point, goes on in fixed point.
    Expected<void> takeFixedPoint() {
        const FixedPoint& fixed = *m_proof.fixed;
        if (m_code.hasWrapped) return refuseDevice(m_path, "its formula in fixed point overflows");
        for (const FixedPoint::Input& one : fixed.inputs)
            for (JoinedInput& input : m_code.inputs)
                if (input.node == one.real) {
                    input = inSteps(input, one.step);
                    input.node = one.whole;
                    break;
                }
        m_code.formula = fixed.formula;
        m_code.tail = WholeTail::of(*m_code.formula, m_code.formula->root());
        m_code.isFixedPoint = true;
        return {};
    }

    /// Integers in which the part's document has a routine, as the beginning of a list of what could be asked for.
    [[nodiscard]] std::string otherRoutines() const {
        std::string list;
        for (const OptionSpec& option : m_device.options())
            if (option.id == "variant")
                for (const std::string& choice : option.choices)
                    if (choice != "double") list += (choice == "integer" ? "a wider integer" : choice) + ", ";
        return list;
    }

    /// Of the integers that are asked for; 0 where no document computes in them.
    [[nodiscard]] int routineBits() const {
        return m_arithmetic == CodeArithmetic::Int64 ? 64 : m_arithmetic == CodeArithmetic::Int32 ? 32 : 0;
    }

    Expected<void> takeRoutine() {
        const auto refuseFor = [&](const std::string& other, const std::string& why) {
            return fail(ErrorCode::Unsupported, "arithmetic", std::string(arithmeticName(m_arithmetic)),
                        other + ": " + why);
        };
        const auto tail = WholeTail::of(*m_code.formula, m_code.formula->root());
        if (!tail)
            return refuseFor(
                "float or double",
                "what the part's integer routine comes to takes more than sums and factors to the reading");
        if (!tail->isRising())
            return refuseFor("float or double", "the correction rises and falls over what the part's routine can give");
        if (const int widest = widestWhole(*m_code.formula, tail->node()); widest > routineBits())
            return refuseFor(fmt::format("int{0}, float or double", widest),
                             fmt::format("the routine of the part's document needs {} bits", widest));
        m_isWhole = false;
        m_code.tail = tail;
        const std::vector<OptionSpec> specs = m_device.options();
        if (std::any_of(specs.begin(), specs.end(), [](const OptionSpec& one) { return one.id == "variant"; })) {
            m_proof.real = m_proof.quiet;
            m_proof.real->set("variant", "double");
        }
        return {};
    }

    /// Where what the formula solves for lies, over frames that the part would send.
    [[nodiscard]] SolveLooks looksAt(const Decoded& base) {
        SolveLooks looks;
        const auto rootOf = [&](const Decoded& decoded) {
            const DeviceReading* reading = decoded.find(m_path.reading());
            return reading ? reading->node : -1;
        };
        if (!looks.look(*base.recording, rootOf(base))) return looks;
        looks.margin = 0.01;
        const std::vector<RawVariable> variables = m_device.variables(m_options);
        constexpr std::int64_t kMostLooks = 4096;
        if (variables.size() != 1) return looks;
        // A little beyond: a decoder takes the last step of its range on both sides.
        const std::int64_t width = variables.front().high - variables.front().low, margin = width / 50 + 1;
        const std::int64_t low = std::max<std::int64_t>(0, variables.front().low - margin),
                           high = variables.front().high + margin;
        const std::int64_t stride = std::max<std::int64_t>(1, width / kMostLooks);
        for (std::int64_t at = low;; at = std::min(at + stride, high)) {
            const auto decoded = m_device.decode(m_device.compose(std::span(&at, 1), m_options, RawData()), m_lenient);
            if (decoded && rootOf(*decoded) >= 0) looks.look(*decoded->recording, rootOf(*decoded));
            if (at == high) return looks;
        }
    }

    void nameBlocks() {
        Identifiers names({"value", "raw"});
        const std::vector<BlockSpec> specs = m_device.blocks(m_options);
        for (const RawBlock& block : m_base) {
            const auto spec = std::find_if(specs.begin(), specs.end(), [&](const BlockSpec& one) {
                return block.address ? one.address == block.address : one.name == block.name;
            });
            const bool isKnown = spec != specs.end();
            const std::string name = isKnown ? spec->name : block.name.empty() ? std::string("data") : block.name;
            std::size_t at = 0;
            for (auto before = specs.begin(); isKnown && before != spec; ++before)
                if (before->name == spec->name) at += before->size;
            m_code.blocks.push_back({names.fresh(name), block.bytes.size(), isKnown && spec->isCalibration,
                                     isKnown ? spec->name : std::string(), at});
        }
    }

    [[nodiscard]] Expected<Decoded> decodeFully(const Blocks& blocks) const {
        return m_device.decode(RawData(blocks), m_lenient);
    }

    /// Bytes that other readings of the part rest on, and this one does not: where they make no sense the decoder
    /// refuses the whole frame, which is no matter of this formula.
    void findOthers(const Decoded& base) {
        std::vector<bool> isTheirs(m_recordingSize), isOurs(m_recordingSize);
        const auto mark = [&](std::int32_t root, std::vector<bool>& marked) {
            marked[static_cast<std::size_t>(root)] = true;
            for (std::int32_t i = root; i >= 0; --i)
                if (marked[static_cast<std::size_t>(i)])
                    for (const std::int32_t operand : base.recording->at(i).operands)
                        if (operand >= 0) marked[static_cast<std::size_t>(operand)] = true;
        };
        for (const DeviceReading& one : base.readings)
            if (one.node >= 0) mark(one.node, one.id == m_path.reading() ? isOurs : isTheirs);
        for (const DeviceInput& input : base.inputs)
            if (isTheirs[static_cast<std::size_t>(input.node)] && !isOurs[static_cast<std::size_t>(input.node)])
                m_proof.others.insert(m_proof.others.end(), input.bytes.begin(), input.bytes.end());
    }
    [[nodiscard]] static Bounds boundsOf(const JoinedInput& input) {
        Bounds bounds{input.rest, input.rest};
        for (const InputBit& bit : input.bits) (bit.weight < 0 ? bounds.low : bounds.high) += bit.weight;
        return bounds;
    }

    /// Could an integer of the routine not fit its width, whatever bytes come?
    [[nodiscard]] bool mayWrap() const {
        std::vector<Bounds> inputs(m_code.formula->recording().size());
        for (const JoinedInput& input : m_code.inputs) inputs[static_cast<std::size_t>(input.node)] = boundsOf(input);
        ExpressionEvaluator<Bounds> evaluator(m_code.formula->recording());
        (void)evaluator(m_code.formula->root(), inputs);
        return evaluator.mayWrap();
    }

    /// Blocks that the code takes nothing from need not be read: what the part has beside its readings, and the words
    /// of other readings.
    void dropUnused() {
        std::vector<bool> isUsed(m_code.blocks.size());
        const auto overPlaces = [&](const auto& use) {
            for (JoinedInput& input : m_code.inputs)
                for (InputBit& bit : input.bits) use(bit.block);
            for (FixedBit& bit : m_code.fixed) use(bit.block);
            for (BlockCheck& check : m_code.checks) use(check.block);
            if (!m_code.one) return;
            for (DeviceCode::OneNumber::Limit& limit : m_code.one->limits)
                for (InputBit& bit : limit.number.bits) use(bit.block);
        };
        overPlaces([&](std::size_t block) { isUsed[block] = true; });
        std::vector<std::size_t> places(isUsed.size());
        std::vector<DeviceBlock> kept;
        for (std::size_t i = 0; i < isUsed.size(); ++i) {
            places[i] = kept.size();
            if (isUsed[i]) kept.push_back(m_code.blocks[i]);
        }
        overPlaces([&](std::size_t& block) { block = places[block]; });
        m_code.blocks = std::move(kept);
    }

    /// From here on only the one number is an input; the bits of the others were found to be fixed.
    void keepOneNumber() {
        std::erase_if(m_code.inputs, [&](const JoinedInput& input) {
            return std::any_of(m_code.one->others.begin(), m_code.one->others.end(),
                               [&](const auto& other) { return other.first == input.node; });
        });
    }

    const DigitalPath& m_path;
    const Device& m_device;
    const Unit& m_unit;
    CodeArithmetic m_arithmetic;
    std::int64_t m_scale;
    WholeWay m_way;
    DeviceOptions m_options, m_lenient;
    DeviceProof m_proof;
    Blocks m_base;
    std::size_t m_recordingSize = 0;
    DeviceCode m_code;
    bool m_isWhole = false;
};

}  // namespace

Expected<DeviceCode> deviceCodeOf(const DigitalPath& path, const GaugeSpec& spec, const Unit& unit,
                                  CodeArithmetic arithmetic, std::int64_t scale, WholeWay way) {
    return DeviceProbe(path, unit, arithmetic, scale, way).run(spec);
}

}  // namespace fg
