#include "handover/code_program.h"

#include "handover/code_display.h"
#include "handover/pin_sequence.h"
#include "handover/sequence_text.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {

/// How the gauge's part is measured, as functions that fill every block the code takes; nothing where it is not known.
struct PartSequence {
    SequenceText text;
    BusKind bus = BusKind::None;
    std::string missing;  ///< why there is nothing
};

bool fillsAll(const SequenceText& text, const GaugeCode& code) {
    return std::all_of(code.takes.begin(), code.takes.end(), [&](const CodeParameter& one) {
        const auto has = [&](const std::vector<std::string>& names) {
            return std::find(names.begin(), names.end(), one.name) != names.end();
        };
        return has(text.setUpTakes) || has(text.measureTakes);
    });
}

PartSequence measuringOf(const Gauge& gauge, const GaugeCode& code, const std::string& base, CodeLanguage language) {
    PartSequence measuring;
    if (!gauge.digital()) return measuring;
    std::vector<std::string> wanted;
    for (const CodeParameter& one : code.takes) wanted.push_back(one.of);
    const MeasuringSequence sequence = sequenceOf(*gauge.digital(), gauge.spec(), gauge.catalogue(), wanted);
    measuring.bus = sequence.site.kind;
    measuring.missing = sequence.missing;
    if (!sequence.missing.empty()) return measuring;
    measuring.text = sequenceText(sequence, base, code.takes, language);
    if (!fillsAll(measuring.text, code))
        measuring.missing = "a block of it is read by a way that is not written down here";
    return measuring;
}

/// The converter of an analog gauge where it is read by its pins, step by step; null for all others.
const ConverterPart* steppedConverter(const Gauge& gauge) {
    const ConverterPart* part = gauge.analog() ? gauge.catalogue().findConverter(gauge.spec().converter.part) : nullptr;
    return part && !part->sequence.empty() ? part : nullptr;
}

/// The function that the maker fills in: how raw values come.
std::string portC(const Gauge& gauge, const GaugeCode& code, const PartSequence& measuring) {
    if (gauge.derived()) {
        std::string list, clock;
        for (std::size_t i = 0; i < code.takes.size(); ++i) {
            const CodeParameter& one = code.takes[i];
            if (one.isClock)
                clock =
                    "/* Milliseconds since power-on; they may wrap. */\n"
                    "static uint32_t fg_port_now_ms(void)\n{\n    return 0; /* fill in */\n}\n\n";
            else
                list += fmt::format("{}{} is {} in {}{}", list.empty() ? "" : ", ", i, one.name, one.unit,
                                    one.scale > 1 ? fmt::format(" times {}", one.scale) : "");
        }
        const std::string& type = code.takes.back().type;
        const std::string none = !code.form ? "Not a number" : type == "int16_t" ? "INT16_MIN" : "INT32_MIN";
        return clock +
               fmt::format(
                   "/* A reading of another gauge: {}.\n   {} where there is none. */\n"
                   "static {} fg_port_read(unsigned input)\n{{\n    (void)input;\n    return 0; /* fill in */\n}}\n\n",
                   commentText(list), none, type);
    }
    if (gauge.digital() && measuring.missing.empty()) return transferPort(measuring.bus, CodeLanguage::C);
    if (const ConverterPart* part = steppedConverter(gauge))
        return pinSequenceText(*part, code.takes[0].type, CodeLanguage::C);
    if (gauge.analog())
        return fmt::format(
            "/* The raw value of one conversion: start it, wait until it is finished, read it. The first conversion\n"
            "   after power-on or after another channel is often thrown away. */\n"
            "static {} fg_port_read(void)\n{{\n    return 0; /* fill in */\n}}\n\n",
            code.takes[0].type);
    std::string blocks;
    for (std::size_t i = 0; i < code.takes.size(); ++i)
        blocks += fmt::format("{}{} is {}, {} bytes", i == 0 ? "" : "; ", i, code.takes[i].name, code.takes[i].bytes);
    return fmt::format(
        "/* A block of the part: {}.\n   Left to you, for {}.\n   Before a measurement: start it and wait as long as "
        "the "
        "part takes; the first\n"
        "   result after power-on is the one asked for now, not the one before. Without an answer it returns 0. */\n"
        "static int fg_port_read(unsigned block, uint8_t *bytes, unsigned count)\n{{\n    (void)block;\n    "
        "(void)bytes;\n    (void)count;\n    return 0; /* fill in, and return 1 */\n}}\n\n",
        blocks, commentText(measuring.missing));
}

