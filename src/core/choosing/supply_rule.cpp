#include "choosing/first_gauge.h"
#include "choosing/rules.h"
#include "sensors/family.h"

namespace fg::choosing {
namespace {

std::string voltages(const std::vector<double>& list) {
    std::string text;
    for (const double voltage : list) text += (text.empty() ? "" : " and ") + plainNumber(voltage, 4) + " V";
    return text;
}

/// Does the part need no supply of its own? Resistors, thermocouples, capacitors and diodes live from what is around
/// them.
bool isPassive(const Subject& subject) {
    if (!subject.part) return false;
    const Quantity output = findSensorFamily(subject.part->family)->output;
    return output == Quantity::Resistance || output == Quantity::Capacitance || subject.facts().body == "bead" ||
           subject.facts().body == "chip";
}

constexpr double kLogic_V = 5.5;  // what somebody might pull a line up to

}  // namespace

std::optional<Mark> supplyRule(const Subject& subject) {
    if (subject.need.supplies_V.empty()) return std::nullopt;
    Mark mark{"supply", "Supply", Verdict::Met, "", "", 0};
    const Interval works = subject.facts().supply_V;
    if (!(works.high > 0)) {
        mark.verdict = isPassive(subject) ? Verdict::Met : Verdict::Open;
        mark.text = isPassive(subject) ? "needs no supply of its own" : "its supply is not stated here";
        mark.brief = isPassive(subject) ? "none" : "not stated";
        return mark;
    }
    const std::string range = fmt::format("{} … {} V", plainNumber(works.low, 4), plainNumber(works.high, 4));
    mark.brief = range;
    if (const auto supply = supplyFor(works, subject.need)) {
        mark.text = fmt::format("{} will do ({})", plainNumber(*supply, 4) + " V", range);
        for (const double voltage : subject.need.supplies_V)
            if (subject.device && voltage > works.high && voltage <= kLogic_V)
                mark.text += fmt::format("; its lines must not be pulled up to {} V", plainNumber(voltage, 4));
        return mark;
    }
    mark.verdict = Verdict::Ruled;
    mark.text = fmt::format("needs {}, the board has {}", range, voltages(subject.need.supplies_V));
    return mark;
}

}  // namespace fg::choosing
