#include "output.h"
#include "reports/bench_papers.h"
#include "storage/bench_file.h"
#include "verbs.h"

#include <fmt/core.h>
#include <filesystem>

namespace fg::cli {
namespace {

struct Options {
    std::string bench, out;
};

int run(const Options& options) {
    const auto stored = BenchFile::look(options.bench);
    if (!stored) return refuse(stored.error());
    warnOfUnread(*stored);
    const std::string name = std::filesystem::path(options.bench).stem().string();
    const auto written = writePapers(stored->bench, catalogue(), name, options.out);
    if (!written) return refuse(written.error().within("--out"));
    for (const std::string& file : *written) fmt::print("{}\n", plainLine(file));
    return kFine;
}

}  // namespace

void addPaper(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("paper", "The bench on paper: bench sheet, gauge sheets, calibration records");
    verb.required("--bench", options->bench, "bench file");
    verb.required("--out", options->out, "folder for the papers, as HTML and Markdown");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
