#include "handover/pin_sequence.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <set>

namespace fg {
namespace {

/// Waiting by program is coarse: whole microseconds, upwards.
int microseconds(double time_s) { return static_cast<int>(std::max(1.0, std::ceil(1e6 * time_s - 1e-6))); }

/// A line that never comes must not hold the program: twice the stated time, at least 1 ms where none is stated.
int patience(double time_s) { return time_s > 0 ? 2 * microseconds(time_s) : 1000; }

class PinWriter {
  public:
    PinWriter(const ConverterPart& part, std::string type, bool isC)
        : m_part(part), m_type(std::move(type)), m_isC(isC) {}

    [[nodiscard]] std::string text() {
        for (const PinStep& step : m_part.sequence) write(step);
        return m_isC ? inC() : inPython();
    }

  private:
    std::string pin(const std::string& name) {
        const std::string id = "PIN_" + identifierOf(name);
        if (std::find(m_pins.begin(), m_pins.end(), id) == m_pins.end()) m_pins.push_back(id);
        return id;
    }
    void line(const std::string& text) { m_body += "    " + text + (m_isC ? ";" : "") + "\n"; }

    void write(const PinStep& step) {
        m_body += (m_isC ? "    /* " : "    # ") + commentText(pinStepText(step)) + (m_isC ? " */\n" : "\n");
        for (const auto& [name, isHigh] : step.put)
            line(fmt::format("{}({}, {})", m_isC ? "fg_port_set" : "port_set", pin(name), isHigh ? 1 : 0));
        if (!step.put.empty() && step.time_s > 0)
            line(fmt::format("{}({})", m_isC ? "fg_port_wait_us" : "port_wait_us", microseconds(step.time_s)));
        if (step.wait) waitFor(*step.wait, step.time_s);
        for (std::size_t bit = 0; bit < step.read.size(); ++bit)
            line(m_isC ? fmt::format("word |= (unsigned long)(fg_port_get({}) != 0) << {}", pin(step.read[bit]), bit)
                       : fmt::format("word |= (1 if port_get({}) else 0) << {}", pin(step.read[bit]), bit));
    }

    void waitFor(const std::pair<std::string, bool>& wanted, double time_s) {
        if (m_isC)
            m_body += fmt::format(
                "    for (waited = 0; (fg_port_get({}) != 0) != {}; ++waited) {{\n"
                "        if (waited >= {}u) return 0;\n        fg_port_wait_us(1);\n    }}\n",
                pin(wanted.first), wanted.second ? 1 : 0, patience(time_s));
        else
            m_body += fmt::format(
                "    waited = 0\n    while bool(port_get({})) != {}:\n        if waited >= {}: return None\n"
                "        port_wait_us(1)\n        waited += 1\n",
                pin(wanted.first), wanted.second ? "True" : "False", patience(time_s));
    }

    [[nodiscard]] std::string inC() const {
        std::string pins;
        for (const std::string& one : m_pins) pins += (pins.empty() ? "" : ", ") + one;
        return fmt::format(
            "/* Pins of the {0}; put your own numbers behind the names. */\n"
            "enum {{ {1} }};\n\n"
            "/* Puts a level on a pin. */\n"
            "static void fg_port_set(unsigned pin, int level)\n{{\n    (void)pin;\n    (void)level; /* fill in "
            "*/\n}}\n\n"
            "/* The level of a pin, 0 or 1. */\n"
            "static int fg_port_get(unsigned pin)\n{{\n    (void)pin;\n    return 0; /* fill in */\n}}\n\n"
            "/* Waits at least so long. */\n"
            "static void fg_port_wait_us(unsigned microseconds)\n{{\n    (void)microseconds; /* fill in */\n}}\n\n"
            "/* One conversion; 0 when the ready line did not come. */\n"
            "static int convert({2} *raw)\n{{\n    unsigned waited;\n    unsigned long word = 0;\n{3}"
            "    *raw = ({2})word;\n    return 1;\n}}\n\n",
            commentText(m_part.id), pins, m_type, m_body);
    }

    [[nodiscard]] std::string inPython() const {
        std::string pins;
        for (std::size_t i = 0; i < m_pins.size(); ++i) pins += fmt::format("{} = {}\n", m_pins[i], i);
        return fmt::format(
            "# Pins of the {0}; put your own in place of the numbers.\n{1}\n"
            "def port_set(pin, level):\n    pass  # fill in\n\n"
            "def port_get(pin):\n    return 0  # fill in\n\n"
            "def port_wait_us(microseconds):\n    pass  # fill in: time.sleep_us(microseconds)\n\n"
            "def convert():\n    # One conversion; None when the ready line did not come.\n    word = 0\n{2}"
            "    return word\n\n",
            commentText(m_part.id), pins, m_body);
    }

    const ConverterPart& m_part;
    std::string m_type;
    bool m_isC;
    std::vector<std::string> m_pins;
    std::string m_body;
};

}  // namespace

std::string pinSequenceText(const ConverterPart& part, const std::string& type, CodeLanguage language) {
    return PinWriter(part, type, language == CodeLanguage::C).text();
}

}  // namespace fg
