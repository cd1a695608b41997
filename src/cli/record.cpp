#include "calibration/record.h"
#include "bench/gauge_json.h"
#include "files/output_file.h"
#include "output.h"
#include "verbs.h"

#include <fmt/core.h>

namespace fg::cli {
namespace {

struct Options {
    std::string gauge, out;
};

int run(const Options& options) {
    const auto spec = readGaugeFile(options.gauge);
    if (!spec) return refuse(spec.error());
    const auto paper = calibrationRecord(*spec, catalogue());
    if (!paper) return refuse(paper.error().within(options.gauge));
    const bool isHtml = options.out.ends_with(".html") || options.out.ends_with(".htm");
    const std::string text = isHtml ? htmlOf(*paper) : markdownOf(*paper);
    if (options.out.empty() || options.out == "-") {
        fmt::print("{}", text);
        return kFine;
    }
    auto out = OutputFile::open(options.out);
    if (!out) return refuse(out.error());
    (*out)->write(text);
    if (const auto done = (*out)->commit(); !done) return refuse(done.error());
    return kFine;
}

}  // namespace

void addRecord(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("record", "The calibration of a gauge as a paper, Markdown or HTML");
    verb.required("--gauge", options->gauge, "gauge file (JSON)");
    verb.option("--out", options->out, "where it goes: .md or .html; - or nothing is stdout, as Markdown");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
