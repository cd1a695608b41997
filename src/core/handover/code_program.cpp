#include "handover/code_program.h"

#include "handover/code_display.h"

#include <fmt/format.h>

namespace fg {
namespace {

/// The function that the maker fills in: how raw values come.
std::string portC(const Gauge& gauge, const GaugeCode& code) {
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
        "/* A block of the part: {}.\n   Before a measurement: start it and wait as long as the part takes; the first\n"
        "   result after power-on is the one asked for now, not the one before. Without an answer it returns 0. */\n"
        "static int fg_port_read(unsigned block, uint8_t *bytes, unsigned count)\n{{\n    (void)block;\n    "
        "(void)bytes;\n    (void)count;\n    return 0; /* fill in, and return 1 */\n}}\n\n",
        blocks);
}

/// The blocks of a digital part as variables.
std::string blocksC(const GaugeCode& code) {
    std::string text;
    for (const CodeParameter& one : code.takes)
        if (!one.block.empty()) text += fmt::format("    uint8_t {}[{}] = {{0}};\n", one.name, one.bytes);
    return text;
}

std::string readsC(const GaugeCode& code) {
    std::string all;
    for (std::size_t i = 0; i < code.takes.size(); ++i)
        all +=
            fmt::format("{}fg_port_read({}, {}, {})", i == 0 ? "" : " && ", i, code.takes[i].name, code.takes[i].bytes);
    return fmt::format("        const int is_read = {};\n", all);
}

std::string programC(const Gauge& gauge, const GaugeCode& code, const std::string& base, const std::string& call) {
    std::string text = fmt::format(
        "/* {0}: reads, converts and prints once a second. Fill in the three functions for your board. */\n"
        "#include \"{1}.h\"\n\n"
        "{2}"
        "/* One character to the serial port or the display. */\n"
        "static void fg_port_put(char character)\n{{\n    (void)character; /* fill in */\n}}\n\n"
        "/* Waits. */\nstatic void fg_port_wait_ms(uint16_t milliseconds)\n{{\n    (void)milliseconds; /* fill in "
        "*/\n}}\n\n"
        "static void put(const char *text)\n{{\n    while (*text != '\\0') fg_port_put(*text++);\n}}\n\n",
        commentText(gauge.spec().name), base, portC(gauge, code));
    if (!code.form) text += realDisplayFunction(base, gauge, code);
    text += "int main(void)\n{\n" + (gauge.analog() ? std::string() : blocksC(code)) + "    for (;;) {\n";
    text += fmt::format("        {} value;\n        char text[{}];\n", code.gives, displaySize(code));
    if (!gauge.analog()) text += readsC(code);
    text += gauge.analog()
                ? fmt::format("        switch ({}(fg_port_read(), &value)) {{\n", code.function)
                : fmt::format("        switch (is_read ? {}({}, &value) : FG_DAMAGED) {{\n", code.function, call);
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
    const std::string shown = code.form ? fmt::format("{0}.{0}_text(value)", base) : std::string("value");
    std::string nothing;
    for (const CodeParameter& one : code.takes) nothing += one.block.empty() ? "0, " : "None, ";
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
        commentText(gauge.spec().name), base, code.function, code.unit->id, shown,
        gauge.analog() ? "The raw value of one conversion." : "The blocks as they are read: " + call + ".", nothing);
}

}  // namespace

std::string loopProgram(const Gauge& gauge, const GaugeCode& code, const std::string& base, const std::string& call,
                        CodeLanguage language) {
    return language == CodeLanguage::C ? programC(gauge, code, base, call) : programPython(gauge, code, base, call);
}

}  // namespace fg
