#include "handover/device_code.h"

#include "formula/evaluate.h"
#include "handover/device_frames.h"
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
    DeviceProbe(const DigitalPath& path, const Unit& unit, CodeArithmetic arithmetic)
        : m_path(path), m_device(*path.part().device), m_unit(unit), m_arithmetic(arithmetic) {}

    Expected<DeviceCode> run(const GaugeSpec& spec) {
        if (const auto chosen = chooseOptions(); !chosen) return tl::unexpected(chosen.error());
        const Interval span = m_span = spec.spanCanonical();
        const auto evaluation = m_path.evaluate({Stage::World, (span.low + span.high) / 2});
        if (!evaluation) return tl::unexpected(evaluation.error());
        m_base = evaluation->device->raw.blocks();
        nameBlocks();
        auto decoded = decodeFully(m_base);
        const DeviceReading* reading = decoded ? decoded->find(m_path.reading()) : nullptr;
        if (!reading || reading->node < 0 || !decoded->recording) return refuse("its formula is not recorded");
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
        if (const auto proven = prove(frames); !proven) return tl::unexpected(proven.error());
        m_code.hasWrapped = m_code.hasWrapped || mayWrap();
        return std::move(m_code);
    }

  private:
    using Blocks = DeviceFrames::Blocks;

    [[nodiscard]] tl::unexpected<Error> refuse(const std::string& why) const {
        return fail(ErrorCode::Unsupported, "sensor.part", fmt::format("“{}”: {}", m_path.part().id, why),
                    "a part whose decoder is a formula of its bytes, or the gauge as readings in your program");
    }

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
        const bool hasVariant = has(wanted);
        if (hasVariant) m_options.set("variant", wanted);
        m_isWhole = !isReal && !hasVariant;
        if (m_isWhole && variant != specs.end()) m_options.set("variant", "double");
        m_lenient = m_options.withoutRefusals();
        m_quiet = m_options.withoutChecksums().withoutLines();
        return {};
    }

    /// In whole numbers: those of the one number that the reading follows from, or the routine of the part's document.
    Expected<void> chooseWhole(DeviceFrames& frames) {
        if (m_arithmetic == CodeArithmetic::Float || m_arithmetic == CodeArithmetic::Double) return {};
        if (!m_isWhole) return takeRoutine();
        const DeviceCode before = m_code;
        auto kept = reduceToOneNumber(m_code, frames, m_arithmetic);
        if (kept) {
            m_settingBits = std::move(*kept);
            return {};
        }
        m_code = before;
        const auto tail = WholeTail::of(*m_code.formula, m_code.formula->root());
        const bool hasRoutine = tail && !tail->isInput() && routineBits() > 0;
        if (hasRoutine) return takeRoutine();
        Error refused = kept.error();
        refused.expected = otherRoutines() + refused.expected;
        if (tail && !tail->isInput())
            refused.expected = fmt::format("int{}, ", widestWhole(*m_code.formula, tail->node())) + refused.expected;
        return tl::unexpected(refused);
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
            m_real = m_quiet;
            m_real->set("variant", "double");
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
                m_others.insert(m_others.end(), input.bytes.begin(), input.bytes.end());
    }
    [[nodiscard]] Blocks withoutOthers(Blocks blocks) const {
        for (const ByteRef& place : m_others)
            for (std::size_t byte = place.first; byte < place.first + place.count; ++byte)
                blocks[place.block].bytes[byte] = m_base[place.block].bytes[byte];
        return blocks;
    }

    /// Could an integer of the routine not fit its width, whatever bytes come?
    [[nodiscard]] bool mayWrap() const {
        std::vector<Bounds> inputs(m_code.formula->recording().size());
        for (const JoinedInput& input : m_code.inputs) {
            Bounds& bounds = inputs[static_cast<std::size_t>(input.node)];
            bounds = {input.rest, input.rest};
            for (const InputBit& bit : input.bits) (bit.weight < 0 ? bounds.low : bounds.high) += bit.weight;
        }
        ExpressionEvaluator<Bounds> evaluator(m_code.formula->recording());
        (void)evaluator(m_code.formula->root(), inputs);
        return evaluator.mayWrap();
    }

    /// Does the decoder refuse the frame for the sake of another of its readings, and would give ours as it is?
    [[nodiscard]] bool isOthersRefusal(const Blocks& blocks, double mine) const {
        const auto decoded = m_device.decode(RawData(blocks), m_lenient.withoutLines());
        const DeviceReading* reading = decoded ? decoded->find(m_path.reading()) : nullptr;
        if (!reading || decoded->readings.size() < 2) return false;
        const double exact = m_unit.fromCanonical(m_path.correction().apply(reading->value));
        return std::abs(mine - exact) <= 1e-9 * (1 + std::abs(exact));
    }

    Expected<void> prove(DeviceFrames& frames) {
        FormulaRunner<double> exactly(*m_code.formula);
        FormulaRunner<float> shortly(*m_code.formula);
        const bool isFloat = m_arithmetic == CodeArithmetic::Float;
        double sum = 0;
        for (int i = 0; i < kProofFrames; ++i) {
            Blocks blocks = frames.any();
            for (const InputBit& kept : m_settingBits)
                if (DeviceFrames::isSet(blocks, kept.block, kept.byte, kept.bit) !=
                    DeviceFrames::isSet(m_base, kept.block, kept.byte, kept.bit))
                    DeviceFrames::turn(blocks, kept.block, kept.byte, kept.bit);
            auto decoded = m_device.decode(RawData(blocks), m_quiet);
            if (!decoded && !m_others.empty()) {
                blocks = withoutOthers(std::move(blocks));
                decoded = m_device.decode(RawData(blocks), m_quiet);
            }
            const DeviceReading* reading = decoded ? decoded->find(m_path.reading()) : nullptr;
            const bool isValue = reading && std::isfinite(reading->value) && reading->bound == Bound::None;
            const auto inputs = inputsOf(m_code, blocks);
            const double mine = inputs ? exactly(*inputs) : std::nan("");
            // Also where no value comes of it: the written code gets that far before it knows.
            if (inputs) m_code.hasWrapped = m_code.hasWrapped || exactly.hasWrapped();
            if (!isValue && (std::isnan(mine) || isOthersRefusal(blocks, mine))) continue;
            const double exact =
                isValue ? m_unit.fromCanonical(m_path.correction().apply(reading->value)) : std::nan("");
            // A decoder that refuses by a word its formula does not know, or the other way round.
            if (isValue == std::isnan(mine) || std::abs(mine - exact) > 1e-9 * (1 + std::abs(exact)))
                return refuse(fmt::format("its decoder says {} of {}, its formula {}",
                                          isValue ? plainNumber(exact, 9) : std::string("no value"), frameText(blocks),
                                          std::isnan(mine) ? std::string("no value") : plainNumber(mine, 9)));
            const double off = isFloat ? std::abs(shortly(*inputs) - exact) : std::abs(mine - exact);
            // At the very edge of what it takes, single precision may refuse where double does not.
            if (std::isnan(off) && ++m_refused < kProofFrames / 1000) continue;
            if (m_real && isValue) compareWithReal(blocks, exact);
            sum += off;
            if (!(off <= m_code.error.worst) || m_code.error.checked == 0)
                m_code.error.worst = std::isnan(off) ? HUGE_VAL : off, m_code.atFrame = frameText(blocks);
            ++m_code.error.checked;
        }
        if (m_code.error.checked < kProofFrames / 100) return refuse("too few frames of it have a value");
        m_code.error.mean = sum / static_cast<double>(m_code.error.checked);
        if (m_code.ofRoutine.checked > 0) m_code.ofRoutine.mean /= static_cast<double>(m_code.ofRoutine.checked);
        return m_code.one ? keepOneNumber() : Expected<void>();
    }

    /// What the document's routine in real numbers says of the frame, within the span and what the part is made for: of
    /// a cold or a hot one beyond that, integers need not say anything.
    void compareWithReal(const Blocks& blocks, double whole) {
        const auto decoded = m_device.decode(RawData(blocks), *m_real);
        const DeviceReading* reading = decoded ? decoded->find(m_path.reading()) : nullptr;
        if (!reading || !std::isfinite(reading->value)) return;
        const double canonical = m_path.correction().apply(reading->value);
        if (!m_span.contains(canonical)) return;
        for (const DeviceReading& one : decoded->readings) {
            const auto range = m_path.part().ranges.find(one.id);
            if (range != m_path.part().ranges.end() && !range->second.contains(one.value)) return;
        }
        CodeError& error = m_code.ofRoutine;
        const double off = std::abs(m_unit.fromCanonical(canonical) - whole);
        if (off > error.worst || error.checked == 0) error.worst = off, m_code.ofRoutineAt = frameText(blocks);
        error.mean += off;
        ++error.checked;
    }

    /// From here on only the one number is an input; the bits of the others were found to be fixed.
    Expected<void> keepOneNumber() {
        std::erase_if(m_code.inputs, [&](const JoinedInput& input) {
            return std::any_of(m_code.one->others.begin(), m_code.one->others.end(),
                               [&](const auto& other) { return other.first == input.node; });
        });
        return {};
    }

    [[nodiscard]] std::string frameText(const Blocks& blocks) const {
        std::string text;
        for (std::size_t i = 0; i < blocks.size(); ++i) {
            if (m_code.blocks[i].isCalibration) continue;
            for (const std::uint8_t byte : blocks[i].bytes)
                text += fmt::format("{}{:02X}", text.empty() ? "" : " ", byte);
        }
        return text;
    }

    const DigitalPath& m_path;
    const Device& m_device;
    const Unit& m_unit;
    CodeArithmetic m_arithmetic;
    DeviceOptions m_options, m_lenient, m_quiet;
    std::optional<DeviceOptions> m_real;  ///< of the routine in real numbers, beside one in integers
    Interval m_span{};
    Blocks m_base;
    std::size_t m_recordingSize = 0;
    DeviceCode m_code;
    std::vector<ByteRef> m_others;
    int m_refused = 0;
    bool m_isWhole = false;
    std::vector<InputBit> m_settingBits;  ///< that whole numbers take only as they are
};

}  // namespace

Expected<DeviceCode> deviceCodeOf(const DigitalPath& path, const GaugeSpec& spec, const Unit& unit,
                                  CodeArithmetic arithmetic) {
    return DeviceProbe(path, unit, arithmetic).run(spec);
}

}  // namespace fg
