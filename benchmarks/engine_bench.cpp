// The engine against the bulk loops that stand: every sample of an analog gauge to its reading, of a digital one, and
// what a budget of a digital gauge costs beside decoding its bytes once. Ratios of one run.

#include "bench/gauge_json.h"
#include "devices/device.h"
#include "engine/engine.h"
#include "path/digital_path.h"
#include "ratio.h"
#include "simulation/virtual_board.h"

#include <chrono>
#include <cstdio>

using namespace fg;

namespace {

constexpr int kRuns = 41;  // the speed of a shared machine swings: the median of many

template <class Work>
double seconds(Work&& work) {
    const auto begin = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
}

}  // namespace

int main() {
    const Catalogue catalogue = Catalogue::read(Catalogue::standardFolders());
    const std::string folder = Catalogue::standardFolders().front().string() + "/demo/";
    double sink = 0;

    // Analog: the glue pot, half a million words in batches as a feed or a replay hands them over: just written, so in
    // the cache. The bulk loop gets its codes the same way.
    Bench bench;
    const GaugeSpec pot = readGaugeFile(folder + "glue-pot.json").value();
    bench.add(pot);
    Engine engine(catalogue);
    engine.setBench(bench);
    engine.addListener([&](const GaugeBatch& batch) { sink += batch.readings.back().value; });
    constexpr std::size_t kSamples = 500'000, kBatch = 5'000;
    std::vector<Sample> samples;
    std::vector<std::int32_t> codes;
    for (std::size_t i = 0; i < kBatch; ++i) {
        codes.push_back(static_cast<std::int32_t>(1000 + i * 7 % 2000));
        samples.push_back({0, 1e-3 * static_cast<double>(i), Raw(static_cast<double>(codes.back()))});
    }
    const std::vector<std::string> names{pot.channel};
    const auto take = [&] {
        for (std::size_t done = 0; done < kSamples; done += kBatch) engine.take(samples, names);
    };
    const AnalogPath path = AnalogPath::build(pot, catalogue).value();
    std::vector<double> out(kBatch);
    const auto bulk = [&] {
        for (std::size_t done = 0; done < kSamples; done += kBatch) {
            path.readings(std::span<const std::int32_t>(codes), out);
            sink += out.back();
        }
    };
    std::printf("ratio  engine, analog / bulk loop        %5.2f   (wanted: at most 1.3)\n",
                fg::bench::ratio(take, bulk, kRuns));
    const double analog = seconds(take);
    std::printf("rate   engine, analog                    %5.1f million samples a second   (wanted: at least 1)\n",
                1e-6 * kSamples / analog);

    // Digital: the barometer's frames.
    const GaugeSpec barometer = readGaugeFile(folder + "barometer.json").value();
    Bench digital;
    digital.add(barometer);
    Engine device(catalogue);
    device.setBench(digital);
    device.addListener([&](const GaugeBatch& batch) { sink += batch.readings.back().value; });
    const DigitalPath devicePath = DigitalPath::build(barometer, catalogue).value();
    const Evaluation evaluation = devicePath.evaluate({Stage::World, 99000}).value();
    const auto frame = measuredBytes(*devicePath.part().device, devicePath.options(), evaluation.device->raw);
    std::vector<Sample> frames(20'000);
    for (std::size_t i = 0; i < frames.size(); ++i) frames[i] = {0, 1e-3 * static_cast<double>(i), Raw(frame)};
    const std::vector<std::string> deviceNames{barometer.channel};
    const double took = seconds([&] { device.take(frames, deviceNames); });
    std::printf("rate   engine, digital                   %5.0f thousand samples a second   (wanted: at least 200)\n",
                1e-3 * static_cast<double>(frames.size()) / took);

    const Gauge gauge = Gauge::make(barometer, catalogue).value();
    const auto decodeOnce = [&] {
        for (int i = 0; i < 200; ++i) sink += gauge.read(frame).value;
    };
    const auto budgets = [&] {
        for (int i = 0; i < 200; ++i) sink += gauge.budgetOf(evaluation)->expanded;
    };
    std::printf("ratio  budget of a digital gauge / decode %4.2f   (wanted: at most 20)\n",
                fg::bench::ratio(budgets, decodeOnce, kRuns));
    return sink == 0.123 ? 1 : 0;
}
