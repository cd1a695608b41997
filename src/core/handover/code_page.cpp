#include "handover/code_page.h"

#include "handover/code_checks.h"
#include "handover/code_display.h"
#include "handover/code_program.h"
#include "handover/code_thresholds.h"
#include "handover/joined_text.h"
#include "handover/running_text.h"
#include "handover/sequence_text.h"
#include "path/gauge_stages.h"
#include "units/letters.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg {
namespace {

std::string upper(std::string text) {
    for (char& c : text) c = c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
    return text;
}

/// What is written to the part before it measures, in the order in which to write it, and why.
std::vector<std::string> setUpLines(const Gauge& gauge) {
    std::vector<std::string> lines;
    const MeasuringSequence sequence = sequenceOf(*gauge.digital(), gauge.spec(), gauge.catalogue());
    for (const auto* steps : {&sequence.once, &sequence.each})
        for (const SequenceStep& step : *steps)
            if (!step.out.empty() && step.in == 0)
                lines.push_back(fmt::format("{}: write {}; {}", steps == &sequence.once ? "Set-up" : "Each time",
                                            bytesText(step.out, CodeLanguage::C), commentText(step.why)));
    return lines;
}

}  // namespace

CodePage::CodePage(const Gauge& gauge, const CodeWish& wish, GaugeCode& code)
    : m_gauge(gauge),
      m_wish(wish),
      m_code(code),
      m_isC(wish.language == CodeLanguage::C),
      m_base(lowered(identifierOf(lowered(gauge.spec().name)))),
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
    m_raw.name = "raw";
    m_raw.type = m_raw.parameter;
    unpack(converter);
    code.takes = {{"raw", m_raw.parameter, "", m_raw.bytes}};
    m_before = m_raw.lines + guards();
    m_given = "`raw` as the converter gives it.";
    sign();
}

std::map<std::int32_t, std::string> CodePage::takeDevice(const DeviceCode& device, CodeReal real,
                                                         std::string& helpers) {
    for (const DeviceBlock& block : device.blocks)
        m_code.takes.push_back(
            {m_names.freshExact(block.name), "const uint8_t *", block.name, block.bytes, block.of, block.at});
    m_given = "Each block as it is read from the part, in the order of its registers.";
    std::string none;
    for (const CodeParameter& one : m_code.takes)
        none += (none.empty() ? ""
                 : m_isC      ? " || "
                              : " or ") +
                (m_isC ? "!" + one.name : fmt::format("{0} is None or len({0}) < {1}", one.name, one.bytes));
    refuseIf(none, "FG_DAMAGED");
    for (const BlockCheck& check : device.checks) addCheck(check, helpers);
    refuseFixed(device.fixed);
    std::map<std::int32_t, std::string> names;
    for (const JoinedInput& input : device.inputs) names[input.node] = addInput(input, device, real);
    if (device.one)
        for (const DeviceCode::OneNumber::Limit& limit : device.one->limits) refuseBeyond(limit, device, real);
    if (device.one) takeNumber(*device.one, names.at(device.one->node));
    sign();
    return names;
}

std::map<std::int32_t, std::string> CodePage::takeReadings(std::span<const LawParameter> readings) {
    std::map<std::int32_t, std::string> names;
    for (const LawParameter& one : readings) {
        const std::string name = m_names.fresh(one.name);
        if (one.scale > 0) {
            const bool isShort = m_code.gives == "int16_t";
            m_code.takes.push_back({name, isShort ? "int16_t" : "int32_t", "", isShort ? 2u : 4u});
        } else {
            m_code.takes.push_back({name, m_isC ? m_code.gives : "float", "", m_code.gives == "float" ? 4u : 8u});
        }
        m_code.takes.back().unit = one.unit;
        m_code.takes.back().scale = std::max<std::int64_t>(1, one.scale);
        names[one.node] = name;
        m_given += fmt::format("{}`{}`{}{}", m_given.empty() ? "" : ", ", name,
                               one.unit.empty() ? "" : " in " + commentText(one.unit),
                               one.scale > 1 ? fmt::format(" times {}", one.scale) : "");
        one.scale > 0 ? keepWithin(name, one.least, one.most) : keepWithin(name, one.range);
    }
    m_given = "Readings: " + m_given + ".";
    sign();
    return names;
}

