#include "uncertainty/calibrated.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

constexpr std::size_t kMostPlaces = 17;

/// Many points are seen from a few places between them, each with the weights of its neighbours.
void thinOut(CalibrationPull pull, std::vector<double>& places, std::vector<double>& weights) {
    if (pull.places.size() <= kMostPlaces) {
        places = std::move(pull.places);
        weights = std::move(pull.weights);
        return;
    }
    const double low = pull.places.front(), high = pull.places.back();
    places.resize(kMostPlaces);
    weights.assign(kMostPlaces, 0.0);
    const double step = (high - low) / (kMostPlaces - 1);
    for (std::size_t m = 0; m < kMostPlaces; ++m) places[m] = low + step * static_cast<double>(m);
    for (std::size_t j = 0; j < pull.places.size(); ++j) {
        const double at = step > 0 ? (pull.places[j] - low) / step : 0;
        const auto m = std::min(static_cast<std::size_t>(at), kMostPlaces - 2);
        const double part = at - static_cast<double>(m);
        weights[m] += (1 - part) * pull.weights[j];
        weights[m + 1] += part * pull.weights[j];
    }
}

bool isSame(const Contribution& a, const Contribution& b) {
    return a.cause == b.cause && a.parameter == b.parameter && a.stage == b.stage;
}

}  // namespace

Calibrated::Calibrated(CalibrationPull pull, bool isOffset, Interval span,
                       const std::function<std::vector<Contribution>(double reading)>& errorsAt)
    : m_pull(std::move(pull)), m_isOffset(isOffset), m_reach(span.width() / 2) {
    thinOut(m_pull, m_places, m_weights);
    for (const double place : m_places) m_errors.push_back(errorsAt(place));
}

std::optional<Calibrated> Calibrated::of(const GaugeSpec& spec, const Correction& correction, double world,
                                         const std::function<std::vector<Contribution>(double reading)>& errorsAt) {
    auto pull = correction.pullAt(correction.undo(world));
    if (!pull) return std::nullopt;
    return Calibrated(std::move(*pull), spec.correction.kind == "offset", spec.spanCanonical(), errorsAt);
}

bool Calibrated::isSystematic(const Contribution& line) {
    return line.cause == Cause::Tolerance || line.cause == Cause::SensorAccuracy;
}

double Calibrated::left(const Contribution& line) const {
    if (!isSystematic(line)) return line.standard;
    double rest = line.effect;
    for (std::size_t j = 0; j < m_places.size(); ++j)
        for (const Contribution& there : m_errors[j])
            if (isSame(there, line)) rest -= m_weights[j] * there.effect;
    rest = std::abs(rest);
    if (m_pull.isInside) return rest;
    if (!m_isOffset) return std::max(rest, line.standard);
    // How a stated accuracy wanders over the part's range nobody says: half a span away nothing is known of it any
    // more.
    if (line.cause != Cause::SensorAccuracy || !(m_reach > 0)) return rest;
    return std::max(rest, std::min(1.0, m_pull.distance / m_reach) * line.standard);
}

void Calibrated::apply(std::vector<Contribution>& lines) const {
    double sum = 0;
    for (const double weight : m_weights) sum += weight;
    for (Contribution& line : lines) {
        const double rest = left(line);
        // What cancels in the circuit is rounding alone.
        if (!isSystematic(line) || line.standard < 1e-9 * (std::abs(m_places.front()) + 1)) continue;
        if (rest < 0.995 * line.standard)
            line.label += rest < 0.005 * line.standard ? ": calibrated away" : ", calibrated";
        for (SharedPart& part : line.parts) part.effect *= rest / line.standard;
        line.limit = std::sqrt(3.0) * rest;
        line.standard = rest;
    }
    const auto add = [&](const std::string& label, double standard) {
        if (standard > 0)
            lines.push_back({Stage::Correction, label, 2 * standard, Distribution::Normal, standard, 0,
                             "correction.points", Cause::Correction});
    };
    add(fmt::format("Fit to {} point{}", m_pull.places.size(), m_pull.places.size() == 1 ? "" : "s"), m_pull.random);
    add("Reference of the calibration", m_pull.shared * std::abs(sum));
}

}  // namespace fg
