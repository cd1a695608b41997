// Thermistor path over 10 million random 12-bit codes: against a loop that only widens, and against the same formula
// written by hand. Each pair is measured in turn in one run; the last lines are the ratios.

#include "bench/gauge_json.h"
#include "path/analog_path.h"

#include <benchmark/benchmark.h>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstring>
#include <random>

namespace {

using namespace fg;

constexpr std::size_t kCodes = 10'000'000;

struct Work {
    std::vector<std::uint16_t> codes;
    std::vector<double> out;
    std::optional<AnalogPath> path;
    std::vector<double> table;

    Work() : codes(kCodes), out(kCodes) {
        std::mt19937 random(1);
        for (auto& code : codes) code = static_cast<std::uint16_t>(1 + random() % 4094);
        const Catalogue catalogue = Catalogue::read(Catalogue::standardFolders());
        const auto spec = readGaugeFile((Catalogue::standardFolders().front() / "demo/glue-pot.json").string());
        path = AnalogPath::build(spec.value(), catalogue).value();
        table = path->table();
    }
};

Work& work() {
    static Work shared;
    return shared;
}

void widen() {
    Work& w = work();
    for (std::size_t i = 0; i < kCodes; ++i) w.out[i] = w.codes[i];
    benchmark::DoNotOptimize(w.out.data());
    benchmark::ClobberMemory();
}

void byTable() {
    Work& w = work();
    const double* table = w.table.data();
    for (std::size_t i = 0; i < kCodes; ++i) w.out[i] = table[w.codes[i]];
    benchmark::DoNotOptimize(w.out.data());
    benchmark::ClobberMemory();
}

void byFormula() {
    Work& w = work();
    w.path->readings(w.codes, w.out);
    benchmark::DoNotOptimize(w.out.data());
    benchmark::ClobberMemory();
}

void byHand() {
    Work& w = work();
    const double reference = 3.3, fixed = 2200, r25 = 10000, beta = 3950, inverseT0 = 1 / 298.15;
    for (std::size_t i = 0; i < kCodes; ++i) {
        const double voltage = w.codes[i] * (reference / 4096);
        const double resistance = fixed * voltage / (reference - voltage);
        w.out[i] = 1 / (inverseT0 + std::log(resistance / r25) / beta) - 273.15;
    }
    benchmark::DoNotOptimize(w.out.data());
    benchmark::ClobberMemory();
}

template <void (*loop)()>
void run(benchmark::State& state) {
    for (auto _ : state) loop();
    state.SetItemsProcessed(static_cast<int64_t>(state.iterations() * kCodes));
}
BENCHMARK(run<widen>)->Name("widen")->Unit(benchmark::kMillisecond);
BENCHMARK(run<byTable>)->Name("table")->Unit(benchmark::kMillisecond);
BENCHMARK(run<byFormula>)->Name("formula")->Unit(benchmark::kMillisecond);
BENCHMARK(run<byHand>)->Name("hand-written formula")->Unit(benchmark::kMillisecond);

/// Median ratio of two loops run in turn, so that what else the machine does falls on both.
double ratio(void (*a)(), void (*b)(), int rounds) {
    const auto time = [](void (*loop)()) {
        const auto begin = std::chrono::steady_clock::now();
        loop();
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
    };
    std::vector<double> ratios;
    for (int i = 0; i < rounds; ++i) {
        const double of = time(a);
        ratios.push_back(of / time(b));
    }
    std::nth_element(ratios.begin(), ratios.begin() + rounds / 2, ratios.end());
    return ratios[static_cast<std::size_t>(rounds / 2)];
}

bool bitEqual() {
    byTable();
    const std::vector<double> table = work().out;
    byFormula();
    return std::memcmp(table.data(), work().out.data(), kCodes * sizeof(double)) == 0;
}

}  // namespace

int main(int argc, char** argv) {
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    std::printf("ratio  table / widen                 %5.2f   (wanted: at most 2)\n", ratio(byTable, widen, 15));
    std::printf("ratio  formula / hand-written        %5.2f   (wanted: at most 1.2)\n", ratio(byFormula, byHand, 7));
    std::printf("table and formula bit-equal          %s\n", bitEqual() ? "yes" : "NO");
    return 0;
}
