#include "bench_choice.h"
#include "handover/code_set.h"
#include "output.h"
#include "reports/bench_sender.h"
#include "verbs.h"

#include <fmt/core.h>
#include <filesystem>

namespace fg::cli {
namespace {

struct Options {
    std::string bench, language = "c", out;
    std::vector<std::string> gauges;
};

int run(const Options& options) {
    const auto language = codeLanguageFromName(options.language);
    if (!language) return refuse(language.error());
    const auto bench = benchOf(options.bench, options.gauges);
    if (!bench) return refuse(bench.error());
    const std::string name = !options.bench.empty()      ? std::filesystem::path(options.bench).stem().string()
                             : bench->gauges.size() == 1 ? bench->gauges.front().spec.name
                                                         : "bench";
    const auto sender = benchSender(*bench, catalogue(), name, *language);
    if (!sender) return refuse(sender.error());
    if (options.out.empty()) {
        fmt::print("{}", sender->file.text);
    } else {
        if (const auto done = writeCodeFiles({sender->file}, options.out); !done)
            return refuse(done.error().within("--out"));
        fmt::print("{}\n", plainLine(sender->file.name));
    }
    for (const std::string& note : sender->notes) fmt::print(stderr, "to know: {}\n", plainLine(note));
    return kFine;
}

}  // namespace

void addSender(Verb& program) {
    auto options = std::make_shared<Options>();
    Verb verb = program.verb("sender", "A program for the board that sends the raw values of gauges, to be read live");
    verb.option("--bench", options->bench, "bench file: all of its gauges");
    verb.option("--gauge", options->gauges, "gauge file (JSON); several with the option repeated");
    verb.option("--language", options->language, "c or micropython");
    verb.option("--out", options->out, "folder for the file; nothing: it is printed");
    verb.run([options] { return run(*options); });
}

}  // namespace fg::cli
