#include "handover/sender_text.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {

bool SentChannel::isMeasured(const std::string& block) const {
    return std::find(measured.begin(), measured.end(), block) != measured.end();
}

std::string SentChannel::labelOf(const CodeParameter& block) {
    return (block.address.empty() ? block.of : block.address) + ": ";
}

bool SentChannels::hasAnalog() const {
    return std::any_of(channels.begin(), channels.end(), [](const SentChannel& one) { return !one.isDigital; });
}
bool SentChannels::hasWritten() const {
    return std::any_of(channels.begin(), channels.end(), [](const SentChannel& one) { return one.isWritten(); });
}
bool SentChannels::hasLeft() const {
    return std::any_of(channels.begin(), channels.end(),
                       [](const SentChannel& one) { return one.isDigital && !one.missing.empty(); });
}

std::string SentChannels::list(bool isDigital, const char* indent) const {
    std::string text;
    for (std::size_t i = 0; i < channels.size(); ++i) {
        const SentChannel& one = channels[i];
        if (one.isDigital != isDigital || (isDigital && one.missing.empty())) continue;
        text += fmt::format("\n{}{} is {}: {}", indent, i, one.channel, one.about);
        for (const std::string& line : one.setup) text += "; " + line;
        if (isDigital)
            for (const CodeParameter& block : one.blocks)
                if (one.isMeasured(block.name)) text += fmt::format("; {}, {} bytes", block.name, block.bytes);
    }
    return text;
}

namespace {

class SenderC {
  public:
    explicit SenderC(const SentChannels& sent) : m_sent(sent) {}

    [[nodiscard]] std::string write() const {
        std::string text = "/* " + m_sent.about +
                           ".\n   Fill in the functions whose names begin with fg_port. */\n"
                           "#include <stdint.h>\n\n";
        if (m_sent.hasAnalog())
            text += fmt::format(
                "/* The raw value of one conversion. `channel`:{}\n   After another channel or reference was selected "
                "the first conversion is thrown away. */\n"
                "static int32_t fg_port_convert(unsigned channel)\n{{\n    (void)channel;\n    return 0; /* fill in "
                "*/\n}}\n\n",
                m_sent.list(false, "   "));
        for (const BusKind bus : m_sent.buses) text += transferPort(bus, CodeLanguage::C);
        if (m_sent.hasLeft())
            text += fmt::format(
                "/* A part that is read in a way of its own. `channel`:{}\n   Returns 0 when it does not answer. */\n"
                "static int fg_port_read(unsigned channel, uint8_t *bytes, unsigned count)\n{{\n    (void)channel;\n"
                "    (void)bytes;\n    (void)count;\n    return 0; /* fill in, and return 1 */\n}}\n\n",
                m_sent.list(true, "   "));
        text +=
            "/* One character to the serial port. */\n"
            "static void fg_port_put(char character)\n{\n    (void)character; /* fill in */\n}\n\n"
            "/* Waits. */\nstatic void fg_port_wait_ms(uint16_t milliseconds)\n{\n    (void)milliseconds; /* fill in "
            "*/\n}\n\n"
            "/* Milliseconds since the board started; may wrap. */\n"
            "static uint32_t fg_port_now_ms(void)\n{\n    return 0; /* fill in */\n}\n\n"
            "static void put(const char *text)\n{\n    while (*text != '\\0') fg_port_put(*text++);\n}\n\n"
            "static void put_number(uint32_t value, int least)\n{\n    char digits[10];\n    int count = 0;\n"
            "    while (value != 0 || count < least) {\n        digits[count++] = (char)('0' + (char)(value % 10u));\n"
            "        value /= 10u;\n    }\n    while (count > 0) fg_port_put(digits[--count]);\n}\n\n";
        if (m_sent.hasAnalog())
            text +=
                "static void put_raw(const char *channel, int32_t value)\n{\n    put(channel);\n"
                "    if (value < 0) fg_port_put('-');\n"
                "    put_number(value < 0 ? 0u - (uint32_t)value : (uint32_t)value, 1);\n}\n\n";
        if (m_sent.hasWritten() || m_sent.hasLeft())
            text +=
                "static void put_bytes(const uint8_t *bytes, unsigned count, int is_first)\n{\n"
                "    static const char digits[] = \"0123456789ABCDEF\";\n    unsigned i;\n"
                "    for (i = 0; i < count; ++i) {\n        if (i > 0 || !is_first) fg_port_put(' ');\n"
                "        fg_port_put(digits[bytes[i] >> 4]);\n        fg_port_put(digits[bytes[i] & 15u]);\n    "
                "}\n}\n\n";
        for (const SentChannel& one : m_sent.channels)
            if (one.isWritten()) text += "/* " + one.about + ". */\n" + one.sequence.functions;
        return text + mainC();
    }

