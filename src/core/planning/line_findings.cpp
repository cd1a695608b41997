#include "planning/line_findings.h"

#include "registers/alert_pin.h"
#include "units/number_format.h"

#include <fmt/format.h>

namespace fg {
namespace {

constexpr double kCommonlyAbove_V = 0.3;  // absolute maximum ratings of inputs: their own supply + 0.3 V

std::string volts(double value) { return plainNumber(value, 4) + " V"; }

}  // namespace

std::optional<Finding> pullUpFinding(const PullUpAnswer& answer, bool isGiven, const std::string& line) {
    if (!isGiven)
        return answer.advice.empty() ? std::nullopt
                                     : std::optional(Finding{Severity::Hint,
                                                             Stage::Wiring,
                                                             "pull-up-not-given",
                                                             "Pull-up of " + line + " not given",
                                                             answer.advice + " Modules often carry their own.",
                                                             {}});
    if (answer.fault == LineFault::None) return std::nullopt;
    const char* const id = answer.fault == LineFault::Missing     ? "pull-up-missing"
                           : answer.fault == LineFault::TooWeak   ? "pull-up-too-weak"
                           : answer.fault == LineFault::TooStrong ? "pull-up-too-strong"
                           : answer.fault == LineFault::ToGround  ? "pull-up-to-ground"
                                                                  : "pull-up-no-window";
    Finding finding{Severity::Fault, Stage::Wiring, id, "The pull-up of " + line, answer.text, {}};
    if (answer.recommended_ohm && answer.fault != LineFault::ToGround)
        finding.action = FindingAction{
            "Take " + shortEngineering(*answer.recommended_ohm, Quantity::Resistance).joined(), "",
            [ohm = *answer.recommended_ohm](GaugeSpec& changed) { changed.wiring.parameters.set("pullup_ohm", ohm); }};
    return finding;
}

Finding addressTaken(unsigned address, const std::string& names, const std::string& line) {
    return {Severity::Fault,
            Stage::Wiring,
            "address-taken",
            "Two devices at one address",
            fmt::format("0x{:02X} on {}: {}. None of them can be read. Ways out: another strap, a second bus, a "
                        "multiplexer.",
                        address, line, names),
            {}};
}

Finding probeTwice(const std::string& names, const std::string& line) {
    return {Severity::Fault,
            Stage::Wiring,
            "probe-twice",
            "Two gauges of one probe",
            fmt::format("{} on {} have the same code: one of them was given another probe's.", names, line),
            {}};
}

Finding levelsDiffer(double line_V, const std::string& others, const std::string& line) {
    return {Severity::Doubt,
            Stage::Wiring,
            "bus-levels",
            "Levels that do not meet on " + line,
            fmt::format("The line is pulled up to {}; {}. Put a level shifter between, or feed all from one supply.",
                        volts(line_V), others),
            {}};
}

std::optional<Finding> supplyUnsuitable(double supply_V, const PartFacts& part, const std::string& supply) {
    if (!(supply_V > 0) || !(part.supply_V.high > 0) || part.supply_V.contains(supply_V)) return std::nullopt;
    return Finding{Severity::Fault,
                   Stage::Wiring,
                   "supply-unsuitable",
                   fmt::format("{} does not suit {}", supply, part.id),
                   fmt::format("{} against the {} … {} of {}: another supply, or a level shifter between.",
                               volts(supply_V), plainNumber(part.supply_V.low, 4), volts(part.supply_V.high), part.id),
                   {}};
}

std::optional<Finding> pinLevel(double level_V, const Board& board, const std::string& what) {
    const bool isStated = board.pinsStand_V > 0;
    const double limit_V = isStated ? board.pinsStand_V : board.pin_V > 0 ? board.pin_V + kCommonlyAbove_V : 0;
    if (!(limit_V > 0) || level_V <= limit_V * (1 + 1e-9)) return std::nullopt;
    return Finding{
        isStated ? Severity::Fault : Severity::Doubt,
        Stage::Wiring,
        "board-pin",
        "The board's pin gets more than it stands",
        fmt::format("{} goes up to {}; {}. Pull it up to the board's own level, shift or divide it.", what,
                    volts(level_V),
                    isStated ? "the board's pins stand " + volts(limit_V)
                             : fmt::format("the board's pins work at {}, and inputs commonly stand no more than {}",
                                           volts(board.pin_V), volts(limit_V))),
        {}};
}

std::optional<Finding> cableTooLong(double cable_m, const PartFacts& part) {
    if (!(part.cableMax_m > 0) || cable_m <= part.cableMax_m) return std::nullopt;
    return Finding{Severity::Doubt,
                   Stage::Wiring,
                   "cable-too-long",
                   "The cable is longer than the part allows",
                   fmt::format("{} m against the {} m that {} is stated for.", plainNumber(cable_m, 4),
                               plainNumber(part.cableMax_m, 4), part.id),
                   {}};
}

std::optional<Finding> openDrain(const DevicePart& part, std::span<const FieldValue> settings) {
    if (part.openDrain.empty()) return std::nullopt;
    const auto alert = alertSettingOf(settings);
    if (!alert || !alert->isEnabled) return std::nullopt;
    return Finding{Severity::Hint,
                   Stage::Wiring,
                   "open-drain",
                   part.openDrain + " needs a pull-up",
                   fmt::format("{} of {} is an open-drain output: it pulls low by itself and goes high by a resistor "
                               "to the board's pin voltage only; {} is usual. The plan lists one.",
                               part.openDrain, part.id,
                               shortEngineering(kOpenDrainPullUp_ohm, Quantity::Resistance).joined()),
                   {}};
}

}  // namespace fg
