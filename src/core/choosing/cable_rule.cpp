#include "choosing/rules.h"
#include "planning/cable.h"
#include "planning/pull_up.h"
#include "sensors/family.h"

#include <cmath>

namespace fg::choosing {
namespace {

constexpr double kVoltageReach_m = 3;  // further than this a bare voltage needs a filter against hum

/// A bus line: is there a pull-up with which it still rises in time?
Mark busMark(const Subject& subject, Mark mark) {
    PullUpQuestion question;
    const std::string& interface = subject.candidate.interface;
    question.kind = interface == "1-wire"       ? LineKind::OneWire
                    : interface == "single-bus" ? LineKind::SingleBus
                                                : LineKind::I2cStandard;
    if (!subject.need.supplies_V.empty()) question.supply_V = subject.need.supplies_V.front();
    question.cable_m = subject.need.cable_m;
    question.devices = subject.need.count;
    const auto answer = sizePullUp(question);
    const std::string length = plainNumber(subject.need.cable_m, 4) + " m";
    if (!answer) {
        mark.verdict = Verdict::Open;
        mark.text = answer.error().message();
        return mark;
    }
    if (answer->fault == LineFault::NoWindow || !answer->recommended_ohm) {
        mark.verdict = Verdict::Ruled;
        mark.text = fmt::format("{} of cable make {}: no pull-up raises {} in time", length,
                                engineering(answer->capacitance_F, Quantity::Capacitance, 2).joined(),
                                lineKindName(question.kind));
    } else {
        mark.brief = shortEngineering(*answer->recommended_ohm, Quantity::Resistance).joined();
        mark.text = fmt::format("{} with a pull-up of {}", length, mark.brief);
    }
    return mark;
}

/// A resistance through two wires: what they add, in the reading.
Mark resistanceMark(const Subject& subject, Mark mark) {
    const double lead_ohm = 2 * subject.need.cable_m * kWire_ohm_per_m;
    const GaugeSpec& spec = subject.candidate.gauges.front();
    const auto path = AnalogPath::build(spec, subject.catalogue);
    GaugeSpec wired = spec;
    wired.wiring.parameters.set("lead_ohm", lead_ohm);
    const auto hardware = AnalogPath::build(wired, subject.catalogue);
    if (!path || !hardware) {
        mark.verdict = Verdict::Open;
        mark.text = "cannot be judged without a gauge";
        return mark;
    }
    double worst = 0;
    for (const double world : {spec.spanCanonical().low, spec.spanCanonical().high}) {
        const double off = std::abs(path->reading(hardware->exactCode(world)) - world);
        if (std::isfinite(off)) worst = std::max(worst, off);
    }
    const double wanted = subject.need.wishes.front().accuracy;
    mark.brief = "+ " + differenceText(worst, spec.readingUnit());
    mark.text = fmt::format("{} m of thin wire add {} Ω, which reads {} off", plainNumber(subject.need.cable_m, 4),
                            significantDigits(lead_ohm, 2), differenceText(worst, spec.readingUnit()));
    if (wanted > 0 && worst > wanted / 10) {
        mark.verdict = Verdict::Open;
        mark.text += ": enter the cable in the wiring, which takes it off";
    }
    return mark;
}

}  // namespace

std::optional<Mark> cableRule(const Subject& subject) {
    if (!(subject.need.cable_m > 0) || subject.candidate.gauges.empty()) return std::nullopt;
    Mark mark{"cable", "Cable", Verdict::Met, "", "", 0};
    const std::string& interface = subject.candidate.interface;
    const std::string length = plainNumber(subject.need.cable_m, 4) + " m";
    if (interface == "i2c" || interface == "1-wire" || interface == "single-bus") return busMark(subject, mark);
    if (interface == "spi") {
        constexpr double kReach_m = 0.3;
        // The converter with a thermocouple or platinum element before it: that one's wires reach out instead.
        const bool reachesOut = subject.facts().body == "bead";
        if (subject.need.cable_m > kReach_m && !reachesOut) {
            mark.verdict = Verdict::Ruled;
            mark.text = "SPI is for one board, not for " + length;
        } else
            mark.text =
                reachesOut ? "the sensor's own wires reach out, the converter stays on the board" : "short enough";
        return mark;
    }
    if (subject.facts().body == "chip") {
        mark.verdict = Verdict::Ruled;
        mark.text = "it sits in the chip, no cable reaches out";
        return mark;
    }
    const Quantity output = findSensorFamily(subject.part->family)->output;
    if (output == Quantity::Resistance) return resistanceMark(subject, mark);
    if (output == Quantity::Current || output == Quantity::Count || output == Quantity::Frequency) {
        mark.text =
            output == Quantity::Current ? "a current arrives as it was sent" : "pulses arrive as they were sent";
    } else if (output == Quantity::Capacitance) {
        mark.verdict = Verdict::Ruled;
        mark.text = fmt::format("{} of cable are {}, which it cannot be told from", length,
                                engineering(kCable_F_per_m * subject.need.cable_m, Quantity::Capacitance, 2).joined());
    } else if (subject.facts().body == "bead") {
        mark.text = "its own wire must reach all the way, at both ends the same metal pair";
    } else if (subject.need.cable_m > kVoltageReach_m) {
        mark.verdict = Verdict::Open;
        mark.text = fmt::format("a voltage over {} picks up hum: screen it and filter at the pin", length);
    } else {
        mark.text = fmt::format("{} are short enough for a voltage", length);
    }
    return mark;
}

}  // namespace fg::choosing
