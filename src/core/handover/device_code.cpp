#include "handover/device_code.h"

#include "bytes/checksum.h"
#include "formula/evaluate.h"
#include "handover/formula_runner.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <random>

namespace fg {
namespace {

std::uint32_t checkOf(CheckKind kind, std::span<const std::uint8_t> bytes) {
    switch (kind) {
        case CheckKind::Crc8Ones:
            return crc8Humidity(bytes, 0xFF);
        case CheckKind::Crc8Zero:
            return crc8Humidity(bytes, 0x00);
        case CheckKind::Crc8Wire:
            return crc8OneWire(bytes);
        case CheckKind::Sum8: {
            std::uint32_t sum = 0;
            for (const std::uint8_t byte : bytes) sum += byte;
            return sum & 0xFF;
        }
        case CheckKind::Crc16Modbus:
            return crc16Modbus(bytes);
        case CheckKind::PromLow:
        case CheckKind::PromHigh:
            break;  // not of a run of bytes: promSum()
    }
    return 0;
}

std::uint8_t promSum(CheckKind kind, std::span<const std::uint8_t> bytes) {
    std::array<std::uint16_t, 8> words{};
    for (std::size_t i = 0; i < words.size(); ++i)
        words[i] = static_cast<std::uint16_t>(bytes[2 * i] << 8 | bytes[2 * i + 1]);
    if (kind == CheckKind::PromHigh) words[0] &= 0x0FFF, words[7] = 0;
    return crc4Prom(words);
}
std::uint8_t promStored(CheckKind kind, std::span<const std::uint8_t> bytes) {
    return static_cast<std::uint8_t>(kind == CheckKind::PromLow ? bytes.back() & 0xF : bytes.front() >> 4);
}

/// Finds out how a decoder makes its numbers, and whether its formula is all there is to it.
class DeviceProbe {
  public:
    DeviceProbe(const DigitalPath& path, const Unit& unit, CodeArithmetic arithmetic)
        : m_path(path), m_device(*path.part().device), m_unit(unit), m_arithmetic(arithmetic), m_random(20) {}

    Expected<DeviceCode> run(const GaugeSpec& spec) {
        if (const auto chosen = chooseOptions(); !chosen) return tl::unexpected(chosen.error());
        const Interval span = spec.spanCanonical();
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
        joinInputs(*decoded);
        if (const auto one = findOneNumber(); !one) return tl::unexpected(one.error());
        findChecks();
        if (const auto proven = prove(); !proven) return tl::unexpected(proven.error());
        m_code.hasWrapped = m_code.hasWrapped || mayWrap();
        return std::move(m_code);
    }

  private:
    using Blocks = std::vector<RawBlock>;

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
        const std::string wanted = isReal ? "double" : std::string(arithmeticName(m_arithmetic));
        const bool hasVariant = variant != specs.end() && std::find(variant->choices.begin(), variant->choices.end(),
                                                                    wanted) != variant->choices.end();
        if (hasVariant) m_options.set("variant", wanted);
        m_isWhole = !isReal && !hasVariant;
        if (m_isWhole && variant != specs.end()) m_options.set("variant", "double");
        m_lenient = m_options.withoutRefusals();
        m_quiet = m_options.withoutChecksums().withoutLines();
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

    /// For integers that the part's document has no routine for: the number behind the reading, and what the bits of
    /// everything else have to be.
    Expected<void> findOneNumber() {
        if (!m_isWhole) return {};
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
                return fixed;
        }
        m_code.one = std::move(one);
        return {};
    }

    void keepSetting(const JoinedInput& input, DeviceCode::OneNumber& one) {
        double value = input.rest;
        for (const InputBit& bit : input.bits) {
            const bool isOne = isSet(m_base, bit.block, bit.byte, bit.bit);
            m_code.fixed.push_back({bit.block, bit.byte, bit.bit, isOne});
            m_settingBits.push_back(bit);
            if (isOne) value += bit.weight;
        }
        one.others.emplace_back(input.node, value);
        one.settings.push_back(fmt::format("{} = {}", input.name, plainNumber(value)));
    }

