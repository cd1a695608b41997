#include "derived/law_rows.h"
#include "derived/physical.h"

#include <array>

namespace fg {
namespace {

constexpr std::string_view kMagnus = "WMO-No. 8, part I, chapter 4, annex 4.B: over water, Magnus form";
constexpr std::string_view kMagnusIce = "WMO-No. 8, part I, chapter 4, annex 4.B: over ice, Magnus form";
constexpr double kAtZero_Pa = 611.2;

/// The two numbers of a Magnus form.
struct Magnus {
    double factor, degrees;
    std::string_view source;
};
constexpr Magnus kWater{17.62, 243.12, kMagnus}, kIce{22.46, 272.62, kMagnusIce};

constexpr LawInput kAir{"temperature", "Temperature of the air", "t", Quantity::Temperature, {-45, 60}};
constexpr LawInput kHumidity{"humidity", "Relative humidity", "RH", Quantity::RelativeHumidity, {0.1, 100}};

/// Saturation vapour pressure over water, as hygrometers refer to below 0 °C too.
template <class N>
N saturation(const N& t) {
    return step("ew", "Pa", kMagnus,
                constant<N>(kAtZero_Pa, "Pa") * exp(kWater.factor * t / (t + constant<N>(kWater.degrees, "degC"))));
}

template <class N>
N vapour(const N& t, const N& humidity) {
    return step("e", "Pa", kMagnus, saturation(t) * humidity / 100.0);
}

/// Where a vapour pressure is that of saturation: the Magnus form solved for t.
template <class N>
N saturatedAt(std::string_view name, const N& vapourPressure, const Magnus& form) {
    const N y = step("y", "", form.source, log(vapourPressure / constant<N>(kAtZero_Pa, "Pa")));
    return step(name, "degC", form.source, constant<N>(form.degrees, "degC") * y / (form.factor - y));
}

struct DewPoint {
    static constexpr std::string_view kId = "dew-point", kTitle = "Dew point", kSource = kMagnus;
    static constexpr std::array kInputs{kAir, kHumidity};
    static constexpr LawOutput kOutput{"td", Quantity::Temperature, "degC"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        return saturatedAt<N>("td", vapour(x[0], x[1]), kWater);
    }
};

struct FrostPoint {
    static constexpr std::string_view kId = "frost-point", kTitle = "Frost point", kSource = kMagnusIce;
    static constexpr std::array kInputs{kAir, kHumidity};
    static constexpr LawOutput kOutput{"tf", Quantity::Temperature, "degC"};
    static constexpr double kExpanded = 0;

    /// Only below 0 °C is there frost.
    template <class N>
    static N value(std::span<const N> x) {
        const N e = vapour(x[0], x[1]);
        return require(e <= kAtZero_Pa, [&] { return saturatedAt<N>("tf", e, kIce); });
    }
};

struct AbsoluteHumidity {
    static constexpr std::string_view kId = "absolute-humidity", kTitle = "Water in the air",
                                      kSource = "e/(Rv·T), ideal gas";
    static constexpr std::array kInputs{kAir, kHumidity};
    static constexpr LawOutput kOutput{"ρv", Quantity::VapourDensity, "g/m³"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        const N kelvin = step("T", "K", kSource, x[0] + constant<N>(physical::kZero_K, "K"));
        const N kilograms =
            step("ρ", "kg/m³", kSource, vapour(x[0], x[1]) / (constant<N>(physical::kVapour, "J/(kg·K)") * kelvin));
        return step("ρv", "g/m³", kSource, 1000.0 * kilograms);
    }
};

struct VapourPressureDeficit {
    static constexpr std::string_view kId = "vapour-pressure-deficit", kTitle = "Vapour-pressure deficit",
                                      kSource = "saturation less vapour pressure, at the air's temperature";
    static constexpr std::array kInputs{kAir, kHumidity};
    static constexpr LawOutput kOutput{"VPD", Quantity::Pressure, "Pa"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        return step("VPD", "Pa", kSource, saturation(x[0]) * (1.0 - x[1] / 100.0));
    }
};

}  // namespace

std::vector<const Law*> humidityLaws() {
    return {&lawOf<DewPoint>(), &lawOf<FrostPoint>(), &lawOf<AbsoluteHumidity>(), &lawOf<VapourPressureDeficit>()};
}

}  // namespace fg