void CodePage::write(const std::string& constants, const std::string& functions, const std::string& body,
                     const std::string& result, bool isReal) {
    if (m_isC) {
        m_code.files.push_back({m_base + ".h", header()});
        m_code.files.push_back({m_base + ".c", source(constants, functions, body, result, isReal)});
        if (m_wish.shape == CodeShape::Program)
            m_code.files.push_back({m_base + "_main.c", loopProgram(m_gauge, m_code, m_base, m_call, m_wish.language)});
    } else {
        m_code.files.push_back({m_base + ".py", module(constants, functions, body, result, isReal)});
        if (m_wish.shape == CodeShape::Program)
            m_code.files.push_back(
                {m_base + "_main.py", loopProgram(m_gauge, m_code, m_base, m_call, m_wish.language)});
    }
}

std::map<std::int32_t, std::string> CodePage::takeRunning(const RunningCode& running, std::string& helpers) {
    const std::string clock = m_names.freshExact("now_ms");
    m_code.takes.push_back({clock, "uint32_t", "", 4});
    m_code.takes.back().unit = "ms";
    m_code.takes.back().isClock = true;
    (void)takeReadings(std::span(&running.reading, 1));
    m_given += fmt::format(" `{}`: the board's clock, which may wrap; no more than {} days from call to call.", clock,
                           m_isC ? 49 : 12);
    const CodeParameter& reading = m_code.takes.back();
    RunningText text =
        runningText(running, m_wish.language, m_isC ? reading.type : m_code.gives, m_names, clock, reading.name);
    helpers += text.functions;
    m_before += text.body;
    m_code.memory = text.memory;
    m_code.operations += text.operations;
    return {{running.law.parameters[0].node, text.value}};
}

void CodePage::refuseFixed(const std::vector<FixedBit>& fixed) {
    std::map<std::pair<std::size_t, std::size_t>, std::pair<int, int>> bytes;  // block and byte: mask and value
    for (const FixedBit& one : fixed) {
        auto& [mask, value] = bytes[{one.block, one.byte}];
        mask |= 1 << one.bit;
        if (one.isSet) value |= 1 << one.bit;
    }
    for (const auto& [place, bits] : bytes)
        refuseIf(fmt::format(fmt::runtime(m_isC ? "({}[{}] & 0x{:02X}u) != 0x{:02X}u"
                                                : "{}[{}] & 0x{:02X} != 0x{:02X}"),
                             m_code.takes[place.first].name, place.second, bits.first, bits.second),
                 "FG_NO_VALUE");
}

