#include "handover/setup_paper.h"

#include "handover/measuring_sequence.h"
#include "path/converter_setup.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg {
namespace {

std::string hexText(std::span<const std::uint8_t> bytes) {
    std::string text;
    for (const std::uint8_t byte : bytes) text += fmt::format("{}{:02X}", text.empty() ? "" : " ", byte);
    return text;
}

PaperSection stepsSection(const char* heading, const std::vector<SequenceStep>& steps) {
    PaperSection section;
    section.heading = heading;
    section.table = {{"Write", "Read", "Wait", "Why"}, {}, {}};
    const auto asked = [](const SequenceStep& step) {
        if (step.startLow_s > 0) return shortEngineering(step.startLow_s, Quantity::Time, 4).joined() + " low";
        if (step.pulses > 0) return fmt::format("{} clock pulses", step.pulses);
        return step.out.empty() ? std::string("–") : hexText(step.out);
    };
    for (const SequenceStep& step : steps)
        section.table.rows.push_back(
            {asked(step), step.in == 0 ? "–" : fmt::format("{} bytes, {} from {}", step.in, step.block, step.at),
             step.wait_s > 0 ? shortEngineering(step.wait_s, Quantity::Time, 4).joined() : "–",
             step.isUnanswered ? step.why + " (not acknowledged)" : step.why});
    return section;
}

void addPart(const Gauge& gauge, std::vector<PaperSection>& sections) {
    const MeasuringSequence sequence = sequenceOf(*gauge.digital(), gauge.spec(), gauge.catalogue());
    if (!sequence.missing.empty()) return;
    if (!sequence.once.empty()) sections.push_back(stepsSection("Set-up, after power-on", sequence.once));
    if (!sequence.each.empty()) sections.push_back(stepsSection("Each measurement", sequence.each));
    if (sections.empty()) return;
    if (sequence.site.kind == BusKind::TwoWire)
        sections.front().paragraphs.push_back(
            fmt::format("Address 0x{:02X}. Bytes are hexadecimal, a register's address or a command first.",
                        sequence.site.address));
    for (const std::string& note : sequence.notes) sections.front().paragraphs.push_back("To know: " + note + ".");
}

void addConverter(const Gauge& gauge, std::vector<PaperSection>& sections) {
    const Parameters& own = gauge.spec().converter.parameters;
    const RegisterMap* map = setupMapOf(gauge.catalogue(), gauge.spec());
    const auto settings = RegisterMap::readSettings(own.textOr("setup", ""));
    if (!map || !settings || settings->empty()) return;
    const auto words = map->set(*settings);
    if (!words) return;
    PaperSection section;
    section.heading = "Set-up words of the converter";
    section.paragraphs.push_back(map->title.empty() ? map->id : map->id + ": " + map->title);
    section.table = {{"Register", "Address", "Word", "Binary", "Sets"}, {}, {}};
    // In the order of the map, which is the one to write them in.
    for (const Register& in : map->registers)
        for (const RegisterWord& word : *words) {
            if (word.in != &in) continue;
            std::string sets;
            for (const FieldValue& value : map->explain(std::span(&word, 1)))
                if (!value.field->isReadOnly && in.codeIn(*value.field, in.reset) != value.code)
                    sets += fmt::format("{}{} {}", sets.empty() ? "" : ", ", value.field->title, value.text);
            if (!in.effect.empty()) sets += (sets.empty() ? "" : "; ") + in.effect;
            section.table.rows.push_back({in.name, in.place(), word.text(), word.binary(), sets});
        }
    for (const SetupMismatch& one : checkSetup(*map, *words, gauge.spec(), gauge.catalogue()))
        section.paragraphs.push_back("Not as the gauge counts: " + one.text + ".");
    for (const Consequence& one : setupTiming(*map, *words, own.numberOr("setup_clock_Hz", 0)).consequences)
        section.paragraphs.push_back(fmt::format("{}: {} ({}).", one.title, consequenceText(one), one.note));
    sections.push_back(std::move(section));
}

}  // namespace

std::vector<PaperSection> setupSections(const Gauge& gauge) {
    std::vector<PaperSection> sections;
    if (gauge.digital()) addPart(gauge, sections);
    if (gauge.analog()) addConverter(gauge, sections);
    return sections;
}

}  // namespace fg
