#include "analysis/noise_picture.h"

#include "units/number_format.h"

#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// From a power of ten to a power of ten.
struct Decades {
    int low = 0, high = 1;
    [[nodiscard]] double placeOf(double value) const { return (std::log10(value) - low) / (high - low); }
    [[nodiscard]] std::vector<NoisePicture::Tick> ticks() const {
        std::vector<NoisePicture::Tick> all;
        for (int decade = low; decade <= high; ++decade) {
            const double one = std::pow(10.0, decade);
            all.push_back({placeOf(one), fixedDigits(one, std::max(0, -decade))});
            for (int part = 2; part < 10 && decade < high; ++part) all.push_back({placeOf(part * one), ""});
        }
        return all;
    }
};

Decades decadesOf(double least, double most) {
    const int low = static_cast<int>(std::floor(std::log10(least) + 1e-9));
    return {low, std::max(low + 1, static_cast<int>(std::ceil(std::log10(most) - 1e-9)))};
}

std::vector<std::array<double, 2>> curveOf(const SeenTrack& trace, NoiseKind kind) {
    const Unit& unit = trace.spec.readingUnit();
    std::vector<std::array<double, 2>> points;
    const auto add = [&](double x, double y) {
        if (x > 0 && y > 0 && std::isfinite(x) && std::isfinite(y))
            points.push_back({x, unit.differenceFromCanonical(y)});
    };
    if (kind == NoiseKind::Allan)
        for (const AllanPoint& one : trace.allan) add(one.averaging_s, one.deviation);
    else
        for (const SpectrumPoint& one : trace.spectrum) add(one.frequency_Hz, one.density);
    if (points.size() < 2) points.clear();
    return points;
}

}  // namespace

NoisePicture noisePicture(const std::vector<SeenTrack>& traces, NoiseKind kind) {
    NoisePicture picture;
    const Unit* unit = nullptr;
    double left = HUGE_VAL, right = 0, bottom = HUGE_VAL, top = 0;
    for (const SeenTrack& trace : traces) {
        auto points = curveOf(trace, kind);
        if (points.empty() || (unit && unit != &trace.spec.readingUnit())) continue;
        unit = &trace.spec.readingUnit();
        for (const auto& [x, y] : points) {
            left = std::min(left, x);
            right = std::max(right, x);
            bottom = std::min(bottom, y);
            top = std::max(top, y);
        }
        picture.lines.push_back({trace.spec.name, trace.spec.quantity, std::move(points)});
    }
    if (picture.isEmpty()) return picture;
    const Decades across = decadesOf(left, right), up = decadesOf(bottom, top);
    for (NoisePicture::Line& line : picture.lines)
        for (auto& [x, y] : line.points) {
            x = across.placeOf(x);
            y = up.placeOf(y);
        }
    picture.across = across.ticks();
    picture.up = up.ticks();
    picture.acrossUnit = kind == NoiseKind::Allan ? "s" : "Hz";
    picture.upUnit = std::string(unit->symbol) + (kind == NoiseKind::Allan ? "" : "/√Hz");
    return picture;
}

}  // namespace fg
