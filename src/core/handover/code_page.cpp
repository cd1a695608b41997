#include "handover/code_page.h"

#include "handover/code_thresholds.h"
#include "handover/formula_writer.h"
#include "handover/integer_writer.h"
#include "registers/register_map.h"
#include "uncertainty/reading_text.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace fg {
namespace {

/// How the raw word becomes the code, and what both are called.
struct RawCode {
    std::string parameter;  ///< type of what the function takes
    std::size_t bytes = 0;
    std::string name, type;  ///< of the code in the body
    std::string lines;       ///< statements in between
};

std::string lower(std::string text) {
    for (char& c : text) c = c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    return text;
}
std::string upper(std::string text) {
    for (char& c : text) c = c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
    return text;
}

/// What is written to the part before it measures, register by register in the order of its map, and why.
std::vector<std::string> setUpLines(const std::vector<FieldValue>& settings) {
    std::vector<std::string> lines;
    for (std::size_t from = 0; from < settings.size();) {
        const Register& in = *settings[from].in;
        std::uint32_t word = in.reset;
        std::string why;
        std::size_t i = from;
        for (; i < settings.size() && settings[i].in == &in; ++i) {
            word = in.with(*settings[i].field, word, settings[i].code).value_or(word);
            why += (why.empty() ? "" : ", ") + settings[i].field->id + "=" + settings[i].text;
        }
        from = i;
        if (in.isReadOnly || word == in.reset) continue;
        lines.push_back(fmt::format("Set-up: write {} to {}, {}: {}", RegisterWord{&in, word}.text(), in.name,
                                    in.place(), commentText(why)));
    }
    return lines;
}

/// The files of one gauge, piece by piece.
class CodePage {
  public:
    CodePage(const Gauge& gauge, const CodeWish& wish, GaugeCode& code)
        : m_gauge(gauge),
          m_wish(wish),
          m_code(code),
          m_isC(wish.language == CodeLanguage::C),
          m_base(lower(identifierOf(gauge.spec().name))),
          m_names({"result", "low", "high", "middle", "i", "fg_between", m_base, m_base + "_read", m_base + "_text"}) {
        // A file of the library's name would be found in its place.
        if (m_base == "math" || m_base == "stdint" || m_base == "port") m_base += "_gauge";
        code.function = m_base + "_read";
        code.header = m_isC ? m_base + ".h" : m_base;
        if (!gauge.analog()) return;
        const Converter& converter = gauge.analog()->converter();
        const int wide = converter.wordBits() == 24 ? 32 : converter.wordBits();
        const bool isSigned = converter.minCode() < 0;
        m_raw.parameter = fmt::format("{}int{}_t", isSigned ? "" : "u", wide);
        m_raw.bytes = static_cast<std::size_t>(wide) / 8;
        m_raw.name = "raw", m_raw.type = m_raw.parameter;
        unpack(converter);
        code.takes = {{"raw", m_raw.parameter, "", m_raw.bytes}};
        m_before = m_raw.lines + guards();
        m_given = "`raw` as the converter gives it.";
        sign();
    }

    /// For a digital part: its blocks, their checks, and the numbers that the formula takes from them.
    std::map<std::int32_t, std::string> takeDevice(const DeviceCode& device, CodeReal real, std::string& helpers) {
        for (const DeviceBlock& block : device.blocks)
            m_code.takes.push_back({m_names.freshExact(block.name), "const uint8_t *", block.name, block.bytes});
        m_given = "Each block as it is read from the part, in the order of its registers.";
        std::string none;
        for (const CodeParameter& one : m_code.takes)
            none += (none.empty() ? ""
                     : m_isC      ? " || "
                                  : " or ") +
                    (m_isC ? "!" + one.name : fmt::format("{0} is None or len({0}) < {1}", one.name, one.bytes));
        refuseIf(none, "FG_DAMAGED");
        for (const BlockCheck& check : device.checks) addCheck(check, helpers);
        for (const FixedBit& one : device.fixed)
            refuseIf(m_isC ? fmt::format("({}[{}] & {}u) != {}u", m_code.takes[one.block].name, one.byte, 1 << one.bit,
                                         one.isSet ? 1 << one.bit : 0)
                           : fmt::format("{}[{}] & {} != {}", m_code.takes[one.block].name, one.byte, 1 << one.bit,
                                         one.isSet ? 1 << one.bit : 0),
                     "FG_NO_VALUE");
        std::map<std::int32_t, std::string> names;
        for (const JoinedInput& input : device.inputs) names[input.node] = addInput(input, device, real);
        sign();
        return names;
    }

