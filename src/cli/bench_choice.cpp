#include "bench_choice.h"

#include "bench/gauge_json.h"
#include "output.h"
#include "storage/bench_file.h"

namespace fg::cli {

Expected<Bench> benchOf(const std::string& bench, const std::vector<std::string>& gauges) {
    Bench all;
    if (!bench.empty()) {
        auto stored = BenchFile::look(bench);
        if (!stored) return tl::unexpected(stored.error());
        warnOfUnread(*stored);
        all = std::move(stored->bench);
    }
    for (const std::string& path : gauges) {
        auto spec = readGaugeFile(path);
        if (!spec) return tl::unexpected(spec.error());
        all.add(std::move(*spec));
    }
    return all;
}

}  // namespace fg::cli