void CodePage::sign() {
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

void CodePage::keepWithin(const std::string& name, const Interval& range) {
    const CodeReal real = m_code.gives == "float" ? CodeReal::Float : CodeReal::Double;
    const auto bound = [&](double value) { return realText(value, m_wish.language, real); };
    // Written so that what is no number is refused as well.
    const char* negated = m_isC ? "!({0} >= {1} && {0} <= {2})" : "not ({1} <= {0} <= {2})";
    if (std::isfinite(range.low) && std::isfinite(range.high))
        refuseIf(fmt::format(fmt::runtime(negated), name, bound(range.low), bound(range.high)), "FG_BEYOND");
}

void CodePage::keepWithin(const std::string& name, std::int64_t least, std::int64_t most) {
    const char* outside = m_isC ? "{0} < {1} || {0} > {2}" : "not {1} <= {0} <= {2}";
    refuseIf(fmt::format(fmt::runtime(outside), name, wholeText(least, m_wish.language),
                         wholeText(most, m_wish.language)),
             "FG_BEYOND");
}

void CodePage::refuseIf(const std::string& condition, const char* status) {
    m_before += m_isC ? fmt::format("    if ({}) return {};\n", condition, status)
                      : fmt::format("    if {}: return ({}, None)\n", condition, status);
}

void CodePage::addCheck(const BlockCheck& check, std::string& helpers) {
    const CheckText text = checkText(check, m_code.takes[check.block].name, m_wish.language);
    if (helpers.find(text.helper) == std::string::npos) helpers += text.helper;
    refuseIf(text.condition, "FG_DAMAGED");
}

std::string CodePage::addInput(const JoinedInput& input, const DeviceCode& device, CodeReal real) {
    std::vector<std::string> blocks;
    for (const CodeParameter& one : m_code.takes) blocks.push_back(one.name);
    const std::string name = m_names.fresh(input.name);
    const bool isWhole = device.one || device.formula->at(input.node).bits != 0;
    m_before +=
        joinedLine(device.one ? inSteps(input, stepOf(input)) : input, isWhole, name, blocks, m_wish.language, real);
    return name;
}

void CodePage::refuseBeyond(const DeviceCode::OneNumber::Limit& limit, const DeviceCode& device, CodeReal real) {
    const JoinedInput steps = inSteps(limit.number, stepOf(limit.number));
    double lowest = steps.rest, highest = steps.rest;
    for (const InputBit& bit : steps.bits) (bit.weight < 0 ? lowest : highest) += bit.weight;
    const std::string name = addInput(limit.number, device, real);
    if (lowest < static_cast<double>(limit.least))
        refuseIf(fmt::format("{} < {}", name, whole(limit.least)), "FG_NO_VALUE");
    if (highest > static_cast<double>(limit.most))
        refuseIf(fmt::format("{} > {}", name, whole(limit.most)), "FG_NO_VALUE");
}

void CodePage::takeNumber(const DeviceCode::OneNumber& one, const std::string& name) {
    m_raw.name = name;
    m_raw.type = "int32_t";
    const CodeRange& range = m_code.range;
    const char* either = m_isC ? "||" : "or";
    std::string beyond;
    if (range.first > one.least) beyond = fmt::format("{} < {}", name, whole(range.first));
    if (range.last < one.most)
        beyond += fmt::format("{}{} > {}", beyond.empty() ? "" : fmt::format(" {} ", either), name, whole(range.last));
    if (!beyond.empty()) refuseIf(beyond, "FG_BEYOND");
}

std::string CodePage::whole(std::int64_t value) const {
    return wholeText(value, m_wish.language, m_isC && m_raw.type.starts_with('u') && value >= 0);
}

void CodePage::unpack(const Converter& converter) {
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

std::vector<std::string> CodePage::about() const {
    const GaugeSpec& spec = m_gauge.spec();
    const SignalPath& path = m_gauge.path();
    std::vector<std::string> lines{commentText(spec.name) + (spec.note.empty() ? "" : ": " + commentText(spec.note))};
    for (const Stage stage : {Stage::Sensor, Stage::Wiring, Stage::Converter, Stage::Formula})
        if (hasStage(spec, stage))
            lines.push_back(fmt::format("{}: {}", stageTitle(stage), commentText(path.stageNote(stage))));
    if (spec.correction.kind != "none")
        lines.push_back("Correction: " + commentText(path.stageNote(Stage::Correction)));
    const std::string unit(m_code.unit->id);
    lines.push_back(m_code.scale == 1 ? fmt::format("The result is in {}.", unit)
                                      : fmt::format("The result is in {} times {}: {} is 1 {}.", unit, m_code.scale,
                                                    m_code.scale, unit));
    lines.push_back(
        fmt::format("{}. Worst error of the arithmetic {} {} {}, mean {}, over {} {}.", commentText(m_code.method),
                    significantDigits(m_code.error.worst, 2), unit,
                    m_code.atFrame.empty() ? fmt::format("at code {}", m_code.error.atCode) : "for " + m_code.atFrame,
                    significantDigits(m_code.error.mean, 2), m_code.error.checked, m_code.checkedOver));
    if (m_code.memory > 0)
        lines.push_back(fmt::format("Its window needs {} bytes of memory for variables.", m_code.memory));
    for (const CodeParameter& one : m_code.takes)
        if (!one.block.empty()) lines.push_back(fmt::format("{}: {} bytes.", one.name, one.bytes));
    if (m_gauge.digital())
        for (std::string& line : setUpLines(m_gauge)) lines.push_back(std::move(line));
    const Interval span = spec.spanCanonical();
    if (const auto budget = m_gauge.budgetAt((span.low + span.high) / 2); budget && budget->expanded > 0)
        lines.push_back(fmt::format("The gauge itself is good for +- {} {} (95 %) in the middle of its span.",
                                    significantDigits(m_code.unit->differenceFromCanonical(budget->expanded), 2),
                                    unit));
    return lines;
}

std::string CodePage::stageTitle(Stage stage) {
    std::string title(stageName(stage));
    title.front() = static_cast<char>(title.front() - 'a' + 'A');
    return title;
}

std::string CodePage::comment() const {
    std::string text;
    const auto lines = about();
    for (std::size_t i = 0; i < lines.size(); ++i)
        text += m_isC ? (i == 0 ? "/* " : "   ") + lines[i] + (i + 1 == lines.size() ? " */\n" : "\n")
                      : "# " + lines[i] + "\n";
    return text;
}

std::string CodePage::statusLines() const {
    std::string text;
    for (const CodeStatus& one : codeStatuses())
        text += m_isC ? fmt::format("    {} = {}{} /* {} */\n", one.name, one.number,
                                    one.number == codeStatuses().back().number ? "" : ",", one.meaning)
                      : fmt::format("{} = {}  # {}\n", one.name, one.number, one.meaning);
    return text;
}

std::string CodePage::thresholds() const {
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

std::string CodePage::header() const {
    const std::string guard = upper(m_base) + "_H";
    std::string text = comment();
    text += fmt::format("#ifndef {0}\n#define {0}\n\n#include <stdint.h>\n\n", guard);
    text += "#ifndef FG_STATUS\n#define FG_STATUS\ntypedef enum {\n" + statusLines() + "} fg_status;\n#endif\n\n";
    text += fmt::format("/* {} `value` is written with FG_OK alone. */\n{};\n", m_given, m_code.signature);
    if (m_code.form)
        text += fmt::format("\n/* A value as text, \"-0.5\"; `text` holds {} characters. */\n{};\n",
                            displaySize(m_code), displaySignature(m_base, m_code));
    text += thresholds();
    text += fmt::format("\n#endif\n");
    return text;
}

std::string CodePage::guards() const {
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
    return text + refuse(fmt::format("{0} < {1} {3} {0} > {2}", code, whole(range.first), whole(range.last), either),
                         "FG_BEYOND");
}

std::string CodePage::source(const std::string& constants, const std::string& functions, const std::string& body,
                             const std::string& result, bool isReal) const {
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
    if (m_code.form) text += "\n" + displayFunction(m_base, m_gauge, m_code, m_wish.language);
    return text;
}

std::string CodePage::module(const std::string& constants, const std::string& functions, const std::string& body,
                             const std::string& result, bool isReal) const {
    std::string text = comment() + "\n";
    if (isReal) text += "import math\n\n";
    text += statusLines() + "\n" + constants + functions;
    text += fmt::format("\ndef {}({}):\n    \"\"\"(status, value). {}\"\"\"\n", m_code.function, m_call, m_given);
    text += m_before;
    if (isReal) {
        const std::string inside = (m_gauge.analog() ? fmt::format("        code_real = {}\n", m_raw.name) : "") + body;
        if (!inside.empty())
            text += "    try:\n" + inside +
                    "    except (ValueError, ZeroDivisionError, OverflowError):\n"
                    "        return (FG_NO_VALUE, None)\n";
        text += fmt::format("    if {0} != {0}: return (FG_NO_VALUE, None)\n    return (FG_OK, {0})\n", result);
    } else {
        text += body + fmt::format("    return (FG_OK, {})\n", result);
    }
    if (m_code.form) text += "\n" + displayFunction(m_base, m_gauge, m_code, m_wish.language);
    return text + thresholds();
}

}  // namespace fg
