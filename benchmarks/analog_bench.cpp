// Every part of the catalogue by table against a loop that only widens its codes; a million Monte Carlo draws against
// the standard library's generator for those draws alone; the slowest solver against one pass over all E96 pairs of six
// decades. Ratios of one run.

#include "bench/gauge_json.h"
#include "path/default_gauge.h"
#include "ratio.h"
#include "sizing/sensor_divider.h"
#include "sizing/solver.h"
#include "uncertainty/monte_carlo.h"

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <functional>
#include <map>
#include <random>

namespace {

using namespace fg;
using fg::bench::ratio;
using fg::bench::seconds;

volatile double sink = 0;

void tables(const Catalogue& catalogue) {
    constexpr std::size_t kCodes = 4'000'000;
    std::vector<double> out(kCodes);
    std::map<std::string, double> byFamily;
    for (const Part& part : catalogue.parts()) {
        if (byFamily.contains(part.family)) continue;
        const auto path = AnalogPath::build(defaultGauge(part), catalogue);
        if (!path || path->converter().bits() > 16) continue;
        const std::vector<double> table = path->table();
        std::mt19937 random(1);
        std::vector<std::uint16_t> codes(kCodes);
        for (auto& code : codes) code = static_cast<std::uint16_t>(random() % table.size());
        const auto widen = [&] {
            for (std::size_t i = 0; i < kCodes; ++i) out[i] = codes[i];
            sink = out[kCodes / 2];
        };
        const auto look = [&] {
            for (std::size_t i = 0; i < kCodes; ++i) out[i] = table[codes[i]];
            sink = out[kCodes / 2];
        };
        byFamily[part.family] = ratio(look, widen, 9);
    }
    for (const auto& [family, value] : byFamily)
        std::printf("ratio  table / widen, %-24s %5.2f   (wanted: at most 2)\n", family.c_str(), value);
}

void draws(const Catalogue& catalogue) {
    auto spec = readGaugeFile((Catalogue::standardFolders().front() / "demo/glue-pot.json").string()).value();
    spec.sensor.parameters.remove(
        "dissipation_W_per_K");  // six inputs: R25, B, R1, the reference, the converter's error, the half code
    constexpr std::size_t kDraws = 1'000'000;
    const auto ours = [&] { sink = monteCarlo(spec, catalogue, 60, kDraws)->standard; };
    const auto theirs = [&] {
        std::mt19937_64 random(1);
        std::normal_distribution<double> normal;
        double sum = 0;
        for (std::size_t i = 0; i < 6 * kDraws; ++i) sum += normal(random);
        sink = sum;
    };
    std::printf("ratio  Monte Carlo of the path / std draws alone  %5.2f   (wanted: at most 0.5)\n",
                ratio(ours, theirs, 7));
}

void solving(const Catalogue& catalogue) {
    const std::vector<double> values = preferredValues(Series::E96, {1, 999999});
    const auto pairs = [&] {
        double best = 1e9;
        for (const double top : values)
            for (const double bottom : values) best = std::min(best, std::abs(bottom / (top + bottom) - 0.2291));
        sink = best;
    };
    const auto spec = readGaugeFile((Catalogue::standardFolders().front() / "demo/glue-pot.json").string()).value();
    double slowest =
        ratio([&] { sink = sizeSensorDivider(spec, catalogue, {Series::E192})->front().worstCounts; }, pairs, 7);
    std::string name = "sensor-divider";
    const std::map<std::string, Parameters> wishes{
        {"divider", {{"input_max_V", 14.4}, {"limit_V", 3.3}}},
        {"rc-filter", {{"settle_s", 0.1}}},
        {"rc-clock", {}},
        {"reference", {{"signal_low_V", 0.5}, {"signal_high_V", 1.0}, {"units", 50.0}}},
    };
    for (const auto& [id, wish] : wishes) {
        const double one =
            ratio([&] { sink = static_cast<double>(solve(*findSolver(id), wish, Series::E192, 8)->size()); }, pairs, 7);
        if (one > slowest) {
            slowest = one;
            name = id;
        }
    }
    std::printf("ratio  slowest solver (%s) / all E96 pairs  %5.2f   (wanted: at most 200)\n", name.c_str(), slowest);
}

}  // namespace

int main() {
    const Catalogue catalogue = Catalogue::read(Catalogue::standardFolders());
    tables(catalogue);
    draws(catalogue);
    solving(catalogue);
    return 0;
}
