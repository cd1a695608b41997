// Checksums of a part's blocks: found by trying the usual ones on frames that the part would send.

#include "handover/device_frames.h"

#include "bytes/checksum.h"

#include <algorithm>

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
    if (kind == CheckKind::PromHigh) {
        words[0] &= 0x0FFF;
        words[7] = 0;
    }
    return crc4Prom(words);
}
std::uint8_t promStored(CheckKind kind, std::span<const std::uint8_t> bytes) {
    return static_cast<std::uint8_t>(kind == CheckKind::PromLow ? bytes.back() & 0xF : bytes.front() >> 4);
}

class CheckFinder {
  public:
    using Blocks = DeviceFrames::Blocks;

    CheckFinder(DeviceFrames& frames, const Device& device, const DeviceOptions& options)
        : m_frames(frames), m_device(device), m_options(options) {}

    std::vector<BlockCheck> run() {
        std::vector<Blocks> frames;
        constexpr int kFrames = 60;
        for (int i = 0; i < kFrames; ++i) {
            auto made = m_frames.composed();
            if (!made) return {};
            frames.push_back(std::move(*made));
        }
        for (std::size_t block = 0; block < m_frames.base().size(); ++block) {
            if (m_frames.isCalibration(block)) {
                findPromCheck(block);
                continue;
            }
            const std::size_t size = m_frames.base()[block].bytes.size();
            for (std::size_t at = 1; at < size; ++at) {
                // Only where the decoder refuses another byte for its sum.
                Blocks changed = frames.front();
                changed[block].bytes[at] = static_cast<std::uint8_t>(changed[block].bytes[at] ^ 0x01);
                const auto refused = m_device.decode(RawData(changed), m_options);
                if (refused || refused.error().code != ErrorCode::Damaged) continue;
                findCheckAt(frames, block, at);
            }
        }
        return m_found;
    }

  private:
    /// The coefficients of a PROM, which a part sends but once: the sum fits what stands there, the decoder refuses a
    /// turned bit, and takes it when the sum is put right.
    void findPromCheck(std::size_t block) {
        constexpr std::size_t kBytes = 16, kTurned = 5;
        if (m_frames.base()[block].bytes.size() != kBytes) return;
        const auto isTaken = [&](const Blocks& blocks) {
            return m_device.decode(RawData(blocks), m_options).has_value();
        };
        for (const CheckKind kind : {CheckKind::PromLow, CheckKind::PromHigh}) {
            Blocks turned = m_frames.base();
            turned[block].bytes[kTurned] = static_cast<std::uint8_t>(turned[block].bytes[kTurned] ^ 1U);
            if (promSum(kind, m_frames.base()[block].bytes) != promStored(kind, m_frames.base()[block].bytes) ||
                isTaken(turned))
                continue;
            std::uint8_t& holder = turned[block].bytes[kind == CheckKind::PromLow ? kBytes - 1 : 0];
            const std::uint8_t sum = promSum(kind, turned[block].bytes);
            holder = static_cast<std::uint8_t>(kind == CheckKind::PromLow ? (holder & 0xF0) | sum
                                                                          : (holder & 0x0F) | sum << 4);
            if (!isTaken(turned)) continue;
            m_found.push_back({kind, block, 0, kBytes, 0});
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
                m_found.push_back({kind, block, first, at - first, at});
                return;
            }
    }

    DeviceFrames& m_frames;
    const Device& m_device;
    const DeviceOptions& m_options;
    std::vector<BlockCheck> m_found;
};

}  // namespace

std::vector<BlockCheck> checksOf(DeviceFrames& frames, const Device& device, const DeviceOptions& options) {
    return CheckFinder(frames, device, options).run();
}

}  // namespace fg
