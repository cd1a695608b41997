#pragma once

#include "devices/device.h"
#include "formula/text.h"
#include "formula/whole.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <limits>
#include <optional>
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

inline constexpr double kNoValue = std::numeric_limits<double>::quiet_NaN();
/// Name of the Refuse node of what is not measured yet.
inline constexpr std::string_view kNotReady = "not ready";

/// Collects the lines of a decoding while it goes on, where somebody wants them. Internal to the room. Numbers come
/// from bytes by word(), whole(); what is computed with them under a name, by step(). Where lines are wanted the
/// numbers belong to a recording and the lines are printed from it; else they compute as plain numbers do.
class Tracer {
  public:
    Tracer(std::string_view source, const DeviceOptions& options)
        : m_source(source),
          m_isWanted(options.wantsLines()),
          m_ignoresChecksums(options.ignoresChecksums()),
          m_ignoresRefusals(options.ignoresRefusals()) {
        if (m_isWanted) decoded.recording = m_kept = std::make_shared<Recording>();
    }
    Tracer(const Tracer&) = delete;
    Tracer& operator=(const Tracer&) = delete;

    /// A number read from bytes: "70 6B, low byte first, unsigned". An integer, or one scaled by its unit in the bytes.
    template <class Number, class Text>
    Recorded word(std::string_view name, Number value, const Bytes& bytes, std::size_t first, std::size_t count,
                  const Text& how) {
        const auto number = static_cast<double>(value);
        if (!m_isWanted) return number;
        print();
        Node node{.op = Op::Input, .value = number, .name = m_kept->keep(name)};
        if constexpr (std::is_integral_v<Number>) {
            node.bits = 64;
            node.whole = static_cast<std::int64_t>(value);
        }
        const std::int32_t index = m_kept->add(node);
        const std::string text(how);
        decoded.lines.push_back(
            {{std::string(name), bytes.hex(first, count) + (text.empty() ? "" : ", " + text), number, "", m_source},
             bytes.places(first, count)});
        decoded.inputs.push_back({index, bytes.places(first, count)});
        return {*m_kept, index};
    }
    /// More bytes that the word before this rests on.
    void also(const Bytes& bytes, std::size_t first, std::size_t count) {
        if (!m_isWanted) return;
        for (const ByteRef& place : bytes.places(first, count)) {
            decoded.inputs.back().bytes.push_back(place);
            decoded.lines.back().bytes.push_back(place);
        }
    }
    /// The same as an integer that a data sheet's routine counts with.
    template <std::integral Rep, class Text>
    Whole<Rep> whole(std::string_view name, std::integral auto value, const Bytes& bytes, std::size_t first,
                     std::size_t count, const Text& how) {
        return wholeOf<Rep>(word(name, value, bytes, first, count, how));
    }
    /// What the part's options say: a gain, a resistor.
    Recorded option(std::string_view name, double value, std::string_view unit = {}) {
        return looked(name, "an option", value, unit);
    }

    /// An intermediate value under its name; `remark` goes behind the source.
    template <class Text = std::string_view>
    Recorded step(std::string_view name, const Recorded& x, std::string_view unit = {}, const Text& remark = {}) {
        return shown(name, x, unit, remark);
    }
    template <std::integral Rep, class Text = std::string_view>
    Whole<Rep> step(std::string_view name, const Whole<Rep>& x, std::string_view unit = {}, const Text& remark = {}) {
        return shown(name, x, unit, remark);
    }
    /// A value that follows from the others by a rule that is no formula.
    Recorded looked(std::string_view name, const std::string& how, double value, std::string_view unit = {}) {
        if (!m_isWanted) return value;
        print();
        decoded.lines.push_back({{std::string(name), how, value, std::string(unit), m_source}, {}});
        return Recorded::leaf(*m_kept, Op::Parameter, m_kept->keep(name), m_kept->keep(unit), value);
    }

    /// A relative humidity that cannot be is cut to 0 … 100 %RH, and said.
    Recorded cut(const Recorded& percent) {
        const double shown = std::clamp(percent.value(), 0.0, 100.0);
        // Recorded either way: the formula cuts, though this value needs it not.
        if (!(shown < percent.value() || shown > percent.value())) return least(most(percent, 0.0), 100.0);
        note("cut", fmt::format("{} %RH cannot be: shown as {} %RH", plainNumber(percent.value(), 9), shown));
        return step("RH shown", least(most(percent, 0.0), 100.0), "percent", "cut to 0 … 100");
    }

    void reading(const std::string& id, Quantity quantity, const Recorded& value, double step,
                 Bound bound = Bound::None) {
        print();
        decoded.readings.push_back({id, quantity, value.value(), step, bound});
        if (!value.in()) return;
        // Behind the lines: conditions belong to the formula, not to the story of this reading.
        Recorded guarded = m_condition ? require(*m_condition, [&] { return value; }) : value;
        if (m_ready)
            guarded = {*m_kept, m_kept->add({.op = Op::Refuse,
                                             .operands = {guarded.indexIn(*m_kept), Recorded(kNoValue).indexIn(*m_kept),
                                                          m_ready->node.indexIn(*m_kept)},
                                             .value = m_ready->holds ? guarded.value() : kNoValue,
                                             .name = kNotReady,
                                             .isTaken = m_ready->holds})};
        decoded.readings.back().node = guarded.indexIn(*m_kept);
        m_printed = static_cast<std::int32_t>(m_kept->size());
    }

