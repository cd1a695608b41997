#include "calibration/stated.h"

#include "units/number_format.h"
#include "units/value_text.h"

#include <cmath>

namespace fg {

double standardOf(StatedAs as, double amount) {
    switch (as) {
        case StatedAs::Expanded:
            return amount / 2;
        case StatedAs::Limits:
            return amount / std::sqrt(3.0);
        case StatedAs::Nearest:
            return amount / (2 * std::sqrt(3.0));
        case StatedAs::Unchecked:
            return 0;
    }
    return 0;
}

std::string statedText(StatedAs as, double amount, const Unit& unit) {
    if (as == StatedAs::Unchecked) return "nobody has checked it";
    if (!(amount > 0)) return {};
    const std::string number = plainNumber(unit.differenceFromCanonical(amount), 4) + " " + std::string(unit.symbol);
    switch (as) {
        case StatedAs::Expanded:
            return "± " + number + " (k = 2)";
        case StatedAs::Limits:
            return "within ± " + number;
        default:
            return "shown to the nearest " + number;
    }
}

bool isUnchecked(const CalibrationPoint& point) {
    return point.stated == statedText(StatedAs::Unchecked, 0, canonicalUnit(Quantity::Ratio));
}

CalibrationPoint pointTaken(double reading, double reference, StatedAs as, double amount, double ofMean,
                            const Unit& unit) {
    CalibrationPoint point{reading, reference, std::hypot(standardOf(as, amount), ofMean)};
    point.stated = statedText(as, amount, unit);
    return point;
}

Expected<PlusMinus> readPlusMinus(std::string_view text, const std::string& name, Quantity quantity, const Unit* unit) {
    // As it is printed, and as it is typed where no key has it.
    std::size_t at = std::string_view::npos, length = 0;
    for (const std::string_view sign : {std::string_view("±"), std::string_view("+/-"), std::string_view("+-")})
        if (at == std::string_view::npos && text.find(sign) != std::string_view::npos) {
            at = text.find(sign);
            length = sign.size();
        }
    const auto value = readValue(text.substr(0, at), quantity, unit);
    if (!value) return tl::unexpected(value.error().within(name));
    PlusMinus read{value->canonical, 0};
    if (at == std::string_view::npos) return read;
    const auto u = readDifference(text.substr(at + length), quantity, value->unit ? value->unit : unit);
    if (!u) return tl::unexpected(u.error().within(name + " ±"));
    if (*u < 0) return fail(ErrorCode::Range, name + " ±", plainNumber(*u), "0 or more");
    read.u = standardOf(StatedAs::Expanded, *u);
    return read;
}

}  // namespace fg
