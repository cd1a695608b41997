#include "handover/sequence_text.h"

#include "handover/pulse_text.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

int millisecondsOf(double wait_s) { return std::max(1, static_cast<int>(std::ceil(1000 * wait_s - 1e-9))); }

std::string transferName(BusKind kind, CodeLanguage language) {
    // Transfers by pulses are written here, over functions for the pins.
    if (kind == BusKind::SingleBus) return "single_bus";
    if (kind == BusKind::Clocked) return "clocked";
    return std::string(language == CodeLanguage::C ? "fg_port_" : "port_") + (kind == BusKind::TwoWire    ? "i2c"
                                                                              : kind == BusKind::FourWire ? "spi"
                                                                                                          : "wire");
}

/// What the program calls the thing at the other end.
std::string siteText(const BusSite& site) { return fmt::format("0x{:02X}", site.address); }

/// The parameter that a step fills, and where in it.
const CodeParameter* parameterOf(const SequenceStep& step, std::span<const CodeParameter> blocks) {
    const auto it = std::find_if(blocks.begin(), blocks.end(), [&](const CodeParameter& one) {
        return one.of == step.block && step.at >= one.at && step.at + step.in <= one.at + one.bytes;
    });
    return it == blocks.end() ? nullptr : &*it;
}

/// A run of steps as statements.
class StepsText {
  public:
    StepsText(const MeasuringSequence& sequence, std::span<const CodeParameter> blocks, CodeLanguage language)
        : m_transfer(transferName(sequence.site.kind, language)),
          m_site(siteText(sequence.site)),
          m_blocks(blocks),
          m_isC(language == CodeLanguage::C) {}

    std::string of(const std::vector<SequenceStep>& steps) {
        m_fills.clear();
        m_next = 0;
        std::string arrays, text;
        for (const SequenceStep& step : steps) {
            const CodeParameter* into = step.in > 0 ? parameterOf(step, m_blocks) : nullptr;
            if (step.in > 0 && !into) continue;
            if (into && std::find(m_fills.begin(), m_fills.end(), into->name) == m_fills.end())
                m_fills.push_back(into->name);
            const bool isTransfer = !step.out.empty() || step.in > 0 || step.isUnanswered;
            if (isTransfer) text += m_isC ? stepC(step, into, arrays) : stepPython(step, into);
            if (step.wait_s > 0) text += wait(step, !isTransfer);
        }
        return arrays + text;
    }
    [[nodiscard]] const std::vector<std::string>& fills() const { return m_fills; }

  private:
    std::string stepC(const SequenceStep& step, const CodeParameter* into, std::string& arrays) {
        std::string out = "0";
        if (!step.out.empty()) {
            out = fmt::format("out_{}", m_next++);
            arrays +=
                fmt::format("    static const uint8_t {}[] = {{{}}};\n", out, bytesText(step.out, CodeLanguage::C));
        }
        const std::size_t from = into ? step.at - into->at : 0;
        const std::string in = !into ? "0" : from == 0 ? into->name : fmt::format("{} + {}", into->name, from);
        const std::string asked = askedFor(step);
        const std::string call =
            asked.empty() ? fmt::format("{}({}, {}, {}, {}, {})", m_transfer, m_site, out, step.out.size(), in, step.in)
                          : fmt::format("{}({}, {}, {}, {})", m_transfer, m_site, asked, in, step.in);
        const std::string why = "    /* " + commentText(step.why) + " */\n";
        return why +
               fmt::format(fmt::runtime(step.isUnanswered ? "    (void){};\n" : "    if (!{}) return 0;\n"), call);
    }

    std::string stepPython(const SequenceStep& step, const CodeParameter* into) {
        const std::string asked = askedFor(step);
        const std::string call =
            fmt::format("{}({}, {}, {})", m_transfer, m_site,
                        asked.empty() ? bytesText(step.out, CodeLanguage::MicroPython) : asked, step.in);
        const std::string why = "    # " + commentText(step.why) + "\n";
        if (step.isUnanswered) return why + fmt::format("    try: {}\n    except OSError: pass\n", call);
        if (!into) return why + fmt::format("    {}\n", call);
        const bool isFirst = step.at == into->at;
        return why + fmt::format(fmt::runtime(isFirst ? "    blocks['{}'] = {}\n" : "    blocks['{}'] += {}\n"),
                                 into->name, call);
    }

