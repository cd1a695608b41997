// A second process for storage_test: opens a bench, looks at it (its exit code is how many gauges there are), or writes
// to it until it is killed.

#include "storage/bench_file.h"

#include <unistd.h>
#include <cstring>

int main(int argc, char** argv) {
    if (argc != 3) return 98;
    if (std::strcmp(argv[1], "look") == 0) {
        const auto bench = fg::BenchFile::look(argv[2]);
        return bench ? static_cast<int>(bench->bench.gauges.size()) : 95;
    }
    auto file = fg::BenchFile::open(argv[2]);
    if (!file) return static_cast<int>(file.error().code) + 1;
    if (std::strcmp(argv[1], "open") == 0) return 0;
    fg::Bench bench = (*file)->read().value();
    for (int number = 1;; ++number) {
        fg::Bench after = bench;
        fg::GaugeSpec spec;
        spec.name = "Gauge " + std::to_string(number);
        spec.sensor.part = "tmp36";
        after.add(spec);
        if (!(*file)->write(bench, after)) return 97;
        bench = after;
        if (::write(STDOUT_FILENO, ".", 1) != 1) return 96;
    }
}