    [[nodiscard]] const RawCode& raw() const { return m_raw; }
    [[nodiscard]] Identifiers& names() { return m_names; }
    [[nodiscard]] const std::string& base() const { return m_base; }

    /// The source with its header. `isReal`: the result may be no number.
    void write(const std::string& constants, const std::string& functions, const std::string& body,
               const std::string& result, bool isReal) {
        if (m_isC) {
            m_code.files.push_back({m_base + ".h", header()});
            m_code.files.push_back({m_base + ".c", source(constants, functions, body, result, isReal)});
            if (m_wish.shape == CodeShape::Program) m_code.files.push_back({m_base + "_main.c", mainC()});
        } else {
            m_code.files.push_back({m_base + ".py", module(constants, functions, body, result, isReal)});
            if (m_wish.shape == CodeShape::Program) m_code.files.push_back({m_base + "_main.py", mainPython()});
        }
    }

  private:
    void sign() {
        std::string parameters, names;
        for (const CodeParameter& one : m_code.takes) {
            const bool isPointer = one.type.ends_with("*");
            parameters += one.type + (isPointer ? "" : " ") + one.name + ", ";
            names += (names.empty() ? "" : ", ") + one.name;
        }
        m_call = names;
        m_code.signature = m_isC ? fmt::format("fg_status {}({}{} *value)", m_code.function, parameters, m_code.gives)
                                 : fmt::format("{}({}) -> (status, value)", m_code.function, names);
    }

    void refuseIf(const std::string& condition, const char* status) {
        m_before += m_isC ? fmt::format("    if ({}) return {};\n", condition, status)
                          : fmt::format("    if {}: return ({}, None)\n", condition, status);
    }

    void addCheck(const BlockCheck& check, std::string& helpers) {
        struct Helper {
            const char *name, *c, *python;
        };
        static constexpr std::array kHelpers{
            Helper{
                "fg_crc8_ones",
                "/* CRC-8, polynomial 0x31, high bit first. */\n"
                "static uint8_t {0}(const uint8_t *bytes, unsigned count)\n{{\n    uint8_t crc = 0xFF;\n    while "
                "(count-- > 0) {{\n        int i;\n        crc ^= *bytes++;\n        for (i = 0; i < 8; ++i)\n     "
                "       crc = (uint8_t)((crc & 0x80) ? (crc << 1) ^ 0x31 : crc << 1);\n    }}\n    return crc;\n}}\n\n",
                "\ndef {0}(data):\n    crc = 0xFF\n    for byte in data:\n        crc ^= byte\n        for _ in "
                "range(8): crc = ((crc << 1) ^ 0x31 if crc & 0x80 else crc << 1) & 0xFF\n    return crc\n\n"},
            Helper{
                "fg_crc8_zero",
                "/* CRC-8, polynomial 0x31, high bit first. */\n"
                "static uint8_t {0}(const uint8_t *bytes, unsigned count)\n{{\n    uint8_t crc = 0;\n    while "
                "(count-- > 0) {{\n        int i;\n        crc ^= *bytes++;\n        for (i = 0; i < 8; ++i)\n     "
                "       crc = (uint8_t)((crc & 0x80) ? (crc << 1) ^ 0x31 : crc << 1);\n    }}\n    return crc;\n}}\n\n",
                "\ndef {0}(data):\n    crc = 0\n    for byte in data:\n        crc ^= byte\n        for _ in "
                "range(8): crc = ((crc << 1) ^ 0x31 if crc & 0x80 else crc << 1) & 0xFF\n    return crc\n\n"},
            Helper{"fg_crc8_wire",
                   "/* CRC-8, polynomial 0x31, low bit first. */\n"
                   "static uint8_t {0}(const uint8_t *bytes, unsigned count)\n{{\n    uint8_t crc = 0;\n    while "
                   "(count-- > 0) {{\n        int i;\n        crc ^= *bytes++;\n        for (i = 0; i < 8; ++i)\n     "
                   "       crc = (uint8_t)((crc & 1) ? (crc >> 1) ^ 0x8C : crc >> 1);\n    }}\n    return crc;\n}}\n\n",
                   "\ndef {0}(data):\n    crc = 0\n    for byte in data:\n        crc ^= byte\n        for _ in "
                   "range(8): crc = (crc >> 1) ^ 0x8C if crc & 1 else crc >> 1\n    return crc\n\n"},
            Helper{"fg_sum8",
                   "static uint8_t {0}(const uint8_t *bytes, unsigned count)\n{{\n    uint8_t sum = 0;\n    while "
                   "(count-- > 0) sum = (uint8_t)(sum + *bytes++);\n    return sum;\n}}\n\n",
                   "\ndef {0}(data):\n    return sum(data) & 0xFF\n\n"},
            Helper{
                "fg_crc16",
                "/* CRC-16, polynomial 0x8005, low bit first, from 0xFFFF. */\n"
                "static uint16_t {0}(const uint8_t *bytes, unsigned count)\n{{\n    uint16_t crc = 0xFFFF;\n    "
                "while (count-- > 0) {{\n        int i;\n        crc = (uint16_t)(crc ^ *bytes++);\n        for (i = "
                "0; i < 8; ++i)\n            crc = (uint16_t)((crc & 1) ? (crc >> 1) ^ 0xA001 : crc >> 1);\n    }}\n  "
                "  return crc;\n}}\n\n",
                "\ndef {0}(data):\n    crc = 0xFFFF\n    for byte in data:\n        crc ^= byte\n        for _ in "
                "range(8): crc = (crc >> 1) ^ 0xA001 if crc & 1 else crc >> 1\n    return crc\n\n"}};
        const Helper& helper = kHelpers[static_cast<std::size_t>(check.kind)];
        if (helpers.find(std::string(helper.name) + "(") == std::string::npos)
            helpers += fmt::format(fmt::runtime(m_isC ? helper.c : helper.python), helper.name);
        const std::string& block = m_code.takes[check.block].name;
        const std::string there =
            check.kind == CheckKind::Crc16Modbus
                ? (m_isC ? fmt::format("(uint16_t)({0}[{1}] | {0}[{2}] << 8)", block, check.at, check.at + 1)
                         : fmt::format("{0}[{1}] | {0}[{2}] << 8", block, check.at, check.at + 1))
                : fmt::format("{}[{}]", block, check.at);
        refuseIf(m_isC ? fmt::format("{}({}{}, {}) != {}", helper.name, block,
                                     check.first == 0 ? std::string() : fmt::format(" + {}", check.first), check.count,
                                     there)
                       : fmt::format("{}({}[{}:{}]) != ({})", helper.name, block, check.first,
                                     check.first + check.count, there),
                 "FG_DAMAGED");
    }