/// The blocks of a digital part as variables.
std::string blocksC(const GaugeCode& code) {
    std::string text;
    for (const CodeParameter& one : code.takes)
        if (!one.block.empty()) text += fmt::format("    uint8_t {}[{}] = {{0}};\n", one.name, one.bytes);
    return text;
}

std::string joined(const std::vector<std::string>& names) {
    std::string text;
    for (const std::string& one : names) text += (text.empty() ? "" : ", ") + one;
    return text;
}

std::string readsC(const GaugeCode& code, const PartSequence& measuring, const std::string& base) {
    // A part that did not answer may have lost its supply, and with it its words.
    if (measuring.missing.empty())
        return fmt::format(
            "        if (!is_set_up) is_set_up = {0}_set_up({1});\n"
            "        const int is_read = is_set_up && {0}_measure({2});\n"
            "        if (!is_read) is_set_up = 0;\n",
            base, joined(measuring.text.setUpTakes), joined(measuring.text.measureTakes));
    std::string all;
    for (std::size_t i = 0; i < code.takes.size(); ++i)
        all +=
            fmt::format("{}fg_port_read({}, {}, {})", i == 0 ? "" : " && ", i, code.takes[i].name, code.takes[i].bytes);
    return fmt::format("        const int is_read = {};\n", all);
}

/// The readings of a derived gauge's inputs, as they are asked for.
std::string readingsC(const GaugeCode& code) {
    std::string text;
    for (std::size_t i = 0; i < code.takes.size(); ++i)
        text +=
            (i == 0 ? "" : ", ") + (code.takes[i].isClock ? "fg_port_now_ms()" : fmt::format("fg_port_read({})", i));
    return text;
}

std::string programC(const Gauge& gauge, const GaugeCode& code, const std::string& base, const std::string& call) {
    const PartSequence measuring = measuringOf(gauge, code, base, CodeLanguage::C);
    std::string text = fmt::format(
        "/* {0}: reads, converts and prints once a second. Fill in the functions at the top for your board. */\n"
        "#include \"{1}.h\"\n\n"
        "{2}"
        "/* One character to the serial port or the display. */\n"
        "static void fg_port_put(char character)\n{{\n    (void)character; /* fill in */\n}}\n\n"
        "/* Waits. */\nstatic void fg_port_wait_ms(uint16_t milliseconds)\n{{\n    (void)milliseconds; /* fill in "
        "*/\n}}\n\n"
        "static void put(const char *text)\n{{\n    while (*text != '\\0') fg_port_put(*text++);\n}}\n\n",
        commentText(gauge.spec().name), base, portC(gauge, code, measuring));
    if (gauge.digital() && measuring.missing.empty()) text += measuring.text.functions;
    if (!code.form) text += realDisplayFunction(base, gauge, code);
    text += "int main(void)\n{\n" + (gauge.analog() ? std::string() : blocksC(code));
    if (gauge.digital() && measuring.missing.empty()) text += "    int is_set_up = 0;\n";
    text += "    for (;;) {\n";
    text += fmt::format("        {} value;\n        char text[{}];\n", code.gives, displaySize(code));
    if (gauge.digital()) text += readsC(code, measuring, base);
    const bool isStepped = steppedConverter(gauge) != nullptr;
    if (isStepped)
        text += fmt::format("        {} raw = 0;\n        const int is_read = convert(&raw);\n", code.takes[0].type);
    text += isStepped ? fmt::format("        switch (is_read ? {}(raw, &value) : FG_DAMAGED) {{\n", code.function)
            : gauge.analog() ? fmt::format("        switch ({}(fg_port_read(), &value)) {{\n", code.function)
            : gauge.digital()
                ? fmt::format("        switch (is_read ? {}({}, &value) : FG_DAMAGED) {{\n", code.function, call)
                : fmt::format("        switch ({}({}, &value)) {{\n", code.function, readingsC(code));
    text += fmt::format(
        "        case FG_OK:\n            {}_text(value, text);\n            put(text);\n            put(\" {}\\n\");\n"
        "            break;\n",
        base, commentText(code.unit->id));
    for (const CodeStatus& one : codeStatuses())
        if (one.number != 0)
            text +=
                fmt::format("        case {}:\n            put(\"{}\\n\");\n            break;\n", one.name, one.id);
    return text + "        }\n        fg_port_wait_ms(1000);\n    }\n}\n";
}

