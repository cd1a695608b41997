#include "derived/law_rows.h"

#include <array>

namespace fg {
namespace {

constexpr std::string_view kGreenspan = "Greenspan, J. Res. NBS 81A (1977) 89, table 1";

/// Relative humidity of the air over a saturated solution: a + b·t + c·t² + d·t³, in %RH with t in °C.
template <class Salt>
struct OverSalt {
    static constexpr std::string_view kId = Salt::kId, kTitle = Salt::kTitle, kSource = kGreenspan;
    static constexpr std::array kInputs{
        LawInput{"temperature", "Temperature of the jar", "t", Quantity::Temperature, {0, Salt::kTo}}};
    static constexpr LawOutput kOutput{"RH", Quantity::RelativeHumidity, "percent"};
    static constexpr double kExpanded = Salt::kStated;

    template <class N>
    static N value(std::span<const N> x) {
        const N& t = x[0];
        return step("RH", "percent", kSource,
                    Salt::kC[0] + Salt::kC[1] * t + Salt::kC[2] * (t * t) + Salt::kC[3] * (t * t * t));
    }
};

// kStated: the uncertainty stated for 25 °C, in %RH.
struct LithiumChloride {
    static constexpr std::string_view kId = "salt-licl", kTitle = "Over lithium chloride";
    static constexpr double kC[] = {11.2323, 0.00824245, -0.214890e-3, 0}, kStated = 0.27, kTo = 40;
};
struct MagnesiumChloride {
    static constexpr std::string_view kId = "salt-mgcl2", kTitle = "Over magnesium chloride";
    static constexpr double kC[] = {33.6686, -0.00797397, -0.108988e-2, 0}, kStated = 0.16, kTo = 40;
};
struct PotassiumCarbonate {
    static constexpr std::string_view kId = "salt-k2co3", kTitle = "Over potassium carbonate";
    static constexpr double kC[] = {43.1315, 0.00147523, 0, 0}, kStated = 0.39, kTo = 30;
};
struct SodiumChloride {
    static constexpr std::string_view kId = "salt-nacl", kTitle = "Over table salt";
    static constexpr double kC[] = {75.5164, 0.0398321, -0.265459e-2, 0.284800e-4}, kStated = 0.12, kTo = 40;
};
struct PotassiumChloride {
    static constexpr std::string_view kId = "salt-kcl", kTitle = "Over potassium chloride";
    static constexpr double kC[] = {88.6190, -0.193340, 0.899706e-3, 0}, kStated = 0.26, kTo = 40;
};
struct PotassiumSulfate {
    static constexpr std::string_view kId = "salt-k2so4", kTitle = "Over potassium sulfate";
    static constexpr double kC[] = {98.7792, -0.0590502, 0, 0}, kStated = 0.45, kTo = 40;
};

}  // namespace

std::vector<const Law*> saltLaws() {
    return {&lawOf<OverSalt<LithiumChloride>>(),    &lawOf<OverSalt<MagnesiumChloride>>(),
            &lawOf<OverSalt<PotassiumCarbonate>>(), &lawOf<OverSalt<SodiumChloride>>(),
            &lawOf<OverSalt<PotassiumChloride>>(),  &lawOf<OverSalt<PotassiumSulfate>>()};
}

}  // namespace fg
