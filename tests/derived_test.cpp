// Laws: against published tables.

#include "derived/law.h"
#include "support.h"

#include <cmath>

namespace fg {
namespace {

double valueOf(const char* id, std::initializer_list<double> inputs) {
    const Law* law = findLaw(id);
    if (!law) return std::nan("");
    std::vector<LawValue> values;
    for (const double input : inputs) values.push_back({input, 0});
    const auto derived = derive(*law, values);
    return derived ? derived->value : std::nan("");
}

// IAPWS-IF97, table 36.
TEST(Law, BoilingPointOfTheSteamTables) {
    EXPECT_NEAR(valueOf("boiling-point", {1e5}) + 273.15, 372.755919, 1e-6);
    EXPECT_NEAR(valueOf("boiling-point", {1e6}) + 273.15, 453.035632, 1e-6);
    EXPECT_NEAR(valueOf("boiling-point", {1e7}) + 273.15, 584.149488, 1e-6);
    EXPECT_NEAR(valueOf("boiling-point", {101325}), 99.974, 0.001);  // ITS-90
}

// Greenspan 1977, table 2, as printed for 0, 10, 20, 25, 30, 40 °C.
TEST(Law, HumidityOverSaltsAsTabulated) {
    struct Row {
        const char* salt;
        double at[6];
    };
    constexpr double kGiven[] = {0, 10, 20, 25, 30, 40};
    for (const Row& row : {Row{"salt-nacl", {75.51, 75.67, 75.47, 75.29, 75.09, 74.68}},
                           Row{"salt-mgcl2", {33.66, 33.47, 33.07, 32.78, 32.44, 31.60}},
                           Row{"salt-licl", {11.23, 11.29, 11.31, 11.30, 11.28, 11.21}},
                           Row{"salt-kcl", {88.61, 86.77, 85.11, 84.34, 83.62, 82.32}},
                           Row{"salt-k2so4", {98.77, 98.18, 97.59, 97.30, 97.00, 96.41}},
                           Row{"salt-k2co3", {43.13, 43.14, 43.16, 43.16, 43.17, NAN}}})
        for (std::size_t i = 0; i < 6; ++i)
            if (!std::isnan(row.at[i])) {
                const double value = valueOf(row.salt, {kGiven[i]});
                EXPECT_TRUE(value > row.at[i] - 0.005 && value < row.at[i] + 0.015)  // printed digits are cut off
                    << row.salt << " at " << kGiven[i] << ": " << value;
            }
}

TEST(Law, AirWaterAndWoodAsTabulated) {
    // ISO 2533, table 5: geopotential 1000, 5000 and 11000 m.
    EXPECT_NEAR(valueOf("isa-pressure", {1000}), 89874.6, 1);
    EXPECT_NEAR(valueOf("isa-pressure", {5000}), 54019.9, 1);
    EXPECT_NEAR(valueOf("isa-pressure", {11000}), 22632.0, 1);
    EXPECT_NEAR(valueOf("altitude", {89874.6, 101325}), 1000, 0.1);
    // Reduced and brought back it is the same; 8.3 m are 1 hPa at the sea.
    const double station = valueOf("station-pressure", {101800, 430});
    EXPECT_NEAR(valueOf("sea-level-pressure", {station, 430}), 101800, 1e-6);
    EXPECT_NEAR(101325 - valueOf("pressure-higher", {101325, 8.43, 15}), 101.2, 0.2);
    // Density of water at 20 °C: 998.2067 kg/m³.
    EXPECT_NEAR(valueOf("water-column", {1, 20, 9.80665}), 998.2067 * 9.80665, 0.01);
    EXPECT_NEAR(valueOf("depth", {101325 + 9806.65, 101325, 1000, 9.80665}), 1, 1e-12);
    // The Magnus form is within 0.6 % of the true saturation pressure (WMO-No. 8). Saturated air holds 4.85 g/m³ at 0
    // °C, 17.3 at 20 °C, 30.4 at 30 °C; e_s(25 °C) = 3.169 kPa.
    EXPECT_NEAR(valueOf("absolute-humidity", {0, 100}), 4.85, 0.006 * 4.85);
    EXPECT_NEAR(valueOf("absolute-humidity", {20, 100}), 17.3, 0.006 * 17.3);
    EXPECT_NEAR(valueOf("absolute-humidity", {30, 100}), 30.4, 0.006 * 30.4);
    EXPECT_NEAR(valueOf("vapour-pressure-deficit", {25, 50}), 3169 / 2.0, 5);
    EXPECT_NEAR(valueOf("dew-point", {20, 50}), 9.27, 0.03);  // psychrometric tables
    EXPECT_NEAR(valueOf("dew-point", {-10, 100}), -10, 1e-9);
    // At −10 °C saturation over ice is 259.9 Pa, over water 286.5 Pa.
    EXPECT_NEAR(valueOf("frost-point", {-10, 100 * 259.9 / 286.5}), -10, 0.05);
    EXPECT_TRUE(std::isnan(valueOf("frost-point", {20, 50})));
    // Wood Handbook, table 4-2, row 21.1 °C.
    constexpr double kWood[] = {6.2, 7.7, 9.2, 11.0, 13.1, 16.0, 20.5};
    for (std::size_t i = 0; i < 7; ++i)
        EXPECT_NEAR(valueOf("wood-moisture", {21.1, 30 + 10.0 * static_cast<double>(i)}), kWood[i], 0.06);
    // Heat index chart of the weather service, °F.
    const auto felt = [](double degF, double humidity) {
        return valueOf("heat-index", {(degF - 32) / 1.8, humidity}) * 1.8 + 32;
    };
    EXPECT_NEAR(felt(80, 40), 80, 0.6);
    EXPECT_NEAR(felt(90, 70), 105, 1);
    EXPECT_NEAR(felt(100, 50), 118, 1);
    EXPECT_NEAR(felt(86, 90), 105, 1);
}

// The uncertainty is that of both inputs; where they go together, that counts (by differences, not by slopes).
TEST(Law, UncertaintyOfBothInputsAndTheirCorrelation) {
    for (const Law* law : laws()) {
        std::vector<LawValue> values;
        for (const LawInput& input : law->inputs()) {
            const double at = input.otherwise.value_or(input.quantity == Quantity::Pressure ? 1e5
                                                       : input.quantity == Quantity::Height ? 20
                                                                                            : 25);
            values.push_back({at, 1e-3 * std::max(1.0, std::abs(at))});
        }
        const auto derived = derive(*law, values);
        if (!derived) continue;  // a frost point at 25 °C
        EXPECT_FALSE(derived->trace.empty()) << law->id();
        double squares = std::pow(law->expanded() / 2, 2), sum = 0;
        for (std::size_t i = 0; i < values.size(); ++i) {
            auto up = values, down = values;
            up[i].value += values[i].u;
            down[i].value -= values[i].u;
            const double moved = (derive(*law, up)->value - derive(*law, down)->value) / 2;
            squares += moved * moved;
            sum += moved;
        }
        EXPECT_NEAR(derived->u, std::sqrt(squares), 2e-3 * derived->u) << law->id();
        const std::vector<std::vector<double>> together(values.size(), std::vector<double>(values.size(), 1.0));
        const double expected = std::hypot(sum, law->expanded() / 2);
        EXPECT_NEAR(derive(*law, values, together)->u, expected, 2e-3 * derived->u) << law->id();
    }
    const auto outside = derive(*findLaw("salt-k2co3"), std::vector<LawValue>{{35, 0}});
    ASSERT_FALSE(outside);
    EXPECT_EQ(outside.error().message(), "temperature: found 35 °C, expected 0 … 30 °C, where the formula holds");
}

}  // namespace
}  // namespace fg
