#include "catalogue/part_consequences.h"

#include "units/number_format.h"

#include <algorithm>

namespace fg {
bool isResting(std::span<const FieldValue> values) {
    const auto says = [&](std::string_view id, std::string_view text) {
        return std::any_of(values.begin(), values.end(),
                           [&](const FieldValue& one) { return one.field->id == id && one.text == text; });
    };
    return says("mode", "sleep") || says("mode", "shutdown") || says("shutdown", "on") || says("power", "off");
}

std::vector<Consequence> consequencesFor(const DevicePart& part, const RegisterMap& map,
                                         std::span<const FieldValue> values) {
    std::vector<Consequence> list = consequencesOf(map, values);
    const auto find = [&](std::string_view id) {
        const auto it = std::find_if(list.begin(), list.end(), [&](const Consequence& one) { return one.id == id; });
        return it == list.end() ? nullptr : &*it;
    };
    if (!find("poll_s") && part.minimumInterval_s > 0)
        list.push_back({"poll_s", "Smallest sensible polling interval", part.minimumInterval_s, Quantity::Time,
                        "sooner gives the same result again"});
    if (!find("current_A") && part.average_A > 0)
        list.push_back({"current_A", "Average supply current", part.average_A, Quantity::Current,
                        "at " + plainNumber(part.average_Hz, 3) + " results a second, as its data sheet states"});
    if (find("current_A") || !(part.supply_A > 0)) return list;
    const double rest_A = part.standby_A;
    if (isResting(values)) {
        if (rest_A > 0)
            list.push_back({"current_A", "Supply current at rest", rest_A, Quantity::Current,
                            "at most, as its data sheet states"});
        return list;
    }
    const Consequence *conversion = find("conversion_s"), *period = find("period_s");
    if (conversion && period && rest_A > 0 && period->value > conversion->value) {
        const double average =
            (part.supply_A * conversion->value + rest_A * (period->value - conversion->value)) / period->value;
        list.push_back({"current_A",
                        part.supplyIsTypical ? "Average supply current, typically" : "Average supply current, at most",
                        average, Quantity::Current, "measuring and resting"});
    } else {
        list.push_back({"current_A",
                        part.supplyIsTypical ? "Supply current while it measures, typically"
                                             : "Supply current while it measures, at most",
                        part.supply_A, Quantity::Current, "as its data sheet states"});
    }
    return list;
}

}  // namespace fg
