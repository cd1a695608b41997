#include "bench/gauge_json.h"
#include "inline_gauge.h"
#include "output.h"
#include "path/span_table.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>

namespace fg::cli {
namespace {

struct Options {
    std::string gauge, limit;
    double step = 0, scale = 100;
    bool falling = false, integers = false;
    InlineGauge without;
};

int printThreshold(const GaugeSpec& spec, const AnalogPath& path, const Options& options) {
    const Unit& unit = spec.readingUnit();
    const auto limit = readValue(options.limit, spec.quantity, &unit);
    if (!limit) return refuse(limit.error().within("--threshold"));
    fmt::print("{} {} is code {}, exactly\n", plainNumber(unit.fromCanonical(limit->canonical)), unit.symbol,
               plainNumber(path.exactCode(limit->canonical), 8));
    for (const bool early : {true, false}) {
        const auto threshold = thresholdFor(path, limit->canonical, !options.falling, early);
        if (!threshold) return refuse(threshold.error());
        fmt::print("  code {} {} (0x{:X}): never {}, switches at {} {}\n", threshold->atLeast ? ">=" : "<=", threshold->code,
                   path.converter().wordOfCode(threshold->code), early ? "late" : "early",
                   plainNumber(unit.fromCanonical(threshold->value), 7), unit.symbol);
    }
    return kFine;
}

int printIntegers(const GaugeSpec& spec, const AnalogPath& path, const Options& options) {
    const auto constants = integerConstants(spec, path, options.scale);
    if (!constants)
        return refuse({ErrorCode::Unsupported, "--integers", "a path that is not a straight line, or a scale too fine for 32 bits",
                       "a straight path; for a curved one take the table"});
    fmt::print(
        "reading x {} = (code * {} + {}) >> {}\n  32-bit signed, no overflow from code {} to {}; at most {} {} from the exact formula\n",
        plainNumber(options.scale), constants->multiplier, constants->addend, constants->shift, path.converter().minCode(),
        path.converter().maxCode(), significantDigits(constants->worstError, 2), spec.readingUnit().symbol);
    return kFine;
}

int run(const Options& options) {
    if (options.gauge.empty() == options.without.part.empty()) return refuseUsage("give either --gauge FILE or --part ID");
    const auto spec = options.gauge.empty() ? gaugeWithoutFile(options.without, catalogue()) : readGaugeFile(options.gauge);
    if (!spec) return refuse(spec.error());
    const auto path = AnalogPath::build(*spec, catalogue());
    if (!path) return refuse(path.error());
    if (!options.limit.empty()) return printThreshold(*spec, *path, options);
    if (options.integers) return printIntegers(*spec, *path, options);
    const auto rows = spanTable(*spec, *path, options.step > 0 ? options.step : spec->reading.span.width() / 20);
    if (!rows) return refuse(rows.error());
    fmt::print("{}", spanTableCsv(*spec, *path, *rows));
    return kFine;
}

}  // namespace

void addTable(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("table", "Codes over the span as CSV; the code of a limit; integer constants");
    verb.option("--gauge", options->gauge, "gauge file (JSON)");
    verb.option("--part", options->without.part, "a catalogue part instead of a gauge file");
    verb.option("--adc", options->without.converter, "its converter, as in convert");
    verb.option("--wiring", options->without.wiring, "its wiring, as in convert");
    verb.option("--sensor", options->without.sensor, "what the part leaves open, as in convert");
    verb.option("--step", options->step, "between rows, in the reading's unit; nothing: a twentieth of the span");
    verb.option("--threshold", options->limit, "a limit, \"45 °C\": the codes to compare with, and where they really switch");
    verb.flag("--falling", options->falling, "the limit is reached from above");
    verb.flag("--integers", options->integers, "multiplier, addend and shift for a straight path");
    verb.option("--scale", options->scale, "the integer result is the reading times this");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
