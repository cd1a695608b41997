#include "choosing/rules.h"
#include "sensors/family.h"

namespace fg::choosing {

// Where it plugs in: analog pins and their converter, I²C, one digital pin, a line that carries several, SPI.
std::optional<Mark> connectionRule(const Subject& subject) {
    if (!subject.need.free) return std::nullopt;
    const FreePlaces& free = *subject.need.free;
    const int count = subject.need.count;
    Mark mark{"connection", "Connects to", Verdict::Met, "", "", 0};
    const auto pins = [&](int had, int needed, const std::string& what) {
        mark.brief = what;
        mark.verdict = had >= needed ? Verdict::Met : Verdict::Ruled;
        mark.text = fmt::format("needs {} {}{}, {} free", needed, what, needed > 1 ? "s" : "", had);
    };
    const auto line = [&](bool had, const char* what) {
        mark.brief = what;
        mark.verdict = had ? Verdict::Met : Verdict::Ruled;
        mark.text = had ? fmt::format("{} is free", what) : fmt::format("needs {}, which is not free", what);
    };
    const std::string& interface = subject.candidate.interface;
    if (interface == "i2c") {
        line(free.i2c, "I²C");
    } else if (interface == "1-wire") {
        line(free.oneWire || free.digitalPins > 0, "a 1-wire line");
    } else if (interface == "single-bus") {
        pins(free.digitalPins, count, "digital pin");
    } else if (interface == "spi") {
        // A chip select each beside clock and data.
        if (free.spi)
            line(true, "SPI");
        else
            pins(free.digitalPins, 2 + count, "digital pin");
    } else if (subject.device) {
        pins(free.digitalPins, 2 * count, "digital pin");  // a clock and a data line each
    } else {
        const bool isDifferential =
            !subject.candidate.gauges.empty() && subject.candidate.gauges.front().wiring.kind == "bridge";
        const Quantity output = findSensorFamily(subject.part->family)->output;
        if (subject.facts().body == "chip") {
            mark.text = "is in the chip already";
            mark.brief = "inside";
        } else if (output == Quantity::Frequency || output == Quantity::Capacitance || output == Quantity::Count)
            pins(free.digitalPins, count, "digital pin");
        else if (isDifferential) {
            mark.brief = "a bridge converter";
            mark.verdict = free.i2c || free.digitalPins >= 2 ? Verdict::Open : Verdict::Ruled;
            mark.text =
                mark.verdict == Verdict::Open
                    ? "too small for a pin: needs a converter with an amplifier of its own, on I²C or two pins"
                    : "too small for a pin, and neither I²C nor two digital pins are free for a converter of its own";
        } else {
            pins(free.analogPins, count, "analog pin");
        }
    }
    return mark;
}

}  // namespace fg::choosing