    /// What the bits of an input have to be for the formula to have a value.
    Expected<void> fixBits(const JoinedInput& input, DeviceCode::OneNumber& one) {
        constexpr std::size_t kMostBits = 10;
        if (input.bits.size() > kMostBits) return refuseWhole("is refused by a number of many bits");
        auto inputs = inputsOf(m_base);
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

    [[nodiscard]] std::size_t below(std::size_t count) {
        return std::uniform_int_distribution<std::size_t>(0, count - 1)(m_random);
    }
    void turn(Blocks& blocks, std::size_t block, std::size_t byte, int bit) const {
        blocks[block].bytes[byte] = static_cast<std::uint8_t>(blocks[block].bytes[byte] ^ (1U << bit));
    }
    [[nodiscard]] static bool isSet(const Blocks& blocks, std::size_t block, std::size_t byte, int bit) {
        return blocks[block].bytes[byte] >> bit & 1;
    }

    /// A frame that the part could send, with the base's calibration; nothing where the part cannot be simulated.
    [[nodiscard]] std::optional<Blocks> composed() {
        const std::vector<RawVariable> variables = m_device.variables(m_options);
        if (variables.empty() || !m_device.compose) return std::nullopt;
        std::vector<std::int64_t> values;
        for (const RawVariable& one : variables)
            values.push_back(std::uniform_int_distribution<std::int64_t>(one.low, one.high)(m_random));
        RawData calibration;
        for (std::size_t i = 0; i < m_base.size(); ++i)
            if (m_code.blocks[i].isCalibration) calibration.add(m_base[i]);
        const RawData made = m_device.compose(values, m_options, calibration);
        Blocks blocks = m_base;
        std::size_t next = 0;
        for (std::size_t i = 0; i < blocks.size(); ++i) {
            if (m_code.blocks[i].isCalibration) continue;
            while (next < made.blocks().size() && made.blocks()[next].bytes.size() != blocks[i].bytes.size()) ++next;
            if (next >= made.blocks().size()) return std::nullopt;
            blocks[i].bytes = made.blocks()[next++].bytes;
        }
        return blocks;
    }

    [[nodiscard]] Blocks anyFrame() {
        Blocks blocks = m_base;
        const std::size_t kind = below(4);
        if (kind == 0)
            if (auto made = composed()) blocks = std::move(*made);
        for (std::size_t i = 0; i < blocks.size(); ++i)
            for (std::uint8_t& byte : blocks[i].bytes) {
                const bool isCalibration = m_code.blocks[i].isCalibration;
                // Calibration words are moved a little: other specimens of the same part.
                if (kind == 1 && !isCalibration) byte = static_cast<std::uint8_t>(below(256));
                if (kind == 2 && isCalibration && below(8) == 0) byte = static_cast<std::uint8_t>(byte ^ below(16));
                if (kind >= 2 && !isCalibration && below(4) == 0)
                    byte = static_cast<std::uint8_t>(byte ^ (1U << below(8)));
            }
        return blocks;
    }

    /// Is this decoding like the base's, number by number?
    [[nodiscard]] static bool isAlike(const Decoded& a, const Decoded& b) {
        if (a.inputs.size() != b.inputs.size()) return false;
        for (std::size_t i = 0; i < a.inputs.size(); ++i)
            if (a.recording->at(a.inputs[i].node).name != b.recording->at(b.inputs[i].node).name) return false;
        return true;
    }

    /// What a bit is worth in an input; nothing where the decoder refuses it either way round.
    [[nodiscard]] std::optional<double> weightOf(const Decoded& base, std::size_t input, std::size_t block,
                                                 std::size_t byte, int bit) {
        constexpr int kMostTries = 40;
        for (int tried = 0; tried < kMostTries; ++tried) {
            Blocks one = tried == 0 ? m_base : anyFrame(), other = one;
            turn(other, block, byte, bit);
            const auto before = decodeFully(one), after = decodeFully(other);
            if (!before || !after || !isAlike(*before, base) || !isAlike(*after, base)) continue;
            const double change = after->recording->at(after->inputs[input].node).value -
                                  before->recording->at(before->inputs[input].node).value;
            return isSet(one, block, byte, bit) ? -change : change;
        }
        return std::nullopt;
    }

    /// Bits whose turning the decoder refuses: a sign, without which the number is too large either way. What a frame
    /// with it says more than the bits that are known.
    void weighByFrames(const Decoded& base, std::size_t input, JoinedInput& joined, std::vector<InputBit> open) {
        constexpr int kMostFrames = 3000;
        for (int tried = 0; tried < kMostFrames && !open.empty(); ++tried) {
            Blocks frame = anyFrame();
            // Calibration bits are not among those that frames move by themselves.
            if (tried % 2 == 0) {
                const InputBit& one = open[below(open.size())];
                turn(frame, one.block, one.byte, one.bit);
            }
            const auto decoded = decodeFully(frame);
            if (!decoded || !isAlike(*decoded, base)) continue;
            const auto differs = [&](const InputBit& bit) {
                return isSet(frame, bit.block, bit.byte, bit.bit) != isSet(m_base, bit.block, bit.byte, bit.bit);
            };
            const auto turned = std::count_if(open.begin(), open.end(), differs);
            if (open.size() > 1 && turned == static_cast<std::ptrdiff_t>(open.size()) &&
                isSignGroup(*decoded, input, joined, open, frame)) {
                open.clear();
                break;
            }
            if (turned != 1) continue;
            const auto it = std::find_if(open.begin(), open.end(), differs);
            double known = joined.rest;
            for (const InputBit& bit : joined.bits)
                if (isSet(frame, bit.block, bit.byte, bit.bit)) known += bit.weight;
            const double change = decoded->recording->at(decoded->inputs[input].node).value - known;
            const bool wasSet = isSet(m_base, it->block, it->byte, it->bit);
            it->weight = wasSet ? -change : change;
            if (it->weight != 0) {
                joined.bits.push_back(*it);
                if (wasSet) joined.rest -= it->weight;
            }
            open.erase(it);
        }
        for (const InputBit& bit : open)
            m_code.fixed.push_back({bit.block, bit.byte, bit.bit, isSet(m_base, bit.block, bit.byte, bit.bit)});
    }

    /// Bits that only ever turn together: a sign carried on upwards, each worth twice the one below, the last negative.
    /// Taken as that where the frame agrees; the proof decides.
    bool isSignGroup(const Decoded& decoded, std::size_t input, JoinedInput& joined, std::vector<InputBit> open,
                     const Blocks& frame) const {
        double known = joined.rest, largest = 0;
        for (const InputBit& bit : joined.bits) {
            largest = std::max(largest, std::abs(bit.weight));
            if (isSet(frame, bit.block, bit.byte, bit.bit)) known += bit.weight;
        }
        for (const InputBit& bit : open)
            if (bit.byte != open.front().byte || bit.block != open.front().block) return false;
        const double change = decoded.recording->at(decoded.inputs[input].node).value - known;
        const bool wasSet = isSet(m_base, open.front().block, open.front().byte, open.front().bit);
        if (std::abs((wasSet ? -change : change) + 2 * largest) > 1e-9 * largest) return false;
        std::sort(open.begin(), open.end(), [](const InputBit& a, const InputBit& b) { return a.bit < b.bit; });
        for (std::size_t i = 0; i < open.size(); ++i) {
            open[i].weight = std::ldexp(largest, static_cast<int>(i) + 1) * (i + 1 == open.size() ? -1 : 1);
            joined.bits.push_back(open[i]);
            if (wasSet) joined.rest -= open[i].weight;
        }
        return true;
    }

    void joinInputs(const Decoded& base) {
        for (std::size_t i = 0; i < base.inputs.size(); ++i) {
            const DeviceInput& input = base.inputs[i];
            if (m_code.formula->usesOf(input.node) == 0) continue;
            const Node& node = base.recording->at(input.node);
            JoinedInput joined{input.node, std::string(node.name), {}, node.value};
            std::vector<InputBit> open;
            for (const ByteRef& place : input.bytes)
                for (std::size_t byte = place.first; byte < place.first + place.count; ++byte)
                    for (int bit = 0; bit < 8; ++bit) {
                        const auto weight = weightOf(base, i, place.block, byte, bit);
                        if (!weight) {
                            open.push_back({place.block, byte, bit, 0});
                            continue;
                        }
                        if (*weight == 0) continue;
                        joined.bits.push_back({place.block, byte, bit, *weight});
                        if (isSet(m_base, place.block, byte, bit)) joined.rest -= *weight;
                    }
            weighByFrames(base, i, joined, std::move(open));
            m_code.inputs.push_back(std::move(joined));
        }
        findOthers(base);
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

    void findChecks() {
        std::vector<Blocks> frames;
        constexpr int kFrames = 60;
        for (int i = 0; i < kFrames; ++i) {
            auto made = composed();
            if (!made) return;
            frames.push_back(std::move(*made));
        }
        for (std::size_t block = 0; block < m_base.size(); ++block) {
            if (m_code.blocks[block].isCalibration) {
                findPromCheck(block);
                continue;
            }
            const std::size_t size = m_base[block].bytes.size();
            for (std::size_t at = 1; at < size; ++at) {
                // Only where the decoder refuses another byte for its sum.
                Blocks changed = frames.front();
                changed[block].bytes[at] = static_cast<std::uint8_t>(changed[block].bytes[at] ^ 0x01);
                const auto refused = m_device.decode(RawData(changed), m_options);
                if (refused || refused.error().code != ErrorCode::Damaged) continue;
                findCheckAt(frames, block, at);
            }
        }
    }
    /// The coefficients of a PROM, which a part sends but once: the sum fits what stands there, the decoder refuses a
    /// turned bit, and takes it when the sum is put right.
    void findPromCheck(std::size_t block) {
        constexpr std::size_t kBytes = 16, kTurned = 5;
        if (m_base[block].bytes.size() != kBytes) return;
        const auto isTaken = [&](const Blocks& blocks) {
            return m_device.decode(RawData(blocks), m_options).has_value();
        };
        for (const CheckKind kind : {CheckKind::PromLow, CheckKind::PromHigh}) {
            Blocks turned = m_base;
            turned[block].bytes[kTurned] = static_cast<std::uint8_t>(turned[block].bytes[kTurned] ^ 1U);
            if (promSum(kind, m_base[block].bytes) != promStored(kind, m_base[block].bytes) || isTaken(turned))
                continue;
            std::uint8_t& holder = turned[block].bytes[kind == CheckKind::PromLow ? kBytes - 1 : 0];
            const std::uint8_t sum = promSum(kind, turned[block].bytes);
            holder = static_cast<std::uint8_t>(kind == CheckKind::PromLow ? (holder & 0xF0) | sum
                                                                          : (holder & 0x0F) | sum << 4);
            if (!isTaken(turned)) continue;
            m_code.checks.push_back({kind, block, 0, kBytes, 0});
            return;
        }
    }

    void findCheckAt(const std::vector<Blocks>& frames, std::size_t block, std::size_t at) {
        for (const CheckKind kind :
             {CheckKind::Crc8Ones, CheckKind::Crc8Zero, CheckKind::Crc8Wire, CheckKind::Sum8, CheckKind::Crc16Modbus})
            for (std::size_t first = 0; first < at; ++first) {
                const bool isWide = kind == CheckKind::Crc16Modbus;
                if (isWide && at + 1 >= frames.front()[block].bytes.size()) continue;
                const bool fits = std::all_of(frames.begin(), frames.end(), [&](const Blocks& frame) {
                    const auto& bytes = frame[block].bytes;
                    const std::uint32_t there =
                        isWide ? static_cast<std::uint32_t>(bytes[at] | bytes[at + 1] << 8) : bytes[at];
                    return checkOf(kind, std::span(bytes).subspan(first, at - first)) == there;
                });
                if (!fits) continue;
                m_code.checks.push_back({kind, block, first, at - first, at});
                return;
            }
    }

    [[nodiscard]] std::optional<std::vector<double>> inputsOf(const Blocks& blocks) const {
        for (const FixedBit& one : m_code.fixed)
            if (isSet(blocks, one.block, one.byte, one.bit) != one.isSet) return std::nullopt;
        std::vector<double> values(m_recordingSize + 8, 0.0);
        for (const JoinedInput& input : m_code.inputs) {
            double sum = input.rest;
            for (const InputBit& bit : input.bits)
                if (isSet(blocks, bit.block, bit.byte, bit.bit)) sum += bit.weight;
            values[static_cast<std::size_t>(input.node)] = sum;
        }
        return values;
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

    Expected<void> prove() {
        FormulaRunner<double> exactly(*m_code.formula);
        FormulaRunner<float> shortly(*m_code.formula);
        const bool isFloat = m_arithmetic == CodeArithmetic::Float;
        double sum = 0;
        for (int i = 0; i < kProofFrames; ++i) {
            Blocks blocks = anyFrame();
            for (const InputBit& kept : m_settingBits)
                if (isSet(blocks, kept.block, kept.byte, kept.bit) != isSet(m_base, kept.block, kept.byte, kept.bit))
                    turn(blocks, kept.block, kept.byte, kept.bit);
            auto decoded = m_device.decode(RawData(blocks), m_quiet);
            if (!decoded && !m_others.empty()) {
                blocks = withoutOthers(std::move(blocks));
                decoded = m_device.decode(RawData(blocks), m_quiet);
            }
            const DeviceReading* reading = decoded ? decoded->find(m_path.reading()) : nullptr;
            const bool isValue = reading && std::isfinite(reading->value) && reading->bound == Bound::None;
            const auto inputs = inputsOf(blocks);
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
            sum += off;
            if (!(off <= m_code.error.worst) || m_code.error.checked == 0)
                m_code.error.worst = std::isnan(off) ? HUGE_VAL : off, m_code.atFrame = frameText(blocks);
            ++m_code.error.checked;
        }
        if (m_code.error.checked < kProofFrames / 100) return refuse("too few frames of it have a value");
        m_code.error.mean = sum / static_cast<double>(m_code.error.checked);
        return m_code.one ? keepOneNumber() : Expected<void>();
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
    Blocks m_base;
    std::size_t m_recordingSize = 0;
    DeviceCode m_code;
    std::vector<ByteRef> m_others;
    std::mt19937 m_random;
    int m_refused = 0;
    bool m_isWhole = false;
    std::vector<InputBit> m_settingBits;  ///< that whole numbers take only as they are
};

}  // namespace

JoinedInput DeviceCode::OneNumber::inSteps(const JoinedInput& input) const {
    JoinedInput scaled = input;
    scaled.rest /= step;
    for (InputBit& bit : scaled.bits) bit.weight /= step;
    return scaled;
}

Expected<DeviceCode> deviceCodeOf(const DigitalPath& path, const GaugeSpec& spec, const Unit& unit,
                                  CodeArithmetic arithmetic) {
    return DeviceProbe(path, unit, arithmetic).run(spec);
}

}  // namespace fg