    /// A number joined from its bits: neighbours that move by as much are one term.
    std::string addInput(const JoinedInput& input, const DeviceCode& device, CodeReal real) {
        double step = HUGE_VAL, most = std::abs(input.rest);
        for (const InputBit& bit : input.bits)
            step = std::min(step, std::abs(bit.weight)), most += std::abs(bit.weight);
        const Node& node = device.formula->at(input.node);
        if (input.bits.empty() || node.bits != 0) step = 1;
        const std::string wide = most / step < 2147483647.0 ? "int32_t" : "int64_t";
        struct Term {
            std::size_t block, byte;
            int shift;
            bool isNegative;
            int mask;
        };
        std::vector<Term> terms;
        for (const InputBit& bit : input.bits) {
            const int shift = static_cast<int>(std::lround(std::log2(std::abs(bit.weight) / step))) - bit.bit;
            const bool isNegative = bit.weight < 0;
            const auto known = std::find_if(terms.begin(), terms.end(), [&](const Term& one) {
                return one.block == bit.block && one.byte == bit.byte && one.shift == shift &&
                       one.isNegative == isNegative;
            });
            if (known != terms.end())
                known->mask |= 1 << bit.bit;
            else
                terms.push_back({bit.block, bit.byte, shift, isNegative, 1 << bit.bit});
        }
        std::string sum;
        for (const Term& term : terms) {
            const std::string byte = fmt::format("{}[{}]", m_code.takes[term.block].name, term.byte);
            std::string text = term.mask == 0xFF ? byte : fmt::format("({} & 0x{:02X})", byte, term.mask);
            if (m_isC) text = fmt::format("({}){}", wide, text);
            if (term.shift > 0) text = fmt::format("({} << {})", text, term.shift);
            if (term.shift < 0) text = fmt::format("({} >> {})", text, -term.shift);
            sum += sum.empty() ? (term.isNegative ? "-" : "") + text : (term.isNegative ? " - " : " + ") + text;
        }
        if (sum.empty()) sum = "0";
        // What rests is a whole multiple of the step, left by bits that are always the same.
        const auto rest = static_cast<std::int64_t>(std::llround(input.rest / step));
        if (rest != 0) sum += rest < 0 ? fmt::format(" - {}", -rest) : fmt::format(" + {}", rest);
        const std::string name = m_names.fresh(input.name);
        if (node.bits != 0 || step == 1) {
            // A real number of the formula, where its node is no integer.
            const bool isCast = node.bits == 0 && m_isC;
            const std::string type = isCast ? (real == CodeReal::Float ? "float" : "double") : wide;
            m_before += m_isC ? fmt::format("    const {0} {1} = {2};\n", type, name,
                                            isCast ? fmt::format("({})({})", type, sum) : sum)
                              : fmt::format("    {} = {}\n", name, sum);
            return name;
        }
        const char* type = real == CodeReal::Float ? "float" : "double";
        const std::string factor = realText(step, m_wish.language, real);
        m_before += m_isC ? fmt::format("    const {0} {1} = ({0})({2}) * {3};\n", type, name, sum, factor)
                          : fmt::format("    {} = ({}) * {}\n", name, sum, factor);
        return name;
    }