std::string programPython(const Gauge& gauge, const GaugeCode& code, const std::string& base, const std::string& call) {
    const PartSequence measuring = measuringOf(gauge, code, base, CodeLanguage::MicroPython);
    const bool isMeasured = gauge.digital() && measuring.missing.empty();
    const std::string shown = code.form ? fmt::format("{0}.{0}_text(value)", base) : std::string("value");
    std::string nothing, names;
    for (const CodeParameter& one : code.takes) {
        nothing += one.isClock || (one.block.empty() && gauge.analog()) ? "0, " : "None, ";
        names += fmt::format("{}blocks['{}']", names.empty() ? "" : ", ", one.name);
    }
    const ConverterPart* stepped = steppedConverter(gauge);
    std::string text = fmt::format(
        "# {0}: reads, converts and prints once a second. Fill in the functions at the top for your board.\nimport "
        "{1}\n\n",
        commentText(gauge.spec().name), base);
    text += stepped ? pinSequenceText(*stepped, "", CodeLanguage::MicroPython) +
                          fmt::format(
                              "def read():\n    raw = convert()\n"
                              "    return ({0}.FG_DAMAGED, None) if raw is None else {0}.{1}(raw)\n\n",
                              base, code.function)
            : isMeasured
                ? transferPort(measuring.bus, CodeLanguage::MicroPython)
                : fmt::format("def port_read():\n    \"\"\"{}\"\"\"\n    return ({})  # fill in\n\n",
                              gauge.analog() ? "The raw value of one conversion."
                              : code.takes.front().isClock
                                  ? "The board's clock in ms, as time.ticks_ms(), and the reading of another gauge."
                              : gauge.derived() ? "Readings of other gauges: " + call + "."
                                                : "The blocks as they are read: " + call + ". Left to you, for " +
                                                      commentText(measuring.missing) + ".",
                              nothing.substr(0, nothing.size() - 1));
    text +=
        "def port_put(text):\n    print(text)\n\n"
        "def port_wait_ms(milliseconds):\n    pass  # fill in: time.sleep_ms(milliseconds)\n\n";
    if (isMeasured)
        text += measuring.text.functions +
                fmt::format(
                    "def read(blocks):\n"
                    "    # A part that did not answer may have lost its supply, and with it its words.\n"
                    "    try:\n"
                    "        if 'is_set_up' not in blocks: {0}_set_up(blocks)\n"
                    "        {0}_measure(blocks)\n"
                    "        blocks['is_set_up'] = True\n"
                    "        return {0}.{1}({2})\n"
                    "    except OSError:\n"
                    "        blocks.clear()\n"
                    "        return ({0}.FG_DAMAGED, None)\n\n",
                    base, code.function, names);
    text += fmt::format(
        "def main():\n{}    while True:\n        status, value = {}\n"
        "        if status == {}.FG_OK: port_put('%s {}' % {})\n"
        "        else: port_put('status %d' % status)\n"
        "        port_wait_ms(1000)\n\n"
        "if __name__ == '__main__': main()\n",
        isMeasured ? "    blocks = {}\n" : "",
        stepped      ? "read()"
        : isMeasured ? "read(blocks)"
                     : fmt::format("{}.{}(*port_read())", base, code.function),
        base, code.unit->id, shown);
    return text;
}

}  // namespace

std::string loopProgram(const Gauge& gauge, const GaugeCode& code, const std::string& base, const std::string& call,
                        CodeLanguage language) {
    return language == CodeLanguage::C ? programC(gauge, code, base, call) : programPython(gauge, code, base, call);
}

}  // namespace fg
