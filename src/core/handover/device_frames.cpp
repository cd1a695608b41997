#include "handover/device_frames.h"

namespace fg {

std::optional<DeviceFrames::Blocks> DeviceFrames::composed() {
    const std::vector<RawVariable> variables = m_device.variables(m_options);
    if (variables.empty() || !m_device.compose) return std::nullopt;
    std::vector<std::int64_t> values;
    for (const RawVariable& one : variables)
        values.push_back(std::uniform_int_distribution<std::int64_t>(one.low, one.high)(m_random));
    RawData calibration;
    for (std::size_t i = 0; i < m_base.size(); ++i)
        if (m_kinds[i].isCalibration) calibration.add(m_base[i]);
    const RawData made = m_device.compose(values, m_options, calibration);
    Blocks blocks = m_base;
    std::size_t next = 0;
    for (std::size_t i = 0; i < blocks.size(); ++i) {
        if (m_kinds[i].isCalibration) continue;
        while (next < made.blocks().size() && made.blocks()[next].bytes.size() != blocks[i].bytes.size()) ++next;
        if (next >= made.blocks().size()) return std::nullopt;
        blocks[i].bytes = made.blocks()[next++].bytes;
    }
    return blocks;
}

DeviceFrames::Blocks DeviceFrames::any() {
    Blocks blocks = m_base;
    const std::size_t kind = below(5);
    if (kind == 4) {
        // The ends of the numbers that stand there: there a part says that it has no value.
        std::uint8_t byte = 0;
        for (std::size_t i = 0; i < blocks.size(); ++i) {
            if (m_kinds[i].isCalibration) continue;
            if (below(2) == 0) byte = static_cast<std::uint8_t>(~byte);
            for (std::uint8_t& one : blocks[i].bytes) {
                if (below(6) == 0) byte = static_cast<std::uint8_t>(~byte);
                one = below(6) == 0 ? static_cast<std::uint8_t>(byte ^ (1U << below(8))) : byte;
            }
        }
        return blocks;
    }
    if (kind == 0)
        if (auto made = composed()) blocks = std::move(*made);
    for (std::size_t i = 0; i < blocks.size(); ++i)
        for (std::uint8_t& byte : blocks[i].bytes) {
            const bool isCalibration = m_kinds[i].isCalibration;
            // Calibration words are moved a little: other specimens of the same part.
            if (kind == 1 && !isCalibration) byte = static_cast<std::uint8_t>(below(256));
            if (kind == 2 && isCalibration && below(8) == 0) byte = static_cast<std::uint8_t>(byte ^ below(16));
            if (kind >= 2 && !isCalibration && below(4) == 0) byte = static_cast<std::uint8_t>(byte ^ (1U << below(8)));
        }
    return blocks;
}

bool inputsOf(const DeviceCode& code, const DeviceFrames::Blocks& blocks, std::vector<double>& values) {
    for (const FixedBit& one : code.fixed)
        if (DeviceFrames::isSet(blocks, one.block, one.byte, one.bit) != one.isSet) return false;
    values.resize(code.formula->recording().size(), 0.0);  // only inputs are ever written
    for (const JoinedInput& input : code.inputs) {
        double sum = input.rest;
        for (const InputBit& bit : input.bits)
            if (DeviceFrames::isSet(blocks, bit.block, bit.byte, bit.bit)) sum += bit.weight;
        values[static_cast<std::size_t>(input.node)] = sum;
    }
    return true;
}

std::optional<std::vector<double>> inputsOf(const DeviceCode& code, const DeviceFrames::Blocks& blocks) {
    std::vector<double> values;
    return inputsOf(code, blocks, values) ? std::optional(std::move(values)) : std::nullopt;
}

}  // namespace fg
