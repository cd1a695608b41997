#include "sensors/parameters.h"

namespace fg {

std::optional<double> Parameters::number(const std::string& name) const {
    const auto it = m_values.find(name);
    if (it == m_values.end()) return std::nullopt;
    const double* value = std::get_if<double>(&it->second);
    return value ? std::optional(*value) : std::nullopt;
}

std::optional<std::string> Parameters::text(const std::string& name) const {
    const auto it = m_values.find(name);
    const auto* text = it == m_values.end() ? nullptr : std::get_if<std::string>(&it->second);
    return text ? std::optional(*text) : std::nullopt;
}

Expected<double> Parameters::requireNumber(const std::string& name) const {
    if (const auto value = number(name)) return *value;
    return fail(ErrorCode::Missing, name, has(name) ? "a text or a list" : "nothing", "a number");
}

Expected<std::vector<Point>> Parameters::requirePoints(const std::string& name) const {
    const auto it = m_values.find(name);
    if (it == m_values.end())
        return fail(ErrorCode::Missing, name, "nothing", "a list of pairs like [[0, 32650], [25, 10000]]");
    if (const auto* points = std::get_if<std::vector<Point>>(&it->second)) return *points;
    return fail(ErrorCode::Syntax, name, "a single value", "a list of pairs like [[0, 32650], [25, 10000]]");
}

Parameters Parameters::over(const Parameters& defaults) const {
    Parameters merged = defaults;
    for (const auto& [name, value] : m_values) merged.set(name, value);
    return merged;
}

}  // namespace fg
