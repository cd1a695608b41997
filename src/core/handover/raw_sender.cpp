#include "handover/raw_sender.h"

#include "handover/sender_text.h"
#include "path/converter_setup.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {

/// The name by which the board itself sends a channel: without the number of the source that it comes from here.
std::string ofBoard(const std::string& channel) {
    const std::size_t colon = channel.find(':');
    const bool isNumbered = colon != std::string::npos && colon > 0 && channel.find_first_not_of("0123456789") == colon;
    return isNumbered ? channel.substr(colon + 1) : channel;
}

/// Does the line protocol take it as a name?
bool isName(const std::string& text) {
    constexpr std::string_view letters = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ_";
    constexpr std::string_view more = "0123456789-.";
    return !text.empty() && text != "t" && letters.find(text.front()) != std::string_view::npos &&
           std::all_of(text.begin(), text.end(), [&](char c) {
               return letters.find(c) != std::string_view::npos || more.find(c) != std::string_view::npos;
           });
}

/// A channel's name as the line protocol takes it.
std::string channelName(const std::string& text) {
    std::string name = identifierOf(text);
    for (char& c : name) c = c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    return name == "t" ? "t_" : name;
}

std::vector<std::string> setupLines(const Gauge& gauge) {
    std::vector<std::string> lines;
    const Parameters& own = gauge.spec().converter.parameters;
    const RegisterMap* map = setupMapOf(gauge.catalogue(), gauge.spec());
    const auto settings = RegisterMap::readSettings(own.textOr("setup", ""));
    const auto words = map && settings ? map->set(*settings) : Expected<std::vector<RegisterWord>>();
    if (!map || !words) return lines;
    for (const Register& in : map->registers)
        for (const RegisterWord& word : *words)
            if (word.in == &in) lines.push_back(fmt::format("{} = {}", in.name, word.text()));
    return lines;
}

class Sender {
  public:
    Sender(std::span<const Gauge> gauges, std::string name, CodeLanguage language)
        : m_gauges(gauges), m_name(std::move(name)), m_isC(language == CodeLanguage::C), m_language(language) {}

    Expected<RawSender> write() {
        for (std::size_t i = 0; i < m_gauges.size(); ++i) take(i);
        if (m_sent.channels.empty())
            return fail(ErrorCode::Missing, "gauges", "none with a raw value", "an analog gauge or a digital part");
        m_sent.about = about();
        m_sender.file = {identifierOf(m_name) + "_sender" + (m_isC ? ".c" : ".py"),
                         m_isC ? senderInC(m_sent) : senderInPython(m_sent)};
        return std::move(m_sender);
    }

  private:
    void take(std::size_t i) {
        const Gauge& gauge = m_gauges[i];
        const GaugeSpec& spec = gauge.spec();
        if (!gauge.analog() && !gauge.digital()) return;
        const std::string own = ofBoard(spec.channel);
        const std::string channel = isName(own) ? own : channelName(spec.name);
        if (!isName(own)) {
            m_sender.channels[i] = channel;
            m_sender.notes.push_back(
                fmt::format("“{}” listens to no channel that a line can name: it is sent as {}", spec.name, channel));
        }
        const auto known = std::find_if(m_sent.channels.begin(), m_sent.channels.end(),
                                        [&](const SentChannel& one) { return one.channel == channel; });
        if (known != m_sent.channels.end()) {
            if (gauge.digital() && spec.sensor.parameters.textOr("settings", "") != known->settings)
                m_sender.notes.push_back(
                    fmt::format("“{}” sets its part otherwise than the gauge before it on {}: the "
                                "first one's words are written",
                                spec.name, channel));
            known->about += ", " + commentText(spec.name);
            return;
        }
        SentChannel sent;
        sent.channel = channel;
        sent.id = m_ids.fresh(channel);
        sent.about = commentText(spec.name);
        sent.isDigital = gauge.digital() != nullptr;
        sent.settings = spec.sensor.parameters.textOr("settings", "");
        if (sent.isDigital)
            takePart(*gauge.digital(), gauge, sent);
        else
            sent.setup = setupLines(gauge);
        m_sent.channels.push_back(std::move(sent));
    }

    void takePart(const DigitalPath& path, const Gauge& gauge, SentChannel& sent) {
        sent.about += " (" + path.part().id + ")";
        Identifiers names;
        std::map<std::string, std::size_t> taken;
        for (const BlockSpec& block : path.part().device->blocks(path.options())) {
            if (block.isOptional) continue;
            sent.blocks.push_back({.name = names.fresh(block.name),
                                   .type = "uint8_t *",
                                   .block = block.name,
                                   .bytes = block.size,
                                   .of = block.name,
                                   .at = taken[block.name],
                                   .address = block.address ? fmt::format("{:02X}", *block.address) : std::string()});
            taken[block.name] += block.size;
            if (!block.isCalibration) sent.measured.push_back(sent.blocks.back().name);
        }
        MeasuringSequence sequence = sequenceOf(path, gauge.spec(), gauge.catalogue());
        // Parts that have no address are told apart by the number of their channel.
        if (sequence.site.kind != BusKind::TwoWire && sequence.site.kind != BusKind::OneWire)
            sequence.site.address = static_cast<unsigned>(m_sent.channels.size());
        sent.missing = sequence.missing;
        if (sequence.missing.empty()) sent.sequence = sequenceText(sequence, sent.id, sent.blocks, m_language);
        if (!sequence.missing.empty())
            m_sender.notes.push_back(
                fmt::format("{}: reading it is left to you, for {}", sent.about, sequence.missing));
        for (const std::string& note : sequence.notes)
            m_sender.notes.push_back(fmt::format("{}: {}", sent.about, note));
        if (sequence.missing.empty()) m_sent.buses.insert(sequence.site.kind);
    }

    [[nodiscard]] std::string about() const {
        std::string text = commentText(m_name) + ": sends raw values once a second, one line each time";
        for (const std::string& note : m_sender.notes) text += "\n   To know: " + commentText(note);
        return text;
    }

    std::span<const Gauge> m_gauges;
    std::string m_name;
    bool m_isC;
    CodeLanguage m_language;
    Identifiers m_ids{{"put", "fg", "port", "hexadecimal", "set_up", "line"}};
    SentChannels m_sent;
    RawSender m_sender;
};

}  // namespace

Expected<RawSender> rawSender(std::span<const Gauge> gauges, const std::string& name, CodeLanguage language) {
    return Sender(gauges, name, language).write();
}

}  // namespace fg
