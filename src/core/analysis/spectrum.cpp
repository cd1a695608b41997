#include "analysis/spectrum.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <string>
#include <unsupported/Eigen/FFT>

namespace fg {
namespace {

/// Takes the straight line off a piece (least squares over an even grid).
void level(std::vector<double>& piece) {
    const auto n = static_cast<double>(piece.size());
    const double middle = (n - 1) / 2;
    double mean = 0, slope = 0;
    for (std::size_t i = 0; i < piece.size(); ++i) {
        mean += piece[i] / n;
        slope += piece[i] * (static_cast<double>(i) - middle);
    }
    slope *= 12 / (n * (n * n - 1));
    for (std::size_t i = 0; i < piece.size(); ++i) piece[i] -= mean + slope * (static_cast<double>(i) - middle);
}

}  // namespace

Expected<std::vector<SpectrumPoint>> noiseSpectrum(std::span<const double> readings, double interval_s) {
    constexpr std::size_t kLeast = 16, kMostPiece = 4096;
    if (readings.size() < kLeast)
        return fail(ErrorCode::Missing, "readings", std::to_string(readings.size()), "sixteen at least");
    if (!(interval_s > 0))
        return fail(ErrorCode::Range, "interval", std::to_string(interval_s), "a time above 0 between readings");
    // About eight pieces, so that a single one does not decide.
    std::size_t size = kLeast;
    while (size * 2 <= std::min(kMostPiece, readings.size() / 4)) size *= 2;
    std::vector<double> window(size);
    double power = 0;
    for (std::size_t i = 0; i < size; ++i) {
        window[i] = 0.5 - 0.5 * std::cos(2 * std::numbers::pi * static_cast<double>(i) / static_cast<double>(size));
        power += window[i] * window[i];
    }
    Eigen::FFT<double> transform;
    std::vector<double> sum(size / 2 + 1, 0);
    std::size_t pieces = 0;
    for (std::size_t begin = 0; begin + size <= readings.size(); begin += size / 2) {
        ++pieces;
        std::vector<double> piece(readings.begin() + static_cast<std::ptrdiff_t>(begin),
                                  readings.begin() + static_cast<std::ptrdiff_t>(begin + size));
        level(piece);
        for (std::size_t i = 0; i < size; ++i) piece[i] *= window[i];
        std::vector<std::complex<double>> lines;
        transform.fwd(lines, piece);
        for (std::size_t i = 0; i < sum.size(); ++i) sum[i] += std::norm(lines[i]);
    }
    std::vector<SpectrumPoint> points;
    for (std::size_t i = 1; i < sum.size(); ++i) {
        const double sides = i == size / 2 ? 1 : 2;
        points.push_back({static_cast<double>(i) / (static_cast<double>(size) * interval_s),
                          std::sqrt(sides * sum[i] * interval_s / (power * static_cast<double>(pieces)))});
    }
    return points;
}

}  // namespace fg
