#pragma once

#include "devices/device.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <limits>

namespace fg {

/// Collects the lines of a decoding while it goes on. Internal to the room; returns each value, so that it can stand
/// inside the arithmetic.
class Tracer {
  public:
    explicit Tracer(std::string source) : m_source(std::move(source)) {}

    /// A number read from bytes: "70 6B, low byte first, unsigned".
    template <class Number>
    Number word(const std::string& name, Number value, const Bytes& bytes, std::size_t first, std::size_t count,
                const std::string& how) {
        decoded.lines.push_back({{name, bytes.hex(first, count) + (how.empty() ? "" : ", " + how),
                                  static_cast<double>(value), "", m_source},
                                 bytes.places(first, count)});
        return value;
    }

    /// An intermediate value; `formula` with its numbers put in.
    template <class Number>
    Number step(const std::string& name, const std::string& formula, Number value, const std::string& unit = "") {
        decoded.lines.push_back({{name, formula, static_cast<double>(value), unit, m_source}, {}});
        return value;
    }

    void reading(const std::string& id, Quantity quantity, double value, double step, Bound bound = Bound::None) {
        decoded.readings.push_back({id, quantity, value, step, bound});
    }
    void fault(const std::string& id, const std::string& text) {
        decoded.status.push_back({StatusKind::Fault, id, text});
    }
    void doubt(const std::string& id, const std::string& text) {
        decoded.status.push_back({StatusKind::Doubt, id, text});
    }
    void note(const std::string& id, const std::string& text) {
        decoded.status.push_back({StatusKind::Note, id, text});
    }

    Decoded decoded;

  private:
    std::string m_source;
};

inline constexpr double kNoValue = std::numeric_limits<double>::quiet_NaN();

/// A number for a formula.
[[nodiscard]] inline std::string num(double value) { return plainNumber(value, 9); }

/// An arithmetic shift to the right, which C++20 makes of >> on signed numbers; named so that data sheets' routines
/// read alike.
[[nodiscard]] constexpr std::int32_t asr(std::int32_t value, int bits) { return value >> bits; }

/// 32-bit arithmetic that wraps as the data sheets' routines do on the parts they were written for.
[[nodiscard]] constexpr std::int32_t wrapMul(std::int32_t a, std::int32_t b) {
    return static_cast<std::int32_t>(static_cast<std::uint32_t>(a) * static_cast<std::uint32_t>(b));
}
[[nodiscard]] constexpr std::int32_t wrapAdd(std::int32_t a, std::int32_t b) {
    return static_cast<std::int32_t>(static_cast<std::uint32_t>(a) + static_cast<std::uint32_t>(b));
}
[[nodiscard]] constexpr std::int32_t wrapSub(std::int32_t a, std::int32_t b) {
    return static_cast<std::int32_t>(static_cast<std::uint32_t>(a) - static_cast<std::uint32_t>(b));
}
[[nodiscard]] constexpr std::int32_t wrapShl(std::int32_t a, int bits) {
    return static_cast<std::int32_t>(static_cast<std::uint32_t>(a) << bits);
}

/// Helpers of compose(): bytes of a number, high byte first or low byte first.
[[nodiscard]] std::vector<std::uint8_t> bytesBe(std::uint64_t value, std::size_t count);
[[nodiscard]] std::vector<std::uint8_t> bytesLe(std::uint64_t value, std::size_t count);

[[nodiscard]] inline std::vector<OptionSpec> noOptions() { return {}; }
[[nodiscard]] inline std::vector<RawVariable> noVariables(const DeviceOptions&) { return {}; }

}  // namespace fg
