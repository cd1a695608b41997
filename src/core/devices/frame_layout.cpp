#include "devices/frame_layout.h"

#include <fmt/format.h>

namespace fg {

Expected<FrameLayout> FrameLayout::of(const Device& device, const DeviceOptions& options) {
    const auto complete = options.completed(device.options());
    if (!complete) return tl::unexpected(complete.error());
    FrameLayout layout;
    for (BlockSpec& block : device.blocks(*complete)) {
        if (block.isOptional) continue;
        layout.m_whole += block.size;
        if (!block.isCalibration) layout.m_measured += block.size;
        layout.m_blocks.push_back(std::move(block));
    }
    return layout;
}

Expected<RawData> FrameLayout::cut(std::span<const std::uint8_t> frame) const {
    if (frame.size() != m_whole && frame.size() != m_measured)
        return fail(ErrorCode::Range, "frame", fmt::format("{} bytes", frame.size()),
                    m_whole == m_measured
                        ? fmt::format("{} bytes", m_whole)
                        : fmt::format("{} bytes or {} bytes without the calibration", m_whole, m_measured));
    RawData data;
    for (const BlockSpec& block : m_blocks) {
        if (block.isCalibration && frame.size() != m_whole) continue;
        const auto bytes = frame.first(block.size);
        data.add({block.address ? std::string() : block.name, block.address, {bytes.begin(), bytes.end()}});
        frame = frame.subspan(block.size);
    }
    return data;
}

Expected<RawData> blocksOfFrame(const Device& device, const DeviceOptions& options,
                                std::span<const std::uint8_t> frame) {
    const auto layout = FrameLayout::of(device, options);
    return layout ? layout->cut(frame) : tl::unexpected(layout.error());
}

}  // namespace fg
