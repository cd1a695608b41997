#include "registers/register_checks.h"

#include "registers/alert_pin.h"

#include <fmt/format.h>
#include <array>

namespace fg {

std::vector<DeviceStatus> checkSettings(std::span<const FieldValue> values) {
    std::vector<DeviceStatus> found;
    const auto find = [&](std::string_view id) -> const FieldValue* {
        for (const FieldValue& value : values)
            if (value.field->id == id && value.field->choices.empty()) return &value;
        return nullptr;
    };
    constexpr std::array<std::array<const char*, 2>, 4> pairs{
        {{"low_limit", "high_limit"}, {"lower", "upper"}, {"tl", "th"}, {"low_set", "high_set"}}};
    for (const auto& [lowId, highId] : pairs) {
        const FieldValue *low = find(lowId), *high = find(highId);
        if (!low || !high || !(high->number < low->number)) continue;
        found.push_back({StatusKind::Fault, "limits-swapped",
                         fmt::format("{} ({}) is below {} ({}): every value lies beyond one of both",
                                     high->field->title, high->text, low->field->title, low->text)});
    }
    if (const auto alert = alertSettingOf(values); alert && !alert->isEnabled)
        found.push_back({StatusKind::Note, "alert-off",
                         "The alert output is switched off, as after a reset: the limits move nothing"});
    return found;
}

}  // namespace fg
