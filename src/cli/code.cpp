#include "handover/code_set.h"
#include "inline_gauge.h"
#include "output.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "verbs.h"

#include <fmt/core.h>
#include <fmt/format.h>
#include <cmath>

namespace fg::cli {
namespace {

struct Options {
    std::string gauge, language = "c", arithmetic = "float", maxError, unit, form = "function", out;
    InlineGauge without;
    bool json = false;
};

Expected<CodeWish> wishOf(const Options& options, const Gauge& gauge) {
    CodeWish wish;
    const auto language = codeLanguageFromName(options.language);
    if (!language) return tl::unexpected(language.error());
    const auto arithmetic = arithmeticFromName(options.arithmetic);
    if (!arithmetic) return tl::unexpected(arithmetic.error());
    const auto shape = codeShapeFromName(options.form);
    if (!shape) return tl::unexpected(shape.error());
    wish.language = *language;
    wish.arithmetic = *arithmetic;
    wish.shape = *shape;
    wish.unit = options.unit;
    if (options.maxError.empty()) return wish;
    const Unit* unit = &gauge.unit();
    if (!options.unit.empty())
        if (const auto named = unitFromId(options.unit, gauge.spec().quantity)) unit = *named;
    const auto error = readDifference(options.maxError, gauge.spec().quantity, unit);
    if (!error) return tl::unexpected(error.error().within("--max-error"));
    if (!(*error > 0)) return fail(ErrorCode::Range, "--max-error", "“" + options.maxError + "”", "an error above 0");
    wish.wantedError = *error;
    return wish;
}

nlohmann::ordered_json jsonOf(const GaugeCode& code, const Options& options) {
    nlohmann::ordered_json json, takes = nlohmann::ordered_json::array(), status,
                                 files = nlohmann::ordered_json::array();
    for (const CodeFile& file : code.files) files.push_back(file.name);
    for (const CodeParameter& one : code.takes) {
        takes.push_back({{"name", one.name}, {"type", one.type}, {"block", one.block}, {"bytes", one.bytes}});
        if (!one.unit.empty()) {
            takes.back()["unit"] = one.unit;
            takes.back()["scale"] = one.scale;
        }
    }
    for (const CodeStatus& one : codeStatuses()) status[std::string(one.id)] = one.number;
    json["files"] = files;
    json["entry"] = {{"header", code.header},       {"function", code.function}, {"takes", takes},
                     {"gives", code.gives},         {"unit", code.unit->id},     {"scale", code.scale},
                     {"signature", code.signature}, {"status", status}};
    json["error"] = {{"worst", jsonNumber(code.error.worst)}, {"mean", jsonNumber(code.error.mean)},
                     {"at_code", code.error.atCode},          {"unit", code.unit->id},
                     {"wanted", jsonNumber(code.wanted)},     {"codes", code.error.checked}};
    if (!code.atFrame.empty()) {
        json["error"]["at_code"] = nullptr;
        json["error"]["at_frame"] = code.atFrame;
    }
    if (code.atFrame.empty()) json["range"] = {{"first", code.range.first}, {"last", code.range.last}};
    json["method"] = code.method;
    json["entries"] = code.form && code.form->kind == IntegerForm::Kind::Table
                          ? nlohmann::ordered_json(code.form->numbers.size())
                          : nlohmann::ordered_json(0);
    json["bytes"] = code.bytes;
    json["memory_bytes"] = code.memory;
    json["operations"] = code.operations;
    json["headroom_bits"] = code.headroom() ? jsonNumber(std::log2(*code.headroom())) : nlohmann::ordered_json();
    json["findings"] = findingsJson(code.findings);
    if (options.out.empty())
        for (const CodeFile& file : code.files) json["texts"][file.name] = file.text;
    return json;
}

void printResult(const GaugeCode& code) {
    const std::string symbol(code.unit->symbol);
    fmt::print(stderr, "{}: {}, {}\n", code.function, code.signature, code.method);
    const std::string where =
        code.atFrame.empty()
            ? fmt::format("at code {}, mean {}, over {} codes ({} to {})", code.error.atCode,
                          significantDigits(code.error.mean, 3), code.error.checked, code.range.first, code.range.last)
            : fmt::format("for {}, mean {}, over {} {}", code.atFrame, significantDigits(code.error.mean, 3),
                          code.error.checked, code.checkedOver);
    fmt::print(stderr, "worst error {} {} {}; wanted {} {}: {}\n", significantDigits(code.error.worst, 3), symbol,
               where, plainNumber(code.wanted, 6), symbol, code.holds() ? "held" : "not held");
    fmt::print(stderr, "{} bytes of constants, about {} operations", code.bytes, code.operations);
    if (code.memory > 0) fmt::print(stderr, ", {} bytes of variables", code.memory);
    if (code.headroom()) fmt::print(stderr, ", headroom {:.2f} x", *code.headroom());
    fmt::print(stderr, "\n");
    for (const Finding& one : code.findings)
        fmt::print(stderr, "{}: {}. {}\n", severityName(one.severity), one.title, one.detail);
}

int run(const Options& options) {
    const auto gauge = openGauge(options.gauge, options.without);
    if (!gauge) return refuse(gauge.error());
    const auto wish = wishOf(options, *gauge);
    if (!wish) return refuse(wish.error());
    const auto code = writeCode(*gauge, *wish);
    if (!code) return refuse(code.error());
    if (!options.out.empty())
        if (const auto done = writeCodeFolder(*gauge, *code, options.out); !done)
            return refuse(done.error().within("--out"));
    if (options.json) {
        printJsonText(jsonOf(*code, options));
    } else {
        if (options.out.empty())
            for (const CodeFile& file : code->files) fmt::print("{}", file.text);
        printResult(*code);
    }
    return code->holds() ? kFine : kFault;
}

}  // namespace

void addCode(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("code", "The gauge as C or MicroPython, run against the gauge before it is shown");
    addGaugeOptions(verb, options->gauge, options->without);
    verb.option("--language", options->language, "c or micropython");
    verb.option("--arithmetic", options->arithmetic, "float, double, int16, int32, int64 or table");
    verb.option("--max-error", options->maxError, "the error wanted of the arithmetic, \"0.1 °C\"");
    verb.option("--unit", options->unit, "unit of the result: degF, kPa …");
    verb.option("--form", options->form, "function, or program with a reading loop");
    verb.option("--out", options->out, "folder for the files; nothing: they are printed");
    verb.flag("--json", options->json, "what a program needs to compile and call the code");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