    [[nodiscard]] std::string whole(std::int64_t value) const {
        return wholeText(value, m_wish.language, m_isC && m_raw.type.starts_with('u') && value >= 0);
    }

    void unpack(const Converter& converter) {
        const auto line = [&](const std::string& text) { m_raw.lines += "    " + text + (m_isC ? ";" : "") + "\n"; };
        const std::int64_t most = converter.maxCode();
        const int word = converter.wordBits();
        const std::string sign = m_isC ? m_raw.type + " " : "";
        if (converter.minCode() < 0 && converter.word() == WordFormat::RightJustified) {
            if (8 * static_cast<int>(m_raw.bytes) == converter.bits()) return;
            m_raw.name = "code";
            line(fmt::format("{}code = raw", sign));
            const std::string wrapped = wholeText(std::int64_t{1} << converter.bits(), m_wish.language);
            if (m_isC)
                m_raw.lines += fmt::format("    if (code > {}) code = ({})(code - {}); /* sign read as a high bit */\n",
                                           whole(most), m_raw.type, wrapped);
            else
                m_raw.lines += fmt::format("    if code > {}: code -= {}  # sign read as a high bit\n", most, wrapped);
            return;
        }
        if (converter.word() == WordFormat::RightJustified) return;
        const int shift = word - converter.bits();
        m_raw.name = "code";
        if (converter.minCode() >= 0) {
            line(m_isC ? fmt::format("const {0} code = ({0})(raw >> {1})", m_raw.type, shift)
                       : fmt::format("code = raw >> {}", shift));
            return;
        }
        // The bits below the code are 0: a division is exact, and means the same to every compiler.
        std::string signedWord = "raw";
        if (word == 24 || !m_isC) {
            signedWord = "word";
            line(fmt::format("{}word = raw", sign));
            const std::int64_t half = std::int64_t{1} << (word - 1);
            m_raw.lines += m_isC ? fmt::format("    if (word >= {}) word -= {};\n", whole(half), whole(2 * half))
                                 : fmt::format("    if word >= {}: word -= {}\n", half, 2 * half);
        }
        line(m_isC ? fmt::format("const {0} code = ({0})({1} / {2})", m_raw.type, signedWord, std::int64_t{1} << shift)
                   : fmt::format("code = {} // {}", signedWord, std::int64_t{1} << shift));
    }

    /// What the code is, as lines for a comment.
    [[nodiscard]] std::vector<std::string> about() const {
        const GaugeSpec& spec = m_gauge.spec();
        const SignalPath& path = m_gauge.path();
        std::vector<std::string> lines{commentText(spec.name) +
                                       (spec.note.empty() ? "" : ": " + commentText(spec.note))};
        for (const Stage stage : {Stage::Sensor, Stage::Wiring, Stage::Converter, Stage::Formula})
            lines.push_back(fmt::format("{}: {}", stageTitle(stage), commentText(path.stageNote(stage))));
        if (spec.correction.kind != "none")
            lines.push_back("Correction: " + commentText(path.stageNote(Stage::Correction)));
        const std::string unit(m_code.unit->id);
        lines.push_back(m_code.scale == 1 ? fmt::format("The result is in {}.", unit)
                                          : fmt::format("The result is in {} times {}: {} is 1 {}.", unit, m_code.scale,
                                                        m_code.scale, unit));
        lines.push_back(fmt::format("{}. Worst error of the arithmetic {} {} {}, mean {}, over {} {}.",
                                    commentText(m_code.method), significantDigits(m_code.error.worst, 2), unit,
                                    m_code.atFrame.empty() ? fmt::format("at code {}", m_code.error.atCode)
                                                           : "for " + m_code.atFrame,
                                    significantDigits(m_code.error.mean, 2), m_code.error.checked,
                                    m_code.atFrame.empty() ? "codes" : "frames"));
        for (const CodeParameter& one : m_code.takes)
            if (!one.block.empty()) lines.push_back(fmt::format("{}: {} bytes.", one.name, one.bytes));
        if (m_gauge.digital())
            for (std::string& line : setUpLines(m_gauge.digital()->settings())) lines.push_back(std::move(line));
        const Interval span = spec.spanCanonical();
        if (const auto budget = m_gauge.budgetAt((span.low + span.high) / 2))
            lines.push_back(fmt::format("The gauge itself is good for +- {} {} (95 %) in the middle of its span.",
                                        significantDigits(m_code.unit->differenceFromCanonical(budget->expanded), 2),
                                        unit));
        return lines;
    }
    [[nodiscard]] static std::string stageTitle(Stage stage) {
        std::string title(stageName(stage));
        title.front() = static_cast<char>(title.front() - 'a' + 'A');
        return title;
    }

