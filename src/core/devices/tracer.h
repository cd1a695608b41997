#pragma once

#include "devices/device.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <limits>
#include <tuple>

namespace fg {

/// A formula's text, made only when somebody wants it: within one statement, from references.
template <class... Arguments>
class Filled {
  public:
    explicit Filled(fmt::format_string<const Arguments&...> format, const Arguments&... arguments)
        : m_format(format), m_arguments(arguments...) {}
    operator std::string() const {  // a text wherever a text is wanted
        return std::apply([this](const Arguments&... all) { return fmt::format(m_format, all...); }, m_arguments);
    }
    friend std::string operator+(std::string left, const Filled& right) { return left.append(std::string(right)); }
    friend std::string operator+(const Filled& left, std::string_view right) { return std::string(left).append(right); }

  private:
    fmt::format_string<const Arguments&...> m_format;
    std::tuple<const Arguments&...> m_arguments;
};

/// The text with its numbers put in.
template <class... Arguments>
[[nodiscard]] Filled<Arguments...> filled(fmt::format_string<const Arguments&...> format,
                                          const Arguments&... arguments) {
    return Filled<Arguments...>(format, arguments...);
}

/// Collects the lines of a decoding while it goes on, where somebody wants them. Internal to the room; returns each
/// value, so that it can stand inside the arithmetic.
class Tracer {
  public:
    Tracer(std::string_view source, const DeviceOptions& options)
        : m_source(source), m_isWanted(options.wantsLines()) {}

    /// A number read from bytes: "70 6B, low byte first, unsigned".
    template <class Name, class Number, class Text>
    Number word(const Name& name, Number value, const Bytes& bytes, std::size_t first, std::size_t count,
                const Text& how) {
        if (!m_isWanted) return value;
        const std::string text(how);
        decoded.lines.push_back({{std::string(name), bytes.hex(first, count) + (text.empty() ? "" : ", " + text),
                                  static_cast<double>(value), "", m_source},
                                 bytes.places(first, count)});
        return value;
    }

    /// An intermediate value; `formula` with its numbers put in.
    template <class Text, class Number>
    Number step(std::string_view name, const Text& formula, Number value, std::string_view unit = {}) {
        if (m_isWanted)
            decoded.lines.push_back(
                {{std::string(name), std::string(formula), static_cast<double>(value), std::string(unit), m_source},
                 {}});
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
    bool m_isWanted;
};

inline constexpr double kNoValue = std::numeric_limits<double>::quiet_NaN();

/// A number for a formula; written only when the text is.
struct Num {
    double value = 0;
    operator std::string() const { return plainNumber(value, 9); }
    friend std::string operator+(const Num& left, std::string_view right) { return std::string(left).append(right); }
    friend std::string operator+(std::string left, const Num& right) { return left.append(std::string(right)); }
};
[[nodiscard]] inline Num num(double value) { return {value}; }

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

template <>
struct fmt::formatter<fg::Num> : fmt::formatter<std::string> {
    auto format(const fg::Num& number, fmt::format_context& context) const {
        return fmt::formatter<std::string>::format(std::string(number), context);
    }
};
