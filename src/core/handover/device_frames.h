#pragma once

#include "handover/device_code.h"

#include <random>

namespace fg {

/// Blocks of bytes as a part could send them, and as it never would: what a decoder is looked at with.
class DeviceFrames {
  public:
    using Blocks = std::vector<RawBlock>;

    /// `base`: a frame that has a value, its calibration among its blocks, which are those of `kinds`.
    DeviceFrames(const Device& device, DeviceOptions options, Blocks base, std::vector<DeviceBlock> kinds)
        : m_device(device), m_options(std::move(options)), m_base(std::move(base)), m_kinds(std::move(kinds)) {}

    [[nodiscard]] const Blocks& base() const { return m_base; }
    [[nodiscard]] bool isCalibration(std::size_t block) const { return m_kinds[block].isCalibration; }
    /// Below `count`, by chance.
    [[nodiscard]] std::size_t below(std::size_t count) {
        return std::uniform_int_distribution<std::size_t>(0, count - 1)(m_random);
    }
    /// A frame that the part could send, with the base's calibration; nothing where the part cannot be simulated.
    [[nodiscard]] std::optional<Blocks> composed();
    /// The same part with other frames to come, for each `run` different ones.
    [[nodiscard]] DeviceFrames others(unsigned run) const {
        DeviceFrames frames = *this;
        frames.m_random.seed(kSeed + 1 + run);
        return frames;
    }
    /// Any frame: one that it could send, random bytes, other specimens of the part, single bits turned, or numbers at
    /// their ends.
    [[nodiscard]] Blocks any();

    static void turn(Blocks& blocks, std::size_t block, std::size_t byte, int bit) {
        blocks[block].bytes[byte] = static_cast<std::uint8_t>(blocks[block].bytes[byte] ^ (1U << bit));
    }
    [[nodiscard]] static bool isSet(const Blocks& blocks, std::size_t block, std::size_t byte, int bit) {
        return blocks[block].bytes[byte] >> bit & 1;
    }

  private:
    const Device& m_device;
    DeviceOptions m_options;
    Blocks m_base;
    std::vector<DeviceBlock> m_kinds;
    static constexpr unsigned kSeed = 20;
    std::mt19937 m_random{kSeed};
};

/// What the inputs of a device's formula are for a frame, by node of its recording; nothing where a bit that is fixed
/// is otherwise.
[[nodiscard]] std::optional<std::vector<double>> inputsOf(const DeviceCode& code, const DeviceFrames::Blocks& blocks);
/// The same into values that are used again; false where there are none.
[[nodiscard]] bool inputsOf(const DeviceCode& code, const DeviceFrames::Blocks& blocks, std::vector<double>& values);

/// How a decoder joins each of its numbers from bits: found by turning each bit over. Fills in `inputs` and `fixed`.
/// `lenient`: the decoder's options without refusals; `base`: the base frame decoded with them.
void joinInputs(DeviceCode& code, DeviceFrames& frames, const Device& device, const DeviceOptions& lenient,
                const Decoded& base);

/// Which sums a part's blocks carry: the usual ones, tried on frames that it could send.
[[nodiscard]] std::vector<BlockCheck> checksOf(DeviceFrames& frames, const Device& device,
                                               const DeviceOptions& options);

/// Makes of the code one of a single number, for integers that the part's document has no routine for: fills in `one`
/// and `fixed`; gives the bits of settings that are kept as they are in the base frame. Errors: Unsupported, with what
/// the reading follows from.
[[nodiscard]] Expected<std::vector<InputBit>> reduceToOneNumber(DeviceCode& code, DeviceFrames& frames,
                                                                CodeArithmetic arithmetic);

}  // namespace fg