    /// What a transfer by pulses takes in place of bytes: microseconds of its start pulse, or how many pulses.
    [[nodiscard]] static std::string askedFor(const SequenceStep& step) {
        if (step.startLow_s > 0) return fmt::format("{}", std::lround(1e6 * step.startLow_s));
        return step.pulses > 0 ? fmt::format("{}", step.pulses) : std::string();
    }

    [[nodiscard]] std::string wait(const SequenceStep& step, bool isSaid) const {
        const int milliseconds = millisecondsOf(step.wait_s);
        const std::string why = isSaid ? commentText(step.why) : std::string();
        return m_isC
                   ? fmt::format("    fg_port_wait_ms({}u);{}\n", milliseconds, why.empty() ? "" : " /* " + why + " */")
                   : fmt::format("    port_wait_ms({}){}\n", milliseconds, why.empty() ? "" : "  # " + why);
    }

    std::string m_transfer, m_site;
    std::span<const CodeParameter> m_blocks;
    bool m_isC;
    int m_next = 0;
    std::vector<std::string> m_fills;
};

}  // namespace

std::string bytesText(std::span<const std::uint8_t> bytes, CodeLanguage language) {
    std::string text;
    for (const std::uint8_t byte : bytes)
        text += language == CodeLanguage::C ? fmt::format("{}0x{:02X}", text.empty() ? "" : ", ", byte)
                                            : fmt::format("\\x{:02X}", byte);
    return language == CodeLanguage::C ? text : "b'" + text + "'";
}

SequenceText sequenceText(const MeasuringSequence& sequence, const std::string& base,
                          std::span<const CodeParameter> blocks, CodeLanguage language) {
    SequenceText text;
    StepsText steps(sequence, blocks, language);
    const bool isC = language == CodeLanguage::C;
    const auto function = [&](const char* name, const char* about, const std::vector<SequenceStep>& run,
                              std::vector<std::string>& takes) {
        const std::string body = steps.of(run);
        takes = steps.fills();
        if (isC) {
            std::string parameters;
            for (const std::string& one : takes) parameters += (parameters.empty() ? "" : ", ") + ("uint8_t *" + one);
            text.functions += fmt::format(
                "/* {} Returns 0 when the part does not answer. */\nstatic int {}_{}({})\n{{\n{}"
                "    return 1;\n}}\n\n",
                about, base, name, parameters.empty() ? "void" : parameters, body);
        } else {
            text.functions += fmt::format("def {}_{}(blocks):\n    \"\"\"{}\"\"\"\n{}\n", base, name, about,
                                          body.empty() ? "    pass\n" : body);
        }
    };
    for (const std::string& note : sequence.notes)
        text.functions +=
            isC ? "/* To know: " + commentText(note) + ". */\n" : "# To know: " + commentText(note) + ".\n";
    function("set_up", "Sets the part up: what is written, in its order, and why.", sequence.once, text.setUpTakes);
    function("measure", "Measures once, and reads the result.", sequence.each, text.measureTakes);
    return text;
}

std::string transferPort(BusKind kind, CodeLanguage language) {
    if (kind == BusKind::SingleBus) return singleBusText(language);
    if (kind == BusKind::Clocked) return clockedText(language);
    const std::string_view bus =
        kind == BusKind::TwoWire
            ? "I2C, `site` is the address: start, write out, repeated start, read in, stop.\n   With "
              "nothing to write only the read; with neither only the address"
        : kind == BusKind::FourWire
            ? "SPI: select, write out, read in, release. `site` tells parts apart, 0 where there is one"
            : "1-wire: reset, presence, write out, read in; no presence is no answer";
    const std::string name = transferName(kind, language);
    if (language == CodeLanguage::C)
        return fmt::format(
            "/* One transfer. {}.\n   Returns 0 when the part does not answer. */\n"
            "static int {}(uint8_t site, const uint8_t *out, unsigned out_count, uint8_t *in, unsigned in_count)\n"
            "{{\n    (void)site;\n    (void)out;\n    (void)out_count;\n"
            "    (void)in;\n    (void)in_count;\n    return 0; /* fill in, and return 1 */\n}}\n\n",
            bus, name);
    return fmt::format(
        "def {}(site, out, count):\n    \"\"\"One transfer: `count` bytes read after `out`. {}. "
        "Raises OSError when the part does not answer.\"\"\"\n    raise OSError  # fill in\n\n",
        name, bus);
}

}  // namespace fg
