#pragma once

#include "devices/device.h"

#include <span>
#include <vector>

namespace fg {

/// The blocks that the live frames of one device are made of, worked out once for many frames.
class FrameLayout {
  public:
    /// Error: an option that the device does not have.
    [[nodiscard]] static Expected<FrameLayout> of(const Device& device, const DeviceOptions& options);

    /// The frame's bytes as blocks: all of the device's in order, or only those that are no calibration. Error: Range,
    /// with the lengths that would do.
    [[nodiscard]] Expected<RawData> cut(std::span<const std::uint8_t> frame) const;

  private:
    std::vector<BlockSpec> m_blocks;
    std::size_t m_whole = 0, m_measured = 0;  // bytes of a frame with the calibration, and without it
};

}  // namespace fg
