#include "analysis/selection.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace fg {
namespace {

/// The values without their straight line.
std::vector<double> levelled(const Selection& selection, const SeriesStatistics& series) {
    double middle_s = 0;
    for (const double time_s : selection.times_s) middle_s += time_s / static_cast<double>(selection.times_s.size());
    std::vector<double> rest(selection.values.size());
    for (std::size_t i = 0; i < rest.size(); ++i)
        rest[i] = selection.values[i] - series.mean - series.drift * (selection.times_s[i] - middle_s);
    return rest;
}

/// Scatter of the means of `size` neighbours; nothing with fewer than four of them.
std::optional<double> scatterOfMeans(std::span<const double> values, std::size_t size) {
    const std::size_t count = values.size() / size;
    if (count < 4) return std::nullopt;
    std::vector<double> means(count, 0);
    double mean = 0;
    for (std::size_t i = 0; i < count; ++i) {
        for (std::size_t j = 0; j < size; ++j) means[i] += values[i * size + j] / static_cast<double>(size);
        mean += means[i] / static_cast<double>(count);
    }
    double sum = 0;
    for (const double one : means) sum += (one - mean) * (one - mean);
    return std::sqrt(sum / static_cast<double>(count - 1));
}

std::vector<CodeCount> histogramOf(std::span<const double> words) {
    constexpr double kMostSpread = 40;
    const auto [least, most] = std::minmax_element(words.begin(), words.end());
    const bool areWhole = std::all_of(words.begin(), words.end(), [](double word) { return word == std::floor(word); });
    if (!areWhole || *most - *least > kMostSpread) return {};
    double mean = 0;
    for (const double word : words) mean += word / static_cast<double>(words.size());
    std::map<int, std::size_t> counts;
    for (const double word : words) ++counts[static_cast<int>(word - std::round(mean))];
    std::vector<CodeCount> histogram;
    for (int offset = counts.begin()->first; offset <= counts.rbegin()->first; ++offset)
        histogram.push_back({offset, counts.contains(offset) ? counts[offset] : 0});
    return histogram;
}

}  // namespace

Expected<Selection> selectionOf(TrackReader& reader, TimeSpan span, std::size_t most) {
    Selection selection;
    std::vector<Micros> times;
    const auto read = reader.read(span, [&](const SampleColumns& raw, std::span<const Reading> readings) {
        for (std::size_t i = 0; i < raw.size(); ++i) {
            if (std::isnan(readings[i].value) || readings[i].clip != Clip::None) {
                ++selection.notValid;
                continue;
            }
            if (!times.empty() && raw.times[i] <= times.back()) continue;  // twice at one time
            times.push_back(raw.times[i]);
            selection.values.push_back(readings[i].value);
            if (raw.frameLength == 0) selection.words.push_back(raw.words[i]);
        }
        // What is more than asked for is cut off in front, now and then.
        if (times.size() > 2 * most) {
            const auto cut = static_cast<std::ptrdiff_t>(times.size() - most);
            times.erase(times.begin(), times.begin() + cut);
            selection.values.erase(selection.values.begin(), selection.values.begin() + cut);
            if (!selection.words.empty()) selection.words.erase(selection.words.begin(), selection.words.begin() + cut);
        }
        return true;
    });
    if (!read) return tl::unexpected(read.error());
    if (times.size() > most) {
        const auto cut = static_cast<std::ptrdiff_t>(times.size() - most);
        times.erase(times.begin(), times.begin() + cut);
        selection.values.erase(selection.values.begin(), selection.values.begin() + cut);
        if (!selection.words.empty()) selection.words.erase(selection.words.begin(), selection.words.begin() + cut);
    }
    if (times.empty()) return selection;
    selection.first_us = times.front();
    for (const Micros time_us : times)
        selection.times_s.push_back(static_cast<double>(time_us - times.front()) / static_cast<double>(kMicrosASecond));
    return selection;
}

Expected<SelectionStatistics> statisticsOf(const Selection& selection) {
    constexpr std::size_t kLeast = 3;
    if (selection.values.size() < kLeast)
        return fail(ErrorCode::Missing, "readings", std::to_string(selection.values.size()), "three at least");
    auto series = statisticsOf(selection.values, selection.times_s);
    if (!series) return tl::unexpected(series.error());
    SelectionStatistics statistics;
    statistics.series = *series;
    statistics.notValid = selection.notValid;
    const std::vector<double> rest = levelled(selection, *series);
    const auto [least, most] = std::minmax_element(rest.begin(), rest.end());
    statistics.peakToPeak = *most - *least;
    statistics.meanOf16 = scatterOfMeans(rest, SelectionStatistics::kMean);
    if (selection.words.size() != selection.values.size()) return statistics;
    if (const auto words = statisticsOf(selection.words, selection.times_s)) statistics.noise_codes = words->scatter;
    statistics.histogram = histogramOf(selection.words);
    return statistics;
}

double neighbourNoise(std::span<const Reading> readings) {
    std::vector<double> differences;
    for (std::size_t i = 2; i < readings.size(); ++i) {
        const double second = readings[i].value - 2 * readings[i - 1].value + readings[i - 2].value;
        if (!std::isnan(second)) differences.push_back(std::abs(second));
    }
    if (differences.empty()) return 0;
    const auto middle = differences.begin() + static_cast<std::ptrdiff_t>(differences.size() / 2);
    std::nth_element(differences.begin(), middle, differences.end());
    constexpr double kMedianOfNormal = 0.6744897501960817;  // of its absolute value, deviation 1
    return *middle / (kMedianOfNormal * std::sqrt(6.0));
}

std::optional<std::size_t> averageFor(const Selection& selection, double wanted) {
    const auto series = statisticsOf(selection.values, selection.times_s);
    if (!series || !(wanted > 0)) return std::nullopt;
    const std::vector<double> rest = levelled(selection, *series);
    for (std::size_t size = 1; size * 4 <= rest.size(); size *= 2)
        if (const auto scatter = scatterOfMeans(rest, size); scatter && 2 * *scatter <= wanted) return size;
    return std::nullopt;
}

}  // namespace fg
