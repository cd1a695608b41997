// The recorder's picture: what a view and a zoom step cost beside the least that could be done, scanning the samples in
// memory and drawing a line a column; and the share of a core that four traces take at ten frames a second.

#include "analysis/look.h"
#include "bench/gauge_json.h"
#include "ratio.h"
#include "recorder/trace_plot.h"
#include "storage/bench_file.h"
#include "theme/theme.h"

#include <fmt/format.h>
#include <unistd.h>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <QApplication>
#include <QImage>
#include <QPainter>
#include <random>
#include <thread>

using namespace fg;

namespace {

constexpr Micros kStart_us = 1'795'597'200 * kMicrosASecond;
constexpr std::size_t kColumns = 1000;
constexpr int kWidth = 1000, kHeight = 500;

/// A slow wave with noise, as a gauge of a workshop has it.
std::vector<RecordedSample> samplesOf(std::size_t count, Micros step_us) {
    std::vector<RecordedSample> samples;
    std::mt19937 random(1);
    for (std::size_t i = 0; i < count; ++i) {
        const double wave = 400 * std::sin(7 * static_cast<double>(i) / static_cast<double>(count));
        samples.push_back({kStart_us + static_cast<Micros>(i) * step_us,
                           Raw(std::floor(1900 + wave + static_cast<double>(random() % 60)))});
    }
    return samples;
}

BenchRecording record(RecordingStore& store, const Bench& bench, std::size_t count, Micros step_us) {
    BenchRecording wanted{0, "bench", "bench", kStart_us};
    for (const BenchGauge& gauge : bench.gauges) wanted.tracks.push_back({0, gauge.id, {{kStart_us, gauge.spec}}});
    const auto begun = store.begin(wanted).value();
    const auto samples = samplesOf(count, step_us);
    constexpr std::size_t kPiece = 100'000;
    for (std::size_t at = 0; at < count; at += kPiece) {
        RecordingStep step;
        for (const Track& track : begun.tracks)
            step.samples.push_back({track.id, std::span(samples).subspan(at, std::min(kPiece, count - at))});
        if (const auto done = store.append(begun.id, step); !done) std::printf("%s\n", done.error().message().c_str());
    }
    const std::vector<BenchRecording> all = store.recordings().value();
    return all.back();
}

}  // namespace

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    gui::Theme::instance().install();
    const Catalogue catalogue = Catalogue::read(Catalogue::standardFolders());
    const std::string demo = Catalogue::standardFolders().front().string() + "/demo/";
    const auto folder = std::filesystem::temp_directory_path() / fmt::format("fg-trace-{}", ::getpid());
    std::filesystem::create_directory(folder);
    double sink = 0;
    gui::TracePlot plot;
    plot.resize(kWidth, kHeight);
    QImage picture(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    {
        Bench bench;
        bench.add(readGaugeFile(demo + "glue-pot.json").value());
        const auto file = BenchFile::create(folder / "one.fairgauge", bench).value();
        constexpr std::size_t kPoints = 1'000'000;
        const BenchRecording recording = record(file->recordings(), bench, kPoints, 10'000);
        const TimeSpan whole = recording.span();
        std::vector<double> values;
        for (const RecordedSample& one : samplesOf(kPoints, 10'000)) values.push_back(std::get<double>(one.raw));
        const auto limit = [&] {
            std::vector<double> least(kColumns, 1e9), most(kColumns, -1e9);
            for (std::size_t i = 0; i < kPoints; ++i) {
                const std::size_t column = i * kColumns / kPoints;
                least[column] = std::min(least[column], values[i]);
                most[column] = std::max(most[column], values[i]);
            }
            QPainter painter(&picture);
            painter.fillRect(picture.rect(), Qt::white);
            for (std::size_t i = 0; i < kColumns; ++i)
                painter.drawLine(QPointF(static_cast<double>(i), kHeight - least[i] / 8),
                                 QPointF(static_cast<double>(i), kHeight - most[i] / 8));
            sink += least[7];
        };
        const auto shown = [&](RecordingLook& look, TimeSpan span) {
            LookWish wish{recording, bench, Conversion::AsRecorded, {1}, span, kColumns};
            const auto seen = look.look(wish).value();
            plot.setTraces(seen, span);
            plot.setSpan(span, whole);
            plot.render(&picture);
        };
        const auto first = [&] {
            RecordingLook look(file->recordings(), catalogue);
            shown(look, whole);
        };
        std::printf("ratio  first view of 1 M, drawn / scan and draw   %5.2f   (wanted: at most 2)\n",
                    bench::ratio(first, limit, 11));
        RecordingLook look(file->recordings(), catalogue);
        shown(look, whole);
        double part = 1;
        const auto zoom = [&] {
            part = part < 0.002 ? 0.9 : 0.8 * part;
            const auto half_us = static_cast<Micros>(0.5 * part * static_cast<double>(whole.to_us - whole.from_us));
            const Micros middle_us = whole.from_us + (whole.to_us - whole.from_us) / 3;
            shown(look, {std::max(whole.from_us, middle_us - half_us), middle_us + half_us});
        };
        std::printf("ratio  a zoom step, drawn / scan and draw         %5.2f   (wanted: at most 2)\n",
                    bench::ratio(zoom, limit, 41));
    }
    {
        Bench bench;
        for (const char* name : {"glue-pot", "bending-iron", "vacuum-clamp", "varnish-cabinet"})
            if (auto gauge = readGaugeFile(demo + name + ".json")) bench.add(std::move(*gauge));
        while (bench.gauges.size() < 4) bench.add(bench.gauges.front().spec);
        const auto file = BenchFile::create(folder / "four.fairgauge", bench).value();
        const BenchRecording recording = record(file->recordings(), bench, 36'000, 100'000);
        RecordingLook look(file->recordings(), catalogue);
        LookWish wish{recording, bench, Conversion::AsRecorded, {}, recording.span(), kColumns};
        for (const BenchGauge& gauge : bench.gauges) wish.gauges.push_back(gauge.id);
        constexpr int kFrames = 50;
        constexpr auto kFrame = std::chrono::milliseconds(100);
        const double before_s = fg::bench::processor_s();
        auto next = std::chrono::steady_clock::now();
        const auto begin = next;
        for (int i = 0; i < kFrames; ++i) {
            // Moved on by a tenth of a second a frame, as what is recorded now does.
            wish.span = {recording.span().from_us + i * 100'000, recording.span().to_us + i * 100'000};
            plot.setTraces(look.look(wish).value(), wish.span);
            plot.setSpan(wish.span, wish.span);
            plot.render(&picture);
            std::this_thread::sleep_until(next += kFrame);
        }
        const double took_s = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
        std::printf("share  4 traces of 36,000 points, 10 frames/s    %5.1f %% of a core   (wanted: under 8 %%)\n",
                    100 * (fg::bench::processor_s() - before_s) / took_s);
    }
    std::filesystem::remove_all(folder);
    return std::isnan(sink) ? 1 : 0;
}
