#include "planning/pull_up.h"

#include "planning/cable.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace fg {
namespace {

constexpr double kDevice_F = 10e-12, kBoard_F = 20e-12;

struct LineRule {
    LineKind kind;
    const char* name;
    double rise_s;
    double sink_A;
};
// 0.8473 = ln(0.7/0.3): from 30 % to 70 % of the supply.
constexpr std::array kRules{LineRule{LineKind::I2cStandard, "100k", 1000e-9, 3e-3},
                            LineRule{LineKind::I2cFast, "400k", 300e-9, 3e-3},
                            LineRule{LineKind::I2cFastPlus, "1M", 120e-9, 20e-3},
                            LineRule{LineKind::OneWire, "1-wire", 10e-6, 4e-3},
                            LineRule{LineKind::SingleBus, "single-bus", 5.2e-6, 4e-3}};

const LineRule& ruleOf(LineKind kind) {
    return *std::find_if(kRules.begin(), kRules.end(), [&](const LineRule& rule) { return rule.kind == kind; });
}

bool isI2c(LineKind kind) { return kind != LineKind::OneWire && kind != LineKind::SingleBus; }

/// Time constants until the line counts as high.
double constantsToHigh(const PullUpQuestion& question) {
    if (isI2c(question.kind)) return std::log(0.7 / 0.3);
    const double high_V = question.kind == LineKind::OneWire ? 2.2 : 0.7 * question.supply_V;
    return std::log(question.supply_V / (question.supply_V - high_V));
}

std::string ohms(double value) { return engineering(value, Quantity::Resistance, 3).joined(); }

Expected<void> check(const PullUpQuestion& question) {
    const double least_V = question.kind == LineKind::OneWire ? 2.8 : 1.0;
    if (!(question.supply_V >= least_V && question.supply_V <= 5.5))
        return fail(ErrorCode::Range, "supply", plainNumber(question.supply_V) + " V",
                    plainNumber(least_V) + " to 5.5 V");
    if (!(question.cable_m >= 0 && question.cable_m <= 500))
        return fail(ErrorCode::Range, "cable", plainNumber(question.cable_m) + " m", "0 to 500 m");
    if (question.devices < 0 || question.devices > 128)
        return fail(ErrorCode::Range, "devices", std::to_string(question.devices), "0 to 128");
    if (question.capacitance_F && !(*question.capacitance_F > 0 && *question.capacitance_F < 1e-6))
        return fail(ErrorCode::Range, "capacitance", plainNumber(*question.capacitance_F) + " F",
                    "above 0 and below 1 µF");
    for (const double ohm : question.modules_ohm)
        if (!(ohm > 0)) return fail(ErrorCode::Range, "module", plainNumber(ohm) + " Ω", "a resistance above 0 Ω");
    if (question.own_ohm && !(*question.own_ohm > 0))
        return fail(ErrorCode::Range, "pullup", plainNumber(*question.own_ohm) + " Ω", "a resistance above 0 Ω");
    return {};
}

/// The standard resistor beside the modules' that comes nearest to the middle of the window.
std::optional<double> recommend(const PullUpQuestion& question, const PullUpAnswer& answer) {
    // In the middle of an I²C window; the others' data sheets draw 4.7 kΩ, which is taken where it fits.
    constexpr double kDrawn_ohm = 4700;
    const bool isI2c = question.kind != LineKind::OneWire && question.kind != LineKind::SingleBus;
    const double middle = isI2c ? std::sqrt(answer.least_ohm * answer.most_ohm)
                                : std::clamp(kDrawn_ohm, answer.least_ohm, std::max(answer.least_ohm, answer.most_ohm));
    std::optional<double> best;
    double bestDistance = std::numeric_limits<double>::infinity();
    for (const double ohm : preferredValues(question.series, {10, 1e6})) {
        const double total = answer.modules_ohm > 0 ? ohm * answer.modules_ohm / (ohm + answer.modules_ohm) : ohm;
        const double distance = std::abs(std::log(total / middle));
        if (total >= answer.least_ohm && total <= answer.most_ohm && distance < bestDistance) {
            best = ohm;
            bestDistance = distance;
        }
    }
    return best;
}

void judge(const PullUpQuestion& question, PullUpAnswer& answer) {
    const std::string window = fmt::format("{} to {} fit", ohms(answer.least_ohm), ohms(answer.most_ohm));
    const std::string take = answer.recommended_ohm
                                 ? " Take " + shortEngineering(*answer.recommended_ohm, Quantity::Resistance).joined() +
                                       (answer.modules_ohm > 0 ? " beside the modules'." : ".")
                                 : "";
    if (answer.least_ohm <= answer.most_ohm) answer.advice = window + "." + take;
    if (answer.least_ohm > answer.most_ohm) {
        answer.fault = LineFault::NoWindow;
        answer.text = fmt::format(
            "No resistor does it: the rise time allows {} at most, the sink current {} at least. A slower bus, less "
            "capacitance ({}) or a "
            "buffer.",
            ohms(answer.most_ohm), ohms(answer.least_ohm),
            engineering(answer.capacitance_F, Quantity::Capacitance, 3).joined());
    } else if (question.tiedToGround) {
        answer.fault = LineFault::ToGround;
        answer.text =
            "The resistors go to ground: the line never rises. They belong between the line and the supply; " +
            answer.advice;
    } else if (answer.total_ohm == 0) {
        answer.fault = question.own_ohm || question.modules_ohm.empty() ? LineFault::Missing : LineFault::None;
        answer.text = "There is no pull-up: an open-drain line needs one to go high. " + answer.advice;
    } else if (answer.total_ohm < answer.least_ohm) {
        answer.fault = LineFault::TooStrong;
        answer.text =
            fmt::format("{} together is too strong: pulled low it carries {}, a device must only sink {}. {}.{}",
                        ohms(answer.total_ohm), engineering(answer.sink_A, Quantity::Current, 3).joined(),
                        engineering(answer.sinkLimit_A, Quantity::Current, 3).joined(), window,
                        answer.modules_ohm > 0 && answer.modules_ohm < answer.least_ohm
                            ? " Take some modules' own pull-ups off."
                            : "");
    } else if (answer.total_ohm > answer.most_ohm) {
        answer.fault = LineFault::TooWeak;
        answer.text =
            fmt::format("{} together is too weak for {}: the line takes {} to rise, {} is allowed. {}.{}",
                        ohms(answer.total_ohm), engineering(answer.capacitance_F, Quantity::Capacitance, 3).joined(),
                        engineering(answer.rise_s, Quantity::Time, 3).joined(),
                        engineering(answer.riseLimit_s, Quantity::Time, 3).joined(), window, take);
    } else {
        answer.text = fmt::format("{} together does it: rises in {} of {}, sinks {} of {}.", ohms(answer.total_ohm),
                                  engineering(answer.rise_s, Quantity::Time, 3).joined(),
                                  engineering(answer.riseLimit_s, Quantity::Time, 3).joined(),
                                  engineering(answer.sink_A, Quantity::Current, 3).joined(),
                                  engineering(answer.sinkLimit_A, Quantity::Current, 3).joined());
    }
}

}  // namespace