    [[nodiscard]] std::string comment() const {
        std::string text;
        const auto lines = about();
        for (std::size_t i = 0; i < lines.size(); ++i)
            text += m_isC ? (i == 0 ? "/* " : "   ") + lines[i] + (i + 1 == lines.size() ? " */\n" : "\n")
                          : "# " + lines[i] + "\n";
        return text;
    }

    [[nodiscard]] std::string statusLines() const {
        std::string text;
        for (const CodeStatus& one : codeStatuses())
            text += m_isC ? fmt::format("    {} = {}{} /* {} */\n", one.name, one.number,
                                        one.number == codeStatuses().back().number ? "" : ",", one.meaning)
                          : fmt::format("{} = {}  # {}\n", one.name, one.number, one.meaning);
        return text;
    }

    /// The codes to compare with for the gauge's alarm.
    [[nodiscard]] std::string thresholds() const {
        std::string text;
        for (const CodeThreshold& one : codeThresholds(m_gauge)) {
            const std::string id = m_base + "_" + one.id;
            const std::string about =
                fmt::format("{}; switches at {} {}", one.name,
                            plainNumber(m_code.unit->fromCanonical(one.threshold.edge), 6), m_code.unit->id);
            const std::string sign = one.threshold.isAtLeast ? ">=" : "<=";
            text += m_isC ? fmt::format("#define {}(code) ((code) {} {}) /* {} */\n", upper(id), sign,
                                        whole(one.threshold.code), about)
                          : fmt::format("def {}(code): return code {} {}  # {}\n", id, sign, one.threshold.code, about);
        }
        if (text.empty()) return "";
        return (m_isC ? "\n/* The alarm, on codes. Equal counts as reached. */\n"
                      : "\n# The alarm, on codes. Equal counts as reached.\n") +
               text;
    }

    [[nodiscard]] std::string header() const {
        const std::string guard = upper(m_base) + "_H";
        std::string text = comment();
        text += fmt::format("#ifndef {0}\n#define {0}\n\n#include <stdint.h>\n\n", guard);
        text += "#ifndef FG_STATUS\n#define FG_STATUS\ntypedef enum {\n" + statusLines() + "} fg_status;\n#endif\n\n";
        text += fmt::format("/* {} `value` is written with FG_OK alone. */\n{};\n", m_given, m_code.signature);
        if (m_code.form)
            text += fmt::format("\n/* A value as text, \"-0.5\"; `text` holds {} characters. */\n{};\n", textSize(),
                                textSignature());
        text += thresholds();
        text += fmt::format("\n#endif\n");
        return text;
    }

    [[nodiscard]] std::string guards() const {
        const CodeRange& range = m_code.range;
        const std::string& code = m_raw.name;
        const char* either = m_isC ? "||" : "or";
        const auto refuse = [&](const std::string& condition, const char* status) {
            return m_isC ? fmt::format("    if ({}) return {};\n", condition, status)
                         : fmt::format("    if {}: return ({}, None)\n", condition, status);
        };
        const std::string low =
            range.min == 0 && m_isC ? fmt::format("{} == 0", code) : fmt::format("{} <= {}", code, whole(range.min));
        std::string text = refuse(fmt::format("{} {} {} >= {}", low, either, code, whole(range.max)), "FG_CLIPPED");
        if (range.first == range.min + 1 && range.last == range.max - 1) return text;
        return text +
               refuse(fmt::format("{0} < {1} {3} {0} > {2}", code, whole(range.first), whole(range.last), either),
                      "FG_BEYOND");
    }

