#include "derived/law_rows.h"
#include "derived/physical.h"

#include <array>

namespace fg {
namespace {

using namespace physical;

constexpr Interval kLowLayer{-5000, 11000};
constexpr LawInput kAltitude{"altitude", "Height above the sea", "h", Quantity::Height, kLowLayer};
constexpr LawInput kStation{"pressure", "Pressure there", "p", Quantity::Pressure, {2e4, 1.2e5}};
constexpr std::string_view kStandard = "ISO 2533:1975, lowest layer: T = 288.15 K − 6.5 K/km";

template <class N>
N seaLevel() {
    return constant<N>(kSeaLevel_Pa, "Pa");
}
/// L·h/T0, the share of the temperature that a height takes.
template <class N>
N shareOf(const N& h) {
    return step("x", "", kStandard, constant<N>(kLapse_K_m, "K/m") * h / constant<N>(kSeaLevel_K, "K"));
}

/// The standard atmosphere's pressure at a height.
struct IsaPressure {
    static constexpr std::string_view kId = "isa-pressure", kTitle = "Pressure of the standard atmosphere",
                                      kSource = kStandard;
    static constexpr std::array kInputs{kAltitude};
    static constexpr LawOutput kOutput{"p", Quantity::Pressure, "Pa"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        return step("p", "Pa", kSource, seaLevel<N>() * pow(1.0 - shareOf(x[0]), N(kExponent)));
    }
};

/// How high one is by the pressure; with the standard's sea level as reference it is the pressure altitude.
struct Altitude {
    static constexpr std::string_view kId = "altitude", kTitle = "Height by the pressure", kSource = kStandard;
    static constexpr std::array kInputs{
        kStation,
        LawInput{"reference", "Pressure where the height is 0", "p0", Quantity::Pressure, {5e4, 1.2e5}, kSeaLevel_Pa}};
    static constexpr LawOutput kOutput{"h", Quantity::Height, "m"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        return step("h", "m", kSource,
                    constant<N>(kSeaLevel_K, "K") / constant<N>(kLapse_K_m, "K/m") *
                        (1.0 - pow(x[0] / x[1], N(1 / kExponent))));
    }
};

/// The pressure at a station as weather reports give it: reduced to the sea by the standard atmosphere (QNH).
struct SeaLevelPressure {
    static constexpr std::string_view kId = "sea-level-pressure", kTitle = "Pressure reduced to the sea (QNH)",
                                      kSource = kStandard;
    static constexpr std::array kInputs{kStation, kAltitude};
    static constexpr LawOutput kOutput{"p0", Quantity::Pressure, "Pa"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        const N power = step("k", "", kSource, pow(x[0] / seaLevel<N>(), N(1 / kExponent)));
        return step("p0", "Pa", kSource, seaLevel<N>() * pow(power + shareOf(x[1]), N(kExponent)));
    }
};

/// The pressure that a barometer at a height reads when the weather report gives it reduced to the sea.
struct StationPressure {
    static constexpr std::string_view kId = "station-pressure",
                                      kTitle = "Pressure at a height, from the weather report", kSource = kStandard;
    static constexpr std::array kInputs{
        LawInput{"reported", "Pressure reported, reduced to the sea (QNH)", "p0", Quantity::Pressure, {8.5e4, 1.1e5}},
        kAltitude};
    static constexpr LawOutput kOutput{"p", Quantity::Pressure, "Pa"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        const N power = step("k", "", kSource, pow(x[0] / seaLevel<N>(), N(1 / kExponent)));
        return step("p", "Pa", kSource, seaLevel<N>() * pow(power - shareOf(x[1]), N(kExponent)));
    }
};

/// The pressure a stairwell higher: for a few hundred metres the air is of one temperature.
struct PressureHigher {
    static constexpr std::string_view kId = "pressure-higher", kTitle = "Pressure so much higher up",
                                      kSource = "barometric formula at one temperature: p·e^(−g·h/(R·T)), dry air";
    static constexpr std::array kInputs{
        LawInput{"pressure", "Pressure below", "p0", Quantity::Pressure, {3e4, 1.2e5}},
        LawInput{"height", "Height above it", "h", Quantity::Height, {-500, 500}},
        LawInput{"temperature", "Temperature of the air", "t", Quantity::Temperature, {-60, 60}, 15},
    };
    static constexpr LawOutput kOutput{"p", Quantity::Pressure, "Pa"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        const N kelvin = step("T", "K", kSource, x[2] + constant<N>(kZero_K, "K"));
        const N scale = step("H", "m", kSource, constant<N>(kAir, "J/(kg·K)") * kelvin / constant<N>(kGravity, "m/s²"));
        return step("p", "Pa", kSource, x[0] * exp(-(x[1] / scale)));
    }
};

/// What a gauge against the air shows of an absolute pressure.
struct GaugePressure {
    static constexpr std::string_view kId = "gauge-pressure", kTitle = "Pressure against the air around",
                                      kSource = "absolute less ambient";
    static constexpr std::array kInputs{
        LawInput{"pressure", "Absolute pressure", "p", Quantity::Pressure, {0, 1e9}},
        LawInput{"ambient", "Pressure of the air", "p0", Quantity::Pressure, {2e4, 1.2e5}}};
    static constexpr LawOutput kOutput{"pg", Quantity::Pressure, "Pa"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        return step("pg", "Pa", kSource, x[0] - x[1]);
    }
};

}  // namespace

std::vector<const Law*> atmosphereLaws() {
    return {&lawOf<Altitude>(),        &lawOf<IsaPressure>(),    &lawOf<SeaLevelPressure>(),
            &lawOf<StationPressure>(), &lawOf<PressureHigher>(), &lawOf<GaugePressure>()};
}

}  // namespace fg
