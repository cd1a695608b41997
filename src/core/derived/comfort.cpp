#include "derived/law_rows.h"

#include <array>

namespace fg {
namespace {

/// The moisture that wood takes on in air of a temperature and humidity, in % of its dry mass.
struct WoodMoisture {
    static constexpr std::string_view kId = "wood-moisture", kTitle = "Moisture that wood settles at",
                                      kSource = "Wood Handbook, FPL-GTR-190 (2010), equation 4-5 (Hailwood–Horrobin)";
    static constexpr std::array kInputs{
        LawInput{"temperature", "Temperature of the air", "t", Quantity::Temperature, {-1.2, 132.3}},
        LawInput{"humidity", "Relative humidity", "RH", Quantity::RelativeHumidity, {0, 95}}};
    static constexpr LawOutput kOutput{"M", Quantity::WoodMoisture, "%"};
    static constexpr double kExpanded = 0;

    template <class N>
    static N value(std::span<const N> x) {
        const N& t = x[0];
        const N w = step("W", "", kSource, 349.0 + 1.29 * t + 0.0135 * (t * t));
        const N k = step("K", "", kSource, 0.805 + 0.000736 * t - 0.00000273 * (t * t));
        const N k1 = step("K1", "", kSource, 6.27 - 0.00938 * t - 0.000303 * (t * t));
        const N k2 = step("K2", "", kSource, 1.91 + 0.0407 * t - 0.000293 * (t * t));
        const N kh = step("KH", "", kSource, k * x[1] / 100.0);
        const N square = aside("q", "", k1 * k2 * (kh * kh));
        return step("M", "%", kSource,
                    1800.0 / w * (kh / (1.0 - kh) + (k1 * kh + 2.0 * square) / (1.0 + k1 * kh + square)));
    }
};

/// How hot humid air feels in the shade.
struct HeatIndex {
    static constexpr std::string_view kId = "heat-index", kTitle = "Heat index",
                                      kSource = "NWS SR 90-23 (Rothfusz, 1990), with the service's adjustments";
    static constexpr std::array kInputs{
        LawInput{"temperature", "Temperature of the air", "t", Quantity::Temperature, {-20, 50}},
        LawInput{"humidity", "Relative humidity", "RH", Quantity::RelativeHumidity, {0, 100}}};
    static constexpr LawOutput kOutput{"HI", Quantity::Temperature, "degC"};
    static constexpr double kExpanded = 0;
    static constexpr double kRegressionFrom_degF = 80;

    template <class N>
    static N value(std::span<const N> x) {
        const N t = step("tF", "degF", kSource, x[0] * 1.8 + 32.0);
        const N& h = x[1];
        const N simple = step("HI1", "degF", kSource, (t + 0.5 * (t + 61.0 + (t - 68.0) * 1.2 + h * 0.094)) / 2.0);
        const N felt = choose(
            simple < N(kRegressionFrom_degF), [&] { return simple; }, [&] { return adjusted(t, h, regression(t, h)); });
        return step("HI", "degC", kSource, (felt - 32.0) / 1.8);
    }

  private:
    template <class N>
    static N regression(const N& t, const N& h) {
        return step("HI2", "degF", kSource,
                    -42.379 + 2.04901523 * t + 10.14333127 * h - 0.22475541 * t * h - 0.00683783 * (t * t) -
                        0.05481717 * (h * h) + 0.00122874 * (t * t) * h + 0.00085282 * t * (h * h) -
                        0.00000199 * (t * t) * (h * h));
    }
    template <class N>
    static N adjusted(const N& t, const N& h, const N& index) {
        const auto inDryAir = [&] {
            const N off = choose(
                t < N(95), [&] { return 95.0 - t; }, [&] { return t - 95.0; });
            return step("HI3", "degF", kSource, index - (13.0 - h) / 4.0 * sqrt((17.0 - off) / 17.0));
        };
        const auto inDampAir = [&] {
            return step("HI3", "degF", kSource, index + (h - 85.0) / 10.0 * ((87.0 - t) / 5.0));
        };
        return choose(h < N(13) && t >= N(80) && t <= N(112), inDryAir,
                      [&] { return choose(h > N(85) && t >= N(80) && t <= N(87), inDampAir, [&] { return index; }); });
    }
};

}  // namespace

std::vector<const Law*> comfortLaws() { return {&lawOf<WoodMoisture>(), &lawOf<HeatIndex>()}; }

}  // namespace fg
