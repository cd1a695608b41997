#pragma once

#include "gauge/gauge.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fg {

/// A reading of one of several instruments at the same place and time. Values in one unit.
struct SideReading {
    std::string name;
    double reading = 0;
    double expanded = 0;  ///< U, k = 2; 0: not known
};

/// Two of them.
struct PairAgreement {
    std::size_t first = 0, second = 0;
    double difference = 0;        ///< first less second
    std::optional<double> error;  ///< E_n = difference/√(U₁² + U₂²); nothing where a U is not known
    [[nodiscard]] bool agrees() const { return error && std::abs(*error) <= 1; }
};

/// Several side by side: what they say together, and what cannot be told.
struct Agreement {
    double spread = 0;              ///< highest less lowest
    double mean = 0, expanded = 0;  ///< weighted by 1/U², of those with a U; NaN without any
    std::vector<PairAgreement> pairs;
    std::optional<std::size_t> odd;  ///< the one that disagrees, where the others agree without it
    std::string verdict;             ///< one or two sentences
};

/// Normalised errors as ISO 13528:2022, 9.7, of every pair: within ±1 the difference is within what both state.
/// Errors: Missing for fewer than two; Range for a negative U.
[[nodiscard]] Expected<Agreement> agreementOf(std::span<const SideReading> readings, const Unit& unit);

/// All of it in a few sentences, as a journal keeps it.
[[nodiscard]] std::string sideBySideText(std::span<const SideReading> readings, const Agreement& agreement,
                                         const Unit& unit);

/// "49.5 ± 3" as a person types it, in `unit` where none is written; U (k = 2) behind ±. Errors: those of reading it.
[[nodiscard]] Expected<SideReading> sideReadingOf(std::string_view text, Quantity quantity, const Unit& unit);

/// How one trace follows from another: second = offset + factor · first.
struct TracePair {
    double factor = 1, factorStandard = 0;
    double offset = 0, offsetStandard = 0;  ///< at the first trace's mean the offset is certain, at 0 it is this
    double scatter = 0;                     ///< of the points about the line, along the second
    double correlation = 0;
    std::size_t count = 0;
};

/// Line through both noisy traces (Deming regression; Fuller, Measurement Error Models, 1.3): `noiseRatio` is the
/// standard deviation of the second's noise over the first's. Standard errors by leaving points out in turn
/// (jackknife). NaN pairs are passed over. Errors: Missing for fewer than three pairs, Range for lengths that differ,
/// Domain where the first does not move.
[[nodiscard]] Expected<TracePair> tracePairOf(std::span<const double> first, std::span<const double> second,
                                              double noiseRatio = 1);

/// What the factor between the raw values of two gauges should be by their own formulas, about a place: codes of the
/// second a unit over codes of the first a unit. Errors: Unsupported for a digital part, whose bytes are no count;
/// Domain where a gauge does not move there.
[[nodiscard]] Expected<double> factorByFormulas(const Gauge& first, const Gauge& second, double world);

}  // namespace fg