    [[nodiscard]] std::string source(const std::string& constants, const std::string& functions,
                                     const std::string& body, const std::string& result, bool isReal) const {
        std::string text = fmt::format("#include \"{}.h\"\n\n", m_base);
        if (isReal) text += "#include <math.h>\n\n";
        if (!constants.empty()) text += constants + "\n";
        text += functions;
        text += m_code.signature + "\n{\n" + m_before;
        if (isReal && m_gauge.analog())
            text += fmt::format("    const {0} code_real = ({0}){1};\n", m_code.gives, m_raw.name);
        text += body;
        if (isReal)
            text += fmt::format("    if (isnan({0})) return FG_NO_VALUE;\n    *value = {0};\n", result);
        else
            text += fmt::format("    *value = {};\n", result);
        text += "    return FG_OK;\n}\n";
        if (m_code.form) text += "\n" + textFunctionC();
        return text;
    }

    [[nodiscard]] std::string module(const std::string& constants, const std::string& functions,
                                     const std::string& body, const std::string& result, bool isReal) const {
        std::string text = comment() + "\n";
        if (isReal) text += "import math\n\n";
        text += statusLines() + "\n" + constants + functions;
        text += fmt::format("\ndef {}({}):\n    \"\"\"(status, value). {}\"\"\"\n", m_code.function, m_call, m_given);
        text += m_before;
        if (isReal) {
            text += "    try:\n" + (m_gauge.analog() ? fmt::format("        code_real = {}\n", m_raw.name) : "") +
                    body +
                    "    except (ValueError, ZeroDivisionError, OverflowError):\n"
                    "        return (FG_NO_VALUE, None)\n" +
                    fmt::format("    if {0} != {0}: return (FG_NO_VALUE, None)\n    return (FG_OK, {0})\n", result);
        } else {
            text += body + fmt::format("    return (FG_OK, {})\n", result);
        }
        if (m_code.form) text += "\n" + textFunctionPython();
        return text + thresholds();
    }

    // A value for a display without floating point.
    [[nodiscard]] int decimals() const {
        int most = 0;
        for (std::int64_t power = 1; power < m_code.scale; power *= 10) ++most;
        if (const auto wanted = m_gauge.spec().reading.decimals) return std::clamp(*wanted, 0, most);
        const Interval span = m_gauge.spec().spanCanonical();
        const auto budget = m_gauge.budgetAt((span.low + span.high) / 2);
        if (!budget || !(budget->expanded > 0)) return most;
        return std::clamp(decimalsFor(m_code.unit->differenceFromCanonical(budget->expanded)), 0, most);
    }
    [[nodiscard]] static std::int64_t powerOfTen(int exponent) {
        std::int64_t power = 1;
        for (int i = 0; i < exponent; ++i) power *= 10;
        return power;
    }
    [[nodiscard]] bool isWide() const { return m_code.gives == "int64_t"; }
    [[nodiscard]] int textSize() const { return isWide() ? 24 : 14; }
    [[nodiscard]] std::string textSignature() const {
        return fmt::format("void {}_text({} value, char *text)", m_base, isWide() ? "int64_t" : "int32_t");
    }
    [[nodiscard]] std::string textFunctionC() const {
        const int places = decimals();
        const std::int64_t drop = m_code.scale / powerOfTen(places);
        const std::string type = isWide() ? "uint64_t" : "uint32_t";
        std::string text = fmt::format(
            "/* Rounded to {0} decimal{1}, halves away from zero; the sign is put before what is left, so that -0.5\n"
            "   keeps it and what rounds to 0 has none. */\n{2}\n{{\n",
            places, places == 1 ? "" : "s", textSignature());
        text += fmt::format("    char digits[{}];\n    int count = 0;\n", textSize());
        text += fmt::format("    {0} size = value < 0 ? ({0})0 - ({0})value : ({0})value;\n", type);
        if (drop > 1) text += fmt::format("    size = (size + {}u) / {}u;\n", drop / 2, drop);
        text += "    if (value < 0 && size != 0) *text++ = '-';\n";
        text += fmt::format("    while (size != 0 || count <= {}) {{\n", places);
        text += "        digits[count++] = (char)('0' + (char)(size % 10u));\n        size /= 10u;\n    }\n";
        text += "    while (count > 0) {\n";
        if (places > 0) text += fmt::format("        if (count == {}) *text++ = '.';\n", places);
        text += "        *text++ = digits[--count];\n    }\n    *text = '\\0';\n}\n";
        return text;
    }
    [[nodiscard]] std::string textFunctionPython() const {
        const int places = decimals();
        const std::int64_t drop = m_code.scale / powerOfTen(places), unit = powerOfTen(places);
        std::string text =
            fmt::format("def {}_text(value):\n    \"\"\"Rounded to {} decimals, halves away from zero.\"\"\"\n", m_base,
                        places);
        text += fmt::format("    size = (abs(value) + {}) // {}\n", drop / 2, drop);
        text += "    sign = '-' if value < 0 and size else ''\n";
        text += places > 0
                    ? fmt::format("    return '%s%d.%0{}d' % (sign, size // {}, size % {})\n", places, unit, unit)
                    : "    return '%s%d' % (sign, size)\n";
        return text;
    }

