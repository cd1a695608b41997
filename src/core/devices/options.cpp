#include "devices/options.h"

#include "units/number_format.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <limits>

namespace fg {

std::string DeviceOptions::text(const std::string& id) const {
    const auto it = m_values.find(id);
    return it == m_values.end() ? std::string() : it->second;
}

double DeviceOptions::number(const std::string& id) const {
    const std::string value = text(id);
    double number = 0;
    const auto [end, status] = std::from_chars(value.data(), value.data() + value.size(), number);
    return status == std::errc{} && end == value.data() + value.size() ? number
                                                                       : std::numeric_limits<double>::quiet_NaN();
}

Expected<DeviceOptions> DeviceOptions::completed(const std::vector<OptionSpec>& specs) const {
    DeviceOptions complete;
    for (const OptionSpec& spec : specs) complete.set(spec.id, spec.otherwise);
    for (const auto& [id, value] : m_values) {
        const auto spec =
            std::find_if(specs.begin(), specs.end(), [&, name = id](const OptionSpec& one) { return one.id == name; });
        if (spec == specs.end()) {
            std::string known;
            for (const OptionSpec& one : specs) known += (known.empty() ? "" : ", ") + one.id;
            return fail(ErrorCode::Unknown, "option " + id, "an option this device does not have",
                        known.empty() ? "no options" : "one of " + known);
        }
        complete.set(id, value);
        if (!spec->choices.empty()) {
            if (std::find(spec->choices.begin(), spec->choices.end(), value) != spec->choices.end()) continue;
            std::string choices;
            for (const std::string& choice : spec->choices) choices += (choices.empty() ? "" : ", ") + choice;
            return fail(ErrorCode::Range, "option " + id, "“" + value + "”", choices);
        }
        const double number = complete.number(id);
        const bool limited = spec->low < spec->high;
        if (!std::isfinite(number) || (limited ? number < spec->low || number > spec->high : !(number > 0)))
            return fail(ErrorCode::Range, "option " + id, "“" + value + "”",
                        limited ? "a number from " + plainNumber(spec->low) + " to " + plainNumber(spec->high)
                                : "a number above 0");
    }
    complete.m_wantsLines = m_wantsLines;
    return complete;
}

}  // namespace fg