    /// A bit that the routine looks at, as a number without a line of its own.
    Recorded bit(std::string_view name, const Bytes& bytes, std::size_t at, int number) {
        return aside(name, bytes.u8(at) >> number & 1, bytes, at, 1);
    }
    /// A number read from bytes that has no line of its own.
    Recorded aside(std::string_view name, double value, const Bytes& bytes, std::size_t first, std::size_t count) {
        if (!m_isWanted) return value;
        print();
        const Recorded leaf = Recorded::leaf(*m_kept, Op::Input, m_kept->keep(name), "", value);
        decoded.inputs.push_back({leaf.indexIn(*m_kept), bytes.places(first, count)});
        m_printed = static_cast<std::int32_t>(m_kept->size());
        return leaf;
    }
    /// Are these bits of a byte all clear? Expected as by expect().
    bool expectClear(const Bytes& bytes, std::size_t at, std::initializer_list<int> bits) {
        bool areClear = true;
        for (const int number : bits)
            areClear = expect(bit("bit " + std::to_string(number), bytes, at, number) < 1.0) && areClear;
        return areClear;
    }
    /// What must hold for the readings that follow to be values; the decoder itself refuses, or faults, by the same.
    /// True when it holds, or where refusals are not looked at (DeviceOptions::withoutRefusals()): whoever would divide
    /// by zero then looks for himself.
    bool expect(const RecordedCondition& condition) {
        if (m_isWanted && condition.node.in()) {
            print();
            m_condition = m_condition ? *m_condition && condition : condition;
            m_printed = static_cast<std::int32_t>(m_kept->size());
        }
        return condition.holds || m_ignoresRefusals;
    }
    /// What is expected while one of these lives holds for the readings made meanwhile: that there is a pressure is
    /// nothing that the humidity behind it rests on.
    class OwnConditions {
      public:
        explicit OwnConditions(Tracer& tracer) : m_tracer(tracer), m_before(tracer.m_condition) {}
        ~OwnConditions() { m_tracer.m_condition = m_before; }
        OwnConditions(const OwnConditions&) = delete;
        OwnConditions& operator=(const OwnConditions&) = delete;

      private:
        Tracer& m_tracer;
        std::optional<RecordedCondition> m_before;
    };
    /// The same of what holds as soon as the part has measured: code says “busy” where it does not, and means that a
    /// later reading will do.
    bool expectReady(const RecordedCondition& condition) {
        if (m_isWanted && condition.node.in()) {
            print();
            m_ready = m_ready ? *m_ready && condition : condition;
            m_printed = static_cast<std::int32_t>(m_kept->size());
        }
        return condition.holds || m_ignoresRefusals;
    }
    [[nodiscard]] bool ignoresChecksums() const { return m_ignoresChecksums; }
    /// Where nobody wants the lines, routines that are shown beside the chosen one need not be computed.
    [[nodiscard]] bool wantsLines() const { return m_isWanted; }
    void fault(const std::string& id, const std::string& text) {
        decoded.status.push_back({StatusKind::Fault, id, text});
    }
    void doubt(const std::string& id, const std::string& text) {
        decoded.status.push_back({StatusKind::Doubt, id, text});
    }
    void note(const std::string& id, const std::string& text) {
        decoded.status.push_back({StatusKind::Note, id, text});
    }

    [[nodiscard]] const std::string& source() const { return m_source; }

    Decoded decoded;

  private:
    template <class Number, class Text>
    Number shown(std::string_view name, const Number& x, std::string_view unit, const Text& remark) {
        if (!x.in()) return x;
        const Number named = fg::step(name, unit, sourceWith(std::string(remark)), x);
        print();
        return named;
    }
    [[nodiscard]] std::string sourceWith(std::string_view remark) const;
    /// Prints the steps recorded since the last time, those of formulas that name their own among them.
    void print();

    std::string m_source;
    bool m_isWanted, m_ignoresChecksums, m_ignoresRefusals;
    std::optional<RecordedCondition> m_condition, m_ready;
    std::shared_ptr<Recording> m_kept;
    std::int32_t m_printed = 0;
};

/// A number for a formula; written only when the text is.
struct Num {
    double value = 0;
    operator std::string() const { return plainNumber(value, 9); }
    friend std::string operator+(const Num& left, std::string_view right) { return std::string(left).append(right); }
    friend std::string operator+(std::string left, const Num& right) { return left.append(std::string(right)); }
};
[[nodiscard]] inline Num num(double value) { return {value}; }

/// An arithmetic shift to the right, which C++20 makes of >> on signed numbers; named so that decoders read alike.
[[nodiscard]] constexpr std::int32_t asr(std::int32_t value, int bits) { return value >> bits; }

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