    // The program around it.
    /// The function that the maker fills in: how raw values come.
    [[nodiscard]] std::string portC() const {
        if (m_gauge.analog())
            return fmt::format(
                "/* The raw value of one conversion: start it, wait until it is finished, read it. The first "
                "conversion\n"
                "   after power-on or after another channel is often thrown away. */\n"
                "static {} fg_port_read(void)\n{{\n    return 0; /* fill in */\n}}\n\n",
                m_raw.parameter);
        std::string blocks;
        for (std::size_t i = 0; i < m_code.takes.size(); ++i)
            blocks +=
                fmt::format("{}{} is {}, {} bytes", i == 0 ? "" : "; ", i, m_code.takes[i].name, m_code.takes[i].bytes);
        return fmt::format(
            "/* A block of the part: {}.\n   Before a measurement: start it and wait as long as the part takes; the "
            "first\n"
            "   result after power-on is the one asked for now, not the one before. Without an answer it returns 0. "
            "*/\n"
            "static int fg_port_read(unsigned block, uint8_t *bytes, unsigned count)\n{{\n    (void)block;\n    "
            "(void)bytes;\n    (void)count;\n    return 0; /* fill in, and return 1 */\n}}\n\n",
            blocks);
    }
    /// The blocks of a digital part as variables, and their reading: calibration once, the rest each time.
    [[nodiscard]] std::string blocksC() const {
        std::string text;
        for (const CodeParameter& one : m_code.takes)
            if (!one.block.empty()) text += fmt::format("    uint8_t {}[{}] = {{0}};\n", one.name, one.bytes);
        return text;
    }
    [[nodiscard]] std::string readsC(const std::string& indent) const {
        std::string all;
        for (std::size_t i = 0; i < m_code.takes.size(); ++i)
            all += fmt::format("{}fg_port_read({}, {}, {})", i == 0 ? "" : " && ", i, m_code.takes[i].name,
                               m_code.takes[i].bytes);
        return indent + fmt::format("const int is_read = {};\n", all);
    }
    [[nodiscard]] std::string mainC() const {
        const std::string unit = commentText(m_code.unit->id);
        std::string text = fmt::format(
            "/* {0}: reads, converts and prints once a second. Fill in the three functions for your board. */\n"
            "#include \"{1}.h\"\n\n"
            "{2}"
            "/* One character to the serial port or the display. */\n"
            "static void fg_port_put(char character)\n{{\n    (void)character; /* fill in */\n}}\n\n"
            "/* Waits. */\nstatic void fg_port_wait_ms(uint16_t milliseconds)\n{{\n    (void)milliseconds; /* fill in "
            "*/\n}}\n\n"
            "static void put(const char *text)\n{{\n    while (*text != '\\0') fg_port_put(*text++);\n}}\n\n",
            commentText(m_gauge.spec().name), m_base, portC());
        if (!m_code.form) text += textOfReal();
        text += "int main(void)\n{\n" + (m_gauge.analog() ? std::string() : blocksC()) + "    for (;;) {\n";
        text += fmt::format("        {} value;\n        char text[{}];\n", m_code.gives, std::max(textSize(), 14));
        if (!m_gauge.analog()) text += readsC("        ");
        text +=
            m_gauge.analog()
                ? fmt::format("        switch ({}(fg_port_read(), &value)) {{\n        case FG_OK:\n", m_code.function)
                : fmt::format("        switch (is_read ? {}({}, &value) : FG_DAMAGED) {{\n        case FG_OK:\n",
                              m_code.function, m_call);
        text += fmt::format(
            "            {}_text(value, text);\n            put(text);\n            put(\" {}\\n\");\n"
            "            break;\n",
            m_base, unit);
        for (const CodeStatus& one : codeStatuses())
            if (one.number != 0)
                text += fmt::format("        case {}:\n            put(\"{}\\n\");\n            break;\n", one.name,
                                    one.id);
        return text + "        }\n        fg_port_wait_ms(1000);\n    }\n}\n";
    }
    /// A real value as text without a printf: to the decimals that its uncertainty deserves.
    [[nodiscard]] std::string textOfReal() const {
        const Interval span = m_gauge.spec().spanCanonical();
        const auto budget = m_gauge.budgetAt((span.low + span.high) / 2);
        const int deserved =
            budget && budget->expanded > 0 ? decimalsFor(m_code.unit->differenceFromCanonical(budget->expanded)) : 2;
        const int places = std::clamp(m_gauge.spec().reading.decimals.value_or(deserved), 0, 6);
        const std::int64_t unit = powerOfTen(places);
        std::string text = fmt::format(
            "static void {0}_text({1} value, char *text)\n{{\n"
            "    char digits[14];\n    int count = 0;\n    uint32_t size;\n"
            "    const {1} scaled = (value < 0 ? -value : value) * {2} + {3};\n"
            "    if (!(scaled < {4})) {{\n        *text++ = '?';\n        *text = '\\0';\n        return;\n    }}\n"
            "    size = (uint32_t)scaled;\n",
            m_base, m_code.gives, realText(static_cast<double>(unit), CodeLanguage::C, real()),
            realText(0.5, CodeLanguage::C, real()), realText(4e9, CodeLanguage::C, real()));
        text += "    if (value < 0 && size != 0) *text++ = '-';\n";
        text += fmt::format("    while (size != 0 || count <= {}) {{\n", places);
        text += "        digits[count++] = (char)('0' + (char)(size % 10u));\n        size /= 10u;\n    }\n";
        text += "    while (count > 0) {\n";
        if (places > 0) text += fmt::format("        if (count == {}) *text++ = '.';\n", places);
        return text + "        *text++ = digits[--count];\n    }\n    *text = '\\0';\n}\n\n";
    }
    [[nodiscard]] CodeReal real() const { return m_code.gives == "float" ? CodeReal::Float : CodeReal::Double; }