std::optional<LineKind> lineKindFromName(const std::string& name) {
    for (const LineRule& rule : kRules)
        if (name == rule.name) return rule.kind;
    return std::nullopt;
}

std::string lineKindName(LineKind kind) { return ruleOf(kind).name; }

bool saysPullUp(const Parameters& wiring) { return wiring.has("pullup_ohm") || wiring.has("modules"); }

PullUpQuestion questionOf(const Parameters& wiring, const std::string& interface, std::size_t onBus) {
    PullUpQuestion question;
    question.kind = interface == "1-wire" ? LineKind::OneWire
                    : interface == "single-bus"
                        ? LineKind::SingleBus
                        : lineKindFromName(wiring.textOr("speed", "400k")).value_or(LineKind::I2cFast);
    question.supply_V = wiring.numberOr("supply_V", 3.3);
    question.cable_m = wiring.numberOr("cable_m", 0);
    question.devices = static_cast<int>(
        std::clamp(wiring.numberOr("devices", static_cast<double>(std::max<std::size_t>(onBus, 1))), 0.0, 1000.0));
    if (const double capacitance = wiring.numberOr("capacitance_F", 0); capacitance > 0)
        question.capacitance_F = capacitance;
    question.modules_ohm.assign(static_cast<std::size_t>(std::clamp(wiring.numberOr("modules", 0), 0.0, 64.0)),
                                wiring.numberOr("module_ohm", 10000));
    if (const double own = wiring.numberOr("pullup_ohm", 0); own > 0) question.own_ohm = own;
    question.tiedToGround = wiring.textOr("pullups_to", "supply") == "ground";
    return question;
}

Expected<PullUpAnswer> sizePullUp(const PullUpQuestion& question) {
    if (const auto fine = check(question); !fine) return tl::unexpected(fine.error());
    const LineRule& rule = ruleOf(question.kind);
    PullUpAnswer answer;
    answer.estimated = !question.capacitance_F;
    answer.capacitance_F =
        question.capacitance_F.value_or(kBoard_F + question.devices * kDevice_F + question.cable_m * kCable_F_per_m);
    const bool isLow = isI2c(question.kind) && question.supply_V <= 2;
    const double low_V = isLow ? 0.2 * question.supply_V : 0.4;
    answer.sinkLimit_A = isLow && question.kind != LineKind::I2cFastPlus ? 2e-3 : rule.sink_A;
    answer.riseLimit_s = rule.rise_s;
    answer.least_ohm = (question.supply_V - low_V) / answer.sinkLimit_A;
    answer.most_ohm = rule.rise_s / (constantsToHigh(question) * answer.capacitance_F);
    double conductance = 0;
    for (const double ohm : question.modules_ohm) conductance += 1 / ohm;
    answer.modules_ohm = conductance > 0 ? 1 / conductance : 0;
    if (question.own_ohm) conductance += 1 / *question.own_ohm;
    answer.total_ohm = conductance > 0 ? 1 / conductance : 0;
    if (answer.total_ohm > 0) {
        answer.rise_s = constantsToHigh(question) * answer.total_ohm * answer.capacitance_F;
        answer.sink_A = (question.supply_V - low_V) / answer.total_ohm;
    }
    answer.recommended_ohm = recommend(question, answer);
    judge(question, answer);
    return answer;
}

}  // namespace fg