  private:
    /// The blocks that a part's lines carry, one after the other.
    [[nodiscard]] static std::string putBlocks(const SentChannel& one, const std::string& indent) {
        std::string text = fmt::format("{}put(\" {}=\");\n", indent, one.channel);
        bool isFirst = true;
        for (const CodeParameter& block : one.blocks) {
            if (!one.isMeasured(block.name)) continue;
            text +=
                fmt::format("{}put_bytes({}_{}, {}u, {});\n", indent, one.id, block.name, block.bytes, isFirst ? 1 : 0);
            isFirst = false;
        }
        return text;
    }

    [[nodiscard]] static std::string arguments(const SentChannel& one, const std::vector<std::string>& names) {
        std::string text;
        for (const std::string& name : names) text += (text.empty() ? "" : ", ") + one.id + "_" + name;
        return text;
    }

    /// Coefficients are told once, in a comment as they are pasted here.
    [[nodiscard]] std::string setUps() const {
        std::string text;
        for (const SentChannel& one : m_sent.channels) {
            if (!one.isWritten()) continue;
            std::string told;
            for (const CodeParameter& block : one.blocks)
                if (!one.isMeasured(block.name))
                    told += fmt::format("            put(\"{}{}\");\n            put_bytes({}_{}, {}u, 1);\n",
                                        told.empty() ? "# " + one.channel + " " : "; ", SentChannel::labelOf(block),
                                        one.id, block.name, block.bytes);
            const std::string call = fmt::format("{}_set_up({})", one.id, arguments(one, one.sequence.setUpTakes));
            text += told.empty() ? fmt::format("        if (!{0}_is_set_up) {0}_is_set_up = {1};\n", one.id, call)
                                 : fmt::format(
                                       "        if (!{0}_is_set_up && {1}) {{\n{2}            put(\"\\n\");\n"
                                       "            {0}_is_set_up = 1;\n        }}\n",
                                       one.id, call, told);
        }
        return text;
    }

    [[nodiscard]] std::string mainC() const {
        std::string text = "int main(void)\n{\n";
        for (const SentChannel& one : m_sent.channels) {
            for (const CodeParameter& block : one.blocks)
                if (one.missing.empty() || one.isMeasured(block.name))
                    text += fmt::format("    uint8_t {}_{}[{}] = {{0}};\n", one.id, block.name, block.bytes);
            if (one.isWritten()) text += fmt::format("    int {}_is_set_up = 0;\n", one.id);
        }
        text += "    for (;;) {\n        uint32_t now;\n" + setUps() +
                "        now = fg_port_now_ms();\n        put(\"t=\");\n"
                "        put_number(now / 1000u, 1);\n        fg_port_put('.');\n        put_number(now % 1000u, 3);\n";
        for (std::size_t i = 0; i < m_sent.channels.size(); ++i) {
            const SentChannel& one = m_sent.channels[i];
            if (!one.isDigital)
                text += fmt::format("        put_raw(\" {}=\", fg_port_convert({}));\n", one.channel, i);
            else if (one.isWritten())
                text += fmt::format(
                    "        if ({0}_is_set_up && {0}_measure({1})) {{\n{2}        }} else {{\n"
                    "            {0}_is_set_up = 0; /* it may have lost its supply, and its words */\n"
                    "        }}\n",
                    one.id, arguments(one, one.sequence.measureTakes), putBlocks(one, "            "));
            else
                text += fmt::format("        if ({}) {{\n{}        }}\n", readsLeft(one, i),
                                    putBlocks(one, "            "));
        }
        return text + "        put(\"\\n\");\n        fg_port_wait_ms(1000u);\n    }\n}\n";
    }

    [[nodiscard]] static std::string readsLeft(const SentChannel& one, std::size_t i) {
        std::string text;
        for (const CodeParameter& block : one.blocks)
            if (one.isMeasured(block.name))
                text += fmt::format("{}fg_port_read({}, {}_{}, {}u)", text.empty() ? "" : " && ", i, one.id, block.name,
                                    block.bytes);
        return text;
    }

    const SentChannels& m_sent;
};

}  // namespace

std::string senderInC(const SentChannels& sent) { return SenderC(sent).write(); }

}  // namespace fg