    [[nodiscard]] std::string mainPython() const {
        const std::string shown = m_code.form ? fmt::format("{}.{}_text(value)", m_base, m_base) : std::string("value");
        std::string nothing;
        for (const CodeParameter& one : m_code.takes) nothing += one.block.empty() ? "0, " : "None, ";
        nothing = "(" + nothing.substr(0, nothing.size() - 1) + ")";
        return fmt::format(
            "# {0}: reads, converts and prints once a second. Fill in the three functions for your board.\n"
            "import {1}\n\n"
            "def port_read():\n    \"\"\"{5}\"\"\"\n    return {6}  # fill in\n\n"
            "def port_put(text):\n    print(text)\n\n"
            "def port_wait_ms(milliseconds):\n    pass  # fill in: time.sleep_ms(milliseconds)\n\n"
            "def main():\n    while True:\n        status, value = {1}.{2}(*port_read())\n"
            "        if status == {1}.FG_OK: port_put('%s {3}' % {4})\n"
            "        else: port_put('status %d' % status)\n"
            "        port_wait_ms(1000)\n\n"
            "if __name__ == '__main__': main()\n",
            commentText(m_gauge.spec().name), m_base, m_code.function, m_code.unit->id, shown,
            m_gauge.analog() ? "The raw value of one conversion." : "The blocks as they are read: " + m_call + ".",
            nothing);
    }

    const Gauge& m_gauge;
    const CodeWish& m_wish;
    GaugeCode& m_code;
    bool m_isC;
    std::string m_base;
    Identifiers m_names;
    RawCode m_raw;
    std::string m_before;  ///< what stands before the formula
    std::string m_given;   ///< what is given, in words
    std::string m_call;    ///< its names
};

}  // namespace

void writeRealFiles(const Gauge& gauge, const CodeWish& wish, const FormulaCode& formula, GaugeCode& code) {
    CodePage page(gauge, wish, code);
    const CodeReal real = code.gives == "float" ? CodeReal::Float : CodeReal::Double;
    const std::string input = page.names().freshExact("code_real");
    const FormulaText text = FormulaWriter(formula, wish.language, real, input, page.names()).write();
    code.bytes = text.bytes;
    page.write(text.constants, text.functions, text.body, text.result, true);
}

void writeDeviceFiles(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device, GaugeCode& code) {
    CodePage page(gauge, wish, code);
    const CodeReal real = code.gives == "float" ? CodeReal::Float : CodeReal::Double;
    std::string helpers;
    auto inputs = page.takeDevice(device, real, helpers);
    FormulaWriter writer(*device.formula, wish.language, real, "raw", page.names());
    writer.nameInputs(std::move(inputs));
    writer.letWrap(device.hasWrapped);
    const FormulaText text = writer.write();
    code.bytes = text.bytes;
    page.write(text.constants, helpers + text.functions, text.body, text.result, true);
}

void writeWholeFiles(const Gauge& gauge, const CodeWish& wish, GaugeCode& code) {
    CodePage page(gauge, wish, code);
    const IntegerText text = integerText(*code.form, wish.language, page.raw().name, page.raw().type, code.gives);
    page.write(text.constants, text.functions, text.body, text.result, false);
}

}  // namespace fg
