// Many codes at once: a batch through each stage in blocks, a path of straight lines in one pass; bit for bit what one
// code alone gives.

#include "path/analog_path.h"

#include <algorithm>
#include <array>

namespace fg {
namespace {

/// All stages of a path of straight lines in one pass, with the very steps that each takes alone.
template <class Number>
void straightReadings(std::span<const Number> codes, std::span<double> out, double offset, double lsb,
                      StraightInverse wiring, StraightInverse sensor) {
    const auto n = out.size();
    if (wiring.isIdentity()) {
        for (std::size_t i = 0; i < n; ++i)
            out[i] = ((static_cast<double>(codes[i]) + offset) * lsb - sensor.offset) / sensor.factor;
    } else {
        for (std::size_t i = 0; i < n; ++i)
            out[i] =
                (((static_cast<double>(codes[i]) + offset) * lsb - wiring.offset) / wiring.factor - sensor.offset) /
                sensor.factor;
    }
}

/// Codes to what arrives at the converter; `offset` where it is a straight line.
template <class Number>
void inputsOf(const Converter& converter, std::optional<double> offset, std::span<const Number> codes,
              std::span<double> out) {
    const double lsb = converter.lsb();
    if (offset)
        for (std::size_t i = 0; i < out.size(); ++i) out[i] = (static_cast<double>(codes[i]) + *offset) * lsb;
    else
        for (std::size_t i = 0; i < out.size(); ++i) out[i] = converter.inputOf(static_cast<double>(codes[i]));
}

}  // namespace

template <class Number>
void AnalogPath::run(std::span<const Number> codes, std::span<double> out) const {
    const auto offset = m_converter->straightOffset();
    const auto wiring = m_wiring->straightInverse(), sensor = m_sensor->straightInverse();
    // Blocks that stay in the first-level cache, so that each stage's loop is tight and memory is passed once.
    constexpr std::size_t kBlock = 1024;
    for (std::size_t begin = 0; begin < codes.size(); begin += kBlock) {
        const std::size_t size = std::min(kBlock, codes.size() - begin);
        const auto from = codes.subspan(begin, size);
        const auto to = out.subspan(begin, size);
        if (offset && wiring && sensor) {
            straightReadings(from, to, *offset, m_converter->lsb(), *wiring, *sensor);
        } else {
            inputsOf(*m_converter, offset, from, to);
            if (!wiring || !wiring->isIdentity()) m_wiring->inverseAll(to);
            if (m_heat.isNone()) {
                m_sensor->inverseAll(to);
            } else {
                std::array<double, kBlock> rise;
                for (std::size_t i = 0; i < size; ++i) rise[i] = m_heat.rise_K(to[i]);
                m_sensor->inverseAll(to);
                for (std::size_t i = 0; i < size; ++i) to[i] -= rise[i];
            }
        }
        if (!m_correction.isNone())
            for (double& value : to) value = m_correction.apply(value);
    }
}

void AnalogPath::readings(std::span<const double> codes, std::span<double> out) const { run(codes, out); }
void AnalogPath::readings(std::span<const std::int32_t> codes, std::span<double> out) const { run(codes, out); }
void AnalogPath::readings(std::span<const std::uint16_t> codes, std::span<double> out) const { run(codes, out); }

std::vector<double> AnalogPath::table() const {
    if (m_converter->bits() > 16) return {};
    std::vector<double> values(static_cast<std::size_t>(m_converter->codeCount()));
    for (std::size_t i = 0; i < values.size(); ++i)
        values[i] = static_cast<double>(m_converter->minCode() + static_cast<std::int64_t>(i));
    readings(values, values);
    return values;
}

}  // namespace fg
