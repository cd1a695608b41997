#include "handover/sender_text.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {

/// The program's first lines.
std::string headOf(const SentChannels& sent) {
    const std::string lines = sent.about + ".\nFill in the functions whose names begin with port.";
    std::string text;
    for (std::size_t at = 0; at <= lines.size();) {
        const std::size_t end = std::min(lines.find('\n', at), lines.size());
        text += "# " + lines.substr(at, end - at) + "\n";
        at = end + 1;
    }
    return text + "\n";
}

std::string portsOf(const SentChannels& sent) {
    std::string text;
    // Names of gauges stand in comments: in a docstring three quotes would end it.
    if (sent.hasAnalog())
        text += "# `channel` of port_convert:" + sent.list(false, "# ") +
                "\ndef port_convert(channel):\n    \"\"\"The raw value of one conversion.\"\"\"\n    return 0  # fill "
                "in\n\n";
    for (const BusKind bus : sent.buses) text += transferPort(bus, CodeLanguage::MicroPython);
    if (sent.hasLeft())
        text += "# `channel` of port_read:" + sent.list(true, "# ") +
                "\ndef port_read(channel, count):\n"
                "    \"\"\"Bytes of a part that is read in a way of its own. Raises OSError when it does not "
                "answer.\"\"\"\n"
                "    raise OSError  # fill in\n\n";
    return text +
           "def port_put(line):\n    print(line)\n\n"
           "def port_wait_ms(milliseconds):\n    pass  # fill in: time.sleep_ms(milliseconds)\n\n"
           "def port_now_ms():\n    return 0  # fill in: time.ticks_ms()\n\n";
}

std::string setUpsOf(const SentChannels& sent) {
    std::string text = "def set_up(parts):\n    \"\"\"Sets up what is not, and tells its coefficients.\"\"\"\n";
    for (const SentChannel& one : sent.channels) {
        if (!one.isWritten()) continue;
        std::string told;
        for (const CodeParameter& block : one.blocks)
            if (!one.isMeasured(block.name))
                told +=
                    fmt::format("{}'{}{}' + hexadecimal(blocks['{}'])", told.empty() ? "            port_put(" : " + ",
                                told.empty() ? "# " + one.channel + " " : "; ", SentChannel::labelOf(block),
                                block.name);
        text += fmt::format(
            "    if '{0}' not in parts:\n        try:\n            blocks = {{}}\n"
            "            {0}_set_up(blocks)\n{1}            parts['{0}'] = blocks\n"
            "        except OSError: pass\n",
            one.id, told.empty() ? "" : told + ")\n");
    }
    return text + (sent.hasWritten() ? "\n" : "    pass\n\n");
}

/// What a channel adds to the line.
std::string sentText(const SentChannel& one, std::size_t i) {
    if (!one.isDigital) return fmt::format("    text += ' {}=%d' % port_convert({})\n", one.channel, i);
    std::string data;
    for (const CodeParameter& block : one.blocks) {
        if (!one.isMeasured(block.name)) continue;
        data += data.empty() ? "" : " + ";
        data += one.isWritten() ? fmt::format("parts['{}']['{}']", one.id, block.name)
                                : fmt::format("port_read({}, {})", i, block.bytes);
    }
    if (!one.isWritten())
        return fmt::format("    try: text += ' {}=' + hexadecimal({})\n    except OSError: pass\n", one.channel, data);
    return fmt::format(
        "    try:\n        if '{0}' in parts:\n            {0}_measure(parts['{0}'])\n"
        "            text += ' {1}=' + hexadecimal({2})\n"
        "    except OSError:\n        parts.pop('{0}', None)  # it may have lost its supply, and its words\n",
        one.id, one.channel, data);
}

}  // namespace

std::string senderInPython(const SentChannels& sent) {
    std::string text = headOf(sent) + portsOf(sent);
    for (const SentChannel& one : sent.channels)
        if (one.isWritten()) text += "# " + one.about + ".\n" + one.sequence.functions + "\n";
    text += setUpsOf(sent) +
            "def hexadecimal(data):\n    return ' '.join('%02X' % byte for byte in data)\n\n"
            "def line(parts):\n    now = port_now_ms()\n    text = 't=%d.%03d' % (now // 1000, now % 1000)\n";
    for (std::size_t i = 0; i < sent.channels.size(); ++i) text += sentText(sent.channels[i], i);
    return text +
           "    return text\n\ndef main():\n    parts = {}\n    while True:\n        set_up(parts)\n"
           "        port_put(line(parts))\n        port_wait_ms(1000)\n\nif __name__ == '__main__': main()\n";
}

}  // namespace fg
