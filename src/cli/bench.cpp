#include "output.h"
#include "recording/store.h"
#include "storage/bench_file.h"
#include "storage/salvage.h"
#include "verbs.h"

#include <fmt/core.h>

namespace fg::cli {
namespace {

int runCheck(const std::string& path, bool json) {
    const auto health = BenchFile::check(path);
    if (!health) return refuse(health.error());
    if (json) {
        auto problems = nlohmann::ordered_json::array();
        for (const Error& problem : health->problems) problems.push_back(problem.message());
        printJsonText(nlohmann::ordered_json{{"sound", health->isSound()},
                                             {"structure", health->structure},
                                             {"readable", health->readable},
                                             {"problems", problems}});
    } else {
        fmt::print("{}: {}, {} gauges can be read\n", plainLine(path), health->isSound() ? "in order" : "NOT in order",
                   health->readable);
        if (health->structure != "ok") fmt::print("  its pages: {}\n", plainLine(health->structure));
        for (const Error& problem : health->problems) fmt::print("  {}\n", plainLine(problem.message()));
    }
    return health->isSound() ? kFine : kFault;
}

int runSalvage(const std::string& path, const std::string& into, bool json) {
    const auto found = salvage(path);
    if (!found) return refuse(found.error());
    const auto file = BenchFile::create(into, found->bench);
    if (!file) return refuse(file.error());
    const std::vector<Error> unreadRecordings = salvageRecordings(path, (*file)->recordings());
    const auto recordings = (*file)->recordings().recordings();
    const std::size_t recordingCount = recordings ? recordings->size() : 0;
    auto names = nlohmann::ordered_json::array(), lost = nlohmann::ordered_json::array();
    for (const BenchGauge& gauge : found->bench.gauges) names.push_back(gauge.spec.name);
    for (const UnreadGauge& gauge : found->unread) lost.push_back({{"why", gauge.why.message()}, {"text", gauge.text}});
    for (const Error& error : unreadRecordings) lost.push_back({{"why", error.message()}, {"text", ""}});
    if (json) {
        printJsonText(nlohmann::ordered_json{
            {"into", into}, {"gauges", names}, {"recordings", recordingCount}, {"unreadable", lost}});
    } else {
        fmt::print("{}: {} gauges, {} recordings\n", plainLine(into), found->bench.gauges.size(), recordingCount);
        for (const BenchGauge& gauge : found->bench.gauges) fmt::print("  {}\n", plainLine(gauge.spec.name));
        for (const UnreadGauge& gauge : found->unread)
            fmt::print("not readable: {}\n  its text: {}\n", plainLine(gauge.why.message()), plainLine(gauge.text));
    }
    if (!json)
        for (const Error& error : unreadRecordings) fmt::print("not readable: {}\n", plainLine(error.message()));
    return lost.empty() ? kFine : kFault;
}

}  // namespace

void addBench(Verb& program) {
    Verb bench = program.verb("bench", "Look after a bench file").requireVerb();
    auto file = std::make_shared<std::string>(), into = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    Verb check = bench.verb("check", "Is a bench file in order? It is only read; exit code 1 when it is not");
    check.required("file", *file, "bench file");
    check.flag("--json", *json, "one JSON object instead of text");
    check.run([file, json] { return runCheck(*file, *json); });
    Verb rescue = bench.verb("salvage", "What can be read of a damaged bench file, into a new one");
    rescue.required("file", *file, "bench file; it stays as it is");
    rescue.required("--into", *into, "the new bench file");
    rescue.flag("--json", *json, "one JSON object instead of text");
    rescue.run([file, into, json] { return runSalvage(*file, *into, *json); });
}

}  // namespace fg::cli
