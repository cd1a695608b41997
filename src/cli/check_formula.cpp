#include "handover/digit_check.h"
#include "handover/formula_check.h"
#include "handover/gauge_code.h"
#include "inline_gauge.h"
#include "output.h"
#include "units/number_format.h"
#include "verbs.h"

#include <fmt/core.h>

namespace fg::cli {
namespace {

struct Options {
    std::string formula, gauge, arithmetic = "int32", unit, digits;
    double scale = 1;
    InlineGauge without;
    bool json = false;
};

Expected<LineInt> widthOf(const std::string& name) {
    if (name == "int16") return LineInt::Int16;
    if (name == "int32") return LineInt::Int32;
    if (name == "int64") return LineInt::Int64;
    return fail(ErrorCode::Unknown, "--arithmetic", "“" + name + "”", "int16, int32 or int64: what an int is there");
}

nlohmann::ordered_json errorJson(const CodeError& error, const Unit& unit) {
    return {{"worst", jsonNumber(error.worst)},
            {"mean", jsonNumber(error.mean)},
            {"at_code", error.atCode},
            {"unit", unit.id},
            {"codes", error.checked}};
}

std::string size(const Unit& unit, double value) {
    return significantDigits(value, 3) + " " + std::string(unit.symbol);
}

void print(const LineCheck& check, const std::vector<BetterLine>& better, const Options& options, const Unit& unit) {
    fmt::print("{}: worst {} at code {}, mean {}, over {} codes ({} to {})\n", plainLine(options.formula),
               size(unit, check.error.worst), check.error.atCode, size(unit, check.error.mean), check.error.checked,
               check.range.first, check.range.last);
    if (check.isOverflowing)
        fmt::print(
            "fault: {} overflows {} bits from code {} on, where it is {}. At code {} the line says {}, the gauge {}\n",
            check.overflow.overflow, check.overflow.overflowBits, check.overflowCode,
            plainNumber(check.overflow.overflowed, 12), check.shownCode, size(unit, check.shownValue),
            size(unit, check.shownReading));
    if (check.nones > 0) fmt::print("fault: it divides by 0 at {} codes\n", check.nones);
    fmt::print("  its constants cost {} (in real numbers), whole numbers up to {} more\n", size(unit, check.exactWorst),
               size(unit, check.cutWorst));
    for (const BetterLine& one : better)
        fmt::print("  better: {}{}: worst {} at code {}\n", one.text,
                   one.scale == 1 ? "" : fmt::format(" (times {})", plainNumber(one.scale)),
                   size(unit, one.error.worst), one.error.atCode);
}

void print(const DigitCheck& digits) {
    fmt::print("digits: {} of the numbers {} to {} are shown wrongly\n", digits.wrong, digits.low, digits.high);
    for (const DigitFault& one : digits.faults) fmt::print("fault: {}\n", one.text);
    for (const std::string& one : digits.notes) fmt::print("  to know: {}\n", one);
}

nlohmann::ordered_json digitsJson(const DigitCheck& digits) {
    nlohmann::ordered_json faults = nlohmann::ordered_json::array();
    for (const DigitFault& one : digits.faults)
        faults.push_back({{"place", one.place + 1}, {"value", one.value}, {"gives", one.gives}, {"text", one.text}});
    return {{"low", digits.low},
            {"high", digits.high},
            {"wrong", digits.wrong},
            {"faults", faults},
            {"notes", digits.notes}};
}

int run(const Options& options) {
    const auto gauge = openGauge(options.gauge, options.without);
    if (!gauge) return refuse(gauge.error());
    if (!gauge->analog())
        return refuse({ErrorCode::Unsupported, "sensor.part", "“" + gauge->spec().sensor.part + "”, which has none",
                       "a gauge with a converter"});
    const auto width = widthOf(options.arithmetic);
    if (!width) return refuse(width.error());
    if (!(options.scale > 0) || !std::isfinite(options.scale))
        return refuse({ErrorCode::Range, "--scale", plainNumber(options.scale), "a number above 0"});
    const auto unit =
        unitFromId(options.unit.empty() ? std::string(gauge->unit().id) : options.unit, gauge->spec().quantity);
    if (!unit) return refuse(unit.error().within("--unit"));
    const auto line = TypedLine::read(options.formula);
    if (!line) return refuse(line.error());
    const auto check = checkLine(*gauge, *line, *width, **unit, options.scale);
    if (!check) return refuse(check.error());
    const auto better = betterLines(*gauge, *line, *width, **unit, options.scale);
    DigitCheck digits;
    if (!options.digits.empty()) {
        const auto places = readDigits(options.digits);
        if (!places) return refuse(places.error().within("--digits"));
        const Interval span = gauge->spec().spanCanonical();
        const auto checked =
            checkDigits(*places, *width, {(*unit)->fromCanonical(span.low), (*unit)->fromCanonical(span.high)},
                        options.scale);
        if (!checked) return refuse(checked.error().within("--digits"));
        digits = *checked;
    }
    const bool isFault = check->isOverflowing || check->nones > 0 || !digits.isRight();
    if (!options.json) {
        print(*check, better, options, **unit);
        if (!options.digits.empty()) print(digits);
        return isFault ? kFault : kFine;
    }
    nlohmann::ordered_json json, list = nlohmann::ordered_json::array();
    json["formula"] = options.formula;
    json["arithmetic"] = options.arithmetic;
    json["scale"] = options.scale;
    json["error"] = errorJson(check->error, **unit);
    json["constants_cost"] = jsonNumber(check->exactWorst);
    json["integers_cost"] = jsonNumber(check->cutWorst);
    json["overflow"] = nullptr;
    if (check->isOverflowing)
        json["overflow"] = {{"code", check->overflowCode},
                            {"operation", check->overflow.overflow},
                            {"bits", check->overflow.overflowBits},
                            {"exact", jsonNumber(check->overflow.overflowed)},
                            {"shown_code", check->shownCode},
                            {"gives", jsonNumber(check->shownValue)},
                            {"reading", jsonNumber(check->shownReading)}};
    json["divides_by_zero"] = check->nones;
    for (const BetterLine& one : better)
        list.push_back({{"formula", one.text}, {"scale", one.scale}, {"error", errorJson(one.error, **unit)}});
    json["better"] = list;
    if (!options.digits.empty()) json["digits"] = digitsJson(digits);
    printJsonText(json);
    return isFault ? kFault : kFine;
}

}  // namespace

void addCheckFormula(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("check-formula", "A line of your own against the gauge, over every code");
    verb.required("formula", options->formula, "as it stands in your program: \"adc*61/128-40\"");
    addGaugeOptions(verb, options->gauge, options->without);
    verb.option("--arithmetic", options->arithmetic, "what an int is there: int16, int32 or int64");
    verb.option("--unit", options->unit, "unit of what the line gives");
    verb.option("--scale", options->scale, "what the line gives is the reading times this");
    verb.option("--digits", options->digits,
                "how the result is split for a display, one character each: \"t/100, t/10%10, t%10\"");
    verb.flag("--json", options->json, "as JSON");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
