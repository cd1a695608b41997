#include "inline_gauge.h"
#include "output.h"
#include "path/span_table.h"
#include "path/threshold.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>
#include <cmath>

namespace fg::cli {
namespace {

struct Options {
    std::string gauge, limit, deadBand;
    double step = 0, scale = 100;
    bool falling = false, integers = false;
    InlineGauge without;
};

std::string valueText(const Unit& unit, double canonical, int digits) {
    return plainNumber(unit.fromCanonical(canonical), digits) + " " + std::string(unit.symbol);
}

void printSwitch(const Gauge& gauge, const Threshold& threshold, const std::string& what) {
    fmt::print("  {}, or {} (0x{:X}): {}, switches at {}\n", threshold.text(), threshold.strictText(),
               gauge.analog()->converter().wordOfCode(threshold.code), what,
               valueText(gauge.unit(), threshold.edge, 6));
}

int printThreshold(const Gauge& gauge, const Options& options) {
    const AnalogPath& path = *gauge.analog();
    const Unit& unit = gauge.unit();
    const auto limit = readValue(options.limit, gauge.spec().quantity, &unit);
    if (!limit) return refuse(limit.error().within("--threshold"));
    fmt::print("{} is code {}, exactly; code k is the cell from k − ½ to k + ½\n",
               valueText(unit, limit->canonical, 10), plainNumber(path.exactCode(limit->canonical), 8));
    if (options.deadBand.empty()) {
        for (const auto promptness : {Promptness::NeverLate, Promptness::NeverEarly}) {
            const auto threshold = thresholdFor(path, limit->canonical, !options.falling, promptness);
            if (!threshold) return refuse(threshold.error());
            printSwitch(gauge, *threshold, promptness == Promptness::NeverLate ? "never late" : "never early");
        }
        fmt::print(
            "  >= and > with one code apart are the same comparison; a > and a < on one constant leave that code "
            "without either\n");
        return kFine;
    }
    const auto band = readDifference(options.deadBand, gauge.spec().quantity, &unit);
    if (!band) return refuse(band.error().within("--dead-band"));
    const auto pair = thresholdPair(path, limit->canonical, *band, !options.falling);
    if (!pair) return refuse(pair.error());
    printSwitch(gauge, pair->on, "on");
    printSwitch(gauge, pair->off, "off again");
    fmt::print("  {} code{} between them change{} nothing: the state stays as it was\n", pair->between,
               pair->between == 1 ? "" : "s", pair->between == 1 ? "s" : "");
    return kFine;
}

/// The bytes that a digital part sends over the span.
int printBytes(const Gauge& gauge, double step) {
    const Interval span = gauge.spec().reading.span;
    const auto values = spanValues(span, step);
    if (!values) return refuse(values.error());
    const std::string unit = gauge.spec().reading.unit;
    fmt::print("value_{},bytes,bytes_value_{},limit\r\n", unit, unit);
    for (const double value : *values) {
        const auto evaluation = gauge.evaluate({Stage::World, gauge.unit().toCanonical(value)});
        if (!evaluation) {
            fmt::print("{:.10g},,,no value\r\n", value);
            continue;
        }
        const StageValue& reading = evaluation->at(Stage::Reading);
        fmt::print("{:.10g},{},{:.8g},{}\r\n", value, evaluation->at(Stage::Converter).text,
                   gauge.unit().fromCanonical(reading.value), clipText(reading.clip));
    }
    return kFine;
}

int printIntegers(const Gauge& gauge, const Options& options) {
    const GaugeSpec& spec = gauge.spec();
    const AnalogPath& path = *gauge.analog();
    const auto constants = integerConstants(spec, path, options.scale);
    if (!constants)
        return refuse({ErrorCode::Unsupported, "--integers",
                       "a path that is not a straight line, or a scale too fine for 32 bits",
                       "a straight path; for a curved one take the table"});
    fmt::print(
        "reading x {} = (code * {} + {}) >> {}\n  32-bit signed, no overflow from code {} to {}; at most {} {} from "
        "the exact formula\n",
        plainNumber(options.scale), constants->multiplier, constants->addend, constants->shift,
        path.converter().minCode(), path.converter().maxCode(), significantDigits(constants->worstError, 2),
        spec.readingUnit().symbol);
    return kFine;
}

int run(const Options& options) {
    const auto gauge = openGauge(options.gauge, options.without);
    if (!gauge) return refuse(gauge.error());
    if (!std::isfinite(options.step) || options.step < 0)
        return refuse({ErrorCode::Range, "--step", plainNumber(options.step), "a step above 0"});
    const double step = options.step > 0 ? options.step : gauge->spec().reading.span.width() / 20;
    if (!gauge->analog() && !gauge->digital())
        return refuse({ErrorCode::Unsupported, "--gauge", gauge->spec().sensor.part,
                       "a gauge with a sensor of its own: codes or bytes are what the table lists"});
    if (gauge->digital()) {
        if (options.limit.empty() && !options.integers) return printBytes(*gauge, step);
        return refuse({ErrorCode::Unsupported, options.integers ? "--integers" : "--threshold",
                       gauge->spec().sensor.part,
                       "an analog gauge: a digital part gives its value itself; its limits stand in its registers "
                       "(fgauge registers)"});
    }
    if (!options.limit.empty()) return printThreshold(*gauge, options);
    if (options.integers) return printIntegers(*gauge, options);
    const auto rows = spanTable(gauge->spec(), *gauge->analog(), step);
    if (!rows) return refuse(rows.error());
    fmt::print("{}", spanTableCsv(gauge->spec(), *gauge->analog(), *rows));
    return kFine;
}

}  // namespace

void addTable(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("table", "Codes over the span as CSV; the code of a limit; integer constants");
    addGaugeOptions(verb, options->gauge, options->without);
    verb.option("--step", options->step, "between rows, in the reading's unit; nothing: a twentieth of the span");
    verb.option("--threshold", options->limit,
                "a limit, \"45 °C\": the codes to compare with, and where they really switch");
    verb.option("--unit", options->without.unit, "unit of the reading, as in convert");
    verb.option("--dead-band", options->deadBand,
                "with --threshold: on at the limit, off again this far back, \"2 °C\"");
    verb.flag("--falling", options->falling, "the limit is reached from above");
    verb.flag("--integers", options->integers, "multiplier, addend and shift for a straight path");
    verb.option("--scale", options->scale, "the integer result is the reading times this");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
