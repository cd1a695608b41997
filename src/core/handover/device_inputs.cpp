// How a decoder joins its numbers from the bits of its bytes: found by turning each bit over, not typed a second time.

#include "handover/device_frames.h"

#include <algorithm>
#include <cmath>

namespace fg {
namespace {

class InputJoiner {
  public:
    using Blocks = DeviceFrames::Blocks;

    InputJoiner(DeviceCode& code, DeviceFrames& frames, const Device& device, const DeviceOptions& lenient)
        : m_code(code), m_frames(frames), m_device(device), m_lenient(lenient) {}

    void run(const Decoded& base) {
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
                        if (DeviceFrames::isSet(m_frames.base(), place.block, byte, bit)) joined.rest -= *weight;
                    }
            weighByFrames(base, i, joined, std::move(open));
            m_code.inputs.push_back(std::move(joined));
        }
    }

  private:
    [[nodiscard]] Expected<Decoded> decodedOf(const Blocks& blocks) const {
        return m_device.decode(RawData(blocks), m_lenient);
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
            Blocks one = tried == 0 ? m_frames.base() : m_frames.any(), other = one;
            DeviceFrames::turn(other, block, byte, bit);
            const auto before = decodedOf(one), after = decodedOf(other);
            if (!before || !after || !isAlike(*before, base) || !isAlike(*after, base)) continue;
            const double change = after->recording->at(after->inputs[input].node).value -
                                  before->recording->at(before->inputs[input].node).value;
            return DeviceFrames::isSet(one, block, byte, bit) ? -change : change;
        }
        return std::nullopt;
    }

    /// Bits whose turning the decoder refuses: a sign, without which the number is too large either way. What a frame
    /// with it says more than the bits that are known.
    void weighByFrames(const Decoded& base, std::size_t input, JoinedInput& joined, std::vector<InputBit> open) {
        constexpr int kMostFrames = 3000;
        for (int tried = 0; tried < kMostFrames && !open.empty(); ++tried) {
            Blocks frame = m_frames.any();
            // Calibration bits are not among those that frames move by themselves.
            if (tried % 2 == 0) {
                const InputBit& one = open[m_frames.below(open.size())];
                DeviceFrames::turn(frame, one.block, one.byte, one.bit);
            }
            const auto decoded = decodedOf(frame);
            if (!decoded || !isAlike(*decoded, base)) continue;
            const auto differs = [&](const InputBit& bit) {
                return DeviceFrames::isSet(frame, bit.block, bit.byte, bit.bit) !=
                       DeviceFrames::isSet(m_frames.base(), bit.block, bit.byte, bit.bit);
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
                if (DeviceFrames::isSet(frame, bit.block, bit.byte, bit.bit)) known += bit.weight;
            const double change = decoded->recording->at(decoded->inputs[input].node).value - known;
            const bool wasSet = DeviceFrames::isSet(m_frames.base(), it->block, it->byte, it->bit);
            it->weight = wasSet ? -change : change;
            if (it->weight != 0) {
                joined.bits.push_back(*it);
                if (wasSet) joined.rest -= it->weight;
            }
            open.erase(it);
        }
        for (const InputBit& bit : open)
            m_code.fixed.push_back(
                {bit.block, bit.byte, bit.bit, DeviceFrames::isSet(m_frames.base(), bit.block, bit.byte, bit.bit)});
    }

    /// Bits that only ever turn together: a sign carried on upwards, each worth twice the one below, the last negative.
    /// Taken as that where the frame agrees; the proof decides.
    bool isSignGroup(const Decoded& decoded, std::size_t input, JoinedInput& joined, std::vector<InputBit> open,
                     const Blocks& frame) const {
        double known = joined.rest, largest = 0;
        for (const InputBit& bit : joined.bits) {
            largest = std::max(largest, std::abs(bit.weight));
            if (DeviceFrames::isSet(frame, bit.block, bit.byte, bit.bit)) known += bit.weight;
        }
        for (const InputBit& bit : open)
            if (bit.byte != open.front().byte || bit.block != open.front().block) return false;
        const double change = decoded.recording->at(decoded.inputs[input].node).value - known;
        const bool wasSet =
            DeviceFrames::isSet(m_frames.base(), open.front().block, open.front().byte, open.front().bit);
        if (std::abs((wasSet ? -change : change) + 2 * largest) > 1e-9 * largest) return false;
        std::sort(open.begin(), open.end(), [](const InputBit& a, const InputBit& b) { return a.bit < b.bit; });
        for (std::size_t i = 0; i < open.size(); ++i) {
            open[i].weight = std::ldexp(largest, static_cast<int>(i) + 1) * (i + 1 == open.size() ? -1 : 1);
            joined.bits.push_back(open[i]);
            if (wasSet) joined.rest -= open[i].weight;
        }
        return true;
    }

    DeviceCode& m_code;
    DeviceFrames& m_frames;
    const Device& m_device;
    const DeviceOptions& m_lenient;
};

}  // namespace

void joinInputs(DeviceCode& code, DeviceFrames& frames, const Device& device, const DeviceOptions& lenient,
                const Decoded& base) {
    InputJoiner(code, frames, device, lenient).run(base);
}

}  // namespace fg
